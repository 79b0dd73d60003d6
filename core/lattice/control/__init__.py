"""Lanes that move a controller."""
