"""Edits of keys: set, move, delete, ease, and values by number."""

import itertools
from typing import Annotated, Literal

from pydantic import Field

from deftarc.core import limits
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.ease import EASES
from deftarc.core.edit.base import EditBase, quoted
from deftarc.core.errors import Refusal, unknown
from deftarc.core.evaluate import pose
from deftarc.core.geometry import linear_part
from deftarc.core.keying import (
    KeyRef,
    change_value,
    delete_keys,
    ease_segments,
    held,
    move_keys,
    set_key,
    shifted,
)
from deftarc.core.model import Identity, Moment, Number
from deftarc.core.properties import PROPERTIES, TRANSFORM, property_named

KeyRefs = Annotated[tuple[KeyRef, ...], Field(min_length=1, max_length=limits.MAX_KEYS_PER_LANE)]


def by_lane(scene: Scene, keys: tuple[KeyRef, ...]) -> dict[tuple[str, str], list[int]]:
    """Key times by (layer, property); refuses keys that are not there."""
    lanes: dict[tuple[str, str], list[int]] = {}
    for ref in keys:
        lanes.setdefault((ref.layer, ref.property), []).append(ref.time)
    for (layer_id, name), times in lanes.items():
        layer = scene.layer(layer_id)
        missing = set(times) - set(layer.track(property_named(name).id).key_times)
        if missing:
            raise unknown("key", f"{layer.name}, {name} at {min(missing)}")
    return lanes


def _lane_names(project: Project, scene_id: str, keys: tuple[KeyRef, ...]) -> str:
    scene = project.scene(scene_id)
    number = "a key" if len(keys) == 1 else f"{len(keys)} keys"
    return f"{number} of {quoted([scene.layer(x).name for x in dict.fromkeys(ref.layer for ref in keys)])}"


class SetValue(EditBase):
    """One number of one property set to a value, in core units; with *Keying changes* (``keying``) it is keyed.

    ``component`` is 0 or 1 for position and linked scale: the other axis stays, or follows if linked.
    """

    kind: Literal["set_value"] = "set_value"
    scene: Identity
    layer: Identity
    property: str
    component: Literal[0, 1] = 0
    value: Number
    time: Moment
    keying: bool = False

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        facts = property_named(self.property)
        if self.component >= len(facts.components):
            raise Refusal(f"{facts.label} has one number only.")
        if facts.id in ("pivot_x", "pivot_y") and not layer.track(facts.id).keys:
            return project.with_scene(scene.with_layer(move_pivot(scene, layer, facts.id, self.value, self.time)))
        layer = with_value(scene, layer, facts.id, self.component, self.value, self.time, self.keying)
        return project.with_scene(scene.with_layer(layer))

    def label(self, project: Project) -> str:
        return f"{PROPERTIES[self.property].label} of {project.scene(self.scene).layer(self.layer).name}"


def with_value(scene: Scene, layer: Layer, name: str, component: int, value: float, time: int, keying: bool) -> Layer:
    """A layer with one component of a property changed at a time."""
    track = layer.track(name)
    if name == "position":
        now = list(pose(scene, layer, time)[name])
        now[component] = value
        return layer.with_track(name, change_value(track, time, tuple(now), keying))
    if name == "scale" and component == 1:
        if layer.scale_link == "area":
            value = 1 / value if value else 1e6
        elif layer.scale_ratio == 0:
            raise Refusal("The vertical scale is linked at nought times the horizontal one. Unlink the axes first.")
        else:
            value = value / layer.scale_ratio
    return layer.with_track(name, change_value(track, time, held(name, (value,)), keying))


def move_pivot(scene: Scene, layer: Layer, name: str, value: float, time: int) -> Layer:
    """The pivot moved, and the whole motion with it, so that the picture at this time stays where it is."""
    now = pose(scene, layer, time)
    scale = (now["scale_x"][0], now["scale_y"][0]) if layer.scale_link == "free" else now["scale"]
    linear = linear_part(now["rotation"][0], now["skew_x"][0], now["skew_y"][0])
    by = value - now[name][0]
    step = (by, 0.0) if name == "pivot_x" else (0.0, by)
    dx, dy = (float(x) for x in linear @ (step[0] * scale[0], step[1] * scale[1]))
    track = change_value(layer.track(name), time, (value,), keying=False)
    return layer.with_track(name, track).with_track("position", shifted(layer.position, (dx, dy)))


class SetKeys(EditBase):
    """Keys at a time with what shows there, on some properties or on all that make up the transform."""

    kind: Literal["set_keys"] = "set_keys"
    scene: Identity
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    properties: tuple[str, ...] = ()
    time: Moment

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer_id in dict.fromkeys(self.layers):
            layer = scene.layer(layer_id)
            for name in self.properties or [n for n in layer.properties if n in TRANSFORM or n.startswith("scale")]:
                layer = layer.with_track(name, set_key(layer.track(property_named(name).id), self.time))
            scene = scene.with_layer(layer)
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        what = ", ".join(PROPERTIES[name].label for name in self.properties) or "all"
        scene = project.scene(self.scene)
        return f"Key {what} of {quoted([scene.layer(x).name for x in dict.fromkeys(self.layers)])}"

    def selects(self, project: Project) -> list[KeyRef] | None:
        if len(self.properties) != 1:
            return None
        return [KeyRef(layer=x, property=self.properties[0], time=self.time) for x in dict.fromkeys(self.layers)]


class DeleteKeys(EditBase):
    kind: Literal["delete_keys"] = "delete_keys"
    scene: Identity
    keys: KeyRefs

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for (layer_id, name), times in by_lane(scene, self.keys).items():
            layer = scene.layer(layer_id)
            scene = scene.with_layer(layer.with_track(name, delete_keys(layer.track(name), set(times))))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Delete {_lane_names(project, self.scene, self.keys)}"

    def selects(self, project: Project) -> list[KeyRef] | None:
        return []


class MoveKeys(EditBase):
    """Keys moved in time by so many flicks, all together."""

    kind: Literal["move_keys"] = "move_keys"
    scene: Identity
    keys: KeyRefs
    by: Moment

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        furthest = limits.MAX_TIME_SECONDS * 705_600_000
        if any(abs(ref.time + self.by) > furthest for ref in self.keys):
            raise Refusal(f"A key lies at most {limits.MAX_TIME_SECONDS // 3600} hours from the scene's start.")
        for (layer_id, name), times in by_lane(scene, self.keys).items():
            layer = scene.layer(layer_id)
            track = move_keys(layer.track(name), {time: time + self.by for time in times})
            scene = scene.with_layer(layer.with_track(name, track))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Move {_lane_names(project, self.scene, self.keys)}"

    def selects(self, project: Project) -> list[KeyRef] | None:
        return [ref.changed(time=ref.time + self.by) for ref in self.keys]


class EaseKeys(EditBase):
    """A named ease on segments: those between neighbouring selected keys of a lane.

    Where only one key of a lane is selected, the segment after it, or before it if it is the last.
    """

    kind: Literal["ease_keys"] = "ease_keys"
    scene: Identity
    keys: KeyRefs
    ease: str
    strength: Annotated[float, Field(ge=0, le=100)] = 50.0

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        eased = 0
        for (layer_id, name), times in by_lane(scene, self.keys).items():
            layer = scene.layer(layer_id)
            track = layer.track(name)
            starts = segments_of(track.key_times, set(times))
            eased += len(starts)
            scene = scene.with_layer(layer.with_track(name, ease_segments(track, starts, self.ease, self.strength)))
        if not eased:
            raise Refusal("An ease shapes the way between two keys, and this lane has only one. Set a second key.")
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        ease = EASES.get(self.ease)
        return f"{ease.label if ease else self.ease} on {_lane_names(project, self.scene, self.keys)}"


def segments_of(key_times: list[int], selected: set[int]) -> list[int]:
    """The start times of the segments that a selection of keys in one lane means."""
    pairs = [a for a, b in itertools.pairwise(key_times) if a in selected and b in selected]
    if pairs or not selected:
        return pairs
    starts = []
    for time in selected:
        if time in key_times[:-1]:
            starts.append(time)
        elif len(key_times) > 1 and time == key_times[-1]:
            starts.append(key_times[-2])
    return sorted(set(starts))


class ClearLoose(EditBase):
    """Values changed but not keyed are let go; the motion shows again."""

    kind: Literal["clear_loose"] = "clear_loose"
    scene: Identity
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer_id in dict.fromkeys(self.layers):
            layer = scene.layer(layer_id)
            tracks = {n: t.changed(loose=None) if t.loose else t for n, t in layer.tracks.items()}
            scene = scene.with_layer(layer.changed(tracks=tracks))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return "Let go what was changed but not keyed"
