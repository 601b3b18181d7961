"""Lanes as Lottie properties: a value, or keys with a handle each way."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.plain.lanes import EVEN, Lane, sampled, split_ease
from deftarc.core.plain.levels import NEAR, Travel
from deftarc.core.spaces.contours import part_of_span

#: Gives a row's value as a key has it.
Said = Callable[[Floats], Any]
#: Keys are no nearer to one another, in frames: players divide by what is between them.
APART = 1e-3


def number(value: float, digits: int = 3) -> float:
    """A number to so many decimals, a whole one without any."""
    told = round(float(value), digits)
    return int(told) if told == int(told) else told


def row(values: Floats, digits: int = 3) -> list[float]:
    return [number(value, digits) for value in np.ravel(values)]


def still(*values: float) -> dict[str, Any]:
    """A property that does not move: a number, or several."""
    return {"a": 0, "k": values[0] if len(values) == 1 else list(values)}


@dataclass(frozen=True)
class Count:
    """Counts time in frames from a moment, in flicks, up to another."""

    start: float
    end: float
    frame: float

    def frames(self, time: float) -> float:
        return number((time - self.start) / self.frame, 4)

    def _part(self, lane: Lane) -> Lane:
        """What of a lane is in its time, without keys where it only waits for its own, or after them."""
        told = lane.part(self.start, self.end)
        first = 1 if len(told.eases) > 1 and told.holds[0] and told.times[0] < lane.times[0] else 0
        last = 1 if len(told.eases) > 1 and told.holds[-1] and told.times[-1] > lane.times[-1] else 0
        keys, eases = (slice(first, n - last) for n in (len(told.times), len(told.eases)))
        return Lane(told.times[keys], told.rows[keys], told.eases[eases], told.exact)

    def property(self, lane: Lane, digits: int = 3, factor: float = 1.0) -> dict[str, Any]:
        """A property of a number, or of several."""
        return self.said(lane, lambda r: row(r * factor, digits))

    def said(self, lane: Lane, said: Said) -> dict[str, Any]:
        """A property of whatever ``said`` makes of a row."""
        lane = self._part(lane)
        if not lane.moves:
            value = said(lane.value)
            return {"a": 0, "k": value[0] if len(value) == 1 else value}
        keys = []
        for k, values in enumerate(lane.rows):
            key: dict[str, Any] = {"t": self.frames(lane.times[k]), "s": said(values)}
            if k < len(lane.eases):
                key |= {"h": 1} if lane.holds[k] else eased(lane.eases[k])
            keys.append(key)
        return {"a": 1, "k": _in_order(keys)}

    def share(self, lane: Lane, frames: tuple[float, float]) -> dict[str, Any]:
        """An opacity that is none from the last of two frames on, as some players show a layer there once more."""
        first, last = frames
        if self.start + last * self.frame >= self.end:
            return self.property(lane, 3, 100)
        shown = self.property(lane.part(self.start, self.start + last * self.frame), 3, 100)
        keys = shown["k"] if shown["a"] else [{"t": first, "s": [shown["k"]]}]
        return {"a": 1, "k": _in_order([*keys[:-1], keys[-1] | {"h": 1}, {"t": last, "s": [0]}])}

    def travelled(self, travel: Travel) -> dict[str, Any]:
        """A position along a path, each key with how the path leaves it and comes to the next one."""
        lane = self._part(travel.distance)
        keys: list[dict[str, Any]] = []
        for k in range(len(lane.eases)):
            first, last = (float(lane.rows[n, 0]) for n in (k, k + 1))
            if lane.holds[k] or first == last:
                keys.append({"t": self.frames(lane.times[k]), "s": row(_spot(travel, first)), "h": 1})
            elif 0 <= lane.eases[k, 1] <= 1 and 0 <= lane.eases[k, 3] <= 1:
                keys += self._rides(travel, lane, k)
            else:
                keys += self._steps(travel, lane, k)
        end = row(_spot(travel, float(lane.rows[-1, 0])))
        if not keys:
            return {"a": 0, "k": end}
        return {"a": 1, "k": _in_order([*keys, {"t": self.frames(lane.times[-1]), "s": end}])}

    def _rides(self, travel: Travel, lane: Lane, k: int) -> Iterator[dict[str, Any]]:
        """One segment of a lane, cut where it goes from one span to the next: it rises all along."""
        table, lengths = travel.table, travel.table.lengths
        first, last = (float(lane.rows[n, 0]) for n in (k, k + 1))
        start, lasts = float(lane.times[k]), float(lane.times[k + 1] - lane.times[k])
        low, high = min(first, last), max(first, last)
        slack = 1e-7 * max(1.0, high)
        cuts = [float(x) for x in lengths if low + slack < x < high - slack]
        cuts = [first, *(cuts if last > first else reversed(cuts)), last]
        shares = [(cut - first) / (last - first) for cut in cuts]
        for n, (ease, when) in enumerate(split_ease(lane.eases[k], shares)):
            here, there = cuts[n], cuts[n + 1]
            span = _span_of(lengths, (here + there) / 2)
            u = table.parameter(np.array([span, span]), np.array([here, there]))
            piece = part_of_span(travel.spans[span], float(u.min()), float(u.max()))
            p = piece if there > here else piece[::-1]
            key = {"t": self.frames(start + lasts * when), "s": row(p[0]), **eased(ease)}
            if _bent(p):
                key |= {"to": row(p[1] - p[0]), "ti": row(p[2] - p[3])}
            yield key

    def _steps(self, travel: Travel, lane: Lane, k: int) -> Iterator[dict[str, Any]]:
        """One segment of a lane that turns back on the path: straight from place to place, as near as can be seen."""
        start, end = float(lane.times[k]), float(lane.times[k + 1])
        count = max(2, 4 * round((end - start) / self.frame))
        times = np.linspace(start, end, count + 1)
        spots = travel.spots(lane.at(times)[:, 0])
        told = sampled(times, spots, NEAR)
        for time, spot in zip(told.times[:-1], told.rows[:-1], strict=True):
            yield {"t": self.frames(float(time)), "s": row(spot), **eased(np.array(EVEN))}
        if not told.moves:
            yield {"t": self.frames(start), "s": row(spots[0]), "h": 1}


def eased(ease: Floats) -> dict[str, Any]:
    """The handles of a segment: how its first key is left, and how its last one is come to."""
    x1, y1, x2, y2 = (float(x) for x in ease)
    if abs(x1 - y1) < 1e-9 and abs(x2 - y2) < 1e-9:
        return {"o": {"x": 0, "y": 0}, "i": {"x": 1, "y": 1}}
    x1, x2 = (min(1.0, max(0.0, x)) for x in (x1, x2))
    return {"o": {"x": number(x1, 6), "y": number(y1, 6)}, "i": {"x": number(x2, 6), "y": number(y2, 6)}}


def _in_order(keys: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Keys of one moment a little apart: what jumps there does so at that moment, and not after it."""
    for k in range(len(keys) - 2, -1, -1):
        if keys[k + 1]["t"] - keys[k]["t"] < APART:
            keys[k]["t"] = number(keys[k + 1]["t"] - APART, 4)
    return keys


def _bent(p: Floats) -> bool:
    """Whether a span is more than a straight line that is gone along evenly."""
    third = (p[3] - p[0]) / 3
    return bool(np.abs(np.stack([p[1] - p[0] - third, p[3] - p[2] - third])).max() > 1e-3)


def _span_of(lengths: Floats, distance: float) -> int:
    return int(np.clip(np.searchsorted(lengths, distance, side="right") - 1, 0, len(lengths) - 2))


def _spot(travel: Travel, distance: float) -> Floats:
    return np.asarray(travel.spots(np.array([distance]))[0])


__all__ = ["Count", "Said", "eased", "number", "row", "still"]
