"""Edits that put copied keys on lanes: as they are, turned, mirrored, over and over, fitted, or their easing alone."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Frozen, Identity, Moment
from deftarc.core.changes.clip import Clip, CopiedLane
from deftarc.core.changes.keys import KeyRef, by_amount, delete_keys, evenly
from deftarc.core.changes.pieces import (
    Shared,
    at_times,
    backwards,
    first_value,
    fitted,
    mirror_image,
    moved_to,
    played,
)
from deftarc.core.changes.retime import span_of
from deftarc.core.changes.shapes_of_ways import shapes_laid, shapes_taken
from deftarc.core.changes.split import apart, together
from deftarc.core.changes.weave import woven
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import PROPERTIES, Property, property_named
from deftarc.core.document.track import AnyTrack, NumberTrack, PathTrack
from deftarc.core.edit.base import EditBase, Note, quoted
from deftarc.core.edit.keys import KeyRefs, by_lane, lane_names
from deftarc.core.edit.move_keys import within

#: How far a position split into its axes as it is pasted may be off, in px.
NEAR = 0.1


class PasteHow(Frozen):
    """What becomes of copied keys as they are pasted."""

    #: The value of the first of them is the one that is there, and the others follow from that.
    relative: bool = False
    reversed: bool = False
    #: Values on the other side of the first one.
    mirrored: bool = False
    #: Turns, one after the other.
    often: Annotated[int, Field(ge=1, le=1_000)] = 1
    #: Every other turn runs backwards.
    alternate: bool = False
    shared: Shared = "once"
    #: Rest between turns, in flicks.
    gap: Annotated[int, Field(ge=0, le=limits.FURTHEST)] = 0
    #: Each turn begins at the value at which the one before ended.
    adding: bool = False
    #: Whether keys there, from the first to the last pasted, stay among them or make room.
    onto: Literal["mix", "replace"] = "mix"
    #: Times as they were copied; or made to fill each layer's span, or the play range.
    fit: Literal["keep", "span", "range"] = "keep"
    #: Numbers go onto a property of another unit as they are shown: 40 ° becomes 40 %.
    as_numbers: bool = False


@dataclass(frozen=True)
class Landing:
    """A copied lane and where it goes: the property of a layer, with the keys it comes to there."""

    lane: CopiedLane
    layer: Layer
    property: str
    track: AnyTrack


class PasteKeys(EditBase):
    """Copied keys put on layers at a time. Each lane goes onto the property it was copied from, or all of one onto
    ``onto_property``. Keys of one layer go onto each of the layers; of several layers, onto as many, in their order.
    """

    looked_at: ClassVar[bool] = True
    kind: Literal["paste_keys"] = "paste_keys"
    scene: Identity
    clip: Clip
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    onto_property: Annotated[str, Field(max_length=80)] | None = None
    time: Moment
    how: PasteHow = PasteHow()

    def _pairs(self, scene: Scene) -> list[tuple[CopiedLane, Layer]]:
        """Which copied lane goes onto which layer."""
        layers = [scene.layer(name) for name in dict.fromkeys(self.layers)]
        sources = self.clip.sources
        if len(sources) == 1 or self.onto_property is not None:
            return [(lane, layer) for layer in layers for lane in self.clip.lanes]
        if len(layers) != len(sources):
            raise Refusal(
                f"Keys of {len(sources)} layers were copied. Select {len(sources)} layers to take them, one each, in "
                "the order of the list; or copy keys of one layer."
            )
        order = [layer.id for layer in scene.layers]
        layers.sort(key=lambda layer: order.index(layer.id))
        return [(lane, layers[sources.index(lane.of)]) for lane in self.clip.lanes]

    def landings(self, scene: Scene) -> tuple[list[Landing], list[str]]:
        """What comes to lie where, and in words what does not fit."""
        out: list[Landing] = []
        missed: list[str] = []
        taken: set[tuple[str, str]] = set()
        for lane, layer in self._as_paths(scene, self._pairs(scene)):
            for name, track in self._fitting(scene, lane, layer, missed):
                if (layer.id, name) in taken:
                    missed.append(f"{PROPERTIES[lane.property].label}: {layer.name} has one {PROPERTIES[name].label}")
                    continue
                taken.add((layer.id, name))
                out.append(Landing(lane, layer, name, self._turned(scene, layer, name, track)))
        return out, list(dict.fromkeys(missed))

    def _as_paths(self, scene: Scene, pairs: list[tuple[CopiedLane, Layer]]) -> list[tuple[CopiedLane, Layer]]:
        """The same, with x and y that were copied together put together as a path where a layer's position is one."""
        if self.onto_property is not None:
            return pairs
        axes: dict[tuple[int, str], dict[str, CopiedLane]] = {}
        for lane, layer in pairs:
            if lane.property in ("position_x", "position_y") and not layer.axes_split:
                axes.setdefault((lane.of, layer.id), {})[lane.property] = lane
        out = []
        for lane, layer in pairs:
            both = axes.get((lane.of, layer.id), {}) if lane.property in ("position_x", "position_y") else {}
            if len(both) < 2:
                out.append((lane, layer))
            elif lane.property == "position_x":
                x, y = both["position_x"].track, both["position_y"].track
                assert isinstance(x, NumberTrack)
                assert isinstance(y, NumberTrack)
                path = together(x, y, scene.rate.flicks, NEAR)
                out.append((lane.changed(property="position", track=path), layer))
        return out

    def _fitting(self, scene: Scene, lane: CopiedLane, layer: Layer, missed: list[str]) -> list[tuple[str, AnyTrack]]:
        """The properties of a layer that take a copied lane, with it as they take it."""
        facts = PROPERTIES[lane.property]
        if self.onto_property is None:
            if lane.property in layer.properties:
                return [(lane.property, lane.track)]
            if isinstance(lane.track, PathTrack) and layer.axes_split:
                x, y = apart(lane.track, scene.rate.flicks, NEAR)
                return [("position_x", x), ("position_y", y)]
            missed.append(f"{facts.label}: {layer.name} has none")
            return []
        to = property_named(self.onto_property)
        if to.id not in layer.properties:
            missed.append(f"{to.label}: {layer.name} has none")
        elif to.kind != facts.kind:
            missed.append(f"{facts.label} does not fit {to.label}")
        elif isinstance(lane.track, NumberTrack) and to.unit != facts.unit:
            if self.how.as_numbers:
                return [(to.id, as_numbers(lane.track, facts, to))]
            missed.append(f"{facts.label} is in {facts.unit or 'numbers'}, {to.label} in {to.unit or 'numbers'}")
        else:
            return [(to.id, lane.track)]
        return []

    def _turned(self, scene: Scene, layer: Layer, name: str, piece: AnyTrack) -> AnyTrack:
        """A copied lane as it is to lie on a property of a layer, at its times there."""
        how, low, high = self.how, self.clip.start, self.clip.end
        there = layer.track(name)
        piece = like(piece, there, PROPERTIES[name])
        if how.reversed:
            piece = backwards(piece, low, high)
        if how.relative:
            piece = moved_to(piece, there.at(self.time + piece.keys[0].time - low))
        if how.mirrored:
            piece = mirror_image(piece, first_value(piece))
        frame = scene.rate.flicks
        piece = played(
            piece, low, high, how.often, alternate=how.alternate, shared=how.shared, gap=how.gap, adding=how.adding,
            frame=frame,
        )  # fmt: skip
        piece = held(piece, PROPERTIES[name])
        between = how.gap or (frame if how.shared == "twice" else 0)
        long = (high - low) * how.often + between * (how.often - 1)
        if how.fit == "keep":
            return at_times(piece, self.time - low)
        span = span_of(layer, scene.length) if how.fit == "span" else scene.play_range or (0, scene.length)
        last = span[1] - frame
        return fitted(piece, low, low + long, (span[0], max(last, span[0] + frame)))

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        landings, missed = self.landings(scene)
        if not landings:
            raise Refusal(f"Nothing of this fits here. {'; '.join(missed[:3])}.")
        for each in landings:
            layer = scene.layer(each.layer.id)
            track = layer.track(each.property)
            if self.how.onto == "replace" and track.keys:
                gone = within(track, each.track.key_times, ())
                track = each.track if len(gone) == len(track.keys) else delete_keys(track, set(gone))
            made = woven(track.changed(loose=None), each.track) if track.keys else _onto_none(track, each.track)
            scene = scene.with_layer(layer.with_track(each.property, made))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        number = "a key" if self.clip.count == 1 else f"{self.clip.count} keys"
        scene = project.scene(self.scene)
        often = f" {self.how.often} times" if self.how.often > 1 else ""
        return f"Paste {number}{often} on {quoted([scene.layer(x).name for x in dict.fromkeys(self.layers)])}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        landings, _ = self.landings(before.scene(self.scene))
        return [
            KeyRef(layer=each.layer.id, property=each.property, time=time)
            for each in landings
            for time in each.track.key_times
        ][: limits.MAX_KEYS_PER_LANE]

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = before.scene(self.scene)
        landings, missed = self.landings(scene)
        out = []
        if missed:
            offer = None
            if not self.how.as_numbers and any(" is in " in words for words in missed):
                offer = self.changed(how=self.how.changed(as_numbers=True))
            words = f"Not pasted: {'; '.join(missed[:3])}{' …' if len(missed) > 3 else ''}."
            out.append(Note(words, "Paste the numbers as they are", offer) if offer else Note(words))
        outside = sum(1 for each in landings for time in each.track.key_times if time >= scene.length)
        if outside:
            out.append(Note(f"{outside} key{'s lie' if outside > 1 else ' lies'} past the end of the scene."))
        return out


def like(piece: AnyTrack, there: AnyTrack, facts: Property) -> AnyTrack:
    """A piece that grows as the track does onto which it goes."""
    if not isinstance(piece, NumberTrack) or not isinstance(there, NumberTrack) or not there.keys:
        return piece
    if piece.evenly == there.evenly:
        return piece
    return evenly(piece) if there.evenly else by_amount(piece)


def held(piece: AnyTrack, facts: Property) -> AnyTrack:
    """A piece with its values within what a property allows."""
    if not isinstance(piece, NumberTrack):
        return piece
    keys = [key.changed(value=facts.held(key.value)) for key in piece.keys]
    if all(a.value == b.value for a, b in zip(keys, piece.keys, strict=True)):
        return piece
    return piece.changed(keys=tuple(keys))


def as_numbers(piece: NumberTrack, facts: Property, to: Property) -> NumberTrack:
    """A piece whose shown numbers are the same in another unit."""
    by = facts.factor / to.factor
    plain = by_amount(piece)
    keys = [
        key.changed(
            value=key.value * by,
            arriving=key.arriving.changed(rise=key.arriving.rise * by) if key.arriving else None,
            leaving=key.leaving.changed(rise=key.leaving.rise * by) if key.leaving else None,
        )
        for key in plain.keys
    ]
    return plain.changed(keys=tuple(keys))


def _onto_none(track: AnyTrack, piece: AnyTrack) -> AnyTrack:
    """A piece as all the motion of a property that had none."""
    if isinstance(piece, PathTrack) and isinstance(track, PathTrack):
        return piece.changed(value=track.value, rounded=track.rounded)
    return piece.changed(value=track.value)


class PasteEases(EditBase):
    """The shapes between copied keys, without their values or times, laid on ways between other keys in turn."""

    kind: Literal["paste_eases"] = "paste_eases"
    scene: Identity
    clip: Clip
    keys: KeyRefs

    def apply(self, project: Project) -> Project:
        shapes = [shape for lane in self.clip.lanes for shape in shapes_taken(lane.track)]
        if not shapes:
            raise Refusal("One key was copied: an ease lies between two. Copy both keys of a way, or more.")
        scene = project.scene(self.scene)
        done = False
        for (layer_id, name), times in by_lane(scene, self.keys).items():
            layer = scene.layer(layer_id)
            track = layer.track(name)
            made = shapes_laid(track, times, shapes)
            done = done or made is not track
            scene = scene.with_layer(layer.with_track(name, made))
        if not done:
            raise Refusal("There is no way between two keys here. Select the keys of a way to ease it so.")
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Paste the easing on {lane_names(project, self.scene, self.keys)}"
