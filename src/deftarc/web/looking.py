"""What one open page is shown: the answer to a look, with only what changed since the last one.

A look says what the page shows (scene, frame, selection, time axis) and may carry a tentative edit. The same
way serves opening, editing, dragging, undo and another window's change: the newest document, perhaps with the
edit on top, is held by identity against what the page has, and the difference goes out.
"""

from dataclasses import dataclass, field
from functools import lru_cache
from hashlib import sha1
from typing import Any

import numpy as np
from pydantic import Field

from deftarc.core import limits
from deftarc.core.document import Artwork, Layer, Scene
from deftarc.core.edit import Edit, apply
from deftarc.core.errors import Refusal
from deftarc.core.evaluate import Evaluator, frame_times, has_loose, still
from deftarc.core.keying import KeyRef
from deftarc.core.model import Frozen
from deftarc.core.properties import PROPERTIES
from deftarc.core.wire import pack, table_parts
from deftarc.store.projects import OpenProject
from deftarc.web.context import fragment
from deftarc.web.views.axis import TimeAxis, ValueAxis, ticks
from deftarc.web.views.figures import key_figures, rows_of, segment_figures
from deftarc.web.views.lanes import layer_row
from deftarc.web.views.pair import Pair, pair_of, scaled
from deftarc.web.workshop import Workshop

#: More layers than this open folded.
MANY_LAYERS = 14


class AxisAsked(Frozen):
    start: float
    end: float
    width: float = Field(ge=20, le=20_000)


class Focus(Frozen):
    layer: str
    property: str


class Look(Frozen):
    """What a page shows. ``n`` numbers the looks; ``fresh`` asks for everything anew."""

    n: int = 0
    scene: str
    frame: int = 0
    layers: tuple[str, ...] = ()
    keys: tuple[KeyRef, ...] = Field(default=(), max_length=20_000)
    focus: Focus | None = None
    #: None leaves it to the server: many layers open folded, so that the list can be taken in.
    folded: tuple[str, ...] | None = None
    axis: AxisAsked | None = None
    pair_height: float = Field(default=300, ge=60, le=4000)
    fresh: bool = False
    #: Only what depends on the frame: figures, and loose values.
    light: bool = False
    edit: Edit | None = None


@lru_cache(maxsize=4096)
def drawing_key(artwork: Artwork) -> str:
    """A short name for what an artwork looks like."""
    return sha1(artwork.model_dump_json().encode(), usedforsecurity=False).hexdigest()[:16]


@dataclass
class Looking:
    """One page's view of one project."""

    shop: Workshop
    project_id: str
    evaluator: Evaluator = field(default_factory=Evaluator)
    scene_id: str = ""
    sent_layers: dict[str, Layer] = field(default_factory=dict)
    sent_order: list[str] = field(default_factory=list)
    sent_head: Scene | None = None
    sent_rows: dict[str, tuple[Any, ...]] = field(default_factory=dict)
    sent_drawings: set[str] = field(default_factory=set)
    sent_fragments: dict[str, str] = field(default_factory=dict)
    kept_axes: tuple[str, ValueAxis, ValueAxis] | None = None
    ruler: tuple[Any, ...] | None = None
    pair_seen: tuple[tuple[Any, ...], Pair | None] | None = None
    readings: bytes = b""

    def answer(self, look: Look) -> bytes:
        """The packed answer to a look; a refusal is told in its head, with the last good state left standing."""
        try:
            return self._answer(look)
        except Refusal as refusal:
            return pack({"n": look.n, "refused": str(refusal)}, [])

    def _answer(self, look: Look) -> bytes:
        opened = self.shop.projects.open(self.project_id)
        project = opened.project if look.edit is None else apply(opened.project, look.edit)
        scene = project.scene(look.scene)
        if look.fresh or scene.id != self.scene_id:
            self._forget(scene.id)
        head: dict[str, Any] = {"n": look.n, "revision": opened.revision, "tentative": look.edit is not None}
        blobs: list[bytes] = []
        frame = min(max(look.frame, 0), scene.frames - 1)
        head["frame"] = frame
        chosen = next((layer for name in look.layers for layer in scene.layers if layer.id == name), None)
        fragments: dict[str, str] = {}
        if not look.light:
            head["history"] = {"undo": opened.undo, "redo": opened.redo, "steps": opened.cursor}
            self._scene_head(head, project.name, scene, opened)
            self._table(head, blobs, scene)
            axis = _axis(look, scene)
            head["axis"] = {"start": axis.start, "end": axis.end, "width": axis.width}
            head["folded"] = folded = _folded(look, scene)
            self._lanes(fragments, look, scene, axis, set(folded))
            if self.ruler != (axis, scene.rate, scene.length):
                self.ruler = (axis, scene.rate, scene.length)
                fragments["ruler"] = fragment("parts/ruler.svg", axis=axis, ticks=ticks(axis, scene.rate), scene=scene)
            pair = self._pair(fragments, look, scene, axis, chosen)
            self._columns(head, blobs, scene, chosen, pair)
        self._figures(fragments, look, scene, chosen, frame, head)
        self._still(head, blobs, scene, frame)
        head["fragments"] = {name: html for name, html in fragments.items() if self._is_new(name, html)}
        return pack(head, blobs)

    def _forget(self, scene_id: str) -> None:
        self.scene_id = scene_id
        self.sent_layers.clear()
        self.sent_rows.clear()
        self.sent_fragments.clear()
        self.sent_drawings.clear()
        self.sent_order = []
        self.sent_head = None
        self.kept_axes = None
        self.ruler = None
        self.pair_seen = None

    def _is_new(self, name: str, html: str) -> bool:
        if self.sent_fragments.get(name) == html:
            return False
        self.sent_fragments[name] = html
        return True

    def _scene_head(self, head: dict[str, Any], project_name: str, scene: Scene, opened: OpenProject) -> None:
        rate = scene.rate
        head["project"] = project_name
        head["scene"] = {
            "id": scene.id, "name": scene.name, "width": scene.width, "height": scene.height, "frames": scene.frames,
            "flicks": rate.flicks, "rate": rate.per_second, "nominal": rate.nominal, "background": scene.background,
        }  # fmt: skip
        order = [layer.id for layer in scene.layers]
        changed = [layer for layer in scene.layers if self.sent_layers.get(layer.id) is not layer]
        if not changed and order == self.sent_order and self.sent_head is not None:
            return
        drawings: dict[str, Any] = {}
        told = []
        for layer in changed:
            key = drawing_key(layer.artwork)
            if key not in self.sent_drawings:
                drawing = self.shop.materials.drawing(layer.artwork)
                drawings[key] = {**drawing.model_dump(mode="json"), "bounds": drawing.bounds()}
                self.sent_drawings.add(key)
            told.append(
                {"id": layer.id, "name": layer.name, "drawing": key, "hidden": layer.hidden, "locked": layer.locked,
                 "link": layer.scale_link}
            )  # fmt: skip
        head["layers"] = {"order": order, "changed": told, "drawings": drawings}

    def _table(self, head: dict[str, Any], blobs: list[bytes], scene: Scene) -> None:
        if scene.frames * len(scene.layers) * 7 > limits.MAX_TABLE_NUMBERS:
            raise Refusal("This scene has more frames times layers than a page can play. Make it shorter.")
        table = self.evaluator.table(scene, frame_times(scene))
        changed = {layer.id for layer in scene.layers if self.sent_layers.get(layer.id) is not layer}
        if self.sent_head is None or self.sent_head.frames != scene.frames or self.sent_head.rate != scene.rate:
            changed = {layer.id for layer in scene.layers}
        head["table"], parts = table_parts(table, 0, changed)
        blobs.extend(parts)
        self.sent_layers = {layer.id: layer for layer in scene.layers}
        self.sent_order = [layer.id for layer in scene.layers]
        self.sent_head = scene

    def _lanes(self, fragments: dict[str, str], look: Look, scene: Scene, axis: TimeAxis, folded: set[str]) -> None:
        """All rows where their order changed, else the rows that did."""
        wanted: dict[str, tuple[Any, ...]] = {}
        selected = set(look.layers)
        for layer in scene.layers:
            focus = look.focus.property if look.focus and look.focus.layer == layer.id else None
            end = layer.end if layer.end is not None else scene.length
            wanted[layer.id] = (layer, axis, layer.id in selected, layer.id in folded, focus, end)
        whole = list(wanted) != list(self.sent_rows) or not wanted
        if whole:
            rows = [layer_row(scene, w[0], axis, w[2], w[3], w[4]) for w in wanted.values()]
            fragments["lanes"] = fragment("parts/lanes.html", rows=rows, axis=axis)
            for name in [name for name in self.sent_fragments if name.startswith("layer-")]:
                del self.sent_fragments[name]
        else:
            for name, told in wanted.items():
                if not _same(told, self.sent_rows[name]):
                    row = layer_row(scene, told[0], axis, told[2], told[3], told[4])
                    fragments[f"layer-{name}"] = fragment("parts/layer.html", row=row, axis=axis)
        self.sent_rows = wanted
        if not whole:
            self.sent_fragments.pop("lanes", None)

    def _pair(
        self, fragments: dict[str, str], look: Look, scene: Scene, axis: TimeAxis, chosen: Layer | None
    ) -> Pair | None:
        layer, name = focused(look, scene, chosen)
        pair = None
        if layer is not None and name is not None:
            spot = f"{layer.id} {name} {look.pair_height}"
            kept = None
            if look.edit is not None and self.kept_axes is not None and self.kept_axes[0] == spot:
                kept = self.kept_axes[1:]
            seen = (layer.track(name), layer.name, name, axis, look.pair_height, kept)
            if self.pair_seen is not None and _same(seen, self.pair_seen[0]):
                # What is dragged has nothing to do with it: nothing to draw again.
                return self.pair_seen[1]
            pair = pair_of(scene, layer, name, axis, look.pair_height, kept)
            self.pair_seen = (seen, pair)
            self.readings = b""
            if pair is not None and kept is None:
                self.kept_axes = (spot, pair.value_axis, pair.speed_axis)
        else:
            self.pair_seen = None
        fragments["pair"] = fragment(
            "parts/pair.html", pair=pair, axis=axis, height=look.pair_height, layer=layer or chosen
        )
        return pair

    def _columns(
        self, head: dict[str, Any], blobs: list[bytes], scene: Scene, chosen: Layer | None, pair: Pair | None
    ) -> None:
        """Numbers by frame for what is selected: each property in shown units, and the pair's two curves."""
        columns: list[dict[str, Any]] = []
        times = frame_times(scene)

        def numbers(rows: "np.ndarray[Any, Any]") -> bytes:
            return bytes(np.nan_to_num(rows, posinf=3e38, neginf=-3e38).astype("<f4").tobytes())

        if chosen is not None:
            for name, rows in self.evaluator.values(scene, chosen.id, times).items():
                columns.append({"name": name, "rows": len(rows), "wide": rows.shape[1]})
                blobs.append(numbers(rows * PROPERTIES[name].factor))
            head["path"] = _path_keys(scene, chosen)
        if pair is not None:
            facts = PROPERTIES[pair.property]
            if not self.readings:
                curve = scaled(scene.layer(pair.layer).track(pair.property).curve, facts.factor)
                self.readings = numbers(np.stack([curve.at(times), curve.speed(times)], axis=1))
            columns.append({"name": "pair", "rows": len(times), "wide": 2})
            blobs.append(self.readings)
            head["pair"] = {
                "value": _scale(pair.value_axis), "speed": _scale(pair.speed_axis), "layer": pair.layer,
                "unit": "px" if pair.property == "position" else facts.unit, "speed_unit": facts.speed_unit,
            }  # fmt: skip
        head["columns"] = columns

    def _figures(
        self,
        fragments: dict[str, str],
        look: Look,
        scene: Scene,
        chosen: Layer | None,
        frame: int,
        head: dict[str, Any],
    ) -> None:
        time = scene.rate.time_of(frame)
        rows, key, segment = [], None, None
        ref = None
        if chosen is not None:
            rows = rows_of(scene, chosen, time, self._values(scene, chosen, frame))
            ref = next((ref for ref in look.keys if ref.layer == chosen.id), None)
            if ref is not None and ref.property in chosen.properties:
                times = chosen.track(ref.property).key_times
                if ref.time in times:
                    index = times.index(ref.time)
                    key = key_figures(scene, chosen, ref.property, index)
                    segment = segment_figures(scene, chosen, ref.property, index)
            head["pose"] = {row.properties[0]: [float(well.value) for well in row.wells] for row in rows}
        fragments["figures"] = fragment(
            "parts/figures.html", scene=scene, layer=chosen, rows=rows, key=key, segment=segment, ref=ref,
            several=len(look.layers), keys=len(look.keys), frame=frame,
        )  # fmt: skip

    def _values(self, scene: Scene, layer: Layer, frame: int) -> dict[str, tuple[float, ...]] | None:
        """What each property shows at a frame, from the table; None where a loose value has its say."""
        if has_loose(layer, scene.rate.time_of(frame)):
            return None
        values = self.evaluator.values(scene, layer.id, frame_times(scene))
        return {name: tuple(map(float, rows[min(frame, len(rows) - 1)])) for name, rows in values.items()}

    def _still(self, head: dict[str, Any], blobs: list[bytes], scene: Scene, frame: int) -> None:
        time = scene.rate.time_of(frame)
        loose = {layer.id for layer in scene.layers if has_loose(layer, time)}
        if loose:
            head["still"], parts = table_parts(still(scene, time), frame, loose)
            blobs.extend(parts)


def _same(one: tuple[Any, ...], other: tuple[Any, ...]) -> bool:
    """The layer or track that comes first by identity, the rest by value."""
    return one[0] is other[0] and one[1:] == other[1:]


def _folded(look: Look, scene: Scene) -> list[str]:
    if look.folded is not None:
        return list(look.folded)
    return [layer.id for layer in scene.layers] if len(scene.layers) > MANY_LAYERS else []


def _axis(look: Look, scene: Scene) -> TimeAxis:
    asked = look.axis
    if asked is None:
        return TimeAxis.fitting(scene, 560.0)
    frame = scene.rate.flicks
    if not asked.end - asked.start > frame:
        return TimeAxis.fitting(scene, asked.width)
    furthest = 4.0 * limits.MAX_TIME_SECONDS * 705_600_000
    start, end = max(asked.start, -furthest), min(asked.end, furthest)
    return TimeAxis(start, end, asked.width) if end > start else TimeAxis.fitting(scene, asked.width)


def focused(look: Look, scene: Scene, chosen: Layer | None) -> tuple[Layer | None, str | None]:
    """What the pair shows: the lane asked for, else the chosen layer's first keyed property."""
    if look.focus is not None:
        layer = next((layer for layer in scene.layers if layer.id == look.focus.layer), None)
        if layer is not None and look.focus.property in layer.keyed:
            return layer, look.focus.property
    if chosen is not None:
        return chosen, next(iter(chosen.keyed), None)
    return None, None


def _scale(axis: ValueAxis) -> dict[str, float]:
    return {"low": axis.low, "high": axis.high, "top": axis.top, "height": axis.height}


def _path_keys(scene: Scene, layer: Layer) -> list[dict[str, Any]]:
    """Where the keys of a position rest, for the picture."""
    track = layer.position
    return [{"time": key.time, "x": x, "y": y} for key, (x, y) in zip(track.keys, track.points, strict=True)]
