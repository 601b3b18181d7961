"""What can be done to the keys of one track, and what must not change while it is done.

Plain functions from track to track; the edits call them. “Motion” is the value at every time.
"""

import itertools
from collections.abc import Iterable, Mapping
from typing import TypeVar

import numpy as np

from deftarc.core.ease import EASES, sides
from deftarc.core.errors import Refusal
from deftarc.core.geometry import Floats
from deftarc.core.inserting import insert_key
from deftarc.core.model import Frozen
from deftarc.core.properties import PROPERTIES
from deftarc.core.rebuild import Value, key_with, mirrored, rebuilt, value_of
from deftarc.core.space import Path
from deftarc.core.time import FLICKS
from deftarc.core.track import (
    AnyTrack,
    BlendTrack,
    ColourTrack,
    KeyBase,
    LooseBlend,
    LooseNumber,
    LoosePosition,
    NumberTrack,
    OutlineTrack,
    PathTrack,
    Side,
)

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)


class KeyRef(Frozen):
    """A key is named by its layer, its property and its time."""

    layer: str
    property: str
    time: int


def _rescaled(track: AnyTrack, before: Floats, after: Floats) -> list[KeyBase]:
    """The keys with rises in proportion to each segment's new change; unchanged where the change was nought."""
    keys = list(track.keys)
    for k in range(len(keys) - 1):
        old, new = before[k + 1] - before[k], after[k + 1] - after[k]
        if old == new or abs(old) < 1e-12:
            continue
        factor = new / old
        keys[k] = keys[k].changed(leaving=mirrored(keys[k].leaving, factor))
        keys[k + 1] = keys[k + 1].changed(arriving=mirrored(keys[k + 1].arriving, factor))
    return keys


def _mended(keys: list[KeyBase], around: Iterable[int]) -> list[KeyBase]:
    """Smooth joints among the keys ``around`` given one speed again: the mean, weighted by duration."""
    for k in around:
        if not 0 < k < len(keys) - 1 or keys[k].joint != "smooth":
            continue
        key, before, after = keys[k], keys[k].arriving, keys[k].leaving
        if before is None or after is None or before.reach == 0 or after.reach == 0:
            continue
        d0, d1 = ((keys[k + i].time - keys[k + i - 1].time) / FLICKS for i in (0, 1))
        speed = (before.rise / before.reach + after.rise / after.reach) / (d0 + d1)
        keys[k] = key.changed(
            arriving=Side(reach=before.reach, rise=speed * before.reach * d0),
            leaving=Side(reach=after.reach, rise=speed * after.reach * d1),
        )
    return keys


def change_key(track: T, index: int, value: Value) -> T:
    """A key's value changed; its segments keep their shape in proportion, level stays level."""
    before = track.measures()
    if isinstance(track, PathTrack):
        points = list(track.points)
        points[index] = (value[0], value[1])
        after = Path(np.array(points, dtype=np.float64)).length_at(np.array([key.at for key in track.keys]))
        return rebuilt(track, _mended(_rescaled(track, before, after), (index - 1, index, index + 1)), points)
    if isinstance(track, BlendTrack):
        return rebuilt(track, [key.changed(value=value) if k == index else key for k, key in enumerate(track.keys)])
    after = before.copy()
    after[index] = value[0]
    keys = _rescaled(track, before, after)
    keys[index] = keys[index].changed(value=value[0])
    return rebuilt(track, _mended(keys, (index - 1, index, index + 1)))


def change_value(track: T, time: int, value: Value, keying: bool) -> T:
    """What a person's change at a time does to a track.

    No keys: the value itself changes. A key just here: it changes. Elsewhere keyed: with *Keying changes* on a
    key is made here; off, the change stays loose, shown at this time only, until it is keyed or replaced.
    """
    if track.keys and time not in track.key_times and not keying:
        return _with_loose(track, time, value)
    track = _without_loose(track)
    if not track.keys:
        if not keying:
            return _with_value(track, value)
        track = insert_key(_with_value(track, value), time)
    else:
        track = insert_key(track, time)
    return change_key(track, track.key_times.index(time), value)


def _with_value(track: T, value: Value) -> T:
    """A track without keys, at a value."""
    return type(track)(value=value if isinstance(track, PathTrack | BlendTrack) else value[0])


def _with_loose(track: T, time: int, value: Value) -> T:
    if isinstance(track, PathTrack):
        return track.changed(loose=LoosePosition(time=time, value=(value[0], value[1])))
    if isinstance(track, BlendTrack):
        return track.changed(loose=LooseBlend(time=time, value=value))
    return track.changed(loose=LooseNumber(time=time, value=value[0]))


def _without_loose(track: T) -> T:
    return track.changed(loose=None) if track.loose is not None else track


def set_key(track: T, time: int) -> T:
    """A key at a time with what shows there: the loose value of that time, else the motion as it is."""
    loose = track.loose
    if loose is not None and loose.time == time:
        value = loose.value if isinstance(loose.value, tuple) else (loose.value,)
        return change_value(track, time, value, keying=True)
    return insert_key(track, time)


def cleared(track: T, time: int) -> T:
    """All keys taken away; the value at a time stays."""
    return _with_value(track, track.at(time)) if track.keys else _without_loose(track)


def delete_keys(track: T, times: set[int]) -> T:
    """Keys taken away. The segment that closes a gap keeps its two sides' reaches and speeds.

    With the last key its value stays as the track's own.
    """
    present = track.key_times
    gone = [k for k, time in enumerate(present) if time in times]
    if not gone:
        return track
    kept = [k for k in range(len(present)) if k not in set(gone)]
    if not kept:
        return _with_value(track, value_of(track, gone[0]))
    keys: list[KeyBase] = [track.keys[k] for k in kept]
    for i, (k, after) in enumerate(itertools.pairwise(kept)):
        if after == k + 1:
            continue
        whole = present[after] - present[k]
        first, last = present[k + 1] - present[k], present[after] - present[after - 1]
        left, right = keys[i].leaving, keys[i + 1].arriving
        # The same reach over a longer time at the same speed rises in proportion.
        left = mirrored(left, whole / first)
        right = mirrored(right, whole / last)
        if left is not None and right is not None and left.reach + right.reach > 1:
            fit = 1 / (left.reach + right.reach)
            left, right = (Side(reach=s.reach * fit, rise=s.rise * fit) for s in (left, right))
        keys[i] = keys[i].changed(leaving=left)
        keys[i + 1] = keys[i + 1].changed(arriving=right)
    points = [track.points[k] for k in kept] if isinstance(track, PathTrack) else None
    if isinstance(track, PathTrack):
        keys = _fitted_to_path(track, keys, kept, points or [])
    return rebuilt(track, keys, points)


def _fitted_to_path(
    track: PathTrack, keys: list[KeyBase], kept: list[int], points: list[tuple[float, float]]
) -> list[KeyBase]:
    """Rises scaled where leaving a point out made the way between two kept keys shorter."""
    old = track.measures()
    new = Path(np.array(points, dtype=np.float64)).lengths
    out = list(keys)
    for i, (k, after) in enumerate(itertools.pairwise(kept)):
        before, now = old[after] - old[k], new[i + 1] - new[i]
        if after > k + 1 and before > 1e-12:
            out[i] = out[i].changed(leaving=mirrored(out[i].leaving, now / before))
            out[i + 1] = out[i + 1].changed(arriving=mirrored(out[i + 1].arriving, now / before))
    return out


def move_keys(track: T, moves: Mapping[int, int]) -> T:
    """Keys moved in time, ``{old time: new time}``. Segments keep their shape: reaches are fractions, rises stay.

    A key that lands on one that stays takes its place. Keys that pass each other change places, on a path their
    points do too, so each goes on showing its own value at its own time.
    """
    present = track.key_times
    target = {k: moves.get(time, time) for k, time in enumerate(present)}
    moved = {k for k, time in enumerate(present) if time in moves}
    landing = {target[k] for k in moved}
    if len(landing) < len(moved):
        raise Refusal("Two keys of one lane would stand at the same time. Move them by less.")
    order = sorted((k for k in target if k in moved or target[k] not in landing), key=lambda k: target[k])
    keys: list[KeyBase] = [track.keys[k].changed(time=target[k]) for k in order]
    points = [track.points[k] for k in order] if isinstance(track, PathTrack) else None
    if isinstance(track, PathTrack) and order != list(range(len(present))):
        old = track.measures()
        new = Path(np.array(points, dtype=np.float64)).lengths
        keys = _rescaled(rebuilt(track, keys, points), old[: len(keys)], new) if len(keys) == len(old) else keys
    return rebuilt(track, _mended(keys, range(len(keys))), points)


def ease_segments(track: T, starts: Iterable[int], ease_id: str, strength: float) -> T:
    """The segments that begin at the keys ``starts`` (times) given a named ease at a strength of 0 to 100."""
    ease = EASES.get(ease_id)
    if ease is None:
        raise Refusal(f"There is no ease “{ease_id[:40]}”. There are: {', '.join(EASES)}.")
    keys: list[KeyBase] = list(track.keys)
    measures = track.measures()
    index = {time: k for k, time in enumerate(track.key_times)}
    for start in starts:
        k = index.get(start, -1)
        if not 0 <= k < len(keys) - 1:
            continue
        leaving, arriving = sides(ease, strength, float(measures[k + 1] - measures[k]))
        keys[k] = keys[k].changed(leaving=leaving, hold=ease.hold, joint="corner")
        keys[k + 1] = keys[k + 1].changed(arriving=arriving, joint="corner")
    return rebuilt(track, keys)


def shifted(track: T, by: Value) -> T:
    """The whole motion moved by a value: every key, the resting value and a loose one; no key is added."""
    if isinstance(track, PathTrack):
        loose = track.loose
        return track.changed(
            value=(track.value[0] + by[0], track.value[1] + by[1]),
            points=tuple((x + by[0], y + by[1]) for x, y in track.points),
            loose=loose.changed(value=(loose.value[0] + by[0], loose.value[1] + by[1])) if loose else None,
        )
    if isinstance(track, BlendTrack):
        raise Refusal("A colour or an outline cannot be shifted by a number.")
    loose_number = track.loose
    return track.changed(
        value=track.value + by[0],
        keys=tuple(key.changed(value=key.value + by[0]) for key in track.keys),
        loose=loose_number.changed(value=loose_number.value + by[0]) if loose_number else None,
    )


def multiplied(track: NumberTrack, factor: float) -> NumberTrack:
    """The whole motion times a factor, rises included."""
    return track.changed(
        value=track.value * factor,
        keys=tuple(
            key.changed(
                value=key.value * factor,
                arriving=mirrored(key.arriving, factor),
                leaving=mirrored(key.leaving, factor),
            )
            for key in track.keys
        ),
        loose=track.loose.changed(value=track.loose.value * factor) if track.loose else None,
    )


def held(name: str, value: Value) -> Value:
    """A value kept within what its property allows."""
    facts = PROPERTIES[name]
    return tuple(facts.held(number) for number in value)


__all__ = [
    "KeyRef", "Value", "change_key", "change_value", "cleared", "delete_keys", "ease_segments", "held", "insert_key",
    "key_with", "move_keys", "multiplied", "set_key", "shifted", "value_of",
]  # fmt: skip
