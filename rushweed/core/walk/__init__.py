"""Walking in a level: what is solid, and how the walker moves among it."""
