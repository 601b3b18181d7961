"""Edits of masks: put on, changed in how they go together, reordered, taken off. Their points are edited as outlines
are.
"""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import apply as through
from deftarc.core.base.model import Identity, Moment, Name, Number
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.masks import MODES, Mask
from deftarc.core.edit.base import EditBase
from deftarc.core.edit.effects import maskable, painted_as_one
from deftarc.core.evaluate import carried_by, matrix_at
from deftarc.core.spaces.shapes import KAPPA

#: Px that a mask drawn by hand is wide and high at least.
LEAST = 0.01


class AddMask(EditBase):
    """A mask put after the others of a layer, its outline in that layer's px. A group is painted as one then."""

    at_playhead: ClassVar[bool] = True
    kind: Literal["add_mask"] = "add_mask"
    scene: Identity
    layer: Identity
    mask: Mask
    #: Its outline is told in scene px, as the layer lies at ``time``.
    in_scene: bool = False
    time: Moment = 0

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        if len(layer.masks) >= limits.MAX_MASKS:
            raise Refusal(f"{layer.name} has {limits.MAX_MASKS} masks, and no more can be listed.")
        if any(each.id == self.mask.id for each in layer.masks):
            raise Refusal("A mask with this id is there already.")
        mask = self._taken_in(scene, layer) if self.in_scene else self.mask
        layer = painted_as_one(layer) if layer.group else layer
        if not maskable(layer):
            raise Refusal(f"There is nothing to see of {layer.name} that could be masked.")
        return project.with_scene(scene.with_layer(layer.changed(masks=(*layer.masks, mask))))

    def _taken_in(self, scene: Scene, layer: Layer) -> Mask:
        """The mask with its outline in the layer's px."""
        world = carried_by(scene, layer, self.time) @ matrix_at(scene, layer, self.time)
        if abs(float(np.linalg.det(world[:2, :2]))) < 1e-9:
            raise Refusal(f"{layer.name} has no size at this frame, and nothing can be drawn on it.")
        back = np.asarray(np.linalg.inv(world), np.float64)
        rows = np.array(self.mask.numbers()).reshape(-1, 6)
        spots = through(back, rows[:, :2])
        arms = [rows[:, k : k + 2] @ back[:2, :2].T for k in (2, 4)]
        return self.mask.with_numbers(tuple(float(n) for n in np.concatenate([spots, *arms], axis=1).ravel()))

    def label(self, project: Project) -> str:
        return f"Mask {project.scene(self.scene).layer(self.layer).name}"


class DrawMask(EditBase):
    """A rectangle or an ellipse put after the other masks of a layer, drawn between two places in the scene."""

    at_playhead: ClassVar[bool] = True
    kind: Literal["draw_mask"] = "draw_mask"
    scene: Identity
    layer: Identity
    id: Identity
    shape: Literal["rectangle", "ellipse"]
    start: tuple[Number, Number]
    to: tuple[Number, Number]
    time: Moment = 0

    def apply(self, project: Project) -> Project:
        (left, right), (top, bottom) = (sorted(pair) for pair in zip(self.start, self.to, strict=True))
        if right - left < LEAST or bottom - top < LEAST:
            raise Refusal("A mask needs some width and height.")
        rows = _rectangle(left, top, right, bottom)
        if self.shape == "ellipse":
            rows = _ellipse(left, top, right, bottom)
        points = tuple(tuple(round(n, 3) for n in row) for row in rows)
        mask = Mask.model_validate({
            "id": self.id, "name": self.shape.capitalize(), "contours": [{"points": points, "closed": True}],
        })  # fmt: skip
        made = AddMask(scene=self.scene, layer=self.layer, mask=mask, in_scene=True, time=self.time)
        return made.apply(project)

    def label(self, project: Project) -> str:
        return f"Mask {project.scene(self.scene).layer(self.layer).name}"


Rows = list[tuple[float, ...]]


def _rectangle(left: float, top: float, right: float, bottom: float) -> Rows:
    return [(x, y, 0, 0, 0, 0) for x, y in ((left, top), (right, top), (right, bottom), (left, bottom))]


def _ellipse(left: float, top: float, right: float, bottom: float) -> Rows:
    x, y = (left + right) / 2, (top + bottom) / 2
    i, j = (right - left) / 2 * KAPPA, (bottom - top) / 2 * KAPPA
    return [(right, y, 0, -j, 0, j), (x, bottom, i, 0, -i, 0), (left, y, 0, j, 0, -j), (x, top, -i, 0, i, 0)]


class ChangeMask(EditBase):
    """A mask renamed, switched on or off, inverted, put together with those before it in another way, filled by
    another rule, moved in their order, or taken off.
    """

    kind: Literal["change_mask"] = "change_mask"
    scene: Identity
    layer: Identity
    mask: Identity
    name: Name | None = None
    on: bool | None = None
    mode: Literal["add", "subtract", "intersect"] | None = None
    inverted: bool | None = None
    rule: Literal["nonzero", "evenodd"] | None = None
    #: By so many places; below 0 it comes earlier.
    move: Annotated[int, Field(ge=-limits.MAX_MASKS, le=limits.MAX_MASKS)] = 0
    remove: bool = False

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        mask = layer.mask(self.mask)
        rows = list(layer.masks)
        at = rows.index(mask)
        rows.remove(mask)
        if self.remove:
            return project.with_scene(scene.with_layer(without(layer, mask.properties).changed(masks=tuple(rows))))
        given = {name: getattr(self, name) for name in ("name", "on", "mode", "inverted", "rule")}
        changed = mask.changed(**{name: value for name, value in given.items() if value is not None})
        rows.insert(min(max(at + self.move, 0), len(rows)), changed)
        return project.with_scene(scene.with_layer(layer.changed(masks=tuple(rows))))

    def label(self, project: Project) -> str:
        layer = project.scene(self.scene).layer(self.layer)
        what = next((each.name for each in layer.masks if each.id == self.mask), "a mask")
        if self.remove:
            return f"Take {what} off {layer.name}"
        if self.move:
            return f"Reorder the masks of {layer.name}"
        if self.mode is not None:
            return f"{what} of {layer.name}: {MODES[self.mode]}"
        if self.name is not None:
            return f"Rename {what} to {self.name}"
        if self.rule is not None:
            return f"What is inside {what} of {layer.name}"
        if self.inverted is not None:
            return f"{'Invert' if self.inverted else 'Do not invert'} {what} of {layer.name}"
        return f"Switch {what} of {layer.name} {'on' if self.on else 'off'}"


def without(layer: Layer, names: tuple[str, ...]) -> Layer:
    """A layer without the tracks, links and reactions of some properties."""
    gone = set(names)
    return layer.changed(
        tracks={n: each for n, each in layer.tracks.items() if n not in gone},
        links={n: each for n, each in layer.links.items() if n not in gone},
        reactions={n: each for n, each in layer.reactions.items() if n not in gone},
    )


__all__ = ["AddMask", "ChangeMask", "DrawMask", "without"]
