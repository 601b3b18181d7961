"""One server to a data folder: a lock that the system lets go of when its process ends, however it ends."""

import json
import os
from contextlib import suppress
from pathlib import Path

from filelock import FileLock, Timeout

from deftarc.core.base.errors import Refusal

LOCK, HOLDER = "deftarc.lock", "deftarc.holder.json"


class FolderLock:
    """Held from ``take`` until ``free`` or the end of the process."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._lock = FileLock(folder / LOCK, timeout=0)

    def take(self, address: str) -> None:
        """Refusal that names who holds the folder, where somebody does."""
        try:
            self._lock.acquire()
        except Timeout:
            raise Refusal(
                f"Another server holds {self.folder}: {self.holder()}. Use that one, or stop it first; two on one "
                f"folder would write over each other."
            ) from None
        except OSError as error:
            raise Refusal(f"The folder {self.folder} cannot be written to: {error.strerror or error}.") from None
        # Beside the lock, not in it: whoever asks for the lock may empty its file.
        with suppress(OSError):
            (self.folder / HOLDER).write_text(json.dumps({"process": os.getpid(), "address": address}))

    def holder(self) -> str:
        """Who holds it, in words."""
        try:
            told = json.loads((self.folder / HOLDER).read_text())
            return f"process {int(told['process'])}, at {str(told['address'])[:200]}"
        except (OSError, ValueError, KeyError, TypeError):
            return "it does not say which"

    def free(self) -> None:
        with suppress(OSError):
            (self.folder / HOLDER).unlink(missing_ok=True)
        self._lock.release()
