"""Generated sheets of many kinds, whose true grid is known."""
