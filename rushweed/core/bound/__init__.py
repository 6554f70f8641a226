"""Collision shapes."""
