"""The queue of renders: parts of jobs are handed to a crew, in the jobs' order; what a part came to lies in the job's
folder under its number, so that a restart, of the server or of the machine, goes on where it was.
"""

import logging
import shutil
import time
from collections import deque
from collections.abc import Callable
from concurrent.futures import Future
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from threading import RLock
from typing import Any

from deftarc.app.queue.crews import Crew, Processes
from deftarc.app.queue.work import GO, Order, Stopped, joined_here
from deftarc.core.base.errors import Refusal, UnknownThing
from deftarc.paint.output import Stretch, part_name
from deftarc.store.jobs import JobStore
from deftarc.store.tables import JobRow
from deftarc.store.trouble import trouble_of

log = logging.getLogger(__name__)
#: How often a part is begun again because its worker died.
TRIES = 3
#: Parts that were made last, by which the rate is told.
LATELY = 6


@dataclass(eq=False)
class Running:
    """A job that is not at its end: its parts, those that lie there, and those that are being made."""

    id: str
    order: Order
    suffix: str
    runs: list[Stretch]
    made: set[int] = field(default_factory=set)
    under_way: "dict[int, Future[Any]]" = field(default_factory=dict)
    tries: dict[int, int] = field(default_factory=dict)
    paused: bool = False
    joining: bool = False
    lately: deque[tuple[float, int]] = field(default_factory=lambda: deque(maxlen=LATELY))

    @property
    def done(self) -> int:
        return sum(self.runs[n].count for n in self.made)

    def next(self) -> int | None:
        return next((n for n in range(len(self.runs)) if n not in self.made and n not in self.under_way), None)
