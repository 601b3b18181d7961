"""Saved motions: taken off a scene with the numbers they could ask for, and made with the numbers that were given.

How far is a matter of what lies between a lane and its rest: that is scaled, shapes with it. How long is one of time
alone, how often of turns, which way one of the path. None of them changes another.
"""

import math
from collections.abc import Mapping, Sequence
from typing import TypeVar

import numpy as np

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.clip import copied
from deftarc.core.changes.keys import KeyRef, multiplied, shifted
from deftarc.core.changes.pieces import fitted, played
from deftarc.core.changes.rebuild import Value, rebuilt, value_of
from deftarc.core.curves.sides import mirrored
from deftarc.core.document import Scene
from deftarc.core.document.clip import Clip
from deftarc.core.document.keys import KeyBase, PathKey
from deftarc.core.document.motion import Dial, Rest, SavedMotion
from deftarc.core.document.properties import PROPERTIES, Property
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.spaces.bends import through_matrix

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)
#: So many moments of a lane are looked at for how far it goes.
LOOKED = 480
#: Less than this, in shown units, is no way from rest.
NO_WAY = 1e-6
#: Numbers offered at first go to so many times what they are, and turns to so many.
TIMES, MOST_TURNS = 4.0, 12


def rest_of(track: AnyTrack, rest: Rest) -> Value:
    """The value of a lane where it is where it was."""
    return value_of(track, 0 if rest == "first" else len(track.keys) - 1)


def is_share(facts: Property) -> bool:
    """Whether a property is one of shares: half as large, and not so much smaller."""
    return "growing" in facts.traits or facts.drives == "opacity"


def far_of(track: AnyTrack, facts: Property, rest: Rest) -> float:
    """How far a lane goes from its rest at most, in the property's shown unit; 0 where that means nothing.

    Of an outline it is how far the point goes that goes furthest.
    """
    if isinstance(track, ColourTrack):
        return 0.0
    home = np.array(rest_of(track, rest))
    if isinstance(track, OutlineTrack):
        rows = np.array([key.value for key in track.keys]) - home
        return float(np.hypot(rows[:, 0::6], rows[:, 1::6]).max(initial=0.0))
    times = np.linspace(track.keys[0].time, track.keys[-1].time, LOOKED)
    rows = np.vstack([*(value_of(track, k) for k in range(len(track.keys))), track.motion(times)]) - home
    return float(np.sqrt((rows**2).sum(axis=1)).max()) * abs(facts.factor)


def saved(scene: Scene, name: str, keys: tuple[KeyRef, ...], rest: Rest, sizes: Sequence[float] = ()) -> SavedMotion:
    """The keys of a scene as a motion to be kept, which asks for no numbers yet. What goes on before and after a lane's
    keys, and what settles were made from, is kept where all of its keys are.
    """
    if not keys:
        raise Refusal("Select keys, or layers that move: that motion is what is saved.")
    clip = copied(scene, keys, lasting=False)
    wanted: dict[tuple[str, str], set[int]] = {}
    for ref in keys:
        wanted.setdefault((ref.layer, ref.property), set()).add(ref.time)
    # The clip's lanes stand in the order of the list.
    names = [(layer.id, each) for layer in scene.layers for each in layer.properties if wanted.get((layer.id, each))]
    lanes = []
    start = min(ref.time for ref in keys)
    for lane, (layer_id, prop) in zip(clip.lanes, names, strict=True):
        track = scene.layer(layer_id).track(prop)
        if len(lane.track.keys) == len(track.keys):
            goes_on = {
                side: told.changed(part=told.part - start if told.part is not None else None)
                for side in ("before", "after")
                if (told := getattr(track, side)) is not None
            }
            lane = lane.changed(track=lane.track.changed(crafts=track.crafts, **goes_on))
        lanes.append(lane)
    frame = math.hypot(scene.width, scene.height)
    return SavedMotion(name=name, clip=Clip(lanes=tuple(lanes), rate=scene.rate), rest=rest, sizes=sizes, frame=frame)


def offered(motion: SavedMotion) -> list[Dial]:
    """The numbers a motion could ask for, with ranges that make sense of what it is, the likeliest first."""
    out: list[Dial] = []
    lanes = motion.clip.lanes
    fars = [far_of(lane.track, PROPERTIES[lane.property], motion.rest) for lane in lanes]
    alike: dict[str, list[int]] = {}
    for n, lane in enumerate(lanes):
        if fars[n] > NO_WAY:
            alike.setdefault(lane.property, []).append(n)
    for prop, some in alike.items():
        facts = PROPERTIES[prop]
        label = "How far" if prop.startswith("position") else f"How far: {facts.label}"
        value = float(f"{fars[some[0]]:.6g}")
        high = 100.0 if facts.drives == "opacity" else _rounded(TIMES * value)
        out.append(
            Dial(
                id=f"far{len(out)}",
                kind="far",
                label=label,
                value=min(value, high),
                low=0.0,
                high=high,
                lanes=tuple(some),
            )
        )
    long = (motion.clip.end - motion.clip.start) / FLICKS
    if long > 0:
        low, high = _rounded(long / TIMES), _rounded(TIMES * long)
        out.insert(1 if out else 0, Dial(id="long", kind="long", label="How long", value=long, low=low, high=high))
        out.append(Dial(id="often", kind="often", label="How many", value=1, low=1, high=MOST_TURNS))
    if any(isinstance(lane.track, PathTrack) and fars[n] > NO_WAY for n, lane in enumerate(lanes)):
        out.append(Dial(id="way", kind="way", label="Turned by", value=0, low=-180, high=180))
    return out


def _rounded(value: float) -> float:
    """A number that reads well, of three digits."""
    return float(f"{value:.3g}")


def dialled(motion: SavedMotion, numbers: Mapping[str, float], frame: int) -> tuple[list[AnyTrack], int]:
    """A motion's lanes as its numbers are told, what is left out at what it is at first, and how long it takes in all,
    in flicks. ``frame`` keeps apart what turns share a moment. Refusal where a number lies outside its range.
    """
    known = {dial.id: dial for dial in motion.dials}
    for name, value in numbers.items():
        dial = known.get(name)
        if dial is None:
            raise Refusal(f"{motion.name} asks for no number “{name[:24]}”.")
        if not dial.low <= value <= dial.high:
            unit = motion.unit_of(dial)
            unit = unit if unit in ("", "°", "%") else f" {unit}"
            raise Refusal(f"“{dial.label}” goes from {dial.low:g} to {dial.high:g}{unit}.")
    tracks: list[AnyTrack] = [lane.track for lane in motion.clip.lanes]
    low, high = motion.clip.start, motion.clip.end
    often = 1
    for dial in motion.dials:
        value = numbers.get(dial.id, dial.value)
        if dial.kind == "often":
            often = round(value)
        elif dial.kind == "long":
            to = max(round(value * FLICKS), 1)
            tracks = [fitted(track, low, high, (low, low + to)) for track in tracks] if to != high - low else tracks
            high = low + to
        elif value != dial.value:
            for n in motion.about_lanes(dial):
                facts = PROPERTIES[motion.clip.lanes[n].property]
                if dial.kind == "far":
                    tracks[n] = about_rest(tracks[n], facts, motion.rest, value / dial.value)
                else:
                    tracks[n] = turned(tracks[n], motion.rest, value - dial.value)
    if often > 1:
        tracks = [
            played(
                track, low, high, often, alternate=motion.turns == "alternate", adding=motion.turns == "adding",
                frame=frame,
            )
            for track in tracks
        ]  # fmt: skip
    return tracks, low + (high - low) * often


def about_rest(track: T, facts: Property, rest: Rest, factor: float) -> T:
    """A lane that goes so many times as far from its rest, its shape as it is."""
    if factor == 1.0 or isinstance(track, ColourTrack):
        return track
    home = rest_of(track, rest)

    def away(value: Value) -> Value:
        return tuple(at + (each - at) * factor for at, each in zip(home, value, strict=True))

    if isinstance(track, PathTrack):
        matrix = np.array([[factor, 0.0, home[0] * (1 - factor)], [0.0, factor, home[1] * (1 - factor)], [0, 0, 1.0]])
        return _placed(track, matrix, factor)
    goes_on = track.going_on(away)
    if isinstance(track, OutlineTrack):
        return track.changed(keys=tuple(key.changed(value=away(key.value)) for key in track.keys), **goes_on)
    if track.evenly:
        return _grown(track, facts, rest, factor)
    keys = [key.changed(value=away((key.value,))[0]) for key in track.keys]
    return rebuilt(track.changed(**goes_on), _steeper(keys, factor))


def _steeper(keys: Sequence[KeyBase], factor: float) -> list[KeyBase]:
    """Keys whose ways rise so many times as much."""
    return [key.changed(arriving=mirrored(key.arriving, factor), leaving=mirrored(key.leaving, factor)) for key in keys]


def _grown(track: NumberTrack, facts: Property, rest: Rest, factor: float) -> NumberTrack:
    """The same of what grows evenly: as far at its furthest as is asked, and even growth to there."""
    home = rest_of(track, rest)[0]
    values = track.motion(np.linspace(track.keys[0].time, track.keys[-1].time, LOOKED))[:, 0]
    furthest = float(values[np.abs(values - home).argmax()])
    wanted = home + (furthest - home) * factor
    if wanted <= 0 or furthest == home:
        raise Refusal(f"{facts.label} grows evenly, and never comes to nought. Let it go less far.")
    power = math.log(wanted / home) / math.log(furthest / home)

    def to(value: Value) -> Value:
        return (home * (value[0] / home) ** power,)

    keys = [key.changed(value=to((key.value,))[0]) for key in track.keys]
    return rebuilt(track.changed(**track.going_on(to)), _steeper(keys, power))


def turned(track: T, rest: Rest, degrees: float) -> T:
    """A lane whose path leads another way, turned about its rest, clockwise; others as they are."""
    if not isinstance(track, PathTrack) or degrees == 0:
        return track
    x, y = rest_of(track, rest)
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return _placed(track, np.array([[c, -s, x - c * x + s * y], [s, c, y - s * x - c * y], [0.0, 0.0, 1.0]]), 1.0)


def _placed(track: PathTrack, matrix: np.ndarray[tuple[int, int], np.dtype[np.float64]], factor: float) -> PathTrack:
    """A path through a matrix that makes all of it so many times as long."""
    points = [through_matrix(point, matrix) for point in track.points]
    longer = abs(factor)
    keys: list[KeyBase] = [
        key.changed(past=key.past * longer) if isinstance(key, PathKey) and key.past else key for key in track.keys
    ]

    def to(value: Value) -> Value:
        x, y = matrix[:2, :2] @ np.array(value) + matrix[:2, 2]
        return (float(x), float(y))

    return rebuilt(track.changed(**track.going_on(to)), _steeper(keys, longer), points)


def from_there(piece: T, facts: Property, rest: Rest, there: Value | None) -> T:
    """A lane as it is where a layer is: its rest at the value that is there. Shares go by shares: what grew by half
    grows by half. None is a lane that lies on top of what is there.
    """
    home = rest_of(piece, rest)
    if isinstance(piece, ColourTrack):
        return piece
    if isinstance(piece, NumberTrack) and is_share(facts) and there is not None:
        if home[0] == 0 or there[0] == 0:
            return piece
        return multiplied(piece, there[0] / home[0]) if there[0] != home[0] else piece
    by = tuple(at - each for at, each in zip(there or (0.0,) * len(home), home, strict=True))
    if not any(by):
        return piece
    if isinstance(piece, OutlineTrack):
        keys = tuple(
            key.changed(value=tuple(each + more for each, more in zip(key.value, by, strict=True)))
            for key in piece.keys
        )
        return piece.changed(keys=keys)
    return shifted(piece, by)


__all__ = ["about_rest", "dialled", "far_of", "from_there", "is_share", "offered", "rest_of", "saved", "turned"]
