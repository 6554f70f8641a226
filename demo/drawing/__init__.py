"""The made-up art of Lanternfen, drawn pixel by pixel from one palette."""
