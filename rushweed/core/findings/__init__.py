"""What will hurt in the game: one file a station, one function a finding."""
