"""The pair: value (or distance) over speed, on the time axis of ruler and lanes. For reading only, so far."""

from dataclasses import dataclass

import numpy as np

from deftarc.core.curve import TimeCurve
from deftarc.core.document import Layer, Scene
from deftarc.core.evaluate import shown_values
from deftarc.core.geometry import Floats
from deftarc.core.properties import PROPERTIES
from deftarc.core.time import FLICKS
from deftarc.core.track import PathTrack
from deftarc.web.views.axis import TimeAxis, ValueAxis, spanning
from deftarc.web.views.bead import Bead
from deftarc.web.views.lanes import beads

#: Share of the height that the value curve gets.
VALUE_SHARE = 0.6
#: Parameters at which a segment's speed is sampled; denser at the ends, where it turns fastest.
_AT = 0.5 - 0.5 * np.cos(np.linspace(0, np.pi, 33))


@dataclass(frozen=True)
class Thin:
    """A component drawn thin beside the curve: its colour's name and its path."""

    name: str
    path: str


@dataclass(frozen=True)
class Past:
    """How far a curve goes past its keys, and where to say so."""

    x: float
    y: float
    words: str
    above: bool


@dataclass(frozen=True)
class Pair:
    layer: str
    layer_name: str
    property: str
    title: str
    about: str
    speed_unit: str
    width: float
    height: float
    value_axis: ValueAxis
    speed_axis: ValueAxis
    curve: str
    dotted: str
    speed: str
    speed_fill: str
    thin: list[Thin]
    value_beads: list[Bead]
    speed_beads: list[Bead]
    hairlines: list[float]
    past: list[Past]
    zero: float
    flat: bool
    single: bool


def pair_of(
    scene: Scene,
    layer: Layer,
    name: str,
    axis: TimeAxis,
    height: float,
    kept: tuple[ValueAxis, ValueAxis] | None = None,
    unit: str = "timecode",
) -> Pair | None:
    """The pair of a keyed property; None when it has no keys. ``kept`` axes are used during a drag."""
    track = layer.track(name)
    if not track.keys:
        return None
    facts = PROPERTIES[name]
    curve = scaled(track.curve, facts.factor)
    value_height = height * VALUE_SHARE
    thin_values = _components(scene, layer, name, axis, curve)
    speeds, at = speed_samples(curve)
    values = np.concatenate([*curve.control_measures(), curve.measures]) if len(curve.times) > 1 else curve.measures
    peaks = curve.extremes()
    shown = np.concatenate([curve.measures, np.array([value for _, value in peaks])])
    if kept is None:
        value_axis = spanning(shown, 8.0, value_height - 16)
        speed_axis = spanning(speeds, value_height + 8.0, height - value_height - 16, with_zero=True)
    else:
        value_axis, speed_axis = kept
    curve_path, dotted = value_paths(curve, axis, value_axis)
    line, fill = speed_paths(speeds, at, axis, speed_axis)
    row = beads(scene, layer, name, track, axis, 0.0, unit)
    index = {int(time): k for k, time in enumerate(curve.times)}
    value_beads = [_at(bead, value_axis.y(float(curve.measures[index[bead.time]]))) for bead in row]
    bead_speeds = np.clip(curve.speed([bead.time for bead in row]), speed_axis.low, speed_axis.high)
    speed_beads = [_at(bead, float(y)) for bead, y in zip(row, speed_axis.ys(bead_speeds), strict=True)]
    on_path = isinstance(track, PathTrack)
    about = f"{layer.name} · px along the path" if on_path else f"{layer.name} · {facts.unit}"
    return Pair(
        layer=layer.id,
        layer_name=layer.name,
        property=name,
        title="Distance" if on_path else facts.label,
        about=about,
        speed_unit=facts.speed_unit,
        width=axis.width,
        height=height,
        value_axis=value_axis,
        speed_axis=speed_axis,
        curve=curve_path,
        dotted=dotted,
        speed=line,
        speed_fill=fill,
        thin=[
            Thin(component, polyline(axis.xs(times), spanning(rows, 8.0, value_height - 16).ys(rows)))
            for component, times, rows in thin_values
        ],
        value_beads=value_beads,
        speed_beads=speed_beads,
        hairlines=[bead.x for bead in row],
        past=past_keys(curve, peaks, axis, value_axis, "px" if on_path else facts.unit),
        zero=round(speed_axis.y(0.0), 1),
        flat=float(np.ptp(values)) < 1e-9,
        single=len(curve.times) == 1,
    )


def _at(bead: Bead, y: float) -> Bead:
    return Bead(bead.x, round(y, 2), bead.time, bead.left, bead.right, bead.title)


def scaled(curve: TimeCurve, factor: float) -> TimeCurve:
    """The curve in shown units."""
    if factor == 1.0:
        return curve
    return TimeCurve(
        curve.times, curve.measures * factor, curve.a, curve.la * factor, curve.b, curve.lb * factor, curve.steps
    )


def speed_samples(curve: TimeCurve) -> tuple[Floats, Floats]:
    """Speeds per second and their times in flicks, 33 to a segment in order; holds are at rest."""
    count = len(curve.times) - 1
    if count < 1:
        return np.zeros(1), curve.times.astype(np.float64)
    segment = np.repeat(np.arange(count), len(_AT))
    u = np.tile(_AT, count)
    a, b = curve.a[segment], curve.b[segment]
    share = 3 * a * u * (1 - u) ** 2 + 3 * (1 - b) * u**2 * (1 - u) + u**3
    times = curve.times[segment] + share * curve.duration[segment]
    return curve.speed_at(segment, u), times


def value_paths(curve: TimeCurve, axis: TimeAxis, values: ValueAxis) -> tuple[str, str]:
    """The curve as exact Béziers (they are Béziers in time and value), and the dotted lines of its holds."""
    xs, ys = axis.xs(curve.times), values.ys(curve.measures)
    parts = [f"M{min(0.0, xs[0]):.1f} {ys[0]:.2f}L{xs[0]:.2f} {ys[0]:.2f}"]
    dotted = []
    for k in range(len(xs) - 1):
        if curve.hold[k]:
            dotted.append(f"M{xs[k]:.2f} {ys[k]:.2f}H{xs[k + 1]:.2f}")
            parts.append(f"M{xs[k + 1]:.2f} {ys[k + 1]:.2f}")
            continue
        d = xs[k + 1] - xs[k]
        y1 = values.y(float(curve.measures[k] + curve.la[k]))
        y2 = values.y(float(curve.measures[k + 1] - curve.lb[k]))
        parts.append(
            f"C{xs[k] + curve.a[k] * d:.2f} {y1:.2f} {xs[k + 1] - curve.b[k] * d:.2f} {y2:.2f} "
            f"{xs[k + 1]:.2f} {ys[k + 1]:.2f}"
        )
    parts.append(f"L{max(axis.width, xs[-1]):.1f} {ys[-1]:.2f}")
    return "".join(parts), "".join(dotted)


def speed_paths(speeds: Floats, times: Floats, axis: TimeAxis, scale: ValueAxis) -> tuple[str, str]:
    """The speed curve's line and its filled area down to rest."""
    xs = axis.xs(times)
    ys = scale.ys(np.clip(np.nan_to_num(speeds, posinf=1e12, neginf=-1e12), scale.low, scale.high))
    zero = scale.y(0.0)
    line = polyline(xs, ys)
    return line, f"{line}L{xs[-1]:.1f} {zero:.1f}L{xs[0]:.1f} {zero:.1f}Z"


def polyline(xs: Floats, ys: Floats) -> str:
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in zip(xs, ys, strict=True))


def _components(
    scene: Scene, layer: Layer, name: str, axis: TimeAxis, curve: TimeCurve
) -> list[tuple[str, Floats, Floats]]:
    """x and y of a position over the view, drawn thin, each to its own scale."""
    track = layer.track(name)
    if not isinstance(track, PathTrack):
        return []
    times = np.linspace(max(axis.start, -FLICKS * 1e5), axis.end, 160)
    spots = np.broadcast_to(shown_values(layer, name, track.positions(times)), (len(times), 2))
    return [("x", times, spots[:, 0]), ("y", times, spots[:, 1])]


def past_keys(
    curve: TimeCurve, peaks: list[tuple[float, float]], axis: TimeAxis, values: ValueAxis, unit: str
) -> list[Past]:
    """Extremes that go past both keys of their segment, with how far."""
    out = []
    for time, value in peaks:
        k = int(np.clip(np.searchsorted(curve.times, time, side="right") - 1, 0, len(curve.times) - 2))
        low, high = sorted(float(m) for m in curve.measures[k : k + 2])
        over = value - high if value > high else low - value if value < low else 0.0
        if over > 0.005 * max(1.0, abs(high - low)):
            decimals = 0 if over >= 10 else 1
            words = f"{over:.{decimals}f} {unit} past the key".replace(" °", "°")
            out.append(Past(round(axis.x(time), 1), round(values.y(value), 1), words, value > high))
    return out
