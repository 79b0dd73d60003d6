"""Where hits fall: one file a rule, each with its parameters, its sentence and its code.

A module in this package that defines a subclass of FixedRule with a `title` is a rule; nothing
else needs to be told about it. `lattice.rules.base` says what a rule offers.
"""

from importlib import import_module
from pkgutil import iter_modules
from typing import TYPE_CHECKING, Annotated, Literal, Union

from pydantic import Field

from lattice.rules.base import FixedRule, FollowingRule, RuleContext

__all__ = [
    "FOLLOWING",
    "RULES",
    "STANDING",
    "FixedRule",
    "FollowingKind",
    "FollowingRule",
    "Rule",
    "RuleContext",
    "StandingKind",
    "rule_that",
]


def _found() -> dict[str, type[FixedRule]]:
    rules: dict[str, type[FixedRule]] = {}
    for module in iter_modules(__path__):
        for item in vars(import_module(f"{__name__}.{module.name}")).values():
            if isinstance(item, type) and issubclass(item, FixedRule) and hasattr(item, "title"):
                (kind,) = item.model_fields["kind"].annotation.__args__  # type: ignore[union-attr]
                rules[kind] = item
    return rules


def rule_that(trait: str) -> type[FixedRule]:
    """The one rule with a trait, such as `begins_lanes`."""
    (rule,) = (rule for rule in RULES.values() if getattr(rule, trait))
    return rule


RULES: dict[str, type[FixedRule]] = _found()
"""The rules by their kind."""
FOLLOWING: dict[str, type[FollowingRule]] = {
    kind: rule for kind, rule in RULES.items() if issubclass(rule, FollowingRule)}
"""Those that follow another lane."""
STANDING: dict[str, type[FixedRule]] = {
    kind: rule for kind, rule in RULES.items() if kind not in FOLLOWING}
"""Those that need no other."""

if TYPE_CHECKING:
    Rule = FixedRule
    FollowingKind = str
    StandingKind = str
else:
    Rule = Annotated[Union[tuple(RULES.values())], Field(discriminator="kind")]  # noqa: UP007
    FollowingKind = Literal[tuple(FOLLOWING)]
    StandingKind = Literal[tuple(STANDING)]
