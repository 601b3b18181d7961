"""Eases kept for all projects, by name."""

import time
from threading import Lock

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.sqlite import insert

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.curves.knots import OwnEase
from deftarc.store.database import Sessions
from deftarc.store.tables import EaseRow


class EaseStore:
    """What it read last is kept: a page looks at all eases whenever a key is selected."""

    def __init__(self, sessions: Sessions) -> None:
        self.sessions = sessions
        self._known: list[OwnEase] | None = None
        # Pages read while others write: without it, what was read before a write could be kept after it.
        self._turn = Lock()

    def all(self) -> list[OwnEase]:
        """All eases, the newest last."""
        with self._turn:
            if self._known is None:
                with self.sessions() as session:
                    rows = session.scalars(select(EaseRow).order_by(EaseRow.made_at)).all()
                self._known = [OwnEase.model_validate_json(row.knots) for row in rows]
            return self._known

    def keep(self, ease: OwnEase) -> None:
        """Keeps an ease; one of its name is replaced."""
        row = {"name": ease.name, "knots": ease.model_dump_json(exclude_defaults=True), "made_at": time.time()}
        with self._turn, self.sessions.begin() as session:
            self._known = None
            count = session.scalar(select(func.count()).select_from(EaseRow)) or 0
            if count >= limits.MAX_OWN_EASES and session.get(EaseRow, ease.name) is None:
                raise Refusal(f"There are {limits.MAX_OWN_EASES} eases already. Forget one first.")
            session.execute(insert(EaseRow).values(row).on_conflict_do_update(index_elements=["name"], set_=row))

    def forget(self, name: str) -> None:
        """Takes an ease away; UnknownThing when there is none of that name."""
        with self._turn, self.sessions.begin() as session:
            self._known = None
            gone = session.execute(delete(EaseRow).where(EaseRow.name == name)).rowcount  # type: ignore[attr-defined]
        if not gone:
            raise unknown("ease", name)
