"""Keys put on whole frames, and what is offered where an edit left some between."""

from collections.abc import Sequence
from typing import ClassVar, Literal

import numpy as np

from deftarc.core.arrange.difference import difference
from deftarc.core.base import limits
from deftarc.core.changes.keys import KeyRef, move_keys
from deftarc.core.document import Project, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit.base import LaneName, Note
from deftarc.core.edit.keys import KeysEdit, by_lane
from deftarc.core.edit.move_keys import kept_apart


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
