"""What is kept for all projects by name: eases, motions."""

import time
from collections.abc import Sequence
from threading import Lock
from typing import Any, ClassVar, Generic, Protocol, TypeVar

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.sqlite import insert

from deftarc.core.base.errors import Refusal, unknown
from deftarc.store.database import Sessions


class Named(Protocol):
    @property
    def name(self) -> str: ...


T = TypeVar("T", bound=Named)


class NamedStore(Generic[T]):
    """Things by name, each a row of its text. What was read last is kept: pages look at all of them again and again."""

    #: The table, the column with the text, and what one of them is called.
    row: ClassVar[Any]
    column: ClassVar[str]
    what: ClassVar[str]

    def __init__(self, sessions: Sessions) -> None:
        self.sessions = sessions
        self._known: list[T] | None = None
        # Pages read while others write: without it, what was read before a write could be kept after it.
        self._turn = Lock()

    def written(self, thing: T) -> str:
        raise NotImplementedError

    def read(self, text: str) -> T | None:
        """A thing from its text; None where it cannot be read, which is left out and stays as it lies."""
        raise NotImplementedError

    def most(self) -> int:
        raise NotImplementedError

    def all(self) -> list[T]:
        """All of them, the newest last."""
        with self._turn:
            if self._known is None:
                with self.sessions() as session:
                    rows = session.scalars(select(self.row).order_by(self.row.made_at)).all()
                read = (self.read(getattr(row, self.column)) for row in rows)
                self._known = [each for each in read if each is not None]
            return self._known

    def keep(self, *things: T, instead_of: str | None = None, fresh: bool = False) -> None:
        """Keeps them, all or none; one of a name is replaced, and so is the one of the name ``instead_of``, where there
        is one. ``fresh``: none but that one may be lost; Refusal where one would be.
        """
        now = time.time()
        rows = [{"name": each.name, self.column: self.written(each), "made_at": now + n * 1e-6}
                for n, each in enumerate(things)]  # fmt: skip
        with self._turn, self.sessions.begin() as session:
            self._known = None
            if instead_of is not None and all(each.name != instead_of for each in things):
                session.execute(delete(self.row).where(self.row.name == instead_of))
            here = [each.name for each in things if session.get(self.row, each.name) is not None]
            if fresh and (lost := [name for name in here if name != instead_of]):
                raise Refusal(f"There is a “{lost[0]}” already for all projects. Change the name of one first.")
            count = session.scalar(select(func.count()).select_from(self.row)) or 0
            more = len(things) - len(here)
            if more and count + more > self.most():
                room = "" if count >= self.most() else f", and {more} would be more"
                raise Refusal(f"There are {count} {self.what}s already{room}. Forget one first.")
            for row in rows:
                session.execute(insert(self.row).values(row).on_conflict_do_update(index_elements=["name"], set_=row))

    def forget(self, name: str) -> None:
        """Takes one away; UnknownThing when there is none of that name."""
        with self._turn, self.sessions.begin() as session:
            self._known = None
            gone = session.execute(delete(self.row).where(self.row.name == name)).rowcount  # type: ignore[attr-defined]
        if not gone:
            raise unknown(self.what, name)

    def named(self, names: Sequence[str]) -> list[T]:
        """Those of some names, in that order; UnknownThing where there is none of one."""
        known = {each.name: each for each in self.all()}
        for name in names:
            if name not in known:
                raise unknown(self.what, name)
        return [known[name] for name in names]
