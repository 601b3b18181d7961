"""Edits of a free path's points, on the picture: drag points and handles, add, delete, round and straighten.

Points have lasting identity: one added enters every key of the outline without changing any shape.
"""

from collections.abc import Callable, Iterable
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity, Moment, Number
from deftarc.core.changes.keys import change_value
from deftarc.core.curves.curve import cut
from deftarc.core.document import Layer, Project
from deftarc.core.document.artwork import Contour, Pointed
from deftarc.core.document.keys import BlendKey
from deftarc.core.document.masks import Mask
from deftarc.core.document.track import OutlineTrack
from deftarc.core.edit.base import EditBase, LaneName
from deftarc.core.evaluate import pose
from deftarc.core.spaces.bends import in_line

Index = Annotated[int, Field(ge=0, lt=limits.MAX_OUTLINE_POINTS)]


class OutlineEdit(EditBase):
    at_playhead: ClassVar[bool] = True
    scene: Identity
    layer: Identity
    #: The mask whose points these are; None edits the artwork's.
    mask: Identity | None = None
    time: Moment = 0
    keying: bool = False

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        art = layer.artwork if self.mask is None else layer.mask(self.mask)
        if not isinstance(art, Pointed):
            raise Refusal(f"{layer.name} has no points to edit. Only a free path has, or a mask.")
        # A key within half a frame of the one shown is that frame's.
        now = self.changed(time=layer.track(self.property).time_near(self.time, scene.half))
        return project.with_scene(scene.with_layer(now.on_path(layer, art)))

    @property
    def property(self) -> str:
        """The name of the outline whose points it edits."""
        return outline_named(self.mask)

    def keyed(self) -> Iterable[LaneName]:
        return ((self.layer, self.property),) if self.keying else ()

    def on_path(self, layer: Layer, art: Pointed) -> Layer:
        raise NotImplementedError

    def label(self, project: Project) -> str:
        return f"Edit the points of {project.scene(self.scene).layer(self.layer).name}"

    def changed_now(self, layer: Layer, change: Callable[[Floats], None]) -> Layer:
        """The outline at this time changed in place, as rows (points, 6), and kept as any value is."""
        name = self.property
        rows = np.array(pose(layer, self.time, (name,))[name]).reshape(-1, 6)
        change(rows)
        if np.abs(rows).max() > limits.MAX_NUMBER:
            raise Refusal("A point cannot lie that far out.")
        value = tuple(float(x) for x in rows.reshape(-1))
        return layer.with_track(name, change_value(layer.track(name), self.time, value, self.keying))


class DragPoints(OutlineEdit):
    """Points, or one handle of a point, moved by (dx, dy) of the layer's px.

    ``part`` is the point itself or its arriving or leaving handle. The other handle turns along as long as the two
    lie in one line, unless ``apart``.
    """

    snaps: ClassVar = "point"
    kind: Literal["drag_points"] = "drag_points"
    points: Annotated[tuple[Index, ...], Field(min_length=1, max_length=limits.MAX_OUTLINE_POINTS)]
    part: Literal["point", "arriving", "leaving"] = "point"
    dx: Number
    dy: Number
    apart: bool = False

    def on_path(self, layer: Layer, art: Pointed) -> Layer:
        count = sum(len(contour.points) for contour in art.contours)
        if max(self.points) >= count:
            raise Refusal("This point is not there any more.")

        def change(rows: Floats) -> None:
            for k in dict.fromkeys(self.points):
                if self.part == "point":
                    rows[k, :2] += (self.dx, self.dy)
                    continue
                mine, other = (slice(2, 4), slice(4, 6)) if self.part == "arriving" else (slice(4, 6), slice(2, 4))
                together = not self.apart and in_line(rows[k, mine], rows[k, other])
                rows[k, mine] += (self.dx, self.dy)
                size = float(np.hypot(*rows[k, mine]))
                if together and size > 1e-9:
                    rows[k, other] = -rows[k, mine] / size * np.hypot(*rows[k, other])

        return self.changed_now(layer, change)


class RoundPoints(OutlineEdit):
    """Points made smooth, with handles along the way between their neighbours, or corners without any."""

    kind: Literal["round_points"] = "round_points"
    points: Annotated[tuple[Index, ...], Field(min_length=1, max_length=limits.MAX_OUTLINE_POINTS)]
    smooth: bool

    def on_path(self, layer: Layer, art: Pointed) -> Layer:
        neighbours = _neighbours(art.contours)
        if max(self.points) >= len(neighbours):
            raise Refusal("This point is not there any more.")

        def change(rows: Floats) -> None:
            for k in dict.fromkeys(self.points):
                before, after = neighbours[k]
                rows[k, 2:] = 0.0
                if not self.smooth:
                    continue
                along = rows[after, :2] - rows[before, :2]
                size = float(np.hypot(*along))
                if size < 1e-9:
                    continue
                along = along / size
                for part, there, sign in ((slice(2, 4), before, -1), (slice(4, 6), after, 1)):
                    # A third of the span on that side, as for an automatic joint of middling roundness.
                    rows[k, part] = sign * along * np.hypot(*(rows[there, :2] - rows[k, :2])) / 3

        return self.changed_now(layer, change)


def _neighbours(contours: tuple[Contour, ...]) -> list[tuple[int, int]]:
    """The point before and the point after each, itself at an open end."""
    out: list[tuple[int, int]] = []
    at = 0
    for contour in contours:
        n = len(contour.points)
        for k in range(n):
            before = k - 1 if k else (n - 1 if contour.closed else 0)
            after = k + 1 if k < n - 1 else (0 if contour.closed else n - 1)
            out.append((at + before, at + after))
        at += n
    return out


class AddPoint(OutlineEdit):
    """A point put on the way from point ``after`` to the next at ``share`` of it; no shape of any key changes."""

    kind: Literal["add_point"] = "add_point"
    after: Index
    share: Annotated[float, Field(gt=0, lt=1)] = 0.5

    def on_path(self, layer: Layer, art: Pointed) -> Layer:
        neighbours = _neighbours(art.contours)
        if self.after >= len(neighbours) or neighbours[self.after][1] == self.after:
            raise Refusal("There is no way on from this point to put another one on.")
        if len(neighbours) >= limits.MAX_OUTLINE_POINTS:
            raise Refusal(f"An outline has at most {limits.MAX_OUTLINE_POINTS:,} points.")
        there = neighbours[self.after][1]

        def split(rows: Floats) -> Floats:
            p0, p3 = rows[self.after, :2], rows[there, :2]
            row = np.array([p0, p0 + rows[self.after, 4:], p3 + rows[there, 2:4], p3])
            first, second = cut(row, self.share)
            spot = second[0]
            out = rows.copy()
            out[self.after, 4:], out[there, 2:4] = first[1] - p0, second[2] - p3
            new = np.concatenate([spot, first[2] - spot, second[1] - spot])
            return np.insert(out, self.after + 1, new, axis=0)

        return with_points(layer, art, _grown(art.contours, self.after), split, self.mask)


def _grown(contours: tuple[Contour, ...], after: int) -> tuple[Contour, ...]:
    out, at = [], 0
    for contour in contours:
        n = len(contour.points)
        if at <= after < at + n:
            contour = contour.changed(points=(*contour.points, contour.points[0]))
        out.append(contour)
        at += n
    return tuple(out)


def with_points(
    layer: Layer,
    art: Pointed,
    contours: tuple[Contour, ...],
    change: Callable[[Floats], Floats],
    mask: str | None = None,
) -> Layer:
    """A path with other points, in its artwork or in a mask, and in every key alike."""
    name = outline_named(mask)

    def row(numbers: tuple[float, ...]) -> tuple[float, ...]:
        return tuple(float(x) for x in change(np.array(numbers).reshape(-1, 6)).reshape(-1))

    made = art.changed(contours=contours).with_numbers(row(art.numbers()))
    tracks = dict(layer.tracks)
    track = tracks.get(name)
    if isinstance(track, OutlineTrack):
        keys = tuple(BlendKey(**{**dict(key), "value": row(key.value)}) for key in track.keys)
        loose = track.loose.changed(value=row(track.loose.value)) if track.loose else None
        tracks[name] = track.changed(value=row(track.value), keys=keys, loose=loose)
    return _with_pointed(layer, made).changed(tracks=tracks)


def outline_named(mask: str | None) -> str:
    """The name of the outline of a mask, or of the artwork."""
    return "outline" if mask is None else f"mask/{mask}/mask_outline"


def _with_pointed(layer: Layer, made: Pointed) -> Layer:
    """A layer with another state of its artwork, or of the mask that has this id."""
    if isinstance(made, Mask):
        return layer.changed(masks=tuple(made if each.id == made.id else each for each in layer.masks))
    return layer.changed(artwork=made)


class DeletePoints(OutlineEdit):
    """Points taken out of the path, in every key alike."""

    kind: Literal["delete_points"] = "delete_points"
    points: Annotated[tuple[Index, ...], Field(min_length=1, max_length=limits.MAX_OUTLINE_POINTS)]

    def on_path(self, layer: Layer, art: Pointed) -> Layer:
        gone = set(self.points)
        contours, at = [], 0
        for contour in art.contours:
            kept = [p for k, p in enumerate(contour.points) if at + k not in gone]
            at += len(contour.points)
            if len(kept) > 1:
                contours.append(contour.changed(points=tuple(kept)))
            elif kept:
                gone.add(at - len(contour.points) + next(k for k, p in enumerate(contour.points) if p is kept[0]))
        if max(self.points) >= at:
            raise Refusal("This point is not there any more.")
        if not contours:
            raise Refusal(
                "A path keeps at least two points. Delete the layer if it should go."
                if self.mask is None
                else "A mask keeps at least two points. Take it off if it should go."
            )
        keep = [k for k in range(at) if k not in gone]
        return with_points(layer, art, tuple(contours), lambda rows: rows[keep], self.mask)


class CloseContours(OutlineEdit):
    """All contours of a path closed, or opened again."""

    kind: Literal["close_contours"] = "close_contours"
    closed: bool

    def on_path(self, layer: Layer, art: Pointed) -> Layer:
        contours = tuple(contour.changed(closed=self.closed) for contour in art.contours)
        return _with_pointed(layer, art.changed(contours=contours))

    def label(self, project: Project) -> str:
        return f"{'Close' if self.closed else 'Open'} {project.scene(self.scene).layer(self.layer).name}"
