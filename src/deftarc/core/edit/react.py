"""Edits of reactions: pulses laid on a property at what a motion does, changed, and taken away or left as keys."""

from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.arrange.reacted import laid, marks_of
from deftarc.core.base import limits
from deftarc.core.base.arithmetic import evaluate_number
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Colour, Identity, Moment, Number
from deftarc.core.changes.rebuild import value_of
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.links import PLACES, LinkSource, found_on, told_source
from deftarc.core.document.properties import PROPERTIES, property_named
from deftarc.core.document.reactions import (
    PLURAL,
    EventKind,
    Pulse,
    Reacting,
    Reaction,
    drives,
    takes_pulses,
    told_in,
)
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit.base import EditBase, Note
from deftarc.core.edit.links import LaneAsked, Lanes, SourceAsked, told_lane
from deftarc.core.edit.transform import LinkScale, MovePivot

#: The least that can be typed for what is no amount, in flicks or swings; what is said of less.
LEAST_OF = {"attack": 0, "hold": 0, "release": 1, "rings": 0}
REFUSED = ("nothing or more: a number of 0 or above", "a time: a pulse takes a while to come back to rest")
Points = Annotated[tuple[Annotated[int, Field(ge=0)], ...], Field(max_length=limits.MAX_OUTLINE_POINTS)]
Kinds = Annotated[tuple[EventKind, ...], Field(min_length=1, max_length=3)]


def source_told(scene: Scene, asked: SourceAsked) -> LinkSource:
    """What is answered. A place is one in the scene where its layer is carried."""
    layer = scene.layer(asked.layer)
    what = "position" if asked.what in PLACES else asked.what
    if what != "position":
        facts = property_named(what)
        if facts.kind != "number" or found_on(layer, what) is None:
            raise Refusal(f"{layer.name} has no {facts.label} that moves as a number or a position does.")
    axes = asked.axes or ("scene" if what == "position" and layer.parent is not None else "parent")
    return LinkSource(layer=layer.id, what=what, axes=axes)


def told_kinds(kinds: Sequence[EventKind]) -> str:
    return " or ".join(PLURAL[kind] for kind in kinds)


class React(EditBase):
    """Pulses on properties at the contacts, peaks or stops of a motion: ordinary keys, laid anew when that changes."""

    kind: Literal["react"] = "react"
    scene: Identity
    lanes: Lanes
    to: SourceAsked
    kinds: Kinds = ("contact",)
    pulse: Pulse
    #: Of outlines: the points that go, by number; none means those that would when it is struck.
    points: Points = ()

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        source = source_told(scene, self.to)
        for asked in self.lanes:
            layer = scene.layer(asked.layer)
            name = property_named(asked.property).id
            _refuse(scene, layer, name, source)
            if not marks_of(scene, source, self.kinds, layer):
                of = told_answered(scene, source)
                raise Refusal(
                    f"{of} makes no {told_kinds(self.kinds)} in the scene's time: there is nothing to answer."
                )
            before = layer.reactions.get(name)
            base = before.base if before is not None else layer.track(name)
            points = self.points if name == "outline" else ()
            reaction = Reaction(source=source, kinds=self.kinds, pulse=self.pulse, points=points)
            told = Reacting(base=base.changed(loose=None), reaction=reaction)
            scene = scene.with_layer(laid(scene, layer, name, told))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        of = told_answered(scene, source_told(scene, self.to))
        what = told_lane(self.lanes[0], scene) if len(self.lanes) == 1 else f"{len(self.lanes)} lanes"
        return f"Let {what} answer {of}"

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        first = self.lanes[0]
        told = after.scene(self.scene).layer(first.layer).reactions[property_named(first.property).id]
        count = len(told.reaction.marks)
        what = self.kinds[0] if count == 1 and len(self.kinds) == 1 else told_kinds(self.kinds)
        return (Note(f"{count} {what} answered, by ordinary keys."),)


def told_answered(scene: Scene, source: LinkSource) -> str:
    """What is answered in words: “Position of Ball”."""
    return told_source(source, scene.layer(source.layer).name)


def _refuse(scene: Scene, layer: Layer, name: str, source: LinkSource) -> None:
    facts = PROPERTIES[name]
    if not takes_pulses(facts):
        raise Refusal(f"{facts.label} takes no pulses: it says when all else happens.")
    if name not in layer.properties:
        raise Refusal(f"{layer.name} has no {facts.label}.")
    if drives({each.id: each for each in scene.layers}, source, layer.id, name):
        raise Refusal(
            f"{told_answered(scene, source)} hangs on {facts.label} of {layer.name}, which would answer itself. "
            "Let something else answer."
        )


class ChangeReactions(EditBase):
    """How properties react: what is given changes on each. What was typed is ``told`` for a ``field``, in shown units:
    *amount*; *later*, *attack*, *hold* and *release* in frames; *rings*. ``turn`` turns one of what is answered, by its
    place in the row, off or on.
    """

    kind: Literal["change_reactions"] = "change_reactions"
    scene: Identity
    lanes: Lanes
    kinds: Kinds | None = None
    turn: Annotated[int, Field(ge=0)] | None = None
    sized: bool | None = None
    aimed: bool | None = None
    #: Of outlines: the points that go. Of colours: the one at the peak.
    points: Points | None = None
    colour: Colour | None = None
    field: Literal["amount", "later", "attack", "hold", "release", "rings", "way"] | None = None
    told: Annotated[str, Field(max_length=200)] | None = None

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for asked in self.lanes:
            layer = scene.layer(asked.layer)
            name = property_named(asked.property).id
            told = reacting_lane(layer, name)
            reaction = told.reaction
            if self.kinds is not None:
                reaction = reaction.changed(kinds=self.kinds, off=())
                if not marks_of(scene, reaction.source, self.kinds, layer):
                    of = told_answered(scene, reaction.source)
                    raise Refusal(f"{of} makes no {told_kinds(self.kinds)} in the scene's time.")
            if self.turn is not None:
                reaction = reaction.changed(off=tuple(sorted(set(reaction.off) ^ {self.turn})))
            if self.points is not None and name == "outline":
                reaction = reaction.changed(points=self.points)
            reaction = reaction.changed(pulse=self._pulse(scene, name, reaction.pulse))
            scene = scene.with_layer(laid(scene, layer, name, told.changed(reaction=reaction)))
        return project.with_scene(scene)

    def _pulse(self, scene: Scene, name: str, pulse: Pulse) -> Pulse:
        fresh: dict[str, Any] = {}
        if self.sized is not None:
            fresh["sized"] = self.sized
        if self.aimed is not None:
            fresh["aimed"] = self.aimed
        if self.colour is not None:
            fresh["colour"] = self.colour
        if self.field is not None:
            shown = told_in(PROPERTIES[name])[1]
            factor = {"amount": shown, "rings": 1.0, "way": 1.0}.get(self.field, 1 / scene.rate.flicks)
            now = float(getattr(pulse, self.field)) * factor
            if self.told is None:
                raise Refusal("Say what was typed.")
            value = evaluate_number(self.told, now)
            most = limits.MAX_NUMBER if self.field in ("amount", "rings", "way") else limits.MAX_LAG
            if abs(value / factor) > most:
                raise Refusal(f"A {self.field} cannot be that large.")
            if self.field in LEAST_OF and round(value / factor) < LEAST_OF[self.field]:
                raise Refusal(f"{self.field.capitalize()} is {REFUSED[LEAST_OF[self.field]]}.")
            fresh[self.field] = value / factor if self.field in ("amount", "way") else round(value / factor)
        return Pulse.model_validate({**pulse.model_dump(), **fresh})

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        what = told_lane(self.lanes[0], scene) if len(self.lanes) == 1 else f"{len(self.lanes)} lanes"
        return f"Change how {what} answers"


def reacting_lane(layer: Layer, name: str) -> Reacting:
    told = layer.reactions.get(name)
    if told is None:
        raise Refusal(f"{property_named(name).label} of {layer.name} answers no motion.")
    return told


class EndReactions(EditBase):
    """Properties that answer nothing any more: with the keys they had before or, with ``keys``, those they have."""

    lets_go: ClassVar[bool] = True
    kind: Literal["end_reactions"] = "end_reactions"
    scene: Identity
    lanes: Lanes
    keys: bool = False

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for asked in self.lanes:
            layer = scene.layer(asked.layer)
            name = property_named(asked.property).id
            told = reacting_lane(layer, name)
            reactions = {each: other for each, other in layer.reactions.items() if each != name}
            layer = layer.changed(reactions=reactions)
            scene = scene.with_layer(layer if self.keys else layer.with_track(name, told.base))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        what = told_lane(self.lanes[0], scene) if len(self.lanes) == 1 else f"{len(self.lanes)} lanes"
        return f"Leave {what} as keys" if self.keys else f"Let {what} answer nothing"


def _stays(track: AnyTrack) -> bool:
    """Whether a size is one throughout, with keys or without: its axes can be linked by area then."""
    if not track.keys:
        return True
    same = len({value_of(track, k) for k in range(len(track.keys))}) == 1 and track.loose is None
    # Nor do handles take it elsewhere on the way.
    return same and not any(np.ptp(each) for each in zip(*track.curve.control_measures(), strict=True))


class SquashAtContacts(EditBase):
    """Layers flattened at each contact of their own motion, their area kept, from the side that hits: the pivot goes to
    where the strongest does, in the ``boxes`` of their artworks (left, top, right, bottom), where these are given.
    ``amount`` is the share by which the strongest widens it; times are in flicks.
    """

    kind: Literal["squash_at_contacts"] = "squash_at_contacts"
    scene: Identity
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    boxes: Annotated[tuple[tuple[Number, Number, Number, Number], ...], Field(max_length=limits.MAX_LAYERS)] = ()
    amount: Annotated[float, Field(gt=-0.95, le=20)] = 0.35
    attack: Annotated[Moment, Field(ge=0)] | None = None
    release: Annotated[Moment, Field(gt=0)] | None = None
    time: Moment = 0

    def apply(self, project: Project) -> Project:
        if self.boxes and len(self.boxes) != len(self.layers):
            raise Refusal("Say for each layer in which box it is.")
        for n, layer_id in enumerate(self.layers):
            project = self._squashed(project, layer_id, self.boxes[n] if self.boxes else None)
        return project

    def _squashed(self, project: Project, layer_id: str, box: tuple[float, float, float, float] | None) -> Project:
        scene = project.scene(self.scene)
        layer, frame = scene.layer(layer_id), scene.rate.flicks
        source = source_told(scene, SourceAsked(layer=layer_id, what="position"))
        marks = marks_of(scene, source, ("contact",), layer)
        if not marks:
            raise Refusal(
                f"Position of {layer.name} makes no contacts in the scene's time: there is nothing to answer."
            )
        if layer.scale_link != "area":
            scaled = [name for name in ("scale", "scale_x", "scale_y") if name in layer.tracks]
            if not all(_stays(layer.tracks[name]) for name in scaled):
                raise Refusal(
                    f"{layer.name} has keys of its size. Put it in a group, and squash that; or unlink its scale axes, "
                    "and let each answer."
                )
            project = LinkScale(scene=self.scene, layer=layer_id, link="area", time=self.time).apply(project)
            scene = project.scene(self.scene)
            layer = scene.layer(layer_id)
        way = max(marks, key=lambda each: round(each.strength, 3)).way
        if box is not None:
            left, top, right, bottom = box
            across, down = (left + right) / 2, (top + bottom) / 2
            flat = abs(way[1]) >= abs(way[0])
            own = (across, bottom if way[1] > 0 else top) if flat else (right if way[0] > 0 else left, down)
            move = MovePivot(scene=self.scene, layers=(layer_id,), own=own, time=self.time)
            # It stays where it is as it rests: its stretch, which goes by how fast it is here, is about its pivot.
            kept = {name: track for name, track in layer.tracks.items() if name == "stretch"}
            bare = layer.changed(tracks={name: track for name, track in layer.tracks.items() if name not in kept})
            project = move.apply(project.with_scene(scene.with_layer(bare)))
            moved = project.scene(self.scene).layer(layer_id)
            back = moved.changed(tracks={**moved.tracks, **kept})
            project = project.with_scene(project.scene(self.scene).with_layer(back))
        attack = frame if self.attack is None else self.attack
        # So much wider than it is there.
        size = layer.number("scale").at(self.time)[0]
        # It is flattest as it hits.
        pulse = Pulse(
            amount=self.amount * size, later=-attack, attack=attack, release=self.release or 5 * frame, aimed=True,
        )  # fmt: skip
        lanes = (LaneAsked(layer=layer_id, property="scale"),)
        to = SourceAsked(layer=layer_id, what="position")
        return React(scene=self.scene, lanes=lanes, to=to, pulse=pulse).apply(project)

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        names = [scene.layer(each).name for each in dict.fromkeys(self.layers)]
        return f"Squash {names[0] if len(names) == 1 else f'{len(names)} layers'} at contacts"


__all__ = ["ChangeReactions", "EndReactions", "React", "SquashAtContacts"]
