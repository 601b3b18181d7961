"""Projects and their histories: create, open, commit an edit, undo, redo, duplicate, delete, restore."""

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from threading import RLock

from sqlalchemy import Connection, delete, select, update
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session, sessionmaker

from deftarc.core.document import Project, new_id
from deftarc.core.edit import EditBase, Note, RenameProject, apply
from deftarc.core.edit.layers import distinct
from deftarc.core.errors import Refusal, unknown
from deftarc.core.keying import KeyRef
from deftarc.store.parts import PartIndex
from deftarc.store.tables import PartRow, ProjectRow, StepRow

_REVISION = "SELECT revision, deleted_at FROM projects WHERE id = ?"
#: Projects kept in memory at a time.
MOST_OPEN = 12


class Stale(Refusal):
    """An edit was made on a revision that is no longer the newest; ``changes`` says what happened since."""

    def __init__(self, revision: int, changes: list[str]) -> None:
        since = "; ".join(changes[-5:]) or "an undo"
        super().__init__(f"The project was changed meanwhile ({since}). Look at it and try again.")
        self.revision = revision
        self.changes = changes


@dataclass
class OpenProject:
    """A project in memory: its document as of ``revision``. ``undo`` and ``redo`` name what they would do."""

    id: str
    project: Project
    revision: int
    cursor: int
    undo: str | None
    redo: str | None
    index: PartIndex = field(default_factory=PartIndex)
    #: What the edit just made has to tell.
    notes: "Sequence[Note]" = ()
    #: The keys that are selected after it; None leaves that as it was.
    selects: "list[KeyRef] | None" = None
    #: After an undo or a redo: the document it went from, and what the step is called.
    came_from: Project | None = None
    stepped: str = ""


@dataclass(frozen=True)
class ProjectSummary:
    id: str
    name: str
    created_at: float
    changed_at: float
    deleted_at: float | None
    revision: int
    steps: int


class ProjectStore:
    """All projects of one data folder. Safe to use from several threads."""

    def __init__(self, sessions: sessionmaker[Session], now: Callable[[], float] = time.time) -> None:
        self.sessions = sessions
        self.now = now
        self._open: dict[str, OpenProject] = {}
        self._lock = RLock()

    def summaries(self, deleted: bool = False) -> list[ProjectSummary]:
        """The projects, the last changed first; or the deleted ones."""
        wanted = ProjectRow.deleted_at.is_not(None) if deleted else ProjectRow.deleted_at.is_(None)
        with self.sessions() as session:
            rows = session.scalars(select(ProjectRow).where(wanted).order_by(ProjectRow.changed_at.desc())).all()
        return [
            ProjectSummary(r.id, r.name, r.created_at, r.changed_at, r.deleted_at, r.revision, r.cursor) for r in rows
        ]

    def create(self, project: Project, project_id: str | None = None) -> str:
        """A new project with this document; returns its id."""
        name = project_id or new_id()
        index = PartIndex()
        with self._lock, self.sessions.begin() as session:
            root, bodies = index.write(project)
            _write_parts(session, bodies)
            self._insert(session, name, project.name, root, "Begin")
        return name

    def _insert(self, session: Session, name: str, title: str, root: str, label: str) -> None:
        now = self.now()
        session.add(
            ProjectRow(id=name, name=title, created_at=now, changed_at=now, deleted_at=None, cursor=0, revision=1)
        )
        session.flush()
        session.add(StepRow(project=name, number=0, root=root, revision=1, label=label, edit="", made_at=now))

    def open(self, project_id: str) -> OpenProject:
        """The project as it is now; Refusal when there is none or it was deleted."""
        with self._lock:
            found = self._open.get(project_id)
            if found is not None:
                # Asked at every look of every page: one row of two numbers, and mostly nothing has changed.
                with self._connect() as connection:
                    told = connection.exec_driver_sql(_REVISION, (project_id,)).first()
                if told is not None and told.deleted_at is None and found.revision == told.revision:
                    return found
            with self.sessions() as session:
                return self._opened(session, project_id)

    def _connect(self) -> Connection:
        connect: Callable[[], Connection] = self.sessions.kw["bind"].connect
        return connect()

    def _opened(self, session: Session, project_id: str) -> OpenProject:
        row = session.get(ProjectRow, project_id)
        if row is None or row.deleted_at is not None:
            raise unknown("project", project_id)
        found = self._open.get(project_id)
        if found is not None and found.revision == row.revision:
            return found
        return self._load(session, row, found.index if found else PartIndex())

    def _load(self, session: Session, row: ProjectRow, index: PartIndex) -> OpenProject:
        step = session.get_one(StepRow, (row.id, row.cursor))
        following = session.get(StepRow, (row.id, row.cursor + 1))
        project = index.read(step.root, lambda name: session.get_one(PartRow, name).body)
        opened = OpenProject(
            id=row.id,
            project=project,
            revision=row.revision,
            cursor=row.cursor,
            undo=step.label if row.cursor else None,
            redo=following.label if following else None,
            index=index,
        )
        index.keep_only(project)
        while len(self._open) >= MOST_OPEN:
            self._open.pop(next(iter(self._open)))
        self._open[row.id] = opened
        return opened

    def commit(self, project_id: str, revision: int, edit: EditBase) -> OpenProject:
        """Applies an edit made on a revision, and returns once it is on disk.

        Raises Stale when the revision is not the newest, Refusal when the edit cannot be; then nothing changed.
        """
        with self._lock, self.sessions.begin() as session:
            opened = self._opened(session, project_id)
            self._check(session, opened, revision)
            project = apply(opened.project, edit)
            label = edit.label(opened.project)[:400]
            if project is opened.project:
                return replace(opened, notes=(), selects=None, came_from=None)
            root, bodies = opened.index.write(project)
            _write_parts(session, bodies)
            fresh = OpenProject(project_id, project, revision + 1, opened.cursor + 1, label, None, opened.index)
            fresh.notes = edit.notes(opened.project, project)
            fresh.selects = edit.selects(opened.project, project)
            if opened.redo is not None:
                session.execute(delete(StepRow).where(StepRow.project == project_id, StepRow.number > opened.cursor))
            session.execute(
                insert(StepRow).values(
                    project=project_id, number=fresh.cursor, root=root, revision=fresh.revision, label=label,
                    edit=edit.model_dump_json(exclude_defaults=True), made_at=self.now(),
                )
            )  # fmt: skip
            self._advance(session, fresh)
            session.commit()
            opened.index.keep_only(project)
            self._open[project_id] = fresh
            return fresh

    def _advance(self, session: Session, opened: OpenProject) -> None:
        session.execute(
            update(ProjectRow)
            .where(ProjectRow.id == opened.id)
            .values(cursor=opened.cursor, revision=opened.revision, name=opened.project.name, changed_at=self.now())
        )

    def _check(self, session: Session, opened: OpenProject, revision: int) -> None:
        if revision != opened.revision:
            labels = session.scalars(
                select(StepRow.label)
                .where(StepRow.project == opened.id, StepRow.revision > revision, StepRow.number <= opened.cursor)
                .order_by(StepRow.number)
            ).all()
            raise Stale(opened.revision, list(labels))

    def undo(self, project_id: str, revision: int) -> OpenProject:
        """Back by one step; Refusal when there is none."""
        return self._step(project_id, revision, -1, "There is nothing to undo: this is how the project began.")

    def redo(self, project_id: str, revision: int) -> OpenProject:
        """Forward again by one step; Refusal when there is none."""
        return self._step(project_id, revision, 1, "There is nothing to redo.")

    def _step(self, project_id: str, revision: int, by: int, otherwise: str) -> OpenProject:
        with self._lock, self.sessions.begin() as session:
            opened = self._opened(session, project_id)
            self._check(session, opened, revision)
            step = session.get(StepRow, (project_id, opened.cursor + by))
            if step is None:
                raise Refusal(otherwise)
            project = opened.index.read(step.root, lambda name: session.get_one(PartRow, name).body)
            self._advance(session, OpenProject(project_id, project, revision + 1, step.number, None, None))
            session.flush()
            session.expire_all()
            moved = self._load(session, session.get_one(ProjectRow, project_id), opened.index)
            session.commit()
            stepped = (opened.undo if by < 0 else opened.redo) or ""
            return replace(moved, came_from=opened.project, stepped=stepped)

    def rename(self, project_id: str, name: str) -> OpenProject:
        """Renames as an edit on the newest revision, so that it can be undone."""
        with self._lock:
            return self.commit(project_id, self.open(project_id).revision, RenameProject(name=name))

    def duplicate(self, project_id: str) -> str:
        """A copy under a new name, with a history of its own that begins here."""
        with self._lock:
            opened = self.open(project_id)
            taken = {row.name for row in self.summaries()}
            return self.create(opened.project.changed(name=distinct(taken, f"{opened.project.name[:100]} copy")))

    def delete(self, project_id: str) -> None:
        """Takes a project off the list; ``restore`` brings it back whole."""
        with self._lock, self.sessions.begin() as session:
            self._opened(session, project_id)
            session.execute(update(ProjectRow).where(ProjectRow.id == project_id).values(deleted_at=self.now()))
            self._open.pop(project_id, None)

    def restore(self, project_id: str) -> None:
        with self._lock, self.sessions.begin() as session:
            row = session.get(ProjectRow, project_id)
            if row is None:
                raise unknown("project", project_id)
            row.deleted_at = None

    def document_at(self, project_id: str, step: int) -> Project:
        """The document as it was at a step of its history."""
        with self._lock, self.sessions() as session:
            opened = self._opened(session, project_id)
            row = session.get(StepRow, (project_id, step))
            if row is None:
                raise unknown("step", step)
            return opened.index.read(row.root, lambda name: session.get_one(PartRow, name).body)

    def history(self, project_id: str) -> Sequence[StepRow]:
        """All steps, the first first; those after the cursor can be redone."""
        with self._lock, self.sessions() as session:
            self._opened(session, project_id)
            return session.scalars(select(StepRow).where(StepRow.project == project_id).order_by(StepRow.number)).all()


def _write_parts(session: Session, bodies: dict[str, bytes]) -> None:
    if bodies:
        rows = [{"hash": name, "body": body} for name, body in bodies.items()]
        session.execute(insert(PartRow).on_conflict_do_nothing(), rows)
