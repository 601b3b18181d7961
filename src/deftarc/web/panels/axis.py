"""The one time axis of ruler, pair and lanes."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arithmetic import round_step
from deftarc.core.base.arrays import Floats
from deftarc.core.base.time import FrameRate, told_frame
from deftarc.core.document import Scene


@dataclass(frozen=True)
class TimeAxis:
    """Flicks ``start`` to ``end`` over ``width`` px."""

    start: float
    end: float
    width: float

    def x(self, time: float) -> float:
        return (time - self.start) / (self.end - self.start) * self.width

    def xs(self, times: npt.ArrayLike) -> Floats:
        return (np.asarray(times, dtype=np.float64) - self.start) / (self.end - self.start) * self.width

    @classmethod
    def fitting(cls, scene: Scene, width: float) -> "TimeAxis":
        """The whole scene with a little room on both sides."""
        room = 0.06 * scene.length
        return cls(-room, scene.length + room, width)


@dataclass(frozen=True)
class Tick:
    x: float
    label: str
    major: bool


#: Px that a label and a small tick need at least.
LABEL_ROOM = 64.0
TICK_ROOM = 6.0


def frame_steps(rate: FrameRate) -> list[int]:
    """Steps in frames a ruler counts in: frames, then seconds, then minutes."""
    second = rate.nominal
    frames = [step for step in (1, 2, 5, 10) if step < second] + ([second // 2] if second % 2 == 0 else [])
    return [*frames, *(second * n for n in (1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1800, 3600))]


def ticks(axis: TimeAxis, rate: FrameRate, unit: str = "timecode") -> list[Tick]:
    """Ruler ticks in view, labelled where there is room."""
    frame_px = rate.flicks / (axis.end - axis.start) * axis.width
    steps = frame_steps(rate)
    major = next((step for step in steps if step * frame_px >= LABEL_ROOM), steps[-1])
    minor = next((step for step in steps if step * frame_px >= TICK_ROOM and major % step == 0), major)
    first = int(np.floor(axis.start / rate.flicks / minor))
    last = int(np.ceil(axis.end / rate.flicks / minor))
    return [
        Tick(
            round(axis.x(n * minor * rate.flicks), 2),
            told_frame(n * minor, rate, unit) if n * minor % major == 0 else "",
            n * minor % major == 0,
        )
        for n in range(first, last + 1)
    ]


@dataclass(frozen=True)
class ValueAxis:
    """Values ``low`` (at the bottom) to ``high`` over ``height`` px from ``top``."""

    low: float
    high: float
    top: float
    height: float
    #: Not 0 where the axis counts logarithms: what the numbers they stand for are shown by.
    growth: float = 0.0

    def y(self, value: float) -> float:
        return self.top + self.height * (1 - (value - self.low) / (self.high - self.low))

    def ys(self, values: npt.ArrayLike) -> Floats:
        inside = np.clip(np.asarray(values, dtype=np.float64), -1e12, 1e12)
        return self.top + self.height * (1 - (inside - self.low) / (self.high - self.low))

    def marks(self, count: int = 5) -> list[tuple[float, str]]:
        """Round values in range with their labels: (y, label)."""
        if self.growth:
            return self._growing(count)
        step = round_step((self.high - self.low) / count)
        digits = max(0, -int(np.floor(np.log10(step))))
        first = int(np.ceil(self.low / step))
        last = int(np.floor(self.high / step))
        return [(round(self.y(n * step), 1), f"{n * step + 0.0:.{digits}f}") for n in range(first, last + 1)]

    def _growing(self, count: int) -> list[tuple[float, str]]:
        """Marks at round numbers where equal heights are equal ratios."""
        low, high = (float(np.exp(min(m, 30.0))) * self.growth for m in (self.low, self.high))
        if high / low < 2.5:
            step = round_step((high - low) / count)
            numbers = [n * step for n in range(int(np.ceil(low / step)), int(np.floor(high / step)) + 1)]
        else:
            powers = range(int(np.floor(np.log10(low))), int(np.ceil(np.log10(high))) + 1)
            numbers = [d * 10.0**p for p in powers for d in (1, 2, 5) if low <= d * 10.0**p <= high]
        return [(round(self.y(float(np.log(n / self.growth))), 1), f"{n:g}") for n in numbers if n > 0]


def spanning(values: Floats, top: float, height: float, with_zero: bool = False) -> ValueAxis:
    """An axis that shows all finite values with a little room; flat ones get a unit of it."""
    finite = values[np.isfinite(values)]
    low, high = (float(finite.min()), float(finite.max())) if finite.size else (0.0, 1.0)
    if with_zero:
        low, high = min(low, 0.0), max(high, 0.0)
    if high - low < 1e-9:
        low, high = low - 1.0, high + 1.0
    room = 0.12 * (high - low)
    return ValueAxis(low - room, high + room, top, height)
