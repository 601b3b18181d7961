"""Saved motions: keys of one or several layers kept for use elsewhere, relative to where these were, with a few numbers
that are asked for when the motion is laid.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.model import Frozen, Identity, Length, Name, Number
from deftarc.core.document.clip import Clip
from deftarc.core.document.properties import PROPERTIES

#: How far things go about their rest, how long a turn takes, how many turns there are, which way a path leads.
DialKind = Literal["far", "long", "often", "way"]
#: Where a motion is where it was: at its first keys, or at its last.
Rest = Literal["first", "last"]


class Dial(Frozen):
    """A number that is asked for: its kind, what it is called, what it is at first and from where to where it goes.

    *far* is in the shown unit of the first lane it is about, *long* in seconds, *way* in degrees, clockwise.
    """

    id: Identity
    kind: DialKind
    label: Name
    value: Number
    low: Number
    high: Number
    #: Of *far* and *way*: the lanes it is about, by their places; none means all that can.
    lanes: Annotated[tuple[Annotated[int, Field(ge=0)], ...], Field(max_length=limits.MAX_LAYERS)] = ()

    @model_validator(mode="after")
    def _sound(self) -> Self:
        if not self.low < self.high:
            raise ValueError(f"“{self.label}” goes from a lower number to a higher one.")
        if not self.low <= self.value <= self.high:
            raise ValueError(f"“{self.label}” is at first between {self.low:g} and {self.high:g}.")
        if self.kind == "long" and self.low <= 0:
            raise ValueError(f"“{self.label}”: a motion takes more than no time.")
        if self.kind == "far" and self.value <= 0:
            raise ValueError(f"“{self.label}”: what it is at first is more than nothing.")
        whole = all(float(each).is_integer() for each in (self.low, self.value, self.high))
        if self.kind == "often" and not (whole and self.low >= 1 and self.high <= 1_000):
            raise ValueError(f"“{self.label}” counts turns, from 1 to 1000.")
        return self


class SavedMotion(Frozen):
    name: Name
    #: Its keys, at times from its first one on.
    clip: Clip
    rest: Rest = "first"
    dials: Annotated[tuple[Dial, ...], Field(max_length=limits.MAX_DIALS)] = ()
    #: Where it is played several times: there and back, or each turn from where the one before ended.
    turns: Literal["again", "alternate", "adding"] = "again"
    #: How large each of the layers was, across its corners, and their scene, in px: what it is fitted by. None told,
    #: it is laid as large as it was.
    sizes: Annotated[tuple[Length, ...], Field(max_length=limits.MAX_LAYERS)] = ()
    frame: Length | None = None
    #: What it is good for, in a few words.
    about: Annotated[str, Field(max_length=300)] = ""

    @model_validator(mode="after")
    def _sound(self) -> Self:
        if len({dial.id for dial in self.dials}) != len(self.dials):
            raise ValueError("Two numbers of a saved motion share one id.")
        if self.sizes and len(self.sizes) != len(self.clip.sources):
            raise ValueError("A saved motion tells a size for each of its layers, or for none.")
        for kind in ("long", "often"):
            if sum(dial.kind == kind for dial in self.dials) > 1:
                raise ValueError("A saved motion asks for its length once, and once for its turns.")
        for dial in self.dials:
            if any(n >= len(self.clip.lanes) for n in dial.lanes):
                raise ValueError(f"“{dial.label}” is about a lane that is not there.")
            if dial.kind == "long" and self.clip.end == self.clip.start:
                raise ValueError(f"“{dial.label}”: a single moment has no length.")
            kinds = {self.clip.lanes[n].track.kind for n in self.about_lanes(dial)}
            if dial.kind in ("far", "way") and not kinds:
                raise ValueError(f"“{dial.label}” is about no lane that it could change.")
            if dial.kind == "way" and kinds != {"path"}:
                raise ValueError(f"“{dial.label}”: paths lead a way, other lanes do not.")
        return self

    def about_lanes(self, dial: Dial) -> tuple[int, ...]:
        """The lanes a number is about, by their places."""
        if dial.lanes:
            return dial.lanes
        kinds = {"far": ("number", "path", "outline"), "way": ("path",)}.get(dial.kind, ())
        return tuple(n for n, lane in enumerate(self.clip.lanes) if lane.track.kind in kinds)

    def unit_of(self, dial: Dial) -> str:
        """The unit a number is in."""
        if dial.kind == "far":
            facts = PROPERTIES[self.clip.lanes[self.about_lanes(dial)[0]].property]
            return "px" if facts.kind == "outline" else facts.unit
        return {"long": "s", "way": "°"}.get(dial.kind, "")


__all__ = ["Dial", "DialKind", "Rest", "SavedMotion"]
