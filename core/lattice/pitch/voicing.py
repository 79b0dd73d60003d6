"""How the notes of a chord step lie. Each takes the close chord, ascending, and the notes of the
chord step before (None: there is none), and returns the notes ascending."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

Notes = tuple[int, ...]


def _close(notes: Notes, before: Notes | None) -> Notes:
    return notes


def _open(notes: Notes, before: Notes | None) -> Notes:
    return tuple(sorted(note + 12 * (i % 2) for i, note in enumerate(notes)))


def _drop_2(notes: Notes, before: Notes | None) -> Notes:
    if len(notes) < 2:
        return notes
    return tuple(sorted((*notes[:-2], notes[-2] - 12, notes[-1])))


def _smooth(notes: Notes, before: Notes | None) -> Notes:
    if before is None:
        return notes
    return min(_turned(notes), key=lambda turned: (
        sum(abs(a - b) for a, b in zip(turned, before, strict=False)), sum(turned)))


def _turned(notes: Notes) -> Iterator[Notes]:
    """The chord with its lowest note raised an octave, or its highest lowered, up to as many times
    as it has notes; where two would meet, left out."""
    yield notes
    for place, by in ((0, 12), (-1, -12)):
        turned = list(notes)
        for _ in notes:
            turned[place] += by
            turned.sort()
            if len(set(turned)) == len(turned):
                yield tuple(turned)


VOICINGS: dict[str, Callable[[Notes, Notes | None], Notes]] = {
    "close": _close, "open": _open, "drop-2": _drop_2, "smooth": _smooth}
VOICING_WORDS = {
    "close": ("close", "as they are"),
    "open": ("open", "every second note an octave up"),
    "drop-2": ("drop 2", "the second from the top an octave down"),
    "smooth": ("smooth", "moving as little as can be from chord to chord"),
}


def distinct(notes: Sequence[int]) -> Notes:
    """Notes ascending, equal ones once."""
    return tuple(sorted(set(notes)))
