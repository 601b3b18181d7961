"""Whose turn it is: each project by itself, so that one that takes long keeps no other waiting; or all at once."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from threading import Condition, RLock, get_ident


@dataclass
class Turns:
    """Locks of projects, and one over all of them. A thread that has one may take it again."""

    _gate: Condition = field(default_factory=Condition)
    _of: dict[str, RLock] = field(default_factory=dict)
    #: By thread, how often it is inside; and the thread that has all to itself.
    _inside: dict[int, int] = field(default_factory=dict)
    _alone: int | None = None

    @contextmanager
    def of(self, project: str) -> Iterator[None]:
        """While nobody else has this project, nor all of them."""
        me = get_ident()
        with self._gate:
            while self._alone not in (None, me) and me not in self._inside:
                self._gate.wait()
            self._inside[me] = self._inside.get(me, 0) + 1
            lock = self._of.setdefault(project, RLock())
        try:
            with lock:
                yield
        finally:
            self._leave(me)

    @contextmanager
    def all(self) -> Iterator[None]:
        """While nobody else has any."""
        me = get_ident()
        with self._gate:
            while self._alone not in (None, me):
                self._gate.wait()
            # From here on nobody begins; those who have are waited for.
            before, self._alone = self._alone, me
            self._inside[me] = self._inside.get(me, 0) + 1
            while any(thread != me for thread in self._inside):
                self._gate.wait()
        try:
            yield
        finally:
            with self._gate:
                self._alone = before
            self._leave(me)

    def _leave(self, me: int) -> None:
        with self._gate:
            self._inside[me] -= 1
            if not self._inside[me]:
                del self._inside[me]
            self._gate.notify_all()

    def forget(self, project: str) -> None:
        """A project that is gone needs no lock."""
        with self._gate:
            if not self._inside:
                self._of.pop(project, None)
