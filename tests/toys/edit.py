"""A toy edit: a layer given water grows by a tenth."""

from typing import Literal

from deftarc.core.changes.keys import multiplied
from deftarc.core.document import Project
from deftarc.core.edit.layers import LayersEdit


class Water(LayersEdit):
    kind: Literal["water"] = "water"

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer in self.found(project):
            scene = scene.with_layer(layer.with_track("scale", multiplied(layer.number("scale"), 1.1)))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Water {self.names(project)}"
