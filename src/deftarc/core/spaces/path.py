"""Where: the second map, from distance along a path to a position.

A path is a row of points joined by cubic Bézier spans. Everything else asks it for distances and for what lies at
one: places on it are counted in points and in fractions of a span's *length*, so that bending never moves them.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.curves.curve import bezier
from deftarc.core.spaces.arc import ArcTable, arc_table, derivative

#: Directions are one where the cosine between them is at least this (about a quarter of a degree).
PARALLEL = 1 - 1e-5
#: A derivative shorter than this fraction of its span has no direction to speak of.
STILL = 1e-7


@dataclass(frozen=True, eq=False)
class Path:
    """A row of points (P, 2) in px, P ≥ 1. A *place* is a real number: 2.25 is a quarter of the way, by length, from
    point 2 to point 3.

    ``handles`` (P, 4) are arriving and leaving from each point, None where all spans are straight. ``round`` (P,)
    says at which points the path may go through without a corner.
    """

    points: Floats
    handles: Floats | None = None
    round: npt.NDArray[np.bool_] | None = None

    @cached_property
    def controls(self) -> Floats:
        """The Bézier points of each span, (P − 1, 4, 2)."""
        start, end = self.points[:-1], self.points[1:]
        third = (end - start) / 3
        leaving, arriving = third, -third
        if self.handles is not None:
            bent = self.bent[:, None]
            leaving = np.where(bent, self.handles[:-1, 2:], third)
            arriving = np.where(bent, self.handles[1:, :2], -third)
        return np.stack([start, start + leaving, end + arriving, end], axis=1)

    @cached_property
    def bent(self) -> npt.NDArray[np.bool_]:
        """Spans that have a handle, (P − 1,)."""
        if self.handles is None:
            return np.zeros(len(self.points) - 1, bool)
        return np.asarray(self.handles[:-1, 2:].any(axis=1) | self.handles[1:, :2].any(axis=1))

    @cached_property
    def table(self) -> ArcTable:
        return arc_table(self.controls, self.bent)

    @cached_property
    def lengths(self) -> Floats:
        """Distance from the start to each point, (P,)."""
        if len(self.points) < 2:
            return np.zeros(1)
        if self.handles is not None:
            return self.table.lengths
        return np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(self.points, axis=0).T))))

    @cached_property
    def directions(self) -> Floats:
        """The unit directions in which each span starts and ends, (P − 1, 2, 2). A span of no length takes the one
        before it, at the start the next one that has a length; a path of no length points right.
        """
        count = len(self.points) - 1
        controls = self.controls
        out = np.zeros((count, 2, 2))
        found = np.zeros(count, bool)
        size = np.abs(controls - controls[:, :1]).max(axis=(1, 2)) if count else np.empty(0)
        # The nearest Bézier point that is not the end itself says which way it goes there.
        for away in (3, 2, 1):
            for end, vector in ((0, controls[:, away] - controls[:, 0]), (1, controls[:, 3] - controls[:, 3 - away])):
                length = np.hypot(*vector.T)
                good = length > STILL * size
                out[good, end] = vector[good] / length[good, None]
                found |= good
        going = np.array([1.0, 0.0])
        moving = np.flatnonzero(found)
        if moving.size:
            going = out[moving[0], 0]
        for k in np.flatnonzero(~found):
            out[k] = out[k - 1, 1] if k else going
        return out

    @cached_property
    def through(self) -> npt.NDArray[np.bool_]:
        """Points the path goes through without a corner, (P,); never its ends."""
        out = np.zeros(len(self.points), bool)
        if self.round is not None and len(self.points) > 2:
            meeting = (self.directions[:-1, 1] * self.directions[1:, 0]).sum(axis=1)
            out[1:-1] = self.round[1:-1] & (meeting >= PARALLEL)
        return out

    @cached_property
    def _onward(self) -> tuple[Integers, Integers]:
        """For each span the first and the last one that is reached from it without a corner."""
        spans = np.arange(len(self.points) - 1)
        first, last = spans.copy(), spans.copy()
        if self.through.any():
            for k in spans[1:]:
                first[k] = first[k - 1] if self.through[k] else k
            for k in spans[-2::-1]:
                last[k] = last[k + 1] if self.through[k + 1] else k
        return first, last

    def reach(self, first: Integers, last: Integers) -> tuple[Integers, Integers]:
        """The spans a motion between two of them may get to past its ends: on through smooth points."""
        backward, forward = self._onward
        return backward[first], forward[last]

    def length_at(self, place: Floats) -> Floats:
        """Distance along the path at places (n,) to (n,)."""
        return np.interp(place, np.arange(len(self.points)), self.lengths)

    def place_at(self, distance: float) -> float:
        """The place at a distance along the path, kept on it."""
        return float(np.interp(distance, self.lengths, np.arange(len(self.points))))

    def _found(self, distance: Floats, first: Integers, last: Integers) -> tuple[Integers, Floats, Floats]:
        """Span, parameter, and px straight on from there, at distances (n,) of motions between two spans each."""
        low, high = self.reach(first, last)
        span = np.clip(np.searchsorted(self.lengths, distance, side="right") - 1, low, high)
        start, end = self.lengths[span], self.lengths[span + 1]
        beyond = np.where(distance > end, distance - end, np.minimum(distance - start, 0.0))
        if self.handles is None:
            size = end - start
            with np.errstate(divide="ignore", invalid="ignore"):
                u = np.where(size > 0, np.clip((distance - start) / size, 0.0, 1.0), 0.0)
            return span, u, beyond
        return span, self.table.parameter(span, np.clip(distance, start, end)), beyond

    def position(self, distance: Floats, first: Integers, last: Integers) -> Floats:
        """Positions (n, 2) at distances (n,) of motions between spans ``first`` and ``last`` (n,), inclusive.

        Past the stretch's ends the motion goes on through points that are smooth; from a corner or the path's end
        it runs straight on along its tangent. So overshoot never turns into another way.
        """
        if len(self.points) == 1:
            return np.repeat(self.points, len(distance), axis=0)
        if self.handles is None:
            low, high = self.reach(first, last)
            span = np.clip(np.searchsorted(self.lengths, distance, side="right") - 1, low, high)
            return self.points[span] + self.directions[span, 0] * (distance - self.lengths[span])[:, None]
        span, u, beyond = self._found(distance, first, last)
        out = bezier(u[:, None], *np.moveaxis(self.controls[span], 1, 0))
        off = beyond != 0
        if off.any():
            out[off] += self.directions[span[off], (beyond[off] > 0).astype(int)] * beyond[off, None]
        return out

    def direction(self, distance: Floats, first: Integers, last: Integers) -> Floats:
        """Unit directions of the path (n, 2), as :meth:`position` has its places."""
        if len(self.points) == 1:
            return np.repeat([[1.0, 0.0]], len(distance), axis=0)
        span, u, _ = self._found(distance, first, last)
        out = self.directions[span, np.where(u < 0.5, 0, 1)]
        inside = (u > 0) & (u < 1) & self.bent[span]
        d = derivative(self.table.steps[span[inside]], u[inside]) if inside.any() else np.empty((0, 2))
        length = np.hypot(*d.T)
        size = np.abs(self.controls[span[inside]] - self.points[span[inside], None]).max(axis=(1, 2))
        sound = length > STILL * size
        chosen = np.flatnonzero(inside)[sound]
        out[chosen] = d[sound] / length[sound, None]
        return out

    @cached_property
    def _headings(self) -> tuple[Floats, Floats]:
        """Distances along the path and the degrees in which it goes there, turned on from each to the next."""
        # All spans in one go: a path may have hundreds.
        steps = np.where(self.bent, 32, 1)
        spans = np.repeat(np.arange(len(steps)), steps + 1)
        ends = np.cumsum(steps + 1) - 1
        starts = ends - steps
        place = np.arange(len(spans)) - starts[spans]
        size = (self.lengths[1:] - self.lengths[:-1]) / steps
        at = self.lengths[:-1][spans] + place * size[spans]
        at[ends] = self.lengths[1:]
        way = self.direction(at, spans, spans)
        way[starts], way[ends] = self.directions[:, 0], self.directions[:, 1]
        return at, np.rad2deg(np.unwrap(np.arctan2(way[:, 1], way[:, 0])))

    def heading(self, distance: Floats, first: Integers, last: Integers) -> Floats:
        """Degrees clockwise from rightwards in which the path goes (n,), counted on through its whole turns."""
        if len(self.points) == 1:
            return np.zeros(len(distance))
        way = self.direction(distance, first, last)
        degrees = np.rad2deg(np.arctan2(way[:, 1], way[:, 0]))
        near = np.interp(distance, *self._headings)
        return np.asarray(degrees + 360 * np.round((near - degrees) / 360))

    def nearest(self, spot: Floats) -> float:
        """The distance along the path at which it comes nearest to a spot (2,)."""
        if len(self.points) < 2:
            return 0.0
        low, high = 0.0, float(self.lengths[-1])
        best = 0.0
        # Looked at evenly, then ever closer around the nearest.
        for _ in range(4):
            at = np.linspace(low, high, 33 * max(1, len(self.points) - 1) if low == 0.0 else 33)
            ends = np.zeros(len(at), np.int64)
            off = np.hypot(*(self.position(at, ends, ends + len(self.points) - 2) - spot).T)
            best = float(at[int(np.argmin(off))])
            step = float(at[1] - at[0])
            low, high = max(0.0, best - step), min(float(self.lengths[-1]), best + step)
        return best

    def parameter_at(self, span: int, share: float) -> float:
        """u at a share of one span's length."""
        if not self.bent[span]:
            return share
        at = self.lengths[span] + share * (self.lengths[span + 1] - self.lengths[span])
        return float(self.table.parameter(np.array([span]), np.array([at]))[0])

    def share_at(self, span: int, u: float) -> float:
        """The share of one span's length at a parameter."""
        size = float(self.lengths[span + 1] - self.lengths[span])
        if not self.bent[span] or size <= 0:
            return u
        return float(self.table.distance_at(np.array([span]), np.array([u]))[0] - self.lengths[span]) / size
