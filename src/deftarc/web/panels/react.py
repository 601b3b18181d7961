"""What a lane could answer: the motions of a scene with what they do, for the drawer, tried as one goes on."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import ClassVar

from deftarc.core.arrange.reacted import motion_of
from deftarc.core.document import FreePath, Layer, Scene
from deftarc.core.document.links import PLACES
from deftarc.core.document.properties import PROPERTIES, Property
from deftarc.core.document.reactions import KINDS, PLURAL, Pulse, drives, takes_pulses
from deftarc.core.edit.links import LaneAsked, SourceAsked
from deftarc.core.edit.react import React, source_told
from deftarc.web.panels.drawer import DRAWERS, as_told
from deftarc.web.panels.motions import MotionRow, MotionsDrawer
from deftarc.web.panels.panel import Showing

#: How far a pulse goes at first, in shown units: of an angle, of a share, of anything in px, of another number.
FIRST = {"°": 15.0, "%": 30.0, "px": 40.0}


@dataclass(frozen=True)
class Choice:
    """One kind of what a motion does: how many there are, and the edit that answers them."""

    words: str
    edit: str


@dataclass(frozen=True)
class Row(MotionRow):
    choices: tuple[Choice, ...] = ()


def first_pulse(facts: Property, frame: int) -> Pulse:
    """What a pulse on a property is at first: one that can be seen, there in two frames and gone in ten."""
    if facts.kind == "outline":
        # A string is struck the way that hits it, and rings.
        return Pulse(amount=40.0, attack=2 * frame, release=36 * frame, rings=5, aimed=True)
    if facts.kind == "path":
        return Pulse(amount=40.0, attack=2 * frame, release=10 * frame, aimed=True)
    if facts.kind == "colour":
        return Pulse(amount=1.0, attack=frame, release=12 * frame)
    amount = FIRST.get(facts.unit, 1.0) / facts.factor
    if facts.id == "opacity":
        amount = -amount
    return Pulse(amount=amount, attack=2 * frame, release=10 * frame)


def motions(scene: Scene) -> Iterator[tuple[Layer, str, str]]:
    """The motions of a scene, by layer: what each is called, and its property."""
    for layer in scene.layers:
        carried = layer.parent is not None or layer.later is not None
        for name in layer.properties:
            facts = PROPERTIES[name]
            place = name in PLACES
            moves = name in layer.keyed or name in layer.links or (place and carried)
            if not moves or name == "clock" or facts.kind not in ("number", "path") or name == "position_y":
                continue
            yield layer, "position" if place else name, "Position" if place else facts.label


@DRAWERS.add
class ReactDrawer(MotionsDrawer):
    id: ClassVar[str] = "react"
    verb: ClassVar[str] = "answers"
    begin: ClassVar[str] = "React"
    template: ClassVar[str] = "parts/react.html"
    most: ClassVar[int] = 40

    def takes(self, facts: Property) -> bool:
        return takes_pulses(facts)

    def usual(self, scene: Scene, layers: tuple[str, ...]) -> str:
        """A line is struck; anything else nods."""
        here = {layer.id: layer.artwork for layer in scene.layers}
        arts = [here[each] for each in layers if each in here]
        lines = [isinstance(art, FreePath) and not all(each.closed for each in art.contours) for art in arts]
        return "outline" if lines and all(lines) else "rotation"

    def motions(self, scene: Scene, lane: LaneAsked) -> Iterator[tuple[Layer, str, str]]:
        return motions(scene)

    def sorted(self, rows: list[MotionRow]) -> list[MotionRow]:
        """What hits something is what is answered most."""
        return sorted(rows, key=lambda row: not any("contact" in each.words for each in getattr(row, "choices", ())))

    def row(
        self, showing: Showing, scene: Scene, lanes: tuple[LaneAsked, ...], layer: Layer, what: str, told: str
    ) -> Row:
        asked = SourceAsked(layer=layer.id, what=what)
        source = source_told(scene, asked)
        by_id = {each.id: each for each in scene.layers}
        if any(drives(by_id, source, lane.layer, lane.property) for lane in lanes):
            return Row(told, layer.id, "It hangs on what would answer it")
        found = motion_of(scene, source)
        pulse = first_pulse(PROPERTIES[lanes[0].property], scene.rate.flicks)
        choices = []
        for kind in KINDS:
            count = sum(each.kind == kind for each in found)
            if count:
                edit = React(scene=scene.id, lanes=lanes, to=asked, kinds=(kind,), pulse=pulse)
                choices.append(Choice(f"{count} {PLURAL[kind] if count > 1 else kind}", as_told(edit)))
        return Row(told, layer.id, "" if choices else "It makes no contacts, peaks or stops", tuple(choices))
