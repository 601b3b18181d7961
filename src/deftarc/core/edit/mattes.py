"""Edits of what layers show through."""

from typing import Literal

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer, Project
from deftarc.core.document.matte import Matte
from deftarc.core.edit.effects import maskable, painted_as_one
from deftarc.core.edit.layers import LayersEdit


class ShowThrough(LayersEdit):
    """Layers that show through another from then on; None lets them show as they are. What they show through no longer
    shows itself with ``hide``, and a group is painted as one.
    """

    kind: Literal["show_through"] = "show_through"
    matte: Matte | None = None
    hide: bool = False

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for found in self.found(project):
            layer = scene.layer(found.id)
            if self.matte is not None:
                layer = painted_as_one(layer) if layer.group else layer
                if not maskable(layer):
                    raise Refusal(f"There is nothing to see of {layer.name} that could show through another layer.")
                if layer.id == self.matte.layer:
                    raise Refusal(f"{layer.name} cannot show through itself. Choose another layer.")
            scene = scene.with_layer(layer.changed(matte=self.matte))
        if self.matte is not None:
            through = scene.layer(self.matte.layer)
            made: Layer = painted_as_one(through) if through.group else through
            scene = scene.with_layer(made.changed(hidden=True) if self.hide else made)
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        if self.matte is None:
            return f"Let {self.names(project)} show as they are" if len(self.layers) > 1 else (
                f"Let {self.names(project)} show as it is"
            )  # fmt: skip
        return f"Show {self.names(project)} through {project.scene(self.scene).layer(self.matte.layer).name}"


__all__ = ["ShowThrough"]
