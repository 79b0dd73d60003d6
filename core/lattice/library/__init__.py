"""Starting recipes: named lanes and progressions to begin with, a file for each family."""
