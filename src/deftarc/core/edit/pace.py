"""Edits of when a path's points are passed: floating and set, at one speed, at even distances, frames by segment."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Identity, Moment
from deftarc.core.base.time import parse_time
from deftarc.core.changes.floating import floating, with_keys, without_keys
from deftarc.core.changes.keys import KeyRef, move_keys
from deftarc.core.changes.path import at_even_distances, at_one_speed
from deftarc.core.changes.places import released
from deftarc.core.changes.rebuild import concrete, one_by_one
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import Property
from deftarc.core.document.track import AnyTrack, PathTrack
from deftarc.core.edit.base import EditBase, LaneEdit, LaneName, Note
from deftarc.core.edit.keys import KeysEdit
from deftarc.core.edit.keys_on_frames import offer_frames
from deftarc.core.edit.move_keys import indices_of
from deftarc.core.edit.paths import Indices, PathEdit


class SetPoints(PathEdit):
    """Floating points, or all of them, given keys at the times they are passed; the motion stays as it is."""

    kind: Literal["set_points"] = "set_points"
    points: Indices = ()

    def on_path(self, project: Project, layer: Layer, track: PathTrack) -> PathTrack:
        return with_keys(track, self.points or floating(track))

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        return offer_frames(before, after, self.scene)

    def verb(self) -> str:
        return "Set the time of points on the path of"


class FloatKeys(KeysEdit):
    """Keys of positions taken away, their points left on the path to float: one segment runs through them."""

    nothing: ClassVar[str] = "Only keys of a position have points that can float."
    kind: Literal["float_keys"] = "float_keys"

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack | None:
        return without_keys(track, times) if isinstance(track, PathTrack) else None

    def label(self, project: Project) -> str:
        return f"Let {self.of_what(project)} float"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return []


class ReleaseKeys(KeysEdit):
    """Keys of positions taken off their points: as pace keys they can be moved along the path."""

    nothing: ClassVar[str] = "Only a key of a position that rests on a point of its path can be released from it."
    kind: Literal["release_keys"] = "release_keys"

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack | None:
        indices = indices_of(track, times)
        if not isinstance(track, PathTrack) or not any(track.keys[k].rests for k in indices):
            return None
        return one_by_one(track, indices, lambda part, k: released(concrete(part, (k,)), k))

    def label(self, project: Project) -> str:
        return f"Release {self.of_what(project)}"


class EvenPace(EditBase):
    """Keys of a path between the first and the last of those told (or of all) evened out: ``speed`` moves them in time
    until the speed is one all the way, ``distances`` along the path until the ways between them are equal.
    """

    kind: Literal["even_pace"] = "even_pace"
    scene: Identity
    layer: Identity
    times: Annotated[tuple[Moment, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)] = ()
    what: Literal["speed", "distances"] = "speed"

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        track = layer.position
        if len(track.keys) < 2:
            raise Refusal(f"{layer.name} has no way to go yet. Set two keys of its position.")
        chosen = indices_of(track, list(self.times)) if len(self.times) > 1 else [0, len(track.keys) - 1]
        if len(chosen) < 2:
            raise unknown("key", f"{layer.name}, position")
        even = at_one_speed if self.what == "speed" else at_even_distances
        made = even(track, chosen[0], chosen[-1])
        return project.with_scene(scene.with_layer(layer.with_track("position", made)))

    def label(self, project: Project) -> str:
        name = project.scene(self.scene).layer(self.layer).name
        return f"{'One speed' if self.what == 'speed' else 'Even distances'} along the path of {name}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return []


class TimeSegment(LaneEdit):
    """The segment after a key given a length in time, typed as frames, timecode or seconds.

    With ``keep`` the total stays: the next segment, or for the last one the one before, gives or takes. Without, all
    later keys of the lane move along.
    """

    kind: Literal["time_segment"] = "time_segment"
    time: Moment
    told: Annotated[str, Field(max_length=40)]
    keep: bool = False

    def on_track(self, scene: Scene, layer: Layer, facts: Property, track: AnyTrack) -> AnyTrack:
        times = track.key_times
        if self.time not in times[:-1]:
            raise unknown("segment", f"{layer.name}, {self.property} at {self.time}")
        length = parse_time(self.told, scene.rate)
        if length <= 0:
            raise Refusal("A segment takes a frame at least.")
        k = times.index(self.time)
        by = length - (times[k + 1] - times[k])
        if not self.keep:
            moves = {time: time + by for time in times[k + 1 :]}
        elif len(times) < 3:
            raise Refusal("There is no other segment to give or take the time. Let the total change.")
        elif k + 2 < len(times):
            moves = {times[k + 1]: times[k + 1] + by}
            if times[k + 1] + by >= times[k + 2]:
                raise Refusal("The next segment is not long enough to give that. Take less, or let the total change.")
        else:
            moves = {times[k]: times[k] - by}
            if times[k] - by <= times[k - 1]:
                raise Refusal("The segment before is not long enough to give that. Take less, or let the total change.")
        if max(abs(time) for time in moves.values()) > limits.FURTHEST:
            raise Refusal(f"A key lies at most {limits.MAX_TIME_SECONDS // 3600} hours from the scene's start.")
        return move_keys(track, moves)

    def label(self, project: Project) -> str:
        return f"Time a segment of {self.of_what(project)}"
