"""The degrees of a pitched lane's relatives: near those that play now, with their contour or
freely, and chord tones on strong places."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from lattice.base.draws import Draws
from lattice.base.values import limits
from lattice.cuttings.wish import Wish
from lattice.measures.rhythms import BEAT
from lattice.play import NoteVoice, Performance
from lattice.relatives.stock import Stock
from lattice.strands.kinds import Degree, Together

FURTHEST = 5
"""So many degrees a tone moves at most, straying by 1."""
SEARCHED = 4
"""So many degrees up and down a chord tone is looked for."""


@dataclass(frozen=True)
class Tones:
    """What degrees are drawn from: the lane's voice, the degree of each of its steps as it plays
    now (between hits that of the hit before), and where in time each step lies first."""

    stock: Stock
    voice: NoteVoice
    now: tuple[int, ...]
    ticks: tuple[int, ...]

    @staticmethod
    def of(performance: Performance, stock: Stock) -> Tones | None:
        """The tones of a lane that has any of its own: pitched, and not an arpeggio."""
        voice = performance.voice(stock.lane.id)
        if not stock.lane.pitched or stock.lane.arpeggio or not isinstance(voice, NoteVoice):
            return None
        cell = voice.time.longest
        ticks = tuple(step * cell for step in range(stock.ground.steps))
        sounding: dict[int, int] = {}
        for hit in voice.hits.between(0, max(performance.times.frame, cell * len(ticks))):
            degree = voice.pitches.degree(hit)
            if isinstance(degree, Together):
                degree = 0 if degree.all == "chord" else degree.all[0]
            sounding.setdefault(hit.step - stock.first, int(degree))
        first = sounding[min(sounding)] if sounding else 0
        now = []
        for step in range(len(ticks)):
            first = sounding.get(step, first)
            now.append(first)
        return Tones(stock, voice, tuple(now), ticks)

    def drawn(self, steps: Sequence[int], wish: Wish) -> list[int]:
        """The degrees of a rhythm, given as the steps of the ground; its draws depend on the throw,
        the lane and the rhythm alone."""
        draws = Draws(wish.throw, 0, self.stock.lane.id)
        rhythm = sum(1 << step for step in steps)
        low, high = min(self.now) - 1, max(self.now) + 1
        reach = 1 + round(wish.stray * (FURTHEST - 1))
        degrees: list[int] = []
        before: tuple[int, int] | None = None
        for step in steps:
            base = degree = self.now[step]
            if draws("tone moves", rhythm, step) < wish.stray:
                away = 1 + int(draws("tone", rhythm, step) * reach)
                degree += away if draws("tone up", rhythm, step) < 0.5 else -away
                degree = min(max(degree, low), high)
            if self.stock.ground.weights[step] >= BEAT and \
                    draws("chord tone", rhythm, step) * 100 < wish.chord:
                degree = self._chord_tone(step, degree)
            if wish.degrees == "contour" and before is not None:
                if base == before[0]:
                    degree = before[1]
                else:
                    degree = max(degree, before[1] + 1) if base > before[0] else \
                        min(degree, before[1] - 1)
            least, most = limits(Degree)
            degree = min(max(degree, int(least)), int(most))
            degrees.append(degree)
            before = base, degree
        return degrees

    def _chord_tone(self, step: int, degree: int) -> int:
        """The degree nearest to this one that is a tone of the chord then; the lower of two."""
        pitches, tick = self.voice.pitches, self.ticks[step]
        chord = pitches.harmony.chord(tick)
        for away in range(SEARCHED + 1):
            for each in (degree - away, degree + away):
                if chord.holds(pitches.pitch_of(tick, each)):
                    return each
        return degree
