"""Edits of what comes later than its carrier, of chains that do one after the other, and of stretching with speed."""

import itertools
from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.arrange.family import with_parent
from deftarc.core.arrange.followed import later_laid, stretch_laid, without_stretch
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Moment, Number
from deftarc.core.base.working import at_work
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.layer import STRETCH
from deftarc.core.document.links import Lag, Later, check_links
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import NumberTrack
from deftarc.core.edit.base import Note
from deftarc.core.edit.layers import LayersEdit


class CarryLater(LayersEdit):
    """Layers that go where their carrier takes them only later, in flicks: with its place, turn and size each, or with
    ``all`` of it. Nought is at once. Each comes ``step`` later than the one before; None is as much again.
    """

    looked_at: ClassVar[bool] = True
    kind: Literal["carry_later"] = "carry_later"
    all: Lag | None = None
    position: Lag | None = None
    rotation: Lag | None = None
    scale: Lag | None = None
    step: Lag | None = 0

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for n, layer in enumerate(self.found(project)):
            if layer.parent is None:
                raise Refusal(f"Nothing carries {layer.name}. Let something carry it, and it can come later than that.")
            now = layer.later or Later()
            more = (self.all or 0 if self.step is None else self.step) * n
            told = {
                name: (now_lag if given is None else given + more)
                for name, given, now_lag in (
                    ("position", self._lag(self.position), now.position),
                    ("rotation", self._lag(self.rotation), now.rotation),
                    ("scale", self._lag(self.scale), now.scale),
                )
            }
            later = Later(**told)
            scene = scene.with_layer(layer.changed(later=None if later == Later() else later))
        check_links(scene.layers)
        return project.with_scene(scene)

    def _lag(self, own: int | None) -> int | None:
        return own if own is not None else self.all

    def label(self, project: Project) -> str:
        told = [lag for lag in (self.all, self.position, self.rotation, self.scale) if lag is not None]
        if not any(told) and not self.step:
            return f"Carry {self.names(project)} at once"
        return f"Carry {self.names(project)} later"


class ChainLayers(LayersEdit):
    """Layers carried each by the one before, in the order told, and each later than that by ``lag``: a tail. The
    picture at ``time`` stays but for what the lag changes.
    """

    looked_at: ClassVar[bool] = True
    at_playhead: ClassVar[bool] = True
    kind: Literal["chain_layers"] = "chain_layers"
    lag: Lag
    time: Moment

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layers = self.found(project)
        if len(layers) < 2:
            raise Refusal("Select two layers or more, from the one that leads to the end of the tail.")
        chosen = {layer.id for layer in layers}
        for n, layer in at_work(list(enumerate(layers))):
            # What carries it already may come after it in the chain.
            if n or any(each.id in chosen for each in scene.ancestors(scene.layer(layer.id))):
                scene = scene.with_layer(with_parent(scene, scene.layer(layer.id), None, self.time))
        for before, layer in at_work(list(itertools.pairwise(layers))):
            scene = scene.with_layer(with_parent(scene, scene.layer(layer.id), before.id, self.time))
        for layer in layers[1:]:
            later = None if not self.lag else Later(position=self.lag, rotation=self.lag, scale=self.lag)
            scene = scene.with_layer(scene.layer(layer.id).changed(later=later))
        check_links(scene.layers)
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Make a tail of {self.names(project)}"


class StretchLayers(LayersEdit):
    """Layers that grow longer along the way they go, and thinner across: by ``amount`` at 1 000 px a second, at most
    ``limit`` times as long, with their speed evened out over ``smooth`` seconds; or with ``on`` false no more.
    """

    kind: Literal["stretch_layers"] = "stretch_layers"
    on: bool = True
    amount: Number | None = None
    limit: Annotated[Number, Field(ge=1, le=20)] | None = None
    smooth: Annotated[Number, Field(ge=0, le=5)] | None = None

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer in self.found(project):
            scene = scene.with_layer(self._on(layer) if self.on else without_stretch(layer))
        check_links(scene.layers)
        return project.with_scene(scene)

    def _on(self, layer: Layer) -> Layer:
        tracks = dict(layer.tracks)
        for name, given in zip(STRETCH, (self.amount, self.limit, self.smooth), strict=True):
            if given is not None or name not in tracks:
                value = PROPERTIES[name].default[0] if given is None else PROPERTIES[name].held(given)
                tracks[name] = NumberTrack(value=value)
        return layer.changed(tracks=tracks)

    def label(self, project: Project) -> str:
        return (
            f"Stretch {self.names(project)} with {'its' if len(self.layers) == 1 else 'their'} speed"
            if self.on
            else (f"Let {self.names(project)} stretch no more")
        )


class LayRelations(LayersEdit):
    """What comes of how layers are carried later, or stretch, made into ordinary keys that do the same."""

    kind: Literal["lay_relations"] = "lay_relations"
    what: Literal["later", "stretch"]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        made = later_laid if self.what == "later" else stretch_laid
        for layer in self.found(project):
            scene = scene.with_layer(made(scene, scene.layer(layer.id)))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        what = "how late" if self.what == "later" else "the stretch of"
        return f"Make keys of {what} {self.names(project)}{' is carried' if self.what == 'later' else ''}"

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene, was = after.scene(self.scene), before.scene(self.scene)
        count = sum(_keys(scene, name) - _keys(was, name) for name in self.layers)
        return (Note(f"{max(count, 0)} keys more, with the same motion."),)


def _keys(scene: Scene, name: str) -> int:
    return sum(len(track.keys) for track in scene.layer(name).tracks.values())
