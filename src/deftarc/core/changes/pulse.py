"""Pulses laid on a track: from its rest to a peak and back, as ordinary keys."""

import itertools

import numpy as np

from deftarc.core.changes.insert import insert_key
from deftarc.core.changes.rebuild import concrete, rebuilt
from deftarc.core.curves.sides import Side
from deftarc.core.document.craft import FADED, swing
from deftarc.core.document.keys import NumberKey
from deftarc.core.document.reactions import Mark, Pulse, Reaction
from deftarc.core.document.track import NumberTrack

THIRD = 1 / 3
#: The reach of a level side where a pulse comes to rest without ringing.
SOFT = 0.42
#: Pulses smaller than this share of the amount are not worth keys.
LEAST = 0.002
#: Marks this near to a whole frame, in frames, are meant to be on it.
ON_FRAME = 0.01


def pulsed(track: NumberTrack, name: str, reaction: Reaction, frame: int) -> NumberTrack:
    """A track with a reaction's pulses on top of what it does; keys of its own under a pulse give way to it."""
    for n, mark in enumerate(reaction.marks):
        size = sized(name, reaction.pulse, mark)
        if n not in reaction.off and abs(size) > LEAST * abs(reaction.pulse.amount):
            track = _with_pulse(track, reaction.pulse, mark, size, frame)
    return track


def sized(name: str, pulse: Pulse, mark: Mark) -> float:
    """The peak of the pulse at a mark, in the property's core unit."""
    size = pulse.amount * (mark.strength if pulse.sized else 1.0)
    if not pulse.aimed:
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


def _with_pulse(track: NumberTrack, pulse: Pulse, mark: Mark, size: float, frame: int) -> NumberTrack:
    near = round(mark.time / frame) * frame
    begin = (near if abs(near - mark.time) <= ON_FRAME * frame else mark.time) + pulse.later
    knots = knots_of(pulse, size)
    times = [begin + time for time, *_ in knots]
    if any(after <= before for before, after in itertools.pairwise(times)):
        return track
    # At once: what was there stays until just before.
    first = begin if pulse.attack else begin - frame
    for end in (first, times[-1]):
        track = insert_key(track, end)
    values = _values(track, times)
    index, last = track.key_times.index(first), track.key_times.index(times[-1])
    track = concrete(track, (index, last))
    keys = list(track.keys)
    row = [
        NumberKey(time=time, value=float(value) + rise, arriving=arriving, leaving=leaving)
        for time, value, (_, rise, arriving, leaving) in zip(times, values, knots, strict=True)
    ]
    start = keys[index].changed(hold=not pulse.attack, steps=None, joint="corner", automatic=None, leaving=None)
    if pulse.attack:
        start = start.changed(leaving=row.pop(0).leaving)
    end_key = keys[last].changed(arriving=row.pop().arriving, joint="corner", automatic=None)
    return rebuilt(track, [*keys[:index], start, *row, end_key, *keys[last + 1 :]])


def _values(track: NumberTrack, times: list[int]) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    return np.array([track.at(time)[0] for time in times])
