"""What edits that put copied lanes on layers have in common: what lands is laid and selected, what does not is told."""

from collections.abc import Sequence
from typing import ClassVar

from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.landing import Landing, keys_of, laid_on, outside
from deftarc.core.document import Project, Scene
from deftarc.core.edit.base import EditBase, Note


class LandingsEdit(EditBase):
    """An edit that lays copied lanes."""

    #: How it is told that some were not.
    not_laid: ClassVar[str]
    scene: Identity

    def landings(self, scene: Scene) -> tuple[list[Landing], list[str]]:
        """What comes to lie where, and in words what does not fit."""
        raise NotImplementedError

    @property
    def makes_room(self) -> bool:
        """Whether keys there, from the first to the last laid, make room."""
        raise NotImplementedError

    @property
    def what(self) -> str:
        """What is laid, as a refusal calls it."""
        return "this"

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        landings, missed = self.landings(scene)
        if not landings:
            raise Refusal(f"Nothing of {self.what} fits here. {'; '.join(missed[:3])}.")
        return project.with_scene(laid_on(scene, landings, self.makes_room))

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return keys_of(self.landings(before.scene(self.scene))[0])

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = before.scene(self.scene)
        landings, missed = self.landings(scene)
        out = []
        if missed:
            out.append(Note(f"{self.not_laid}: {'; '.join(missed[:3])}{' …' if len(missed) > 3 else ''}."))
        if past := outside(scene, landings):
            out.append(Note(f"{past} key{'s lie' if past > 1 else ' lies'} outside the scene’s time."))
        return out
