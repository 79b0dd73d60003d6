"""The built-in sounds: what lanes are heard by without anything else.

A module in this package that holds an Instrument has made it one; nothing else in the core needs to
be told about it. The page makes its sound (`web/src/melody/voices.ts`, `web/src/drum/kit.ts`), and
is not built where a voice or one of its controls is missing there.
"""

from lattice.base.found import entries
from lattice.features.instruments.base import Instrument

INSTRUMENTS: dict[str, Instrument] = entries(__name__, __path__, Instrument)
VOICES = {name: each for name, each in INSTRUMENTS.items() if each.kind == "voice"}
"""The voices of pitched lanes."""
KITS = {name: each for name, each in INSTRUMENTS.items() if each.kind == "kit"}
"""The kits of drum lanes."""
