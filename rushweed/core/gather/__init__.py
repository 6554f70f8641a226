"""Reading pictures and seeing by themselves what they are."""
