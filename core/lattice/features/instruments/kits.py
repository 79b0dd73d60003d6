"""The kits that ship."""

from lattice.features.instruments.base import Instrument

DRY = Instrument(10, "kit", "dry", "drums in a small room", {})
TIN = Instrument(20, "kit", "tin", "cans, buckets and pipes", {"ring": 50})
