"""Where hits fall: one module a rule, each with its parameters, its sentence and its code.

A module in this package that defines a subclass of FixedRule with a `kind` is a rule; nothing else
needs to be told about it.
"""

from importlib import import_module
from pkgutil import iter_modules
from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from lattice.rules.base import FixedRule, FollowingRule, RuleContext

__all__ = ["RULES", "FixedRule", "FollowingRule", "Rule", "RuleContext"]


def _found() -> dict[str, type[FixedRule]]:
    rules: dict[str, type[FixedRule]] = {}
    for module in iter_modules(__path__):
        for item in vars(import_module(f"{__name__}.{module.name}")).values():
            if isinstance(item, type) and issubclass(item, FixedRule) and hasattr(item, "title"):
                (kind,) = item.model_fields["kind"].annotation.__args__  # type: ignore[union-attr]
                rules[kind] = item
    return rules


RULES: dict[str, type[FixedRule]] = _found()
"""The rules by their kind."""

if TYPE_CHECKING:
    Rule = FixedRule
else:
    Rule = Annotated[Union[tuple(RULES.values())], Field(discriminator="kind")]  # noqa: UP007
