"""Walks over what lies within what, however deep: written as if they called themselves, and run without doing so.

A walk is a generator that yields the walks whose results it needs, one by one, and returns its own:

    def size(node):
        total = 1
        for child in node.children:
            total += yield size(child)
        return total

    walked(size(root))
"""

from collections.abc import Callable, Generator, Iterable
from typing import Any, TypeVar

T = TypeVar("T")
K = TypeVar("K")
#: A walk that comes to a T.
Walk = Generator[Any, Any, T]


def walked(walk: "Walk[T]") -> T:
    """What a walk comes to. What one of those it needs raises is raised in it, as by a call."""
    waiting: list[Walk[Any]] = []
    now: Walk[Any] = walk
    told: Any = None
    failed: BaseException | None = None
    while True:
        try:
            asked = now.send(told) if failed is None else now.throw(failed)
        except StopIteration as end:
            told, failed = end.value, None
        except BaseException as error:
            told, failed = None, error
        else:
            waiting.append(now)
            now, told, failed = asked, None, None
            continue
        if not waiting:
            if failed is not None:
                raise failed
            return told
        now = waiting.pop()


def ring_in(starts: Iterable[K], needs: Callable[[K], Iterable[K]]) -> list[K] | None:
    """The members of a ring among what needs what, each needing the next and the last the first; None where there is
    none. Linear in what there is.
    """
    done: set[K] = set()
    for start in starts:
        if start in done:
            continue
        chain: dict[K, None] = {}
        stack: list[tuple[K, bool]] = [(start, False)]
        while stack:
            here, leaving = stack.pop()
            if leaving:
                chain.pop(here)
                done.add(here)
                continue
            if here in chain:
                names = list(chain)
                return names[names.index(here) :]
            if here in done:
                continue
            chain[here] = None
            stack.append((here, True))
            stack += [(each, False) for each in reversed(list(needs(here)))]
    return None
