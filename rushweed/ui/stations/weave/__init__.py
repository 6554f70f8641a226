"""Weave: levels painted fast."""
