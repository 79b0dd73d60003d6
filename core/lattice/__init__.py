"""Jolly Lattice's core: recipes for step patterns, and the exact notes that they mean.

A recipe is plain data. What follows from it, each a pure function of it:

- `read` and `to_json`: a recipe from its JSON document and back; `RecipeError`: a refusal in one
  sentence
- `Performance`: the notes over a range of time, and other questions about one recipe
- `read_text` and `text`: a recipe from what people write, and as a text that can be read again
- `lane_sentence`: a lane in words that can be changed; `AnyEdit` and `apply_all` change a recipe
- `take_clip` and `to_midi`: notes with a length, and a Standard MIDI File of them
- `why`, `meeting_point`, `pictures` and `work`: why a cell plays, when all lanes meet again, what
  is drawn, and how much there is to work out

The public surface is what `__init__.pyi` lists; what imports the core imports from here only. The
rooms, from the ground up; each imports only from those before it: base, time, rules, hits,
strands, features, recipe, sentence, texts, relatives, play, results, edits, cli.
"""

import lazy_loader

# A command needs a part of the core only: what is asked for is loaded then. The stub beside this
# file lists it, for readers of types and for this.
__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
