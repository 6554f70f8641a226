"""What several stations show."""
