"""Rushweed: the bench between the art and the game."""

__version__ = "0.1.0"
