"""Renders in processes of their own, so that the workbench stays quick; the command line does the work.

So many at once as Settings say, the others wait. A render writes beside its place and moves there when it is whole;
what a kill leaves behind is swept away when the server next starts.
"""

import subprocess
import sys
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from threading import RLock, Thread
from typing import Any

from deftarc.core.base.errors import Refusal, UnknownThing
from deftarc.paint.output import Options, Output
from deftarc.store.jobs import JobStore
from deftarc.store.tables import JobRow
from deftarc.store.trouble import trouble_of

STOPPED = "Stopped before it was finished."
#: Seconds that a render is given to end by itself once it is told to.
GRACE = 2.0


@dataclass(frozen=True)
class Wanted:
    """A render to be made: of which scene of a project file, what, and where its file goes."""

    scene: str
    output: Output[Any]
    options: Options


@dataclass
class Renders:
    """The renders of one data folder. ``most`` says how many run at once."""

    folder: Path
    jobs: JobStore
    most: Callable[[], int]
    _waiting: dict[str, Wanted] = field(default_factory=dict)
    _running: "dict[str, subprocess.Popen[str]]" = field(default_factory=dict)
    _ended: set[str] = field(default_factory=set)
    _turn: RLock = field(default_factory=RLock)
    _closed: bool = False

    def begin(self) -> None:
        """What a server does first: jobs that a stop or a kill cut off are told so, and what they left is removed."""
        self.jobs.end_left_over()
        self.sweep()

    def sweep(self) -> None:
        """Removes every file that no finished render names."""
        if not self.folder.is_dir():
            return
        kept = self.jobs.files()
        with self._turn:
            busy = {*self._waiting, *self._running}
        for path in self.folder.iterdir():
            if path.name not in kept and path.name.partition(".")[0] not in busy:
                with suppress(OSError):
                    path.unlink()

    def snapshot(self, job: str) -> Path:
        return self.folder / f"{job}.deftarc"

    def start(self, project: str, title: str, data: bytes, wanted: Wanted, total: int) -> str:
        """Queues a render of a project file's bytes; returns the job's id."""
        job = self.jobs.new_name()
        path = self.snapshot(job)
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            path.write_bytes(data)
        except OSError as error:
            path.unlink(missing_ok=True)
            raise trouble_of(error, self.folder) or error from error
        try:
            self.jobs.create(job, project, title[:300], f"{job}{wanted.output.suffix}", total)
        except BaseException:
            path.unlink(missing_ok=True)
            raise
        with self._turn:
            self._waiting[job] = wanted
        self.go_on()
        return job

    def go_on(self) -> None:
        """Starts what waits, as far as there is room."""
        with self._turn:
            while self._waiting and len(self._running) < max(1, self.most()) and not self._closed:
                job = next(iter(self._waiting))
                self._run(job, self._waiting.pop(job))

    def _run(self, job: str, wanted: Wanted) -> None:
        options = wanted.options.model_dump(mode="json")
        command = [
            sys.executable, "-m", "deftarc.cli", "render", str(self.snapshot(job)), "--scene", wanted.scene,
            "--out", str(self.folder / f"{job}{wanted.output.suffix}"), "--progress", "--tied",
            *(word for name, value in options.items() for word in ("--set", f"{name}={value}")),
        ]  # fmt: skip
        # Its standard input stays open as long as this process lives: by that it knows.
        try:
            process = subprocess.Popen(
                command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
            )
        except OSError as error:
            self.snapshot(job).unlink(missing_ok=True)
            self.jobs.change(job, state="failed", message=f"This machine could not begin it: {error.strerror}.")
            return
        self._running[job] = process
        Thread(target=self._follow, args=(job, process), name=f"render {job}", daemon=True).start()

    def _follow(self, job: str, process: "subprocess.Popen[str]") -> None:
        """Keeps a job's row in step with what its process prints."""
        self.jobs.change(job, state="running")
        assert process.stdout is not None
        assert process.stderr is not None
        told = 0
        for line in process.stdout:
            done, _, total = line.strip().partition(" ")
            # A row is written for about every hundredth of the way, not for every frame.
            if done.isdigit() and total.isdigit() and (int(done) - told) * 100 >= int(total):
                told = int(done)
                self.jobs.change(job, done=told, total=int(total))
        words = process.stderr.read().strip()
        code = process.wait()
        self.snapshot(job).unlink(missing_ok=True)
        with self._turn:
            ended = job in self._ended
            self._ended.discard(job)
        if ended:
            self.jobs.change(job, state="stopped", message=STOPPED)
        elif code == 0:
            self.jobs.finish(job)
        else:
            message = words.rpartition("deftarc: ")[2].splitlines()[-1] if words else "The render ended early."
            self.jobs.change(job, state="failed", message=message[:400])
        with self._turn:
            self._running.pop(job, None)
        self.go_on()

    def stop(self, job: str) -> None:
        """Ends a render that runs or waits."""
        self.jobs.get(job)
        with self._turn:
            waited = self._waiting.pop(job, None)
            process = self._running.get(job)
            if process is not None:
                self._ended.add(job)
        if waited is not None:
            self.snapshot(job).unlink(missing_ok=True)
            self.jobs.change(job, state="stopped", message=STOPPED)
        if process is not None:
            _end(process)
            (self.folder / self.jobs.get(job).file).unlink(missing_ok=True)
            self.jobs.change(job, state="stopped", message=STOPPED)

    def stop_project(self, project: str) -> None:
        """Ends all renders of a project."""
        with self._turn:
            here = [*self._waiting, *self._running]
        for job in here:
            with suppress(UnknownThing):
                if self.jobs.get(job).project == project:
                    self.stop(job)

    def stop_all(self) -> None:
        """Ends every render, when the server stops; what waited is told so at the next start."""
        with self._turn:
            self._closed = True
            processes = list(self._running.values())
            self._ended.update(self._running)
        for process in processes:
            process.terminate()
        for process in processes:
            _end(process)

    def finished(self, row: JobRow) -> Path:
        """The file of a finished render."""
        path = self.folder / row.file
        if row.state != "done" or not path.is_file():
            raise Refusal("This render is not finished, or its file was removed. Start it again.")
        return path


def _end(process: "subprocess.Popen[str]") -> None:
    process.terminate()
    try:
        process.wait(GRACE)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait(GRACE)
