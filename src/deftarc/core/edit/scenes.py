"""Edits of the project and its scenes."""

from typing import Literal

from pydantic import Field

from deftarc.core import limits
from deftarc.core.document import Project, Scene
from deftarc.core.edit.base import EditBase
from deftarc.core.errors import Refusal
from deftarc.core.model import Identity, Name


class RenameProject(EditBase):
    kind: Literal["rename_project"] = "rename_project"
    name: Name

    def apply(self, project: Project) -> Project:
        return project.changed(name=self.name)

    def label(self, project: Project) -> str:
        return f"Rename the project to {self.name}"


class AddScene(EditBase):
    kind: Literal["add_scene"] = "add_scene"
    scene: Scene

    def apply(self, project: Project) -> Project:
        if len(project.scenes) >= limits.MAX_SCENES:
            raise Refusal(f"A project holds at most {limits.MAX_SCENES} scenes.")
        if any(scene.id == self.scene.id for scene in project.scenes):
            raise Refusal("A scene with this id is there already.")
        return project.changed(scenes=(*project.scenes, self.scene))

    def label(self, project: Project) -> str:
        return f"Add the scene {self.scene.name}"


class RenameScene(EditBase):
    kind: Literal["rename_scene"] = "rename_scene"
    scene: Identity
    name: Name

    def apply(self, project: Project) -> Project:
        return project.with_scene(project.scene(self.scene).changed(name=self.name))

    def label(self, project: Project) -> str:
        return f"Rename the scene to {self.name}"


class DeleteScene(EditBase):
    kind: Literal["delete_scene"] = "delete_scene"
    scene: Identity = Field()

    def apply(self, project: Project) -> Project:
        gone = project.scene(self.scene)
        if len(project.scenes) == 1:
            raise Refusal("A project keeps at least one scene. Add another before deleting this one.")
        return project.changed(scenes=tuple(scene for scene in project.scenes if scene is not gone))

    def label(self, project: Project) -> str:
        return f"Delete the scene {project.scene(self.scene).name}"
