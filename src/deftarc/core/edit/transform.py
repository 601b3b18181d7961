"""Edits by hand on the picture: drag, scale, turn, move the pivot; and the link of the scale axes.

Pointer positions come in scene px; what they mean is worked out here, however deep a layer's parents are turned
and scaled, so that every hand does the same.
"""

from collections.abc import Iterable
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.arrange.axes import Axes, axes_basis, back_from
from deftarc.core.arrange.family import carried_along
from deftarc.core.arrange.placed import shifted_spots, with_spot
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import apply, linear_part
from deftarc.core.base.model import Frozen, Identity, Moment, Number
from deftarc.core.base.working import at_work
from deftarc.core.changes.keys import change_value, multiplied, shifted
from deftarc.core.changes.rebuild import concrete
from deftarc.core.changes.split import refitted
from deftarc.core.curves.sides import Side, mirrored
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.track import NumberTrack
from deftarc.core.edit.base import POSITION, EditBase, LaneName, quoted
from deftarc.core.evaluate import carried_by, heading_at, matrix_at, pose

#: What a scale that takes more keys to stay as it is may be off, as a factor: five hundredths of a per cent.
NEAR_ENOUGH = 5e-4
#: Steps that Shift constrains to.
TURN_STEP = 15.0
SCALE_STEP = 0.1
#: A handle nearer to the pivot than this, in scaled layer px, gives no factor.
NEAR = 1e-6

Point = tuple[Number, Number]


class HandEdit(EditBase):
    """What a hand does to layers on the picture; ``drives`` names the properties that it changes."""

    at_playhead: ClassVar[bool] = True
    drives: ClassVar[tuple[str, ...]] = ()
    scene: Identity
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    time: Moment
    keying: bool = False
    #: Shift is held.
    constrain: bool = False

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        chosen = set(self.layers)
        # What another selected layer carries comes along by itself.
        skipped = carried_along(scene, {layer.id for layer in scene.layers if layer.id in chosen})
        for layer_id in at_work(dict.fromkeys(self.layers)):
            layer = scene.layer(layer_id)
            if layer_id not in skipped:
                scene = scene.with_layer(self.on_layer(scene, layer))
        return project.with_scene(scene)

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        raise NotImplementedError

    def keyed(self) -> Iterable[LaneName]:
        return [(layer, name) for layer in self.layers for name in self.drives] if self.keying else ()

    def verb(self) -> str:
        """What the history calls the gesture."""
        raise NotImplementedError

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        return f"{self.verb()} {quoted([scene.layer(x).name for x in dict.fromkeys(self.layers)])}"


class MoveLayers(HandEdit):
    """Layers moved by (dx, dy) scene px; constrained to the longer of the two along ``axes``."""

    snaps: ClassVar = "box"
    drives: ClassVar[tuple[str, ...]] = POSITION
    kind: Literal["move_layers"] = "move_layers"
    dx: Number
    dy: Number
    axes: Axes = "parent"

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        carried = carried_by(scene, layer, self.time)[:2, :2]
        step = np.array([self.dx, self.dy])
        if self.constrain:
            basis = axes_basis(scene, layer, carried, self.axes, self.time)
            along = np.linalg.solve(basis, step)
            reach = np.abs(along) * np.hypot(*basis)
            along[int(np.argmin(reach))] = 0.0
            step = basis @ along
        dx, dy = back_from(carried, layer) @ step
        x, y = pose(layer, self.time, ("position",))["position"]
        return with_spot(layer, self.time, (x + float(dx), y + float(dy)), self.keying, scene.half)

    def verb(self) -> str:
        return "Move"


class TurnLayers(HandEdit):
    """Layers turned about their pivots by degrees, several turns if the hand went round several times.

    Constrained, the angle that results is a whole number of 15° steps.
    """

    drives: ClassVar[tuple[str, ...]] = ("rotation",)
    kind: Literal["turn_layers"] = "turn_layers"
    degrees: Number

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        mirrored = np.linalg.det(carried_by(scene, layer, self.time)[:2, :2]) < 0
        degrees = -self.degrees if mirrored else self.degrees
        angle = pose(layer, self.time, ("rotation",))["rotation"][0] + degrees
        if self.constrain:
            way = heading_at(scene, layer, self.time)
            angle = round((angle + way) / TURN_STEP) * TURN_STEP - way
        return layer.with_track(
            "rotation", change_value(layer.number("rotation"), self.time, (angle,), self.keying, scene.half)
        )

    def verb(self) -> str:
        return "Turn"


class ScaleLayers(HandEdit):
    """A handle taken at ``start`` and dragged to ``to``, in scene px, scaling each layer about its pivot.

    ``axes`` tells which the handle moves: 1, 0 for one side, 1, 1 for a corner. Linked axes scale together and
    constrain to whole tenths; free ones go their own ways, and constrained keep their proportion.
    """

    drives: ClassVar[tuple[str, ...]] = ("scale", "scale_x", "scale_y")
    kind: Literal["scale_layers"] = "scale_layers"
    start: Point
    to: Point
    axes: tuple[Literal[0, 1], Literal[0, 1]] = (1, 1)

    def apply(self, project: Project) -> Project:
        """Several layers scale by the factors of the first one, about its pivot."""
        scene = project.scene(self.scene)
        first = scene.layer(self.layers[0])
        after = super().apply(project) if len(self.layers) == 1 else self._together(scene, first, project)
        return after

    def _together(self, scene: Scene, first: Layer, project: Project) -> Project:
        even, factors = self._factors(scene, first)
        if first.scale_link != "free":
            now = pose(first, self.time, ("scale",))["scale"][0]
            made = pose(self._one(first, now, even, scene.half), self.time, ("scale",))["scale"][0]
            even = made / now if abs(now) > NEAR else 1.0
            factors = (even, even if first.scale_link == "linked" else 1 / even if abs(even) > NEAR else 1.0)
        world = carried_by(scene, first, self.time)
        about = apply(world, np.array([pose(first, self.time, ("position",))["position"]]))[0]
        turned = pose(first, self.time, ("rotation",))["rotation"][0] + heading_at(scene, first, self.time)
        basis = world[:2, :2] @ linear_part(turned, 0.0, 0.0)
        change = basis @ np.diag(factors) @ np.linalg.inv(basis)
        chosen = set(self.layers)
        skipped = carried_along(scene, {layer.id for layer in scene.layers if layer.id in chosen})
        out = scene
        for name in dict.fromkeys(self.layers):
            if name in skipped:
                continue
            layer = scene.layer(name)
            layer = self._scaled_by(layer, factors, scene.half)
            if name != first.id:
                carried = carried_by(scene, layer, self.time)
                spot = apply(carried, np.array([pose(layer, self.time, ("position",))["position"]]))[0]
                x, y = apply(back_from(carried, layer), np.array([about + change @ (spot - about)]))[0]
                layer = with_spot(layer, self.time, (float(x), float(y)), self.keying, scene.half)
            out = out.with_layer(layer)
        return project.with_scene(out)

    def _scaled_by(self, layer: Layer, factors: tuple[float, float], half: int) -> Layer:
        if layer.scale_link != "free":
            # One number for both axes: by what the two make together, so that areas grow alike.
            even = factors[0] if layer.scale_link == "area" else float(np.sqrt(abs(factors[0] * factors[1])))
            even = -even if factors[0] < 0 and layer.scale_link == "linked" else even
            value = pose(layer, self.time, ("scale",))["scale"][0] * even
            track = change_value(layer.number("scale"), self.time, (_bounded(value),), self.keying, half)
            return layer.with_track("scale", track)
        for name, factor in zip(("scale_x", "scale_y"), factors, strict=True):
            if factor != 1.0:
                value = _bounded(pose(layer, self.time, (name,))[name][0] * factor)
                track = change_value(layer.number(name), self.time, (value,), self.keying, half)
                layer = layer.with_track(name, track)
        return layer

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        even, factors = self._factors(scene, layer)
        if layer.scale_link != "free":
            return self._one(layer, pose(layer, self.time, ("scale",))["scale"][0], even, scene.half)
        return self._scaled_by(layer, factors, scene.half)

    def _factors(self, scene: Scene, layer: Layer) -> tuple[float, tuple[float, float]]:
        """By how much the hand scales a layer evenly, and along each of its axes."""
        names = ("position", "rotation", "skew_x", "skew_y", *(n for n in layer.properties if n.startswith("scale")))
        now = pose(layer, self.time, names)
        turned = now["rotation"][0] + heading_at(scene, layer, self.time)
        linear = linear_part(turned, now["skew_x"][0], now["skew_y"][0])
        pivot = np.array(now["position"])
        home = back_from(carried_by(scene, layer, self.time), layer)
        try:
            back = np.linalg.inv(linear)
        except np.linalg.LinAlgError:
            return 1.0, (1.0, 1.0)
        v0, v1 = (back @ (apply(home, np.array([point]))[0] - pivot) for point in (self.start, self.to))
        used = np.array(self.axes, float)
        along = float(np.dot(v0 * used, v0 * used))
        even = float(np.dot(v1 * used, v0 * used)) / along if along > NEAR**2 else 1.0
        sx, sy = (
            1.0 if not used[axis] else even if self.constrain
            else float(v1[axis] / v0[axis]) if abs(v0[axis]) > NEAR else 1.0
            for axis in (0, 1)
        )  # fmt: skip
        return even, (sx, sy)

    def _one(self, layer: Layer, scale: float, factor: float, half: int = 0) -> Layer:
        if layer.scale_link == "area" and self.axes == (0, 1):
            factor = 1 / factor if abs(factor) > NEAR else 1.0
        value = scale * factor
        if self.constrain:
            value = round(value / SCALE_STEP) * SCALE_STEP
        track = change_value(layer.number("scale"), self.time, (_bounded(value),), self.keying, half)
        return layer.with_track("scale", track)

    def verb(self) -> str:
        return "Scale"


def _bounded(value: float) -> float:
    return float(np.clip(value, -limits.MAX_NUMBER, limits.MAX_NUMBER))


class MovePivot(HandEdit):
    """The pivot put at a place of the artwork (``own``, layer px; ``each`` for several) or of the scene (``to``).

    The whole motion goes along, so that the picture at this time stays where it is; no key is added, however the
    layer is keyed, turned, scaled or carried.
    """

    kind: Literal["move_pivot"] = "move_pivot"
    own: Point | None = None
    each: tuple[Point, ...] = ()
    to: Point | None = None

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        if self.each:
            if len(self.each) != len(self.layers):
                raise Refusal("Say for each layer where its pivot goes.")
            target = np.array(self.each[self.layers.index(layer.id)])
        elif self.own is not None:
            target = np.array(self.own)
        elif self.to is not None:
            whole = carried_by(scene, layer, self.time) @ matrix_at(scene, layer, self.time)
            target = apply(back_from(whole, layer), np.array([self.to]))[0]
        else:
            raise Refusal("Say where the pivot goes.")
        now = pose(layer, self.time, ("pivot_x", "pivot_y"))
        by = (float(target[0]) - now["pivot_x"][0], float(target[1]) - now["pivot_y"][0])
        for name, step in zip(("pivot_x", "pivot_y"), by, strict=True):
            if step:
                layer = layer.with_track(name, shifted(layer.number(name), (step,)))
        return shifted_spots(layer, pivot_shift(scene, layer, by, self.time))

    def verb(self) -> str:
        return "Move the pivot of"


def pivot_shift(scene: Scene, layer: Layer, by: tuple[float, float], time: int) -> tuple[float, float]:
    """By how much a position changes so that the picture stays when the pivot moves by layer px."""
    dx, dy = matrix_at(scene, layer, time)[:2, :2] @ np.array(by)
    return float(dx), float(dy)


class Step(Frozen):
    layer: Identity
    dx: Number
    dy: Number


class MoveEach(EditBase):
    """Each layer moved by its own (dx, dy) scene px: what aligning and distributing come to."""

    at_playhead: ClassVar[bool] = True
    kind: Literal["move_each"] = "move_each"
    scene: Identity
    steps: Annotated[tuple[Step, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    time: Moment
    keying: bool = False
    verb: Annotated[str, Field(max_length=40)] = "Move"

    def apply(self, project: Project) -> Project:
        for step in self.steps:
            move = MoveLayers(
                scene=self.scene, layers=(step.layer,), time=self.time, keying=self.keying, dx=step.dx, dy=step.dy
            )
            project = move.apply(project)
        return project

    def keyed(self) -> Iterable[LaneName]:
        return [(step.layer, name) for step in self.steps for name in POSITION] if self.keying else ()

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        return f"{self.verb} {quoted([scene.layer(step.layer).name for step in self.steps])}"


class LinkScale(EditBase):
    """How the scale axes go together.

    Unlinking keeps the motion; linking takes x's, and y in its present ratio; by area takes x's, and y = 1/x.
    Unlinking from area keeps it at the keys: between them 1/x has another shape than two handles can give.
    """

    at_playhead: ClassVar[bool] = True
    kind: Literal["link_scale"] = "link_scale"
    scene: Identity
    layer: Identity
    others: Annotated[tuple[Identity, ...], Field(max_length=limits.MAX_LAYERS)] = ()
    link: Literal["linked", "free", "area"]
    time: Moment

    def apply(self, project: Project) -> Project:
        scene = before = project.scene(self.scene)
        for layer_id in dict.fromkeys((self.layer, *self.others)):
            layer = scene.layer(layer_id)
            if layer.scale_link != self.link:
                scene = scene.with_layer(self._free(scene, layer) if self.link == "free" else self._one(layer))
        return project if scene is before else project.with_scene(scene)

    def _free(self, scene: Scene, layer: Layer) -> Layer:
        tracks = dict(layer.tracks)
        track = layer.number("scale")
        if track.evenly and layer.scale_link == "linked" and layer.scale_ratio < 0 and len(track.keys) > 1:
            # Mirrored, it cannot grow evenly, for that knows no numbers below nought: it takes more keys instead.
            ratio = layer.scale_ratio
            mirrored_y = refitted(track, ratio, scene.rate.flicks, NEAR_ENOUGH)
            mirrored_y = mirrored_y.changed(**track.going_on(lambda value: tuple(at * ratio for at in value)))
            tracks.pop("scale", None)
            return layer.changed(scale_link="free", tracks={**tracks, "scale_x": track, "scale_y": mirrored_y})
        tracks.pop("scale", None)
        tracks["scale_x"] = track
        by_area = layer.scale_link == "area"
        tracks["scale_y"] = multiplied(_reciprocal(track) if by_area else track, layer.scale_ratio)
        return layer.changed(scale_link="free", tracks=tracks)

    def _one(self, layer: Layer) -> Layer:
        tracks = dict(layer.tracks)
        if layer.scale_link == "free":
            now = pose(layer, self.time, ("scale_x", "scale_y"))
            x, y = now["scale_x"][0], now["scale_y"][0]
            tracks["scale"] = layer.number("scale_x")
            tracks.pop("scale_x", None)
            tracks.pop("scale_y", None)
        else:
            x, y = pose(layer, self.time, ("scale",))["scale"]
        # As it looks at that time it looks on.
        ratio = x * y if self.link == "area" else y / x if abs(x) > 1e-9 else 1.0
        if self.link == "area" and abs(ratio) < 1e-9:
            raise Refusal(f"{layer.name} has no area to keep here. Go to where it has a size.")
        return layer.changed(scale_link=self.link, scale_ratio=float(np.clip(ratio, -1e6, 1e6)), tracks=tracks)

    def label(self, project: Project) -> str:
        name = project.scene(self.scene).layer(self.layer).name
        words = {"linked": "Link", "free": "Unlink", "area": "Link by area"}
        return f"{words[self.link]} the scale axes of {name}"


def _reciprocal(track: NumberTrack) -> NumberTrack:
    """1/s of a track: exact at its keys, and with the right speeds there; exact everywhere where it grows evenly."""

    def turned(value: float) -> float:
        return 1 / value if abs(value) > 1e-6 else 1e6

    def side(told: Side | None, value: float) -> Side | None:
        return None if told is None else Side(reach=told.reach, rise=_bounded(-told.rise * turned(value) ** 2))

    if track.evenly:
        # In logarithms 1/s is −s.
        mirror = tuple(
            key.changed(value=1 / key.value, leaving=mirrored(key.leaving, -1.0), arriving=mirrored(key.arriving, -1.0))
            for key in track.keys
        )
        goes_on = track.going_on(lambda value: tuple(map(turned, value)))
        return track.changed(value=turned(track.value), keys=mirror, loose=None, crafts=(), **goes_on)
    track = concrete(track, range(len(track.keys)))
    keys = tuple(
        key.changed(
            value=turned(key.value), leaving=side(key.leaving, key.value), arriving=side(key.arriving, key.value)
        )
        for key in track.keys
    )
    goes_on = track.going_on(lambda value: tuple(map(turned, value)))
    return NumberTrack(value=turned(track.value), keys=keys, **goes_on)
