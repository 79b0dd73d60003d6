"""Rows of values, each with its own length, that a lane draws on."""
