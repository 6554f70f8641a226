"""Levels: painting them and drawing them."""
