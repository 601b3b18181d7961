"""Edits of motion blur: the scene's shutter, and which layers smear as they move."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.model import Identity
from deftarc.core.document import Project
from deftarc.core.edit.base import EditBase
from deftarc.core.edit.layers import LayersEdit


class SetShutter(EditBase):
    """A scene's shutter opened or shut, and how long it is open and from when on; ``everything`` lets all layers that
    can be seen smear, or none.
    """

    past_locks: ClassVar[bool] = True
    kind: Literal["set_shutter"] = "set_shutter"
    scene: Identity
    on: bool | None = None
    angle: Annotated[float, Field(ge=0, le=720)] | None = None
    phase: Annotated[float, Field(ge=-360, le=360)] | None = None
    everything: bool | None = None

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        given = {name: getattr(self, name) for name in ("on", "angle", "phase") if getattr(self, name) is not None}
        scene = scene.changed(shutter=scene.shutter.changed(**given)) if given else scene
        if self.everything is not None:
            smears = {
                layer.id: layer.changed(smears=self.everything) for layer in scene.layers
                if layer.smears != self.everything and (layer.as_one or not layer.artwork.empty)
            }  # fmt: skip
            scene = scene.with_layers(smears)
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        name = project.scene(self.scene).name
        if self.on is not None:
            return f"{'Blur' if self.on else 'Do not blur'} what moves in {name}"
        return f"Change the shutter of {name}"


class SmearLayers(LayersEdit):
    """Layers that are blurred as they move while the scene's shutter is open, or that are not."""

    kind: Literal["smear_layers"] = "smear_layers"
    smears: bool

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        changed = {layer.id: layer.changed(smears=self.smears) for layer in self.found(project)}
        return project.with_scene(scene.with_layers(changed))

    def label(self, project: Project) -> str:
        return f"{'Blur' if self.smears else 'Do not blur'} {self.names(project)} in motion"


__all__ = ["SetShutter", "SmearLayers"]
