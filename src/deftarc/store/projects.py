"""Projects and their histories: create, open, commit an edit, undo, redo, duplicate, delete, restore."""

import time
from collections.abc import Callable, Sequence
from contextlib import AbstractContextManager
from dataclasses import dataclass, field, replace
from threading import RLock

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from deftarc.core.arrange.apart import stand_apart, touched
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.working import reached
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Project, Scene, new_id
from deftarc.core.edit import EditBase, Note, apply, selected, told
from deftarc.core.edit.layers import distinct
from deftarc.core.edit.scenes import RenameProject
from deftarc.store.database import Sessions
from deftarc.store.history import State, leave, name_state, put_on_line, root_at, states_of
from deftarc.store.parts import PartIndex, PartReader, Written
from deftarc.store.reading_parts import UNREADABLE, Reading, is_stand_in
from deftarc.store.spliced import NotSo, first_scene, look_through, spliced
from deftarc.store.standing import Stands, bare, reader_of, untidied, where_it_stands
from deftarc.store.tables import EditIdRow, PartRow, ProjectRow, StepRow
from deftarc.store.trouble import StoreTrouble
from deftarc.store.turns import Turns

_REVISION = "SELECT revision, deleted_at FROM projects WHERE id = ?"
_STEPS = "SELECT number, root, label FROM steps WHERE project = ? AND number IN (?, ?)"
_ADVANCE = "UPDATE projects SET cursor = ?, revision = ?, name = ?, changed_at = ? WHERE id = ?"
#: So many documents before the present one are kept at hand, for edits that were made on them.
RECENT = 48
#: Projects kept in memory at a time.
MOST_OPEN = 12
#: So many of the newest edits are known by their ids.
EDITS_KNOWN = 2_000


class Stale(Refusal):
    """An edit was made on a revision that is no longer the newest; ``changes`` says what happened since."""

    def __init__(self, revision: int, changes: list[str]) -> None:
        since = "; ".join(changes[-5:]) or "an undo"
        super().__init__(f"The project was changed meanwhile ({since}). Look at it and try again.")
        self.revision = revision
        self.changes = changes


class DamagedProject(Refusal):
    """What is stored of a project cannot be read as a document."""

    def __init__(self, name: str) -> None:
        super().__init__(
            f"{name} is damaged and cannot be opened as it is. On the start page it can be taken back to the last "
            f"state that opens, exported as it lies, or removed."
        )


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
    #: The edit had been made already: nothing was done again.
    repeated: bool = False
    #: The edit came to nothing: there is no step of it.
    unchanged: bool = False
    #: What it is stored as.
    root: str = ""
    #: The revisions before this one, with their documents, as far as they are at hand.
    recent: tuple[tuple[int, Project], ...] = ()

    @property
    def lost(self) -> list[str]:
        """The names of layers that cannot be read."""
        return [layer.name for scene in self.project.scenes for layer in scene.layers if is_stand_in(layer)]


@dataclass(frozen=True)
class Glimpse:
    """The first scene of a project without its layers, how many scenes there are, and how many of the layers of all of
    them cannot be read.
    """

    first: Scene
    scenes: int
    lost: int

    @classmethod
    def of(cls, opened: OpenProject) -> "Glimpse":
        first = opened.project.scenes[0]
        return cls(first.changed(layers=()), len(opened.project.scenes), len(opened.lost))


def glimpsed(root: str, reader: PartReader) -> Glimpse:
    """What a list shows of a document. Each part is looked at, and nothing is made of it. NotSo where it has to be
    opened to know.
    """
    scene, scenes = first_scene(root, reader)
    return Glimpse(Scene.model_validate(scene), scenes, 0)


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

    def __init__(self, sessions: Sessions, now: Callable[[], float] = time.time) -> None:
        self.sessions = sessions
        self.now = now
        self._open: dict[str, OpenProject] = {}
        #: What lists show of projects, by the revision it is of.
        self._glimpsed: dict[str, tuple[int, Glimpse]] = {}
        #: How many names were given to states since it was made: they are no step of any history.
        self.names_given = 0
        self._used = time.monotonic()
        self._turns = Turns()
        #: Held while what is kept in memory changes, and for nothing that takes long.
        self._lock = RLock()

    def summaries(self, deleted: bool = False) -> list[ProjectSummary]:
        """The projects, the last changed first; or the deleted ones."""
        return self.listed()[deleted]

    def listed(self) -> tuple[list[ProjectSummary], list[ProjectSummary]]:
        """The projects, and the deleted ones, the last changed first."""
        with self.sessions() as session:
            rows = session.scalars(select(ProjectRow).order_by(ProjectRow.changed_at.desc())).all()
        made: tuple[list[ProjectSummary], list[ProjectSummary]] = ([], [])
        for r in rows:
            made[r.deleted_at is not None].append(
                ProjectSummary(r.id, r.name, r.created_at, r.changed_at, r.deleted_at, r.revision, r.cursor)
            )
        return made

    def create(self, project: Project, project_id: str | None = None) -> str:
        """A new project with this document; returns its id."""
        return self.take(project.name, PartIndex().write(project), project_id)

    def take(self, title: str, written: Written, project_id: str | None = None) -> str:
        """A new project out of parts that are ready; returns its id."""
        _refuse_too_large(written)
        name = project_id or new_id()
        # These parts were made just now, all of them, and are as they should be.
        seen = glimpsed(written.root, written.bodies.__getitem__)
        with self._turns.of(name), self.sessions.begin() as session:
            _write_parts(session, written.bodies)
            now = self.now()
            session.add(
                ProjectRow(id=name, name=title, created_at=now, changed_at=now, deleted_at=None, cursor=0, revision=1)
            )
            session.flush()
            session.add(
                StepRow(project=name, number=0, root=written.root, revision=1, label="Begin", edit="", made_at=now)
            )
            self._glimpsed[name] = (1, seen)
        return name

    def open(self, project_id: str) -> OpenProject:
        """The project as it is now; Refusal when there is none or it was deleted, DamagedProject when it cannot be
        read.
        """
        self._used = time.monotonic()
        found = self._open.get(project_id)
        if found is not None and self.sessions.glance(_REVISION, (project_id,)) == [(found.revision, None)]:
            # What is known needs no turn: it is never changed in place.
            return found
        with self._turns.of(project_id):
            found = self._open.get(project_id)
            # Asked at every look of every page: one row of two numbers, and mostly nothing has changed.
            if found is not None and self.sessions.glance(_REVISION, (project_id,)) == [(found.revision, None)]:
                return found
            with self.sessions() as session:
                return self._opened(session, project_id)

    def _opened(self, session: Session, project_id: str) -> OpenProject:
        stands = where_it_stands(session, project_id)
        found = self._open.get(project_id)
        if found is not None and found.revision == stands.revision:
            return found
        try:
            return self._keep(self._load(session, stands, found.index if found else PartIndex()))
        except DamagedProject:
            # Lists say so from now on, whatever they showed before.
            self._glimpsed.pop(project_id, None)
            raise

    def _keep(self, opened: OpenProject) -> OpenProject:
        """Remembers what is on disk as it is in memory."""
        opened.index.keep_only(opened.project)
        with self._lock:
            while len(self._open) >= MOST_OPEN and opened.id not in self._open:
                self._open.pop(next(iter(self._open)))
            self._open[opened.id] = opened
        return opened

    def _load(self, session: Session, stands: Stands, index: PartIndex) -> OpenProject:
        rows = bare(session).execute(_STEPS, (stands.id, stands.cursor, stands.cursor + 1))
        steps = {number: (root, label) for number, root, label in rows}
        if stands.cursor not in steps:
            raise DamagedProject(stands.name)
        root, label = steps[stands.cursor]
        return OpenProject(
            id=stands.id,
            project=_read(index, session, root, stands.name),
            revision=stands.revision,
            cursor=stands.cursor,
            undo=label if stands.cursor else None,
            redo=steps.get(stands.cursor + 1, ("", None))[1],
            index=index,
            root=root,
        )

    def commit(self, project_id: str, revision: int, edit: EditBase, edit_id: str | None = None) -> OpenProject:
        """Applies an edit made on a revision, and returns once it is on disk.

        Raises Stale when the revision is not the newest, Refusal when the edit cannot be; then nothing changed. An
        edit whose id was made already is not made again: it answers with what became of it.
        """
        self.sessions.refuse_damaged()
        with self._turns.of(project_id):
            while True:
                made = self._commit(project_id, revision, edit, edit_id)
                if made is not None:
                    return made

    def _commit(self, project_id: str, revision: int, edit: EditBase, edit_id: str | None) -> OpenProject | None:
        """As ``commit``; None where another process has changed the project meanwhile. What takes long is worked out
        before the database is asked for its turn, which others wait for.
        """
        self._used = time.monotonic()
        with untidied(), self.sessions() as session:
            opened = self._opened(session, project_id)
            before = session.get(EditIdRow, (project_id, edit_id)) if edit_id else None
            if before is not None:
                return self._made_before(session, opened, edit, before)
            project = self._applied(session, opened, revision, edit)
        label = edit.label(opened.project)[:400]
        if project is opened.project:
            return replace(opened, notes=(), selects=None, came_from=None, unchanged=True)
        written = opened.index.write(project)
        if written.root == opened.root:
            # What would be written is what is there, however it was made: decided here, for every edit.
            return replace(opened, notes=(), selects=None, came_from=None, unchanged=True)
        _refuse_too_large(written)
        # The last moment at which it can be stopped: what is saved is not taken back by that.
        reached(1.0)
        fresh = OpenProject(project_id, project, opened.revision + 1, opened.cursor + 1, label, None, opened.index)
        fresh.root = written.root
        fresh.recent = (*opened.recent, (opened.revision, opened.project))[-RECENT:]
        fresh.notes = told(opened.project, edit, project)
        fresh.selects = selected(opened.project, edit, project)
        row = {
            "project": project_id, "number": fresh.cursor, "root": written.root, "revision": fresh.revision,
            "label": label, "edit": edit.model_dump_json(exclude_defaults=True), "made_at": self.now(),
        }  # fmt: skip
        # Known before anybody can see the revision it is of.
        seen, self._glimpsed[project_id] = self._glimpsed.get(project_id), (fresh.revision, Glimpse.of(fresh))
        saved = False
        try:
            with self.sessions.begin() as session:
                if where_it_stands(session, project_id).revision != opened.revision:
                    return None
                _write_parts(session, written.bodies)
                if opened.redo is not None:
                    leave(session, project_id, opened.cursor)
                session.execute(insert(StepRow).values(row))
                if edit_id:
                    self._note_id(session, fresh, edit_id)
                self._advance(session, fresh)
            saved = True
        finally:
            if not saved:
                self._seen_again(project_id, seen)
        # Only what is on disk is known to be: a disk that is full leaves everything as it was.
        opened.index.keep(written)
        opened.index.replace(opened.project, project)
        return self._keep(fresh)

    def _seen_again(self, project_id: str, seen: tuple[int, Glimpse] | None) -> None:
        """What lists showed before an edit that was not saved."""
        if seen is None:
            self._glimpsed.pop(project_id, None)
        else:
            self._glimpsed[project_id] = seen

    def _applied(self, session: Session, opened: OpenProject, revision: int, edit: EditBase) -> Project:
        """The document with an edit, which may have been made on an earlier revision: where it touches nothing that was
        changed since, it goes on top. Stale otherwise.
        """
        if revision == opened.revision:
            return apply(opened.project, edit)
        was = next((project for at, project in opened.recent if at == revision), None)
        if was is not None:
            try:
                project = apply(opened.project, edit)
            except Refusal:
                project = None
            if project is not None:
                since, now = touched(was, opened.project), touched(opened.project, project)
                if stand_apart(since, now):
                    return project
        self._check(session, opened, revision)
        raise AssertionError("An earlier revision is stale.")

    def _note_id(self, session: Session, fresh: OpenProject, edit_id: str) -> None:
        session.execute(
            insert(EditIdRow).values(project=fresh.id, id=edit_id, number=fresh.cursor, revision=fresh.revision)
        )
        if fresh.revision % 100 == 0:
            old = fresh.revision - EDITS_KNOWN
            session.execute(delete(EditIdRow).where(EditIdRow.project == fresh.id, EditIdRow.revision < old))

    def _made_before(self, session: Session, opened: OpenProject, edit: EditBase, made: EditIdRow) -> OpenProject:
        """What became of an edit that was made already: told as when it was made, while nothing came after it."""
        again = replace(opened, notes=(), selects=None, came_from=None, repeated=True)
        step = session.get(StepRow, (opened.id, made.number - 1))
        if made.revision == opened.revision and step is not None:
            was = _read(opened.index, session, step.root, opened.project.name)
            again.notes, again.selects = told(was, edit, opened.project), selected(was, edit, opened.project)
        return again

    def made_before(self, project_id: str, edit_id: str | None) -> OpenProject | None:
        """The project as it is, where an edit of this id was made already."""
        if edit_id is None:
            return None
        with self._turns.of(project_id), self.sessions() as session:
            if session.get(EditIdRow, (project_id, edit_id)) is None:
                return None
            return replace(self._opened(session, project_id), notes=(), selects=None, came_from=None, repeated=True)

    def _advance(self, session: Session, opened: OpenProject) -> None:
        told = (opened.cursor, opened.revision, opened.project.name, self.now(), opened.id)
        bare(session).execute(_ADVANCE, told)

    def _check(self, session: Session, opened: OpenProject, revision: int) -> None:
        if revision != opened.revision:
            labels = session.scalars(
                select(StepRow.label)
                .where(StepRow.project == opened.id, StepRow.revision > revision, StepRow.number <= opened.cursor)
                .order_by(StepRow.number)
            ).all()
            raise Stale(opened.revision, list(labels))

    def undo(self, project_id: str, revision: int, edit_id: str | None = None, count: int = 1) -> OpenProject:
        """Back by so many steps, or as many as there are; Refusal when there is none."""
        none = "There is nothing to undo: this is how the project began."
        return self._step(project_id, revision, -count, none, edit_id)

    def redo(self, project_id: str, revision: int, edit_id: str | None = None, count: int = 1) -> OpenProject:
        """Forward again by so many steps, or as many as there are; Refusal when there is none."""
        return self._step(project_id, revision, count, "There is nothing to redo.", edit_id)

    def _step(self, project_id: str, revision: int, by: int, otherwise: str, edit_id: str | None) -> OpenProject:
        def beside(session: Session, opened: OpenProject) -> int:
            if (opened.undo if by < 0 else opened.redo) is None:
                raise Refusal(otherwise)
            newest = session.scalar(select(func.max(StepRow.number)).where(StepRow.project == project_id))
            return max(0, min(opened.cursor + by, int(newest or 0)))

        def told(left: OpenProject, now: OpenProject) -> str:
            taken = abs(now.cursor - left.cursor)
            label = (now.redo if by < 0 else now.undo) or ""
            return label if taken < 2 else f"{taken} steps, the last of them {label}"

        return self._elsewhere(project_id, revision, beside, told, edit_id)

    def go(self, project_id: str, revision: int, state: int, edit_id: str | None = None) -> OpenProject:
        """To any state of the history, on its line or beside it; see history.py. Refusal where there is none such."""
        return self._elsewhere(
            project_id, revision, lambda session, opened: put_on_line(session, project_id, state),
            lambda left, now: now.undo or "the beginning", edit_id,
        )  # fmt: skip

    def _elsewhere(
        self,
        project_id: str,
        revision: int,
        number: Callable[[Session, OpenProject], int],
        stepped: Callable[[OpenProject, OpenProject], str],
        edit_id: str | None,
    ) -> OpenProject:
        """To another state of the line of steps: what it is told by is looked up once the revision is checked."""
        with self._turns.of(project_id):
            with self.sessions.begin() as session:
                opened = self._opened(session, project_id)
                if edit_id and session.get(EditIdRow, (project_id, edit_id)) is not None:
                    return replace(opened, notes=(), selects=None, came_from=None, repeated=True)
                self._check(session, opened, revision)
                moved = self._moved(session, opened.id, number(session, opened), revision + 1, opened.index)
                moved.recent = (*opened.recent, (opened.revision, opened.project))[-RECENT:]
                if edit_id:
                    self._note_id(session, moved, edit_id)
            opened.index.replace(opened.project, moved.project)
            return replace(self._keep(moved), came_from=opened.project, stepped=stepped(opened, moved))

    def states(self, project_id: str) -> list[State]:
        """All states of the history, in the order in which they were made."""
        with self._turns.of(project_id), self.sessions() as session:
            self._opened(session, project_id)
            return states_of(session, project_id)

    def name_state(self, project_id: str, state: int, name: str) -> None:
        """Gives a state of the history a name; an empty one takes it away."""
        with self._turns.of(project_id), self.sessions.begin() as session:
            self._opened(session, project_id)
            name_state(session, project_id, state, name)
        self.names_given += 1

    def copy_of_state(self, project_id: str, state: int) -> str:
        """A state of the history as a project of its own; returns its id."""
        with self._turns.of(project_id):
            with self.sessions() as session:
                opened = self._opened(session, project_id)
                document = _read(opened.index, session, root_at(session, project_id, state), opened.project.name)
            taken = {row.name for row in self.summaries()}
            return self.create(document.changed(name=distinct(taken, f"{document.name[:100]} copy")))

    def _moved(self, session: Session, project_id: str, number: int, revision: int, index: PartIndex) -> OpenProject:
        """The project at another step of its history. DamagedProject where there is no such step."""
        stands = where_it_stands(session, project_id)._replace(cursor=number, revision=revision)
        moved = self._load(session, stands, index)
        self._advance(session, moved)
        return moved

    def back_to_sound(self, project_id: str) -> OpenProject:
        """Back to the last state of a damaged project that opens whole; what came after it can still be redone."""
        with self._turns.of(project_id):
            with self.sessions.begin() as session:
                stands = where_it_stands(session, project_id)
                self._open.pop(project_id, None)
                for number in range(stands.cursor, -1, -1):
                    try:
                        moved = self._moved(session, project_id, number, stands.revision + 1, PartIndex())
                    except DamagedProject:
                        continue
                    if not moved.lost:
                        break
                else:
                    raise Refusal(f"No state of {stands.name} opens whole. Export it as it lies, or remove it.")
            return self._keep(moved)

    def rename(self, project_id: str, name: str) -> OpenProject:
        """Renames as an edit on the newest revision, so that it can be undone."""
        with self._turns.of(project_id):
            return self.commit(project_id, self.open(project_id).revision, RenameProject(name=name))

    def duplicate(self, project_id: str) -> str:
        """A copy under a new name, with a history of its own that begins here."""
        with self._turns.of(project_id):
            opened = self.open(project_id)
            taken = {row.name for row in self.summaries()}
            return self.create(opened.project.changed(name=distinct(taken, f"{opened.project.name[:100]} copy")))

    def delete(self, project_id: str) -> None:
        """Takes a project off the list; ``restore`` brings it back whole. A damaged one goes like any other."""
        with self._turns.of(project_id), self.sessions.begin() as session:
            row = session.get(ProjectRow, project_id)
            if row is None or row.deleted_at is not None:
                raise unknown("project", project_id)
            row.deleted_at = self.now()
            self._open.pop(project_id, None)

    def restore(self, project_id: str) -> None:
        with self._turns.of(project_id), self.sessions.begin() as session:
            row = session.get(ProjectRow, project_id)
            if row is None:
                raise unknown("project", project_id)
            row.deleted_at = None

    def document_at(self, project_id: str, step: int) -> Project:
        """The document as it was at a step of its history."""
        with self._turns.of(project_id), self.sessions() as session:
            opened = self._opened(session, project_id)
            row = session.get(StepRow, (project_id, step))
            if row is None:
                raise unknown("step", step)
            return _read(opened.index, session, row.root, opened.project.name)

    def history(self, project_id: str) -> Sequence[StepRow]:
        """All steps, the first first; those after the cursor can be redone."""
        with self._turns.of(project_id), self.sessions() as session:
            self._opened(session, project_id)
            return session.scalars(select(StepRow).where(StepRow.project == project_id).order_by(StepRow.number)).all()

    def glimpse(self, row: ProjectSummary) -> Glimpse:
        """What a list shows of a project, which is not opened for it. DamagedProject where it cannot be read."""
        opened = self._open.get(row.id)
        if opened is not None and opened.revision == row.revision:
            return Glimpse.of(opened)
        known = self._glimpsed.get(row.id)
        if known is None or known[0] != row.revision:
            with self.sessions() as session:
                stands = where_it_stands(session, row.id)
                step = session.get(StepRow, (row.id, stands.cursor))
                root = step.root if step is not None else ""
                try:
                    look_through(root, reader_of(session))
                    found = glimpsed(root, reader_of(session))
                except NotSo:
                    # Of an earlier format, or damaged: opened once, it is known which.
                    found = Glimpse.of(self.open(row.id))
            known = self._glimpsed[row.id] = (row.revision, found)
        return known[1]

    def written(self, project_id: str, root: str = "") -> list[bytes] | None:
        """A project's document as JSON, in pieces, as it is now, or as it is stored under ``root``; None where it has
        to be opened for that. Nothing is opened, and nobody waits for it.
        """
        with self.sessions() as session:
            if not root:
                stands = where_it_stands(session, project_id)
                step = session.get(StepRow, (project_id, stands.cursor))
                root = step.root if step is not None else ""
            try:
                return list(spliced(root, reader_of(session)))
            except NotSo:
                return None

    def root_of(self, project_id: str) -> tuple[str, str]:
        """A project's name and the root it stands at, whether it can be read or not."""
        with self.sessions() as session:
            row = session.get(ProjectRow, project_id)
            step = session.get(StepRow, (project_id, row.cursor)) if row is not None else None
            if row is None:
                raise unknown("project", project_id)
            return row.name, step.root if step is not None else ""

    def unused(self, seconds: float) -> bool:
        """Whether projects are kept that nobody has asked for so long."""
        return bool(self._open) and time.monotonic() - self._used >= seconds

    def forget_open(self) -> None:
        """Reads every project anew when it is next asked for."""
        with self._lock:
            self._open.clear()
            self._glimpsed.clear()

    def exclusive(self) -> AbstractContextManager[None]:
        """Held while what is stored is gone through as a whole."""
        return self._turns.all()


def _read(index: PartIndex, session: Session, root: str, name: str) -> Project:
    try:
        with untidied():
            return Reading(index, reader_of(session)).project(root)
    except StoreTrouble:
        raise
    except UNREADABLE as error:
        raise DamagedProject(name) from error


def _refuse_too_large(written: Written) -> None:
    if written.size > limits.MAX_PROJECT_TEXT:
        raise Refusal(
            f"The project would become larger than a project file holds ({limits.MAX_PROJECT_TEXT // 2**20} MiB of "
            f"keys and shapes). Nothing was changed; make it smaller, or go on in a second project."
        )


def _write_parts(session: Session, bodies: dict[str, bytes]) -> None:
    if bodies:
        rows = [{"hash": name, "body": body} for name, body in bodies.items()]
        session.execute(insert(PartRow).on_conflict_do_nothing(), rows)
