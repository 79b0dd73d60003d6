"""Addressed random numbers.

Every chance in a pattern is a number in [0, 1) that depends on its *address* alone: the pattern's
seed, the lane's seed and id, a purpose ("chance", "velocity" …) and the index of the cell. Nothing
is drawn in order, so no edit elsewhere can move a draw.

The function (held by the test vectors in tests/core/test_chance.py, described in docs/draws.md):

1. key = the first 8 bytes, big-endian, of BLAKE2b-64 over the UTF-8 text
   "<pattern seed>/<lane seed>/<lane id>/<purpose>" (RFC 7693).
2. state = key + (a + 1) x A + (b + 1) x B + (c + 1) x C + d x D, modulo 2^64, where a, b, c, d are
   the index's numbers (those that are not given count as 0) and A, B, C, D the odd constants below.
3. state = the finaliser of SplitMix64 over it (Steele, Lea, Flood: Fast Splittable Pseudorandom
   Number Generators, OOPSLA 2014).
4. the draw is the upper 53 bits of the result, divided by 2^53.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from hashlib import blake2b
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

_MASK = (1 << 64) - 1
_A, _B, _C = 0x9E3779B97F4A7C15, 0xD1B54A32D192ED03, 0x8CB92BA72F3D8DD7
_D = 0xA0761D6478BD642F
_TO_UNIT = 2.0**-53


class Draws:
    """The random numbers of one lane: `draws("chance", restart, cell)` is a float in [0, 1)."""

    __slots__ = ("_keys", "_place")

    def __init__(self, pattern_seed: int, lane_seed: int, lane_id: str) -> None:
        self._place = f"{pattern_seed}/{lane_seed}/{lane_id}/"
        self._keys: dict[str, int] = {}

    def __call__(self, purpose: str, a: int, b: int = 0, c: int = 0, d: int = 0) -> float:
        """The draw at this address; the index is up to four whole numbers, negative ones too."""
        key = self._key(purpose)
        state = (key + a * _A + b * _B + c * _C + d * _D) & _MASK
        state = ((state ^ (state >> 30)) * 0xBF58476D1CE4E5B9) & _MASK
        state = ((state ^ (state >> 27)) * 0x94D049BB133111EB) & _MASK
        return ((state ^ (state >> 31)) >> 11) * _TO_UNIT

    def _key(self, purpose: str) -> int:
        key = self._keys.get(purpose)
        if key is None:
            digest = blake2b((self._place + purpose).encode(), digest_size=8).digest()
            key = self._keys[purpose] = int.from_bytes(digest, "big") + _A + _B + _C
        return key

    def table(self, purpose: str, rows: int, columns: int) -> NDArray[np.float64]:
        """The draws at [a, b] for all a below `rows` and b below `columns`, at once."""
        import numpy as np

        a = np.arange(rows, dtype=np.uint64)[:, None] * np.uint64(_A)
        b = np.arange(columns, dtype=np.uint64)[None, :] * np.uint64(_B)
        state = a + b + np.uint64(self._key(purpose) & _MASK)
        state = (state ^ (state >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
        state = (state ^ (state >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
        drawn = (state ^ (state >> np.uint64(31))) >> np.uint64(11)
        return drawn.astype(np.float64) * _TO_UNIT

    def within(self, low: float, high: float, purpose: str, a: int, b: int, c: int,
               d: int) -> float:
        """An even draw from [low, high)."""
        return low + (high - low) * self(purpose, a, b, c, d)


def purposes(places: Iterable[str]) -> list[str]:
    """A purpose for each of several like things, named by its place: one that comes or goes
    elsewhere moves no draw of the others. Those at the same place are numbered."""
    seen: Counter[str] = Counter()
    named = []
    for place in places:
        named.append(f"{place}/{seen[place]}" if seen[place] else place)
        seen[place] += 1
    return named
