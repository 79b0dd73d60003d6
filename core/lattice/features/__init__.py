"""What becomes of a hit: one file a feature, each with its fields, its words and its code."""
