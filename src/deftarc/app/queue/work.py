"""What a worker does, in a process of its own or on another machine: one part of a job, from the project file that
travels with it. Plain values go in, and a file, or its bytes, comes out.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import lru_cache
from hashlib import sha256
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from deftarc.core.base.errors import Refusal
from deftarc.formats.archive import read_project
from deftarc.formats.materials import Materials
from deftarc.paint.output import Job, Output, Stretch, chosen, output_named, part_name


@dataclass(frozen=True)
class Order:
    """What is to be made of which scene of a project file."""

    output: str
    scene: str
    options: dict[str, Any] = field(default_factory=dict)


class Stopped(Exception):
    """The job was stopped while a part of it was made."""


@lru_cache(maxsize=2)
def _opened(_name: str, read: Callable[[], bytes], scene: str) -> Job:
    file = read_project(read())
    return Job(file.project.scene(scene), Materials(file.read_asset), file.project.by_id)


class _Read:
    """Reads a project file, equal to any other that does: what is kept by its name is read once."""

    def __init__(self, work: Path | bytes) -> None:
        self.work = work

    def __call__(self) -> bytes:
        return self.work if isinstance(self.work, bytes) else self.work.read_bytes()

    def __hash__(self) -> int:
        return 0

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Read)


def opened(work: Path | bytes, order: Order) -> tuple[Job, Output[Any], Any]:
    """The job of a project file, by its place or its bytes; kept, as a worker makes many parts of one."""
    name = sha256(work).hexdigest() if isinstance(work, bytes) else str(work)
    output = output_named(order.output)
    return _opened(name, _Read(work), order.scene), output, chosen(output, order.options)


def made_here(work: Path, order: Order, number: int, run: Stretch, folder: Path) -> int:
    """Makes a part in a folder of this machine; how many frames it has. Stopped where the folder says so, by a file
    or by not being there any more.
    """
    job, output, options = opened(work, order)
    target, at = folder / part_name(number), folder / f"{part_name(number)}.at"

    def told(done: int, _all: int) -> None:
        if not (folder / GO).exists():
            raise Stopped
        at.write_text(str(done))

    try:
        output.make(job, options, run, target, told)
    finally:
        at.unlink(missing_ok=True)
    return run.count


def made_away(work: bytes, order: Order, number: int, run: Stretch) -> bytes:
    """Makes a part on a machine that shares no disk with who wants it: its file's bytes."""
    job, output, options = opened(work, order)
    with TemporaryDirectory(prefix="deftarc-") as folder:
        target = Path(folder) / part_name(number)
        output.make(job, options, run, target, lambda _done, _all: None)
        return target.read_bytes()


def joined_here(work: Path, order: Order, folder: Path, target: Path) -> None:
    """Joins the parts that lie in a folder."""
    job, output, options = opened(work, order)
    runs = output.parts(job.scene, options)
    parts = [(folder / part_name(number), run) for number, run in enumerate(runs)]
    lost = [path.name for path, _ in parts if not path.is_file()]
    if lost:
        raise Refusal(f"{len(lost)} parts of this render are gone. Make it again.")
    output.join(job, options, parts, target)


#: A job's folder has a file of this name for as long as it is to be made.
GO = "go"
