"""Render jobs as rows, so that they are known after a restart."""

import time

from sqlalchemy import select, update
from sqlalchemy.orm import Session, sessionmaker

from deftarc.core.document import new_id
from deftarc.core.errors import unknown
from deftarc.store.tables import JobRow


class JobStore:
    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self.sessions = sessions
        with self.sessions.begin() as session:
            session.execute(
                update(JobRow)
                .where(JobRow.state.in_(("waiting", "running")))
                .values(state="stopped", message="The server was stopped while this was rendering. Start it again.")
            )

    def create(self, project: str, title: str, file: str, total: int) -> str:
        name = new_id()
        with self.sessions.begin() as session:
            session.add(
                JobRow(
                    id=name, project=project, title=title, state="waiting", done=0, total=total, message="",
                    file=file, made_at=time.time(),
                )
            )  # fmt: skip
        return name

    def get(self, job_id: str) -> JobRow:
        with self.sessions() as session:
            row = session.get(JobRow, job_id)
        if row is None:
            raise unknown("render", job_id)
        return row

    def of_project(self, project: str, most: int = 20) -> list[JobRow]:
        """A project's renders, the newest first."""
        with self.sessions() as session:
            query = select(JobRow).where(JobRow.project == project).order_by(JobRow.made_at.desc()).limit(most)
            return list(session.scalars(query))

    def change(self, job_id: str, **fields: object) -> None:
        with self.sessions.begin() as session:
            session.execute(update(JobRow).where(JobRow.id == job_id).values(**fields))
