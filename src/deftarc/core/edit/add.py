"""A new layer, and where in time it goes: for the whole scene, on top from a time, by insert, or by overwrite."""

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity, Moment, Name, Number
from deftarc.core.changes.retime import motion_retimed, shifted_span, span_of
from deftarc.core.document import TAGS, Layer, Project, Scene, new_id
from deftarc.core.document.artwork import Artwork, ArtworkBase
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.edit.base import EditBase, Note
from deftarc.core.edit.layers import copy_name, distinct, room_for, shelved
from deftarc.core.edit.scenes import ChangeScene


class AddLayer(EditBase):
    """A new layer on top, its pivot at ``at`` in scene px, by default in the middle, scaled by ``scale``.

    ``place`` says where in time: *whole* shows for the whole scene; the others show from ``time`` for ``length``.
    *on_top* leaves the rest alone. *insert* moves what starts at ``time`` or later, with its keys, by ``length``, but
    for what is locked or shows for the whole scene.
    *overwrite* takes the time from ``among`` (the selected layers; all that are not locked, where none is told):
    they are trimmed, parted in two, or go where they lie all inside it.
    """

    kind: Literal["add_layer"] = "add_layer"
    scene: Identity
    name: Name
    artwork: Artwork
    at: tuple[Number, Number] | None = None
    scale: Annotated[float, Field(gt=0, le=limits.MAX_NUMBER)] = 1.0
    id: Identity = Field(default_factory=new_id)
    place: Literal["whole", "on_top", "insert", "overwrite"] = "whole"
    time: Moment = 0
    length: Annotated[int, Field(gt=0, le=limits.FURTHEST)] | None = None
    among: tuple[Identity, ...] = ()

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        room_for(scene, 1)
        if any(layer.id == self.id for layer in scene.layers):
            raise Refusal("A layer with this id is there already.")
        at = self.at or (scene.width / 2, scene.height / 2)
        tracks: dict[str, PathTrack | NumberTrack] = {"position": PathTrack(value=at)}
        if self.scale != 1.0:
            tracks["scale"] = NumberTrack(value=self.scale)
        layer = Layer(
            id=self.id,
            name=distinct({each.name for each in scene.layers}, self.name),
            artwork=self.artwork,
            tag=TAGS[len(scene.layers) % len(TAGS)],
            tracks=tracks,
        )
        if self.place != "whole":
            if self.place != "on_top" and self.length is None:
                raise Refusal("Say how long the new layer shows: an insert or an overwrite needs a length.")
            end = None if self.length is None else self.time + self.length
            layer = layer.changed(start=self.time, end=end)
        if self.place == "insert":
            scene = self._pushed(scene)
        elif self.place == "overwrite":
            before = scene
            scene = self._overwritten(scene)
            here = {each.id for each in scene.layers}
            project = shelved(project, [each for each in before.layers if each.id not in here])
        return project.with_scene(scene.changed(layers=(layer, *scene.layers)))

    def _pushed(self, scene: Scene) -> Scene:
        by = self.length or 0
        # What shows for the whole scene is its ground, and stays; so does what is locked.
        kept = {layer.id for layer in scene.layers if layer.locked or (layer.start <= 0 and layer.end is None)}
        return scene.changed(
            layers=tuple(
                motion_retimed(shifted_span(layer, by), lambda time: time + by)
                if layer.start >= self.time and layer.id not in kept
                else layer
                for layer in scene.layers
            )
        )

    def _overwritten(self, scene: Scene) -> Scene:
        first, last = self.time, self.time + (self.length or 0)
        chosen = set(self.among) or {layer.id for layer in scene.layers if not layer.locked}
        rows: list[Layer] = []
        names = {layer.name for layer in scene.layers}
        parents = {layer.parent for layer in scene.layers}
        for layer in scene.layers:
            start, end = span_of(layer, scene.length)
            if layer.id not in chosen or layer.artwork.empty or end <= first or start >= last:
                rows.append(layer)
            elif start < first and end > last:
                name = copy_name(names, layer.name)
                names.add(name)
                rows.append(layer.changed(id=new_id(), name=name, start=last))
                rows.append(layer.changed(end=first))
            elif start < first:
                rows.append(layer.changed(end=first))
            elif end > last:
                rows.append(layer.changed(start=last))
            elif layer.id in parents:
                # It carries others, which would lose their way: it stays, and shows no more.
                rows.append(layer.changed(hidden=True))
        return scene.changed(layers=tuple(rows))

    def artworks(self) -> Iterable[ArtworkBase]:
        return (self.artwork,)

    def label(self, project: Project) -> str:
        how = {"insert": "Insert", "overwrite": "Overwrite with"}.get(self.place, "Add")
        return f"{how} {self.name}"

    def notes(self, before: Project, after: Project) -> list[Note]:
        scene, old = after.scene(self.scene), before.scene(self.scene)
        if self.place != "insert":
            return []
        before_end = {layer.id: _furthest(layer, old.length) for layer in old.layers}
        pushed = [
            layer for layer in scene.layers
            if layer.id in before_end and _furthest(layer, scene.length) > max(scene.length, before_end[layer.id])
        ]  # fmt: skip
        if not pushed:
            return []
        frames = -(-max(_furthest(layer, scene.length) for layer in pushed) // scene.rate.flicks)
        names = ", ".join(layer.name for layer in pushed[:4]) + (" …" if len(pushed) > 4 else "")
        return [
            Note(
                f"The insert pushed {names} beyond the scene's end.",
                "Make the scene long enough",
                ChangeScene(scene=scene.id, frames=min(frames, limits.MAX_SCENE_FRAMES)),
            )
        ]


def _furthest(layer: Layer, scene_end: int) -> int:
    """Where a layer's span ends, or where its last key stands if that is later."""
    keys = (track.key_times[-1] for track in layer.tracks.values() if track.keys)
    return max(span_of(layer, scene_end)[1], *keys, layer.start)
