"""Walk: try it."""
