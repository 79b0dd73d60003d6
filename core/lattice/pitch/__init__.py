"""Keys, chords, and how a lane's degrees become pitches."""
