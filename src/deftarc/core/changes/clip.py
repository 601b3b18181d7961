"""What is copied: keys of lanes with their shapes, as plain data that can be put on a clipboard or kept."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.model import Frozen, Name
from deftarc.core.base.time import FrameRate
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.pieces import at_times, taken
from deftarc.core.document import Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import Track


class CopiedLane(Frozen):
    """Some keys of a property of a layer, told by the layer's name."""

    layer: Name
    #: Which of the layers that were copied from, counted from 0: two may have one name.
    of: Annotated[int, Field(ge=0, lt=limits.MAX_LAYERS)] = 0
    property: Annotated[str, Field(max_length=80)]
    #: Its keys, at times from the beginning of the clip on.
    track: Track

    @model_validator(mode="after")
    def _sound(self) -> Self:
        if not self.track.keys:
            raise ValueError("A lane without keys was copied.")
        if self.property not in PROPERTIES:
            raise ValueError("A property that there is none of was copied.")
        if PROPERTIES[self.property].kind != self.track.kind:
            raise ValueError("Keys of another kind than their property's were copied.")
        return self


class Clip(Frozen):
    """Keys of one or several lanes, times in flicks from the first of them."""

    lanes: Annotated[tuple[CopiedLane, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    #: The rate of the scene they come from.
    rate: FrameRate = FrameRate()

    @property
    def start(self) -> int:
        return min(lane.track.keys[0].time for lane in self.lanes)

    @property
    def end(self) -> int:
        return max(lane.track.keys[-1].time for lane in self.lanes)

    @property
    def sources(self) -> list[int]:
        """The layers they come from, by number, in their order."""
        return list(dict.fromkeys(lane.of for lane in self.lanes))

    @property
    def count(self) -> int:
        return sum(len(lane.track.keys) for lane in self.lanes)


def copied(scene: Scene, keys: tuple[KeyRef, ...]) -> Clip:
    """The clip of some keys of a scene, lanes in the order of the list; what is not there is left out."""
    wanted: dict[tuple[str, str], list[int]] = {}
    for ref in keys:
        wanted.setdefault((ref.layer, ref.property), []).append(ref.time)
    start = min(ref.time for ref in keys)
    rows: list[CopiedLane] = []
    of = 0
    for layer in scene.layers:
        for name in layer.properties:
            times = wanted.get((layer.id, name))
            if times:
                piece = at_times(taken(layer.track(name), times), -start)
                rows.append(CopiedLane(layer=layer.name, of=of, property=name, track=piece))
        of += any(layer.id == told for told, _ in wanted)
    return Clip(lanes=tuple(rows), rate=scene.rate)
