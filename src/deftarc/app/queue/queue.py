"""The queue of renders: parts of jobs are handed to a crew, in the jobs' order. What was made lies in each job's
folder, so that a restart, of the server or of the machine, goes on where it was; rows of the database tell of it.
"""

import logging
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from threading import Condition, RLock, Thread
from typing import Any

from deftarc.app.queue.crews import Crew, Processes
from deftarc.app.queue.farm import Farm, FarmAt
from deftarc.app.queue.making import Making
from deftarc.app.queue.work import Order
from deftarc.core.base.errors import Refusal, UnknownThing
from deftarc.paint.output import Stretch
from deftarc.store.files import removed
from deftarc.store.jobs import JobStore, NewJob
from deftarc.store.settings import Settings
from deftarc.store.tables import JobRow
from deftarc.store.trouble import StoreTrouble, trouble_of

log = logging.getLogger(__name__)
STOPPED = "Stopped before it was finished."
#: Seconds between two looks at what is under way, and at what others wish.
LOOK, WISHES = 0.3, 1.0
#: Jobs of at most so many frames pass a slow one.
SMALL = 2
#: Seconds after which processes with nothing to do are let go.
IDLE = 60.0


class Queue:
    """The renders of one data folder. A thread hands out their parts, once ``begin`` was called."""

    def __init__(
        self, folder: Path, jobs: JobStore, settings: Callable[[], Settings], farm: FarmAt | None = None
    ) -> None:
        self.folder = folder
        self.jobs = jobs
        self.settings = settings
        #: Makes a job of the same anew: whoever has the projects puts that in.
        self.again: Callable[[str], Any] = lambda _job: None
        self._makings: dict[str, Making] = {}
        self._paused: set[str] = set()
        self._turn = Condition()
        #: Held while what a job is changes, here and in its row: what the queue tells of a job never goes over what a
        #: person wished meanwhile.
        self._rows = RLock()
        self._thread: Thread | None = None
        self._closed = False
        #: Processes of this machine: those that paint, one more for what is small, and those of earlier settings.
        self._here: Processes | None = None
        self._beside: Processes | None = None
        self._old_crews: list[Crew] = []
        self.farm = Farm(farm) if farm is not None else None
        #: Why no part is handed out, or not to the farm.
        self.trouble = ""
        self._busy_at = time.monotonic()
        self._wishes_at = 0.0
        self._woken = False

    # --- what a server does ---

    def begin(self) -> None:
        """What a server does first: goes on with what a stop or a kill cut off, and sweeps away what no job names."""
        for row in self.jobs.left_over():
            self._take_up(row)
        self.sweep()
        if self._makings:
            self.wake()

    def _take_up(self, row: JobRow) -> None:
        if (self.folder / row.file).exists():
            # Put together, and then cut off before it was told.
            self._end(row.id, "done")
            return
        try:
            making = Making.found(self.folder / row.id)
        except Refusal as error:
            self._end(row.id, "failed", str(error))
            return
        self._makings[row.id] = making
        making.halt()
        if row.state == "paused":
            self._paused.add(row.id)
        else:
            making.go()
            self.jobs.change(row.id, state="waiting")

    def sweep(self) -> None:
        """Removes everything that no render names."""
        if not self.folder.is_dir():
            return
        kept = self.jobs.files()
        with self._turn:
            kept.update(self._makings)
        for path in self.folder.iterdir():
            if path.name not in kept:
                removed(path)

    def close(self) -> None:
        """Ends what is under way, when the server stops: the next one goes on with it."""
        with self._turn:
            self._closed = True
            self._woken = True
            self._turn.notify_all()
        if self._thread is not None:
            self._thread.join(10)
            self._thread = None
        for crew in (self._here, self._beside, self.farm, *self._old_crews):
            if crew is not None:
                crew.close()
        self._here, self._beside, self._old_crews = None, None, []

    def open(self) -> None:
        """Looks for what others wish from now on, as long as the server lives."""
        with self._turn:
            self._closed = False
        if self.farm is not None:
            self.farm = Farm(self.farm.at)
        self.wake()

    def wake(self, _ended: Any = None) -> None:
        """Something ended, or is to be done."""
        with self._turn:
            self._woken = True
            self._turn.notify_all()
            if self._thread is None and not self._closed:
                self._thread = Thread(target=self._run, name="renders", daemon=True)
                self._thread.start()

    # --- what a person does ---

    def start(self, new: NewJob, work: bytes, runs: list[Stretch]) -> str:
        """Queues a job of a project file's bytes; returns its id."""
        job = self.jobs.new_name()
        try:
            making = Making.laid(self.folder / job, Order(new.output, new.scene, new.options), work, runs)
            making.go()
        except OSError as error:
            removed(self.folder / job)
            raise trouble_of(error, self.folder) or error from error
        try:
            self.jobs.create(job, new, making.total)
        except BaseException:
            removed(self.folder / job)
            raise
        with self._turn:
            self._makings[job] = making
        self.wake()
        return job

    def stop(self, job: str) -> None:
        """Ends a job; what was made of it goes."""
        row = self.jobs.get(job)
        with self._turn:
            here = job in self._makings
        if here or row.state in ("waiting", "running", "paused", "failed"):
            self._end(job, "stopped", STOPPED)

    def pause(self, job: str) -> None:
        """Lets a job lie; what is made of it is kept."""
        self.jobs.get(job)
        with self._rows:
            with self._turn:
                making = self._makings.get(job)
                if making is None or making.joining is not None:
                    return
                self._paused.add(job)
                making.halt()
            self.jobs.change(job, state="paused")

    def go_on(self, job: str) -> None:
        """Goes on with a job that was paused, or that failed and still has what was made of it."""
        self.jobs.get(job)
        with self._rows:
            with self._turn:
                making = self._makings.get(job)
            if making is None:
                # Asked here: it may have been stopped just now, and then there is nothing to go on with.
                if self.jobs.get(job).state != "failed":
                    return
                making = Making.found(self.folder / job)
            elif job not in self._paused:
                return
            try:
                making.go()
            except FileNotFoundError:
                raise Refusal("What this render was to be made of is gone. Make it again.") from None
            except OSError as error:
                raise trouble_of(error, self.folder) or error from error
            with self._turn:
                self._makings[job] = making
                self._paused.discard(job)
            self.jobs.change(job, state="waiting", message="")
        self.wake()

    def first(self, job: str) -> None:
        """Puts a job before all others."""
        self.jobs.get(job)
        self.jobs.put_first(job)
        self.wake()

    def stop_project(self, project: str) -> None:
        """Ends all renders of a project."""
        with self._turn:
            here = list(self._makings)
        for job in here:
            with suppress(UnknownThing):
                if self.jobs.row(job).project == project:
                    self._end(job, "stopped", STOPPED)

    def finished(self, row: JobRow) -> Path:
        """The file of a finished render."""
        path = self.folder / row.file
        if row.state != "done" or not path.is_file():
            raise Refusal("This render is not finished, or its file was removed. Make it again.")
        return path

    def pace(self, job: str) -> tuple[float | None, float | None]:
        """Frames a second of late, and seconds that are left; None where they cannot be told yet."""
        with self._turn:
            making = self._makings.get(job)
            paused = job in self._paused
        rate = making.rate() if making is not None and making.handed and not paused else None
        if making is None or not rate:
            return None, None
        return rate, (making.total - making.done()) / rate

    # --- what goes on by itself ---

    def _run(self) -> None:
        while True:
            with self._turn:
                if not self._woken:
                    self._turn.wait(LOOK if self._makings else WISHES)
                self._woken = False
                if self._closed:
                    return
            try:
                self._look()
            except StoreTrouble as error:
                log.error("renders: %s", error)
            except Exception:
                # The queue outlives a mistake in one look.
                log.exception("renders")

    def _look(self) -> None:
        now = time.monotonic()
        if now - self._wishes_at >= WISHES:
            self._wishes_at = now
            self._grant()
        order = [job for job in self.jobs.in_order() if job in self._makings]
        for job in order:
            self._gather(job)
        self._hand_out([job for job in order if job in self._makings and job not in self._paused])
        for job in order:
            self._tell(job)
        self._let_go(now)

    def _grant(self) -> None:
        """Does what the command line wished for in another process."""
        for job, wish in self.jobs.wishes():
            do = {
                "stop": self.stop,
                "pause": self.pause,
                "go": self.go_on,
                "first": self.first,
                "again": self.again,
            }.get(wish)
            if do is not None:
                with suppress(Refusal):
                    do(job)

    def _gather(self, job: str) -> None:
        making = self._makings.get(job)
        if making is None:
            return
        try:
            making.gather()
            if making.joined():
                self._end(job, "done", of=making)
        except Exception as error:
            self._end(job, "failed", self._words(job, error), of=making)

    def _words(self, job: str, error: Exception) -> str:
        if isinstance(error, Refusal):
            return str(error)
        if isinstance(error, OSError):
            told = trouble_of(error, self.folder)
            return str(told or f"It cannot be written: {error.strerror or error}.")
        if isinstance(error, MemoryError):
            return "There was not memory enough for it. Make it smaller, or close other programs."
        log.error("render %s", job, exc_info=error)
        return f"It could not be made, by a mistake of Deft Arc's own: {error!r}"

    def _hand_out(self, order: list[str]) -> None:
        crew = self._crew_now() if order else None
        self._let_lost_go(crew)
        most = max(1, self.settings().renders_at_once)
        for place, job in enumerate(order):
            making = self._makings.get(job)
            if making is None:
                continue
            if place < most and crew is not None:
                self._hand(job, making, crew)
            if (place >= most or crew is not None) and self._passes(making):
                self._hand(job, making, self._beside_now())

    def _hand(self, job: str, making: Making, crew: Crew) -> None:
        """Hands out of a job what a crew has hands for."""
        try:
            if making.whole and making.joining is None:
                making.join(self.folder / self.jobs.row(job).file, crew, self.wake)
                return
            free = crew.hands - sum(each is crew for other in list(self._makings.values()) for each in other.crews())
            while free > 0 and (number := making.next()) is not None:
                making.hand(number, crew, self.wake)
                free -= 1
        except (Refusal, StoreTrouble):
            raise
        except Exception as error:
            if not making.folder.is_dir():
                # It was stopped meanwhile.
                return
            if crew is self._here or crew is self._beside:
                self._end(job, "failed", self._words(job, error), of=making)
            else:
                # Whatever the engine of a farm raises: the part is handed out again at the next look.
                log.warning("handing a part to the farm: %r", error)

    def _passes(self, making: Making) -> bool:
        """Whether a job is so small that it need not wait for a larger one before it: one picture, say."""
        return making.total <= SMALL and (making.next() is not None or (making.whole and making.joining is None))

    def _beside_now(self) -> Processes:
        if self._beside is None:
            self._beside = Processes(1)
        return self._beside

    def _crew_now(self) -> Crew | None:
        """Who makes parts, by the settings as they are; None where a farm does not, and is to be waited for."""
        settings = self.settings()
        if self._here is not None and self._here.hands != settings.workers:
            self._old_crews.append(self._here)
            self._here = None
        if self.farm is not None:
            cluster = self.farm.cluster()
            self.trouble = self.farm.trouble
            if cluster is not None and not self.trouble:
                return cluster
            if not self.trouble or settings.farm_lost == "wait":
                return None
            self.trouble += " It is painted here meanwhile."
        if self._here is None:
            self._here = Processes(settings.workers)
        return self._here

    def _let_lost_go(self, crew: Crew | None) -> None:
        """What was with a crew that is lost is to be made by another."""
        for making in list(self._makings.values()):
            for each in making.crews():
                if each is not crew and each.lost:
                    making.let_go(each)

    def _tell(self, job: str) -> None:
        """Keeps a job's row in step with what was made."""
        with self._rows:
            making = self._makings.get(job)
            if making is None or job in self._paused:
                return
            done, row = making.done(), self.jobs.row(job)
            state = "running" if making.handed or making.joining else row.state
            message = self.trouble
            if (row.done, row.state, row.message) != (done, state, message):
                self.jobs.change(job, done=done, state=state, message=message)

    def _let_go(self, now: float) -> None:
        """Closes processes that have nothing to do."""
        busy = [crew for making in list(self._makings.values()) for crew in making.crews()]
        for crew in [each for each in self._old_crews if each not in busy]:
            self._old_crews.remove(crew)
            crew.close()
        if busy:
            self._busy_at = now
        elif now - self._busy_at > IDLE:
            for each in (self._here, self._beside):
                if each is not None:
                    each.close()
            self._here = self._beside = None

    def _end(self, job: str, state: str, message: str = "", of: Making | None = None) -> None:
        """A job's end: its row says so, and its folder goes, unless it can go on from there. Where it is said of a
        making, nothing is done once another one, or none, is in its place: somebody stopped it meanwhile.
        """
        with self._rows:
            with self._turn:
                if of is not None and self._makings.get(job) is not of:
                    return
                making = self._makings.pop(job, None)
                self._paused.discard(job)
            if making is not None:
                making.halt()
                for each in list(making.handed.values()):
                    each.future.cancel()
                for crew in making.crews():
                    crew.forget(making.folder)
            if state == "done":
                # Its file is there: cut off here, that alone tells that it is done.
                removed(self.folder / job)
                self.jobs.finish(job)
            else:
                self.jobs.change(job, state=state, message=message[:400])
                if state == "stopped":
                    removed(self.folder / job)
