"""A list for the drawer of what lanes can be let hang on: of the lane in focus, found in by words, tried as one goes
through it.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import ClassVar

from deftarc.core.document import Layer, Scene
from deftarc.core.document.properties import PROPERTIES, Property
from deftarc.core.edit.links import LaneAsked
from deftarc.web.context import fragment
from deftarc.web.panels.drawer import Drawer
from deftarc.web.panels.panel import Showing


@dataclass(frozen=True)
class MotionRow:
    """A motion in the list: what it is called, whose it is, and why it cannot be taken; empty where it can."""

    words: str
    layer: str
    refused: str = ""


class MotionsDrawer(Drawer):
    """What is alike in such lists."""

    #: What the lane does, in words: “follows”; and the fragment that draws the rows.
    verb: ClassVar[str]
    begin: ClassVar[str]
    template: ClassVar[str]
    #: So many are listed; more are found by words.
    most: ClassVar[int] = 60

    def takes(self, facts: Property) -> bool:
        """Whether a property is one that this list is about."""
        raise NotImplementedError

    def usual(self, scene: Scene, layers: tuple[str, ...]) -> str:
        """The property that is meant where none is in focus."""
        return "rotation"

    def can(self, layer: Layer, name: str) -> bool:
        """Whether a layer's property, which it has, could be let do so."""
        return True

    def motions(self, scene: Scene, lane: LaneAsked) -> Iterator[tuple[Layer, str, str]]:
        """What could be taken for a lane, the likeliest first: whose, which property, and how it is called."""
        raise NotImplementedError

    def row(
        self, showing: Showing, scene: Scene, lanes: tuple[LaneAsked, ...], layer: Layer, what: str, told: str
    ) -> MotionRow:
        raise NotImplementedError

    def lanes(self, showing: Showing) -> tuple[LaneAsked, ...]:
        """The lanes that are meant: the one in focus, of all that is selected, else the rotation."""
        look, scene = showing.look, showing.scene
        name = self.usual(scene, look.layers)
        if look.focus is not None and look.focus.layer in look.layers and look.focus.property in PROPERTIES:
            facts = PROPERTIES[look.focus.property]
            name = facts.id if self.takes(facts) and facts.id != "clock" else name
        here = {layer.id: layer for layer in scene.layers}
        return tuple(
            LaneAsked(layer=each, property=name)
            for each in look.layers
            if each in here and name in here[each].properties and self.can(here[each], name)
        )

    def title(self, showing: Showing) -> str:
        lanes = self.lanes(showing)
        if not lanes:
            return f"{self.begin}: select a layer first"
        whose = showing.scene.layer(lanes[0].layer).name if len(lanes) == 1 else f"{len(lanes)} layers"
        return f"{PROPERTIES[lanes[0].property].label} of {whose} {self.verb}…"

    def html(self, showing: Showing) -> str:
        # What is tried is not what the list is about: it would change under the hand.
        lanes, scene = self.lanes(showing), showing.opened.project
        here = next((each for each in scene.scenes if each.id == showing.scene.id), showing.scene)
        rows: list[MotionRow] = []
        more = 0
        words = showing.look.drawer_text.casefold().split()
        if lanes and any(layer.id == lanes[0].layer for layer in here.layers):
            for layer, what, label in self.motions(here, lanes[0]):
                told = f"{label} of {layer.name}"
                if not all(word in told.casefold() for word in words):
                    continue
                if len(rows) >= self.most:
                    more += 1
                    continue
                rows.append(self.row(showing, here, lanes, layer, what, told))
        return fragment(self.template, rows=self.sorted(rows), more=more, lanes=lanes, text=showing.look.drawer_text)

    def sorted(self, rows: list[MotionRow]) -> list[MotionRow]:
        return rows
