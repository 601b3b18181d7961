"""A drag drawn to what lies near: its edit is changed before it is tried, so that what shows is what is kept."""

from collections.abc import Callable, Iterable, Iterator
from typing import Any

import numpy as np
from pydantic import Field

from deftarc.core.arrange.family import led_by, needed_for
from deftarc.core.arrange.snapping import Box, Line, grid_lines, lines_of, snap_box, snap_time
from deftarc.core.base.arithmetic import round_step
from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.matrices import apply as through
from deftarc.core.base.model import Frozen
from deftarc.core.base.time import time_label
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.retime import span_of
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.artwork import FreePath
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.track import NumberTrack
from deftarc.core.document.units import units_of
from deftarc.core.edit import EditBase, apply
from deftarc.core.edit.base import quoted
from deftarc.core.edit.markers import ChangeMarkers
from deftarc.core.edit.move_keys import MoveKeys
from deftarc.core.edit.outlines import DragPoints
from deftarc.core.edit.spans import MoveSpans, TrimSpan
from deftarc.core.edit.stretch_keys import StretchKeys
from deftarc.core.edit.transform import MoveLayers
from deftarc.core.evaluate import FrameTable, Leaf, posed, still
from deftarc.formats.materials import Materials


class SnapAsked(Frozen):
    """To what a drag on the picture snaps, within scene px; or a drag in time, within flicks."""

    tolerance: float = Field(default=0, ge=0, le=1e12)
    grid: bool = False
    guides: bool = False
    layers: bool = False
    frame: bool = False
    #: The moment under the hand, where keys or spans are dragged.
    grabbed: int | None = None
    #: How near, in the measure's unit, a value dragged in the pair is drawn to another; 0 leaves it alone.
    level: float = Field(default=0, ge=0, le=1e12)


def box_of(item: Leaf, row: int, layer: Layer, materials: Materials) -> Box | None:
    """A layer's bounds in the scene at one row of its table; None where it has none."""
    found = boxes_of(item, np.array([row]), layer, materials)
    if not len(found):
        return None
    left, top, right, bottom = found[0].tolist()
    return left, top, right, bottom


def boxes_of(item: Leaf, rows: Integers, layer: Layer, materials: Materials) -> Floats:
    """The same at rows (n,), (m, 4): left, top, right and bottom, of those rows where it has any."""
    if item.dots is not None:
        own = np.array([item.dots.bounds(int(row)) for row in rows])
    elif "bounds" in item.look:
        own = item.look["bounds"][np.minimum(rows, len(item.look["bounds"]) - 1)]
    else:
        own = np.array([materials.of_layer(layer).bounds()])
    some = (own[:, 0] != own[:, 2]) | (own[:, 1] != own[:, 3])
    corners = own[:, [[0, 1], [2, 1], [2, 3], [0, 3]]]
    matrix = item.matrix[np.minimum(rows, len(item.matrix) - 1)]
    # All at once: where pages ask side by side, many small steps would wait for each other.
    spots = np.einsum("nij,nkj->nki", matrix[:, :2, :2], np.broadcast_to(corners, (len(rows), 4, 2)))
    spots = spots + matrix[:, None, :2, 2]
    return np.concatenate([spots.min(axis=1), spots.max(axis=1)], axis=1)[np.broadcast_to(some, len(rows))]


def items_of(scene: Scene, table: FrameTable) -> Iterator[Leaf]:
    """What of a scene's own layers has a box: its leaves, and the frames of the scenes it shows."""
    yield from (each for each in table.leaves if each.shown is None)
    for layer in scene.layers:
        if isinstance(layer.artwork, SceneShown) and layer.id in table.worlds:
            w, h = layer.artwork.width / 2, layer.artwork.height / 2
            shows = (0, 0) if layer.hidden else (0, len(table.times))
            bounds = {"bounds": np.array([[-w, -h, w, h]])}
            yield Leaf(layer.id, table.worlds[layer.id], np.ones(1), shows, bounds)


def boxes_at(scene: Scene, time: int, materials: Materials, names: Iterable[str] | None = None) -> dict[str, Box]:
    """The bounds of what shows at a time, or of some layers whether they show or not, by id."""
    # As it shows at work: a value changed but not keyed moves its layer's box too.
    table = still(scene, time, materials.shaper.form)
    wanted = None if names is None else set(names)
    out: dict[str, Box] = {}
    for item in items_of(scene, table):
        if wanted is None and item.shows[0] >= item.shows[1]:
            continue
        if wanted is None or item.layer in wanted:
            box = box_of(item, 0, scene.layer(item.layer), materials)
            if box is not None:
                out[item.layer] = box
    return out


def together(boxes: Iterable[Box]) -> Box | None:
    """One box around all."""
    rows = list(boxes)
    if not rows:
        return None
    return (min(b[0] for b in rows), min(b[1] for b in rows), max(b[2] for b in rows), max(b[3] for b in rows))


def snapped(
    project: Project,
    edit: EditBase,
    snap: SnapAsked,
    materials: Materials,
    frames: Callable[[], FrameTable],
    frame: int,
    unit: str,
) -> tuple[EditBase, dict[str, Any] | None]:
    """The edit of a look as it snaps, and what to draw of it. ``frames`` works out the table where it is looked at."""
    if isinstance(edit, MoveLayers):
        return _on_picture(project, edit, snap, materials, frames(), frame)
    if isinstance(edit, DragPoints):
        return _point(project.scene(edit.scene), edit, snap, frames(), frame)
    if isinstance(edit, MoveKeys | MoveSpans | TrimSpan | ChangeMarkers):
        return _in_time(project.scene(edit.scene), edit, snap, frame, unit)
    if isinstance(edit, StretchKeys):
        return edit, _stretched(project, edit)
    return edit, None


def _stretched(project: Project, edit: StretchKeys) -> dict[str, Any]:
    """How long keys last once they are stretched and stand on frames: what a hand is told is what it sees."""
    before = [ref.time for ref in edit.keys]
    after = edit.lands(project.scene(edit.scene))
    long, made = max(before) - min(before), max(after) - min(after)
    frames = made / project.scene(edit.scene).rate.flicks
    passed = edit.passed(project.scene(edit.scene))
    return {"time": None, "what": "", "longer": made / long if long else 1.0, "frames": frames, **_passed(passed)}


def _passed(refs: list[KeyRef]) -> dict[str, Any]:
    """The keys that what is dragged goes over, to be marked."""
    return {"passed": [ref.model_dump() for ref in refs]} if refs else {}


def _on_picture(
    project: Project, edit: MoveLayers, snap: SnapAsked, materials: Materials, table: FrameTable, frame: int
) -> tuple[EditBase, dict[str, Any] | None]:
    scene = project.scene(edit.scene)
    # What goes along is nothing to be drawn to.
    moving = led_by(scene, edit.layers)
    box = None if snap.tolerance <= 0 else _moved_box(project, scene, edit, materials)
    if box is None:
        return edit, None
    others: list[tuple[str, Box]] = []
    if snap.layers:
        for item in items_of(scene, table):
            layer = scene.layer(item.layer)
            if item.layer in moving or not item.shows[0] <= frame < item.shows[1]:
                continue
            seen = float(item.opacity[min(frame, len(item.opacity) - 1)]) > 0
            if not seen:
                continue
            found = box_of(item, frame, layer, materials)
            if found is not None:
                others.append((layer.name, found))
    whole: Box = (0.0, 0.0, float(scene.width), float(scene.height))
    # What fills the frame is ground, not a neighbour; its edges are the frame's.
    others = [
        (name, b) for name, b in others if not (b[0] <= 0 and b[1] <= 0 and b[2] >= whole[2] and b[3] >= whole[3])
    ]
    lines: list[Line] = [line for name, each in others for line in lines_of(each, name)]
    if snap.frame:
        lines += lines_of(whole, "the frame")
    if snap.guides:
        lines += [Line(guide.axis, guide.at, "guide") for guide in scene.guides]
    if snap.grid:
        lines += grid_lines(box, scene.grid)
    met = snap_box(box, lines, [each for _, each in others], snap.tolerance)
    if edit.constrain:
        # A drag held straight only snaps along its way.
        met_dx, met_dy = (met.dx, 0.0) if abs(edit.dx) >= abs(edit.dy) else (0.0, met.dy)
    else:
        met_dx, met_dy = met.dx, met.dy
    told = {
        "lines": [{"axis": line.axis, "at": line.at, "what": line.what} for line in met.lines],
        "gaps": [{"axis": g.axis, "start": g.start, "end": g.end, "across": g.across} for g in met.gaps],
        "box": [box[0] + met_dx, box[1] + met_dy, box[2] + met_dx, box[3] + met_dy],
    }
    return edit.changed(dx=edit.dx + met_dx, dy=edit.dy + met_dy), told


def _moved_box(project: Project, scene: Scene, edit: MoveLayers, materials: Materials) -> Box | None:
    """The box of what a drag moves, where it moves it. A step moves a box by just that, so the edit need not be tried
    for it, and only what moves is evaluated; where a layer's way turns it, or a step is held straight, it has to be.
    """
    chosen = [layer for layer in scene.layers if layer.id in set(edit.layers)]
    # Where its way turns or stretches it, or it follows itself, a step moves its box by more than that.
    turned = any(layer.tracks.get(name) is not None for layer in chosen for name in ("along", "lean", "stretch"))
    turned = turned or any(layer.links for layer in chosen)
    if edit.constrain or turned:
        moved = apply(project, edit).scene(edit.scene)
        return together(boxes_at(_only(moved, chosen), edit.time, materials, edit.layers).values())
    box = together(boxes_at(_only(scene, chosen), edit.time, materials, edit.layers).values())
    return None if box is None else (box[0] + edit.dx, box[1] + edit.dy, box[2] + edit.dx, box[3] + edit.dy)


def _only(scene: Scene, layers: list[Layer]) -> Scene:
    """A scene of some layers and of what they are told by alone."""
    wanted = needed_for(scene, [layer.id for layer in layers])
    return scene.changed(layers=tuple(layer for layer in scene.layers if layer.id in wanted))


def _point(
    scene: Scene, edit: DragPoints, snap: SnapAsked, table: FrameTable, frame: int
) -> tuple[EditBase, dict[str, Any] | None]:
    """Points of an outline drawn to guides, the grid and the points that stay: the first of them meets a line."""
    layer = scene.layer(edit.layer)
    item = table.leaf(edit.layer)
    if edit.part != "point" or snap.tolerance <= 0 or item is None or not isinstance(layer.artwork, FreePath):
        return edit, None
    rows = np.array(posed(scene, layer, edit.time, ("outline",))["outline"]).reshape(-1, 6)[:, :2]
    matrix = item.matrix[min(frame, len(item.matrix) - 1)]
    linear = matrix[:2, :2]
    if abs(np.linalg.det(linear)) < 1e-12 or max(edit.points) >= len(rows):
        return edit, None
    spots = through(matrix, rows)
    x, y = spots[edit.points[0]] + linear @ np.array([edit.dx, edit.dy])
    box: Box = (float(x), float(y), float(x), float(y))
    lines: list[Line] = []
    if snap.layers:
        for k, spot in enumerate(spots):
            if k not in edit.points:
                lines += [Line("x", float(spot[0]), f"point {k + 1}"), Line("y", float(spot[1]), f"point {k + 1}")]
    if snap.guides:
        lines += [Line(guide.axis, guide.at, "guide") for guide in scene.guides]
    if snap.grid:
        lines += grid_lines(box, scene.grid)
    met = snap_box(box, lines, [], snap.tolerance)
    dx, dy = np.linalg.inv(linear) @ np.array([met.dx, met.dy])
    told = {
        "lines": [{"axis": line.axis, "at": line.at, "what": line.what} for line in met.lines],
        "gaps": [],
        "box": list(box),
    }
    return edit.changed(dx=edit.dx + float(dx), dy=edit.dy + float(dy)), told


def _in_time(
    scene: Scene, edit: "MoveKeys | MoveSpans | TrimSpan | ChangeMarkers", snap: SnapAsked, frame: int, unit: str
) -> tuple[EditBase, dict[str, Any] | None]:
    step = scene.rate.flicks
    moving = {(ref.layer, ref.property, ref.time) for ref in edit.keys} if isinstance(edit, MoveKeys) else set()
    still = set(edit.layers) if isinstance(edit, MoveSpans | TrimSpan) else set()
    targets: list[tuple[int, str]] = [(0, "the scene's start"), (scene.length, "the scene's end")]
    targets.append((scene.rate.time_of(frame), "the playhead"))
    if scene.play_range is not None:
        targets += [(scene.play_range[0], "the play range"), (scene.play_range[1], "the play range")]
    told = {(mark.layer, mark.id) for mark in edit.marks} if isinstance(edit, ChangeMarkers) else set()
    for owner, markers in ((None, scene.markers), *((layer.id, layer.markers) for layer in scene.layers)):
        for marker in markers:
            if (owner, marker.id) not in told and owner not in still:
                targets.append((marker.time, f"the marker {marker.name}" if marker.name else "a marker"))
    for layer in scene.layers:
        if layer.id not in still:
            start, end = span_of(layer, scene.length)
            targets += [(start, f"the start of {layer.name}"), (end, f"the end of {layer.name}")]
        if isinstance(edit, MoveSpans) and edit.keys and layer.id in still:
            continue
        for name in layer.keyed:
            for time in layer.track(name).key_times:
                if (layer.id, name, time) not in moving:
                    targets.append((time, f"a key of {layer.name}"))
    if isinstance(edit, TrimSpan):
        edge = edit.start if edit.end is None else edit.end
        met = snap_time([0], float(edge or 0), targets, step, snap.tolerance)
        at = met.by
        fresh = edit.changed(start=at) if edit.end is None else edit.changed(end=at)
        return fresh, _snapped_label(scene, met.at, met.what, unit)
    if isinstance(edit, MoveSpans):
        first = scene.layer(edit.layers[0])
        anchors = list(span_of(first, scene.length))
    elif isinstance(edit, ChangeMarkers):
        anchors = edit.times(scene)
    else:
        grabbed = snap.grabbed if snap.grabbed is not None else edit.keys[0].time
        anchors = [grabbed, *sorted({ref.time for ref in edit.keys} - {grabbed})][:200]
    if not anchors:
        # Of markers that are gone there is nothing to draw to: the edit itself says so.
        return edit, None
    met = snap_time(anchors, float(edit.by), targets, step, snap.tolerance)
    about = _snapped_label(scene, met.at, met.what, unit)
    if not isinstance(edit, MoveKeys):
        return edit.changed(by=met.by), about
    if edit.lift and snap.level > 0:
        edit, about["level"] = _levelled(scene, edit, snap)
    edit = edit.changed(by=met.by)
    by, hit = edit.landing(scene)
    if hit:
        # What would be replaced, or what the keys come to stand beside, is told before the hand lets go.
        names = quoted(list(dict.fromkeys(scene.layer(ref.layer).name for ref in hit)))
        some = "a key" if len(hit) == 1 else f"{len(hit)} keys"
        what = f"replaces {some} of {names}" if edit.onto == "replace" else f"beside {some} of {names}"
        about.update(_snapped_label(scene, hit[0].time, what, unit))
        about["hit"] = [ref.model_dump() for ref in hit]
    about.update(_passed(edit.passed(scene, by)))
    about["by"] = by / step
    return edit if edit.by == by else edit.changed(by=by), about


def _levelled(scene: Scene, edit: MoveKeys, snap: SnapAsked) -> tuple[MoveKeys, float | None]:
    """Keys lifted to the value of another key of their lane that is near, else to a round number."""
    grabbed = edit.keys[0]
    track = scene.layer(grabbed.layer).track(grabbed.property)
    measures = track.measures()
    index = track.key_times.index(grabbed.time)
    moving = {ref.time for ref in edit.keys if (ref.layer, ref.property) == (grabbed.layer, grabbed.property)}
    still = [float(m) for m, time in zip(measures, track.key_times, strict=True) if time not in moving]
    at = float(measures[index]) + edit.lift
    near = min(still, key=lambda m: abs(m - at), default=None)
    if near is not None and abs(near - at) <= snap.level:
        return edit.changed(lift=near - float(measures[index])), near
    factor = units_of(grabbed.property, track).factor
    if isinstance(track, NumberTrack) and track.evenly:
        return edit, None
    # The tolerance is some px: a round step of about one is what a hand can aim at.
    step = round_step(snap.level * factor / 8) / factor
    return edit.changed(lift=round(at / step) * step - float(measures[index])), None


def _snapped_label(scene: Scene, at: int | None, what: str, unit: str) -> dict[str, Any]:
    if at is None:
        return {"time": None, "what": what}
    return {"time": at, "what": f"{what}, {time_label(at, scene.rate, unit)}"}
