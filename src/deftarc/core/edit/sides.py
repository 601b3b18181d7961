"""Edits of sides, joints and curves: what handles, typed speeds and the gestures in the pair do."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.arithmetic import evaluate_number
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity, Moment, Number
from deftarc.core.changes.ease import On
from deftarc.core.changes.keys import by_amount, evenly
from deftarc.core.changes.rebuild import one_by_one
from deftarc.core.changes.sides import (
    Which,
    bends,
    curved,
    kept_within,
    seconds,
    segment_of,
    side_at,
    speed_of,
    straightened,
    typed_reach,
    typed_speed,
    with_joint,
    with_peak,
    with_side,
)
from deftarc.core.curves.sides import Automatic
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import GROWING, PROPERTIES, Property, property_named
from deftarc.core.document.track import AnyTrack, NumberTrack
from deftarc.core.edit.base import EditBase, LaneEdit, LaneName
from deftarc.core.edit.eases import segments_of
from deftarc.core.edit.keys import KeysEdit, Lane, by_lane
from deftarc.core.edit.move_keys import indices_of

#: The least reach of a side that is bent by the curve itself.
LEAST_BEND = 0.05


class ShapeSide(LaneEdit):
    """One side's handle dragged: to a ``reach`` of its segment, and to a ``rise`` or a ``speed`` a second, in the
    measure's unit. What is left out stays. On a smooth joint the other side follows, unless it is broken ``apart``.
    """

    kind: Literal["shape_side"] = "shape_side"
    time: Moment
    side: Which
    reach: float | None = None
    rise: Number | None = None
    speed: Annotated[float, Field(ge=-1e9, le=1e9)] | None = None
    apart: bool = False
    #: A speed goes to the other side too, whatever the joint.
    together: bool = False

    def on_track(self, scene: Scene, layer: Layer, facts: Property, track: AnyTrack) -> AnyTrack:
        index = _index(track, self.time)
        now = side_at(track, index, self.side)
        reach = now.reach if self.reach is None else self.reach
        if self.speed is not None:
            whole = seconds(track, segment_of(track, index, self.side))
            reach = min(max(reach, 0.01), 1.0)
            rise = self.speed * reach * whole
        elif self.rise is not None:
            rise = self.rise
        else:
            # Sideways alone keeps the speed.
            rise = now.rise * reach / now.reach if now.reach > 0 else now.rise
        if abs(rise) > limits.MAX_NUMBER:
            raise Refusal("That is faster than any motion here can be.")
        made = with_side(track, index, self.side, reach, rise, self.apart)
        if self.together and self.speed is not None and made.keys[index].joint != "smooth":
            other: Which = "arriving" if self.side == "leaving" else "leaving"
            made = typed_speed(made, index, other, self.speed)
        return made

    def label(self, project: Project) -> str:
        return f"Shape {self.of_what(project)}"


class BendSegment(LaneEdit):
    """A segment's curve taken at a share of its time and dragged by ``lift`` in the measure's unit.

    Both sides take part, the nearer one by more, so that the curve goes on lying under the hand. On smooth joints
    the segments beside follow.
    """

    kind: Literal["bend_segment"] = "bend_segment"
    #: The time of the segment's first key.
    time: Moment
    share: Annotated[float, Field(gt=0, lt=1)]
    lift: Number

    def on_track(self, scene: Scene, layer: Layer, facts: Property, track: AnyTrack) -> AnyTrack:
        k = segment_of(track, _index(track, self.time), "leaving")
        leaving, arriving = side_at(track, k, "leaving"), side_at(track, k + 1, "arriving")
        # Where the hand is on the cubic, as its own parameter.
        u = float(np.clip(track.bare.parameter(np.array([k]), np.array([self.share]))[0], 0.02, 0.98))
        v = 1.0 - u
        lift = self.lift / (3 * u * v * (v * v + u * u))
        for side in ((leaving, lift * v), (arriving, -lift * u)):
            if abs(side[0].rise + side[1]) > limits.MAX_NUMBER:
                raise Refusal("That is further than any motion here can go.")
        # A side of no reach rises without end: it is given some to bend with.
        made = with_side(track, k, "leaving", max(leaving.reach, LEAST_BEND), leaving.rise + lift * v)
        return with_side(made, k + 1, "arriving", max(arriving.reach, LEAST_BEND), arriving.rise - lift * u)

    def label(self, project: Project) -> str:
        return f"Bend {self.of_what(project)}"


def _index(track: AnyTrack, time: int) -> int:
    if time not in track.key_times:
        raise Refusal("There is no key at this time any more.")
    return track.key_times.index(time)


class TypeSide(KeysEdit):
    """A side's speed or reach typed, on all selected keys that have that side.

    ``speed`` in the shown unit a second keeps the reach; ``reach`` in per cent, or in frames as ``12f``, keeps the
    speed. Both may be relative, as any number.
    """

    nothing: ClassVar[str] = "None of these keys has a handle on that side."
    kind: Literal["type_side"] = "type_side"
    side: Which
    speed: Annotated[str, Field(max_length=200)] | None = None
    reach: Annotated[str, Field(max_length=200)] | None = None

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack | None:
        if (self.speed is None) == (self.reach is None):
            raise Refusal("Type a speed or a reach.")
        factor = PROPERTIES[lane[1]].factor

        def typed(part: AnyTrack, k: int) -> AnyTrack:
            try:
                segment = segment_of(part, k, self.side)
            except Refusal:
                if len(self.keys) == 1:
                    raise
                return part
            if self.speed is not None:
                now = speed_of(part, k, self.side) * factor
                return typed_speed(part, k, self.side, evaluate_number(self.speed, now) / factor)
            frames = seconds(part, segment) * scene.rate.per_second
            reach = side_at(part, k, self.side).reach
            return typed_reach(part, k, self.side, _reach(self.reach or "", reach, frames))

        made = one_by_one(track, indices_of(track, times), typed)
        return made if made is not track else None

    def label(self, project: Project) -> str:
        what = "speed" if self.speed is not None else "reach"
        return f"Type the {self.side} {what} of {self.of_what(project)}"


def _reach(told: str, now: float, frames: float) -> float:
    """A typed reach as a fraction of its segment: in per cent, or in frames with an f after it."""
    words = told.strip().lower()
    if words.endswith("f"):
        return evaluate_number(words[:-1], now * frames) / frames
    return evaluate_number(words, now * 100) / 100


class ChooseJoint(KeysEdit):
    """How the curve goes through some keys. Automatic joints have tension, continuity and bias, −1 to 1.

    ``next`` is the one after what the first key has: corner, smooth, automatic, and round again.
    """

    kind: Literal["choose_joint"] = "choose_joint"
    joint: Literal["corner", "smooth", "automatic", "next"]
    automatic: Automatic | None = None

    def apply(self, project: Project) -> Project:
        by_lane(project.scene(self.scene), self.keys)
        # The next joint is the one after the first key's, for all of them.
        return super(ChooseJoint, self.changed(joint=self._joint(project))).apply(project)

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack:
        how = self.automatic if self.automatic != Automatic() else None
        joint = self.joint
        if joint == "next":
            return track
        return one_by_one(track, indices_of(track, times), lambda part, k: with_joint(part, k, joint, how))

    def label(self, project: Project) -> str:
        return f"{self._joint(project).capitalize()} joint on {self.of_what(project)}"

    def _joint(self, project: Project) -> Literal["corner", "smooth", "automatic"]:
        if self.joint != "next":
            return self.joint
        first = self.keys[0]
        track = project.scene(self.scene).layer(first.layer).track(property_named(first.property).id)
        after: dict[str, Literal["corner", "smooth", "automatic"]]
        after = {"corner": "smooth", "smooth": "automatic", "automatic": "corner"}
        return after[track.keys[_index(track, first.time)].joint]


class BendKeys(KeysEdit):
    """Sides of keys turned straight or into curves; ``toggle`` does what is not so yet, for all alike."""

    kind: Literal["bend_keys"] = "bend_keys"
    to: Literal["curve", "straight", "toggle"] = "toggle"
    on: On = "both"

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        lanes = by_lane(scene, self.keys)
        to = self.to
        if to == "toggle":
            tracks = [(scene.layer(layer).track(name), times) for (layer, name), times in lanes.items()]
            bent = any(bends(track, k) for track, times in tracks for k in indices_of(track, times))
            to = "straight" if bent else "curve"
        return super(BendKeys, self.changed(to=to)).apply(project)

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack:
        sides: tuple[Which, ...] = ("arriving", "leaving") if self.on == "both" else (self.on,)
        bent = straightened if self.to == "straight" else curved
        return one_by_one(track, indices_of(track, times), lambda part, k: bent(part, k, sides))

    def label(self, project: Project) -> str:
        verb = {"curve": "Bend", "straight": "Straighten", "toggle": "Bend or straighten"}[self.to]
        return f"{verb} {self.of_what(project)}"


class ShiftPeak(LaneEdit):
    """The speed peak of the segment after a key moved to a fraction of its time."""

    kind: Literal["shift_peak"] = "shift_peak"
    time: Moment
    to: Annotated[float, Field(ge=0, le=1)]

    def on_track(self, scene: Scene, layer: Layer, facts: Property, track: AnyTrack) -> AnyTrack:
        return with_peak(track, _index(track, self.time), self.to)

    def label(self, project: Project) -> str:
        return f"Move the speed peak of {self.of_what(project)}"


class KeepWithin(KeysEdit):
    """The selected segments kept within their keys, once: rises are shortened as little as it takes."""

    kind: Literal["keep_within"] = "keep_within"

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack:
        starts = segments_of(track.key_times, set(times))
        return kept_within(track, [track.key_times.index(start) for start in starts])

    def label(self, project: Project) -> str:
        return f"Keep {self.of_what(project)} within"


class SetCurve(EditBase):
    """How whole curves are made: kept ``within`` their keys, or (what stays above nought) growing ``evenly``."""

    kind: Literal["set_curve"] = "set_curve"
    scene: Identity
    lanes: Annotated[tuple[Lane, ...], Field(min_length=1, max_length=limits.MAX_KEYS_PER_LANE)]
    within: bool | None = None
    evenly: bool | None = None

    def apply(self, project: Project) -> Project:
        if self.within is None and self.evenly is None:
            raise Refusal("Say what the curve is to do.")
        scene = project.scene(self.scene)
        for lane in self.lanes:
            layer = scene.layer(lane.layer)
            name = property_named(lane.property).id
            track = layer.track(name)
            if self.within is not None:
                track = track.changed(within=self.within)
            if self.evenly is not None:
                if not isinstance(track, NumberTrack) or name not in GROWING:
                    raise Refusal(f"{PROPERTIES[name].label} has no growth to be even: scale has.")
                track = evenly(track) if self.evenly else by_amount(track)
            scene = scene.with_layer(layer.with_track(name, track))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        first = self.lanes[0]
        what = f"{PROPERTIES[first.property].label} of {project.scene(self.scene).layer(first.layer).name}"
        if self.within is not None:
            return f"Keep {what} within its keys" if self.within else f"Let {what} go past its keys"
        return f"Let {what} grow {'evenly' if self.evenly else 'by amount'}"
