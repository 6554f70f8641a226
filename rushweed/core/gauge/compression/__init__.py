"""What treatments do to pixels: block compression, palettes, lossy forms, and their cost."""
