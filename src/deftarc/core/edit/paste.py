"""Edits that put copied keys on lanes: as they are, turned, mirrored, over and over, fitted, or their easing alone."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Frozen, Identity, Moment
from deftarc.core.changes.landing import Landing, fitted_in, held, like, mirrored_within
from deftarc.core.changes.pieces import (
    Shared,
    at_times,
    backwards,
    fitted,
    moved_to,
    played,
)
from deftarc.core.changes.rebuild import from_key_to_key
from deftarc.core.changes.retime import span_of
from deftarc.core.changes.shapes_of_ways import shapes_laid, shapes_taken
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.clip import Clip, CopiedLane
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit.base import EditBase, Note, quoted
from deftarc.core.edit.keys import KeyRefs, by_lane, lane_names
from deftarc.core.edit.landings import LandingsEdit


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


class PasteKeys(LandingsEdit):
    """Copied keys put on layers at a time. Each lane goes onto the property it was copied from, or all of one onto
    ``onto_property``. Keys of one layer go onto each of the layers; of several layers, onto as many, in their order.
    """

    looked_at: ClassVar[bool] = True
    not_laid: ClassVar[str] = "Not pasted"
    kind: Literal["paste_keys"] = "paste_keys"
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
        for each in fitted_in(scene, self._pairs(scene), missed, self.onto_property):
            out.append(replace(each, track=self._turned(scene, each.layer, each.property, each.track)))
        return out, list(dict.fromkeys(missed))

    def _turned(self, scene: Scene, layer: Layer, name: str, piece: AnyTrack) -> AnyTrack:
        """A copied lane as it is to lie on a property of a layer, at its times there."""
        how, low, high = self.how, self.clip.start, self.clip.end
        there = layer.track(name)
        sides = self._sides(piece)
        piece = like(from_key_to_key(piece), there, PROPERTIES[name])
        if how.reversed:
            piece = backwards(piece, low, high)
        if how.relative:
            piece = moved_to(piece, there.at(self.time + piece.keys[0].time - low))
        if how.mirrored:
            piece = mirrored_within(piece, PROPERTIES[name])
        frame = scene.rate.flicks
        piece = played(
            piece, low, high, how.often, alternate=how.alternate, shared=how.shared, gap=how.gap, adding=how.adding,
            frame=frame,
        )  # fmt: skip
        piece = held(piece, PROPERTIES[name])
        between = how.gap or (frame if how.shared == "twice" else 0)
        long = (high - low) * how.often + between * (how.often - 1)
        if how.fit == "keep":
            return at_times(piece.changed(**sides), self.time - low)
        span = span_of(layer, scene.length) if how.fit == "span" else scene.play_range or (0, scene.length)
        last = span[1] - frame
        return fitted(piece.changed(**sides), low, low + long, (span[0], max(last, span[0] + frame)))

    def _sides(self, piece: AnyTrack) -> dict[str, Beyond | None]:
        """What goes on before and after the keys as they are pasted: of turns that are counted, nothing does."""
        if self.how.often > 1:
            return {"before": None, "after": None}
        # A value that is rested at is of that property alone, and where it was.
        other = self.onto_property is not None or self.how.mirrored or self.how.relative or len(piece.keys) < 2
        sides = [None if side is not None and (other and side.value) else side for side in (piece.before, piece.after)]
        if self.how.reversed:
            # Which of the keys are played again is known by their times, and these are others now.
            sides = [side and side.changed(part=None) for side in reversed(sides)]
        return {"before": sides[0], "after": sides[1]}

    @property
    def makes_room(self) -> bool:
        return self.how.onto == "replace"

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        notes = list(super().notes(before, after))
        to = PROPERTIES[self.onto_property] if self.onto_property else None
        units = {PROPERTIES[lane.property].unit for lane in self.clip.lanes} if to is not None else set()
        for unit in sorted(units - {to.unit if to is not None else ""}):
            assert to is not None
            notes.append(Note(f"The numbers stay as they are shown: 40 {unit} became 40 {to.unit}".strip() + "."))
        return notes

    def label(self, project: Project) -> str:
        number = "a key" if self.clip.count == 1 else f"{self.clip.count} keys"
        scene = project.scene(self.scene)
        often = f" {self.how.often} times" if self.how.often > 1 else ""
        return f"Paste {number}{often} on {quoted([scene.layer(x).name for x in dict.fromkeys(self.layers)])}"


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
