"""A project: scenes, fonts, eases of one's own, and artwork kept for reuse.

Frozen plain data; every change goes through an edit.
"""

from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.errors import unknown
from deftarc.core.base.model import AssetHash, Frozen, Name, Told
from deftarc.core.curves.knots import OwnEase
from deftarc.core.document.artwork import Artwork, assets_in
from deftarc.core.document.scene import Scene
from deftarc.core.document.upgrade import FORMAT


class UserFont(Frozen):
    """A font brought in, by its asset's hash. Texts name it ``own-<hash>``."""

    asset: AssetHash
    label: Name

    @property
    def id(self) -> str:
        return f"own-{self.asset}"


class Kept(Frozen):
    """Artwork of a deleted layer, kept for reuse."""

    name: Name
    artwork: Artwork


class Project(Told):
    always: ClassVar[tuple[str, ...]] = ("format",)
    format: Literal[5] = FORMAT
    name: Name
    scenes: tuple[Scene, ...] = Field(min_length=1, max_length=limits.MAX_SCENES)
    fonts: tuple[UserFont, ...] = Field(default=(), max_length=limits.MAX_FONTS)
    #: Eases of one's own, the newest last.
    eases: tuple[OwnEase, ...] = Field(default=(), max_length=limits.MAX_OWN_EASES)
    #: The roundness that points of new paths get by themselves; None makes them straight.
    rounded: Annotated[float, Field(ge=0, le=1)] | None = None
    #: The newest first.
    shelf: tuple[Kept, ...] = Field(default=(), max_length=limits.MAX_SHELF)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        names = [scene.id for scene in self.scenes]
        if len(set(names)) != len(names):
            raise ValueError("Two scenes of a project share one id.")
        return self

    def scene(self, scene_id: str) -> Scene:
        for scene in self.scenes:
            if scene.id == scene_id:
                return scene
        raise unknown("scene", scene_id)

    def with_scene(self, changed: Scene) -> "Project":
        return self.changed(scenes=tuple(changed if scene.id == changed.id else scene for scene in self.scenes))


def assets_of(project: Project) -> set[str]:
    """The hashes of every asset a project names itself (a logo's drawing may name no others)."""
    found = {font.asset for font in project.fonts}
    for kept in project.shelf:
        found |= assets_in(kept.artwork)
    for scene in project.scenes:
        for layer in scene.layers:
            found |= assets_in(layer.artwork)
    return found
