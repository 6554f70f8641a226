"""Bale: export."""
