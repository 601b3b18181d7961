"""The database file: opened with WAL, FULL and foreign keys, checked, brought to the newest tables, and spoken to.

Every way to it goes through ``Sessions``: what writes takes its turn before it reads, so that two processes cannot
both change what they read; and what the disk refuses becomes a sentence (``trouble.py``).
"""

import logging
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session, sessionmaker

from deftarc.core.base.errors import Refusal
from deftarc.store.trouble import StoreTrouble, trouble_of

log = logging.getLogger(__name__)
FILE = "deftarc.sqlite"
#: Seconds that one process waits for another's turn to end.
PATIENCE = 30


class Sessions:
    """Called, a session to read with; ``begin()`` one to write with, committed at its end or not at all."""

    def __init__(self, engine: Engine, file: Path) -> None:
        self.engine, self.file = engine, file
        self._read = sessionmaker(engine, expire_on_commit=False)
        self._write = sessionmaker(engine.execution_options(deftarc_write=True), expire_on_commit=False)
        #: What is wrong with the file, in words; while there is something, nothing is written to it.
        self.damage = ""

    @contextmanager
    def __call__(self) -> Iterator[Session]:
        with _told(self.file), self._read() as session:
            yield session

    @contextmanager
    def begin(self) -> Iterator[Session]:
        self.refuse_damaged()
        with _told(self.file), self._write.begin() as session:
            # Now, not at the first word: whoever reads in order to write has its turn from here on.
            session.connection()
            yield session

    def glance(self, words: str, given: tuple[object, ...] = ()) -> list[Any]:
        """The rows of one question outside of any transaction, with nothing between: for what is asked very often."""
        with _told(self.file):
            connection = self.engine.raw_connection()
            try:
                bare: Any = connection.driver_connection
                return list(bare.execute(words, given).fetchall())
            finally:
                connection.close()

    def refuse_damaged(self) -> None:
        if self.damage:
            raise StoreTrouble(
                f"The database is damaged, and nothing is written to it any more. Take what you need out of it by "
                f"export, then restore a copy of {self.file} or move it away.", "damaged"
            )  # fmt: skip

    def compact(self) -> None:
        """Gives room that is no longer used back to the disk. Where there is none to do it in, it stays for later."""
        connection = self.engine.raw_connection()
        try:
            cursor = connection.cursor()
            cursor.execute("VACUUM")
            cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            cursor.close()
        except sqlite3.Error as error:
            log.warning("%s could not be made smaller: %s", self.file, error)
        finally:
            connection.close()

    def close(self) -> None:
        self.engine.dispose()


@contextmanager
def _told(file: Path) -> Iterator[None]:
    try:
        yield
    except (DBAPIError, sqlite3.Error) as error:
        told = trouble_of(getattr(error, "orig", None) or error, file)
        if told is None:
            raise
        raise told from error


def open_database(folder: Path) -> Sessions:
    """Sessions on ``deftarc.sqlite`` in a folder, made if need be. StoreTrouble where it cannot be used at all."""
    make_folder(folder)
    file = folder / FILE
    engine = create_engine(f"sqlite:///{file}", connect_args={"timeout": PATIENCE})

    @event.listens_for(engine, "connect")
    def _pragmas(connection: Any, _record: Any) -> None:
        # The driver would leave changes of tables outside of transactions; BEGIN is said by ourselves, below.
        connection.isolation_level = None
        cursor = connection.cursor()
        for pragma in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON"):
            cursor.execute(f"PRAGMA {pragma}")
        cursor.close()

    @event.listens_for(engine, "begin")
    def _begin(connection: Connection) -> None:
        writes = connection.get_execution_options().get("deftarc_write", False)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")

    sessions = Sessions(engine, file)
    try:
        with _told(file):
            _migrate(engine)
    except StoreTrouble as trouble:
        # Where some of it can still be read, that is offered; see ``check_database``.
        if trouble.kind != "damaged" or "not a database" in str(trouble.__cause__).lower():
            raise
        sessions.damage = str(trouble)
    return sessions


def check_database(sessions: Sessions) -> str:
    """Reads the whole file over once; what is wrong with it in words, empty where nothing is. See ``damage``."""
    if sessions.damage:
        return sessions.damage
    try:
        found = [row[0] for row in sessions.glance("PRAGMA quick_check(3)")]
        sessions.damage = "" if found == ["ok"] else "; ".join(str(each) for each in found)[:300]
    except StoreTrouble as trouble:
        sessions.damage = str(trouble)
    return sessions.damage


def make_folder(folder: Path) -> None:
    """A folder that is there; Refusal in a sentence where it cannot be."""
    if folder.exists() and not folder.is_dir():
        raise Refusal(f"{folder} is a file. Name the folder that holds the projects, or one to be made.")
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Refusal(f"The folder {folder} cannot be made: {error.strerror}.") from None


def _refuse_later(engine: Engine, steps: ScriptDirectory) -> None:
    """Tables that a later version has changed are left as they are: it alone knows what is in them."""
    with engine.connect() as connection:
        here = MigrationContext.configure(connection).get_current_revision()
    known = {step.revision for step in steps.walk_revisions()}
    if here is not None and here not in known:
        raise Refusal(
            f"This folder was written by a later version of Deft Arc: its tables are number {here[:20]}, and this "
            f"version knows them up to {steps.get_current_head()}. Open it with that version. Nothing was changed."
        )


def _migrate(engine: Engine) -> None:
    """All steps to the newest tables in one transaction: a process that dies on the way leaves what was before."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    _refuse_later(engine, ScriptDirectory.from_config(config))
    with engine.execution_options(deftarc_write=True).begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
