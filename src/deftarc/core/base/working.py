"""What takes long says how far it is, and can be stopped. Whoever begins it listens; whoever does it need not know."""

from collections.abc import Iterable, Iterator, Sized
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Protocol, TypeVar

from deftarc.core.base.errors import Refusal

T_co = TypeVar("T_co", covariant=True)
T = TypeVar("T")


class Row(Sized, Iterable[T_co], Protocol[T_co]):
    """What can be counted and gone through."""


class Stopped(Refusal):
    """Somebody stopped it before it was done."""

    def __init__(self) -> None:
        super().__init__("It was stopped. Nothing was changed.")


@dataclass
class Work:
    """Something that takes long: how far it is, of how much, and whether it is to stop."""

    done: int = 0
    total: int = 0
    stopped: bool = False


_now: ContextVar[Work | None] = ContextVar("work", default=None)


@contextmanager
def listening(work: Work) -> Iterator[None]:
    """What is done meanwhile, in this thread, is told there."""
    token = _now.set(work)
    try:
        yield
    finally:
        _now.reset(token)


def at_work(things: "Row[T]") -> Iterator[T]:
    """Goes through things one by one, and says so; Stopped where it is to stop."""
    work = _now.get()
    if work is None:
        yield from things
        return
    work.done, work.total = 0, len(things)
    for n, thing in enumerate(things):
        if work.stopped:
            raise Stopped
        work.done = n
        yield thing
    work.done = work.total
