"""Render jobs as rows, so that they are known after a restart."""

import time
from threading import Lock
from typing import Any

from sqlalchemy import delete, select, update

from deftarc.core.base.errors import unknown
from deftarc.core.document import new_id
from deftarc.store.database import Sessions
from deftarc.store.tables import JobRow, ProjectRow
from deftarc.store.trouble import StoreTrouble

CUT_OFF = "The server was stopped while this was rendering. Start it again."


class JobStore:
    """What could not be written down, on a full disk say, is told from memory, and written when there is room."""

    def __init__(self, sessions: Sessions) -> None:
        self.sessions = sessions
        self._unwritten: dict[str, dict[str, Any]] = {}
        self._turn = Lock()

    def end_left_over(self) -> None:
        """Jobs that ran or waited when a server ended. Only a server that has the folder to itself says so."""
        with self.sessions.begin() as session:
            session.execute(
                update(JobRow)
                .where(JobRow.state.in_(("waiting", "running")))
                .values(state="stopped", message=CUT_OFF)
            )  # fmt: skip

    def new_name(self) -> str:
        return new_id()

    def create(self, name: str, project: str, title: str, file: str, total: int) -> None:
        with self.sessions.begin() as session:
            session.add(
                JobRow(
                    id=name, project=project, title=title, state="waiting", done=0, total=total, message="",
                    file=file, made_at=time.time(),
                )
            )  # fmt: skip

    def get(self, job_id: str) -> JobRow:
        """A job of a project that is there; UnknownThing otherwise."""
        with self.sessions() as session:
            row = session.get(JobRow, job_id)
            project = session.get(ProjectRow, row.project) if row is not None else None
        if row is None or project is None or project.deleted_at is not None:
            raise unknown("render", job_id)
        return self._told(row)

    def of_project(self, project: str, most: int = 20) -> list[JobRow]:
        """A project's renders, the newest first."""
        with self.sessions() as session:
            query = select(JobRow).where(JobRow.project == project).order_by(JobRow.made_at.desc()).limit(most)
            return [self._told(row) for row in session.scalars(query)]

    def files(self) -> set[str]:
        """The files of all finished renders, those of deleted projects that can still come back among them."""
        with self.sessions() as session:
            return set(session.scalars(select(JobRow.file).where(JobRow.state == "done")))

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
        """Takes the jobs of a project away; returns the names of their files."""
        with self.sessions.begin() as session:
            files = list(session.scalars(select(JobRow.file).where(JobRow.project == project)))
            session.execute(delete(JobRow).where(JobRow.project == project))
        return files
