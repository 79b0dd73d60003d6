"""Any edit on any pattern: a recipe that can be played, or a refusal in a sentence."""

import json
import re
from contextlib import suppress
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.base.words import Slot
from lattice.cuttings.gusts import Gusts
from lattice.cuttings.wish import Wish
from lattice.edits import AnyEdit, apply_all
from lattice.edits.starts import STARTS
from lattice.edits.throws import THROWS
from lattice.features.movement import SHAPES
from lattice.library.beginnings import BEGINNINGS
from lattice.library.listed import LIBRARY
from lattice.play import play
from lattice.recipe import Recipe, read
from lattice.results.meeting import meeting_point
from lattice.results.why import why
from lattice.results.work import work
from lattice.rules import FOLLOWING, RULES, STANDING
from lattice.sentence import CLAUSES, lane_sentence, pattern_sentence
from lattice.strands.kinds import KINDS
from lattice.strands.shown import shown_strands
from lattice.tools import TOOLS
from pydantic import TypeAdapter

from tests.core.melodies import ARPEGGIOS, KEYS, melodic
from tests.core.recipes import documents, facts

EDIT: TypeAdapter[Any] = TypeAdapter(AnyEdit)
LANES = st.sampled_from(["l0", "l1", "l2"])
STEP, STEPS = st.integers(0, 24), st.lists(st.integers(0, 24), min_size=1, max_size=5)
STRANDS = st.sampled_from([*KINDS, "sparkle"])
VALUES = st.lists(st.integers(-60, 130) | st.tuples(st.integers(0, 60), st.integers(40, 90)),
                  min_size=1, max_size=6)
BEATS = st.sampled_from(["0", "1/2", "1", "3", "7/3", "1024"])
NOTES = st.fixed_dictionaries({"pitch": st.integers(0, 127), "at": st.floats(0, 9),
                               "velocity": st.integers(1, 127), "length": st.floats(0.01, 9)})
ANY = st.integers(-9, 140) | st.sampled_from([
    *RULES, "1/12", "fit", "random", "", None, True, 0.5, [1, 2]])


def edit(do: str, **fields: st.SearchStrategy[Any]) -> st.SearchStrategy[dict[str, Any]]:
    return st.fixed_dictionaries({"do": st.just(do)} | fields)


EDITS = st.one_of(
    edit("add", lane=LANES, clause=st.sampled_from(
        [kind.id for kinds in CLAUSES.values() for kind in kinds]),
         also=st.lists(LANES, max_size=2), values=st.dictionaries(
             st.sampled_from(["accent.every", "rolls.0.strokes", "swing.amount", "vary.time"]),
             st.sampled_from([1, 5, 60, 900, "x", None, [3]]), max_size=3)),
    edit("remove", lane=LANES, clause=st.sampled_from(["keep", "rolls.0", "turns.7", "span"])),
    edit("put", lane=LANES, steps=STEPS, on=st.none() | st.booleans(), shown=st.booleans()),
    edit("turn", lane=LANES, by=st.integers(-200, 200),
         slot=st.sampled_from(["steps", "rule.pulses", "rule.rotation", "step"])),
    edit("unpin", lane=LANES),
    edit("paste", source=LANES, first=STEP, last=STEP, lane=LANES, at=STEP,
         lift=st.integers(-48, 48)),
    edit("roll", lane=LANES, steps=STEPS, strokes=st.integers(1, 16)),
    edit("roll_stretch", lane=LANES, start=BEATS, beats=BEATS),
    edit("roll_cells", lane=LANES, at=st.floats(0, 9), until=st.floats(0, 9),
         strokes=st.integers(1, 12)),
    edit("link", lane=LANES, steps=STEPS, mode=st.sampled_from(["together", "one", None])),
    edit("turns", lane=LANES, steps=STEPS, turns=st.sampled_from([[1, 2], [3, 2], None])),
    edit("lay_path", lane=LANES, path=st.lists(st.fixed_dictionaries({
        "start": BEATS, "beats": BEATS, "step": st.sampled_from(["1/8", "1/24", "1/64"]),
        "contour": st.integers(0, 100)}), max_size=3)),
    edit("strand", lane=LANES, kind=STRANDS, strand=st.none() | VALUES.map(
        lambda values: {"values": values, "by": "hit"})),
    edit("read_strand", lane=LANES, kind=STRANDS, by=st.sampled_from(["step", "cell", "hit"]),
         window=st.none() | st.tuples(STEP, STEP)),
    edit("shape", lane=LANES, kind=STRANDS, amount=st.integers(-200, 200), steps=st.none() | STEPS,
         how=st.sampled_from(["set", "raise", "rotate", "reverse", "randomise", "length"])),
    edit("copy_strand", lane=LANES, kind=STRANDS, source=LANES),
    edit("touch", lane=LANES, places=st.lists(st.fixed_dictionaries({
        "at": st.sampled_from([0, 0.25, 1.0, 5 / 3]), "louder": st.integers(-127, 127),
        "later": st.integers(-100, 100)}), min_size=1, max_size=3)),
    edit("lane", lane=LANES, field=st.sampled_from(["name", "note", "channel", "mute", "solo"]),
         value=st.sampled_from(["Boiler", 0, 16, 127, 200, True, None])),
    edit("pattern", field=st.sampled_from(["tempo", "meter", "bars"]),
         value=st.sampled_from([1, 16, 17, 120, [7, 8], [5, 3], [1]])),
    edit("add_lane", name=st.sampled_from(["Boiler", "Größe 9", "-", None]), after=LANES,
         follow=st.sampled_from([None, *FOLLOWING]), rule=st.sampled_from([None, *STANDING]),
         begin=st.sampled_from([None, *BEGINNINGS])),
    edit("duplicate_lane", lane=LANES), edit("remove_lane", lane=LANES),
    edit("move_lane", lane=LANES, to=st.integers(0, 9)),
    edit("reroll", lane=st.none() | LANES, back=st.booleans()),
    edit("own_sound", lane=LANES, file=st.sampled_from(["f" * 64, "", "F" * 64]),
         name=st.sampled_from(["Lid.wav", ""])),
    edit("trim", lane=LANES, start=st.floats(-9, 109), end=st.floats(-9, 109)),
    edit("kind", lane=LANES, kind=st.sampled_from(["drum", "pitched", "control"])),
    edit("chords", words=st.lists(st.sampled_from(["ii7", "V/3", "%", "Hm"]), max_size=4),
         beats=st.lists(st.sampled_from([4, "3/2", 0.3, 0]), max_size=4)),
    edit("rewrite_chords", root=st.integers(-1, 12), how=st.sampled_from(["move", "numerals"])),
    edit("scatter", lane=LANES, low=st.integers(-70, 9), high=st.integers(-9, 70),
         steps=st.none() | STEPS),
    edit("play_in", lane=LANES, notes=st.lists(NOTES, max_size=4)),
    edit("play_step", lane=LANES, step=STEP, notes=st.lists(NOTES, max_size=3),
         tie=st.booleans(), begin=st.booleans()),
    edit("play_pitch", lane=LANES, place=STEP, notes=st.lists(NOTES, max_size=3),
         begin=st.booleans()),
    edit("hold", lane=LANES, adding=st.booleans(), notes=st.lists(st.fixed_dictionaries(
        {"note": st.integers(30, 60), "velocity": st.integers(1, 127)}), max_size=4)),
    edit("move_pitch", lane=LANES, degrees=st.integers(-70, 70), semitones=st.integers(-50, 50)),
    edit("arpeggio", lane=LANES, arpeggio=st.none() | ARPEGGIOS),
    edit("take", lane=st.none() | LANES, start=st.sampled_from(LIBRARY).map(to_json)),
    edit("start", start=st.sampled_from(sorted(STARTS))),
    edit("plant", lane=LANES, hits=STEPS, amount=st.none() | st.integers(-1, 101),
         degrees=st.none() | STEPS),
    edit("gust", away=st.floats(0, 1), throw=st.integers(-9, 9),
         lanes=st.none() | st.lists(LANES, max_size=2)),
    edit("add_gust", every=st.integers(0, 130), turn=st.none() | st.integers(0, 9),
         away=st.floats(0, 1), throw=st.none() | st.integers(-9, 9),
         lanes=st.none() | st.lists(LANES, max_size=2)),
    edit("add_answering", lane=LANES),
    edit("adapt", degrees=st.integers(-70, 70), semitones=st.integers(-50, 50),
         key=st.none() | KEYS, without=st.lists(LANES, max_size=2)),
    edit("paste_lanes", after=st.none() | LANES,
         lanes=documents().map(lambda document: document["lanes"])),
    edit("path", lane=st.none() | LANES, shape=st.none() | st.sampled_from(list(SHAPES)),
         word=st.sampled_from(["velocity", "rule.pulses", "steps", "tempo", "strands.0"]),
         points=st.none() | st.lists(st.integers(-9, 140), max_size=3), also=st.lists(
             LANES, max_size=2)),
    *(edit(throw.model_fields["do"].default, throw=st.integers(-9, 9),
           lanes=st.none() | st.lists(LANES, max_size=2)) for throw in THROWS))


ILL_SAID = re.compile(
    r"(?<![\d./…:–-] )(?<![\d./…])[+-]?\b1 (?!(is|has|plays|rests|rolls|sounds|was|as)\b)"
    r"(?![a-z]*ss\b)[a-z]+s\b"  # "1 hits"
    r"|\d\.\d{3}"  # "33.333 %"
    r"|\b(beat|step|pattern|place|pass) 0\b|\b0th\b"  # counted from 1
    r"|[]{}[]|\b(None|True|False)\b|  | ,|\.\.")


def well_said(text: str, *names: str) -> bool:
    """Whether number, rounding and counting are right in a sentence."""
    for name in names:
        text = text.replace(name, "Drip")
    return not (wrong := ILL_SAID.search(text)) or not print(f"{wrong[0]!r} in {text!r}")


def words(found: Recipe) -> list[tuple[str | None, Slot]]:
    """Every changeable word of a pattern and its lanes."""
    sentences = [(None, pattern_sentence(found))]
    sentences += [(lane.id, lane_sentence(lane, found)) for lane in found.lanes]
    return [(lane, part) for lane, said in sentences for clause in said.clauses
            for part in clause.parts if isinstance(part, Slot)]


@settings(max_examples=150, suppress_health_check=[HealthCheck.too_slow])
@given(documents() | melodic(documents()), st.data())
def test_any_edit_is_done_or_refused(document: dict[str, Any], data: st.DataObject) -> None:
    before = read(document)
    lane, word = data.draw(st.sampled_from(words(before)))
    wanted = data.draw(st.one_of(EDITS, st.fixed_dictionaries({
        "do": st.just("set"), "lane": st.just(lane), "slot": st.just(word.slot), "value": ANY})))
    try:
        made = EDIT.validate_python(wanted)
        after = apply_all(before, [made])
    except ValueError as refused:  # pydantic's and the recipe's own refusals alike
        if isinstance(refused, RecipeError):
            assert str(refused).endswith(".")
            assert well_said(str(refused)) or " › " in str(refused), "a place in a document"
        return
    assert read(json.loads(json.dumps(to_json(after)))) == after, wanted
    assert made.describe(before) and well_said(made.describe(before))
    assert words(after) and well_said(meeting_point(after).words())
    assert facts(play(after, 4, 8)) == [
        fact for fact in facts(play(after, 0, 12)) if 4 <= fact[0] < 8]


@settings(max_examples=60, suppress_health_check=[HealthCheck.too_slow])
@given(documents() | melodic(documents()), st.data())
def test_what_is_remembered_is_what_would_be_worked_out(document: dict[str, Any],
                                                        data: st.DataObject) -> None:
    """After any edit: lanes, words, strands and work of documents that share parts with others are
    those of documents that share none; and a pattern's sentence is told without its lanes, unless
    gusts name them."""
    recipe = read(document)
    for said in data.draw(st.lists(EDITS, max_size=3)):
        with suppress(RecipeError, ValueError):
            recipe = apply_all(recipe, [EDIT.validate_python(said)])
    fresh = read(to_json(recipe))
    assert fresh == recipe and work(fresh, 3, 9) == work(recipe, 3, 9)
    for lane, other in zip(recipe.lanes, fresh.lanes, strict=True):
        assert lane_sentence(lane, recipe) == lane_sentence(other, fresh)
        assert shown_strands(lane, lane.kinds()) == shown_strands(other, other.kinds())
    alone = recipe.model_copy(update={"lanes": ()})
    assert recipe.gusts or pattern_sentence(alone) == pattern_sentence(recipe)


@settings(max_examples=60, suppress_health_check=[HealthCheck.too_slow])
@given(documents() | melodic(documents()))
def test_every_sentence_is_well_said(document: dict[str, Any]) -> None:
    """Number, grammar and rounding, and counting from 1, in all that is said of a pattern."""
    found = read(document)
    assert well_said(pattern_sentence(found).text())
    for lane in found.lanes:
        assert well_said(lane_sentence(lane, found).text())
        for at in (0, 0.5, 1.25):
            assert well_said(why(found, lane.id, at))


def test_documents_that_are_sentences_by_themselves_are_well_said() -> None:
    """Tools, throws, wishes and gusts, as they stand and with each number at 1 and at its ends."""
    said = [tool.as_it_stands() for tool in TOOLS]
    said += [throw.model_validate({"do": throw.model_fields["do"].default}) for throw in THROWS]
    for document in [*said, Wish(), Gusts()]:
        numbers = [part for part in document.parts()
                   if isinstance(part, Slot) and part.kind == "number"]
        for word in (part for part in document.parts() if isinstance(part, Slot)):
            for option in word.options if word.kind == "choice" else ():
                meant = word.accept(f" {option.label.upper()}")
                assert option.label == next(o.label for o in word.options if o.value == meant)
        turned = [document]
        for word in numbers:
            for value in {1, word.low, word.high}:
                with suppress(RecipeError):
                    turned.append(document.worded(word.slot, value))
        for each in turned:
            for clause in each.sentence:
                text = "".join(part if isinstance(part, str) else part.text
                               for part in clause.parts)
                assert well_said(text)
