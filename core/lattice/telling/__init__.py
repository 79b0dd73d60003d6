"""Notes told as recipes: the shortest sentence for a lane, and the lanes of a clip."""
