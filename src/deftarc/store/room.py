"""Room given back: deleted projects removed for good, and with them every part and file that no state names any more.

What is named is found by walking from every step of every project. A part that cannot be read might name others, so
while there is one, no part is taken away.
"""

import re
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from pathlib import Path

from sqlalchemy import delete, func, select, text
from sqlalchemy.orm import Session

from deftarc.core.base.errors import Refusal, unknown
from deftarc.store.assets import AssetStore
from deftarc.store.database import Sessions
from deftarc.store.files import removed, taken
from deftarc.store.jobs import JobStore
from deftarc.store.parts import text_of
from deftarc.store.projects import ProjectStore
from deftarc.store.reading_parts import UNREADABLE, children
from deftarc.store.standing import reader_of
from deftarc.store.tables import (
    AssetRow,
    ChoiceRow,
    EditIdRow,
    JobRow,
    LeftStepRow,
    NamedStateRow,
    PartRow,
    ProjectRow,
    SettingRow,
    StepRow,
)

#: Days for which a deleted project can be brought back.
KEPT_DAYS = 30
#: When everything was last gone through, and after how many days it is again without being asked.
SWEPT, SWEPT_DAYS = "swept_at", 7
_ASSET = re.compile(rb'"(?:asset|source)":"([0-9a-f]{64})"')


@dataclass
class Named:
    """What some states name: parts, assets, and whether a part among them could not be read."""

    parts: set[str] = field(default_factory=set)
    assets: set[str] = field(default_factory=set)
    unreadable: bool = False


def walk(session: Session, roots: Iterable[str], but: Named | None = None) -> Named:
    """What some roots name, what ``but`` has left out."""
    found, read = Named(), reader_of(session)
    waiting = [name for name in dict.fromkeys(roots) if but is None or name not in but.parts]
    while waiting:
        name = waiting.pop()
        if name in found.parts:
            continue
        found.parts.add(name)
        try:
            body = text_of(read(name), name)
            named = children(body)
        except UNREADABLE:
            found.unreadable = True
            continue
        found.assets.update(each.decode() for each in _ASSET.findall(body))
        waiting += [each for each in named if each not in found.parts and (but is None or each not in but.parts)]
    drawings = select(AssetRow.body).where(
        AssetRow.hash.in_(found.assets), AssetRow.media == "application/vnd.deftarc.drawing"
    )
    for body in session.scalars(drawings).all():
        found.assets.update(each.decode() for each in _ASSET.findall(body))
    if but is not None:
        found.assets -= but.assets
    return found


@dataclass
class Room:
    """What deleted projects take, and how it is given back."""

    sessions: Sessions
    projects: ProjectStore
    assets: AssetStore
    jobs: JobStore
    renders: Path
    now: Callable[[], float] = time.time

    def whole(self) -> int:
        """Bytes that everything takes on disk."""
        file = self.sessions.file
        return sum(map(taken, (file, file.with_name(f"{file.name}-wal"), self.renders)))

    def of_deleted(self) -> dict[str, int]:
        """By deleted project the bytes that come back when it alone is removed."""
        out: dict[str, int] = {}
        with self.sessions() as session:
            rows = session.execute(select(ProjectRow.id, ProjectRow.deleted_at)).all()
            here = walk(session, _roots(session, [name for name, gone in rows if gone is None]))
            for name, gone in rows:
                if gone is not None:
                    alone = walk(session, _roots(session, [name]), here)
                    sizes = [
                        session.scalar(
                            select(func.sum(func.length(table.body))).where(
                                table.hash.in_(sorted(names)[k : k + 5_000])
                            )
                        )
                        or 0
                        for table, names in ((PartRow, alone.parts), (AssetRow, alone.assets))
                        for k in range(0, len(names), 5_000)
                    ]
                    out[name] = sum(sizes) + self._rendered(session, name)
        return out

    def _rendered(self, session: Session, project: str) -> int:
        rows = session.execute(select(JobRow.file, JobRow.id).where(JobRow.project == project))
        return sum(taken(self.renders / name) for row in rows for name in row)

    def remove(self, project_id: str) -> None:
        """Removes a deleted project for good, and gives its room back."""
        with self.projects.exclusive():
            with self.sessions() as session:
                row = session.get(ProjectRow, project_id)
            if row is None:
                raise unknown("project", project_id)
            if row.deleted_at is None:
                raise Refusal(f"{row.name} is not deleted. Delete it first, then it can be removed for good.")
            self._take_away(project_id)
            self.sweep()

    def purge(self) -> int:
        """Removes what was deleted longer than KEPT_DAYS ago, and now and then what no state names; returns how many
        projects went.
        """
        limit = self.now() - KEPT_DAYS * 86_400
        with self.projects.exclusive():
            with self.sessions() as session:
                old = session.scalars(select(ProjectRow.id).where(ProjectRow.deleted_at < limit)).all()
                swept = session.get(SettingRow, SWEPT)
            for project_id in old:
                self._take_away(project_id)
            # Everything that is stored is gone through for it: too long for every start.
            if old or self.now() - float(swept.value if swept is not None else 0) > SWEPT_DAYS * 86_400:
                self.sweep()
        return len(old)

    def _take_away(self, project_id: str) -> None:
        files = self.jobs.forget(project_id)
        with self.sessions.begin() as session:
            for table in (ChoiceRow, EditIdRow, NamedStateRow, LeftStepRow, StepRow):
                session.execute(delete(table).where(table.project == project_id))
            session.execute(delete(ProjectRow).where(ProjectRow.id == project_id))
        for name in files:
            removed(self.renders / name)

    def sweep(self) -> int:
        """Removes parts and assets that no step of any project names; returns how many bytes the disk got back."""
        before = self.whole()
        with self.projects.exclusive():
            with self.sessions.begin() as session:
                session.merge(SettingRow(name=SWEPT, value=str(self.now())))
                kept = walk(session, _roots(session, None))
                if kept.unreadable:
                    return 0
                gone = _but(session, "parts", kept.parts) + _but(session, "assets", kept.assets)
            if gone:
                # What was known to be stored may not be any more.
                self.projects.forget_open()
                self.assets.forget_read()
                self.sessions.compact()
        return max(0, before - self.whole())


def _roots(session: Session, projects: list[str] | None) -> list[str]:
    """The roots of all states of some projects, or of all, those beside the line of undo among them."""
    roots: dict[str, None] = {}
    for table in (StepRow, LeftStepRow):
        query = select(table.root).distinct()
        roots |= dict.fromkeys(session.scalars(query if projects is None else query.where(table.project.in_(projects))))
    return list(roots)


def _but(session: Session, table: str, kept: set[str]) -> int:
    """Deletes the rows of a table whose hash is not among those kept; returns how many."""
    session.execute(text("CREATE TEMP TABLE IF NOT EXISTS kept (hash TEXT PRIMARY KEY)"))
    session.execute(text("DELETE FROM kept"))
    if kept:
        session.execute(text("INSERT INTO kept VALUES (:hash)"), [{"hash": name} for name in kept])
    done = session.execute(text(f"DELETE FROM {table} WHERE hash NOT IN (SELECT hash FROM kept)"))
    session.execute(text("DELETE FROM kept"))
    return int(done.rowcount)  # type: ignore[attr-defined]
