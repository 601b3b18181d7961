"""Disks that fill up or may not be written, as the database meets them."""

from contextlib import contextmanager

from sqlalchemy import event


@contextmanager
def pragma(sessions, words):
    """A pragma of every connection while this lasts."""

    def say(connection):
        connection.exec_driver_sql(f"PRAGMA {words}")

    event.listen(sessions.engine, "begin", say)
    try:
        yield
    finally:
        event.remove(sessions.engine, "begin", say)
        # It is a connection's own: new ones know nothing of it.
        sessions.engine.dispose()


def full_disk(sessions):
    """The file may not grow by a page: what the database says then is what it says of a full disk."""
    return pragma(sessions, "max_page_count=1")


def read_only(sessions):
    return pragma(sessions, "query_only=1")
