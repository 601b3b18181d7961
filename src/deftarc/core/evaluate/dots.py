"""Rings and particles over time, told by what each was born with. What is to be seen at a moment is worked out when it
is asked for: however long the scene is, it costs no more than what is born in it.
"""

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.time import FLICKS

#: What things (m,) of those that were born have come to at ages (m,) in seconds and shares (m,) of their lives: (m, 9).
Grown = Callable[[Integers, Floats, Floats], Floats]


@dataclass(frozen=True, eq=False)
class Dots:
    """Rings or particles at moments ``inner`` (F,), in flicks of their layer's time; they are ``born`` (N,) in this
    order, and each ``dies`` (N,).

    Those of a moment are rows (n, 9), from the bottom up: x and y in the layer's px; of a ring its radius, width and
    softness, of a particle its size, its turn in degrees and nought; and a colour. Particles have so many ``sides``, 0
    being round, or show the drawing of the layer ``shaped``.
    """

    kind: str
    inner: Floats
    born: Floats
    dies: Floats
    grown: Grown
    sides: int = 0
    shaped: str | None = None
    _last: dict[int, Floats] = field(default_factory=dict)

    def at(self, row: int) -> Floats:
        """What is to be seen at a moment, (n, 9); at one beyond the last, that of the last."""
        k = min(row, len(self.inner) - 1)
        rows = self._last.get(k)
        if rows is None:
            rows = self.between(k, k + 1)[1]
            # A painter asks several times for the one it is painting.
            self._last.clear()
            self._last[k] = rows
        return rows

    def between(self, first: int, last: int) -> tuple[Integers, Floats]:
        """The same of moments from one up to another: where those of each begin (last − first + 1,), and all rows."""
        which = [self._seen(k) for k in range(first, last)]
        starts = np.concatenate(([0], np.cumsum([len(each) for each in which]))).astype(np.int64)
        things = np.concatenate(which) if which else np.empty(0, np.int64)
        times = np.repeat(self.inner[first:last], np.diff(starts))
        age = (times - self.born[things]) / FLICKS
        life = (self.dies[things] - self.born[things]) / FLICKS
        return starts, self.grown(things, age, np.clip(age / np.maximum(life, 1e-9), 0, 1))

    def _seen(self, k: int) -> Integers:
        time = self.inner[k]
        low = int(np.searchsorted(self.born, time - self._longest, side="left"))
        high = int(np.searchsorted(self.born, time, side="right"))
        # Of a flood those born last.
        return low + np.flatnonzero(self.dies[low:high] > time)[-limits.MAX_DOTS :]

    @cached_property
    def _longest(self) -> float:
        return float(np.max(self.dies - self.born)) if len(self.born) else 0.0

    @cached_property
    def counts(self) -> Integers:
        """How many are to be seen at each moment, (F,)."""
        gone = np.searchsorted(np.sort(self.dies), self.inner, side="right")
        alive = np.searchsorted(self.born, self.inner, side="right") - gone
        return np.asarray(np.minimum(alive, limits.MAX_DOTS), np.int64)

    def window(self, near: int, most: int) -> tuple[int, int]:
        """Moments around one, from one up to another, with no more rows than that together: rather those after it."""
        sums = np.concatenate(([0], np.cumsum(self.counts)))
        if sums[-1] <= most:
            return 0, len(self.inner)
        near = min(near, len(self.inner) - 1)
        # What comes before what is asked for is of less use.
        ahead = most * 3 // 4 if near else most
        last = int(np.searchsorted(sums, sums[near] + ahead, side="right")) - 1
        last = max(near + 1, last)
        first = int(np.searchsorted(sums, sums[last] - most, side="left"))
        return min(first, near), last

    def taken(self, rows: Integers) -> "Dots":
        """The dots at some of its moments."""
        return replace(self, inner=self.inner[rows], _last={})

    def bounds(self, row: int) -> tuple[float, float, float, float]:
        """Left, top, right and bottom of all at a moment, in the layer's px; zeros where there is nothing."""
        rows = self.at(row)
        if not len(rows):
            return 0.0, 0.0, 0.0, 0.0
        reach = rows[:, 2] + rows[:, 3] / 2 + 3 * rows[:, 4] if self.kind == "rings" else rows[:, 2] / 2
        low, high = rows[:, :2] - reach[:, None], rows[:, :2] + reach[:, None]
        (left, top), (right, bottom) = low.min(axis=0).tolist(), high.max(axis=0).tolist()
        return left, top, right, bottom

    def furthest(self) -> float:
        """About how far from their layer's origin any of them comes, in px."""
        some = np.unique(np.linspace(0, len(self.inner) - 1, min(16, len(self.inner))).astype(np.int64))
        boxes = np.abs(np.array([self.bounds(int(k)) for k in some])).max(axis=0)
        return float(np.hypot(max(boxes[0], boxes[2]), max(boxes[1], boxes[3])))
