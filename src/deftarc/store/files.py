"""Files and folders beside the database: how much they take, and away with them."""

import os
import shutil
from contextlib import suppress
from pathlib import Path


def taken(path: Path) -> int:
    """Bytes that a file takes, or all that is in a folder; none where it is gone."""
    with suppress(OSError):
        return path.stat().st_size if not path.is_dir() else _within(path)
    return 0


def _within(folder: Path | str) -> int:
    """Bytes of all in a folder. Its list says what is a folder: a sequence may have thousands of files."""
    whole = 0
    with os.scandir(folder) as entries:
        for entry in entries:
            with suppress(OSError):
                whole += _within(entry.path) if entry.is_dir() else entry.stat().st_size
    return whole


def removed(path: Path) -> None:
    """Removes a file or a folder. What cannot be, as somebody still writes there, is left for the next sweep."""
    if path.is_dir():
        shutil.rmtree(path, ignore_errors=True)
    else:
        with suppress(OSError):
            path.unlink()
