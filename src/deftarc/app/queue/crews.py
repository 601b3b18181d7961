"""Who makes parts of jobs: processes on this machine, or the workers of a Dask cluster. Both are executors."""

import multiprocessing
import os
import threading
import time
from concurrent.futures import Executor, Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path
from typing import Any, Protocol

from deftarc.app.queue.work import Order, made_away, made_here
from deftarc.core.base.errors import Refusal
from deftarc.paint.output import Stretch


class Crew(Protocol):
    """Makes parts. ``hands`` says how many at once."""

    hands: int

    def make(self, work: Path, order: Order, number: int, run: Stretch, folder: Path) -> "Future[Any]":
        """Begins a part of a job; its future ends once the part lies in the folder, or was brought: see ``bring``."""

    def lost(self, error: BaseException) -> bool:
        """Whether an error says that a worker died, and not that the part cannot be made."""

    def renew(self) -> None:
        """After a worker died."""

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

    def __init__(self, hands: int) -> None:
        self.hands = hands
        self._pool: ProcessPoolExecutor | None = None
        self._turn = threading.Lock()

    def pool(self) -> ProcessPoolExecutor:
        with self._turn:
            if self._pool is None:
                self._pool = ProcessPoolExecutor(
                    self.hands, multiprocessing.get_context("spawn"), tied_to, (os.getpid(),)
                )
            return self._pool

    def make(self, work: Path, order: Order, number: int, run: Stretch, folder: Path) -> "Future[Any]":
        return self.pool().submit(made_here, work, order, number, run, folder)

    def lost(self, error: BaseException) -> bool:
        return isinstance(error, BrokenProcessPool)

    def renew(self) -> None:
        with self._turn:
            gone, self._pool = self._pool, None
        if gone is not None:
            gone.shutdown(wait=False, cancel_futures=True)

    def close(self) -> None:
        with self._turn:
            gone, self._pool = self._pool, None
        if gone is None:
            return
        for process in list((getattr(gone, "_processes", None) or {}).values()):
            process.terminate()
        gone.shutdown(wait=False, cancel_futures=True)


class Cluster:
    """The workers of a Dask cluster. What a job is made of travels with it once, by its hash."""

    def __init__(self, address: str, patience: float = 10.0) -> None:
        try:
            from distributed import Client
        except ImportError:
            raise Refusal("A farm needs Dask: install deftarc[farm].") from None
        try:
            self.client: Any = Client(address, timeout=patience, set_as_default=False)
        except (OSError, TimeoutError, ValueError) as error:
            raise Refusal(f"There is no farm at {address}: no scheduler answers there.") from error
        self.executor: Executor = self.client.get_executor(retries=0, pure=False)
        self._works: dict[Path, Any] = {}

    @property
    def hands(self) -> int:
        told = self.client.scheduler_info(n_workers=-1)["workers"].values()
        return max(1, sum(int(each["nthreads"]) for each in told))

    def make(self, work: Path, order: Order, number: int, run: Stretch, folder: Path) -> "Future[Any]":
        if work not in self._works:
            self._works[work] = self.client.scatter(work.read_bytes(), hash=True)
        return self.executor.submit(made_away, self._works[work], order, number, run)

    def lost(self, error: BaseException) -> bool:
        from distributed import CancelledError, KilledWorker
        from distributed.comm import CommClosedError

        return isinstance(error, KilledWorker | CancelledError | CommClosedError)

    def renew(self) -> None:
        self._works.clear()

    def close(self) -> None:
        self.client.close(timeout=2)
