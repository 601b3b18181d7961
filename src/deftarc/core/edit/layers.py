"""Edits of layers as wholes: add, delete, duplicate, rename, hide, lock, order, artwork."""

from typing import Annotated, Literal

from pydantic import Field

from deftarc.core import limits
from deftarc.core.document import TAGS, Artwork, Layer, Project, Scene, new_id
from deftarc.core.edit.base import EditBase, quoted
from deftarc.core.errors import Refusal
from deftarc.core.model import Frozen, Identity, Name, Number
from deftarc.core.track import PathTrack


class AddLayer(EditBase):
    """A new layer on top, its pivot at ``at`` in scene px, by default in the middle."""

    kind: Literal["add_layer"] = "add_layer"
    scene: Identity
    name: Name
    artwork: Artwork
    at: tuple[Number, Number] | None = None
    id: Identity = Field(default_factory=new_id)

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        _room_for(scene, 1)
        if any(layer.id == self.id for layer in scene.layers):
            raise Refusal("A layer with this id is there already.")
        at = self.at or (scene.width / 2, scene.height / 2)
        layer = Layer(
            id=self.id,
            name=self.name,
            artwork=self.artwork,
            tag=TAGS[len(scene.layers) % len(TAGS)],
            tracks={"position": PathTrack(value=at)},
        )
        return project.with_scene(scene.changed(layers=(layer, *scene.layers)))

    def label(self, project: Project) -> str:
        return f"Add {self.name}"


class LayersEdit(EditBase):
    scene: Identity
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]

    def found(self, project: Project) -> list[Layer]:
        scene = project.scene(self.scene)
        return [scene.layer(layer_id) for layer_id in dict.fromkeys(self.layers)]

    def names(self, project: Project) -> str:
        return quoted([layer.name for layer in self.found(project)])


class DeleteLayers(LayersEdit):
    kind: Literal["delete_layers"] = "delete_layers"

    def apply(self, project: Project) -> Project:
        gone = {layer.id for layer in self.found(project)}
        scene = project.scene(self.scene)
        return project.with_scene(scene.changed(layers=tuple(x for x in scene.layers if x.id not in gone)))

    def label(self, project: Project) -> str:
        return f"Delete {self.names(project)}"


class DuplicateLayers(LayersEdit):
    """Copies above their originals. ``ids`` names them, in the order of ``layers``."""

    kind: Literal["duplicate_layers"] = "duplicate_layers"
    ids: tuple[Identity, ...] = ()

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        originals = self.found(project)
        _room_for(scene, len(originals))
        ids = self.ids or tuple(new_id() for _ in originals)
        if len(set(ids)) != len(originals) or any(layer.id in ids for layer in scene.layers):
            raise Refusal("Each copy needs an id of its own.")
        copy = {
            layer.id: layer.changed(id=fresh, name=_copy_name(scene, layer.name))
            for layer, fresh in zip(originals, ids, strict=True)
        }
        rows: list[Layer] = []
        for layer in scene.layers:
            if layer.id in copy:
                rows.append(copy[layer.id])
            rows.append(layer)
        return project.with_scene(scene.changed(layers=tuple(rows)))

    def label(self, project: Project) -> str:
        return f"Duplicate {self.names(project)}"


class DescribeLayers(LayersEdit):
    """Name, visibility, lock: whatever is given is set on each layer."""

    kind: Literal["describe_layers"] = "describe_layers"
    name: Name | None = None
    hidden: bool | None = None
    locked: bool | None = None

    def apply(self, project: Project) -> Project:
        given = {
            key: value
            for key, value in (("name", self.name), ("hidden", self.hidden), ("locked", self.locked))
            if value is not None
        }
        scene = project.scene(self.scene)
        for layer in self.found(project):
            scene = scene.with_layer(layer.changed(**given))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        names = self.names(project)
        if self.hidden is not None:
            return f"{'Hide' if self.hidden else 'Show'} {names}"
        if self.locked is not None:
            return f"{'Lock' if self.locked else 'Unlock'} {names}"
        return f"Rename {names} to {self.name}"


class OrderLayer(EditBase):
    """One layer put at an index of the list, 0 the topmost."""

    kind: Literal["order_layer"] = "order_layer"
    scene: Identity
    layer: Identity
    index: Annotated[int, Field(ge=0, le=limits.MAX_LAYERS)]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        rest = [other for other in scene.layers if other is not layer]
        rest.insert(self.index, layer)
        return project.with_scene(scene.changed(layers=tuple(rest)))

    def label(self, project: Project) -> str:
        return f"Reorder {project.scene(self.scene).layer(self.layer).name}"


class PaintChange(Frozen):
    """What of a layer's artwork changes; a field left out stays. ``fill`` may be "none"."""

    fill: str | None = None
    text: str | None = None
    size: float | None = None
    font: str | None = None
    width: float | None = None
    height: float | None = None
    radius: float | None = None


class ChangeArtwork(EditBase):
    kind: Literal["change_artwork"] = "change_artwork"
    scene: Identity
    layer: Identity
    change: PaintChange

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        given = self.change.model_dump(exclude_none=True)
        if given.get("fill") == "none":
            given["fill"] = None
        surplus = [name for name in given if name not in type(layer.artwork).model_fields]
        if surplus:
            raise Refusal(f"{layer.name} has no {', '.join(surplus)} to change.")
        artwork = type(layer.artwork).model_validate({**layer.artwork.model_dump(), **given})
        return project.with_scene(scene.with_layer(layer.changed(artwork=artwork)))

    def label(self, project: Project) -> str:
        changed = ", ".join(self.change.model_dump(exclude_none=True)) or "artwork"
        return f"Change {changed} of {project.scene(self.scene).layer(self.layer).name}"


def _room_for(scene: Scene, more: int) -> None:
    if len(scene.layers) + more > limits.MAX_LAYERS:
        raise Refusal(f"A scene holds at most {limits.MAX_LAYERS:,} layers. Delete some first.")


def _copy_name(scene: Scene, name: str) -> str:
    """“Gull” → “Gull 2”, the first number that is free."""
    taken = {layer.name for layer in scene.layers}
    head, _, tail = name.rpartition(" ")
    stem, number = (head, int(tail) + 1) if head and tail.isdigit() and len(tail) < 6 else (name, 2)
    stem = stem[: limits.MAX_NAME - 8]
    while f"{stem} {number}" in taken:
        number += 1
    return f"{stem} {number}"
