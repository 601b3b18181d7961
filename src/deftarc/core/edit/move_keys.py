"""Keys moved together in time and value, over others or beside them, with all that is later where they push it."""

import operator
from collections.abc import Iterable, Sequence
from typing import ClassVar, Literal

import numpy as np

from deftarc.core.arrange.family import members
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Moment, Number, each_with
from deftarc.core.changes.keys import KeyRef, delete_keys, move_keys
from deftarc.core.changes.raise_values import raised
from deftarc.core.changes.retime import shifted_span, span_of
from deftarc.core.document import Project, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit.base import Apart, LaneName, Note
from deftarc.core.edit.keys import KeysEdit, by_lane, tracks_of

#: So far a free frame is looked for beside a key that stands where another would land.
MOST_FRAMES_BESIDE = 2_000
#: Whether keys that land on others come to stand beside them, at the nearest free frame, or replace what they cover.
Onto = Literal["beside", "replace"]
#: What is moved along with keys that push: all that is later in their lanes, on their layers, in the scene; or nothing.
Push = Literal["none", "lane", "layer", "scene"]


def checked_time(time: int) -> int:
    if abs(time) > limits.FURTHEST:
        raise Refusal(f"A key lies at most {limits.MAX_TIME_SECONDS // 3600} hours from the scene's start.")
    return time


def indices_of(track: AnyTrack, times: Iterable[int]) -> list[int]:
    """The places of keys in their lane, in order."""
    wanted = set(times)
    return [k for k, time in enumerate(track.key_times) if time in wanted]


def kept_apart(moves: dict[int, int], staying: set[int], frame: int) -> dict[int, int]:
    """Moves of keys in time, {old: new}, with those that would meet another put at the nearest free frame beside it.

    The order of the keys that move stays theirs.
    """
    out = dict(sorted(moves.items()))
    if staying.isdisjoint(landing := list(out.values())) and all(map(operator.lt, landing, landing[1:])):
        return out
    taken = set(staying)
    last = None
    for old, new in out.items():
        n = 0
        while new in taken or (last is not None and new <= last):
            n += 1
            beside = moves[old] - frame * ((n + 1) // 2) if n % 2 else moves[old] + frame * (n // 2)
            if n > 2 * MOST_FRAMES_BESIDE:
                raise Refusal("There are not enough free frames for these keys. Stretch by more, or by less.")
            new = beside
        out[old] = new
        taken.add(new)
        last = new
    return out


def within(track: AnyTrack, times: Sequence[int], moving: Iterable[int]) -> list[int]:
    """The keys of a lane, by time, from the first to the last of some times, that are not among those that move."""
    some = set(moving)
    first, last = min(times), max(times)
    return [time for time in track.key_times if first <= time <= last and time not in some]


def passed_by(track: AnyTrack, moves: dict[int, int]) -> list[int]:
    """The keys of a lane, by time, that stay, and that one which moves, {old: new}, goes over or comes to lie among."""
    staying = np.array([time for time in track.key_times if time not in moves], np.int64)
    ways = np.array(list(moves.items()), np.int64)
    # A way begins at or before a key more often than ways end before it: it lies on one.
    begun = np.searchsorted(np.sort(ways.min(axis=1)), staying, side="right")
    ended = np.searchsorted(np.sort(ways.max(axis=1)), staying, side="left")
    return [int(time) for time in staying[begun > ended]]


class PushingEdit(KeysEdit):
    """An edit that moves keys in time, and may push what is later, or replace what it covers."""

    onto: Onto = "beside"
    push: Push = "none"

    def later(self, scene: Scene) -> list[KeyRef]:
        """The keys that are pushed: later than the last of those told, in their lanes, on their layers or anywhere."""
        if self.push == "none":
            return []
        lanes = by_lane(scene, self.keys)
        told = {(ref.layer, ref.property, ref.time) for ref in self.keys}
        last = max(ref.time for ref in self.keys)
        ends = {lane: max(times) for lane, times in lanes.items()}
        if self.push == "layer":
            whole: dict[str, int] = {}
            for (layer_id, _), end in ends.items():
                whole[layer_id] = max(end, whole.get(layer_id, end))
            ends = {(x, name): end for x, end in whole.items() for name in scene.layer(x).keyed}
        elif self.push == "scene":
            free = unlocked(scene)
            ends = {(layer.id, name): last for layer in scene.layers if layer.id in free for name in layer.keyed}
        return [
            KeyRef(layer=layer_id, property=name, time=time)
            for (layer_id, name), end in ends.items()
            for time in scene.layer(layer_id).track(name).key_times
            if time > end and (layer_id, name, time) not in told
        ]

    def moves_apart(self, scene: Scene) -> Apart | None:
        return Apart(self.moves(scene), self.lands(scene)) if self.push in ("none", "lane") else None

    def moves(self, scene: Scene) -> dict[LaneName, dict[int, int]]:
        """Where each key goes, by lane, {old time: new time}; those that are pushed among them."""
        raise NotImplementedError

    def lands(self, scene: Scene) -> list[int]:
        """When its own keys come to stand, in their order."""
        raise NotImplementedError

    def spans_pushed(self, scene: Scene, by: int) -> Scene:
        """With the whole scene pushed, layers that begin later than the keys go along."""
        if self.push != "scene" or not by:
            return scene
        last, free = max(ref.time for ref in self.keys), unlocked(scene)
        for layer in scene.layers:
            if layer.id in free and layer.start > last:
                scene = scene.with_layer(shifted_span(layer.changed(end=span_of(layer, scene.length)[1]), by))
        return scene

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = before.scene(self.scene)
        stays = len(scene.layers) - len(unlocked(scene))
        if self.push != "scene" or not stays:
            return ()
        return (Note(f"What is locked stayed: {stays} layer{'s' if stays > 1 else ''}."),)


def unlocked(scene: Scene) -> set[str]:
    """The ids of the layers that neither they nor a group they are in lock."""
    shut = {layer.id for layer in scene.layers if layer.locked}
    shut |= {each.id for layer in scene.layers if layer.locked and layer.group for each in members(scene, layer.id)}
    return {layer.id for layer in scene.layers} - shut


class MoveKeys(PushingEdit):
    """Keys moved together: by so many flicks, and in their values by ``lift`` in the measure's unit.

    A position's keys that rest on points keep their height; its pace keys move along the path. Where one would land
    on a key that stays, ``onto`` says what becomes of that.
    """

    snaps: ClassVar = "keys"
    kind: Literal["move_keys"] = "move_keys"
    by: Moment = 0
    lift: Number = 0.0

    def _lanes(self, scene: Scene) -> dict[LaneName, tuple[AnyTrack, list[int]]]:
        """The tracks, and the times of all keys in them that move."""
        # Asked for the way they go, for what they pass and for what they become.
        kept = self.__dict__.get("_tracks")
        if kept is None or kept[0] is not scene:
            later = self.later(scene)
            kept = self.__dict__["_tracks"] = (scene, tracks_of(scene, (*self.keys, *later) if later else self.keys))
        found: dict[LaneName, tuple[AnyTrack, list[int]]] = kept[1]
        return found

    def landing(self, scene: Scene) -> tuple[int, list[KeyRef]]:
        """By how many flicks the keys really move, and the keys that stay where those would land by ``by`` itself;
        or, where they replace, all that they cover then.
        """
        kept = self.__dict__.get("_landing")
        if kept is None or kept[0] is not scene:
            kept = self.__dict__["_landing"] = (scene, self._landing_in(scene))
        by, hit = kept[1]
        return by, hit

    def _landing_in(self, scene: Scene) -> tuple[int, list[KeyRef]]:
        lanes = self._lanes(scene)
        if self.onto == "replace":
            return self.by, [
                KeyRef(layer=lane[0], property=lane[1], time=time)
                for lane, (track, times) in lanes.items()
                for time in within(track, [t + self.by for t in times], times)
                if self.by
            ]
        # Where all of a lane's keys move there is none to meet.
        met_by = [
            (lane, times, track.key_set.difference(times))
            for lane, (track, times) in lanes.items()
            if len(set(times)) < len(track.keys)
        ]

        def met(by: int) -> list[KeyRef]:
            return [
                KeyRef(layer=layer, property=name, time=time + by)
                for (layer, name), times, staying in met_by
                for time in times
                if time + by in staying
            ]

        hit = met(self.by) if self.by else []
        if not hit:
            return self.by, hit
        frame = scene.rate.flicks
        back = -frame if self.by > 0 else frame
        for n in range(1, MOST_FRAMES_BESIDE):
            for by in (self.by + n * back, self.by - n * back):
                # Never back where they were or the other way: a nudge against a key passes it.
                if by * self.by > 0 and not met(by):
                    return by, hit
        raise Refusal("There is no free frame near these keys. Move them elsewhere, or let them replace what is there.")

    def passed(self, scene: Scene, by: int) -> list[KeyRef]:
        """The keys that stay, and that these go over on their way by so many flicks."""
        return [
            KeyRef(layer=layer, property=name, time=time)
            for (layer, name), (track, times) in self._lanes(scene).items()
            if len(set(times)) < len(track.keys)
            for time in passed_by(track, {t: t + by for t in times})
        ]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        by, _ = self.landing(scene)
        later = self.later(scene)
        for ref in (*self.keys, *later):
            checked_time(ref.time + by)
        told = {(ref.layer, ref.property, ref.time) for ref in self.keys} if self.lift else set()
        fresh: dict[LaneName, AnyTrack] = {}
        for (layer_id, name), (track, times) in self._lanes(scene).items():
            mine = [time for time in times if (layer_id, name, time) in told]
            fresh[layer_id, name] = self._moved(track, name, times, mine, by)
        return project.with_scene(self.spans_pushed(scene.with_tracks(fresh), by))

    def _moved(self, track: AnyTrack, name: str, times: list[int], mine: list[int], by: int) -> AnyTrack:
        if self.lift:
            track = raised(track, PROPERTIES[name], indices_of(track, mine), 0.0, 1.0, self.lift)
        if self.onto == "replace" and by:
            track = delete_keys(track, set(within(track, [time + by for time in times], times)))
        return move_keys(track, {time: time + by for time in times})

    def label(self, project: Project) -> str:
        return f"Move {self.of_what(project)}"

    def moves(self, scene: Scene) -> dict[LaneName, dict[int, int]]:
        by, _ = self.landing(scene)
        return {lane: {time: time + by for time in times} for lane, (_, times) in self._lanes(scene).items()}

    def lands(self, scene: Scene) -> list[int]:
        by, _ = self.landing(scene)
        return [ref.time + by for ref in self.keys]

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return each_with(self.keys, "time", self.lands(before.scene(self.scene)))
