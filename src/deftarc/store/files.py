"""Files and folders beside the database: how much they take, and away with them."""

import shutil
from contextlib import suppress
from pathlib import Path


def taken(path: Path) -> int:
    """Bytes that a file takes, or all that is in a folder; none where it is gone."""
    with suppress(OSError):
        if path.is_dir():
            return sum(map(taken, path.iterdir()))
        return path.stat().st_size
    return 0


def removed(path: Path) -> None:
    """Removes a file or a folder. What cannot be, as somebody still writes there, is left for the next sweep."""
    if path.is_dir():
        shutil.rmtree(path, ignore_errors=True)
    else:
        with suppress(OSError):
            path.unlink()
