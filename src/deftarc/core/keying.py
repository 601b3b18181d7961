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
from deftarc.core.model import Frozen
from deftarc.core.properties import PROPERTIES
from deftarc.core.space import Path
from deftarc.core.time import FLICKS
from deftarc.core.track import (
    AnyTrack,
    BlendKey,
    BlendTrack,
    ColourTrack,
    KeyBase,
    LooseBlend,
    LooseNumber,
    LoosePosition,
    NumberKey,
    NumberTrack,
    OutlineTrack,
    PathKey,
    PathTrack,
    Side,
)

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)
Value = tuple[float, ...]


class KeyRef(Frozen):
    """A key is named by its layer, its property and its time."""

    layer: str
    property: str
    time: int


def rebuilt(track: T, keys: Iterable[KeyBase], points: Iterable[tuple[float, float]] | None = None) -> T:
    """The track with other keys (and points), checked; places are numbered anew."""
    row = tuple(keys)
    if isinstance(track, PathTrack):
        spots = tuple(track.points if points is None else points)
        placed = tuple(PathKey(**{**_fields(key), "at": float(index)}) for index, key in enumerate(row))
        return PathTrack(value=track.value, points=spots, keys=placed, loose=track.loose)
    return type(track)(value=track.value, keys=row, loose=track.loose)


def _fields(key: KeyBase) -> dict[str, object]:
    return {
        "time": key.time, "arriving": key.arriving, "leaving": key.leaving, "hold": key.hold, "joint": key.joint,
    }  # fmt: skip


def value_of(track: AnyTrack, index: int) -> Value:
    """The value of a key, as components."""
    if isinstance(track, PathTrack):
        x, y = (
            track.path.position(
                track.measures()[index : index + 1],
                *track.stretch(np.array([max(0, min(index, len(track.keys) - 2))])),
            )[0]
            if len(track.keys) > 1
            else track.points[0]
        )
        return (float(x), float(y))
    value = track.keys[index].value
    return value if isinstance(value, tuple) else (value,)


def key_with(track: AnyTrack, key: KeyBase, value: Value) -> KeyBase:
    """A key of the kind a track has, with the sides of another and a value. Not for paths, whose values are points."""
    if isinstance(track, BlendTrack):
        return BlendKey(**{**_fields(key), "value": value})
    return NumberKey(**{**_fields(key), "value": value[0]})


def _side(reach: float, rise: float) -> Side:
    return Side(reach=min(max(reach, 0.0), 4 / 3), rise=rise)


def insert_key(track: T, time: int) -> T:
    """A key at a time, on the motion as it is, which does not change anywhere (de Casteljau's split).

    On a path the key rests on a new point there. Where a key stands already the track is returned as it is.
    """
    times = track.key_times
    if time in times:
        return track
    if not times:
        if isinstance(track, PathTrack):
            made = PathTrack(value=track.value, points=(track.value,), keys=(PathKey(time=time, at=0.0),))
            return made.changed(loose=track.loose)
        return rebuilt(track, [key_with(track, _blank(time), track.resting())])
    if time < times[0] or time > times[-1]:
        return _append_outside(track, time)
    index = int(np.searchsorted(times, time)) - 1
    curve = track.curve
    left, right = track.keys[index], track.keys[index + 1]
    if curve.hold[index]:
        measure = float(curve.measures[index])
        split = (left, _blank(time, hold=True), right)
        return _with_inserted(track, index, time, measure, split, (1.0, 1.0))
    fraction = np.array([(time - times[index]) / (times[index + 1] - times[index])])
    u = float(curve.parameter(np.array([index]), fraction)[0])
    share = float(fraction[0])
    p = [float(row[index]) for row in curve.control_measures()]
    x = [0.0, float(curve.a[index]), 1.0 - float(curve.b[index]), 1.0]
    (x01, x12, x23), (y01, y12, y23) = (_between(row, u) for row in (x, p))
    (xa, xb), (ya, yb) = _between([x01, x12, x23], u), _between([y01, y12, y23], u)
    measure = ya + (yb - ya) * u
    straight = left.leaving is None and right.arriving is None
    if straight:
        new, first, second = _blank(time), left, right
    else:
        first = left.changed(leaving=_side(x01 / share, y01 - p[0]))
        second = right.changed(arriving=_side((1 - x23) / (1 - share), p[3] - y23))
        new = _blank(time).changed(
            arriving=_side((share - xa) / share, measure - ya),
            leaving=_side((xb - share) / (1 - share), yb - measure),
            joint="smooth",
        )
    signs = _turned(track, index, measure)
    return _with_inserted(track, index, time, measure, (first, new, second), signs)


def _between(row: list[float], u: float) -> list[float]:
    return [a + (b - a) * u for a, b in itertools.pairwise(row)]


def _blank(time: int, hold: bool = False) -> KeyBase:
    return KeyBase(time=time, hold=hold)


def _append_outside(track: T, time: int) -> T:
    """A key before the first or after the last one, at the value held there.

    What the end key kept for a segment it did not have (a handle, a hold) would now begin to act, and is dropped.
    """
    keys: list[KeyBase] = list(track.keys)
    at = 0 if time < keys[0].time else len(keys)
    if at:
        keys[-1] = keys[-1].changed(leaving=None, hold=False, joint="corner")
    else:
        keys[0] = keys[0].changed(arriving=None, joint="corner")
    if isinstance(track, PathTrack):
        points = list(track.points)
        points.insert(at, points[0] if at == 0 else points[-1])
        keys.insert(at, PathKey(time=time, at=0.0))
        return rebuilt(track, keys, points)
    value = value_of(track, 0 if at == 0 else len(track.keys) - 1)
    keys.insert(at, key_with(track, _blank(time), value))
    return rebuilt(track, keys)


def _turned(track: AnyTrack, index: int, measure: float) -> tuple[float, float]:
    """Whether distance runs the other way on the left and on the right of a point put in at ``measure``.

    Within the stretch it never does; beyond its end (an overshoot) the way on leads back, and so mirrored.
    """
    if not isinstance(track, PathTrack):
        return (1.0, 1.0)
    low, high = (float(m) for m in track.curve.measures[index : index + 2])
    if measure > high:
        return (1.0, -1.0)
    return (-1.0, 1.0) if measure < low else (1.0, 1.0)


def _mirrored(side: Side | None, sign: float) -> Side | None:
    return None if side is None else Side(reach=side.reach, rise=side.rise * sign)


def _with_inserted(
    track: T,
    index: int,
    time: int,
    measure: float,
    three: tuple[KeyBase, KeyBase, KeyBase],
    signs: tuple[float, float],
) -> T:
    left, new, right = three
    keys: list[KeyBase] = list(track.keys)
    if isinstance(track, PathTrack):
        spot = track.path.position(np.array([measure]), *track.stretch(np.array([index])))[0]
        points = list(track.points)
        points.insert(index + 1, (float(spot[0]), float(spot[1])))
        keys[index : index + 2] = [
            left.changed(leaving=_mirrored(left.leaving, signs[0])),
            new.changed(arriving=_mirrored(new.arriving, signs[0]), leaving=_mirrored(new.leaving, signs[1])),
            right.changed(arriving=_mirrored(right.arriving, signs[1])),
        ]
        if signs != (1.0, 1.0):
            keys[index + 1] = keys[index + 1].changed(joint="corner")
        _turn_resting(track, index, points, keys)
        return rebuilt(track, keys, points)
    if isinstance(track, BlendTrack):
        # Each half is a segment of its own now, and its rises are shares of that.
        share = measure - index
        before, after = (1 / part if abs(part) > 1e-9 else 0.0 for part in (share, 1 - share))
        keys[index : index + 2] = [
            left.changed(leaving=_mirrored(left.leaving, before)),
            key_with(track, new, track.at(time)).changed(
                arriving=_mirrored(new.arriving, before), leaving=_mirrored(new.leaving, after),
                joint="corner" if new.joint == "corner" or abs(before - after) > 1e-9 else "smooth",
            ),
            right.changed(arriving=_mirrored(right.arriving, after)),
        ]  # fmt: skip
        return rebuilt(track, keys)
    keys[index : index + 2] = [left, key_with(track, new, (measure,)), right]
    return rebuilt(track, keys)


def _turn_resting(track: PathTrack, index: int, points: list[tuple[float, float]], keys: list[KeyBase]) -> None:
    """Rises mirrored in spans of no length that a new point after ``index`` has turned the other way.

    Such a span takes its direction from its neighbours, and its motion (an overshoot in place) goes that way.
    """
    before, after = track.path.directions, Path(np.array(points, dtype=np.float64)).directions
    lengths = np.diff(track.path.lengths)
    for span in range(len(before)):
        now = span if span < index else span + 1
        if span != index and lengths[span] == 0 and float(before[span] @ after[now]) < 0:
            keys[now] = keys[now].changed(leaving=_mirrored(keys[now].leaving, -1.0), joint="corner")
            keys[now + 1] = keys[now + 1].changed(arriving=_mirrored(keys[now + 1].arriving, -1.0), joint="corner")


def _rescaled(track: AnyTrack, before: Floats, after: Floats) -> list[KeyBase]:
    """The keys with rises in proportion to each segment's new change; unchanged where the change was nought."""
    keys = list(track.keys)
    for k in range(len(keys) - 1):
        old, new = before[k + 1] - before[k], after[k + 1] - after[k]
        if old == new or abs(old) < 1e-12:
            continue
        factor = new / old
        keys[k] = keys[k].changed(leaving=_mirrored(keys[k].leaving, factor))
        keys[k + 1] = keys[k + 1].changed(arriving=_mirrored(keys[k + 1].arriving, factor))
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
        left = _mirrored(left, whole / first)
        right = _mirrored(right, whole / last)
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
            out[i] = out[i].changed(leaving=_mirrored(out[i].leaving, now / before))
            out[i + 1] = out[i + 1].changed(arriving=_mirrored(out[i + 1].arriving, now / before))
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
                arriving=_mirrored(key.arriving, factor),
                leaving=_mirrored(key.leaving, factor),
            )
            for key in track.keys
        ),
        loose=track.loose.changed(value=track.loose.value * factor) if track.loose else None,
    )


def held(name: str, value: Value) -> Value:
    """A value kept within what its property allows."""
    facts = PROPERTIES[name]
    return tuple(facts.held(number) for number in value)
