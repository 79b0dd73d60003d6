"""The built-in sounds: what lanes are heard by without anything else.

A module in this package that holds an Instrument has made it one; nothing else in the core needs to
be told about it. The page makes its sound (`web/src/melody/voices.ts`, `web/src/drum/kit.ts`), and
is not built where a voice or one of its controls is missing there.
"""

from lattice.base.found import entries
from lattice.features.instruments.base import Instrument

_INSTRUMENTS = sorted(entries(__name__, __path__, Instrument), key=lambda each: each.place)
VOICES: dict[str, Instrument] = {
    each.name: each for each in _INSTRUMENTS if each.kind == "voice"}
"""The voices of pitched lanes."""
KITS: dict[str, Instrument] = {each.name: each for each in _INSTRUMENTS if each.kind == "kit"}
"""The kits of drum lanes."""
INSTRUMENTS = VOICES | KITS
"""All of them by their names, no two of which are alike."""
if len(INSTRUMENTS) < len(_INSTRUMENTS):
    raise ValueError("Two built-in sounds have the same name.")
