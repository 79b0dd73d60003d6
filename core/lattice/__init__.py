"""Jolly Lattice's core: recipes for step patterns, and the exact notes that they mean.

A recipe (`lattice.recipe`) is plain data. `lattice.play` turns a recipe and a range of time into
notes; `lattice.sentence` turns a lane into words that can be changed; `lattice.edits` changes a
recipe; `lattice.clip` and `lattice.midi` turn notes into files and back.
"""
