"""Which curves the pair of one page shows, and what is sent of them: only what differs from what it has."""

import math
from dataclasses import dataclass, replace
from typing import Any, ClassVar

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.identity import identical
from deftarc.core.document import Layer, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack
from deftarc.core.document.units import Units
from deftarc.web.context import fragment
from deftarc.web.look import Focus, Look
from deftarc.web.panels.axis import TimeAxis, ValueAxis
from deftarc.web.panels.columns import Columns
from deftarc.web.panels.focus import LaneId, focused, lane_keyed
from deftarc.web.panels.pair.curves import FAR, ByFrame, scaled
from deftarc.web.panels.pair.followed import measures_by_frame
from deftarc.web.panels.pair.frame import COLOURS, MOST_LISTED, Axes, Drawn, Listed, Pair, pair_of
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing

#: So many curves have their numbers read at every frame.
MOST_READ = 8


def listed(look: Look, scene: Scene, main: LaneId | None) -> list[Listed]:
    """The curves of the gutter: the main one, the moving lanes of what is selected, and those pinned or laid over."""
    asked = look.pair
    order: dict[LaneId, None] = {}
    if main is not None:
        order[main] = None
    by_id = {layer.id: layer for layer in scene.layers}
    for layer_id in look.layers:
        if layer_id in by_id:
            for name in by_id[layer_id].moving:
                order[(layer_id, name)] = None
    for lane in (*asked.pinned, *asked.shown):
        if lane_keyed(scene, lane):
            order[(lane.layer, lane.property)] = None
    with_keys = {(ref.layer, ref.property) for ref in look.keys}
    on = {main, *with_keys, *map(_id, asked.pinned), *map(_id, asked.shown)} - set(map(_id, asked.hidden))
    if asked.alone is not None and _id(asked.alone) in order:
        on = {_id(asked.alone)}
    pinned = set(map(_id, asked.pinned))
    tints = {_id(each): each.colour for each in asked.colours}
    out = []
    several = len({layer for layer, _ in order}) > 1
    for n, lane_id in enumerate(list(order)[:MOST_LISTED]):
        layer_id, name = lane_id
        label = PROPERTIES[name].label
        out.append(
            Listed(
                layer_id,
                name,
                label,
                by_id[layer_id].name if several else "",
                tints.get(lane_id, 0 if lane_id == main else 1 + (n - 1) % COLOURS),
                lane_id == main,
                lane_id in on,
                lane_id in pinned,
            )
        )
    return out


def _beside(ghosts: dict[str, Layer], main: LaneId | None, track: AnyTrack | None) -> AnyTrack | None:
    """The main curve's track in the take that is laid over, where it is another."""
    other = ghosts.get(main[0]) if main is not None else None
    found = other.tracks.get(main[1]) if other is not None and main is not None else None
    return found if found is not None and found.keys and found is not track else None


def ghost_curves(track: AnyTrack, main: Drawn, axis: TimeAxis) -> tuple[str, ...]:
    """The value and the speed of another take's curve over the axes of the main one, as path data."""
    times = axis.start + np.linspace(0, axis.width, max(2, int(axis.width / 2))) * (axis.end - axis.start) / axis.width
    xs = axis.xs(times)
    values = main.value_axis.ys(track.drawn(times) * main.units.factor)
    speeds = np.nan_to_num(track.speeds(times) * main.units.factor * main.factor, posinf=1e12, neginf=-1e12)
    low, high = main.speed_axis.low, main.speed_axis.high
    return tuple(
        "M" + " ".join(map(str, np.round(np.stack([xs, np.clip(ys, -FAR, FAR)], 1), 1).reshape(-1).tolist()))
        for ys in (values, main.speed_axis.ys(np.clip(speeds, low, high)))
    )


def _id(lane: Focus) -> LaneId:
    return lane.layer, lane.property


@dataclass
class Pairing:
    """What one page's pair was last drawn from, and its axes while something is dragged."""

    kept: tuple[object, dict[LaneId, Axes]] | None = None
    seen: tuple[Any, ...] | None = None
    pair: Pair | None = None
    #: What the frame around the curves was last drawn from.
    frame: tuple[Any, ...] | None = None

    def drawn_for(
        self,
        look: Look,
        scene: Scene,
        axis: TimeAxis,
        chosen: Layer | None,
        fragments: dict[str, str],
        by_frame: ByFrame,
        ghosts: dict[str, Layer],
    ) -> Pair | None:
        """The pair for a look; its fragments are added where they have to be drawn again."""
        main = focused(look, scene, chosen)
        rows = listed(look, scene, main)
        shown = [(scene.layer(row.layer), row.property) for row in rows if row.shown]
        spot = (look.pair_height, look.pair)
        # While something is dragged the axes stay; a tolerance that is tried is no drag, and may need others.
        # Curves that an edit takes away while it is tried leave those that stay where they are.
        here = {(layer.id, name) for layer, name in shown}
        known = self.kept is not None and self.kept[0] == spot and here <= self.kept[1].keys()
        kept = self.kept[1] if look.held and self.kept is not None and known else None
        tracks: list[object] = [layer.tracks.get(name) or layer.links[name] for layer, name in shown]
        tracks += [by_frame(layer, name) for layer, name in shown if name in layer.links]
        beside = _beside(ghosts, main, shown[0][0].tracks.get(shown[0][1]) if shown else None)
        tracks += [beside] if beside is not None else []
        facts = (axis, look.pair_height, look.pair, kept is None, look.unit, look.keys, rows, scene.play_range,
                 scene.rate, scene.length,
                 [layer.name for layer, _ in shown], chosen and chosen.name)  # fmt: skip
        if self.seen is not None and self.seen[1] == facts and identical(tracks, self.seen[0]):
            # What is dragged has nothing to do with it: nothing to draw again.
            return self.pair
        pair = pair_of(scene, shown, axis, look.pair_height, look.pair, kept, look.unit, look.keys, rows, by_frame)
        if pair is not None and beside is not None:
            pair = replace(pair, ghost=ghost_curves(beside, pair.main, axis))
        self.seen, self.pair = (tracks, facts), pair
        if pair is not None and kept is None:
            self.kept = (spot, pair.axes)
        frame = pair and (
            pair.width, pair.height, pair.value_axis, pair.speed_axis, pair.title, pair.about, pair.speed_unit,
            pair.fit,
            pair.flat, pair.single, [thin.name for thin in pair.main.thin],
        )  # fmt: skip
        told = (frame, rows, chosen and chosen.name)
        if self.frame != told:
            self.frame = told
            fragments["pair"] = fragment(
                "parts/pair.html", pair=pair, axis=axis, height=look.pair_height, layer=chosen, rows=rows
            )
        if pair is not None:
            fragments["pair-curves"] = fragment("parts/pair_curves.svg", pair=pair)
        return pair

    def forget(self) -> None:
        self.kept = self.seen = self.pair = self.frame = None

    def columns(self, columns: Columns, scene: Scene, times: Any, by_frame: ByFrame) -> list[str]:
        """Columns of measure and speed by frame of each curve shown, in shown units; the main one's is “pair”."""
        names = []
        for drawn in self.pair.curves[:MOST_READ] if self.pair is not None else ():
            track = scene.layer(drawn.layer).track(drawn.property)
            units, factor = drawn.units, drawn.factor
            name = "pair" if drawn.main else f"pair {drawn.layer} {drawn.property}"

            layer, prop = scene.layer(drawn.layer), drawn.property
            if drawn.followed:
                rows = by_frame(layer, prop)
                columns.of_curve(
                    name, (rows, scene.rate, len(times)), lambda rows=rows, prop=prop: _read(rows, prop, scene)
                )
                names.append(name)
                continue

            def read(track: AnyTrack = track, units: Units = units, factor: float = factor) -> Floats:
                if track.lasts:
                    at = np.asarray(times, np.float64)
                    rows = [track.drawn(at) * units.factor, track.speeds(at) * units.factor * factor]
                    return np.stack(rows, axis=1)
                curve = scaled(track.curve, units.factor)
                measure, speed = curve.at_and_speed(times)
                return np.stack([measure, speed * factor], axis=1)

            columns.of_curve(name, (track, scene.rate, len(times)), read)
            names.append(name)
        return names

    def head(self) -> dict[str, Any] | None:
        """What gestures need to know of the curves: their axes and units."""
        if self.pair is None:
            return None
        return {
            **_told(self.pair.main), "fit": self.pair.fit, "split": self.pair.split, "height": self.pair.height,
            "curves": [_told(drawn) for drawn in self.pair.curves],
        }  # fmt: skip


def _read(rows: Floats, name: str, scene: Scene) -> Floats:
    """Measure and speed by frame of what follows something, in shown units."""
    measures = measures_by_frame(name, rows, scene.frames)
    speeds = np.gradient(measures) * scene.rate.per_second if len(measures) > 1 else np.zeros(1)
    return np.stack([measures, speeds], axis=1)


def _told(drawn: Drawn) -> dict[str, Any]:
    return {
        "value": _scale(drawn.value_axis), "speed": _scale(drawn.speed_axis), "layer": drawn.layer,
        "property": drawn.property, "factor": drawn.units.factor, "unit": drawn.units.value,
        "speed_unit": drawn.units.speed, "speed_factor": drawn.units.factor * drawn.factor,
        "growth": drawn.units.growth, "title": drawn.title, "speed_round": _rounding(drawn.speed_axis),
    }  # fmt: skip


def _scale(axis: ValueAxis) -> dict[str, float]:
    return {"low": axis.low, "high": axis.high, "top": axis.top, "height": axis.height}


#: Px about rest within which a speed under a hand is rest.
REST = 6


def _rounding(axis: ValueAxis) -> dict[str, float]:
    """How speeds under a hand land on round numbers, rest above all, in shown units: by powers of ten."""
    px = (axis.high - axis.low) / axis.height
    return {"rest": REST * px, "step": 10.0 ** math.floor(math.log10(max(px, 1e-6)))}


@PANELS.add
class PairPanel(Panel):
    id: ClassVar[str] = "pair"
    last: ClassVar[bool] = True
    within: ClassVar[dict[str, tuple[str, ...]]] = {"pair": ("pair-curves",)}
    by_lines: ClassVar[frozenset[str]] = frozenset(("pair-curves",))

    def __init__(self) -> None:
        self.pairing = Pairing()

    def forget(self) -> None:
        self.pairing.forget()

    def answer(self, showing: Showing) -> Part:
        part = Part()
        self.pairing.drawn_for(
            showing.look, showing.scene, showing.axis, showing.chosen, part.fragments,
            showing.by_frame, showing.ghosts,
        )  # fmt: skip
        part.columns = self.pairing.columns(showing.columns, showing.scene, showing.times, showing.by_frame)
        head = self.pairing.head()
        if head is not None:
            part.head["pair"] = head
        return part
