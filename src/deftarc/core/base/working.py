"""What takes long says how far it is, and can be stopped. Whoever begins it listens; whoever does it need not know."""

from collections.abc import Iterable, Iterator, Sized
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Protocol, TypeVar

T_co = TypeVar("T_co", covariant=True)
T = TypeVar("T")


class Row(Sized, Iterable[T_co], Protocol[T_co]):
    """What can be counted and gone through."""


class Stopped(Exception):
    """Somebody stopped it before it was done. No refusal: what is tried another way where that is refused, ends."""

    def __init__(self) -> None:
        super().__init__("It was stopped. Nothing was changed.")


@dataclass
class Work:
    """Something that takes long: which share of it is done, and whether it is to stop."""

    share: float = 0.0
    stopped: bool = False
    #: Where the part begins that is done now, and how large it is, as shares of the whole.
    begins: float = 0.0
    size: float = 1.0


_now: ContextVar[Work | None] = ContextVar("work", default=None)


@contextmanager
def listening(work: Work) -> Iterator[None]:
    """What is done meanwhile, in this thread, reports there."""
    token = _now.set(work)
    try:
        yield
    finally:
        _now.reset(token)


def reached(share: float) -> None:
    """Reports how much of the part that is done now is done; Stopped where it is to stop."""
    work = _now.get()
    if work is None:
        return
    if work.stopped:
        raise Stopped
    work.share = work.begins + work.size * min(share, 1.0)


@contextmanager
def stage(number: int, of: int) -> Iterator[None]:
    """What is done meanwhile is one stage of several equal ones, counted from 0."""
    work = _now.get()
    if work is None:
        yield
        return
    begins, size = work.begins, work.size
    work.begins, work.size = begins + size * number / of, size / of
    try:
        reached(0.0)
        yield
        reached(1.0)
    finally:
        work.begins, work.size = begins, size


def at_work(things: "Row[T]") -> Iterator[T]:
    """Goes through things one by one, and reports it; Stopped where it is to stop."""
    for n, thing in enumerate(things):
        with stage(n, len(things)):
            yield thing
