"""Registers: what can be added to without touching what is there.

A room of one kind of thing is a package whose files each add to the room's register; ``collect`` reads them all.
The packages named in DEFTARC_MORE, parted by commas, are asked for a module of the room's name, too, so that what
a studio adds for itself needs no change here.
"""

import os
from collections.abc import Callable, Iterator, Mapping
from importlib import import_module
from importlib.util import find_spec
from pkgutil import iter_modules
from typing import Generic, TypeVar

T = TypeVar("T")


class Register(Mapping[str, T], Generic[T]):
    """Things by their ids, in the order in which they were added; an id has one owner."""

    def __init__(self, what: str, named: Callable[[T], str]) -> None:
        self.what, self.named = what, named
        self._things: dict[str, T] = {}

    def add(self, thing: T) -> T:
        """Adds a thing and returns it, so that it can stand before a class. ValueError where its id is taken."""
        name = self.named(thing)
        if self._things.setdefault(name, thing) is not thing:
            raise ValueError(f"There are two {self.what} named {name}.")
        return thing

    def __getitem__(self, name: str) -> T:
        return self._things[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._things)

    def __eq__(self, other: object) -> bool:
        return self is other

    def __hash__(self) -> int:
        return id(self)

    def __len__(self) -> int:
        return len(self._things)


def more() -> list[str]:
    """The packages that add to Deft Arc here."""
    return [name.strip() for name in os.environ.get("DEFTARC_MORE", "").split(",") if name.strip()]


def collect(package: str, path: list[str], first: tuple[str, ...] = (), called: str = "") -> None:
    """Imports every file of a room, those told first, so that they add what they have to its register.

    Files are read by name; where an order is seen, as in a list of numbers, ``first`` says it. ``called`` is the name
    that packages of DEFTARC_MORE have for the room, where another room has its own already.
    """
    found = sorted(each.name for each in iter_modules(path))
    for name in (*first, *(each for each in found if each not in first)):
        import_module(f"{package}.{name}")
    room = called or package.rsplit(".", 1)[1]
    for extra in more():
        if find_spec(f"{extra}.{room}") is not None:
            import_module(f"{extra}.{room}")
