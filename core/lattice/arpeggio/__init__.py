"""Walks over a pool of notes, one note a hit, and anchors beside them."""
