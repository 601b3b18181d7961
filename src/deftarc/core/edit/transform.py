"""Edits by hand on the picture: drag, scale, turn; and the link of the scale axes.

Pointer positions come in scene px; what they mean is worked out here, so that every hand does the same.
"""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from deftarc.core import limits
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.edit.base import EditBase, quoted
from deftarc.core.evaluate import pose
from deftarc.core.geometry import linear_part
from deftarc.core.keying import change_value, multiplied
from deftarc.core.model import Identity, Moment, Number

#: Steps that Shift constrains to.
TURN_STEP = 15.0
SCALE_STEP = 0.1
#: A handle nearer to the pivot than this, in scaled layer px, gives no factor.
NEAR = 1e-6

Point = tuple[Number, Number]


class HandEdit(EditBase):
    scene: Identity
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    time: Moment
    keying: bool = False
    #: Shift is held.
    constrain: bool = False

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer_id in dict.fromkeys(self.layers):
            scene = scene.with_layer(self.on_layer(scene, scene.layer(layer_id)))
        return project.with_scene(scene)

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        raise NotImplementedError

    def verb(self) -> str:
        """What the history calls the gesture."""
        raise NotImplementedError

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        return f"{self.verb()} {quoted([scene.layer(x).name for x in dict.fromkeys(self.layers)])}"


class MoveLayers(HandEdit):
    """Layers moved by (dx, dy) scene px; constrained to the longer of the two."""

    kind: Literal["move_layers"] = "move_layers"
    dx: Number
    dy: Number

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        dx, dy = self.dx, self.dy
        if self.constrain:
            dx, dy = (dx, 0.0) if abs(dx) >= abs(dy) else (0.0, dy)
        x, y = pose(scene, layer, self.time)["position"]
        track = change_value(layer.position, self.time, (x + dx, y + dy), self.keying)
        return layer.with_track("position", track)

    def verb(self) -> str:
        return "Move"


class TurnLayers(HandEdit):
    """Layers turned about their pivots by degrees, several turns if the hand went round several times.

    Constrained, the angle that results is a whole number of 15° steps.
    """

    kind: Literal["turn_layers"] = "turn_layers"
    degrees: Number

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        angle = pose(scene, layer, self.time)["rotation"][0] + self.degrees
        if self.constrain:
            angle = round(angle / TURN_STEP) * TURN_STEP
        return layer.with_track("rotation", change_value(layer.track("rotation"), self.time, (angle,), self.keying))

    def verb(self) -> str:
        return "Turn"


class ScaleLayers(HandEdit):
    """A handle taken at ``start`` and dragged to ``to``, in scene px, scaling each layer about its pivot.

    ``axes`` tells which the handle moves: 1, 0 for one side, 1, 1 for a corner. Linked axes scale together and
    constrain to whole tenths; free ones go their own ways, and constrained keep their proportion.
    """

    kind: Literal["scale_layers"] = "scale_layers"
    start: Point
    to: Point
    axes: tuple[Literal[0, 1], Literal[0, 1]] = (1, 1)

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        now = pose(scene, layer, self.time)
        linear = linear_part(now["rotation"][0], now["skew_x"][0], now["skew_y"][0])
        pivot = np.array(now["position"])
        try:
            back = np.linalg.inv(linear)
        except np.linalg.LinAlgError:
            return layer
        v0, v1 = (back @ (np.array(point) - pivot) for point in (self.start, self.to))
        used = np.array(self.axes, float)
        along = float(np.dot(v0 * used, v0 * used))
        even = float(np.dot(v1 * used, v0 * used)) / along if along > NEAR**2 else 1.0
        if layer.scale_link != "free":
            return self._one(layer, now["scale"][0], even)
        factors = [
            1.0 if not used[axis] else even if self.constrain
            else float(v1[axis] / v0[axis]) if abs(v0[axis]) > NEAR else 1.0
            for axis in (0, 1)
        ]  # fmt: skip
        for axis, name in enumerate(("scale_x", "scale_y")):
            if used[axis]:
                value = _bounded(now[name][0] * factors[axis])
                layer = layer.with_track(name, change_value(layer.track(name), self.time, (value,), self.keying))
        return layer

    def _one(self, layer: Layer, scale: float, factor: float) -> Layer:
        if layer.scale_link == "area" and self.axes == (0, 1):
            factor = 1 / factor if abs(factor) > NEAR else 1.0
        value = scale * factor
        if self.constrain:
            value = round(value / SCALE_STEP) * SCALE_STEP
        return layer.with_track("scale", change_value(layer.track("scale"), self.time, (_bounded(value),), self.keying))

    def verb(self) -> str:
        return "Scale"


def _bounded(value: float) -> float:
    return float(np.clip(value, -limits.MAX_NUMBER, limits.MAX_NUMBER))


class LinkScale(EditBase):
    """How the scale axes go together. Unlinking keeps the motion; linking takes x's, and y in its present ratio."""

    kind: Literal["link_scale"] = "link_scale"
    scene: Identity
    layer: Identity
    link: Literal["linked", "free"]
    time: Moment

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        if layer.scale_link == self.link:
            return project
        tracks = dict(layer.tracks)
        if self.link == "free":
            track = layer.number("scale")
            tracks.pop("scale", None)
            tracks["scale_x"] = track
            tracks["scale_y"] = multiplied(track, layer.scale_ratio)
            return project.with_scene(scene.with_layer(layer.changed(scale_link="free", tracks=tracks)))
        now = pose(scene, layer, self.time)
        x, y = now["scale_x"][0], now["scale_y"][0]
        tracks["scale"] = layer.number("scale_x")
        tracks.pop("scale_x", None)
        tracks.pop("scale_y", None)
        ratio = y / x if abs(x) > 1e-9 else 1.0
        ratio = float(np.clip(ratio, -1e6, 1e6))
        return project.with_scene(
            scene.with_layer(layer.changed(scale_link="linked", scale_ratio=ratio, tracks=tracks))
        )

    def label(self, project: Project) -> str:
        name = project.scene(self.scene).layer(self.layer).name
        return f"{'Link' if self.link == 'linked' else 'Unlink'} the scale axes of {name}"
