"""Layers and their lanes in When: spans, beads, pace bands, dotted holds."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from deftarc.core.arrange.family import members
from deftarc.core.base.arrays import Floats
from deftarc.core.base.time import time_label
from deftarc.core.changes.rebuild import value_of
from deftarc.core.changes.retime import keys_outside, span_of
from deftarc.core.curves.curve import TimeCurve
from deftarc.core.document import Layer, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack, ColourTrack, OutlineTrack
from deftarc.core.edit.base import LaneName
from deftarc.core.spaces.colour import hex_colour
from deftarc.web.panels.axis import TimeAxis
from deftarc.web.panels.bead import Bead, mark_of, sides_of
from deftarc.web.panels.beyond import Side, sides_beyond
from deftarc.web.panels.figures.numbers import number
from deftarc.web.panels.figures.reactions import told_answering
from deftarc.web.panels.figures.relations import source_lane, told_following
from deftarc.web.panels.list.events import events_in
from deftarc.web.panels.markers import Pennant, pennants
from deftarc.web.panels.path import FloatBead, float_beads

#: Heights in px: of a lane, and of the widest pace band's half.
LANE = 26
BAND = 8.0
THINNEST = 0.7
#: Px between samples of a pace band.
STRIDE = 3.0


@dataclass(frozen=True)
class Lane:
    id: str
    layer: str
    layer_name: str
    tag: str
    depth: int
    property: str
    label: str
    height: float
    band: str
    holds: list[tuple[float, float, list[float]]]
    beads: list[Bead]
    swatches: list[tuple[float, str]]
    floats: list[FloatBead]
    focused: bool
    keyed: bool
    #: What goes on before and after the keys.
    beyond: list[Side]
    #: The same lane in another take: its band's outline and its beads.
    ghost: str = ""
    #: What it follows in words, and the pace of what comes of that; empty where it follows nothing.
    follows: str = ""
    followed: str = ""
    #: Where that is: a layer and a lane of it.
    source: str = ""
    #: What its keys answer, in words.
    answers: str = ""
    #: What its motion does that is answered: (x, kind, words), each in px.
    events: tuple[tuple[float, str, str], ...] = ()


@dataclass(frozen=True)
class Summary:
    """Keys of a folded row at one moment: where, and which they are."""

    x: float
    time: int
    lanes: str
    title: str


@dataclass(frozen=True)
class LayerRow:
    """A layer's row. Spans are x positions in px."""

    layer: Layer
    depth: int
    selected: bool
    folded: bool
    foldable: bool
    start: float
    end: float
    told: str
    about: str
    outside: int
    summary: list[Summary]
    #: Why it is not drawn, or not all of it.
    trouble: str = ""
    #: By how many flicks it is to be moved to show in the scene again; 0 where it does.
    back: int = 0
    #: Who carries it, where that is no group above it.
    carried: str = ""
    pennants: tuple[Pennant, ...] = ()
    #: Its span in another take.
    ghost: str = ""
    #: Where it is keyed, as path data, under a hand that moves many: what stays, and what is moved.
    dots: tuple[str, str] = ("", "")


def layer_row(
    scene: Scene,
    layer: Layer,
    depth: int,
    axis: TimeAxis,
    selected: bool,
    folded: bool,
    unit: str,
    trouble: str = "",
    moves: Mapping[LaneName, Mapping[int, int]] | None = None,
) -> LayerRow:
    """A layer's row. ``moves`` say where keys go that a hand moves, of many: then it has dots, no summaries."""
    inside = members(scene, layer.id) if layer.group else []
    keyed = layer.moving
    start, end = span_of(layer, scene.length)
    told = f"{len(keyed)} lane{'s' if len(keyed) > 1 else ''}" if keyed else "no keys"
    if layer.group:
        told = f"{len(inside)} inside"
    about = layer.name
    carrier = scene.layer(layer.parent) if layer.parent is not None else None
    if carrier is not None:
        about += f", carried by {carrier.name}"
    if layer.link is not None:
        about += ", a linked copy"
    return LayerRow(
        layer=layer,
        depth=depth,
        selected=selected,
        folded=folded,
        foldable=bool(keyed or inside),
        start=round(axis.x(start), 1),
        end=round(axis.x(end), 1),
        told=told,
        about=about,
        outside=len(keys_outside(layer, scene.length)),
        summary=summaries(scene, [layer, *inside], axis, unit) if folded and moves is None else [],
        dots=_dots([layer, *inside], axis, moves) if folded and moves is not None else ("", ""),
        trouble=trouble,
        pennants=tuple(pennants(layer.markers, layer.id, scene, axis, unit)),
        carried=carrier.name if carrier is not None and not carrier.group else "",
        back=_back(start, end, scene.length) if not layer.group else 0,
    )


def _back(start: int, end: int, length: int) -> int:
    """What brings a span that lies wholly outside a scene into it: to its end, or to its start."""
    if start >= length:
        return min(length - end, 0) if end - start < length else -start
    return -start if end <= 0 else 0


def summaries(scene: Scene, layers: list[Layer], axis: TimeAxis, unit: str) -> list[Summary]:
    """The moments at which anything of some layers is keyed, with what a drag of one moves."""
    at: dict[int, list[tuple[Layer, str]]] = {}
    for layer in layers:
        for name in layer.keyed:
            for time in layer.track(name).key_times:
                at.setdefault(time, []).append((layer, name))
    out = []
    for time, lanes in sorted(at.items()):
        x = axis.x(time)
        if not -8 <= x <= axis.width + 8:
            continue
        words = ", ".join(
            f"{PROPERTIES[name].label} of {layer.name}" if len(layers) > 1 else PROPERTIES[name].label
            for layer, name in lanes[:6]
        ) + (" …" if len(lanes) > 6 else "")  # fmt: skip
        when = time_label(time, scene.rate, unit)
        title = f"{len(lanes)} key{'s' if len(lanes) > 1 else ''} at {when}: {words}. A drag moves them all."
        out.append(Summary(round(x, 1), time, ";".join(f"{layer.id} {name}" for layer, name in lanes), title))
    return out


def _dots(layers: list[Layer], axis: TimeAxis, moves: Mapping[LaneName, Mapping[int, int]]) -> tuple[str, str]:
    """Summaries with nothing to point at: those of keys that stay, and those of keys that are moved."""
    stay: set[int] = set()
    go: set[int] = set()
    for layer in layers:
        for name in layer.keyed:
            mine, track = moves.get((layer.id, name), {}), layer.tracks[name]
            stay.update(track.key_set.difference(mine))
            go.update(mine.values())
    return _dotted(stay, axis), _dotted(go, axis)


def _dotted(times: set[int], axis: TimeAxis) -> str:
    xs = axis.xs(sorted(times)).round(1).tolist()
    return "".join(f"M{x} 13h0" for x in xs if -8 <= x <= axis.width + 8)


def lane(
    scene: Scene,
    layer: Layer,
    name: str,
    depth: int,
    axis: TimeAxis,
    height: float,
    focused: bool,
    unit: str,
    brief: bool = False,
    values: Floats | None = None,
) -> Lane:
    """A lane's row. ``brief`` is for a hand that moves many: without words, and its pace in fewer strokes. ``values``
    are the numbers by frame of one that follows something.
    """
    track = layer.track(name)
    middle = (height - 1) / 2
    curve = track.curve if track.keys else None
    swatches = []
    if isinstance(track, ColourTrack):
        swatches = [(round(axis.x(key.time), 1), hex_colour(key.value)) for key in track.keys]
    return Lane(
        id=f"lane-{layer.id}-{name}",
        layer=layer.id,
        layer_name=layer.name,
        tag=layer.tag,
        depth=depth,
        property=name,
        label=PROPERTIES[name].label,
        height=height,
        band=band_path(curve, axis, middle, BAND * (height / LANE), 4 * STRIDE if brief else STRIDE) if curve else "",
        holds=holds(curve, axis) if curve else [],
        beads=beads(scene, layer, name, track, axis, middle, unit, words=not brief),
        swatches=swatches,
        floats=float_beads(scene, layer, track, axis, unit),
        focused=focused,
        keyed=bool(track.keys),
        beyond=sides_beyond(track, axis, middle, BAND * (height / LANE)),
        follows=told_following(scene, layer, name, unit) if name in layer.links else "",
        source=source_lane(scene, layer.links[name]) if name in layer.links else "",
        answers=told_answering(scene, layer, name) if name in layer.reactions and not brief else "",
        events=events_in(scene, layer, name, axis, unit) if not brief else (),
        followed=followed_band(values, scene, axis, middle, BAND * (height / LANE)) if values is not None else "",
    )


#: So many strokes the pace of what follows is drawn in at most.
MOST_STROKES = 400


def followed_band(values: Floats, scene: Scene, axis: TimeAxis, middle: float, most: float) -> str:
    """The pace band of numbers by frame (F or 1, components), as ``band_path`` draws a curve's."""
    if len(values) < 2:
        return ""
    frame = scene.rate.flicks
    first = max(0, int(axis.start / frame) - 1)
    last = min(len(values) - 1, int(axis.end / frame) + 2)
    if last - first < 2:
        return ""
    at = np.unique(np.linspace(first, last, min(MOST_STROKES, last - first + 1)).astype(int))
    speed = np.hypot.reduce(np.diff(values[at], axis=0) / np.diff(at)[:, None], axis=1)
    whole = np.hypot.reduce(np.diff(values, axis=0), axis=1)
    top = float(whole.max(initial=0.0))
    if top <= 1e-12:
        return ""
    half = np.where(speed <= 1e-9 * top, 0.0, np.maximum(speed / top * most, THINNEST))
    xs = axis.xs((at[:-1] + at[1:]) / 2 * frame)
    around = np.concatenate([np.stack([xs, middle - half], 1), np.stack([xs, middle + half], 1)[::-1]])
    return "M" + " ".join(map(str, np.round(around, 1).reshape(-1).tolist())) + "Z"


def beads(
    scene: Scene,
    layer: Layer,
    name: str,
    track: AnyTrack,
    axis: TimeAxis,
    y: float,
    unit: str = "timecode",
    words: bool = True,
) -> list[Bead]:
    """The beads of a lane that are in view, with their titles unless ``words`` says otherwise."""
    out = []
    label = f"{layer.name}, {PROPERTIES[name].label}"
    for index, x in enumerate(axis.xs(track.key_times).tolist()):
        if -10 <= x <= axis.width + 10:
            time = track.keys[index].time
            left, right = sides_of(track, index)
            mark = mark_of(track, index)
            if not words:
                out.append(Bead(round(x, 2), y, time, left, right, "", mark))
                continue
            told = time_label(time, scene.rate, unit)
            what = {"auto": ", automatic", "pace": ", pace key"}.get(mark, "")
            title = f"{label}, key {index + 1} at {told}{what}: {told_value(name, track, index)}".rstrip(": ")
            out.append(Bead(round(x, 2), y, time, left, right, title, mark))
    return out


def told_value(name: str, track: AnyTrack, index: int) -> str:
    """A key's value in words: a number with its unit, a place, a colour; nothing for an outline."""
    if isinstance(track, OutlineTrack):
        return ""
    value = value_of(track, index)
    if isinstance(track, ColourTrack):
        return hex_colour(value)
    facts = PROPERTIES[name]
    told = ", ".join(number(each * facts.factor, 2) for each in value)
    return told + ("" if facts.unit in ("°", "%", "") else " ") + facts.unit


def holds(curve: TimeCurve, axis: TimeAxis) -> list[tuple[float, float, list[float]]]:
    """Where a lane rests by a hold, or goes in steps: x from and to, and of the jumps between."""
    xs = axis.xs(curve.times)
    out = []
    for k in np.flatnonzero(curve.stepped):
        if xs[k + 1] > 0 and xs[k] < axis.width:
            count = int(curve.steps[k, 0])
            jumps = [round(float(xs[k] + (xs[k + 1] - xs[k]) * n / count), 1) for n in range(1, min(count, 200))]
            out.append((round(float(xs[k]), 1), round(float(xs[k + 1]), 1), jumps))
    return out


def band_path(curve: TimeCurve, axis: TimeAxis, middle: float, most: float = BAND, stride: float = STRIDE) -> str:
    """The pace band as path data: as thick as the motion is fast, against the lane's own fastest; a stroke each
    ``stride`` px.
    """
    if len(curve.times) < 2:
        return ""
    left, right = (float(x) for x in axis.xs(curve.times[[0, -1]]))
    left, right = max(left, 0.0), min(right, axis.width)
    if right <= left:
        return ""
    count = max(2, int((right - left) / stride) + 1)
    xs = np.linspace(left, right, count)
    scale = (axis.end - axis.start) / axis.width
    speed = np.abs(curve.speed(axis.start + xs * scale))
    finite = speed[np.isfinite(speed)]
    top = float(finite.max()) if finite.size else 0.0
    if top <= 0:
        return ""
    half = np.where(np.isfinite(speed), np.maximum(speed / top * most, THINNEST), most)
    half = np.where(speed == 0, 0.0, half)
    around = np.concatenate([np.stack([xs, middle - half], 1), np.stack([xs, middle + half], 1)[::-1]])
    # Tenths of a px are all that is seen, and lists of numbers print much faster than formatted ones.
    return "M" + " ".join(map(str, np.round(around, 1).reshape(-1).tolist())) + "Z"
