"""Edits of rings and particles: how they are born, and that they are at what another layer's motion does."""

from typing import Any, Literal

from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Frozen, Identity
from deftarc.core.document import Layer, Project, new_id
from deftarc.core.document.artwork import Bursts
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.reactions import Pulse
from deftarc.core.edit.add import AddLayer
from deftarc.core.edit.layers import LayersEdit
from deftarc.core.edit.links import LaneAsked, SourceAsked
from deftarc.core.edit.react import Kinds, React


class BurstChange(Frozen):
    """What of rings or particles changes; a field left out stays. ``source`` and ``shaped`` may be "" for none.

    Where ``shaped`` is a layer ``of`` another scene, its artwork comes into this one as a hidden layer, ``comes_as``.
    """

    emits: Literal["point", "line", "place", "outline"] | None = None
    source: str | None = None
    shaped: str | None = None
    of: Identity | None = None
    comes_as: Identity | None = None
    sides: int | None = None
    seed: int | None = None
    repeats: float | None = None
    ahead: float | None = None
    ease: str | None = None
    strength: float | None = None


def _bursting(layer: Layer) -> Bursts:
    if not isinstance(layer.artwork, Bursts):
        raise Refusal(f"{layer.name} has no rings or particles.")
    return layer.artwork


class ChangeBursts(LayersEdit):
    """How the rings or particles of layers are born and look, where they have what changes."""

    kind: Literal["change_bursts"] = "change_bursts"
    change: BurstChange

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        given: dict[str, Any] = self.change.model_dump(exclude_none=True, exclude={"of", "comes_as"})
        if self.change.of is not None and self.change.of != self.scene and given.get("shaped"):
            project, given["shaped"] = self._brought(project, project.scene(self.change.of).layer(given["shaped"]))
            scene = project.scene(self.scene)
        for name in ("source", "shaped"):
            if name in given:
                if given[name]:
                    scene.layer(given[name])
                given[name] = given[name] or None
        for layer in self.found(project):
            art = _bursting(layer)
            fields = {name: value for name, value in given.items() if name in type(art).model_fields}
            made = type(art).model_validate({**art.model_dump(), **fields})
            scene = scene.with_layer(layer.changed(artwork=made))
        return project.with_scene(scene)

    def _brought(self, project: Project, layer: Layer) -> tuple[Project, str]:
        """The artwork of another scene's layer as a hidden layer of this one, at the very bottom; and its id there."""
        if layer.artwork.empty or isinstance(layer.artwork, Bursts | SceneShown):
            raise Refusal(f"{layer.name} has no artwork that particles could show.")
        known = self.change.comes_as or new_id()
        there = {each.id for each in project.scene(self.scene).layers}
        if known in there:
            return project, known
        project = AddLayer(scene=self.scene, id=known, name=layer.name, artwork=layer.artwork).apply(project)
        scene = project.scene(self.scene)
        made = scene.layer(known).changed(hidden=True)
        rest = tuple(each for each in scene.layers if each.id != known)
        return project.with_scene(scene.changed(layers=(*rest, made))), known

    def label(self, project: Project) -> str:
        return f"Change how {self.names(project)} burst" + ("s" if len(set(self.layers)) == 1 else "")


class BurstAt(LayersEdit):
    """A burst at each contact, peak or stop of another layer's position, where that is then and as strong as it is.
    They follow that motion, as all that answers one does.
    """

    kind: Literal["burst_at"] = "burst_at"
    to: Identity
    kinds: Kinds = ("contact",)

    def apply(self, project: Project) -> Project:
        project.scene(self.scene).layer(self.to)
        for found in self.found(project):
            scene = project.scene(self.scene)
            art = _bursting(scene.layer(found.id))
            made = art.changed(source=self.to, emits="outline" if art.emits == "outline" else "place")
            project = project.with_scene(scene.with_layer(found.changed(artwork=made)))
            asked = (LaneAsked(layer=found.id, property="burst"),)
            pulse = Pulse(amount=1.0, attack=0, release=scene.rate.flicks)
            to = SourceAsked(layer=self.to, what="position")
            project = React(scene=self.scene, lanes=asked, to=to, kinds=self.kinds, pulse=pulse).apply(project)
        return project

    def label(self, project: Project) -> str:
        return f"Let {self.names(project)} burst with {project.scene(self.scene).layer(self.to).name}"


__all__ = ["BurstAt", "BurstChange", "ChangeBursts"]
