"""Clips: fixed notes with a length, as a document; how they are taken from what was heard, and
changed note by note."""
