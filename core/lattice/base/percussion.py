"""General MIDI's percussion map (General MIDI System Level 1, 1991): note numbers and names."""

from functools import cache

from lattice.base.notes import NOTES, named

PERCUSSION = {
    35: "Acoustic bass drum", 36: "Bass drum 1", 37: "Side stick", 38: "Acoustic snare",
    39: "Hand clap", 40: "Electric snare", 41: "Low floor tom", 42: "Closed hi-hat",
    43: "High floor tom", 44: "Pedal hi-hat", 45: "Low tom", 46: "Open hi-hat", 47: "Low-mid tom",
    48: "Hi-mid tom", 49: "Crash cymbal 1", 50: "High tom", 51: "Ride cymbal 1",
    52: "Chinese cymbal", 53: "Ride bell", 54: "Tambourine", 55: "Splash cymbal", 56: "Cowbell",
    57: "Crash cymbal 2", 58: "Vibraslap", 59: "Ride cymbal 2", 60: "Hi bongo", 61: "Low bongo",
    62: "Mute hi conga", 63: "Open hi conga", 64: "Low conga", 65: "High timbale",
    66: "Low timbale", 67: "High agogo", 68: "Low agogo", 69: "Cabasa", 70: "Maracas",
    71: "Short whistle", 72: "Long whistle", 73: "Short guiro", 74: "Long guiro", 75: "Claves",
    76: "Hi wood block", 77: "Low wood block", 78: "Mute cuica", 79: "Open cuica",
    80: "Mute triangle", 81: "Open triangle",
}

USED_MOST = (36, 38, 42, 46, 39, 37, 49, 51, 54, 70, 45, 47, 50, 76, 56, 75)
"""The drums that patterns are mostly made of: they are offered before the others."""
ALSO_CALLED = {35: "kick", 36: "kick", 38: "snare drum", 37: "rimshot", 39: "handclap",
               40: "snare drum", 42: "closed hat", 44: "pedal hat", 46: "open hat", 70: "shaker"}
"""What drummers call some of them."""


def note_name(note: int) -> str:
    """The drum's name, or the note's where the map has none."""
    return PERCUSSION.get(note, named(note))


@cache
def drum_names() -> tuple[str, ...]:
    """What all notes, 0 to 127, are called in a lane of drums."""
    return tuple(map(note_name, range(NOTES)))


KIN = ({35, 36}, {37, 38, 39, 40}, {41, 43, 45, 47, 48, 50}, {42, 44, 46},
       {49, 51, 52, 53, 55, 57, 59}, {60, 61, 62, 63, 64, 65, 66}, {56, 67, 68, 80, 81},
       {54, 58, 69, 70, 73, 74}, {75, 76, 77}, {71, 72, 78, 79})
"""Drums of one kind: bass drums, snares and claps, toms, hats, cymbals, hand drums, bells, shaken
and scraped ones, woods, whistles and cuicas."""


def kin(note: int) -> list[int]:
    """The drums of the same kind as one, itself among them; a note that is no drum has none."""
    return sorted(next((each for each in KIN if note in each), set()))
