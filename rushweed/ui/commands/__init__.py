"""What one can do in the window: one list, and who does it."""
