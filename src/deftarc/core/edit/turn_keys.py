"""Edits of when many keys are: turned round in place, begun or ended together, spread evenly."""

from collections.abc import Mapping
from typing import ClassVar, Literal

from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Moment
from deftarc.core.changes.keys import KeyRef, move_keys
from deftarc.core.changes.reverse import reversed_keys
from deftarc.core.document import Project, Scene
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit.base import LaneName
from deftarc.core.edit.keys import KeysEdit, by_lane
from deftarc.core.edit.move_keys import checked_time, kept_apart


class RetimedKeys(KeysEdit):
    """An edit that says for each lane where its keys go; what they would land on they come to stand beside."""

    def moves(self, scene: Scene) -> dict[LaneName, dict[int, int]]:
        """Where each key goes, by lane, {old time: new time}."""
        raise NotImplementedError

    def apply(self, project: Project) -> Project:
        scene = before = project.scene(self.scene)
        done = False
        # Where they go is worked out once: lanes move together.
        for (layer_id, name), moves in self.moves(before).items():
            layer = scene.layer(layer_id)
            made = self.retimed(layer.track(name), moves)
            if made is not None:
                done = True
                scene = scene.with_layer(layer.with_track(name, made))
        if not done:
            raise Refusal(self.nothing)
        return project.with_scene(scene)

    def retimed(self, track: AnyTrack, moves: Mapping[int, int]) -> AnyTrack | None:
        """A lane's track with some of its keys moved; None where that leaves them where they are."""
        return move_keys(track, moves) if any(old != new for old, new in moves.items()) else None

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        moves = self.moves(before.scene(self.scene))
        return [ref.changed(time=moves[ref.layer, ref.property][ref.time]) for ref in self.keys]


def beside(scene: Scene, lane: LaneName, moves: dict[int, int], turned: bool = False) -> dict[int, int]:
    """Moves of a lane's keys kept off those that stay; ``turned`` ones go the last one first."""
    staying = set(scene.layer(lane[0]).track(lane[1]).key_times) - set(moves)
    sign = -1 if turned else 1
    apart = kept_apart({sign * old: checked_time(new) for old, new in moves.items()}, staying, scene.rate.flicks)
    return {sign * old: new for old, new in apart.items()}


class ReverseKeys(RetimedKeys):
    """Keys turned round in time within the stretch they fill together: what came last comes first, what arrived
    leaves. Between them the motion runs backwards.
    """

    nothing: ClassVar[str] = "Select keys at two times or more: what stands at one time has nothing to turn round."
    kind: Literal["reverse_keys"] = "reverse_keys"

    def moves(self, scene: Scene) -> dict[LaneName, dict[int, int]]:
        ends = min(ref.time for ref in self.keys) + max(ref.time for ref in self.keys)
        return {
            lane: beside(scene, lane, {time: ends - time for time in times}, turned=True)
            for lane, times in by_lane(scene, self.keys).items()
        }

    def retimed(self, track: AnyTrack, moves: Mapping[int, int]) -> AnyTrack | None:
        if len(moves) > 1:
            return reversed_keys(track, moves)
        return super().retimed(track, moves)

    def label(self, project: Project) -> str:
        return f"Reverse {self.of_what(project)}"


class AlignKeys(RetimedKeys):
    """Each lane's keys moved, as they are, so that their first (or last) stands at one moment."""

    nothing: ClassVar[str] = "These keys stand there already."
    kind: Literal["align_keys"] = "align_keys"
    #: None is where the first of all (or the last) stands.
    time: Moment | None = None
    by: Literal["first", "last"] = "first"

    def moves(self, scene: Scene) -> dict[LaneName, dict[int, int]]:
        pick = min if self.by == "first" else max
        to = pick(ref.time for ref in self.keys) if self.time is None else self.time
        return {
            lane: beside(scene, lane, {time: time + to - pick(times) for time in times})
            for lane, times in by_lane(scene, self.keys).items()
        }

    def label(self, project: Project) -> str:
        return f"Bring {self.of_what(project)} to one time"


class SpreadKeys(RetimedKeys):
    """Keys at even distances between the first and the last of each lane; or, of single keys of several lanes, from
    lane to lane in their order. On whole frames, unless told otherwise.
    """

    nothing: ClassVar[str] = "These keys stand at even distances already."
    kind: Literal["spread_keys"] = "spread_keys"
    on_frames: bool = True

    def moves(self, scene: Scene) -> dict[LaneName, dict[int, int]]:
        lanes = by_lane(scene, self.keys)
        if all(len(times) == 1 for times in lanes.values()):
            rows = sorted((times[0], lane) for lane, times in lanes.items())
            low, high = rows[0][0], rows[-1][0]
            named = [lane for _, lane in rows]
            even = self._even(scene, low, high, len(named))
            out = {lane: beside(scene, lane, {lanes[lane][0]: to}) for lane, to in zip(named, even, strict=True)}
        else:
            out = {}
            for lane, times in lanes.items():
                times = sorted(times)
                even = self._even(scene, times[0], times[-1], len(times))
                out[lane] = beside(scene, lane, dict(zip(times, even, strict=True)))
        if max(len(times) for times in lanes.values()) < 3 and len(lanes) < 3:
            raise Refusal("Select three keys or more: the first and the last stay, those between are spread.")
        return out

    def _even(self, scene: Scene, low: int, high: int, count: int) -> list[int]:
        places = [low + (high - low) * n / max(count - 1, 1) for n in range(count)]
        inner = [scene.rate.time_of(scene.rate.nearest(p)) if self.on_frames else round(p) for p in places[1:-1]]
        return [low, *inner, high][:count]

    def label(self, project: Project) -> str:
        return f"Spread {self.of_what(project)} evenly"
