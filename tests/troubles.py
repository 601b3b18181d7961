"""Disks that fill up or may not be written, as the database meets them."""

from contextlib import contextmanager

from sqlalchemy import event


@contextmanager
def pragma(sessions, during, after):
    """A pragma of every connection while this lasts, and another from then on."""
    told = [during]

    def say(connection):
        connection.exec_driver_sql(f"PRAGMA {told[0]}")

    event.listen(sessions.engine, "begin", say)
    try:
        yield
    finally:
        told[0] = after


def full_disk(sessions):
    """The file may not grow by a page: what the database says then is what it says of a full disk."""
    return pragma(sessions, "max_page_count=1", "max_page_count=1073741823")


def read_only(sessions):
    return pragma(sessions, "query_only=1", "query_only=0")
