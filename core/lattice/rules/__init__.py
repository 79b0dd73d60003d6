"""Where hits fall: one file a rule, each with its parameters, its sentence and its code.

A module in this package that defines a subclass of FixedRule with a `kind` of its own has made a
rule; nothing else needs to be told about it. `lattice.rules.base` says what a rule offers.
"""

from typing import TYPE_CHECKING, Literal

from lattice.base.found import documents, one_of
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


def rule_that(trait: str) -> type[FixedRule]:
    """The one rule with a trait, such as `begins_lanes`."""
    (rule,) = (rule for rule in RULES.values() if getattr(rule, trait))
    return rule


RULES: dict[str, type[FixedRule]] = documents(__name__, __path__, FixedRule, "kind")
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
    Rule = one_of(RULES.values(), "kind")
    FollowingKind = Literal[tuple(FOLLOWING)]
    StandingKind = Literal[tuple(STANDING)]
