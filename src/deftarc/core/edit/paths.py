"""Edits of a motion path on the picture: bend it, join its points, add and delete them, close it, turn it round.

Pointer steps come in scene px and are taken back through what carries the layer. No key changes its time here.
"""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.arrange.axes import back_from
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.matrices import apply
from deftarc.core.base.model import Identity, Moment, Number
from deftarc.core.changes.keys import in_proportion
from deftarc.core.changes.path import (
    Joint,
    Part,
    closed,
    dragged,
    joined,
    point_added,
    points_deleted,
    reversed_path,
    spread,
    toggled,
    with_way_back,
)
from deftarc.core.changes.places import at_distance
from deftarc.core.changes.rebuild import concrete
from deftarc.core.document import Layer, Project
from deftarc.core.document.keys import PathKey
from deftarc.core.document.track import PathTrack
from deftarc.core.edit.base import EditBase, Note
from deftarc.core.evaluate import carried_by
from deftarc.core.spaces.bends import path_of
from deftarc.core.spaces.points import PathPoint, point_at

Index = Annotated[int, Field(ge=0, lt=limits.MAX_KEYS_PER_LANE)]
Indices = Annotated[tuple[Index, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)]
#: What Shift turns a handle or a step to, in degrees.
STEP = 45.0


def path_track(layer: Layer, least: int = 1) -> PathTrack:
    """A layer's path; Refusal where it has none, or too few points."""
    if layer.axes_split:
        raise Refusal(f"The axes of {layer.name} are split. Combine them as a path first.")
    if len(layer.position.points) < least:
        raise Refusal(f"{layer.name} has no path yet. Set a key of its position, go on in time, and set another one.")
    return layer.position


class PathEdit(EditBase):
    scene: Identity
    layer: Identity

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        track = self.on_path(project, layer, path_track(layer))
        return project.with_scene(scene.with_layer(layer.with_track("position", track)))

    def on_path(self, project: Project, layer: Layer, track: PathTrack) -> PathTrack:
        raise NotImplementedError

    def verb(self) -> str:
        return "Bend the path of"

    def label(self, project: Project) -> str:
        return f"{self.verb()} {project.scene(self.scene).layer(self.layer).name}"

    def home_step(self, project: Project, layer: Layer, time: int, dx: float, dy: float) -> tuple[float, float]:
        """A step in scene px as one in the px the path lies in."""
        x, y = back_from(carried_by(project.scene(self.scene), layer, time)[:2, :2], layer) @ np.array([dx, dy])
        return float(x), float(y)


def turned_to(vector: tuple[float, float], step: float = STEP) -> tuple[float, float]:
    """A vector in the nearest direction that is a whole number of steps of so many degrees: its share that way."""
    x, y = vector
    angle = np.deg2rad(round(float(np.rad2deg(np.arctan2(y, x))) / step) * step)
    way = np.array([np.cos(angle), np.sin(angle)])
    along = float(way @ np.array([x, y]))
    return float(way[0] * along), float(way[1] * along)


class BendPath(PathEdit):
    """Points of the path, or one handle of each, moved by (dx, dy) scene px as seen at ``time``.

    Constrained, points go level, upright or at 45°, and a handle lies so. ``apart`` leaves the other handle alone.
    """

    at_playhead: ClassVar[bool] = True
    kind: Literal["bend_path"] = "bend_path"
    points: Annotated[Indices, Field(min_length=1)]
    part: Part = "point"
    dx: Number
    dy: Number
    time: Moment
    apart: bool = False
    constrain: bool = False

    def on_path(self, project: Project, layer: Layer, track: PathTrack) -> PathTrack:
        by = self.home_step(project, layer, self.time, self.dx, self.dy)
        if self.constrain and self.part == "point":
            by = turned_to(by)
        elif self.constrain and max(self.points) < len(track.points):
            path = path_of(track.points, track.closed)
            side = slice(0, 2) if self.part == "arriving" else slice(2, 4)
            now = np.zeros(2) if path.handles is None else path.handles[self.points[0], side]
            x, y = turned_to((float(now[0]) + by[0], float(now[1]) + by[1]))
            by = (x - float(now[0]), y - float(now[1]))
        return dragged(track, self.points, self.part, by, self.apart)


class JoinPath(PathEdit):
    """How the path goes through points, or through all where none are named: then new points do so as well.

    ``toggle`` makes sharp points smooth and round ones straight.
    """

    kind: Literal["join_path"] = "join_path"
    points: Indices = ()
    joint: Joint | Literal["toggle"]
    roundness: Annotated[float, Field(ge=0, le=1)] | None = None

    def on_path(self, project: Project, layer: Layer, track: PathTrack) -> PathTrack:
        if self.joint == "toggle":
            return toggled(track, self.points or range(len(track.points)))
        made = joined(track, self.points or range(len(track.points)), self.joint, self.roundness)
        if self.points:
            return made
        share = self.roundness if self.roundness is not None else 0.5
        return made.changed(rounded=share if self.joint == "automatic" else None)

    def verb(self) -> str:
        return "Join the points of" if self.joint != "automatic" else "Round the path of"


class AddPathPoint(PathEdit):
    """A point put on the path at a parameter ``u`` of a span; it floats, and the motion stays as it is."""

    kind: Literal["add_path_point"] = "add_path_point"
    span: Index
    u: Annotated[float, Field(gt=0, lt=1)] = 0.5

    def on_path(self, project: Project, layer: Layer, track: PathTrack) -> PathTrack:
        return point_added(track, self.span, self.u)

    def verb(self) -> str:
        return "Add a point to the path of"


class SpreadPoints(PathEdit):
    """So many floating points put at even distances between two points of the path."""

    kind: Literal["spread_points"] = "spread_points"
    first: Index
    last: Index
    count: Annotated[int, Field(ge=1, le=500)]

    def on_path(self, project: Project, layer: Layer, track: PathTrack) -> PathTrack:
        return spread(track, self.first, self.last, self.count)

    def verb(self) -> str:
        return f"Add {self.count} points to the path of"


class DeletePathPoints(PathEdit):
    """Points taken out of the path; with one that a key rests on, the key goes too."""

    kind: Literal["delete_path_points"] = "delete_path_points"
    points: Annotated[Indices, Field(min_length=1)]

    def on_path(self, project: Project, layer: Layer, track: PathTrack) -> PathTrack:
        return points_deleted(track, self.points)

    def verb(self) -> str:
        return f"Delete {'a point' if len(self.points) == 1 else f'{len(self.points)} points'} of the path of"


class ClosePath(PathEdit):
    """The path closed by a way ``back`` to its start or by its last point put there, or opened again."""

    kind: Literal["close_path"] = "close_path"
    closed: bool
    back: bool = False

    def on_path(self, project: Project, layer: Layer, track: PathTrack) -> PathTrack:
        if self.closed and self.back:
            return with_way_back(track, project.scene(self.scene).rate.flicks)
        return closed(track, self.closed)

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = after.scene(self.scene)
        old, new = (each.scene(self.scene).layer(self.layer).position for each in (before, after))
        if len(old.keys) == len(new.keys):
            return ()
        if len(new.keys) < len(old.keys):
            return [Note("The way back to the start is gone, with its key.")]
        frame = new.key_times[-1] // scene.rate.flicks
        beyond = ", after the end of the scene" if frame >= scene.frames else ""
        return [Note(f"A way back to the start was added; it gets there at {frame} f{beyond}.")]

    def verb(self) -> str:
        return "Close the path of" if self.closed else "Open the path of"


class ReversePath(PathEdit):
    """The path run from its end to its start, keys at their times."""

    kind: Literal["reverse_path"] = "reverse_path"

    def on_path(self, project: Project, layer: Layer, track: PathTrack) -> PathTrack:
        return reversed_path(track)

    def verb(self) -> str:
        return "Turn round the path of"


#: x, y, arriving handle, leaving handle, from the point; in scene px.
Row6 = tuple[Number, Number, Number, Number, Number, Number]


class TakePath(EditBase):
    """A path given to a layer whole, in scene px as seen at ``time``: drawn by clicks, or taken from an outline.

    Its points float but for the two ends. The first and the last key keep their times and sides; a layer without a
    motion gets them at ``time`` and at ``end``.
    """

    at_playhead: ClassVar[bool] = True
    brings_paths: ClassVar[bool] = True
    kind: Literal["take_path"] = "take_path"
    scene: Identity
    layer: Identity
    points: Annotated[tuple[Row6, ...], Field(min_length=2, max_length=limits.MAX_OUTLINE_POINTS)]
    closed: bool = False
    time: Moment
    end: Moment

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        track = path_track(layer, least=0)
        back = back_from(carried_by(scene, layer, self.time), layer)
        points = [_point(row, back) for row in self.points]
        if self.closed:
            first = points[0]
            points.append(first)
        if len(track.keys) > 1:
            first_key, last_key = track.keys[0], track.keys[-1]
        else:
            if self.end <= self.time:
                raise Refusal("The motion along the path ends after it begins. Go to an earlier frame.")
            first_key, last_key = PathKey(time=self.time, at=0.0), PathKey(time=self.end, at=0.0)
        keys = (
            first_key.changed(at=0.0, past=0.0, pace=False, leaving=None, joint="corner", hold=False, steps=None),
            last_key.changed(at=len(points) - 1.0, past=0.0, pace=False, arriving=None, joint="corner"),
        )
        made = PathTrack(
            value=points[0].spot, points=tuple(points), keys=keys, closed=self.closed and len(points) > 2,
            within=track.within, rounded=track.rounded,
        )  # fmt: skip
        return project.with_scene(scene.with_layer(layer.with_track("position", made)))

    def label(self, project: Project) -> str:
        return f"Give {project.scene(self.scene).layer(self.layer).name} a path"


def _point(row: Row6, back: np.ndarray) -> PathPoint:
    (x, y), *arms = apply(
        back, np.array([row[:2], (row[0] + row[2], row[1] + row[3]), (row[0] + row[4], row[1] + row[5])])
    )
    arriving, leaving = ((float(a[0] - x), float(a[1] - y)) for a in arms)
    size = max(abs(n) for n in (*arriving, *leaving))
    if size < 1e-6:
        return PathPoint(x=float(x), y=float(y))
    kept = [told if max(abs(told[0]), abs(told[1])) > 1e-6 else None for told in (arriving, leaving)]
    in_line = kept[0] and kept[1] and abs(arriving[0] * leaving[1] - arriving[1] * leaving[0]) < 1e-3 * size**2
    facing = arriving[0] * leaving[0] + arriving[1] * leaving[1] < 0
    return PathPoint(
        x=float(x), y=float(y), joint="smooth" if in_line and facing else "corner", arriving=kept[0], leaving=kept[1]
    )


class SlideKey(PathEdit):
    """A pace key put where the path is nearest to a place of the scene, as seen at ``time``; it keeps its own time."""

    kind: Literal["slide_key"] = "slide_key"
    key: Moment
    to: tuple[Number, Number]
    time: Moment

    def on_path(self, project: Project, layer: Layer, track: PathTrack) -> PathTrack:
        if self.key not in track.key_times:
            raise unknown("key", f"{layer.name}, position at {self.key}")
        back = back_from(carried_by(project.scene(self.scene), layer, self.time), layer)
        spot = apply(back, np.array([self.to]))[0]
        index = track.key_times.index(self.key)
        moved = at_distance(concrete(track, (index,)), index, track.path.nearest(spot))
        return in_proportion(moved, track.measures())

    def verb(self) -> str:
        return "Slide a key along the path of"


class SetRounding(EditBase):
    """What points of new paths in this project are: straight, or automatic with a roundness."""

    kind: Literal["set_rounding"] = "set_rounding"
    rounded: Annotated[float, Field(ge=0, le=1)] | None

    def apply(self, project: Project) -> Project:
        return project.changed(rounded=self.rounded)

    def label(self, project: Project) -> str:
        return "New paths are straight" if self.rounded is None else f"New paths are rounded by {self.rounded:.0%}"


def with_fresh_paths(before: Project, after: Project) -> Project:
    """New paths get the project's own joint: positions that an edit gave their first keys to."""
    if after.rounded is None or before.scenes is after.scenes:
        return after
    known = {layer.id: layer for scene in before.scenes for layer in scene.layers}
    for scene in after.scenes:
        for layer in scene.layers:
            old = known.get(layer.id)
            track = layer.tracks.get("position")
            if old is None or old is layer or not isinstance(track, PathTrack) or not track.keys or old.axes_split:
                continue
            bare = track.rounded is None and all(point.joint == "straight" for point in track.points)
            if not old.position.keys and bare:
                points = tuple(point_at(point.spot, after.rounded) for point in track.points)
                made = track.changed(points=points, rounded=after.rounded)
                scene = scene.with_layer(layer.with_track("position", made))
        if scene is not after.scene(scene.id):
            after = after.with_scene(scene)
    return after
