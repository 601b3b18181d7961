"""Settings of a data folder, by name."""

import os
from typing import Literal

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.dialects.sqlite import insert

from deftarc.core.base.model import Frozen
from deftarc.store.database import Sessions
from deftarc.store.tables import SettingRow
from deftarc.store.trouble import StoreTrouble

#: No more renders run at the same time.
MOST_AT_ONCE = 8
#: No more processes make their parts.
MOST_WORKERS = 64


def own_workers() -> int:
    """One for each processor but one, which is left to the workbench."""
    return min(MOST_WORKERS, max(1, (os.cpu_count() or 2) - 1))


class Settings(Frozen):
    """What holds for all projects of a folder."""

    #: Renders that run at the same time; the others wait.
    renders_at_once: int = Field(default=1, ge=1, le=MOST_AT_ONCE)
    #: Processes of this machine that paint.
    workers: int = Field(default_factory=own_workers, ge=1, le=MOST_WORKERS)
    #: What renders do while a farm does not answer: they are painted here, or wait.
    farm_lost: Literal["here", "wait"] = "here"


class SettingStore:
    def __init__(self, sessions: Sessions) -> None:
        self.sessions = sessions
        self._known: Settings | None = None

    def all(self) -> Settings:
        if self._known is None:
            with self.sessions() as session:
                rows = session.execute(select(SettingRow.name, SettingRow.value)).all()
            told = {name: value for name, value in rows if name in Settings.model_fields}
            try:
                self._known = Settings.model_validate(told)
            except ValueError:
                # A row nobody could have written here: what holds by itself holds.
                self._known = Settings()
        return self._known

    def told(self) -> Settings:
        """As ``all``; what holds by itself where the database cannot be read."""
        try:
            return self.all()
        except StoreTrouble:
            return Settings()

    def keep(self, settings: Settings) -> Settings:
        rows = [{"name": name, "value": str(value)} for name, value in settings.model_dump().items()]
        with self.sessions.begin() as session:
            query = insert(SettingRow)
            session.execute(
                query.on_conflict_do_update(index_elements=["name"], set_={"value": query.excluded.value}), rows
            )
        self._known = settings
        return settings
