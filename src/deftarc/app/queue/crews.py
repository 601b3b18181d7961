"""Who makes parts of jobs: processes on this machine, or a farm (farm.py)."""

import multiprocessing
import os
import threading
import time
from collections.abc import Callable
from concurrent.futures import CancelledError, Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path
from typing import Any, Protocol

from deftarc.app.queue.work import Order, joined_here, made_here
from deftarc.paint.output import Stretch


class Crew(Protocol):
    """Makes parts of jobs."""

    @property
    def hands(self) -> int:
        """How many parts may be with it at once."""

    @property
    def lost(self) -> str:
        """Why nothing more is to be had of it, in a sentence; empty while it can make parts."""

    def make(self, folder: Path, order: Order, number: int, run: Stretch) -> "Future[Any]":
        """Begins a part of the job that lies in a folder."""

    def bring(self, folder: Path, number: int, made: Any) -> None:
        """Puts what a part's future ended with where parts lie."""

    def join(self, folder: Path, order: Order, target: Path) -> "Future[Any]":
        """Begins to put the parts of a job together, on this machine."""

    def died(self, error: BaseException) -> bool:
        """Whether an error says that a worker died, and not that the part cannot be made."""

    def forget(self, folder: Path, died: bool = False) -> None:
        """The job of a folder has ended; or a worker ``died`` that may have held what it is made of."""

    def close(self) -> None:
        """Ends all that is under way."""


def tied_to(parent: int) -> None:
    """Ends this process when its parent has ended: a killed server cannot say so."""

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(0.5)
        os._exit(3)

    threading.Thread(target=watch, name="tie", daemon=True).start()


class Processes:
    """Processes of this machine, started anew, so that they have nothing of the server's."""

    #: They are never lost: one that dies is replaced.
    lost = ""

    def __init__(self, hands: int) -> None:
        self.hands = hands
        self._pool: ProcessPoolExecutor | None = None
        self._turn = threading.Lock()

    def _submit(self, what: Callable[..., Any], *told: Any) -> "Future[Any]":
        with self._turn:
            for _ in range(2):
                if self._pool is None:
                    start = multiprocessing.get_context("spawn")
                    self._pool = ProcessPoolExecutor(self.hands, start, tied_to, (os.getpid(),))
                try:
                    return self._pool.submit(what, *told)
                except BrokenProcessPool:
                    # One of its processes died: the others are ended with it, and new ones take their place.
                    self._pool = None
        raise BrokenProcessPool("New processes die at once.")

    def make(self, folder: Path, order: Order, number: int, run: Stretch) -> "Future[Any]":
        return self._submit(made_here, folder, order, number, run)

    def bring(self, folder: Path, number: int, made: Any) -> None:
        """It lies there already."""

    def join(self, folder: Path, order: Order, target: Path) -> "Future[Any]":
        return self._submit(joined_here, folder, order, target)

    def died(self, error: BaseException) -> bool:
        return isinstance(error, BrokenProcessPool | CancelledError)

    def forget(self, folder: Path, died: bool = False) -> None:
        """Nothing of it is kept here."""

    def close(self) -> None:
        with self._turn:
            gone, self._pool = self._pool, None
        if gone is None:
            return
        for process in list((getattr(gone, "_processes", None) or {}).values()):
            process.terminate()
        gone.shutdown(wait=False, cancel_futures=True)
