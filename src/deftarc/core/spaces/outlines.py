"""Outlines over time: one that changes from moment to moment, its verbs perhaps with it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.spaces.outline import Outline, bounds_over_time


@dataclass(frozen=True, eq=False)
class Outlines:
    """One outline at each of R moments (1 where nothing changes): ``verbs`` are the same at all of them (one string) or
    each moment's own (R); ``points`` (N, 2) has all moments' points in turn, those of the k-th from ``starts[k]`` to
    ``starts[k + 1]``, (R + 1,).
    """

    verbs: tuple[str, ...]
    points: Floats
    starts: Integers

    @classmethod
    def alike(cls, verbs: str, points: Floats) -> "Outlines":
        """Of constant verbs, with points (R, P, 2)."""
        rows, count = points.shape[:2]
        return cls((verbs,), points.reshape(-1, 2), np.arange(rows + 1, dtype=np.int64) * count)

    @classmethod
    def each(cls, rows: Sequence[Outline]) -> "Outlines":
        """Of an outline for each moment."""
        verbs = tuple(row.verbs for row in rows)
        points = np.concatenate([row.points.reshape(-1, 2) for row in rows]) if rows else np.zeros((0, 2))
        starts = np.concatenate(([0], np.cumsum([len(row.points) for row in rows]))).astype(np.int64)
        return cls(verbs[:1] if len(set(verbs)) == 1 else verbs, points, starts)

    @property
    def rows(self) -> int:
        return len(self.starts) - 1

    @property
    def even(self) -> bool:
        """Whether its verbs stay the same."""
        return len(self.verbs) == 1

    @property
    def grid(self) -> Floats:
        """The points as (R, P, 2), where the verbs stay the same."""
        return self.points.reshape(self.rows, -1, 2)

    def at(self, row: int) -> Outline:
        """The outline at a row; the last one for all rows beyond."""
        k = min(row, self.rows - 1)
        verbs = self.verbs[0] if self.even else self.verbs[k]
        return Outline(verbs, self.points[self.starts[k] : self.starts[k + 1]])

    def taken(self, rows: Integers) -> "Outlines":
        """The outline at some of its rows."""
        if self.rows == 1:
            return self
        if self.even:
            return Outlines.alike(self.verbs[0], self.grid[rows])
        return Outlines.each([self.at(int(k)) for k in rows])

    def bounds(self) -> Floats:
        """(left, top, right, bottom) at each moment, (R, 4); zeros where there is nothing."""
        if self.even:
            return bounds_over_time(self.verbs[0], self.grid)
        boxes = [self.at(k).bounds() for k in range(self.rows)]
        return np.array([np.zeros(4) if box is None else box for box in boxes])


__all__ = ["Outlines"]
