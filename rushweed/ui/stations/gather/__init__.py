"""Gather: sources and licences."""
