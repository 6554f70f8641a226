"""Handing everything to the game: pages, one manifest, credits."""
