"""Render jobs as rows, so that they are known after a restart."""

import json
import time
from dataclasses import dataclass
from threading import Lock
from typing import Any

from sqlalchemy import delete, func, select, update

from deftarc.core.base.errors import unknown
from deftarc.core.document import new_id
from deftarc.store.database import Sessions
from deftarc.store.tables import JobRow, ProjectRow
from deftarc.store.trouble import StoreTrouble

#: A job that is not at its end.
OPEN = ("waiting", "running", "paused")


@dataclass(frozen=True)
class NewJob:
    """What is to be made of which scene of a project at one of its revisions, and the ending of its file."""

    project: str
    title: str
    scene: str
    output: str
    options: dict[str, Any]
    revision: int
    suffix: str


class JobStore:
    """What could not be written down, on a full disk say, is told from memory, and written when there is room. Who
    reads waits for who writes: what is told never goes back.
    """

    def __init__(self, sessions: Sessions) -> None:
        self.sessions = sessions
        self._unwritten: dict[str, dict[str, Any]] = {}
        self._turn = Lock()

    def left_over(self) -> list[JobRow]:
        """Jobs that were open when a server ended, in their order."""
        with self.sessions() as session:
            return list(session.scalars(select(JobRow).where(JobRow.state.in_(OPEN)).order_by(JobRow.place)))

    def in_order(self) -> list[str]:
        """The ids of open jobs, the next one first."""
        with self.sessions() as session:
            return list(session.scalars(select(JobRow.id).where(JobRow.state.in_(OPEN)).order_by(JobRow.place)))

    def put_first(self, job_id: str) -> None:
        with self.sessions.begin() as session:
            first = session.scalar(select(func.min(JobRow.place)).where(JobRow.state.in_(OPEN))) or 0.0
            session.execute(update(JobRow).where(JobRow.id == job_id).values(place=first - 1))

    def wish(self, job_id: str, wish: str) -> None:
        """Leaves word for the server that makes a job: stop, pause, go, first or again."""
        with self.sessions.begin() as session:
            session.execute(update(JobRow).where(JobRow.id == job_id).values(wish=wish))

    def wishes(self) -> list[tuple[str, str]]:
        """Jobs with what is wished for them, which is taken as told."""
        with self.sessions() as session:
            told = [(row.id, row.wish) for row in session.scalars(select(JobRow).where(JobRow.wish != ""))]
        if told:
            with self.sessions.begin() as session:
                session.execute(update(JobRow).where(JobRow.id.in_([name for name, _ in told])).values(wish=""))
        return told

    def new_name(self) -> str:
        return new_id()

    def create(self, name: str, new: NewJob, total: int) -> None:
        now = time.time()
        with self.sessions.begin() as session:
            session.add(
                JobRow(
                    id=name, project=new.project, title=new.title[:300], state="waiting", done=0, total=total,
                    message="", file=f"{name}{new.suffix}", made_at=now, scene=new.scene, output=new.output,
                    options=json.dumps(new.options), revision=new.revision, place=now, wish="",
                )
            )  # fmt: skip

    def row(self, job_id: str) -> JobRow:
        """A job as it is, of whatever project; UnknownThing where there is none."""
        with self._turn:
            with self.sessions() as session:
                row = session.get(JobRow, job_id)
            if row is None:
                raise unknown("render", job_id)
            return self._told(row)

    def get(self, job_id: str) -> JobRow:
        """A job of a project that is there; UnknownThing otherwise."""
        with self._turn:
            with self.sessions() as session:
                row = session.get(JobRow, job_id)
                project = session.get(ProjectRow, row.project) if row is not None else None
            if row is None or project is None or project.deleted_at is not None:
                raise unknown("render", job_id)
            return self._told(row)

    def of_project(self, project: str, most: int = 20) -> list[JobRow]:
        """A project's renders, the newest first."""
        with self._turn, self.sessions() as session:
            query = select(JobRow).where(JobRow.project == project).order_by(JobRow.made_at.desc()).limit(most)
            return [self._told(row) for row in session.scalars(query)]

    def newest(self, most: int = 200) -> list[JobRow]:
        """The renders of all projects that are there, the newest first."""
        with self._turn, self.sessions() as session:
            query = select(JobRow).join(ProjectRow, ProjectRow.id == JobRow.project)
            query = query.where(ProjectRow.deleted_at.is_(None)).order_by(JobRow.made_at.desc()).limit(most)
            return [self._told(row) for row in session.scalars(query)]

    def files(self) -> set[str]:
        """What is kept of renders: the files of finished ones, those of deleted projects that can still come back among
        them, and the folders of failed ones, which can go on.
        """
        with self.sessions() as session:
            done = session.scalars(select(JobRow.file).where(JobRow.state == "done"))
            return {*done, *session.scalars(select(JobRow.id).where(JobRow.state == "failed"))}

    def _told(self, row: JobRow) -> JobRow:
        for name, value in self._unwritten.get(row.id, {}).items():
            setattr(row, name, value)
        return row

    def change(self, job_id: str, **fields: Any) -> None:
        """Changes a job's row. Never fails: a render's end has to be told even where it cannot be written."""
        with self._turn:
            self._unwritten.setdefault(job_id, {}).update(fields)
            for name in list(self._unwritten):
                try:
                    with self.sessions.begin() as session:
                        session.execute(update(JobRow).where(JobRow.id == name).values(**self._unwritten[name]))
                except StoreTrouble:
                    return
                self._unwritten.pop(name)

    def finish(self, job_id: str) -> None:
        with self.sessions() as session:
            total = session.scalar(select(JobRow.total).where(JobRow.id == job_id)) or 0
        self.change(job_id, state="done", done=self._unwritten.get(job_id, {}).get("total", total))

    def forget(self, project: str) -> list[str]:
        """Takes the jobs of a project away; returns the names of their files and folders."""
        with self.sessions.begin() as session:
            rows = session.scalars(select(JobRow).where(JobRow.project == project))
            files = [name for row in rows for name in (row.file, row.id)]
            session.execute(delete(JobRow).where(JobRow.project == project))
        return files
