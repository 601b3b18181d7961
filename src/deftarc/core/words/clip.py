"""Copied keys as text: a line for each lane that people can read, and the exact data on a line of its own."""

import re

from pydantic import ValidationError

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FrameRate
from deftarc.core.changes.pieces import at_times
from deftarc.core.document.clip import Clip, CopiedLane
from deftarc.core.document.properties import PROPERTIES, property_named
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.words.read import Misread, read_keys
from deftarc.core.words.write import told_keys

#: What the line with the exact data begins with.
DATA = "deft-arc-keys "
_LANE = re.compile(r"^(?P<layer>.{1,120}) / (?P<property>[a-z_]+(?:/[a-z0-9]+/[a-z_]+)?): (?P<keys>.*)$")
_NOTHING = "There are no keys on the clipboard. Copy some first: select them and press Ctrl C."


def told_clip(clip: Clip) -> str:
    """A clip as text."""
    lines = [
        f"{lane.layer} / {lane.property}: {told_keys(lane.track, PROPERTIES[lane.property], clip.rate)}"
        for lane in clip.lanes
    ]
    return "\n".join([*lines, DATA + clip.model_dump_json(exclude_defaults=True)])


def read_clip(text: str, rate: FrameRate, property_: str | None = None) -> Clip:
    """The clip that a text is: by its data where it has some, else by its lines, with times at ``rate``.

    A line of keys alone is taken to be of a property, where one is told. Refusal in a sentence where it is no clip.
    """
    if len(text) > limits.MAX_EDIT_BYTES:
        raise Refusal("There is more on the clipboard than a paste can take.")
    for line in text.splitlines():
        if line.startswith(DATA):
            try:
                return Clip.model_validate_json(line[len(DATA) :])
            except ValidationError as error:
                said = str(error.errors(include_url=False, include_context=False)[0]["msg"])
                raise Refusal(
                    f"The keys on the clipboard are damaged: {said.removeprefix('Value error, ')}. Nothing was pasted."
                ) from None
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    found = [match for line in lines if (match := _LANE.match(line))]
    try:
        if found and len(found) == len(lines):
            names = list(dict.fromkeys(match["layer"] for match in found))
            lanes = [
                _lane(match["layer"], names.index(match["layer"]), match["property"], match["keys"], rate)
                for match in found
            ]
        elif len(lines) == 1 and property_ is not None:
            lanes = [_lane("Typed", 0, property_, lines[0], rate)]
        else:
            raise Refusal(_NOTHING)
        start = min(lane.track.keys[0].time for lane in lanes)
        return Clip(lanes=tuple(lane.changed(track=at_times(lane.track, -start)) for lane in lanes), rate=rate)
    except Misread as misread:
        # What anybody may have copied anywhere is no line of keys that has a word wrong.
        raise Refusal(f"{_NOTHING} Read as keys: {misread}" if found else _NOTHING) from None
    except ValidationError:
        raise Refusal(_NOTHING) from None


def _lane(layer: str, of: int, name: str, keys: str, rate: FrameRate) -> CopiedLane:
    facts = property_named(name)
    empty: dict[str, AnyTrack] = {
        "number": NumberTrack(value=0.0),
        "path": PathTrack(value=(0.0, 0.0)),
        "colour": ColourTrack(value=(0.0, 0.0, 0.0, 1.0)),
    }
    track = empty.get(facts.kind) or OutlineTrack(value=(0.0,) * _numbers_in(keys))
    return CopiedLane(layer=layer, of=of, property=facts.id, track=read_keys(keys, track, facts, rate))


def _numbers_in(keys: str) -> int:
    """How many numbers an outline's keys have: as many as stand in the first brackets."""
    found = re.search(r"\[([^\]]*)\]", keys)
    return max(1, len(found[1].split())) if found else 1
