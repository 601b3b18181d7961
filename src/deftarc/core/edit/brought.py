"""Edits that bring scenes of a file in: shown by a new layer, and again after the file has changed."""

from collections.abc import Iterable, Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.arrange.merged import Prefer, Told, merged
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity
from deftarc.core.document import Project, Scene
from deftarc.core.document.artwork import ArtworkBase
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.origin import Origin
from deftarc.core.edit.add import AddLayer
from deftarc.core.edit.base import MOST_TOLD, EditBase, Note

Scenes = Annotated[tuple[Scene, ...], Field(min_length=1, max_length=limits.MAX_SCENES)]


class BringScenes(AddLayer):
    """Scenes that came of a file, the first of them shown by the new layer, which moves, grows and runs as one."""

    brings_paths: ClassVar[bool] = True
    kind: Literal["bring_scenes"] = "bring_scenes"  # type: ignore[assignment]
    scenes: Scenes

    def apply(self, project: Project) -> Project:
        art, first = self.artwork, self.scenes[0]
        if not isinstance(art, SceneShown) or art.scene != first.id:
            raise Refusal("What is brought in is shown by its first scene.")
        here = {each.id for each in project.scenes}
        if any(each.id in here for each in self.scenes):
            raise Refusal("A scene with this id is there already.")
        if len(here) + len(self.scenes) > limits.MAX_SCENES:
            raise Refusal(
                f"This file has {len(self.scenes)} pictures within one another, each a scene of its own, and a project "
                f"holds at most {limits.MAX_SCENES} scenes. Open it as a project, or delete scenes first."
            )
        return super().apply(project.changed(scenes=(*project.scenes, *self.scenes)))

    def artworks(self) -> Iterable[ArtworkBase]:
        return (self.artwork, *(layer.artwork for each in self.scenes for layer in each.layers))

    def origins(self) -> Iterable[Origin]:
        return (each.origin for each in self.scenes if each.origin is not None)

    def label(self, project: Project) -> str:
        return f"Bring in {self.name}"


class BringAgain(EditBase):
    """A scene brought in again after its file changed: ``was`` is what the file had before, ``now`` what it has, with
    the same ids for what is the same. What was done here is kept; where both changed the same, ``prefer`` says whose
    stays.
    """

    past_locks: ClassVar[bool] = True
    brings_paths: ClassVar[bool] = True
    kind: Literal["bring_again"] = "bring_again"
    scene: Identity
    was: Scenes
    now: Scenes
    origin: Origin
    prefer: Prefer = "here"

    def apply(self, project: Project) -> Project:
        return self._made(project)[0]

    def _made(self, project: Project) -> tuple[Project, Told]:
        project.scene(self.scene)
        if self.was[0].id != self.scene or self.now[0].id != self.scene:
            raise Refusal("The first of the scenes is the one that is brought in again.")
        made, told = merged(project, self.was, self.now, self.prefer)
        return made.with_scene(made.scene(self.scene).changed(origin=self.origin)), told

    def artworks(self) -> Iterable[ArtworkBase]:
        return [layer.artwork for each in self.now for layer in each.layers]

    def origins(self) -> Iterable[Origin]:
        return (self.origin,)

    def label(self, project: Project) -> str:
        return f"Bring {project.scene(self.scene).name} in again"

    def kept(self, before: Project) -> list[str]:
        """In words, what both sides changed, and stays as it is here."""
        return self._made(before)[1].kept

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        told = self._made(before)[1]
        counts = [
            f"{len(names)} {word}"
            for names, word in ((told.changed, "changed"), (told.added, "new"), (told.gone, "gone"))
            if names
        ]
        out = [f"{self.origin.file} came in again. Of its layers: {_listed(counts) or 'none changed'}."]
        out += [f"{each}." for each in told.more[:MOST_TOLD]]
        if len(told.more) > MOST_TOLD:
            out.append(f"And {len(told.more) - MOST_TOLD} more like this.")
        return [Note(each) for each in out]


def _listed(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}" if words else ""


__all__ = ["BringAgain", "BringScenes"]
