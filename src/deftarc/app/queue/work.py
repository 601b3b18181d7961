"""What a worker does, in a process of its own or on another machine: one part of a job, from the project file that
travels with it. Plain values go in, and a file, or its bytes, comes out.
"""

import json
import os
import shutil
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from functools import lru_cache
from hashlib import sha256
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from av.error import FFmpegError

from deftarc.core.base.errors import Refusal
from deftarc.formats.archive import read_project
from deftarc.formats.materials import Materials
from deftarc.paint.output import Job, Output, Stretch, chosen, output_named, part_name

#: The project file in a job's folder.
WORK = "work.deftarc"
#: A job's folder has a file of this name for as long as it is to be made.
GO = "go"


@dataclass(frozen=True)
class Order:
    """What is to be made of which scene of a project file."""

    output: str
    scene: str
    options: dict[str, Any] = field(default_factory=dict)


class Stopped(Exception):
    """The job was stopped while a part of it was made."""


@contextmanager
def _plainly() -> Iterator[None]:
    """What goes wrong, as errors that travel between processes whole."""
    try:
        yield
    except (Stopped, MemoryError):
        raise
    except Refusal as error:
        raise Refusal(str(error)) from None
    except (OSError, FFmpegError) as error:
        raise OSError(error.errno, error.strerror or str(error)) from None


class _Source:
    """A project file, by its place or its bytes. Equal to any other one of its name, so that it is read once."""

    def __init__(self, name: str, read: Callable[[], bytes]) -> None:
        self.name = name
        self.read = read

    def __hash__(self) -> int:
        return hash(self.name)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Source) and other.name == self.name


@lru_cache(maxsize=2)
def _job(source: _Source, scene: str) -> Job:
    file = read_project(source.read())
    project = file.project
    return Job(project.scene(scene), Materials(file.read_asset), project.by_id, project, file.written)


def opened(work: Path | bytes, order: Order) -> tuple[Job, Output[Any], Any]:
    """The job of a project file, by its place or its bytes; kept, as a worker makes many parts of one."""
    if isinstance(work, bytes):
        source = _Source(sha256(work).hexdigest(), lambda: work)
    else:
        source = _Source(str(work), work.read_bytes)
    output = output_named(order.output)
    return _job(source, order.scene), output, chosen(output, order.options)


def at_file(folder: Path, number: int) -> Path:
    """Where the worker that makes a part writes how many of its frames are done."""
    return folder / f"{part_name(number)}.at"


def made_here(folder: Path, order: Order, number: int, run: Stretch) -> None:
    """Makes a part of the job in a folder of this machine. Stopped where the folder says so, or is gone."""
    at = at_file(folder, number)

    def told(done: int, _all: int) -> None:
        if not (folder / GO).exists():
            raise Stopped
        at.write_text(str(done))

    # In a place of this process's own: one that a killed server left may still be at the same part.
    aside = folder / f"{part_name(number)}.{os.getpid()}"
    try:
        with _plainly():
            told(0, run.count)
            job, output, options = opened(folder / WORK, order)
            output.make(job, options, run, aside, told)
            aside.replace(folder / part_name(number))
    finally:
        at.unlink(missing_ok=True)
        aside.unlink(missing_ok=True)


def made_away(work: bytes, order: dict[str, Any], first: int, count: int) -> bytes:
    """Makes a part on a machine that shares no disk with who wants it: plain values in, and bytes out. They begin with
    M and the SHA-256 of the part's file, which follows; or with N and why it could not be made, in JSON.
    """
    try:
        with _plainly(), TemporaryDirectory(prefix="deftarc-") as folder:
            job, output, options = opened(work, Order(**order))
            target = Path(folder) / "part"
            output.make(job, options, Stretch(first, count), target, lambda _done, _all: None)
            made = target.read_bytes()
            return b"M" + sha256(made).digest() + made
    except Refusal as error:
        return b"N" + json.dumps({"errno": None, "words": str(error)}).encode()
    except OSError as error:
        return b"N" + json.dumps({"errno": error.errno or 5, "words": error.strerror or str(error)}).encode()


def joined_here(folder: Path, order: Order, target: Path) -> None:
    """Joins the parts that lie in a folder; Refusal where one is gone."""
    with _plainly():
        job, output, options = opened(folder / WORK, order)
        runs = output.parts(job.scene, options)
        parts = [(folder / part_name(number), run) for number, run in enumerate(runs)]
        lost = sum(not path.is_file() for path, _ in parts)
        if lost:
            raise Refusal(f"{lost} of {len(parts)} parts of this render are gone. Make it again.")
        output.join(job, options, parts, target)


def cleared(folder: Path) -> None:
    """Removes what half-made parts left in a job's folder."""
    for path in folder.glob("*.made.*"):
        if path.is_dir():
            shutil.rmtree(path, ignore_errors=True)
        else:
            path.unlink(missing_ok=True)
