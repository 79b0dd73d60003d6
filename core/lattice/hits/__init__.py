"""Where: which cells of a lane are hits."""
