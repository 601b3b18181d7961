"""Where: the second map, from distance along a path to a position.

Every span is straight for now. What the rest of the core asks of a path is already only this: its length up
to a place on it, and the position at a distance within a stretch.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from deftarc.core.curve import Integers
from deftarc.core.geometry import Floats


@dataclass(frozen=True, eq=False)
class Path:
    """A row of points (P, 2) in px, P ≥ 1, joined by straight spans. A *place* is a real number: 2.25 is a
    quarter of the way from point 2 to point 3.
    """

    points: Floats

    @cached_property
    def lengths(self) -> Floats:
        """Distance from the start to each point, (P,)."""
        steps = np.hypot(*np.diff(self.points, axis=0).T) if len(self.points) > 1 else np.empty(0)
        return np.concatenate(([0.0], np.cumsum(steps)))

    @cached_property
    def directions(self) -> Floats:
        """The unit direction of each span, (P−1, 2). A span of no length takes the one before it, at the start
        the next one that has a length; a path of no length points right.
        """
        spans = np.diff(self.points, axis=0)
        length = np.diff(self.lengths)
        going = np.array([1.0, 0.0])
        moving = np.flatnonzero(length > 0)
        if moving.size:
            going = spans[moving[0]] / length[moving[0]]
        out = np.empty_like(spans)
        for k in range(len(spans)):
            if length[k] > 0:
                going = spans[k] / length[k]
            out[k] = going
        return out

    def length_at(self, place: Floats) -> Floats:
        """Distance along the path at places (n,) to (n,)."""
        return np.interp(place, np.arange(len(self.points)), self.lengths)

    def place_at(self, distance: float) -> float:
        """The place at a distance along the path, kept on it."""
        return float(np.interp(distance, self.lengths, np.arange(len(self.points))))

    def position(self, distance: Floats, first: Integers, last: Integers) -> Floats:
        """Positions (n, 2) at distances (n,) of motions between spans ``first`` and ``last`` (n,), inclusive.

        Past the stretch's ends the motion runs straight on along its end's tangent: every joint here is a
        corner. So overshoot never turns into the next span.
        """
        if len(self.points) == 1:
            out = np.repeat(self.points, len(distance), axis=0)
            return out
        span = np.clip(np.searchsorted(self.lengths, distance, side="right") - 1, first, last)
        beyond = (distance - self.lengths[span])[:, None]
        return self.points[span] + self.directions[span] * beyond
