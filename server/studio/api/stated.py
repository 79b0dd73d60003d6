"""The limits and first values that a page has to know before it asks, as the API's description
states them; each has its meaning where it is held."""

from lattice import FIRST_KIT, KITS, Gusts, Scatter, Wish
from lattice import MOST_MIDI_BYTES as MOST_MIDI

from studio.api.cuttings import MOST_GROWN
from studio.api.heard import MOST_BARS
from studio.incoming.archive import MOST_BYTES as MOST_PIECES
from studio.limits import MOST_BEATS, MOST_SOUND
from studio.stored.trail import MOST_SEGMENTS, SHOWN_PASSES

STATED = {
    "recordingBytes": MOST_SOUND,
    "midiBytes": MOST_MIDI,
    "pieceFileBytes": MOST_PIECES,
    "clipBars": MOST_BARS,
    "viewBeats": MOST_BEATS,
    "shownPasses": SHOWN_PASSES,
    "passSegments": MOST_SEGMENTS,
    "relativesAtOnce": MOST_GROWN,
    "relatives": Wish().count,
    "gusts": Gusts().model_dump(),
    "scatter": {name: Scatter.model_fields[name].default
                for name in ("low", "high", "share", "leap", "chord")},
    "kits": list(KITS),
    "firstKit": FIRST_KIT.by,
}
