"""Files brought in are read in processes of their own, a few at a time, and really stopped: when they take longer than
they are given, when whoever sent them has gone, or when the server ends.
"""

import asyncio
import atexit
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import AsyncIterator, Awaitable, Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import asynccontextmanager, suppress
from functools import lru_cache
from pathlib import Path
from queue import Empty, Queue
from threading import Event, Lock, Thread
from typing import Any

from fastapi import UploadFile
from starlette.concurrency import run_in_threadpool

from deftarc.app.reading_process import READY, TOO_MUCH, receive, send
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.store.trouble import trouble_of

#: A process reads so many files before another takes its place, so that nothing gathers in it.
MOST_FILES = 50
PIECE = 1 << 20
#: Seconds a reading process may take to start on the busiest of machines.
STARTING = 60.0
ENDING = "The server is ending. Bring the file in again when it is back."


class Process:
    """One reading process, and a thread that waits for what it answers."""

    def __init__(self) -> None:
        # One thread: several would reserve memory that is counted, and a file is read in one anyway.
        alone = {**os.environ, "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
        self.popen = subprocess.Popen(
            [sys.executable, "-m", "deftarc.app.reading_process"],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, env=alone,
        )  # fmt: skip
        self.answers: Queue[Any] = Queue()
        self.files = 0
        self.begun = False
        Thread(target=self._listen, name="reading", daemon=True).start()

    def _listen(self) -> None:
        assert self.popen.stdout is not None
        with suppress(EOFError, OSError, ValueError):
            while True:
                self.answers.put(receive(self.popen.stdout))  # type: ignore[arg-type]
        self.answers.put(None)

    def ask(self, task: str, given: tuple[Any, ...], seconds: float, left: Event) -> Any:
        """What a task comes to; Refusal where it comes to nothing, or is stopped."""
        assert self.popen.stdin is not None
        self.files += 1
        with suppress(OSError):
            send(self.popen.stdin, (task, given))  # type: ignore[arg-type]
        until = time.monotonic() + (seconds if self.begun else STARTING)
        while True:
            try:
                told = self.answers.get(timeout=0.05)
                if told != READY:
                    break
                self.begun = True
                until = time.monotonic() + seconds
            except Empty:
                if left.is_set() or time.monotonic() > until:
                    self.end()
                    raise Refusal(
                        f"This file takes longer than {seconds:g} seconds to read. Simplify it, or make it smaller."
                    ) from None
        if told is None:
            self.end()
            raise Refusal(TOO_MUCH)
        sound, answer = told
        if not sound:
            raise Refusal(answer)
        return answer

    def end(self) -> None:
        self.popen.kill()
        self.popen.wait()

    @property
    def alive(self) -> bool:
        return self.popen.poll() is None


class Readers:
    """The reading processes of this server: so many at a time, kept warm between files."""

    def __init__(self, most: int = limits.MOST_READ) -> None:
        self._threads = ThreadPoolExecutor(most, thread_name_prefix="reads")
        self._idle: list[Process] = []
        self._all: set[Process] = set()
        self._turn = Lock()
        self._waiting = 0
        self._closed = False

    def warm(self) -> None:
        """Has a process ready before the first file comes."""
        with self._turn:
            if not self._idle and not self._closed:
                self._idle.append(self._new())

    def _new(self) -> Process:
        made = Process()
        self._all.add(made)
        return made

    def _read(self, task: str, given: tuple[Any, ...], seconds: float, left: Event) -> Any:
        if left.is_set():
            raise Refusal("Whoever sent this file has gone.")
        with self._turn:
            if self._closed:
                raise Refusal(ENDING)
            process = self._idle.pop() if self._idle else self._new()
        try:
            return process.ask(task, given, seconds, left)
        except Refusal:
            if self._closed:
                raise Refusal(ENDING) from None
            raise
        finally:
            with self._turn:
                if process.alive and process.files < MOST_FILES and not self._closed:
                    self._idle.append(process)
                else:
                    process.end()
                    self._all.discard(process)
                    if not self._idle and not self._closed:
                        # Begun now, so that the next file need not wait until it has started.
                        self._idle.append(self._new())

    async def read(
        self, task: str, *given: Any, seconds: float = limits.READ_SECONDS,
        gone: Callable[[], Awaitable[bool]] | None = None,
    ) -> Any:  # fmt: skip
        """What a task comes to (see reading_process.TASKS). ``gone`` says whether whoever asked has left."""
        if self._waiting >= limits.MOST_WAITING:
            raise Refusal("So many files are being read just now. Bring this one in again in a moment.")
        left = Event()
        self._waiting += 1
        try:
            loop = asyncio.get_running_loop()
            work = loop.run_in_executor(self._threads, self._read, task, given, seconds, left)
            while not work.done():
                await asyncio.wait({work}, timeout=0.25)
                if not work.done() and gone is not None and await gone():
                    left.set()
                    gone = None
            return work.result()
        finally:
            left.set()
            self._waiting -= 1

    def close(self) -> None:
        """Ends every process at once."""
        with self._turn:
            self._closed = True
            here = list(self._all)
            self._all.clear()
            self._idle.clear()
        for process in here:
            process.end()
        self._threads.shutdown(wait=False, cancel_futures=True)


@lru_cache(maxsize=1)
def shared() -> Readers:
    """One set of readers for all applications of a process that bring none along."""
    made = Readers()
    atexit.register(made.close)
    return made


@asynccontextmanager
async def on_disk(file: UploadFile, folder: Path, most: int) -> AsyncIterator[Path]:
    """An upload as a file of the data folder while this lasts; Refusal where it is larger than allowed."""

    def write() -> Path:
        try:
            folder.mkdir(parents=True, exist_ok=True)
            handle, name = tempfile.mkstemp(dir=folder)
            path = Path(name)
            try:
                with os.fdopen(handle, "wb") as out:
                    size = 0
                    while piece := file.file.read(PIECE):
                        size += len(piece)
                        if size > most:
                            raise Refusal(f"This file is larger than {most // 1024 // 1024} MiB.")
                        out.write(piece)
            except BaseException:
                path.unlink(missing_ok=True)
                raise
        except OSError as error:
            raise trouble_of(error, folder) or error from error
        return path

    path = await run_in_threadpool(write)
    try:
        yield path
    finally:
        with suppress(OSError):
            path.unlink(missing_ok=True)
