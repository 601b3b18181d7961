"""What is asked of the database at every edit and step, said in its own few words.

More than the saying, a mapper's work for each row, would cost more than all the rest: a large project has tens of
thousands of parts, and a look is answered many times a second.
"""

import gc
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, NamedTuple

from sqlalchemy.orm import Session

from deftarc.core.base.errors import unknown
from deftarc.store.parts import PartReader

_PROJECT = "SELECT id, name, cursor, revision, deleted_at FROM projects WHERE id = ?"


class Stands(NamedTuple):
    """Where a project is in its history."""

    id: str
    name: str
    cursor: int
    revision: int


def bare(session: Session) -> Any:
    """The database's own connection within a session's transaction: for the few words said at every edit and step, of
    which more than the saying would cost more than all the rest.
    """
    found = session.info.get("bare")
    if found is None:
        found = session.info["bare"] = session.connection().connection.driver_connection
    return found


def where_it_stands(session: Session, project_id: str) -> Stands:
    row = bare(session).execute(_PROJECT, (project_id,)).fetchone()
    if row is None or row[-1] is not None:
        raise unknown("project", project_id)
    return Stands(*row[:-1])


def reader_of(session: Session) -> PartReader:
    """Parts out of the database; LookupError for one that is not there."""
    # A large project has tens of thousands: no more is made of each than its bytes.
    ask = bare(session).execute

    def read(name: str) -> bytes:
        row = ask("SELECT body FROM parts WHERE hash = ?", (name,)).fetchone()
        if row is None:
            raise LookupError(f"part {name} is not there")
        body: bytes = row[0]
        return body

    return read


#: What is made at once and not thrown away is looked through no more, from so many objects on.
MANY = 50_000


@contextmanager
def untidied() -> Iterator[None]:
    """While much is made of which little is thrown away, Python need not look for what is: with a million keys that
    takes longer than to read them, and all others wait meanwhile. What was made is left out later, too, until nobody
    has anything open (app/workshop).
    """
    before = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if before:
            if gc.get_count()[0] > MANY:
                gc.freeze()
            gc.enable()
