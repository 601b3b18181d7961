"""A job on its way: which of its parts lie in its folder, which are being made, and what became of those."""

import json
import time
from collections import deque
from collections.abc import Callable, Sequence
from concurrent.futures import Future, wait
from contextlib import suppress
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any

from deftarc.app.queue.crews import Crew
from deftarc.app.queue.work import GO, WORK, Order, Stopped, at_file, cleared
from deftarc.core.base.errors import Refusal
from deftarc.paint.output import Progress, Stretch, part_name

#: How often a part is begun while workers die over it.
TRIES = 3
#: Seconds over which the rate is told.
LATELY = 20.0
ORDER = "order.json"


@dataclass(frozen=True)
class Handed:
    """A part that a crew has."""

    crew: Crew
    future: "Future[Any]"


@dataclass(eq=False)
class Making:
    """One job. Its folder is the truth: the order, the project file it is made of, and each part that is done."""

    folder: Path
    order: Order
    runs: list[Stretch]
    made: set[int] = field(default_factory=set)
    handed: dict[int, Handed] = field(default_factory=dict)
    joining: Handed | None = None
    _tries: dict[int, int] = field(default_factory=dict)
    _lately: "deque[tuple[float, int]]" = field(default_factory=deque)

    @classmethod
    def laid(cls, folder: Path, order: Order, work: bytes, runs: Sequence[Stretch]) -> "Making":
        """A new job in a folder of its own."""
        folder.mkdir(parents=True)
        (folder / WORK).write_bytes(work)
        told = {"order": asdict(order), "runs": [[run.first, run.count] for run in runs]}
        (folder / ORDER).write_text(json.dumps(told))
        return cls(folder, order, list(runs))

    @classmethod
    def found(cls, folder: Path) -> "Making":
        """A job as it lies; Refusal where it is not whole."""
        try:
            told = json.loads((folder / ORDER).read_text())
            order, runs = Order(**told["order"]), [Stretch(*each) for each in told["runs"]]
            (folder / WORK).stat()
        except (OSError, ValueError, KeyError, TypeError) as error:
            raise Refusal("What this render was to be made of is gone. Make it again.") from error
        cleared(folder)
        return cls(folder, order, runs, {n for n in range(len(runs)) if (folder / part_name(n)).is_file()})

    # --- how far it is ---

    @property
    def total(self) -> int:
        return sum(run.count for run in self.runs)

    def done(self) -> int:
        """Frames that are painted, those of parts under way among them."""
        count = sum(self.runs[n].count for n in self.made)
        for n in list(self.handed):
            with suppress(OSError, ValueError):
                count += int(at_file(self.folder, n).read_text() or 0)
        return min(count, self.total)

    def rate(self) -> float | None:
        """Frames a second of late; None where that cannot be told yet."""
        now, done = time.monotonic(), self.done()
        if not self._lately or now - self._lately[-1][0] >= 0.25:
            self._lately.append((now, done))
        while now - self._lately[0][0] > LATELY and len(self._lately) > 2:
            self._lately.popleft()
        (then, was) = self._lately[0]
        return (done - was) / (now - then) if now - then >= 0.5 and done > was else None

    # --- parts ---

    def go(self) -> None:
        (self.folder / GO).touch()

    def halt(self) -> None:
        """What is under way ends at its next frame, and is begun anew later."""
        (self.folder / GO).unlink(missing_ok=True)
        self._lately.clear()

    @property
    def whole(self) -> bool:
        return len(self.made) == len(self.runs)

    def next(self) -> int | None:
        """The first part that is neither made nor being made."""
        return next((n for n in range(len(self.runs)) if n not in self.made and n not in self.handed), None)

    def hand(self, number: int, crew: Crew, ended: "Callable[[Future[Any]], None]") -> None:
        future = crew.make(self.folder, self.order, number, self.runs[number])
        self.handed[number] = Handed(crew, future)
        future.add_done_callback(ended)

    def gather(self) -> bool:
        """Takes in parts that ended; whether any did. What one of them could not be made for is raised."""
        ended = [n for n, each in self.handed.items() if each.future.done()]
        for n in ended:
            handed = self.handed.pop(n)
            try:
                handed.crew.bring(self.folder, n, handed.future.result())
                self.made.add(n)
            except Stopped:
                self._missing()
            except BaseException as error:
                if not handed.crew.died(error):
                    raise
                self._tries[n] = self._tries.get(n, 0) + 1
                handed.crew.forget(self.folder, died=True)
                if self._tries[n] >= TRIES:
                    raise Refusal(_died(self.runs[n])) from error
        return bool(ended)

    def let_go(self, crew: Crew) -> None:
        """What a crew has that is lost is to be made anew."""
        for n in [n for n, each in self.handed.items() if each.crew is crew]:
            self.handed.pop(n).future.cancel()
        if self.joining is not None and self.joining.crew is crew:
            self.joining.future.cancel()
            self.joining = None

    def _missing(self) -> None:
        if not self.folder.is_dir():
            raise Refusal("The folder of this render was removed while it was made. Make it again.")

    def join(self, target: Path, crew: Crew, ended: "Callable[[Future[Any]], None]") -> None:
        self.joining = Handed(crew, crew.join(self.folder, self.order, target))
        self.joining.future.add_done_callback(ended)

    def joined(self) -> bool:
        """Whether its parts are put together; what they could not be for is raised."""
        if self.joining is None or not self.joining.future.done():
            return False
        handed, self.joining = self.joining, None
        try:
            handed.future.result()
        except BaseException as error:
            if not handed.crew.died(error):
                raise
            self._tries[-1] = self._tries.get(-1, 0) + 1
            handed.crew.forget(self.folder, died=True)
            if self._tries[-1] >= TRIES:
                raise Refusal("A worker died each time the parts were put together. Is there memory enough?") from error
            return False
        return True

    def crews(self) -> list[Crew]:
        """Who has something of it."""
        return [each.crew for each in (*self.handed.values(), *([self.joining] if self.joining else []))]


def _died(run: Stretch) -> str:
    frames = f"frame {run.first}" if run.count == 1 else f"frames {run.first} to {run.first + run.count - 1}"
    return f"A worker died {TRIES} times while it made {frames}. Is there memory enough?"


def made_with(crew: Crew, making: Making, target: Path, progress: Progress) -> None:
    """Makes a job with nothing else going on, as the command line does."""
    making.go()
    while not making.whole:
        if crew.lost:
            raise Refusal(crew.lost)
        while len(making.handed) < crew.hands and (number := making.next()) is not None:
            making.hand(number, crew, lambda _: None)
        if making.handed:
            wait([each.future for each in making.handed.values()], 0.2, "FIRST_COMPLETED")
        else:
            time.sleep(0.2)
        making.gather()
        progress(making.done(), making.total)
    while not making.joined():
        if making.joining is None:
            making.join(target, crew, lambda _: None)
        assert making.joining is not None
        wait([making.joining.future], 1)
