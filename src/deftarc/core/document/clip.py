"""Copied keys: keys of lanes with their shapes, as plain data that can be put on a clipboard or kept."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.model import Frozen, Name
from deftarc.core.base.time import FrameRate
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
