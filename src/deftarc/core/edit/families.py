"""Edits of who carries whom, of groups, and of the order of layers."""

from collections.abc import Sequence
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.arrange.family import carried_along, members, with_parent
from deftarc.core.arrange.placed import KEYED_ANEW
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import apply
from deftarc.core.base.model import Identity, Moment, Name
from deftarc.core.base.working import at_work
from deftarc.core.document import Layer, Project, Scene, new_id
from deftarc.core.document.artwork import Carrier
from deftarc.core.document.track import PathTrack
from deftarc.core.edit.base import Note
from deftarc.core.edit.layers import LayersEdit, room_for
from deftarc.core.evaluate import carried_by, pose


class SetParent(LayersEdit):
    """Layers carried by another, or by none; the picture at ``time`` stays as it is. A ring is refused by name."""

    at_playhead: ClassVar[bool] = True
    kind: Literal["set_parent"] = "set_parent"
    parent: Identity | None = None
    time: Moment

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        if self.parent is not None:
            carrier = scene.layer(self.parent)
            if self.parent in self.layers:
                raise Refusal(f"{carrier.name} cannot carry itself. Choose another parent.")
        for layer_id in at_work(dict.fromkeys(self.layers)):
            scene = scene.with_layer(with_parent(scene, scene.layer(layer_id), self.parent, self.time))
        return project.with_scene(scene)

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        """What had to be keyed anew, where a way was squeezed or skewed."""
        out = []
        scene, now = before.scene(self.scene), after.scene(self.scene)
        for name in dict.fromkeys(self.layers):
            old, new = scene.layer(name), now.layer(name)
            if old.axes_split or new.axes_split:
                continue
            was, made = old.position, new.position
            if was.key_times != made.key_times or len(was.points) != len(made.points):
                told = f"{len(made.keys)} keys for {len(was.keys)}, off by at most {KEYED_ANEW} px"
                out.append(Note(f"So uneven a change moves a way's lengths: {new.name} is keyed anew, {told}."))
        return out

    def label(self, project: Project) -> str:
        if self.parent is None:
            return f"Free {self.names(project)} of its parent"
        return f"Let {project.scene(self.scene).layer(self.parent).name} carry {self.names(project)}"


class GroupLayers(LayersEdit):
    """Layers put into a new group above the topmost of them, its pivot amid theirs. Nothing moves."""

    at_playhead: ClassVar[bool] = True
    kind: Literal["group_layers"] = "group_layers"
    id: Identity = Field(default_factory=new_id)
    name: Name = "Group"
    time: Moment

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        room_for(scene, 1)
        if any(layer.id == self.id for layer in scene.layers):
            raise Refusal("A layer with this id is there already.")
        chosen = self.found(project)
        inner = {each.id for layer in chosen if layer.group for each in members(scene, layer.id)}
        chosen = [layer for layer in chosen if layer.id not in inner]
        # Who is carried by another of them stays so: only those that lead come into the hand of the group.
        carried = carried_along(scene, {layer.id for layer in chosen})
        chosen = [layer for layer in chosen if layer.id not in carried]
        spots = [
            apply(carried_by(scene, layer, self.time), np.array([pose(layer, self.time, ("position",))["position"]]))[0]
            for layer in chosen
        ]
        parents = {layer.parent for layer in chosen}
        parent = parents.pop() if len(parents) == 1 else None
        x, y = np.mean(spots, axis=0)
        group = Layer(
            id=self.id, name=self.name, artwork=Carrier(group=True), tag=chosen[0].tag,
            tracks={"position": PathTrack(value=(float(x), float(y)))},
        )  # fmt: skip
        top = min(scene.layers.index(layer) for layer in chosen)
        scene = scene.changed(layers=(*scene.layers[:top], group, *scene.layers[top:]))
        if parent is not None:
            scene = scene.with_layer(with_parent(scene, group, parent, self.time))
        for layer in at_work(chosen):
            scene = scene.with_layer(with_parent(scene, scene.layer(layer.id), group.id, self.time))
        return project.with_scene(gathered(scene, group.id))

    def label(self, project: Project) -> str:
        return f"Group {self.names(project)}"


def gathered(scene: Scene, group: str) -> Scene:
    """A group's members brought together right below it, in their order."""
    inside = members(scene, group)
    names = {layer.id for layer in inside}
    rows: list[Layer] = []
    for layer in scene.layers:
        if layer.id == group:
            rows.extend((layer, *inside))
        elif layer.id not in names:
            rows.append(layer)
    return scene.changed(layers=tuple(rows))


class Ungroup(LayersEdit):
    """Groups dissolved: their members stay where they are in the picture at ``time``."""

    at_playhead: ClassVar[bool] = True
    kind: Literal["ungroup"] = "ungroup"
    time: Moment

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        groups = [layer for layer in self.found(project) if layer.group]
        if not groups:
            raise Refusal("None of what is selected is a group.")
        for group in groups:
            for layer in scene.layers:
                if layer.parent == group.id:
                    layer = with_parent(scene, scene.layer(layer.id), scene.layer(group.id).parent, self.time)
                    scene = scene.with_layer(layer)
            scene = scene.changed(layers=tuple(layer for layer in scene.layers if layer.id != group.id))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Ungroup {self.names(project)}"


class OrderLayers(LayersEdit):
    """Layers put above ``before`` in the list, or at its bottom; groups take along what is in them.

    With ``regroup`` they also become members of ``group``, or of none, their picture at ``time`` unchanged.
    """

    at_playhead: ClassVar[bool] = True
    reorders: ClassVar[bool] = True
    kind: Literal["order_layers"] = "order_layers"
    before: Identity | None = None
    regroup: bool = False
    group: Identity | None = None
    time: Moment = 0

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        moving = [layer.id for layer in self.with_members(project)]
        if self.before in moving:
            # Onto themselves: the first layer after them that stays is meant.
            after = scene.layers[scene.layers.index(scene.layer(self.before or "")) :]
            before = next((layer.id for layer in after if layer.id not in moving), None)
        else:
            before = self.before
        if self.regroup:
            if self.group is not None and not scene.layer(self.group).group:
                raise Refusal(f"{scene.layer(self.group).name} is no group.")
            carried = carried_along(scene, set(self.layers))
            for layer_id in dict.fromkeys(self.layers):
                layer = scene.layer(layer_id)
                if layer_id in carried or any(each.id == self.group for each in scene.ancestors(layer)):
                    # It goes with who carries it, or is in the group by that already.
                    continue
                held = layer.parent is not None and scene.layer(layer.parent).group
                if layer.id != self.group and (held or self.group is not None):
                    scene = scene.with_layer(with_parent(scene, layer, self.group, self.time))
        names = set(moving)
        rest = [layer for layer in scene.layers if layer.id not in names]
        at = len(rest) if before is None else rest.index(scene.layer(before))
        rest[at:at] = [layer for layer in scene.layers if layer.id in names]
        return project.with_scene(scene.changed(layers=tuple(rest)))

    def label(self, project: Project) -> str:
        return f"Reorder {self.names(project)}"
