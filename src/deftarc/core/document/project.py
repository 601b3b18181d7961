"""A project: scenes, fonts, eases of one's own, and artwork kept for reuse.

Frozen plain data; every change goes through an edit.
"""

from collections.abc import Iterator
from functools import cached_property
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import AssetHash, Frozen, Name, Told
from deftarc.core.curves.knots import OwnEase
from deftarc.core.document.artwork import Artwork, assets_in
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.motion import SavedMotion
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


def shown_in(scene: Scene) -> list[str]:
    """The scenes that a scene shows as layers, by id, each as often as it does."""
    return [layer.artwork.scene for layer in scene.layers if isinstance(layer.artwork, SceneShown)]


def origins_in(project: "Project", scene: Scene) -> dict[str, str]:
    """By scene the file it came of, as far as it did: of a scene, and of those that it shows."""
    here = [scene, *(project.by_id[each] for each in dict.fromkeys(shown_in(scene)) if each in project.by_id)]
    return {each.id: each.origin.file for each in here if each.origin is not None}


def layers_shown(project: "Project", scene: Scene) -> int:
    """How many layers a scene shows, those of the scenes in it counted each time."""
    inner = [project.by_id[each] for each in shown_in(scene) if each in project.by_id]
    return len(scene.layers) + sum(layers_shown(project, each) for each in inner)


def check_shown(scenes: tuple[Scene, ...]) -> None:
    """Refuses scenes that would show each other in a circle, by name, and more layers in all than can be drawn."""
    by_id = {scene.id: scene for scene in scenes}
    counts: dict[str, int] = {}

    def count(scene: Scene, chain: tuple[str, ...]) -> int:
        """How many layers a scene shows, those of the scenes in it counted each time."""
        if scene.id in chain:
            ring = [by_id[each].name for each in (*chain[chain.index(scene.id) :], scene.id)]
            raise Refusal(f"These scenes would show each other in a circle: {' → '.join(ring)}.")
        if len(chain) > limits.MAX_SCENE_DEPTH:
            raise Refusal(f"Scenes lie at most {limits.MAX_SCENE_DEPTH} deep in each other.")
        known = counts.get(scene.id)
        if known is None:
            inner = [by_id[each] for each in shown_in(scene) if each in by_id]
            known = counts[scene.id] = len(scene.layers) + sum(count(each, (*chain, scene.id)) for each in inner)
            if inner and known > limits.MAX_SHOWN_LAYERS:
                raise Refusal(
                    f"{scene.name} would show {known:,} layers, those of the scenes in it counted each time; at most "
                    f"{limits.MAX_SHOWN_LAYERS:,} can be drawn."
                )
        return known

    for scene in scenes:
        count(scene, ())


class Project(Told):
    always: ClassVar[tuple[str, ...]] = ("format",)
    format: Literal[8] = FORMAT
    name: Name
    scenes: tuple[Scene, ...] = Field(min_length=1, max_length=limits.MAX_SCENES)
    fonts: tuple[UserFont, ...] = Field(default=(), max_length=limits.MAX_FONTS)
    #: Eases of one's own, the newest last.
    eases: tuple[OwnEase, ...] = Field(default=(), max_length=limits.MAX_OWN_EASES)
    #: Motions kept for use elsewhere, the newest last.
    motions: tuple[SavedMotion, ...] = Field(default=(), max_length=limits.MAX_MOTIONS)
    #: The roundness that points of new paths get by themselves; None makes them straight.
    rounded: Annotated[float, Field(ge=0, le=1)] | None = None
    #: The newest first.
    shelf: tuple[Kept, ...] = Field(default=(), max_length=limits.MAX_SHELF)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        names = [scene.id for scene in self.scenes]
        if len(set(names)) != len(names):
            raise ValueError("Two scenes of a project share one id.")
        if len({motion.name for motion in self.motions}) != len(self.motions):
            raise ValueError("Two saved motions of a project share one name.")
        check_shown(self.scenes)
        return self

    @cached_property
    def by_id(self) -> dict[str, Scene]:
        """Its scenes by their ids."""
        return {scene.id: scene for scene in self.scenes}

    def other_than(self, there: "Project") -> Iterator[tuple[Scene, Scene | None]]:
        """The scenes of which another project has not the very same, each with what it is there; None where it is
        not.
        """
        for scene in self.scenes if self is not there else ():
            other = there.by_id.get(scene.id)
            if other is not scene:
                yield scene, other

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
        if scene.origin is not None:
            found.add(scene.origin.asset)
        for layer in scene.layers:
            found |= assets_in(layer.artwork)
    return found
