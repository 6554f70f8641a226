"""The one pan-and-zoom surface and its overlays, used by every station."""
