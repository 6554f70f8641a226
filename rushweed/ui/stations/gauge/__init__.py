"""Gauge: size, pivot and look, a module a face."""
