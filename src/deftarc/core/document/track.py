"""Tracks: the keys of one property of one layer, as they are kept in the document.

A number's track has keys with values; a position's has a path of points, and keys that rest at places on it; a
colour's or an outline's has values that are blended. All yield one TimeCurve, so whatever shapes time is written once.
"""

import math
from bisect import bisect_left
from functools import cached_property
from itertools import chain
from operator import attrgetter, le, lt
from typing import Annotated, Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.model import CHECKED, Number
from deftarc.core.curves.curve import THIRD, TimeCurve
from deftarc.core.curves.inverse import is_monotone
from deftarc.core.curves.joints import automatic_speeds, within_keys
from deftarc.core.curves.sides import HOLDING, Automatic, Side, Steps
from deftarc.core.document.craft import Craft
from deftarc.core.document.keys import BlendKey, KeyBase, LooseBlend, LooseNumber, LoosePosition, NumberKey, PathKey
from deftarc.core.document.lasting import Lasting
from deftarc.core.spaces.bends import path_of
from deftarc.core.spaces.colour import blend, extended
from deftarc.core.spaces.path import Path
from deftarc.core.spaces.points import PathPoint

#: No logarithm grows further: its exponential is already past every limit.
MOST_GROWTH = 30.0
#: Stands for the rise of a straight side while a curve is laid out.
NOWHERE = float("nan")


#: What the curve reads of a key and of a side, at once; and a side that is straight.
_SHAPE, _HANDLE = attrgetter("leaving", "arriving", "hold", "steps", "joint"), attrgetter("reach", "rise")
_STRAIGHT = (THIRD, NOWHERE)
#: A key of a corner with straight sides and no steps.
_PLAIN = (None, None, False, None, "corner")
_REACH = attrgetter("reach")
#: Beyond it lies nothing; asked so that what is no number is not within it.
_FARTHEST = float(limits.MAX_NUMBER)
_BENT, _STRAIGHT_SIDES = attrgetter("leaving", "arriving"), (None, None)
_TIME, _VALUE, _PLACE = attrgetter("time"), attrgetter("value"), attrgetter("at", "past")


class TrackBase(Lasting):
    #: What its keys are.
    key_type: ClassVar[type[KeyBase]] = KeyBase
    #: In rising order of time.
    keys: tuple[KeyBase, ...] = Field(default=(), max_length=limits.MAX_KEYS_PER_LANE)
    #: Rises are shortened, in the curve and not in the keys, until it stays within its keys.
    within: bool = False
    #: What settles and bounces were made from: see craft.py.
    crafts: tuple[Craft, ...] = Field(default=(), max_length=limits.MAX_CRAFTS)

    @cached_property
    def key_times(self) -> list[int]:
        """When its keys are, in flicks, rising; one list for all who ask, not to be changed."""
        return list(map(_TIME, self.keys))

    @cached_property
    def key_set(self) -> frozenset[int]:
        """The times of the keys, to be asked for one by one."""
        return frozenset(self.key_times)

    def time_near(self, time: int, half: int) -> int:
        """The time of the key nearest to a time, if it lies within ``half`` a frame of it; else the time itself."""
        times = self.key_times
        k = bisect_left(times, time)
        near = min(times[max(0, k - 1) : k + 1], key=lambda each: abs(each - time), default=time)
        return near if abs(near - time) <= half else time

    def measures(self) -> Floats:
        """The measure at each key, (K,)."""
        raise NotImplementedError

    def sampled(self, times: Floats, measures: Floats) -> Floats:
        """The values (n, components) at times (n,) in flicks, where the time curve has these measures (n,)."""
        raise NotImplementedError

    def at(self, time: float) -> tuple[float, ...]:
        """The value's components at a time, loose values left out."""
        raise NotImplementedError

    def resting(self) -> tuple[float, ...]:
        """The value's components while there are no keys."""
        raise NotImplementedError

    @cached_property
    def curve(self) -> TimeCurve:
        """The time curve of a track that has keys."""
        measures = self.measures()
        # Four numbers a key, NaN where a side is straight: a large scene has thousands, and this is its only loop.
        flat: list[float] = []
        unusual: list[int] = []
        shapes = list(map(_SHAPE, self.keys))
        if all(map(_PLAIN.__eq__, shapes)):
            # Straight from key to key, as what was laid on mostly is: nothing has to be looked at one by one.
            flat, shapes = [*_STRAIGHT, *_STRAIGHT] * len(shapes), []
        for k, (leaving, arriving, hold, told, joint) in enumerate(shapes):
            flat += _STRAIGHT if leaving is None else _HANDLE(leaving)
            flat += _STRAIGHT if arriving is None else _HANDLE(arriving)
            if hold or told is not None or joint == "automatic":
                unusual.append(k)
        rows = np.array(flat, np.float64).reshape(-1, 4)
        times = np.fromiter(map(_TIME, self.keys), np.int64, len(self.keys))
        steps = np.zeros((len(times) - 1, 3), np.int64)
        for k in unusual:
            jumps = self.keys[k].steps
            if k < len(steps) and (self.keys[k].hold or jumps is not None):
                steps[k] = HOLDING if jumps is None else jumps.row
        if unusual:
            self._lay_automatic(unusual, times, measures, steps, rows)
        change = measures[1:] - measures[:-1]
        leaves, arrives = rows[:-1, 1], rows[1:, 3]
        la = np.where(np.isnan(leaves), change / 3, leaves)
        lb = np.where(np.isnan(arrives), change / 3, arrives)
        if self.within and len(change):
            la, lb = within_keys(la, lb, change)
        return TimeCurve(times, measures, rows[:-1, 0], la, rows[1:, 2], lb, steps)

    @property
    def bare(self) -> TimeCurve:
        """The time curve as its handles make it, not yet kept within its keys."""
        return self.changed(within=False).curve if self.within else self.curve

    def _lay_automatic(
        self, unusual: list[int], times: Integers, measures: Floats, steps: Integers, rows: Floats
    ) -> None:
        """Both sides of automatic joints written into ``rows``."""
        chosen = [k for k in unusual if self.keys[k].joint == "automatic"]
        if not chosen:
            return
        told = np.zeros((len(times), 4))
        for k in chosen:
            how = self.keys[k].automatic or Automatic()
            told[k] = (how.tension, how.continuity, how.bias, how.free)
        arriving, leaving = self._around(times, measures, steps[:, 0] > 0, told)
        duration = np.diff(times) / 3
        for k in chosen:
            if k < len(duration):
                rows[k, :2] = THIRD, leaving[k] * duration[k]
            if k:
                rows[k, 2:4] = THIRD, arriving[k] * duration[k - 1]

    def _around(self, times: Integers, measures: Floats, stepped: Any, told: Floats) -> tuple[Floats, Floats]:
        """Automatic speeds of all keys; where all keys are played again, the ends take their neighbours around the
        cycle, where that comes back to where it began or adds up.
        """
        cyclic = [each for each in (self.after, self.before) if each is not None and each.cycles and each.part is None]
        if not cyclic or len(times) < 3:
            return automatic_speeds(times, measures, stepped, told)
        whole, gain = times[-1] - times[0], measures[-1] - measures[0]
        if cyclic[0].how == "alternate":
            beside = (2 * times[0] - times[1], 2 * times[-1] - times[-2])
            level = (measures[1], measures[-2])
        elif cyclic[0].how == "accumulate" or abs(gain) < 1e-9 * max(1.0, float(np.abs(measures).max())):
            beside = (times[-2] - whole, times[1] + whole)
            level = (measures[-2] - gain, measures[1] + gain)
        else:
            return automatic_speeds(times, measures, stepped, told)
        arriving, leaving = automatic_speeds(
            np.concatenate(([beside[0]], times, [beside[1]])),
            np.concatenate(([level[0]], measures, [level[1]])),
            np.concatenate((stepped[-1:], stepped, stepped[:1])),
            np.concatenate((told[:1], told, told[-1:])),
        )
        return arriving[1:-1], leaving[1:-1]

    def _found_sound(self) -> Self:
        """Itself, remembered to be sound as a whole: what is changed of it is another one."""
        self.__dict__[CHECKED] = True
        return self

    def _check_times(self) -> None:
        for told in (self.before, self.after):
            if told is not None and told.value and len(told.value) != self.width:
                raise ValueError("What rests before or after keys has as many numbers as its property.")
        times = self.key_times
        # Not said by what a key is alone: whoever copies a track with other keys has them looked at here.
        if len(times) > limits.MAX_KEYS_PER_LANE:
            raise ValueError(f"A lane has at most {limits.MAX_KEYS_PER_LANE:,} keys.")
        if not set(map(type, self.keys)) <= {self.key_type}:
            raise ValueError("A lane has keys of its own kind.")
        # Compared as wholes: a lane may have thousands, and is checked at every edit of it.
        if not all(map(lt, times, times[1:])):
            raise ValueError("The keys of a lane stand at rising times, one at each.")
        if all(map(_STRAIGHT_SIDES.__eq__, map(_BENT, self.keys))):
            return
        # Handles that each stay within their segment never run back, whatever the other one does.
        sides = (side for key in self.keys for side in (key.leaving, key.arriving) if side is not None)
        if max(map(_REACH, sides)) <= 1.0:
            return
        for left, right in zip(self.keys, self.keys[1:], strict=False):
            if left.leaving is None and right.arriving is None:
                continue
            a = THIRD if left.leaving is None else left.leaving.reach
            b = THIRD if right.arriving is None else right.arriving.reach
            if not is_monotone(a, b, 1e-6):
                raise ValueError("Two handles reach so far over each other that time would run back.")


class NumberTrack(TrackBase):
    key_type: ClassVar[type[KeyBase]] = NumberKey
    kind: Literal["number"] = "number"
    #: The value while there are no keys.
    value: Number
    keys: tuple[NumberKey, ...] = Field(default=(), max_length=limits.MAX_KEYS_PER_LANE)
    loose: LooseNumber | None = None
    #: The measure is the value's logarithm, so that growth looks even.
    evenly: bool = False

    @model_validator(mode="after")
    def _sound(self) -> Self:
        self._check_times()
        if self.evenly and any(key.value <= 0 for key in self.keys):
            raise ValueError("What grows evenly has values above nought at all its keys.")
        return self._found_sound()

    def measures(self) -> Floats:
        values = np.fromiter(map(_VALUE, self.keys), np.float64, len(self.keys))
        return np.log(values) if self.evenly else values

    def sampled(self, times: Floats, measures: Floats) -> Floats:
        return self.valued(measures)[:, None]

    def valued(self, measures: Floats) -> Floats:
        """Values at measures, any shape."""
        return np.exp(np.minimum(measures, MOST_GROWTH)) if self.evenly else measures

    def _added(self, values: Floats, side: str, turns: Floats) -> Floats:
        if not self.evenly:
            return super()._added(values, side, turns)
        # What grows evenly goes on by ratios: from 1 to 2, then from 2 to 4.
        a, b = self.cycle(side)
        gain = math.log(self.keys[b].value / self.keys[a].value)
        return self.valued(np.log(values) + np.clip(gain * turns, -MOST_GROWTH, MOST_GROWTH)[:, None])

    def value_at(self, time: float) -> float:
        """The value the motion has at a time, loose values left out."""
        if not self.keys:
            return self.value
        if self.lasts:
            return float(self.motion(np.array([float(time)]))[0, 0])
        measure = self.curve.one(time)
        return math.exp(min(measure, MOST_GROWTH)) if self.evenly else measure

    def at(self, time: float) -> tuple[float, ...]:
        return (self.value_at(time),)

    def resting(self) -> tuple[float, ...]:
        return (self.value,)


#: What a track of positions works out from the points of its path alone.
OF_POINTS = ("path", "points_near")


class PathTrack(TrackBase):
    key_type: ClassVar[type[KeyBase]] = PathKey
    kind: Literal["path"] = "path"
    value: tuple[Number, Number]
    points: tuple[PathPoint, ...] = Field(default=(), max_length=limits.MAX_KEYS_PER_LANE)
    #: The last point lies on the first one, and they are one to the hand.
    closed: bool = False
    #: How many points it has where the last one was added to close it, and goes when it is opened; 0 where it was not.
    way_back: Annotated[int, Field(ge=0, le=limits.MAX_KEYS_PER_LANE)] = 0
    #: Points made from now on are automatic with this roundness; None makes them straight.
    rounded: Annotated[float, Field(ge=0, le=1)] | None = None
    keys: tuple[PathKey, ...] = Field(default=(), max_length=limits.MAX_KEYS_PER_LANE)
    loose: LoosePosition | None = None

    @model_validator(mode="after")
    def _sound(self) -> Self:
        self._check_times()
        if bool(self.keys) != bool(self.points):
            raise ValueError("A path has points exactly when it has keys.")
        last = len(self.points) - 1
        if any(key.at > last for key in self.keys):
            raise ValueError("A key of a position lies on its path.")
        resting = [key.at for key in self.keys if key.rests]
        if not all(map(le, resting, resting[1:])):
            raise ValueError("Points of a path are passed in their order.")
        if not self.points_near:
            raise ValueError("A point of a path cannot lie that far out.")
        if self.closed and (last < 2 or self.points[0].spot != self.points[-1].spot):
            raise ValueError("A closed path comes back to where it began, through one point more at least.")
        return self._found_sound()

    @property
    def spots(self) -> tuple[tuple[float, float], ...]:
        return tuple(point.spot for point in self.points)

    @cached_property
    def path(self) -> Path:
        return path_of(self.points, self.closed)

    @cached_property
    def points_near(self) -> bool:
        """Whether all points lie where points may: they are moved unchecked, one by one."""
        far = chain.from_iterable((p.x, p.y, *(p.arriving or ()), *(p.leaving or ())) for p in self.points)
        return all(map(_FARTHEST.__ge__, map(abs, far)))

    @cached_property
    def _places(self) -> Floats:
        """Where on the path each key is, and how far past that in px, (K, 2)."""
        numbers = chain.from_iterable(map(_PLACE, self.keys))
        return np.fromiter(numbers, np.float64, 2 * len(self.keys)).reshape(-1, 2)

    def measures(self) -> Floats:
        return self.path.length_at(self._places[:, 0]) + self._places[:, 1]

    @cached_property
    def stretches(self) -> tuple[Integers, Integers]:
        """First and last span travelled in each time segment, (K−1,), (K−1,); one pair for a single key.

        A key past its place belongs to the span that arrives there, one before its place to the span that leaves;
        the motion may go back along the path between pace keys.
        """
        most = max(len(self.points) - 2, 0)
        at, past = self._places.T

        def arrives(place: Floats) -> Floats:
            return np.clip(np.ceil(place) - 1, 0, most)

        def leaves(place: Floats) -> Floats:
            return np.minimum(np.floor(place), most)

        if len(at) == 1:
            only = arrives(at).astype(np.int64)
            return only, only
        forward = at[1:] >= at[:-1]
        low, high = np.where(forward, at[:-1], at[1:]), np.where(forward, at[1:], at[:-1])
        before, after = np.where(forward, past[:-1], past[1:]), np.where(forward, past[1:], past[:-1])
        first = np.where(before > 0, arrives(low), leaves(low))
        last = np.where(after < 0, leaves(high), arrives(high))
        # In place: on along the way that arrives, unless it is before the way that leaves.
        still = np.where((before < 0) | (after < 0), leaves(low), arrives(low))
        first, last = np.where(low == high, still, first), np.where(low == high, still, last)
        return first.astype(np.int64), np.maximum(first, last).astype(np.int64)

    def stretch(self, segments: Integers) -> tuple[Integers, Integers]:
        """First and last span travelled in each of some time segments, (n,), (n,)."""
        first, last = self.stretches
        return first[segments], last[segments]

    def headings(self, times: Floats) -> Floats:
        """Degrees clockwise from rightwards in which the path goes where the motion is at times (n,)."""
        if len(self.points) < 2:
            return np.zeros(len(times))
        if self.lasts:
            times = self.folded(times).at
        segment, _ = self.curve.locate(times)
        return self.path.heading(self.curve.at(times), *self.stretch(segment))

    def positions(self, times: Floats, distance: Floats | None = None) -> Floats:
        """Positions (n, 2) in px at times (n,) in flicks; ``distance`` may bring the curve's samples along."""
        if not self.keys:
            return np.array([self.value], dtype=np.float64)
        if distance is None:
            return self.motion(times)
        segment, _ = self.curve.locate(times)
        return self.path.position(distance, *self.stretch(segment))

    def sampled(self, times: Floats, measures: Floats) -> Floats:
        return self.positions(times, measures)

    def value_at(self, time: float) -> tuple[float, float]:
        distance = np.array([self.curve.one(time)]) if self.keys and not self.lasts else None
        x, y = self.positions(np.array([float(time)]), distance)[0]
        return float(x), float(y)

    def at(self, time: float) -> tuple[float, ...]:
        return self.value_at(time)

    def resting(self) -> tuple[float, ...]:
        return self.value


class BlendTrack(TrackBase):
    """A colour or an outline: the measure is the key's number plus the share on the way to the next."""

    key_type: ClassVar[type[KeyBase]] = BlendKey
    value: Annotated[tuple[Number, ...], Field(min_length=1, max_length=limits.MAX_BLEND_NUMBERS)]
    keys: tuple[BlendKey, ...] = Field(default=(), max_length=limits.MAX_KEYS_PER_LANE)
    loose: LooseBlend | None = None

    @model_validator(mode="after")
    def _sound(self) -> Self:
        self._check_times()
        if any(told is not None and told.how in ("accumulate", "continue") for told in (self.before, self.after)):
            raise ValueError("Colours and outlines do not add up, and have no speed to go on at.")
        if any(len(key.value) != len(self.value) for key in self.keys):
            raise ValueError("All keys of a colour or an outline have as many numbers as it has.")
        if self.loose is not None and len(self.loose.value) != len(self.value):
            raise ValueError("What was changed but not keyed of a colour or an outline has as many numbers as it has.")
        return self._found_sound()

    def measures(self) -> Floats:
        return np.arange(len(self.keys), dtype=np.float64)

    @cached_property
    def rows(self) -> Floats:
        """The keys' values, (K, n)."""
        return np.array([key.value for key in self.keys], dtype=np.float64)

    def mixed(self, first: Floats, second: Floats, share: Floats) -> Floats:
        """Values (m, n) at shares (m,) between (m, n) and (m, n)."""
        raise NotImplementedError

    def between(self, segment: int, share: float) -> tuple[float, ...]:
        """The value at a share of the way between two keys, also beyond them, as the end of a part of that way."""
        row = self.mixed(self.rows[segment : segment + 1], self.rows[segment + 1 : segment + 2], np.array([share]))[0]
        return tuple(float(x) for x in row)

    def sampled(self, times: Floats, measures: Floats) -> Floats:
        if len(self.keys) == 1:
            return np.repeat(self.rows, len(times), axis=0)
        segment, _ = self.curve.locate(times)
        return self.mixed(self.rows[segment], self.rows[segment + 1], measures - segment)

    def at(self, time: float) -> tuple[float, ...]:
        if not self.keys:
            return self.value
        return tuple(float(x) for x in self.motion(np.array([float(time)]))[0])

    def resting(self) -> tuple[float, ...]:
        return self.value


class ColourTrack(BlendTrack):
    """Encoded sRGB and alpha, blended in OKLab."""

    kind: Literal["colour"] = "colour"

    def mixed(self, first: Floats, second: Floats, share: Floats) -> Floats:
        return blend(first, second, share)

    def between(self, segment: int, share: float) -> tuple[float, ...]:
        # Beyond what can be shown it is kept as it is, or the way on both sides of it would be another one.
        one, other = self.rows[segment : segment + 1], self.rows[segment + 1 : segment + 2]
        row = (
            extended(one, other, np.array([share]))[0]
            if not 0 <= share <= 1
            else self.mixed(one, other, np.array([share]))[0]
        )
        return tuple(float(x) for x in row)

    def sampled(self, times: Floats, measures: Floats) -> Floats:
        return np.clip(super().sampled(times, measures), 0.0, 1.0)


class OutlineTrack(BlendTrack):
    """Six numbers a point (x, y, arriving handle, leaving handle, from the point), blended point by point."""

    kind: Literal["outline"] = "outline"

    def mixed(self, first: Floats, second: Floats, share: Floats) -> Floats:
        return first + (second - first) * share[:, None]


AnyTrack = NumberTrack | PathTrack | ColourTrack | OutlineTrack
Track = Annotated[NumberTrack | PathTrack | ColourTrack | OutlineTrack, Field(discriminator="kind")]

__all__ = [
    "OF_POINTS",
    "AnyTrack",
    "Automatic",
    "BlendKey",
    "BlendTrack",
    "ColourTrack",
    "KeyBase",
    "LooseBlend",
    "LooseNumber",
    "LoosePosition",
    "NumberKey",
    "NumberTrack",
    "OutlineTrack",
    "PathKey",
    "PathPoint",
    "PathTrack",
    "Side",
    "Steps",
    "Track",
    "TrackBase",
]  # fmt: skip
