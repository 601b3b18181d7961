"""Edits that move keys in time and value: dragged, stretched with a box, released from their points."""

from collections.abc import Callable, Sequence
from typing import Annotated, ClassVar, Literal, TypeVar

import numpy as np
from pydantic import Field

from deftarc.core.arrange.difference import difference
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Moment, Number
from deftarc.core.changes.keys import KeyRef, change_values, held, in_proportion, move_keys
from deftarc.core.changes.places import at_distance, released
from deftarc.core.changes.rebuild import concrete
from deftarc.core.document import Project, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.edit.base import LaneName, Note
from deftarc.core.edit.keys import KeysEdit, by_lane

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)


#: So far a free frame is looked for beside a key that stands where another would land.
MOST_FRAMES_BESIDE = 2_000


def _checked(time: int) -> int:
    if abs(time) > limits.FURTHEST:
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


#: Whether keys that land on others come to stand beside them, at the nearest free frame, or take their place.
Onto = Literal["beside", "replace"]


class MoveKeys(KeysEdit):
    """Keys moved together: by so many flicks, and in their values by ``lift`` in the measure's unit.

    A position's keys that rest on points keep their height; its pace keys move along the path. Where one would land
    on a key that stays, ``onto`` says what becomes of that.
    """

    snaps: ClassVar = "keys"
    kind: Literal["move_keys"] = "move_keys"
    by: Moment = 0
    lift: Number = 0.0
    onto: Onto = "beside"

    def landing(self, scene: Scene) -> tuple[int, list[KeyRef]]:
        """By how many flicks the keys really move, and the keys that stay where those would land by ``by`` itself."""
        lanes = by_lane(scene, self.keys)
        staying = {
            lane: set(scene.layer(lane[0]).track(lane[1]).key_times) - set(times) for lane, times in lanes.items()
        }

        def met(by: int) -> list[KeyRef]:
            return [
                KeyRef(layer=layer, property=name, time=time + by)
                for (layer, name), times in lanes.items()
                for time in times
                if time + by in staying[layer, name]
            ]

        hit = met(self.by) if self.by else []
        if not hit or self.onto == "replace":
            return self.by, hit
        frame = scene.rate.flicks
        back = -frame if self.by > 0 else frame
        for n in range(1, MOST_FRAMES_BESIDE):
            for by in (self.by + n * back, self.by - n * back):
                # Never back where they were or the other way: a nudge against a key passes it.
                if by * self.by > 0 and not met(by):
                    return by, hit
        raise Refusal("There is no free frame near these keys. Move them elsewhere, or let them replace what is there.")

    def apply(self, project: Project) -> Project:
        by, _ = self.landing(project.scene(self.scene))
        for ref in self.keys:
            _checked(ref.time + by)
        # Where they really land is worked out once for all lanes: they move together.
        return super(MoveKeys, self.changed(by=by, onto="replace")).apply(project)

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack:
        if self.lift:
            track = lifted(track, lane[1], indices_of(track, times), lambda measure: measure + self.lift)
        return move_keys(track, {time: time + self.by for time in times})

    def label(self, project: Project) -> str:
        return f"Move {self.of_what(project)}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        by, _ = self.landing(before.scene(self.scene))
        return [ref.changed(time=ref.time + by) for ref in self.keys]


def indices_of(track: AnyTrack, times: list[int]) -> list[int]:
    """The places of keys in their lane, in order."""
    wanted = set(times)
    return [k for k, time in enumerate(track.key_times) if time in wanted]


class StretchKeys(KeysEdit):
    """Keys stretched about a moment and a value: times by ``longer``, values by ``taller``.

    ``on_frames`` lands every key on a whole frame. Keys that would land on each other, or on one that stays, come to
    stand beside it, unless they are to replace those that stay.
    """

    snaps: ClassVar = "told"
    kind: Literal["stretch_keys"] = "stretch_keys"
    about: Moment
    longer: Annotated[float, Field(gt=0, le=1000)] = 1.0
    level: Number = 0.0
    taller: Annotated[float, Field(ge=-1000, le=1000)] = 1.0
    on_frames: bool = True
    onto: Onto = "beside"

    def _moves(self, scene: Scene, layer: str, name: str, times: list[int]) -> dict[int, int]:
        """Where each key of a lane goes."""
        moves = {time: self._to(scene, time) for time in times}
        if self.longer == 1.0:
            return moves
        staying = set(scene.layer(layer).track(name).key_times) - set(times)
        return kept_apart(moves, set() if self.onto == "replace" else staying, scene.rate.flicks)

    def _to(self, scene: Scene, time: int) -> int:
        if self.longer == 1.0:
            return time
        at = self.about + (time - self.about) * self.longer
        return _checked(scene.rate.time_of(scene.rate.nearest(round(at))) if self.on_frames else round(at))

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack:
        if self.taller != 1.0:
            to = lambda measure: self.level + (measure - self.level) * self.taller  # noqa: E731
            track = lifted(track, lane[1], indices_of(track, times), to)
        return move_keys(track, self._moves(scene, *lane, times))

    def label(self, project: Project) -> str:
        return f"Stretch {self.of_what(project)}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        scene = before.scene(self.scene)
        moves = {lane: self._moves(scene, *lane, times) for lane, times in by_lane(scene, self.keys).items()}
        return [ref.changed(time=moves[ref.layer, ref.property][ref.time]) for ref in self.keys]


def kept_apart(moves: dict[int, int], staying: set[int], frame: int) -> dict[int, int]:
    """Moves of keys in time, {old: new}, with those that would meet another put at the nearest free frame beside it.

    The order of the keys that move stays theirs.
    """
    out: dict[int, int] = {}
    taken = set(staying)
    last = None
    for old, new in sorted(moves.items()):
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


class KeysOnFrames(KeysEdit):
    """Keys put on the nearest whole frames. What that changes of the motion is told: the greatest deviation."""

    nothing: ClassVar[str] = "These keys stand on whole frames already."
    kind: Literal["keys_on_frames"] = "keys_on_frames"

    def _moves(self, scene: Scene) -> dict[tuple[str, str], dict[int, int]]:
        return {
            lane: self._moved(scene, scene.layer(lane[0]).track(lane[1]), times)
            for lane, times in by_lane(scene, self.keys).items()
        }

    @staticmethod
    def _moved(scene: Scene, track: AnyTrack, times: list[int]) -> dict[int, int]:
        to = {time: scene.rate.time_of(scene.rate.nearest(time)) for time in times}
        return kept_apart(to, set(track.key_times) - set(times), scene.rate.flicks)

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack | None:
        to = self._moved(scene, track, times)
        return move_keys(track, to) if any(old != new for old, new in to.items()) else None

    def label(self, project: Project) -> str:
        return f"Put {self.of_what(project)} on frames"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        moves = self._moves(before.scene(self.scene))
        return [ref.changed(time=moves[ref.layer, ref.property][ref.time]) for ref in self.keys]

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene, now = before.scene(self.scene), after.scene(self.scene)
        worst: tuple[float, str] = (0.0, "")
        moved = 0
        for (layer_id, name), to in self._moves(scene).items():
            moved += sum(old != new for old, new in to.items())
            one, other = (each.layer(layer_id).track(name) for each in (scene, now))
            first, last = min(*to, *to.values()), max(*to, *to.values())
            times = np.linspace(first, last, 2000)
            a, b = (each.sampled(times, each.curve.at(times)) for each in (one, other))
            off = float(np.abs(a - b).max()) * PROPERTIES[name].factor
            facts = PROPERTIES[name]
            if off / max(facts.factor, 1.0) >= worst[0]:
                worst = (off / max(facts.factor, 1.0), f"{off:.3g} {facts.unit}".strip())
        one_key = "A key was" if moved == 1 else f"{moved} keys were"
        return (Note(f"{one_key} put on whole frames; the motion differs by at most {worst[1]}."),)


def offer_frames(before: Project, after: Project, scene_id: str) -> tuple[Note, ...]:
    """What is told where an edit made keys between frames: how many, and the edit that puts them on frames."""
    scene = after.scene(scene_id)
    told = difference(before, after, scene_id)
    keys = told.keys if told is not None else ()
    loose = [ref for ref in keys if scene.rate.time_of(scene.rate.nearest(ref.time)) != ref.time]
    if not loose:
        return ()
    words = "1 key stands" if len(loose) == 1 else f"{len(loose)} keys stand"
    mend = KeysOnFrames(scene=scene.id, keys=tuple(loose[: limits.MAX_KEYS_PER_LANE]))
    return (Note(f"{words} between frames, where the motion is exact.", "Put on frames", mend),)


class ReleaseKeys(KeysEdit):
    """Keys of positions taken off their points: as pace keys they can be moved along the path."""

    nothing: ClassVar[str] = "Only a key of a position that rests on a point of its path can be released from it."
    kind: Literal["release_keys"] = "release_keys"

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack | None:
        indices = indices_of(track, times)
        if not isinstance(track, PathTrack) or not any(track.keys[k].rests for k in indices):
            return None
        for k in indices:
            track = released(concrete(track, (k,)), k)
        return track

    def label(self, project: Project) -> str:
        return f"Release {self.of_what(project)}"
