"""Jolly Lattice's core: recipes for step patterns, and the exact notes that they mean.

A recipe is plain data. What follows from it, each a pure function of it:

- `read` and `to_json`: a recipe from its JSON document and back; `RecipeError`: a refusal in one
  sentence
- `lattice.play.play`: the notes over a range of time; `Performance`, for several questions about
  one recipe
- `lattice.sentence.sentence`: a lane in words that can be changed; `AnyEdit` and `apply_all`
  change a recipe
- `take_clip` and `to_midi`: notes with a length, and a Standard MIDI File of them
- `why`, `meeting_point`, `pictures` and `work`: why a cell plays, when all lanes meet again, what
  is drawn, and how much there is to work out

The rooms, from the ground up; each imports only from those before it: base, time, rules, hits,
strands, features, recipe, sentence, play, results, edits, cli.
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from lattice.base.errors import RecipeError
    from lattice.base.values import to_json
    from lattice.clip.document import Clip
    from lattice.clip.taken import Segment
    from lattice.edits import AnyEdit, apply_all
    from lattice.midi.write import to_midi
    from lattice.play import Note, Performance
    from lattice.recipe import Lane, Recipe, read
    from lattice.results.meeting import meeting_point
    from lattice.results.view import pictures
    from lattice.results.why import why
    from lattice.results.work import work

__all__ = [
    "AnyEdit",
    "Clip",
    "Lane",
    "Note",
    "Performance",
    "Recipe",
    "RecipeError",
    "Segment",
    "apply_all",
    "meeting_point",
    "pictures",
    "read",
    "to_json",
    "to_midi",
    "why",
    "work",
]

_ROOMS = {"RecipeError": "base.errors", "to_json": "base.values", "Clip": "clip.document",
          "Segment": "clip.taken", "AnyEdit": "edits", "apply_all": "edits",
          "to_midi": "midi.write", "Note": "play", "Performance": "play", "Lane": "recipe",
          "Recipe": "recipe", "read": "recipe", "meeting_point": "results.meeting",
          "pictures": "results.view", "why": "results.why", "work": "results.work"}


def __getattr__(name: str) -> Any:
    """What is asked for is loaded then (PEP 562): a command needs a part of the core only."""
    if name not in _ROOMS:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    return getattr(import_module(f"lattice.{_ROOMS[name]}"), name)
