"""Slicing sheets into frames and tiles."""
