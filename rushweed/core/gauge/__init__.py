"""Size, pivot and look."""
