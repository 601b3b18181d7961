"""Keys deleted: the motion between those that stay is kept as near as it can be, or left to their own sides."""

from collections.abc import Sequence
from typing import Literal, NamedTuple

import numpy as np

from deftarc.core.base.working import at_work
from deftarc.core.changes.deviation import greatest, knots_of, motion_of, steep
from deftarc.core.changes.join import joined
from deftarc.core.changes.keys import KeyRef, delete_keys
from deftarc.core.document import Project, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack, ColourTrack
from deftarc.core.edit.base import LaneName, Note
from deftarc.core.edit.keys import KeysEdit, grouped
from deftarc.core.edit.samples import bound

#: Looks between two keys that stay at which lanes are compared first; the worst few are then measured.
LOOKS, MEASURED = 33, 3
#: A motion within this share of its size of another is the same one.
SAME = 1e-6


class _Lane(NamedTuple):
    """A lane whose keys went, as it was and as it is, the first and last key that stay, and by what share of its size
    it is off where it was looked at.
    """

    name: LaneName
    old: AnyTrack
    new: AnyTrack
    ends: tuple[int, int]
    off: float


class DeleteKeys(KeysEdit):
    """Keys gone. What they shaped between two that stay is kept as near as one segment can, exactly where it was one;
    without ``keep_shape`` those that stay keep the sides they have.
    """

    kind: Literal["delete_keys"] = "delete_keys"
    keep_shape: bool = True

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack:
        return joined(track, set(times)) if self.keep_shape else delete_keys(track, set(times))

    def label(self, project: Project) -> str:
        return f"Delete {self.of_what(project)}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return []

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        if not self.keep_shape:
            return ()
        scene, now = before.scene(self.scene), after.scene(self.scene)
        lanes: list[_Lane] = []
        for (layer, name), times in at_work(list(grouped(self.keys).items())):
            old, new = scene.layer(layer).track(name), now.layer(layer).track(name)
            ends = (new.key_times[0], new.key_times[-1]) if new.keys else (0, 0)
            if len(new.keys) > 1 and any(ends[0] < time < ends[1] for time in times):
                lanes.append(_Lane((layer, name), old, new, ends, _off(old, new, ends)))
        row = sorted(lanes, key=lambda lane: -lane.off)[:MEASURED]
        amounts = [text for lane in row if (text := _deviation(scene, lane))]
        if not amounts:
            return ()
        return (Note(f"The motion there differs by at most {', '.join(amounts)}."),)


def _off(old: AnyTrack, new: AnyTrack, ends: tuple[int, int]) -> float:
    times = np.linspace(*ends, LOOKS * (len(new.keys) - 1))
    one, other = motion_of(old)(times), motion_of(new)(times)
    return float(np.abs(one - other).max()) / max(float(np.ptp(one, axis=0).max()), 1e-9)


def _deviation(scene: Scene, lane: _Lane) -> str:
    """“3.2 px of Position of Gull”; empty where it is as it was."""
    layer, facts = scene.layer(lane.name[0]), PROPERTIES[lane.name[1]]
    inside = [t for t in {*knots_of(lane.old), *knots_of(lane.new)} if lane.ends[0] <= t <= lane.ends[1]]
    off, _ = greatest(motion_of(lane.old), motion_of(lane.new), inside, [steep(lane.old), steep(lane.new)])
    size = float(np.ptp(motion_of(lane.old)(np.array(inside, np.float64)), axis=0).max())
    if off <= SAME * max(size, 1e-3):
        return ""
    amount = (
        f"{bound(off * 255)} of 255"
        if isinstance(lane.old, ColourTrack)
        else f"{bound(off * facts.factor)} {facts.unit}"
    )
    return f"{amount.strip()} ({facts.label} of {layer.name})"
