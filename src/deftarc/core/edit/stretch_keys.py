"""Keys stretched with a box, or by a typed length or factor: about an end, the middle or the playhead."""

from dataclasses import dataclass
from operator import attrgetter
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.model import Moment, Number, each_with
from deftarc.core.changes.keys import KeyRef, delete_keys, move_keys
from deftarc.core.changes.raise_values import raised
from deftarc.core.document import Project, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit.base import LaneName
from deftarc.core.edit.keys import by_lane, put_through, tracks_of
from deftarc.core.edit.move_keys import PushingEdit, checked_time, indices_of, kept_apart, passed_by, within

_TIME = attrgetter("time")


@dataclass
class _Moves:
    """Where keys go in a scene, by lane, and the lanes of which not all do."""

    scene: Scene
    moves: dict[LaneName, dict[int, int]]
    in_part: list[tuple[LaneName, AnyTrack]]
    lands: list[int] | None = None


class StretchKeys(PushingEdit):
    """Keys stretched about a moment and a value: times by ``longer``, values by ``taller``.

    ``on_frames`` lands every key on a whole frame. Keys that would land on each other, or on one that stays, come to
    stand beside it, unless they are to replace what they cover.
    """

    snaps: ClassVar = "told"
    kind: Literal["stretch_keys"] = "stretch_keys"
    about: Moment
    longer: Annotated[float, Field(gt=0, le=1000)] = 1.0
    level: Number = 0.0
    taller: Annotated[float, Field(ge=-1000, le=1000)] = 1.0
    on_frames: bool = True

    def moves(self, scene: Scene) -> dict[LaneName, dict[int, int]]:
        """Where each key goes, by lane, {old time: new time}; those that are pushed among them."""
        return self._known(scene).moves

    def lands(self, scene: Scene) -> list[int]:
        known = self._known(scene)
        if known.lands is None:
            known.lands = put_through(self.keys, known.moves)
        return known.lands

    def _known(self, scene: Scene) -> "_Moves":
        # Made, selected and told of in turn: worked out once for a scene.
        known = self.__dict__.get("_moves")
        if not isinstance(known, _Moves) or known.scene is not scene:
            known = self.__dict__["_moves"] = self._moves_in(scene)
        return known

    def _moves_in(self, scene: Scene) -> "_Moves":
        lanes = tracks_of(scene, self.keys)
        later: dict[LaneName, list[int]] = {}
        if self.longer != 1.0:
            for ref in self.later(scene):
                later.setdefault((ref.layer, ref.property), []).append(ref.time)
        last = max(map(_TIME, self.keys))
        by = self._to(scene, last) - last
        # Lanes have their keys at the same times more often than not.
        to = {time: self._to(scene, time) for time in set(map(_TIME, self.keys))}
        out: dict[LaneName, dict[int, int]] = {}
        in_part: list[tuple[LaneName, AnyTrack]] = []
        whole: dict[tuple[int, ...], dict[int, int]] = {}
        for lane in (*lanes, *(lane for lane in later if lane not in lanes)):
            track, own = lanes.get(lane) or (scene.layer(lane[0]).track(lane[1]), [])
            times = tuple(own)
            if not later and len(set(times)) == len(track.keys):
                # All keys of a lane go alike in every lane that has them then.
                if times not in whole:
                    mine = {time: to[time] for time in times}
                    whole[times] = mine if self.longer == 1.0 else kept_apart(mine, set(), scene.rate.flicks)
                out[lane] = whole[times]
                continue
            in_part.append((lane, track))
            mine = {time: to[time] for time in times}
            if self.push == "lane" and mine:
                by = mine[max(mine)] - max(mine)
            mine |= {time: checked_time(time + by) for time in later.get(lane, ())}
            if self.longer != 1.0:
                staying = track.key_set.difference(mine)
                mine = kept_apart(mine, set() if self.onto == "replace" else set(staying), scene.rate.flicks)
            out[lane] = mine
        return _Moves(scene, out, in_part)

    def _to(self, scene: Scene, time: int) -> int:
        if self.longer == 1.0:
            return time
        at = self.about + (time - self.about) * self.longer
        return checked_time(scene.rate.time_of(scene.rate.nearest(round(at))) if self.on_frames else round(at))

    def passed(self, scene: Scene) -> list[KeyRef]:
        """The keys that stay, and that these go over or come to lie among."""
        return [
            KeyRef(layer=layer, property=name, time=time)
            for (layer, name), track in self._known(scene).in_part
            for time in passed_by(track, self.moves(scene)[layer, name])
        ]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        lanes = by_lane(scene, self.keys) if self.taller != 1.0 else {}
        fresh = {
            (layer, name): self._stretched(scene.layer(layer).track(name), name, lanes.get((layer, name), []), moves)
            for (layer, name), moves in self.moves(scene).items()
        }
        last = max(map(_TIME, self.keys))
        made_scene = scene.with_tracks(fresh)
        return project.with_scene(self.spans_pushed(made_scene, self._to(scene, last) - last))

    def _stretched(self, track: AnyTrack, name: str, mine: list[int], moves: dict[int, int]) -> AnyTrack:
        if self.taller != 1.0 and mine:
            track = raised(track, PROPERTIES[name], indices_of(track, mine), self.level, self.taller, 0.0)
        if self.onto == "replace" and self.longer != 1.0:
            track = delete_keys(track, set(within(track, list(moves.values()), moves)))
        return move_keys(track, moves)

    def label(self, project: Project) -> str:
        return f"Stretch {self.of_what(project)}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return each_with(self.keys, "time", self.lands(before.scene(self.scene)))
