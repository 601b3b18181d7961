"""Settle and Bounce: ordinary keys worked out from their physics, and the record that lets the numbers be changed."""

import math
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Kinded, Number
from deftarc.core.curves.knots import Knot
from deftarc.core.curves.sides import Side

THIRD = 1 / 3
#: What is left of the first swing when a settle at the playhead comes to rest.
FADED = 0.02

Count = Annotated[int, Field(ge=1, le=24)]


class Settle(Kinded):
    """A damped spring. ``far`` is how far past the first swing goes: a share of the change between two keys, or,
    at the playhead, an amount in the measure's unit. ``often`` counts the swings, ``soon`` is the time in seconds
    until it rests.
    """

    kind: Literal["settle"] = "settle"
    #: Whether it takes the way between two keys, or stirs what rests.
    between: bool = True
    far: Number = 0.2
    often: Count = 3
    soon: Annotated[float, Field(gt=0, le=600)] = 1.0


class Bounce(Kinded):
    """A ball let go. ``height`` is the drop in the measure's unit, ``keeps`` the restitution: the share of the speed
    kept at each contact; ``often`` counts the bounces; ``soon`` is the time in seconds until it lies still.
    """

    kind: Literal["bounce"] = "bounce"
    between: bool = True
    height: Number = 1.0
    keeps: Annotated[float, Field(gt=0, lt=1)] = 0.5
    often: Count = 3
    soon: Annotated[float, Field(gt=0, le=600)] = 1.0

    @property
    def fall(self) -> float:
        """Seconds of the first fall: every later arc takes 2·keepsⁿ of it."""
        return self.soon / (1 + 2 * sum(self.keeps**n for n in range(1, self.often + 1)))

    @property
    def gravity(self) -> float:
        """The measure's unit per second squared: h = ½·g·t²."""
        return 2 * self.height / self.fall**2


Craft = Annotated[Settle | Bounce, Field(discriminator="kind")]
AnyCraft = Settle | Bounce


def time_of_fall(height: float, gravity: float, keeps: float, often: int) -> float:
    """Seconds until a ball let go at a height lies still, under a gravity in the same unit per second squared."""
    return math.sqrt(2 * abs(height) / gravity) * (1 + 2 * sum(keeps**n for n in range(1, often + 1)))


def knots_of(craft: AnyCraft) -> list[Knot]:
    """The keys a craft makes: between two keys with y a share of their change, else y in the measure's unit."""
    if isinstance(craft, Bounce):
        return _bounce(craft)
    return _spring(craft) if craft.between else _stir(craft)


def _bounce(told: Bounce) -> list[Knot]:
    """Falls and rises are halves of parabolas, exact with reaches of a third: level at peaks, 2/3 at contacts."""
    size = 1.0 if told.between else told.height
    fall = told.fall / told.soon
    x = fall
    down = Side(reach=THIRD, rise=2 / 3 * size)
    out = [Knot(x=0, y=0, leaving=Side(reach=THIRD, rise=0.0))]
    level = Side(reach=THIRD, rise=0.0)
    for n in range(1, told.often + 1):
        height = told.keeps ** (2 * n) * size
        half = told.keeps**n * fall
        up = Side(reach=THIRD, rise=-2 / 3 * height)
        out.append(Knot(x=x, y=size, arriving=down, leaving=up))
        out.append(Knot(x=x + half, y=size - height, arriving=level, leaving=level))
        down = Side(reach=THIRD, rise=2 / 3 * height)
        x += 2 * half
    out.append(Knot(x=1, y=size, arriving=down))
    return out


def swing(ratio: float) -> tuple[float, float]:
    """The reaches of the level handles of half a swing that dies down by ``ratio`` from one extreme to the next.

    Fitted to the damped spring's closed form; alike for all swings, as they are alike but for their size.
    """
    return _fitted(round(ratio, 6), False)


@lru_cache(maxsize=512)
def _fitted(ratio: float, first: bool) -> tuple[float, float]:
    decay = -math.log(ratio) / math.pi
    if first:
        end = math.atan2(1.0, decay)
        top = math.exp(-decay * end) * math.sin(end)
        slope = end / top
    else:
        end, top, slope = math.pi, 1.0, 0.0

    def exact(x: Floats) -> Floats:
        t = x * end
        if first:
            return np.asarray(np.exp(-decay * t) * np.sin(t) / top)
        return np.asarray((1 - np.exp(-decay * t) * (np.cos(t) + decay * np.sin(t))) / (1 + ratio))

    u = np.linspace(0, 1, 49)

    def off(reaches: Floats) -> Floats:
        a, b = reaches
        x = 3 * a * u * (1 - u) ** 2 + 3 * (1 - b) * u**2 * (1 - u) + u**3
        return 3 * slope * a * u * (1 - u) ** 2 + 3 * u**2 * (1 - u) + u**3 - exact(x)

    # Asked for here: it takes longer to load than all else of the core, and few need it.
    from scipy.optimize import least_squares

    found = least_squares(off, (0.35, 0.4), bounds=((0.0, 0.0), (1.0, 1.0)), xtol=1e-12, ftol=1e-12)
    return float(found.x[0]), float(found.x[1])


def _spring(told: Settle) -> list[Knot]:
    """From rest at 0 to rest at 1, by x(t) = 1 − e^(−σt)(cos ωt + σ/ω sin ωt): extremes 1 − (−far)ⁿ at equal times."""
    ratio = min(max(abs(told.far), 1e-3), 0.95)
    reaches = swing(ratio)
    count = told.often + 1
    spots = [(n / count, 1 - (-ratio) ** n) for n in range(count)] + [(1.0, 1.0)]
    return _level(spots, reaches)


def _stir(told: Settle) -> list[Knot]:
    """From rest, out by ``far`` and back to rest: e^(−σt)·sin ωt, its extremes dying down to a fiftieth."""
    ratio = FADED ** (1 / told.often)
    decay = -math.log(ratio) / math.pi
    first = math.atan2(1.0, decay)
    whole = first + told.often * math.pi
    spots = [(0.0, 0.0)]
    spots += [((first + n * math.pi) / whole, told.far * (-ratio) ** n) for n in range(told.often)]
    spots.append((1.0, 0.0))
    out = _level(spots, swing(ratio))
    a, b = _fitted(round(ratio, 6), True)
    slope = first / (math.exp(-decay * first) * math.sin(first))
    out[0] = out[0].changed(leaving=Side(reach=a, rise=a * slope * told.far))
    out[1] = out[1].changed(arriving=Side(reach=b, rise=0.0))
    return out


def _level(spots: list[tuple[float, float]], reaches: tuple[float, float]) -> list[Knot]:
    leaving, arriving = (Side(reach=reach, rise=0.0) for reach in reaches)
    last = len(spots) - 1
    return [
        Knot(x=x, y=y, arriving=arriving if n else None, leaving=leaving if n < last else None)
        for n, (x, y) in enumerate(spots)
    ]
