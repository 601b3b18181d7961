"""One curve of the pair: its value and its speed as paths, its marks, and what of it can be taken hold of."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats
from deftarc.core.base.time import FLICKS
from deftarc.core.curves.curve import TimeCurve, sample_many
from deftarc.core.document import Layer, Scene
from deftarc.core.document.track import AnyTrack, BlendTrack, NumberTrack, PathTrack
from deftarc.core.document.units import Units
from deftarc.web.panels.axis import TimeAxis, ValueAxis

#: Parameters at which a segment's speed is sampled; denser at the ends, where it turns fastest.
_AT = 0.5 - 0.5 * np.cos(np.linspace(0, np.pi, 33))
#: So many segments of the speed curve are drawn as one part, and by so many px the areas of two parts overlap.
TOGETHER, OVERLAP = 8, 0.4
#: So many points of a thin line are one part.
ALONG = 25
#: A segment of fewer px is drawn from every second of its samples, one of fewer still from every fourth.
NARROW, NARROWEST = 24.0, 6.0
#: Px a frame needs for its tick on the curve, and how many ticks are drawn at most.
TICK_ROOM = 5.0
MOST_TICKS = 400
#: Samples of x and y over the view.
THIN_SAMPLES = 100
#: How far out curves are drawn: what lies beyond is not seen, and numbers stay short.
FAR = 4000.0


#: A property of a layer by frame, (frames, components); (1, components) where they are all one.
ByFrame = Callable[[Layer, str], Floats]


@dataclass(frozen=True)
class Past:
    """How far a curve goes past its keys, and where to say so."""

    x: float
    y: float
    words: str
    above: bool
    #: Whether there is room for its words.
    shown: bool = True


def scaled(curve: TimeCurve, factor: float) -> TimeCurve:
    """The curve in shown units."""
    if factor == 1.0:
        return curve
    return TimeCurve(
        curve.times, curve.measures * factor, curve.a, curve.la * factor, curve.b, curve.lb * factor, curve.steps
    )


def speed_factor(name: str, track: AnyTrack) -> float:
    """What a speed of the shown curve is shown by besides: shares and growth are told in per cent."""
    growing = isinstance(track, NumberTrack) and track.evenly
    return 100.0 if growing or isinstance(track, BlendTrack) else 1.0


def speed_samples(curve: TimeCurve) -> tuple[Floats, Floats]:
    """Speeds per second and their times in flicks, 33 to a segment in order; steps are at rest."""
    count = len(curve.times) - 1
    if count < 1:
        return np.zeros(1), curve.times.astype(np.float64)
    segment = np.repeat(np.arange(count), len(_AT))
    u = np.tile(_AT, count)
    a, b = curve.a[segment], curve.b[segment]
    share = 3 * a * u * (1 - u) ** 2 + 3 * (1 - b) * u**2 * (1 - u) + u**3
    times = curve.times[segment] + share * curve.duration[segment]
    return curve.speed_at(segment, u), times


def value_paths(curve: TimeCurve, axis: TimeAxis, values: ValueAxis, lasts: bool = False) -> tuple[str, str]:
    """The curve as exact Béziers (they are Béziers in time and value), and the dotted lines of its steps. One that
    ``lasts`` goes on otherwise than by a hold, and ends at its keys.
    """
    xs, ys = np.clip(axis.xs(curve.times), -FAR, axis.width + FAR), np.clip(values.ys(curve.measures), -FAR, FAR)
    begins = xs[0] if lasts else min(0.0, xs[0])
    parts = [f"M{begins:.1f} {ys[0]:.2f}L{xs[0]:.2f} {ys[0]:.2f}"]
    dotted = []
    wide = np.diff(xs)
    _, first, second, _ = curve.control_measures()
    spots = [xs[:-1] + curve.a * wide, values.ys(first), xs[1:] - curve.b * wide, values.ys(second), xs[1:], ys[1:]]
    rows = np.round(np.stack(spots, 1), 2).tolist()
    stepped = curve.stepped.tolist()
    for k, row in enumerate(rows):
        if stepped[k]:
            dotted.append(_stairs(curve, k, float(xs[k]), float(wide[k]), values))
            parts.append(f"M{row[4]} {row[5]}")
        else:
            # Lists of numbers print much faster than formatted ones.
            parts.append("C" + " ".join(map(str, row)))
    if not lasts:
        parts.append(f"L{max(axis.width, xs[-1]):.1f} {ys[-1]:.2f}")
    return "".join(parts), "".join(dotted)


def _stairs(curve: TimeCurve, k: int, x: float, wide: float, values: ValueAxis) -> str:
    """The levels of a segment of steps."""
    count, first, jumps = (int(n) for n in curve.steps[k])
    low, change = float(curve.measures[k]), float(curve.measures[k + 1] - curve.measures[k])
    out = []
    for n in range(min(count, 400)):
        y = values.y(low + change * min(n + first, jumps) / jumps)
        out.append(f"M{x + wide * n / count:.2f} {y:.2f}H{x + wide * (n + 1) / count:.2f}")
    return "".join(out)


def speed_paths(speeds: Floats, times: Floats, axis: TimeAxis, scale: ValueAxis) -> list[tuple[str, str]]:
    """The speed curve over samples as ``speed_samples`` has them: its line and the area down to rest, a few segments
    to a part, so that one that is reshaped is painted without the rest.
    """
    xs = axis.xs(times)
    if len(xs) < len(_AT):
        return []
    ys = scale.ys(np.clip(np.nan_to_num(speeds, posinf=1e12, neginf=-1e12), scale.low, scale.high))
    across, down = xs.reshape(-1, len(_AT)), ys.reshape(-1, len(_AT))
    seen = np.flatnonzero((across[:, -1] > -1) & (across[:, 0] < axis.width + 1))
    spots = np.round(np.stack([across, down], 2), 1)
    out = []
    for part in (seen[n : n + TOGETHER] for n in range(0, len(seen), TOGETHER)):
        first, last = int(part[0]), int(part[-1])
        # From where the part before it ends: at a corner the speed jumps.
        before = float(spots[first - 1, -1, 1]) if first else None
        goes_on = last < len(across) - 1
        out.append(_speed_part(spots[first : last + 1].tobytes(), before, goes_on, scale.y(0.0)))
    return out


# While a hand drags most lines stay what they were, and printing numbers is most of what drawing one takes.
@lru_cache(maxsize=256)
def _speed_part(numbers: bytes, before: float | None, goes_on: bool, zero: float) -> tuple[str, str]:
    """The line and the area of some segments, each of as many samples as there are parameters; the line comes from
    ``before``, a height, where there is something before it.
    """
    spots = np.frombuffer(numbers).reshape(-1, len(_AT), 2)
    wide = spots[:, -1:, 0] - spots[:, :1, 0]
    # Of a segment of few px every second or fourth sample is all that can be told apart.
    every = np.where(wide < NARROWEST, 4, np.where(wide < NARROW, 2, 1))
    drawn = np.arange(len(_AT)) % every == 0
    # The area's edge lies under the line, which is as wide as what it leaves out.
    coarse = drawn & (np.arange(len(_AT)) % np.minimum(2 * every, 4) == 0)
    start, end = float(spots[0, 0, 0]), float(spots[-1, -1, 0])
    line = [] if before is None else [start, before]
    # The areas overlap a little, or a seam would shine through.
    left, right = start - OVERLAP * (before is not None), end + OVERLAP * goes_on
    area = np.round([left, zero, *spots[coarse].reshape(-1), right, zero], 1).tolist()
    return _told([*line, *spots[drawn].reshape(-1).tolist()]), _told(area) + "Z"


def polyline(xs: Floats, ys: Floats) -> list[str]:
    """A line through points as path data in tenths of a px, some points to a part."""
    spots = np.round(np.stack([xs, ys], 1), 1)
    return [_printed(spots[n : n + ALONG + 1].tobytes()) for n in range(0, len(spots) - 1, ALONG)]


@lru_cache(maxsize=256)
def _printed(numbers: bytes) -> str:
    return _told(np.frombuffer(numbers).tolist())


def _told(numbers: list[float]) -> str:
    # After a move-to, pairs of numbers are lines; lists of numbers print much faster than formatted ones.
    return "M" + " ".join(map(str, numbers))


def components(
    scene: Scene, layer: Layer, name: str, axis: TimeAxis, by_frame: ByFrame | None
) -> list[tuple[str, Floats, Floats]]:
    """x and y of a position over the view, drawn thin, each to its own scale. Where enough of its frames are in view
    to be the curve, they are taken from ``by_frame``: the picture has them already.
    """
    track = layer.track(name)
    if not isinstance(track, PathTrack):
        return []
    frame = scene.rate.flicks
    first, last = max(0, int(axis.start / frame)), min(scene.frames - 1, int(axis.end / frame) + 1)
    inside = track.lasts or (track.key_times[0] >= 0 and track.key_times[-1] <= scene.length)
    if by_frame is not None and inside and last - first >= THIN_SAMPLES // 2:
        rows = by_frame(layer, name)
        at = _frames_between(first, last)
        spots = np.broadcast_to(rows, (scene.frames, 2))[at]
        # Before the first frame and after the last it rests.
        inner = (at * frame).astype(np.float64)
        before, after = min(max(axis.start, -FLICKS * 1e5), inner[0]), max(axis.end, inner[-1])
        times = np.array([before, *inner, after])
        spots = np.concatenate([spots[:1], spots, spots[-1:]])
        return [("x", times, spots[:, 0]), ("y", times, spots[:, 1])]
    times = np.linspace(max(axis.start, -FLICKS * 1e5), axis.end, THIN_SAMPLES)
    # Drawn thin for reading: the samples of one sweep are near enough, without the last digits of an exact inverse.
    distance = None if track.lasts else sample_many([track.curve], times.astype(np.int64))[0]
    spots = np.broadcast_to(track.positions(times, distance), (len(times), 2))
    return [("x", times, spots[:, 0]), ("y", times, spots[:, 1])]


@lru_cache(maxsize=16)
def _frames_between(first: int, last: int) -> npt.NDArray[np.int64]:
    """Frames spread evenly, as many as a thin line has points."""
    return np.unique(np.round(np.linspace(first, last, min(2 * THIN_SAMPLES, last - first + 1))).astype(np.int64))


def frame_ticks(scene: Scene, curve: TimeCurve, axis: TimeAxis, values: ValueAxis) -> str:
    """A dot on the curve at each frame between its keys, where there is room; as the subpaths of one path."""
    frame = scene.rate.flicks
    if frame / (axis.end - axis.start) * axis.width < TICK_ROOM or len(curve.times) < 2:
        return ""
    first = int(np.ceil(max(axis.start, float(curve.times[0])) / frame))
    last = int(np.floor(min(axis.end, float(curve.times[-1])) / frame))
    if not 0 <= last - first <= MOST_TICKS:
        return ""
    times = np.arange(first, last + 1) * frame
    spots = np.stack([axis.xs(times), values.ys(curve.at(times))], 1)
    return "".join(f"M{x:.1f} {y:.1f}h0" for x, y in spots)


def past_keys(
    curve: TimeCurve, peaks: list[tuple[float, float]], axis: TimeAxis, values: ValueAxis, units: Units
) -> list[Past]:
    """Extremes that go past both keys of their segment, with how far."""
    out = []
    for time, value in peaks:
        k = int(np.clip(np.searchsorted(curve.times, time, side="right") - 1, 0, len(curve.times) - 2))
        low, high = sorted(float(m) for m in curve.measures[k : k + 2])
        over = value - high if value > high else low - value if value < low else 0.0
        if over > 0.005 * max(1.0, abs(high - low)) * (0.01 if units.growth else 1.0):
            if units.growth:
                words = f"{100 * (float(np.exp(over)) - 1):.1f}% past the key"
            else:
                words = f"{over:.{0 if over >= 10 else 1}f} {units.value} past the key".replace(" °", "°")
            out.append(Past(round(axis.x(time), 1), round(values.y(value), 1), words, value > high))
    return _apart(out)


#: About how wide a letter of a label is, and how high a line, in px.
LETTER, LINE = 6.6, 14.0


def _apart(labels: list[Past]) -> list[Past]:
    """Labels that would lie over one before them are left to their mark, which says the same when pointed at."""
    taken: list[tuple[float, float, float]] = []
    out = []
    for each in labels:
        start, end = each.x + 9, each.x + 9 + LETTER * len(each.words)
        y = each.y + (-7 if each.above else 15)
        free = all(end < a or start > b or abs(y - at) >= LINE for a, b, at in taken)
        if free:
            taken.append((start, end, y))
        out.append(each if free else replace(each, shown=False))
    return out
