"""The project as a value, its history, and its files on disk."""
