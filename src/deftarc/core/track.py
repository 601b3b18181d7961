"""Tracks: the keys of one property of one layer, as they are kept in the document.

A number's track has keys with values; a position's has a path of points, and keys that rest at places on it; a
colour's or an outline's has values that are blended. All yield one TimeCurve, so whatever shapes time is written once.
"""

import itertools
from functools import cached_property
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from deftarc.core import limits
from deftarc.core.colour import blend
from deftarc.core.curve import THIRD, Integers, TimeCurve
from deftarc.core.geometry import Floats
from deftarc.core.inverse import is_monotone
from deftarc.core.model import Frozen, Kinded, Moment, Number
from deftarc.core.space import Path

#: Stands for the rise of a straight side while a curve is laid out.
NOWHERE = float("nan")


class Side(Frozen):
    """A bent side of a key: how far its handle reaches, as a fraction of the segment's duration, and rises, in
    measure units, towards its own segment. A side that is None is straight.
    """

    reach: Annotated[float, Field(ge=0, le=4 / 3)]
    rise: Number


class KeyBase(Frozen):
    time: Moment
    arriving: Side | None = None
    leaving: Side | None = None
    #: The segment after this key holds its value.
    hold: bool = False
    #: Whether both sides keep one speed.
    joint: Literal["corner", "smooth"] = "corner"


class NumberKey(KeyBase):
    value: Number


class PathKey(KeyBase):
    #: The place on the path, in points: 2 rests on the third point, 2.5 lies halfway to the next.
    at: Annotated[float, Field(ge=0, le=limits.MAX_KEYS_PER_LANE)]


class BlendKey(KeyBase):
    """A key between whose values a share is blended: a colour as four numbers, an outline as its points' numbers."""

    value: Annotated[tuple[Number, ...], Field(min_length=1, max_length=limits.MAX_BLEND_NUMBERS)]


class LooseBlend(Frozen):
    time: Moment
    value: Annotated[tuple[Number, ...], Field(min_length=1, max_length=limits.MAX_BLEND_NUMBERS)]


class LooseNumber(Frozen):
    """A value changed but not keyed: it shows at its own time at work, and never renders."""

    time: Moment
    value: Number


class LoosePosition(Frozen):
    time: Moment
    value: tuple[Number, Number]


class TrackBase(Kinded):
    #: In rising order of time.
    keys: tuple[KeyBase, ...] = Field(default=(), max_length=limits.MAX_KEYS_PER_LANE)

    @property
    def key_times(self) -> list[int]:
        return [key.time for key in self.keys]

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
        # Five numbers a key, NaN where a side is straight: a large scene has thousands, and this is its only loop.
        flat: list[float] = []
        for key in self.keys:
            leaving, arriving = key.leaving, key.arriving
            a, la = (THIRD, NOWHERE) if leaving is None else (leaving.reach, leaving.rise)
            b, lb = (THIRD, NOWHERE) if arriving is None else (arriving.reach, arriving.rise)
            flat.extend((a, la, b, lb, key.hold))
        rows = np.array(flat, np.float64).reshape(-1, 5)
        chord = (measures[1:] - measures[:-1]) / 3
        leaves, arrives = rows[:-1, 1], rows[1:, 3]
        return TimeCurve(
            times=np.array([key.time for key in self.keys], np.int64),
            measures=measures,
            a=rows[:-1, 0],
            la=np.where(np.isnan(leaves), chord, leaves),
            b=rows[1:, 2],
            lb=np.where(np.isnan(arrives), chord, arrives),
            hold=rows[:-1, 4] > 0,
        )

    def _check_times(self) -> None:
        times = self.key_times
        if any(later <= earlier for earlier, later in itertools.pairwise(times)):
            raise ValueError("The keys of a lane stand at rising times, one at each.")
        for left, right in zip(self.keys, self.keys[1:], strict=False):
            a = THIRD if left.leaving is None else left.leaving.reach
            b = THIRD if right.arriving is None else right.arriving.reach
            if not is_monotone(a, b, 1e-6):
                raise ValueError("Two handles reach so far over each other that time would run back.")


class NumberTrack(TrackBase):
    kind: Literal["number"] = "number"
    #: The value while there are no keys.
    value: Number
    keys: tuple[NumberKey, ...] = Field(default=(), max_length=limits.MAX_KEYS_PER_LANE)
    loose: LooseNumber | None = None

    @model_validator(mode="after")
    def _sound(self) -> Self:
        self._check_times()
        return self

    def measures(self) -> Floats:
        return np.array([key.value for key in self.keys])

    def sampled(self, times: Floats, measures: Floats) -> Floats:
        return measures[:, None]

    def value_at(self, time: float) -> float:
        """The value the motion has at a time, loose values left out."""
        return float(self.curve.at([time])[0]) if self.keys else self.value

    def at(self, time: float) -> tuple[float, ...]:
        return (self.value_at(time),)

    def resting(self) -> tuple[float, ...]:
        return (self.value,)


class PathTrack(TrackBase):
    kind: Literal["path"] = "path"
    value: tuple[Number, Number]
    points: tuple[tuple[Number, Number], ...] = Field(default=(), max_length=limits.MAX_KEYS_PER_LANE)
    keys: tuple[PathKey, ...] = Field(default=(), max_length=limits.MAX_KEYS_PER_LANE)
    loose: LoosePosition | None = None

    @model_validator(mode="after")
    def _sound(self) -> Self:
        self._check_times()
        places = [key.at for key in self.keys]
        if bool(places) != bool(self.points):
            raise ValueError("A path has points exactly when it has keys.")
        # Pace keys and floating points are still to come; until then each key has a point of its own.
        if places != [float(index) for index in range(len(self.points))]:
            raise ValueError("Each key of a position rests on a point of its own, in the order of time.")
        return self

    @cached_property
    def path(self) -> Path:
        return Path(np.array(self.points, dtype=np.float64).reshape(-1, 2))

    def measures(self) -> Floats:
        return self.path.length_at(np.array([key.at for key in self.keys]))

    def stretch(self, segments: Integers) -> tuple[Integers, Integers]:
        """First and last span travelled in each time segment, (n,), (n,)."""
        at = np.array([key.at for key in self.keys])
        first = np.floor(at[segments]).astype(np.int64)
        last = np.ceil(at[np.minimum(segments + 1, len(at) - 1)]).astype(np.int64) - 1
        most = len(self.points) - 2
        first = np.minimum(first, most)
        return first, np.clip(last, first, most)

    def positions(self, times: Floats, distance: Floats | None = None) -> Floats:
        """Positions (n, 2) in px at times (n,) in flicks; ``distance`` may bring the curve's samples along."""
        if not self.keys:
            return np.array([self.value], dtype=np.float64)
        if distance is None:
            distance = self.curve.at(times)
        segment, _ = self.curve.locate(times)
        return self.path.position(distance, *self.stretch(segment))

    def sampled(self, times: Floats, measures: Floats) -> Floats:
        return self.positions(times, measures)

    def value_at(self, time: float) -> tuple[float, float]:
        x, y = self.positions(np.array([float(time)]))[0]
        return float(x), float(y)

    def at(self, time: float) -> tuple[float, ...]:
        return self.value_at(time)

    def resting(self) -> tuple[float, ...]:
        return self.value


class BlendTrack(TrackBase):
    """A colour or an outline: the measure is the key's number plus the share on the way to the next."""

    value: Annotated[tuple[Number, ...], Field(min_length=1, max_length=limits.MAX_BLEND_NUMBERS)]
    keys: tuple[BlendKey, ...] = Field(default=(), max_length=limits.MAX_KEYS_PER_LANE)
    loose: LooseBlend | None = None

    @model_validator(mode="after")
    def _sound(self) -> Self:
        self._check_times()
        if any(len(key.value) != len(self.value) for key in self.keys):
            raise ValueError("All keys of a colour or an outline have as many numbers as it has.")
        return self

    def measures(self) -> Floats:
        return np.arange(len(self.keys), dtype=np.float64)

    @cached_property
    def rows(self) -> Floats:
        """The keys' values, (K, n)."""
        return np.array([key.value for key in self.keys], dtype=np.float64)

    def mixed(self, first: Floats, second: Floats, share: Floats) -> Floats:
        """Values (m, n) at shares (m,) between (m, n) and (m, n)."""
        raise NotImplementedError

    def sampled(self, times: Floats, measures: Floats) -> Floats:
        if len(self.keys) == 1:
            return np.repeat(self.rows, len(times), axis=0)
        segment, _ = self.curve.locate(times)
        return self.mixed(self.rows[segment], self.rows[segment + 1], measures - segment)

    def at(self, time: float) -> tuple[float, ...]:
        if not self.keys:
            return self.value
        when = np.array([float(time)])
        return tuple(float(x) for x in self.sampled(when, self.curve.at(when))[0])

    def resting(self) -> tuple[float, ...]:
        return self.value


class ColourTrack(BlendTrack):
    """Encoded sRGB and alpha, blended in OKLab."""

    kind: Literal["colour"] = "colour"

    def mixed(self, first: Floats, second: Floats, share: Floats) -> Floats:
        return blend(first, second, share)


class OutlineTrack(BlendTrack):
    """Six numbers a point (x, y, arriving handle, leaving handle, from the point), blended point by point."""

    kind: Literal["outline"] = "outline"

    def mixed(self, first: Floats, second: Floats, share: Floats) -> Floats:
        return first + (second - first) * share[:, None]


AnyTrack = NumberTrack | PathTrack | ColourTrack | OutlineTrack
Track = Annotated[NumberTrack | PathTrack | ColourTrack | OutlineTrack, Field(discriminator="kind")]
