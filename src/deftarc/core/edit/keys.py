"""Edits of keys: set, clear, turn back."""

from collections.abc import Mapping
from itertools import groupby
from operator import attrgetter
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Identity, Moment
from deftarc.core.base.working import at_work
from deftarc.core.changes.keys import KeyRef, change_value, cleared, set_key
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import PROPERTIES, property_named
from deftarc.core.document.staggered import Lane as Lane
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit.base import EditBase, LaneName, quoted
from deftarc.core.evaluate import pose

KeyRefs = Annotated[tuple[KeyRef, ...], Field(min_length=1, max_length=limits.MAX_KEYS_PER_LANE)]

_LANE, _TIME = attrgetter("layer", "property"), attrgetter("time")


def grouped(keys: tuple[KeyRef, ...]) -> dict[LaneName, list[int]]:
    """Key times by (layer, property)."""
    lanes: dict[LaneName, list[int]] = {}
    # Those of a lane mostly stand together.
    for lane, refs in groupby(keys, _LANE):
        lanes.setdefault(lane, []).extend(map(_TIME, refs))
    return lanes


def by_lane(scene: Scene, keys: tuple[KeyRef, ...]) -> dict[LaneName, list[int]]:
    """Key times by (layer, property); refuses keys that are not there."""
    return {lane: times for lane, (_, times) in tracks_of(scene, keys).items()}


def tracks_of(scene: Scene, keys: tuple[KeyRef, ...]) -> dict[LaneName, tuple[AnyTrack, list[int]]]:
    """By (layer, property) the track and the times of keys; refuses keys that are not there."""
    # A hand that moves thousands moves the same ones each time, in the scene as it was: they are kept with that.
    kept = scene.__dict__.get("_tracks_of")
    if kept is not None and kept[0] is keys:
        known: dict[LaneName, tuple[AnyTrack, list[int]]] = kept[1]
        return known
    found: dict[LaneName, tuple[AnyTrack, list[int]]] = {}
    for (layer_id, name), times in grouped(keys).items():
        layer = scene.layer(layer_id)
        track = layer.track(name if name in layer.tracks else property_named(name).id)
        if not track.key_set.issuperset(times):
            raise unknown("key", f"{layer.name}, {name} at {min(set(times) - track.key_set)}")
        found[layer_id, name] = (track, times)
    scene.__dict__["_tracks_of"] = (keys, found)
    return found


def put_through(keys: tuple[KeyRef, ...], moves: Mapping[LaneName, Mapping[int, int]]) -> list[int]:
    """When keys come to stand that are moved in time, lane by lane {old: new}."""
    out: list[int] = []
    for lane, refs in groupby(keys, _LANE):
        out.extend(map(moves[lane].__getitem__, map(_TIME, refs)))
    return out


def lane_names(project: Project, scene_id: str, keys: tuple[KeyRef, ...]) -> str:
    """Keys and the layers they are of, in a few words."""
    scene = project.scene(scene_id)
    number = "a key" if len(keys) == 1 else f"{len(keys)} keys"
    return f"{number} of {quoted([scene.layer(x).name for x in dict.fromkeys(ref.layer for ref in keys)])}"


class KeysEdit(EditBase):
    """An edit of keys, lane by lane."""

    #: What is told where none of the lanes had anything for it to do.
    nothing: ClassVar[str] = ""
    scene: Identity
    keys: KeyRefs

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        fresh: dict[LaneName, AnyTrack] = {}
        for lane, times in at_work(list(by_lane(scene, self.keys).items())):
            made = self.on_lane(scene, lane, scene.layer(lane[0]).track(lane[1]), times)
            if made is not None:
                fresh[lane] = made
        if not fresh and self.nothing:
            raise Refusal(self.nothing)
        return project.with_scene(scene.with_tracks(fresh))

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack | None:
        """A lane's track after this edit of its keys at some times; None where there is nothing for it to do. The scene
        is the one before the edit, whichever lane it is about.
        """
        raise NotImplementedError

    def of_what(self, project: Project) -> str:
        """“3 keys of Gull”."""
        return lane_names(project, self.scene, self.keys)


#: What is keyed of a layer of which nothing moves yet.
AT_FIRST = ("position", "position_x", "position_y", "rotation", "scale", "opacity")


def at_work_on(layer: Layer) -> tuple[str, ...]:
    """The properties of a layer that move or were changed without a key; where there are none, those that mostly do."""
    loose = {name for name, track in layer.tracks.items() if track.loose is not None}
    names = tuple(name for name in layer.properties if name in loose or (name in layer.keyed and name != "clock"))
    return names or tuple(name for name in layer.transform if name in AT_FIRST)


class SetKeys(EditBase):
    """Keys at a time with what shows there: on some properties of some layers, on what is ``moving`` or was changed of
    them, or on all that make up the transform; and on ``lanes``, a property of a layer each.
    """

    at_playhead: ClassVar[bool] = True
    kind: Literal["set_keys"] = "set_keys"
    scene: Identity
    layers: Annotated[tuple[Identity, ...], Field(max_length=limits.MAX_LAYERS)] = ()
    properties: tuple[str, ...] = ()
    lanes: Annotated[tuple[Lane, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)] = ()
    moving: bool = False
    time: Moment
    #: The time is the lanes' own, as they are drawn, and not the playhead's: it differs where a clock runs.
    own: bool = False

    def _wanted(self, scene: Scene) -> dict[str, list[str]]:
        """Properties by layer. A property that a layer does not have is an error only where one layer is asked."""
        wanted: dict[str, list[str]] = {}
        for lane in self.lanes:
            wanted.setdefault(lane.layer, []).append(lane.property)
        for layer_id in dict.fromkeys(self.layers):
            layer = scene.layer(layer_id)
            names = list(self.properties or (at_work_on(layer) if self.moving else layer.transform))
            if len(self.layers) > 1:
                names = [name for name in names if name in layer.properties]
            wanted.setdefault(layer_id, []).extend(names)
        if not any(wanted.values()):
            raise Refusal("Say which layers are to be keyed.")
        return wanted

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer_id, names in self._wanted(scene).items():
            layer = scene.layer(layer_id)
            for name in dict.fromkeys(names):
                layer = layer.with_track(name, set_key(layer.track(property_named(name).id), self.time, scene.half))
            scene = scene.with_layer(layer)
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        names = self.properties or tuple(dict.fromkeys(lane.property for lane in self.lanes))
        if self.moving:
            names = tuple(dict.fromkeys(name for each in self._wanted(scene).values() for name in each))
        what = ", ".join(PROPERTIES[name].label for name in names[:3]) + (" …" if len(names) > 3 else "") or "all"
        layers = dict.fromkeys((*self.layers, *(lane.layer for lane in self.lanes)))
        return f"Key {what} of {quoted([scene.layer(x).name for x in layers])}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        scene = project.scene(self.scene)
        refs = [
            KeyRef(layer=layer, property=name, time=scene.layer(layer).track(name).time_near(self.time, scene.half))
            for layer, names in self._wanted(scene).items()
            for name in dict.fromkeys(names)
        ]
        return refs if len({ref.property for ref in refs}) == 1 else None


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


class ClearMotion(EditBase):
    """All keys of some properties taken away, and what they follow; the values at a time stay."""

    at_playhead: ClassVar[bool] = True
    kind: Literal["clear_motion"] = "clear_motion"
    scene: Identity
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    properties: tuple[str, ...] = ()
    time: Moment

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer_id in at_work(dict.fromkeys(self.layers)):
            layer = scene.layer(layer_id)
            for name in self.properties or layer.moving:
                if property_named(name).id in layer.properties:
                    layer = layer.with_track(name, cleared(layer.track(name), self.time))
                    links = {each: link for each, link in layer.links.items() if each != name}
                    layer = layer.changed(links=links)
            scene = scene.with_layer(layer)
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        what = ", ".join(PROPERTIES[name].label for name in self.properties) or "all motion"
        scene = project.scene(self.scene)
        return f"Clear {what} of {quoted([scene.layer(x).name for x in dict.fromkeys(self.layers)])}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return []


class WorkBackwards(EditBase):
    """The present look kept as the end pose: keys at ``end`` with what shows at ``time``, and keys here to change.

    The keys here are the ones to be given the start; the motion between is straight until eased.
    """

    at_playhead: ClassVar[bool] = True
    kind: Literal["work_backwards"] = "work_backwards"
    scene: Identity
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    properties: tuple[str, ...] = ()
    time: Moment
    end: Moment

    def apply(self, project: Project) -> Project:
        if self.end <= self.time:
            raise Refusal("The end pose lies after the start: type a later time.")
        scene = project.scene(self.scene)
        for layer_id in at_work(dict.fromkeys(self.layers)):
            layer = scene.layer(layer_id)
            names = self.properties or at_work_on(layer)
            for name in names:
                if property_named(name).id not in layer.properties:
                    continue
                track = layer.track(name)
                if any(self.time < time < self.end for time in track.key_times):
                    facts = PROPERTIES[name]
                    raise Refusal(f"{layer.name} has keys of {facts.label} between the two times. Clear them first.")
                end_pose = pose(layer, self.time, (name,))[name]
                value = end_pose[:1] if name == "scale" else end_pose
                track = set_key(track, self.time)
                layer = layer.with_track(name, change_value(track, self.end, value, keying=True))
            scene = scene.with_layer(layer)
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        return f"Keep the look of {quoted([scene.layer(x).name for x in dict.fromkeys(self.layers)])} as its end"


class RestoreKeys(EditBase):
    """Tracks put back to what is told: how what *Keying changes* keyed is taken back at once."""

    brings_paths: ClassVar[bool] = True
    kind: Literal["restore_layers"] = "restore_layers"
    scene: Identity
    layers: Annotated[tuple[Layer, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    title: Annotated[str, Field(max_length=100)] = "Put back"

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer in self.layers:
            scene = scene.with_layer(scene.layer(layer.id).changed(tracks=layer.tracks))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return self.title
