"""Edits that move keys in time and value: dragged, stretched with a box, released from their points."""

from collections.abc import Callable
from typing import Annotated, Literal, TypeVar

import numpy as np
from pydantic import Field

from deftarc.core import limits
from deftarc.core.document import Project, Scene
from deftarc.core.edit.base import EditBase
from deftarc.core.edit.keys import KeyRefs, by_lane, lane_names
from deftarc.core.errors import Refusal
from deftarc.core.keying import KeyRef, change_values, held, in_proportion, move_keys
from deftarc.core.model import Identity, Moment, Number
from deftarc.core.placing import at_distance, released
from deftarc.core.rebuild import concrete
from deftarc.core.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)


def _checked(time: int) -> int:
    if abs(time) > limits.MAX_TIME_SECONDS * 705_600_000:
        raise Refusal(f"A key lies at most {limits.MAX_TIME_SECONDS // 3600} hours from the scene's start.")
    return time


def lifted(track: T, name: str, indices: list[int], to: Callable[[float], float]) -> T:
    """Keys with their measures put through a map. What rests on a point of a path keeps its height, and colours and
    outlines theirs.
    """
    measures = track.measures()
    if isinstance(track, PathTrack):
        before = track
        for k in indices:
            track = at_distance(track, k, to(float(measures[k])))
        return in_proportion(track, before.measures())
    if isinstance(track, NumberTrack):
        values = {k: held(name, (float(track.valued(np.array(to(float(measures[k]))))),))[0] for k in indices}
        return change_values(track, values)
    return track


class MoveKeys(EditBase):
    """Keys moved together: by so many flicks, and in their values by ``lift`` in the measure's unit.

    A position's keys that rest on points keep their height; its pace keys move along the path.
    """

    kind: Literal["move_keys"] = "move_keys"
    scene: Identity
    keys: KeyRefs
    by: Moment = 0
    lift: Number = 0.0

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for ref in self.keys:
            _checked(ref.time + self.by)
        for (layer_id, name), times in by_lane(scene, self.keys).items():
            layer = scene.layer(layer_id)
            track = layer.track(name)
            if self.lift:
                track = lifted(track, name, indices_of(track, times), lambda measure: measure + self.lift)
            track = move_keys(track, {time: time + self.by for time in times})
            scene = scene.with_layer(layer.with_track(name, track))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Move {lane_names(project, self.scene, self.keys)}"

    def selects(self, project: Project) -> list[KeyRef] | None:
        return [ref.changed(time=ref.time + self.by) for ref in self.keys]


def indices_of(track: AnyTrack, times: list[int]) -> list[int]:
    """The places of keys in their lane, in order."""
    wanted = set(times)
    return [k for k, time in enumerate(track.key_times) if time in wanted]


class StretchKeys(EditBase):
    """Keys stretched about a moment and a value: times by ``longer``, values by ``taller``.

    ``on_frames`` lands every key on a whole frame.
    """

    kind: Literal["stretch_keys"] = "stretch_keys"
    scene: Identity
    keys: KeyRefs
    about: Moment
    longer: Annotated[float, Field(gt=0, le=1000)] = 1.0
    level: Number = 0.0
    taller: Annotated[float, Field(ge=-1000, le=1000)] = 1.0
    on_frames: bool = True

    def _to(self, scene: Scene, time: int) -> int:
        if self.longer == 1.0:
            return time
        at = self.about + (time - self.about) * self.longer
        return _checked(scene.rate.time_of(scene.rate.nearest(round(at))) if self.on_frames else round(at))

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for (layer_id, name), times in by_lane(scene, self.keys).items():
            layer = scene.layer(layer_id)
            track = layer.track(name)
            if self.taller != 1.0:
                to = lambda measure: self.level + (measure - self.level) * self.taller  # noqa: E731
                track = lifted(track, name, indices_of(track, times), to)
            track = move_keys(track, {time: self._to(scene, time) for time in times})
            scene = scene.with_layer(layer.with_track(name, track))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Stretch {lane_names(project, self.scene, self.keys)}"

    def selects(self, project: Project) -> list[KeyRef] | None:
        scene = project.scene(self.scene)
        return [ref.changed(time=self._to(scene, ref.time)) for ref in self.keys]


class ReleaseKeys(EditBase):
    """Keys of positions taken off their points: as pace keys they can be moved along the path."""

    kind: Literal["release_keys"] = "release_keys"
    scene: Identity
    keys: KeyRefs

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        done = 0
        for (layer_id, name), times in by_lane(scene, self.keys).items():
            layer = scene.layer(layer_id)
            track = layer.track(name)
            if not isinstance(track, PathTrack):
                continue
            for k in indices_of(track, times):
                done += track.keys[k].rests
                track = released(concrete(track, (k,)), k)
            scene = scene.with_layer(layer.with_track(name, track))
        if not done:
            raise Refusal("Only a key of a position that rests on a point of its path can be released from it.")
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Release {lane_names(project, self.scene, self.keys)}"
