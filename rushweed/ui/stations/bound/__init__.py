"""Bound: collision and tile facts."""
