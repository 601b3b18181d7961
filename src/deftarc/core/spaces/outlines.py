"""Outlines over time: one that changes from moment to moment, its verbs perhaps with it."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.spaces.outline import NEEDS, Outline, bounds_over_time

#: Of a contour's size: places that differ by no more are the same.
ALIKE = 1e-9


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


@dataclass(frozen=True, eq=False)
class Alike:
    """How contours move and grow: by how much each is larger at each moment than at the first (R, C), and where its
    first point is, (R, C, 2). Those without any length are none.
    """

    sizes: Floats
    firsts: Floats

    @property
    def whole(self) -> Floats | None:
        """By how much the outline is larger, (R,), where its contours move and grow as one; None where they do not."""
        if not self.sizes.shape[1]:
            return np.ones(len(self.sizes))
        size = self.sizes[:, :1]
        apart = self.firsts - self.firsts[:, :1]
        near = ALIKE * (np.abs(apart[0]).max() + 1e-300)
        same = np.all(np.abs(self.sizes - size) <= ALIKE * size)
        return np.asarray(size[:, 0]) if same and np.all(np.abs(apart / size[..., None] - apart[0]) <= near) else None


def alike_over_time(outlines: Outlines) -> Alike | None:
    """How an outline's contours move and grow where they do nothing else, as letters do whose size or spacing changes:
    then what is worked out of one moment holds for all. None where a contour changes otherwise.
    """
    verbs = outlines.verbs[0]
    if not outlines.even or any(verb == "Z" and after != "M" for verb, after in pairwise(verbs)):
        return None
    counts = np.array([NEEDS[verb] for verb in verbs], np.int64)
    begins = np.cumsum(counts)[np.array([verb == "M" for verb in verbs], bool)] - 1
    sizes, firsts = [], []
    for points in np.split(outlines.grid, begins[1:], axis=1) if len(begins) else ():
        # Each point and the one before it, the last one and the first: of what has no length there is no span.
        still = np.all(points == np.roll(points, 1, axis=1), axis=2)
        if np.any(still != still[0]):
            return None
        if np.all(still[0]):
            continue
        from_first = points - points[:, :1]
        size = np.abs(from_first).max(axis=(1, 2))
        if not np.all(np.abs(from_first / size[:, None, None] - from_first[0] / size[0]) <= ALIKE):
            return None
        sizes.append(size / size[0])
        firsts.append(points[:, 0])
    if not sizes:
        return Alike(np.ones((outlines.rows, 0)), np.zeros((outlines.rows, 0, 2)))
    return Alike(np.stack(sizes, axis=1), np.stack(firsts, axis=1))


__all__ = ["Alike", "Outlines", "alike_over_time"]
