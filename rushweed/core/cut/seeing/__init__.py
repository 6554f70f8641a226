"""Reading a picture as a person would: one picture, even cells, or loose pieces."""
