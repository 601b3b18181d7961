"""Keys stretched with a box, or by a typed length or factor: about an end, the middle or the playhead."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.model import Moment, Number, each_with
from deftarc.core.changes.keys import KeyRef, delete_keys, move_keys
from deftarc.core.changes.raise_values import raised
from deftarc.core.document import Project, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit.base import LaneName
from deftarc.core.edit.keys import by_lane
from deftarc.core.edit.move_keys import PushingEdit, checked_time, indices_of, kept_apart, passed_by, within


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
        # Made, selected and told of in turn: worked out once for a scene.
        kept = self.__dict__.get("_moves")
        if kept is None or kept[0] is not scene:
            kept = self.__dict__["_moves"] = (scene, self._moves_in(scene))
        found: dict[LaneName, dict[int, int]] = kept[1]
        return found

    def _moves_in(self, scene: Scene) -> dict[LaneName, dict[int, int]]:
        lanes = by_lane(scene, self.keys)
        later: dict[LaneName, list[int]] = {}
        if self.longer != 1.0:
            for ref in self.later(scene):
                later.setdefault((ref.layer, ref.property), []).append(ref.time)
        last = max(ref.time for ref in self.keys)
        by = self._to(scene, last) - last
        # Lanes have their keys at the same times more often than not.
        to = {time: self._to(scene, time) for time in {ref.time for ref in self.keys}}
        out: dict[LaneName, dict[int, int]] = {}
        whole: dict[tuple[int, ...], dict[int, int]] = {}
        for lane in {**lanes, **later}:
            track = scene.layer(lane[0]).track(lane[1])
            times = tuple(lanes.get(lane, ()))
            if not later and len(set(times)) == len(track.keys):
                # All keys of a lane go alike in every lane that has them then.
                if times not in whole:
                    mine = {time: to[time] for time in times}
                    whole[times] = mine if self.longer == 1.0 else kept_apart(mine, set(), scene.rate.flicks)
                out[lane] = whole[times]
                continue
            mine = {time: to[time] for time in times}
            if self.push == "lane" and mine:
                by = mine[max(mine)] - max(mine)
            mine |= {time: checked_time(time + by) for time in later.get(lane, ())}
            if self.longer != 1.0:
                staying = track.key_set.difference(mine)
                mine = kept_apart(mine, set() if self.onto == "replace" else set(staying), scene.rate.flicks)
            out[lane] = mine
        return out

    def _to(self, scene: Scene, time: int) -> int:
        if self.longer == 1.0:
            return time
        at = self.about + (time - self.about) * self.longer
        return checked_time(scene.rate.time_of(scene.rate.nearest(round(at))) if self.on_frames else round(at))

    def passed(self, scene: Scene) -> list[KeyRef]:
        """The keys that stay, and that these go over or come to lie among."""
        return [
            KeyRef(layer=layer, property=name, time=time)
            for (layer, name), moves in self.moves(scene).items()
            if len(moves) < len(scene.layer(layer).track(name).keys)
            for time in passed_by(scene.layer(layer).track(name), moves)
        ]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        lanes = by_lane(scene, self.keys) if self.taller != 1.0 else {}
        fresh = {
            (layer, name): self._stretched(scene.layer(layer).track(name), name, lanes.get((layer, name), []), moves)
            for (layer, name), moves in self.moves(scene).items()
        }
        last = max(ref.time for ref in self.keys)
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

    def lands(self, before: Project) -> list[int]:
        # Told while it is tried, and told again with what it comes to.
        moves, kept = self.moves(before.scene(self.scene)), self.__dict__.get("_lands")
        if kept is None or kept[0] is not moves:
            lands = [moves[ref.layer, ref.property][ref.time] for ref in self.keys]
            kept = self.__dict__["_lands"] = (moves, lands)
        found: list[int] = kept[1]
        return found

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return each_with(self.keys, "time", self.lands(before))
