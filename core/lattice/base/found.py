"""What there is of a kind is found, not listed: whatever the modules of a package define."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from importlib import import_module
from pkgutil import iter_modules
from types import ModuleType
from typing import Annotated, Any, Literal, Protocol, TypeVar, Union, get_args, get_origin

from pydantic import BaseModel, Field


class Entry(Protocol):
    """What there may be several of: its name, and its place among the others."""

    @property
    def name(self) -> str: ...

    @property
    def place(self) -> int: ...


T = TypeVar("T", bound=Entry)
M = TypeVar("M", bound=BaseModel)


def entries(package: str, path: Iterable[str], kind: type[T]) -> dict[str, T]:
    """The things of a kind that the modules of a package hold, by their names, in the order of
    their places. ValueError where two have the same name."""
    found: dict[str, T] = {}
    for module in _modules(package, path):
        for item in vars(module).values():
            if isinstance(item, kind) and found.setdefault(item.name, item) is not item:
                raise ValueError(f"Two of {package} are called {item.name}.")
    return dict(sorted(found.items(), key=lambda named: named[1].place))


def documents(package: str, path: Iterable[str], base: type[M], by: str) -> dict[str, type[M]]:
    """The documents of a base that the modules of a package define, by the words that their field
    `by` may have; those in which that may be any word are no kind of their own. ValueError where
    two have the same word."""
    found: dict[str, type[M]] = {}
    for module in _modules(package, path):
        for item in vars(module).values():
            if not (isinstance(item, type) and issubclass(item, base)
                    and item.__module__ == module.__name__ and by in item.model_fields):
                continue
            named = item.model_fields[by].annotation
            for word in get_args(named) if get_origin(named) is Literal else ():
                if word in found:
                    raise ValueError(f"{item.__name__} and {found[word].__name__} are both called "
                                     f"{word}.")
                found[word] = item
    return found


def one_of(kinds: Iterable[type[BaseModel]], by: str) -> Any:
    """The type of a document that is one of these, as its field `by` says."""
    return Annotated[Union[tuple(kinds)], Field(discriminator=by)]  # noqa: UP007


def _modules(package: str, path: Iterable[str]) -> Iterator[ModuleType]:
    for module in iter_modules(path):
        yield import_module(f"{package}.{module.name}")
