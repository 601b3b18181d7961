"""What the picture shows of motion paths: points, handles, keys on them, floating points; and the bar above it."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from deftarc.core.base.time import FLICKS, time_label
from deftarc.core.changes.floating import floating, passed
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.rebuild import value_of
from deftarc.core.document import Layer, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack, BlendTrack, PathTrack
from deftarc.web.context import fragment
from deftarc.web.panels.figures.numbers import number
from deftarc.web.panels.focus import focused
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing

#: Paths of so many selected layers are shown.
MOST_PATHS = 12


def path_told(scene: Scene, layer: Layer, unit: str, words: bool = True) -> dict[str, Any] | None:
    """A layer's path for the picture, in the px it lies in; None where it has none.

    ``points`` has six numbers each, as free paths have; ``rests`` each point's key time or None. ``words`` leaves out
    what is only told of what lies under a free hand.
    """
    track = layer.tracks.get("position")
    if layer.axes_split or not isinstance(track, PathTrack) or not track.keys:
        return None
    handles = track.path.handles
    rows = np.zeros((len(track.points), 6))
    rows[:, :2] = track.path.points
    if handles is not None:
        rows[:, 2:] = handles
    rests: list[int | None] = [None] * len(track.points)
    keys = []
    for k, key in enumerate(track.keys):
        if rest := key.rests:
            rests[int(key.at)] = key.time
        x, y = value_of(track, k)
        told = time_label(key.time, scene.rate, unit) if words else ""
        keys.append({"time": key.time, "x": x, "y": y, "rests": rest, "told": told})
    times = passed(track)
    words_of = {k: time_label(time, scene.rate, unit) for k, time in times.items()}
    floats = [{"point": k, "time": times.get(k), "told": words_of.get(k, "never passed")} for k in floating(track)]
    return {
        "layer": layer.id, "points": np.round(rows, 3).reshape(-1).tolist(), "rests": rests, "keys": keys,
        "joints": [point.joint for point in track.points], "floats": floats, "still": _still(track),
        "closed": track.closed,
    }  # fmt: skip


def moves_without_path(layer: Layer) -> bool:
    """Whether a position moves along no path of its own: it follows something, or its axes go each for itself."""
    axes = ("position_x", "position_y") if layer.axes_split else ()
    return "position" in layer.links or any(name in layer.links or layer.track(name).keys for name in axes)


def trail_told(layer: Layer) -> dict[str, Any]:
    """What stands for a path where a position moves along none of its own: its way as it comes to be."""
    return {
        "layer": layer.id, "points": [], "rests": [], "keys": [], "joints": [], "floats": [], "still": [],
        "closed": False, "trail": True,
    }  # fmt: skip


def _still(track: PathTrack) -> list[int]:
    """Spans that nothing travels: those that only segments in steps lead over."""
    if len(track.keys) < 2:
        return []
    first, last = track.stretches
    stepped = track.curve.stepped
    moving: set[int] = set()
    held: set[int] = set()
    for a, b, still in zip(first.tolist(), last.tolist(), stepped.tolist(), strict=True):
        (held if still else moving).update(range(a, b + 1))
    return sorted(held - moving)


@dataclass(frozen=True)
class FloatBead:
    """A floating point in its lane: a small bead raised on a thread."""

    x: float
    point: int
    title: str


def float_beads(scene: Scene, layer: Layer, track: AnyTrack, axis: Any, unit: str) -> list[FloatBead]:
    """The floating points of a lane that are in view, at the times they are really passed."""
    if not isinstance(track, PathTrack) or len(track.points) <= len([k for k in track.keys if k.rests]):
        return []
    out = []
    for point, time in passed(track).items():
        x = float(axis.x(time))
        if -8 <= x <= axis.width + 8:
            title = f"{layer.name}, point {point + 1} floats, passed at {time_label(time, scene.rate, unit)}"
            out.append(FloatBead(round(x, 2), point, title))
    return out


@dataclass(frozen=True)
class PathBar:
    """The bar over the picture while a path is edited: what is selected of it, and how it is joined."""

    name: str
    about: str
    joint: str
    roundness: int
    some: bool
    along: bool
    floats: int


def path_bar(layer: Layer, keys: Sequence[KeyRef], points: Sequence[int]) -> PathBar | None:
    """The bar for a layer's path with some of its keys and floating points selected."""
    if layer.axes_split or not layer.position.keys:
        return None
    track = layer.position
    chosen = selected_points(layer, keys, points)
    told = chosen or range(len(track.points))
    joints = {track.points[k].joint for k in told}
    shares = [track.points[k].roundness for k in told if track.points[k].joint == "automatic"]
    floats = floating(track)
    counted = f"{len(track.points)} points, {len(track.keys)} keys, {number(float(track.path.lengths[-1]), 0)} px"
    if chosen:
        counted = f"{len(chosen)} of {len(track.points)} points"
    along = layer.number("along")
    return PathBar(
        name=layer.name,
        about=counted,
        joint=joints.pop() if len(joints) == 1 else "",
        roundness=round(100 * (shares[0] if shares else 0.5)),
        some=bool(chosen),
        along=bool(along.keys) or along.value > 0,
        floats=len(floats),
    )


def selected_points(layer: Layer, keys: Sequence[KeyRef], points: Sequence[int]) -> list[int]:
    """The points of a path that selected keys rest on, and the floating ones selected."""
    track = layer.position
    times = {ref.time for ref in keys if ref.layer == layer.id and ref.property == "position"}
    resting = {int(key.at) for key in track.keys if key.rests and key.time in times}
    return sorted(resting | {k for k in points if k < len(track.points)})


@dataclass(frozen=True)
class SegmentRow:
    """One segment in the table of times: where it starts, how long it is, how far it goes and how fast."""

    time: int
    name: str
    start: str
    length: str
    way: str
    mean: str


def segment_rows(scene: Scene, layer: Layer, name: str, unit: str) -> list[SegmentRow]:
    """The segments of a lane, in order."""
    track = layer.track(name)
    if len(track.keys) < 2:
        return []
    facts = PROPERTIES[name]
    values = np.array([value_of(track, k)[0] for k in range(len(track.keys))])
    measures = track.measures() if isinstance(track, PathTrack) else values * facts.factor
    out = []
    for k, key in enumerate(track.keys[:-1]):
        duration = track.keys[k + 1].time - key.time
        way = 100.0 if isinstance(track, BlendTrack) else abs(float(measures[k + 1] - measures[k]))
        frames = duration / scene.rate.flicks
        out.append(
            SegmentRow(
                time=key.time,
                name=f"{k + 1} → {k + 2}",
                start=time_label(key.time, scene.rate, unit),
                length=f"{number(duration / FLICKS, 3)}s" if unit == "seconds" else number(frames, 2),
                way=f"{number(way, 1)} {facts.unit}".strip(),
                mean=f"{number(way / (duration / FLICKS), 0)} {facts.speed_unit}".strip(),
            )
        )
    return out


@PANELS.add
class PathPanel(Panel):
    """The bar of the path that is edited, and the table of segments."""

    id: ClassVar[str] = "path"

    def __init__(self) -> None:
        self.bar_kept: tuple[object, str] | None = None

    def answer(self, showing: Showing) -> Part:
        look, scene, chosen = showing.look, showing.scene, showing.chosen
        fragments: dict[str, str] = {}
        if look.path:
            bar = path_bar(chosen, look.keys, look.path_points) if chosen is not None else None
            told = (bar, chosen and (chosen.name, chosen.axes_split))
            if look.edit is None or self.bar_kept is None or self.bar_kept[0] != told:
                self.bar_kept = (told, fragment("parts/path_bar.html", bar=bar, layer=chosen))
            fragments["path-bar"] = self.bar_kept[1]
        if look.segments:
            lane = focused(look, scene, chosen)
            layer = scene.layer(lane[0]) if lane else None
            rows = segment_rows(scene, layer, lane[1], look.unit) if layer is not None and lane else []
            label = PROPERTIES[lane[1]].label if lane else ""
            fragments["segments"] = fragment(
                "parts/segments.html", rows=rows, layer=layer, lane=lane, label=label, unit=look.unit
            )
        return Part(fragments=fragments)
