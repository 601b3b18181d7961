"""Edits by a hand on the picture's handles for how a layer looks."""

from collections.abc import Iterable
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from deftarc.core.arrange.handles import Held, dragged, is_stroked
from deftarc.core.base.model import Identity, Moment, Number
from deftarc.core.changes.keys import change_value
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.artwork import Sources, Text
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.edit.base import EditBase, LaneName
from deftarc.core.evaluate import posed


class DragHandle(EditBase):
    """A handle dragged to a place in the layer's px, in the ``box`` of its artwork (left, top, right, bottom): what it
    stands for becomes what it means there.
    """

    at_playhead: ClassVar[bool] = True
    measures: ClassVar[bool] = True
    kind: Literal["drag_handle"] = "drag_handle"
    scene: Identity
    layer: Identity
    handle: Annotated[str, Field(max_length=80)]
    to: tuple[Number, Number]
    box: tuple[Number, Number, Number, Number] = (0.0, 0.0, 0.0, 0.0)
    time: Moment = 0
    keying: bool = False
    #: What is drawn of a text up to there, once where the letters lie has been measured; see ``measured``.
    share: Annotated[float, Field(ge=0, le=1)] | None = None

    def measured(self, project: Project, sources: Sources) -> Self:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        if not self._on_letters(layer):
            return self
        ((share,),) = dragged(self._held(scene, layer, sources), self.handle, self.to).values()
        return self.changed(share=share)

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        for name, value in self._moved(scene, layer).items():
            track = change_value(layer.track(name), self.time, value, self.keying, scene.half)
            layer = layer.with_track(name, track)
        return project.with_scene(scene.with_layer(layer))

    def _on_letters(self, layer: Layer) -> bool:
        art = layer.artwork
        return self.handle in ("drawn/from", "drawn/to") and isinstance(art, Text)

    def _held(self, scene: Scene, layer: Layer, sources: Sources | None = None) -> Held:
        shape_text = None if sources is None else sources.shape_text
        return Held(layer, posed(scene, layer, self.time), self.box, shape_text)

    def _moved(self, scene: Scene, layer: Layer) -> dict[str, tuple[float, ...]]:
        if self.share is not None and self._on_letters(layer) and is_stroked(layer):
            return dict.fromkeys(self._drives(), (self.share,))
        return dragged(self._held(scene, layer), self.handle, self.to)

    def keyed(self) -> Iterable[LaneName]:
        return [(self.layer, name) for name in self._drives()] if self.keying else ()

    def _drives(self) -> list[str]:
        """All that a handle of its name may change."""
        kind, *rest = self.handle.split("/")
        if kind in ("drawn", "bars"):
            return [f"{'drawn' if kind == 'drawn' else 'bar'}_{rest[0]}"]
        if "stop" in rest:
            return [f"stop/{rest[-1]}/stop_at"]
        return [f"{kind}/{rest[0]}/{name}" for name, facts in PROPERTIES.items() if facts.owner == kind]

    def label(self, project: Project) -> str:
        layer = project.scene(self.scene).layer(self.layer)
        kind, *rest = self.handle.split("/")
        labels = {"mask": "Feather a mask", "gradient": "Gradient", "drawn": "What is drawn", "bars": "Bars"}
        if kind == "effect":
            return f"{layer.effect(rest[0]).label} of {layer.name}"
        return f"{labels[kind]} of {layer.name}"


__all__ = ["DragHandle"]
