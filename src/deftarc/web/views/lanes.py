"""Layers and their lanes in When: spans, beads, pace bands, dotted holds."""

from dataclasses import dataclass

import numpy as np

from deftarc.core.curve import TimeCurve
from deftarc.core.document import Layer, Scene
from deftarc.core.properties import PROPERTIES
from deftarc.core.time import timecode
from deftarc.core.track import AnyTrack
from deftarc.web.views.axis import TimeAxis
from deftarc.web.views.bead import Bead, sides_of

#: Heights in px: of a lane, and of the widest pace band's half.
LANE = 26
BAND = 8.0
THINNEST = 0.7
#: Px between samples of a pace band.
STRIDE = 3.0


@dataclass(frozen=True)
class Lane:
    property: str
    label: str
    band: str
    holds: list[tuple[float, float]]
    beads: list[Bead]
    focused: bool


@dataclass(frozen=True)
class LayerRow:
    """A layer's row and, unless folded, its lanes. Spans are x positions in px."""

    id: str
    name: str
    tag: str
    hidden: bool
    locked: bool
    selected: bool
    folded: bool
    start: float
    end: float
    lanes: list[Lane]
    keyed: int
    summary: list[float]

    @property
    def told(self) -> str:
        return "no keys" if not self.keyed else f"{self.keyed} lane{'s' if self.keyed > 1 else ''}"


def layer_row(scene: Scene, layer: Layer, axis: TimeAxis, selected: bool, folded: bool, focus: str | None) -> LayerRow:
    """The row of a layer. ``focus`` is the property of this layer that the pair shows, if any."""
    keyed = layer.keyed
    shown = () if folded else keyed
    summary: list[float] = []
    if folded and keyed:
        times = sorted({time for name in keyed for time in layer.track(name).key_times})
        summary = [round(x, 1) for x in axis.xs(times) if -8 <= x <= axis.width + 8]
    return LayerRow(
        id=layer.id,
        name=layer.name,
        tag=layer.tag,
        hidden=layer.hidden,
        locked=layer.locked,
        selected=selected,
        folded=folded,
        start=round(axis.x(layer.start), 1),
        end=round(axis.x(scene.length if layer.end is None else layer.end), 1),
        lanes=[lane(scene, layer, name, axis, name == focus) for name in shown],
        keyed=len(keyed),
        summary=summary,
    )


def lane(scene: Scene, layer: Layer, name: str, axis: TimeAxis, focused: bool) -> Lane:
    track = layer.track(name)
    middle = LANE / 2
    curve = track.curve
    return Lane(
        property=name,
        label=PROPERTIES[name].label,
        band=band_path(curve, axis, middle),
        holds=holds(curve, axis),
        beads=beads(scene, layer, name, track, axis, middle),
        focused=focused,
    )


def beads(scene: Scene, layer: Layer, name: str, track: AnyTrack, axis: TimeAxis, y: float) -> list[Bead]:
    """The beads of a lane that are in view."""
    out = []
    label = f"{layer.name}, {PROPERTIES[name].label}"
    for index, x in enumerate(axis.xs(track.key_times)):
        if -10 <= x <= axis.width + 10:
            time = track.keys[index].time
            left, right = sides_of(track, index)
            told = timecode(scene.rate.nearest(time), scene.rate)
            out.append(Bead(round(float(x), 2), y, time, left, right, f"{label}, key {index + 1} at {told}"))
    return out


def holds(curve: TimeCurve, axis: TimeAxis) -> list[tuple[float, float]]:
    """Where a lane rests by a hold: x from and to."""
    xs = axis.xs(curve.times)
    return [
        (round(float(xs[k]), 1), round(float(xs[k + 1]), 1))
        for k in np.flatnonzero(curve.hold)
        if xs[k + 1] > 0 and xs[k] < axis.width
    ]


def band_path(curve: TimeCurve, axis: TimeAxis, middle: float) -> str:
    """The pace band as path data: as thick as the motion is fast, against the lane's own fastest."""
    if len(curve.times) < 2:
        return ""
    left, right = (float(x) for x in axis.xs(curve.times[[0, -1]]))
    left, right = max(left, 0.0), min(right, axis.width)
    if right <= left:
        return ""
    count = max(2, int((right - left) / STRIDE) + 1)
    xs = np.linspace(left, right, count)
    scale = (axis.end - axis.start) / axis.width
    speed = np.abs(curve.speed(axis.start + xs * scale))
    finite = speed[np.isfinite(speed)]
    top = float(finite.max()) if finite.size else 0.0
    if top <= 0:
        return ""
    half = np.where(np.isfinite(speed), np.maximum(speed / top * BAND, THINNEST), BAND)
    half = np.where(speed == 0, 0.0, half)
    upper = " ".join(f"{x:.1f} {y:.1f}" for x, y in zip(xs, middle - half, strict=True))
    lower = " ".join(f"{x:.1f} {y:.1f}" for x, y in zip(xs[::-1], (middle + half)[::-1], strict=True))
    return f"M{upper} {lower}Z"
