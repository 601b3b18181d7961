"""Who makes parts of jobs: processes on this machine, or the workers of a Dask cluster. Both are executors."""

import multiprocessing
import os
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import CancelledError, Executor, Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from contextlib import suppress
from hashlib import blake2b
from pathlib import Path
from typing import Any, Protocol

from deftarc.app.queue.work import WORK, Order, joined_here, made_away, made_here
from deftarc.core.base.errors import Refusal
from deftarc.paint.output import Stretch, part_name, whole

#: Seconds after which a cluster's workers are counted again, and in which its scheduler has to answer.
COUNTED, ANSWERS = 1.0, 5.0
#: As many jobs' project files stay on a cluster, for when the same one is made of again.
KEPT = 8


class Crew(Protocol):
    """Makes parts of jobs."""

    @property
    def hands(self) -> int:
        """How many parts may be with it at once."""

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


class Cluster:
    """The workers of a Dask cluster. What a job is made of travels there once, and is known by its hash."""

    def __init__(self, address: str, patience: float = 8.0) -> None:
        try:
            from distributed import Client
        except ImportError:
            raise Refusal("A farm needs Dask. Install it with the package: deftarc[farm].") from None
        try:
            self.client: Any = Client(address, timeout=patience, set_as_default=False)
        except (OSError, TimeoutError, ValueError) as error:
            raise Refusal(f"No farm answers at {address[:200]}. See whether its scheduler runs.") from error
        self.executor: Executor = self.client.get_executor(pure=False)
        self.home = Processes(1)
        self._hands, self._counted_at = 0, -COUNTED
        #: What jobs are made of, as it lies on the cluster, by its hash: the last few, in the order of their use.
        self._works: OrderedDict[bytes, Any] = OrderedDict()
        self._hashes: dict[Path, bytes] = {}

    @property
    def hands(self) -> int:
        """Those of its workers, and as many more, so that none waits for the next part to travel."""
        now = time.monotonic()
        if now - self._counted_at >= COUNTED:
            self._counted_at = now
            # Asked with an end to it: a scheduler that loses a worker just then may leave a question unanswered.
            with suppress(OSError, TimeoutError):
                told = self.client.sync(self.client.scheduler.identity, n_workers=-1, callback_timeout=ANSWERS)
                self._hands = 2 * sum(int(each["nthreads"]) for each in told["workers"].values())
        return self._hands

    def make(self, folder: Path, order: Order, number: int, run: Stretch) -> "Future[Any]":
        return self.executor.submit(made_away, self._work(folder), order, run)

    def _work(self, folder: Path) -> Any:
        """What a job is made of, on the cluster. It has a name of its own each time it travels there: what is let go of
        is let go of later than it is said, and would take along what came meanwhile under the same name.
        """
        if folder not in self._hashes:
            self._hashes[folder] = blake2b((folder / WORK).read_bytes(), digest_size=16).digest()
        name = self._hashes[folder]
        known = self._works.pop(name, None)
        if known is None or known.status not in ("pending", "finished"):
            known = self.client.scatter((folder / WORK).read_bytes(), hash=False)
        self._works[name] = known
        while len(self._works) > KEPT:
            self._works.popitem(last=False)
        return known

    def bring(self, folder: Path, number: int, made: Any) -> None:
        with whole(folder / part_name(number)) as half:
            half.write_bytes(made)

    def join(self, folder: Path, order: Order, target: Path) -> "Future[Any]":
        return self.home.join(folder, order, target)

    def died(self, error: BaseException) -> bool:
        from distributed import CancelledError as Cancelled
        from distributed import KilledWorker
        from distributed.comm import CommClosedError

        return isinstance(error, KilledWorker | Cancelled | CommClosedError) or self.home.died(error)

    def forget(self, folder: Path, died: bool = False) -> None:
        name = self._hashes.pop(folder, b"")
        if died:
            self._works.pop(name, None)

    def close(self) -> None:
        self.home.close()
        self.client.close(timeout=2)


def crew_of(farm: str, workers: int) -> Crew:
    """Those at an address, else so many processes of this machine. Refusal where no farm answers."""
    return Cluster(farm) if farm else Processes(workers)
