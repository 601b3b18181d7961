"""What a lane could answer: the motions of a scene with what they do, for the drawer, tried as one goes on."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import ClassVar

from deftarc.core.arrange.reacted import motion_of
from deftarc.core.document import Layer, Scene
from deftarc.core.document.links import PLACES, LinkSource
from deftarc.core.document.properties import PROPERTIES, Property
from deftarc.core.document.reactions import KINDS, PLURAL, Pulse, drives
from deftarc.core.edit.links import LaneAsked, SourceAsked
from deftarc.core.edit.react import React, source_told
from deftarc.web.context import fragment
from deftarc.web.panels.drawer import DRAWERS, Drawer, as_told
from deftarc.web.panels.panel import Showing

#: So many motions are listed; more are found by words.
MOST = 40
#: How far a pulse goes at first, in shown units: of an angle, of a share, of anything in px, of another number.
FIRST = {"°": 15.0, "%": 30.0, "px": 40.0}


@dataclass(frozen=True)
class Choice:
    """One kind of what a motion does: how many there are, and the edit that answers them."""

    words: str
    edit: str


@dataclass(frozen=True)
class Row:
    words: str
    layer: str
    choices: list[Choice]
    refused: str = ""


def first_pulse(facts: Property, frame: int) -> Pulse:
    """What a pulse on a property is at first: one that can be seen, there in two frames and gone in ten."""
    amount = FIRST.get(facts.unit, 1.0) / facts.factor
    if facts.id == "opacity":
        amount = -amount
    return Pulse(amount=amount, attack=2 * frame, release=10 * frame)


def answering(showing: Showing) -> tuple[LaneAsked, ...]:
    """The lanes that are to answer: the one in focus, of all that is selected, else the rotation."""
    look, scene = showing.look, showing.scene
    name = "rotation"
    if look.focus is not None and look.focus.layer in look.layers and look.focus.property in PROPERTIES:
        facts = PROPERTIES[look.focus.property]
        name = facts.id if facts.kind == "number" and facts.id != "clock" else name
    here = {layer.id: layer for layer in scene.layers}
    return tuple(
        LaneAsked(layer=each, property=name) for each in look.layers if each in here and name in here[each].properties
    )


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
class ReactDrawer(Drawer):
    id: ClassVar[str] = "react"

    def title(self, showing: Showing) -> str:
        lanes = answering(showing)
        if not lanes:
            return "React: select a layer first"
        whose = showing.scene.layer(lanes[0].layer).name if len(lanes) == 1 else f"{len(lanes)} layers"
        return f"{PROPERTIES[lanes[0].property].label} of {whose} answers…"

    def html(self, showing: Showing) -> str:
        lanes, scene = answering(showing), showing.opened.project
        here = next((each for each in scene.scenes if each.id == showing.scene.id), showing.scene)
        rows: list[Row] = []
        more = 0
        words = showing.look.drawer_text.casefold().split()
        if lanes and any(layer.id == lanes[0].layer for layer in here.layers):
            for layer, what, label in motions(here):
                told = f"{label} of {layer.name}"
                if not all(word in told.casefold() for word in words):
                    continue
                if len(rows) >= MOST:
                    more += 1
                    continue
                rows.append(_row(here, lanes, layer, what, told))
        # What hits something is what is answered most.
        rows.sort(key=lambda row: not any("contact" in choice.words for choice in row.choices))
        return fragment("parts/react.html", rows=rows, more=more, lanes=lanes, text=showing.look.drawer_text)


def _row(scene: Scene, lanes: tuple[LaneAsked, ...], layer: Layer, what: str, told: str) -> Row:
    asked = SourceAsked(layer=layer.id, what=what)
    source: LinkSource = source_told(scene, asked)
    by_id = {each.id: each for each in scene.layers}
    if any(drives(by_id, source, lane.layer, lane.property) for lane in lanes):
        return Row(told, layer.id, [], "It hangs on what would answer it")
    found = motion_of(scene, source)
    pulse = first_pulse(PROPERTIES[lanes[0].property], scene.rate.flicks)
    choices = []
    for kind in KINDS:
        count = sum(each.kind == kind for each in found)
        if count:
            edit = React(scene=scene.id, lanes=lanes, to=asked, kinds=(kind,), pulse=pulse)
            choices.append(Choice(f"{count} {PLURAL[kind] if count > 1 else kind}", as_told(edit)))
    return Row(told, layer.id, choices, "" if choices else "It makes no contacts, peaks or stops")
