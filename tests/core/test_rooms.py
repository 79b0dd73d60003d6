"""The promises of the core's rooms: a new rule is one file, a new strand one line, and every group
of fields is heard."""

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path
from typing import Any

import lattice
import pytest
from hypothesis import given
from hypothesis import strategies as st
from lattice import RecipeError, read, to_json
from lattice.base.group import Grain, LaneGroup, Reach, Rounds
from lattice.base.values import Beats, Velocity, limits
from lattice.recipe import Lane
from lattice.rules import RULES

from tests.core.recipes import recipe

RESIDUES = '''
from typing import Annotated, ClassVar, Literal
from pydantic import Field
from lattice.base.values import Document, limits
from lattice.base.words import number
from lattice.rules.base import FixedRule, grid_words

Modulus = Annotated[int, Field(ge=1, le=64)]
class Class(Document):
    modulus: Modulus
    rest: Annotated[int, Field(ge=0, le=63)] = 0
class Residues(FixedRule):
    """The union of residue classes: steps that leave `rest` when divided by `modulus`."""
    title: ClassVar[str] = "Unite"
    about: ClassVar[str] = "steps that leave a rest when divided"
    part_label: ClassVar[str] = "class"
    kind: Literal["residues"]
    classes: Annotated[tuple[Class, ...], Field(min_length=1, max_length=8)]
    def pattern(self, context):
        return [any(step % c.modulus == c.rest for c in self.classes)
                for step in range(context.steps)]
    def words(self, lane, names):
        return [f"{self.count} classes of ", *grid_words(lane)]
    def reason(self, hit, steps, names):
        return "it is in a class" if hit else "it is in no class"
    @property
    def count(self):
        return len(self.classes)
    def part_words(self, i, lane):
        c = self.classes[i]
        return ["Every ", number(f"rule.classes.{i}.modulus", "modulus", c.modulus,
                                 *limits(Modulus)), " steps."]
    def with_another(self, lane):
        return self.model_copy(update={"classes": (*self.classes, Class(modulus=3))})
    def without(self, i):
        return self.model_copy(update={"classes": self.classes[:i] + self.classes[i + 1:]})
    @classmethod
    def starting(cls, hits, others):
        return cls(kind="residues", classes=(Class(modulus=4),))
'''
USED = '''
import json
from lattice import read, apply_all, why
from lattice.edits.words import AddClause, RemoveClause, SetSlot
from lattice.play import play
from lattice.sentence import lane_sentence
found = read({"lanes": [{"id": "a", "name": "A", "steps": 12, "step": "1/16"}]})
edits = [SetSlot(do="set", lane="a", slot="rule.kind", value="residues"),
         AddClause(do="add", lane="a", clause="rule-part"),
         SetSlot(do="set", lane="a", slot="rule.classes.1.modulus", value=6)]
said = []
for edit in edits + [RemoveClause(do="remove", lane="a", clause="rule-part.0")]:
    found = edit.apply(found)
    starts = [note.start for note in play(found, 0, 3)]
    said.append([lane_sentence(found.lanes[0], found).text(), starts])
print(json.dumps({"said": said, "why": why(found, "a", 0)}))
'''


def test_a_rule_is_one_new_file(tmp_path: Path) -> None:
    """Nothing else is told about it: it is chosen, read, turned, added to and explained."""
    copy = tmp_path / "lattice"
    shutil.copytree(Path(lattice.__file__).parent, copy)
    (copy / "rules" / "residues.py").write_text(RESIDUES)
    done = subprocess.run([sys.executable, "-c", USED], capture_output=True, text=True, check=False,
                          cwd=tmp_path, env=os.environ | {"PYTHONPATH": str(tmp_path)})
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout)
    words, starts = zip(*told["said"], strict=True)
    assert words[0].startswith("Unite 1 classes of 12 steps of 1/16. Every 4 steps. Cycle")
    assert starts == ([0, 1, 2], [0, .75, 1, 1.5, 2, 2.25], [0, 1, 1.5, 2], [0, 1.5])
    assert "Every 4 steps. Every 6 steps." in words[2] and "Every 4" not in words[3]
    assert "it is in a class" in told["why"]


@pytest.mark.parametrize("kind", sorted(RULES))
def test_rules_can_be_kept_at_hand(kind: str) -> None:
    rule, again = (RULES[kind].starting([True] * 5, ["a", "b"]) for _ in range(2))
    assert hash(rule) == hash(again) and rule == again


def groups() -> list[type[LaneGroup]]:
    return [each for each in Lane.__mro__ if issubclass(each, LaneGroup)]


def test_no_group_hides_what_another_checks() -> None:
    """Two validators of one name: pydantic would silently keep one."""
    seen: dict[str, str] = {}
    for group in groups():
        found = group.__pydantic_decorators__
        for name, check in (found.field_validators | found.model_validators).items():
            if name in vars(group):
                assert name not in seen, f"{name} in {group.__name__} and {seen[name]}"
                seen[name] = group.__name__
                assert check is not None
    assert len(seen) > 2


@pytest.mark.parametrize(("method", "arguments"), [
    ("add_grain", (Grain(), recipe())), ("add_rounds", (Rounds(),)),
    ("add_reach", (Reach(), recipe(), 1.0)), ("strays", ())])
def test_every_group_asks_the_next(method: str, arguments: tuple[Any, ...],
                                   monkeypatch: pytest.MonkeyPatch) -> None:
    """A group that forgot super() would silence those after it."""
    heard: list[str] = []
    for group in groups():
        if method in vars(group):
            def told(lane: Lane, *given: Any, _own: Any = vars(group)[method],
                     _name: str = group.__name__) -> Any:
                heard.append(_name)
                return _own(lane, *given)
            monkeypatch.setattr(group, method, told)
    getattr(recipe({}).lanes[0], method)(*arguments)
    assert sorted(heard) == sorted(group.__name__ for group in groups() if method in vars(group))
    assert "LaneGroup" in heard and len(heard) > 1


@given(st.fractions(min_value="1/999", max_value=999, max_denominator=999))
def test_chords_last_exactly_as_long_as_was_written(beats: Any) -> None:
    chords = {"text": "i iv", "beats": [str(beats), 2.5]}
    found = read({"chords": chords}).chords
    assert found is not None and found.beats == (beats, 5 / 2)
    assert read(json.loads(json.dumps(to_json(read({"chords": chords}))))).chords == found


def test_lengths_of_chords_in_other_forms() -> None:
    for beats, read_as in ((None, None), (4, 4), ("3/2", 1.5), (0.75, 0.75)):
        found = read({"chords": {"text": "I", "beats": beats}}).chords
        assert found is not None and found.beats == read_as
    assert read({"chords": {"text": "I"}}).chords is not None
    for wrong in (0, -1, 2000, 0.1, float("nan"), float("inf"), "x", True, [0], {}):
        with pytest.raises(RecipeError, match=r"\.$"):
            read({"chords": {"text": "I", "beats": wrong}})


def test_bounds_are_read_from_types() -> None:
    assert limits(Velocity) == (1, 127) and limits(Beats) == (0, 1024)
    with pytest.raises(TypeError):
        limits(int)
