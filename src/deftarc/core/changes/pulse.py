"""Pulses laid on a track: from its rest to a peak and back, as ordinary keys."""

import itertools
import math
from collections.abc import Callable
from typing import TypeVar

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.changes.insert import insert_key
from deftarc.core.changes.keys import delete_keys
from deftarc.core.changes.rebuild import concrete, key_with, rebuilt, value_of
from deftarc.core.changes.struck import held_open, struck
from deftarc.core.changes.weave import woven
from deftarc.core.curves.sides import Side
from deftarc.core.document.artwork.free import Contour
from deftarc.core.document.craft import FADED, swing
from deftarc.core.document.keys import KeyBase, NumberKey, PathKey
from deftarc.core.document.reactions import Mark, Pulse, Reaction
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.spaces.colour import blend, parse_colour
from deftarc.core.spaces.points import point_at

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)
THIRD = 1 / 3
#: The reach of a level side where a pulse comes to rest without ringing.
SOFT = 0.42
#: Pulses smaller than this share of the amount are not worth keys.
LEAST = 0.002
#: Marks this near to a whole frame, in frames, are meant to be on it.
ON_FRAME = 0.01


def pulsed(track: T, name: str, reaction: Reaction, frame: int, contours: tuple[Contour, ...] = ()) -> T:
    """A track with a reaction's pulses on top of what it does; keys of its own under a pulse give way to it. An outline
    is one of ``contours``.
    """
    for n, mark in enumerate(reaction.marks):
        size = sized(name, reaction.pulse, mark)
        if n not in reaction.off and abs(size) > LEAST * abs(reaction.pulse.amount):
            if isinstance(track, NumberTrack) and name == "burst":
                track = _with_burst(track, reaction.pulse, mark, size, frame)
            elif isinstance(track, NumberTrack):
                track = _with_pulse(track, reaction.pulse, mark, frame, _added(np.array([size])), size)
            elif isinstance(track, ColourTrack):
                track = _with_pulse(track, reaction.pulse, mark, frame, _blended(reaction.pulse.colour, size))
            elif isinstance(track, PathTrack):
                track = _jolted(track, reaction.pulse, mark, size, frame)
            else:
                track = _struck(track, reaction, mark, size, frame, contours)
    return track


def _with_burst(track: NumberTrack, pulse: Pulse, mark: Mark, size: float, frame: int) -> NumberTrack:
    """A lane of bursts with one more: a key, and nothing comes back from it."""
    near = round(mark.time / frame) * frame
    time = (near if abs(near - mark.time) <= ON_FRAME * frame else mark.time) + pulse.later
    keys = {key.time: key for key in track.keys} | {time: NumberKey(time=time, value=abs(size), hold=True)}
    return track.changed(keys=tuple(keys[each] for each in sorted(keys)))


def way_of(pulse: Pulse, mark: Mark) -> tuple[float, float]:
    """Which way what is struck goes, a unit vector: as what struck it came, or as is told."""
    if pulse.aimed and len(mark.way) > 1 and (mark.way[0] or mark.way[1]):
        far = math.hypot(mark.way[0], mark.way[1])
        return mark.way[0] / far, mark.way[1] / far
    return math.cos(math.radians(pulse.way)), math.sin(math.radians(pulse.way))


def sized(name: str, pulse: Pulse, mark: Mark) -> float:
    """The peak of the pulse at a mark, in the property's core unit."""
    size = pulse.amount * (mark.strength if pulse.sized else 1.0)
    if not pulse.aimed or name in ("outline", "position"):
        return size
    x, y = mark.way[0], mark.way[1] if len(mark.way) > 1 else 0.0
    if name == "scale":
        # Flat where it came down, and thin where it came from the side.
        return size * (y * y - x * x) if len(mark.way) > 1 else size
    return size * (y if name.endswith("_y") and len(mark.way) > 1 else x)


def knots_of(pulse: Pulse, size: float) -> list[tuple[int, float, Side | None, Side | None]]:
    """The keys of a pulse of a size: (time from its begin, value from rest, arriving, leaving)."""
    level, soft = Side(reach=THIRD, rise=0.0), Side(reach=SOFT, rise=0.0)
    out: list[tuple[int, float, Side | None, Side | None]] = []
    if pulse.attack:
        # Slowing down as it is pressed: half a parabola, exact with reaches of a third.
        out.append((0, 0.0, None, Side(reach=THIRD, rise=2 / 3 * size)))
    top = pulse.attack
    out.append((top, size, level if pulse.attack else None, None))
    if pulse.hold:
        top += pulse.hold
        out.append((top, size, None, None))
    count = pulse.rings + 1
    ratio = FADED ** (1 / count)
    away, to = (Side(reach=reach, rise=0.0) for reach in swing(ratio)) if pulse.rings else (soft, soft)
    time, value, arriving, _ = out[-1]
    out[-1] = (time, value, arriving, away)
    for k in range(1, count + 1):
        end = k == count
        out.append(
            (top + round(pulse.release * k / count), 0.0 if end else size * (-ratio) ** k, to, None if end else away)
        )
    return out


def _struck(track: T, reaction: Reaction, mark: Mark, size: float, frame: int, contours: tuple[Contour, ...]) -> T:
    """An outline with one pulse: what is straight and is to bend gets the handles for it first."""
    way = way_of(reaction.pulse, mark)
    rest = held_open(contours, np.array(track.at(mark.time)))
    by = struck(contours, rest, reaction.points, way) * size
    if not reaction.points:
        track = _opened(track, contours)
    return _with_pulse(track, reaction.pulse, mark, frame, _added(by))


def _opened(track: T, contours: tuple[Contour, ...]) -> T:
    def opened(value: tuple[float, ...]) -> tuple[float, ...]:
        return tuple(held_open(contours, np.array(value)).tolist())

    keys = tuple(key.changed(value=opened(value_of(track, k))) for k, key in enumerate(track.keys))
    return track.changed(value=opened(track.resting()), keys=keys)


def _jolted(track: PathTrack, pulse: Pulse, mark: Mark, size: float, frame: int) -> PathTrack:
    """A position with one pulse: straight from where it is to its peak and back, over keys of its own."""
    times, rises, sides = _knotted(pulse, mark, frame)
    if not times:
        return track
    way = np.array(way_of(pulse, mark)) * size
    spots = [np.array(track.at(time)) + rise * way for time, rise in zip(times, rises, strict=True)]
    fars = [float(np.hypot(*(b - a))) for a, b in itertools.pairwise(spots)]
    if not pulse.attack:
        # At once: what was there stays until just before.
        times, spots = [times[0] - frame, *times], [np.array(track.at(times[0] - frame)), *spots]
        sides, fars = [(None, None), *sides], [0.0, *fars]
    first, last = times[0], times[-1]
    keys: list[PathKey] = []
    for n, time in enumerate(times):
        arriving = scaled(sides[n][0], fars[n - 1]) if n else None
        leaving = scaled(sides[n][1], fars[n]) if n < len(fars) else None
        keys.append(PathKey(time=time, at=float(n), arriving=arriving, leaving=leaving))
    if not pulse.attack:
        keys[0] = keys[0].changed(hold=True)
    if track.keys:
        for end in (first, last):
            track = insert_key(track, end)
        track = delete_keys(track, {time for time in track.key_times if first < time < last})
        begin, end_key = (track.keys[track.key_times.index(time)] for time in (first, last))
        keys[0] = keys[0].changed(arriving=begin.arriving)
        keys[-1] = keys[-1].changed(leaving=end_key.leaving, hold=end_key.hold, steps=end_key.steps)
    points = tuple(point_at(spot.tolist()) for spot in spots)
    if not track.keys:
        return track.changed(points=points, keys=tuple(keys))
    return woven(track, PathTrack(value=track.value, points=points, keys=tuple(keys)))


Sides = list[tuple[Side | None, Side | None]]


def _knotted(pulse: Pulse, mark: Mark, frame: int) -> tuple[list[int], list[float], Sides]:
    """When the keys of a pulse stand, how far each is of the way to the peak, and its sides with rises as shares of the
    change there; nothing where two would stand at one time.
    """
    near = round(mark.time / frame) * frame
    begin = (near if abs(near - mark.time) <= ON_FRAME * frame else mark.time) + pulse.later
    knots = knots_of(pulse, 1.0)
    times = [begin + time for time, *_ in knots]
    if any(after <= before for before, after in itertools.pairwise(times)):
        return [], [], []
    rises = [rise for _, rise, _, _ in knots]
    sides: Sides = []
    for n, (_, rise, arriving, leaving) in enumerate(knots):
        before = rise - rises[n - 1] if n else 0.0
        after = rises[n + 1] - rise if n + 1 < len(knots) else 0.0
        sides.append((_share(arriving, before), _share(leaving, after)))
    return times, rises, sides


def scaled(side: Side | None, by: float) -> Side | None:
    """A side whose rise is so many times as much."""
    return side.changed(rise=side.rise * by) if side is not None and side.rise else side


#: A value with a pulse on it, from the value that is there and how far of the way to the peak the pulse is.
Raised = Callable[[Floats, float], Floats]


def _added(size: Floats) -> Raised:
    return lambda value, rise: value + rise * size


def _blended(peak: str, size: float) -> Raised:
    """Towards a colour, at most all the way; a pulse that rings flares up again."""
    colour = np.array([parse_colour(peak)])
    return lambda value, rise: blend(value[None, :], colour, np.array([min(abs(rise * size), 1.0)]))[0]


def _with_pulse(track: T, pulse: Pulse, mark: Mark, frame: int, raised: Raised, size: float = 1.0) -> T:
    """A track with one pulse, its values raised as is told; of a number so much at its peak."""
    times, rises, sides = _knotted(pulse, mark, frame)
    if not times:
        return track
    # At once: what was there stays until just before.
    first = times[0] if pulse.attack else times[0] - frame
    for end in (first, times[-1]):
        track = insert_key(track, end)
    values = [raised(np.array(track.at(time)), rise) for time, rise in zip(times, rises, strict=True)]
    index: int = track.key_times.index(first)
    last: int = track.key_times.index(times[-1])
    track = concrete(track, (index, last))
    keys: list[KeyBase] = list(track.keys)
    row: list[KeyBase] = []
    for n, time in enumerate(times):
        arriving, leaving = sides[n]
        if isinstance(track, NumberTrack):
            # Its measure is the value; of what is blended it is the share of the way from key to key.
            arriving = scaled(arriving, size * (rises[n] - rises[n - 1])) if n else arriving
            leaving = scaled(leaving, size * (rises[n + 1] - rises[n])) if n + 1 < len(times) else leaving
        told = tuple(float(each) for each in values[n])
        row.append(key_with(track, KeyBase(time=time, arriving=arriving, leaving=leaving), told))
    start = keys[index].changed(hold=not pulse.attack, steps=None, joint="corner", automatic=None, leaving=None)
    if pulse.attack:
        start = start.changed(leaving=row.pop(0).leaving)
    end_key = keys[last].changed(arriving=row.pop().arriving, joint="corner", automatic=None)
    return rebuilt(track, [*keys[:index], start, *row, end_key, *keys[last + 1 :]])


def _share(side: Side | None, change: float) -> Side | None:
    """A side whose rise is told as a share of the change between two keys."""
    if side is None or abs(change) < 1e-12:
        return None
    return side.changed(rise=side.rise / change) if side.rise else side
