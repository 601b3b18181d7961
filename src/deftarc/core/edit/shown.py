"""Edits of scenes in scenes: the clock of one that is shown, and a scene made of layers."""

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity, Moment, Name
from deftarc.core.document import Layer, Project, Scene, new_id
from deftarc.core.document.artwork.bars import Bars
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.links import told_source
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import PathTrack
from deftarc.core.edit.base import MOST_TOLD, Note, quoted
from deftarc.core.edit.layers import LayersEdit, distinct
from deftarc.core.edit.scenes import room_for_scene


class ChangeShown(LayersEdit):
    """How scenes that are shown go: which of their moments the layer's start shows, at what rate they go on, and what
    comes after their end, ``plays`` times or, with ``for_ever``, without an end; and whether their ground shows.
    """

    kind: Literal["change_shown"] = "change_shown"
    begins: Moment | None = None
    rate: Annotated[float, Field(ge=-100, le=100)] | None = None
    goes_on: Literal["once", "hold", "repeat", "alternate"] | None = None
    plays: Annotated[float, Field(gt=0, le=100_000)] | None = None
    for_ever: bool = False
    ground: bool | None = None

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        given: dict[str, Any] = {
            name: value
            for name in ("begins", "rate", "goes_on", "plays", "ground")
            if (value := getattr(self, name)) is not None
        }
        if self.for_ever:
            given["plays"] = None
        for layer in self.found(project):
            if not isinstance(layer.artwork, SceneShown):
                raise Refusal(f"{layer.name} shows no scene.")
            scene = scene.with_layer(layer.changed(artwork=layer.artwork.changed(**given)))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        if self.rate is not None:
            return f"Let {self.names(project)} run at {100 * self.rate:g}%"
        if self.begins is not None:
            return f"Change where {self.names(project)} begins"
        if self.ground is not None:
            return f"{'Show' if self.ground else 'Leave out'} the ground of {self.names(project)}"
        return f"Change what follows the end of {self.names(project)}"


class MakeScene(LayersEdit):
    """Layers moved into a new scene, which is shown in their place: the picture stays exactly as it is. Groups take
    along what is in them.

    Refused by name where it could not stay so: where something of them hangs on what stays behind or the other way
    round, where they blend with what lies beneath, or something shows between them.
    """

    kind: Literal["make_scene"] = "make_scene"
    name: Name = "Scene"
    id: Identity = Field(default_factory=new_id)
    layer_id: Identity = Field(default_factory=new_id)

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        room_for_scene(project)
        if any(each.id == self.id for each in project.scenes) or any(each.id == self.layer_id for each in scene.layers):
            raise Refusal("This id is taken already.")
        moved = self.with_members(project)
        ids = {layer.id for layer in moved}
        refuse_parted(scene, moved, ids)
        name = distinct({each.name for each in project.scenes}, self.name)
        ties = tuple(tie for tie in scene.ties if {tie.what.layer, tie.to.layer} <= ids)
        inner = scene.changed(
            id=self.id, name=name, background=None, layers=tuple(moved), ties=ties, markers=(), takes=(), staggers=(),
            guides=(), play_range=None,
        )  # fmt: skip
        shown = Layer(
            id=self.layer_id, name=distinct({each.name for each in scene.layers if each.id not in ids}, self.name),
            artwork=SceneShown(scene=self.id, width=scene.width, height=scene.height), tag=moved[0].tag,
            tracks={"position": PathTrack(value=(scene.width / 2, scene.height / 2))},
        )  # fmt: skip
        top = min(scene.layers.index(layer) for layer in moved)
        rows: list[Layer] = []
        for n, layer in enumerate(scene.layers):
            if n == top:
                rows.append(shown)
            if layer.id not in ids:
                rows.append(layer)
        outer = scene.changed(layers=tuple(rows), ties=tuple(tie for tie in scene.ties if tie not in ties))
        at = project.scenes.index(scene) + 1
        project = project.with_scene(outer)
        return project.changed(scenes=(*project.scenes[:at], inner, *project.scenes[at:]))

    def label(self, project: Project) -> str:
        return f"Make a scene of {self.names(project)}"

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        ids = {layer.id for layer in self.with_members(before)}
        scene = before.scene(self.scene)
        crossing = [t for t in scene.ties if t.what.layer in ids and not {t.what.layer, t.to.layer} <= ids]
        told = []
        if crossing:
            count = f"{len(crossing)} ties" if len(crossing) > 1 else "A tie"
            told.append(Note(f"{count} to what stays outside {'are' if len(crossing) > 1 else 'is'} cut."))
        alone = [
            f"{PROPERTIES[name].label} of {layer.name} answers what stays outside: its keys stay as they are."
            for layer in self.with_members(before)
            for name, each in layer.reactions.items()
            if each.reaction.source.layer not in ids
        ]
        return (*told, *map(Note, alone[:MOST_TOLD]))


def refuse_parted(scene: Scene, moved: Sequence[Layer], ids: set[str]) -> None:
    """Refusal, by name, where the picture would be another one with these layers in a scene of their own."""
    for layer in scene.layers:
        inside = layer.id in ids
        if layer.parent is not None and (layer.parent in ids) != inside:
            carrier = scene.layer(layer.parent)
            raise Refusal(
                f"{layer.name} is carried by {carrier.name}, which would be in another scene. Select both, or free it."
            )
        for name, link in layer.links.items():
            if (link.source.layer in ids) != inside:
                told = told_source(link.source, scene.layer(link.source.layer).name)
                raise Refusal(
                    f"{PROPERTIES[name].label} of {layer.name} follows {told}, which would be in another scene. Select "
                    f"both, or make keys of what it follows."
                )
        if inside and layer.blend != "normal" and not _in_one(scene, layer):
            raise Refusal(f"{layer.name} blends with what lies beneath it, and in a scene of its own it could not.")
    places = [n for n, layer in enumerate(scene.layers) if layer.id in ids]
    between = [
        layer.name for layer in scene.layers[places[0] : places[-1]]
        if layer.id not in ids and not layer.artwork.empty and not layer.hidden
    ]  # fmt: skip
    if between:
        raise Refusal(
            f"{quoted(between)} {'lies' if len(between) == 1 else 'lie'} between them in the list. Select "
            f"{'it' if len(between) == 1 else 'them'} as well, or move {'it' if len(between) == 1 else 'them'} out."
        )


def _in_one(scene: Scene, layer: Layer) -> bool:
    """Whether a layer is in a group that is put together first: it blends with what is in that alone."""
    return any(each.as_one for each in scene.ancestors(layer))


def sized(before: Project, after: Project) -> Project:
    """A project that came of another, its scene layers as large as the scenes they show, its bars as their own."""
    if before is after:
        return after
    known = {scene.id: scene for scene in before.scenes}
    same = all(known.get(scene.id) is scene for scene in after.scenes)
    for scene in () if same else after.scenes:
        fresh = scene
        for layer in scene.layers:
            art = layer.artwork
            if isinstance(art, Bars) and (art.width, art.height) != (scene.width, scene.height):
                made = art.changed(width=float(scene.width), height=float(scene.height))
                fresh = fresh.with_layer(layer.changed(artwork=made))
            inner = after.by_id.get(art.scene) if isinstance(art, SceneShown) else None
            if isinstance(art, SceneShown) and inner is not None and (art.width, art.height) != (
                inner.width, inner.height
            ):  # fmt: skip
                sound = art.changed(width=float(inner.width), height=float(inner.height))
                fresh = fresh.with_layer(layer.changed(artwork=sound))
        if fresh is not scene:
            after = after.with_scene(fresh)
    return after


__all__ = ["ChangeShown", "MakeScene", "sized"]
