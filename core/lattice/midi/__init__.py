"""Standard MIDI Files that come in."""
