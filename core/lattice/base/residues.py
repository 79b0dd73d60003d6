"""Numbers in residue classes, counted in closed form: how many of a lane's cells below a number
are hits, anchors, or both."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import gcd, lcm


@dataclass(frozen=True, slots=True)
class Residue:
    """The whole numbers from `first` on that leave `rest` when divided by `modulus`; counted
    `sign` times each."""

    rest: int
    modulus: int
    first: int = 0
    sign: int = 1

    def below(self, number: int) -> int:
        """How many of them lie below a number."""
        start = self.first + (self.rest - self.first) % self.modulus
        return max(0, -((start - number) // self.modulus)) * self.sign

    def last_below(self, number: int) -> int | None:
        """The greatest of them below a number."""
        last = number - 1 - (number - 1 - self.rest) % self.modulus
        return last if last >= self.first else None

    def meets(self, other: Residue) -> Residue | None:
        """Those that are in both (the Chinese remainder theorem); None where none are."""
        common = gcd(self.modulus, other.modulus)
        if (other.rest - self.rest) % common:
            return None
        steps = other.modulus // common
        times = (other.rest - self.rest) // common * pow(self.modulus // common, -1, steps) % steps
        return Residue(self.rest + self.modulus * times, lcm(self.modulus, other.modulus),
                       max(self.first, other.first), self.sign * other.sign)


def below(residues: Iterable[Residue], number: int) -> int:
    """How many numbers below one there are in classes that have none in common."""
    return sum(each.below(number) for each in residues)


def both(some: Sequence[Residue], others: Sequence[Residue]) -> list[Residue]:
    """The classes of the numbers that are in both."""
    return [met for each in some for other in others if (met := each.meets(other)) is not None]
