"""Texts: recipes as sentences that can be written, sent and read again."""
