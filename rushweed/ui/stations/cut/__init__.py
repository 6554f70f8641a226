"""Cut: frames and tiles."""
