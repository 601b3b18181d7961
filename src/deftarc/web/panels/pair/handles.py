"""What of a curve can be taken hold of: the handles of its sides, its speeds at keys, its peaks, its segments."""

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from markupsafe import Markup, escape

from deftarc.core.base.arrays import Floats
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.sides import peak_with_speed
from deftarc.core.curves.curve import TimeCurve
from deftarc.core.document import Scene
from deftarc.core.document.track import AnyTrack
from deftarc.core.document.units import Units, with_unit
from deftarc.web.context import templates
from deftarc.web.panels.axis import TimeAxis, ValueAxis
from deftarc.web.panels.bead import LONE

#: How far outside the view a handle is still drawn, at its edge.
EDGE = 6.0
#: The radius of a bead in the speed curve.
SPEED_BEAD = 5.0
#: Px that a handle is drawn away from its key at least.
SHORT = 11.0


@dataclass(frozen=True)
class Handle:
    """A side's handle: from its key at (x0, y0) to (x, y). ``kind`` says how it looks; ``held`` that it lies beyond
    the view and is drawn at its edge.
    """

    x0: float
    y0: float
    x: float
    y: float
    time: int
    side: str
    kind: str
    title: str
    #: Flicks its whole segment lasts, and where its key stands in the shown measure.
    span: int
    level: float
    #: Where the handle truly is, where that is not where it is drawn.
    true_x: float
    true_y: float
    held: bool = False


@dataclass(frozen=True)
class SpeedHalf:
    """Half a bead in the speed curve: one side's speed at a key, or both where they are one."""

    x: float
    y: float
    time: int
    sides: str
    left: str
    right: str
    title: str
    mark: str = ""


def half_drawn(b: SpeedHalf, layer: str, property: str) -> Markup:
    """Half a bead, or a whole one, of the speed curve as SVG."""
    x, y, r, top = b.x, b.y, SPEED_BEAD, b.y - SPEED_BEAD
    left = "" if b.left == "none" else f'<path class="half {b.left}" d="M{x} {top}a{r} {r} 0 0 0 0 {2 * r}Z"/>'
    right = "" if b.right == "none" else f'<path class="half {b.right}" d="M{x} {top}a{r} {r} 0 0 1 0 {2 * r}Z"/>'
    hit = f'<title>{escape(b.title)}</title><circle class="hit" cx="{x}" cy="{y}" r="9"/>'
    lone = "" if b.sides else f'<circle class="half lone" cx="{x}" cy="{y}" r="{r * LONE}"/>'
    return Markup(
        f'<g class="bead in-speed" data-layer="{layer}" data-property="{property}" data-time="{b.time}" '
        f'data-sides="{b.sides}">{hit}{lone}{left}{right}</g>'
    )


@dataclass(frozen=True)
class Peak:
    x: float
    y: float
    time: int
    title: str


@dataclass(frozen=True)
class Segment:
    """A segment to point at: its way in the value curve, what is told of it, and the time of its first key."""

    d: str
    time: int
    told: str
    #: The time of its second key, and whether it goes in steps.
    end: int = 0
    steps: bool = False


def sides_shown(track: AnyTrack, selected: Iterable[int]) -> list[tuple[int, str]]:
    """(key, side) of the handles to draw: both of each selected key, and the far ends of its two segments."""
    last = len(track.keys) - 1
    out: dict[tuple[int, str], None] = {}
    for k in selected:
        for key, side in ((k - 1, "leaving"), (k, "arriving"), (k, "leaving"), (k + 1, "arriving")):
            segment = key if side == "leaving" else key - 1
            if 0 <= segment < last and not track.keys[segment].stepped:
                out[(key, side)] = None
    return list(out)


def handles(
    track: AnyTrack, curve: TimeCurve, shown: list[tuple[int, str]], axis: TimeAxis, values: ValueAxis
) -> list[Handle]:
    """Handles in the value curve."""
    out = []
    for k, side in shown:
        segment, sign = (k, 1.0) if side == "leaving" else (k - 1, -1.0)
        reach = float((curve.a if side == "leaving" else curve.b)[segment])
        rise = float((curve.la if side == "leaving" else curve.lb)[segment])
        x0, y0 = axis.x(float(curve.times[k])), values.y(float(curve.measures[k]))
        x = axis.x(float(curve.times[k]) + sign * reach * float(curve.duration[segment]))
        y = values.y(float(curve.measures[k]) + sign * rise)
        at = min(max(y, EDGE), values.top + values.height + 8 - EDGE)
        out.append(_handle(track, curve, k, side, (x0, y0, x, at), true_y=y))
    return out


def _handle(
    track: AnyTrack, curve: TimeCurve, k: int, side: str, spot: tuple[float, float, float, float], true_y: float
) -> Handle:
    key = track.keys[k]
    straight = key.joint != "automatic" and getattr(key, side) is None
    kind = "straight" if straight else "auto" if key.joint == "automatic" else "curve"
    what = {"straight": "straight: drag to bend it", "auto": "automatic: drag to take it over", "curve": "handle"}[kind]
    x0, y0, x, y = (round(n, 1) for n in spot)
    true_x, true_y, held = x, round(true_y, 1), abs(true_y - y) > 0.5
    if abs(x - x0) + abs(y - y0) < SHORT:
        # One of no length would lie under its own key.
        x = round(x0 + (SHORT + 3 if side == "leaving" else -SHORT - 3), 1)
    span = int(curve.times[k + 1] - curve.times[k]) if side == "leaving" else int(curve.times[k] - curve.times[k - 1])
    title = f"Key {k + 1}, {side} side, {what}"
    return Handle(x0, y0, x, y, key.time, side, kind, title, span, float(curve.measures[k]), true_x, true_y, held)


#: Speeds at the start and at the end of each segment, times what they are shown by.
Ends = tuple[Floats, Floats]


def end_speeds(curve: TimeCurve, factor: float) -> Ends:
    """The leaving and the arriving speed of each segment, (K−1,), (K−1,)."""
    segment = np.arange(len(curve.times) - 1)
    still, done = np.zeros(len(segment)), np.ones(len(segment))
    return curve.speed_at(segment, still) * factor, curve.speed_at(segment, done) * factor


def speed_handles(
    track: AnyTrack, curve: TimeCurve, ends: Ends, shown: list[tuple[int, str]], axis: TimeAxis, speeds: ValueAxis
) -> list[Handle]:
    """Handles in the speed curve: level, as far as the side reaches, at its speed."""
    out = []
    for k, side in shown:
        segment, sign = (k, 1.0) if side == "leaving" else (k - 1, -1.0)
        reach = float((curve.a if side == "leaving" else curve.b)[segment])
        y = speed_y(float(ends[0 if side == "leaving" else 1][segment]), speeds)
        x0 = axis.x(float(curve.times[k]))
        x = axis.x(float(curve.times[k]) + sign * reach * float(curve.duration[segment]))
        out.append(_handle(track, curve, k, side, (x0, y, x, y), true_y=y))
    return out


def speed_ys(speeds: Floats, axis: ValueAxis) -> Floats:
    """Where speeds (n,) are drawn; an unbounded one at the edge of its axis."""
    return axis.ys(np.where(np.isnan(speeds), axis.low, np.clip(speeds, axis.low, axis.high)))


def speed_y(speed: float, axis: ValueAxis) -> float:
    """Where a speed is drawn; an unbounded one at the edge of its axis."""
    return axis.y(axis.low if math.isnan(speed) else min(max(speed, axis.low), axis.high))


def speed_halves(
    track: AnyTrack,
    curve: TimeCurve,
    ends: Ends,
    axis: TimeAxis,
    speeds: ValueAxis,
    units: Units,
    words: bool = True,
) -> list[SpeedHalf]:
    """The speeds at keys in view: one bead where both sides have one speed, else half a bead for each side.
    ``words`` leaves their titles out where it is not so.
    """
    out = []
    xs = axis.xs(curve.times)
    # Each key's own: how fast the segment before it arrives, and how fast the one after it leaves.
    leave, arrive = (np.round(speed_ys(each, speeds), 2).tolist() for each in ends)
    leave, arrive = [*leave, 0.0], [0.0, *arrive]
    stepped = curve.stepped.tolist()
    arrives, leaves = [False, *(not step for step in stepped)], [*(not step for step in stepped), False]
    spots = np.round(xs, 2).tolist()
    for k in np.flatnonzero((xs >= -10) & (xs <= axis.width + 10)).tolist():
        key, x = track.keys[k], spots[k]
        if not arrives[k] and not leaves[k]:
            out.append(SpeedHalf(x, round(speeds.y(0.0), 2), key.time, "", "none", "none", "at rest"))
            continue
        automatic = key.joint == "automatic"
        left = "curve" if automatic or key.arriving is not None else "straight"
        right = "curve" if automatic or key.leaving is not None else "straight"
        if arrives[k] and leaves[k] and abs(arrive[k] - leave[k]) < 0.6:
            title = f"through it {_speed_told(float(ends[0][k]), units)}" if words else ""
            out.append(SpeedHalf(x, leave[k], key.time, "both", left, right, title))
            continue
        if arrives[k]:
            title = f"arriving {_speed_told(float(ends[1][k - 1]), units)}" if words else ""
            out.append(SpeedHalf(x, arrive[k], key.time, "arriving", left, "none", title))
        if leaves[k]:
            title = f"leaving {_speed_told(float(ends[0][k]), units)}" if words else ""
            out.append(SpeedHalf(x, leave[k], key.time, "leaving", "none", right, title))
    return out


def _speed_told(speed: float, units: Units) -> str:
    return with_unit(speed, units.speed) if np.isfinite(speed) else "unbounded"


def peaks(
    curve: TimeCurve, segments: Iterable[int], axis: TimeAxis, speeds: ValueAxis, units: Units, factor: float
) -> list[Peak]:
    """The speed peaks of some segments."""
    out = []
    for k in segments:
        found = peak_with_speed(curve, k)
        if found is None:
            continue
        time = float(curve.times[k]) + found[0] * float(curve.duration[k])
        speed = found[1] * factor
        title = f"Top speed {with_unit(speed, units.speed)}: drag to have it earlier or later"
        out.append(Peak(round(axis.x(time), 1), round(speed_y(speed, speeds), 1), int(curve.times[k]), title))
    return out


def counted(frames: float) -> str:
    """A number of frames in words: 1 frame, 2.5 frames."""
    told = f"{frames:.1f}".removesuffix(".0")
    return f"{told} frame{'' if told == '1' else 's'}"


def top_speed(curve: TimeCurve, k: int) -> float:
    """The largest speed of a segment without its sign, in the measure's unit a second; infinite where unbounded."""
    u = np.linspace(0.0, 1.0, 129)
    return float(np.abs(curve.speed_at(np.full(len(u), k), u)).max())


def segment_words(scene: Scene, curve: TimeCurve, k: int, top: float, units: Units, factor: float) -> str:
    """Duration, change, mean and top speed of a segment."""
    frames = float(curve.duration[k]) / scene.rate.flicks
    seconds = float(curve.duration[k]) / FLICKS
    change = float(curve.measures[k + 1] - curve.measures[k])
    mean = with_unit(change / seconds * factor, units.speed)
    told_top = with_unit(top, units.speed) if np.isfinite(top) else "unbounded"
    by = f"× {float(np.exp(min(change, 30.0))):.2f}" if units.growth else with_unit(change, units.value)
    return f"{counted(frames)} · {by} · mean {mean} · top {told_top}"


def segments(
    scene: Scene, curve: TimeCurve, speeds: Floats, axis: TimeAxis, values: ValueAxis, units: Units, factor: float
) -> list[Segment]:
    """Segments in view, to be pointed at; ``speeds`` as ``speed_samples`` has them, times ``factor``."""
    xs = axis.xs(curve.times)
    tops = np.abs(speeds).reshape(len(xs) - 1, -1).max(axis=1) if len(xs) > 1 else []
    out = []
    for k in np.flatnonzero((xs[1:] > 0) & (xs[:-1] < axis.width)):
        x, d = float(xs[k]), float(xs[k + 1] - xs[k])
        p0, p1, p2, p3 = (values.y(float(p[k])) for p in curve.control_measures())
        if curve.stepped[k]:
            way = f"M{x:.1f} {p0:.1f}H{x + d:.1f}"
        else:
            way = (
                f"M{x:.1f} {p0:.1f}C{x + float(curve.a[k]) * d:.1f} {p1:.1f} "
                f"{x + d - float(curve.b[k]) * d:.1f} {p2:.1f} {x + d:.1f} {p3:.1f}"
            )
        out.append(
            Segment(
                way,
                int(curve.times[k]),
                segment_words(scene, curve, int(k), float(tops[k]), units, factor),
                int(curve.times[k + 1]),
                bool(curve.stepped[k]),
            )
        )
    return out


templates.env.globals.update(half_drawn=half_drawn)
