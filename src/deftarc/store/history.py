"""A project's states as a tree: the line that undo and redo walk, and what was undone and overwritten beside it.

A state is told by the revision at which it was made, which no other of its project has. A step that is overwritten goes
from the line into ``left_steps``, with the state it followed; going to one of these puts its branch on the line, and
what stood there beside it. So nothing that was acknowledged is ever out of reach.
"""

from dataclasses import dataclass

from sqlalchemy import delete, select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from deftarc.core.base.errors import Refusal, unknown
from deftarc.store.standing import bare
from deftarc.store.tables import LeftStepRow, NamedStateRow, StepRow

#: So many steps beside the line are kept; the oldest go first.
MOST_LEFT = 20_000
_LEAVE = """
INSERT INTO left_steps (project, revision, parent, root, label, edit, made_at)
SELECT s.project, s.revision, before.revision, s.root, s.label, s.edit, s.made_at
FROM steps s JOIN steps before ON before.project = s.project AND before.number = s.number - 1
WHERE s.project = ? AND s.number > ?
"""
_CUT = "DELETE FROM steps WHERE project = ? AND number > ?"
_OLDEST = """
DELETE FROM left_steps WHERE project = ? AND revision <= (
  SELECT revision FROM left_steps WHERE project = ? ORDER BY revision DESC LIMIT 1 OFFSET ?)
"""


@dataclass(frozen=True)
class State:
    """A state of a project: the revision it was made at, the one it followed, what led to it and when, its number on
    the line (None beside it), and the name it was given.
    """

    revision: int
    parent: int
    label: str
    made_at: float
    number: int | None
    name: str = ""


def leave(session: Session, project: str, cursor: int) -> None:
    """Steps after a place of the line go beside it, to be found there."""
    ask = bare(session).execute
    ask(_LEAVE, (project, cursor))
    ask(_CUT, (project, cursor))
    ask(_OLDEST, (project, project, MOST_LEFT))


def states_of(session: Session, project: str) -> list[State]:
    """All states, in the order in which they were made."""
    named = select(NamedStateRow.revision, NamedStateRow.name).where(NamedStateRow.project == project)
    names = dict(session.execute(named).all())
    line = session.execute(
        select(StepRow.revision, StepRow.label, StepRow.made_at, StepRow.number)
        .where(StepRow.project == project)
        .order_by(StepRow.number)
    ).all()
    out = []
    before = 0
    for revision, label, made_at, number in line:
        out.append(State(revision, before, label, made_at, number, names.get(revision, "")))
        before = revision
    left = session.execute(
        select(LeftStepRow.revision, LeftStepRow.parent, LeftStepRow.label, LeftStepRow.made_at).where(
            LeftStepRow.project == project
        )
    )
    out += [State(revision, parent, label, at, None, names.get(revision, "")) for revision, parent, label, at in left]
    return sorted(out, key=lambda state: state.revision)


def root_at(session: Session, project: str, state: int) -> str:
    """The root of a state; Refusal where there is none such."""
    for table in (StepRow, LeftStepRow):
        root = session.scalar(select(table.root).where(table.project == project, table.revision == state))
        if root is not None:
            return root
    raise unknown("state", state)


def put_on_line(session: Session, project: str, state: int) -> int:
    """Brings a state onto the line, with what it followed and what followed it; returns its number there."""
    number = session.scalar(select(StepRow.number).where(StepRow.project == project, StepRow.revision == state))
    if number is not None:
        return number
    rows = {
        row.revision: row for row in session.scalars(select(LeftStepRow).where(LeftStepRow.project == project)).all()
    }
    if state not in rows:
        raise unknown("state", state)
    branch = [rows[state]]
    while branch[0].parent in rows:
        branch.insert(0, rows[branch[0].parent])
    fork = session.scalar(
        select(StepRow.number).where(StepRow.project == project, StepRow.revision == branch[0].parent)
    )
    if fork is None:
        raise Refusal("What this state followed is not kept any more. It cannot be gone to.")
    place = fork + len(branch)
    # Of what followed it, the newest: what redo goes through.
    while after := [row for row in rows.values() if row.parent == branch[-1].revision]:
        branch.append(max(after, key=lambda row: row.revision))
    leave(session, project, fork)
    session.execute(
        insert(StepRow),
        [
            {
                "project": project, "number": fork + 1 + n, "root": row.root, "revision": row.revision,
                "label": row.label, "edit": row.edit, "made_at": row.made_at,
            }
            for n, row in enumerate(branch)
        ],
    )  # fmt: skip
    gone = [row.revision for row in branch]
    session.execute(delete(LeftStepRow).where(LeftStepRow.project == project, LeftStepRow.revision.in_(gone)))
    return place


def name_state(session: Session, project: str, state: int, name: str) -> None:
    """Gives a state a name; an empty one takes it away."""
    root_at(session, project, state)
    session.execute(delete(NamedStateRow).where(NamedStateRow.project == project, NamedStateRow.revision == state))
    if name:
        session.execute(insert(NamedStateRow).values(project=project, revision=state, name=name))
