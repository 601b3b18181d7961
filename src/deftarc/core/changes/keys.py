"""What can be done to the keys of one track, and what must not change while it is done.

Plain functions from track to track; the edits call them. “Motion” is the value at every time.
"""

import itertools
from collections.abc import Iterable, Mapping, Sequence
from operator import attrgetter, lt
from typing import TypeVar

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Frozen, each_with
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.insert import insert_key
from deftarc.core.changes.places import ends_together, pinned, settled, without_points
from deftarc.core.changes.rebuild import Value, concrete, key_with, rebuilt, retimed, value_of
from deftarc.core.curves.sides import Side, mirrored
from deftarc.core.document import Scene
from deftarc.core.document.keys import KeyBase, LooseBlend, LooseNumber, LoosePosition, PathKey
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack, BlendTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.spaces.bends import moved as moved_point
from deftarc.core.spaces.points import PathPoint, point_at

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)

_JOINT = attrgetter("joint")
#: What was cut off a flick beside a key may be so fast that it rises further than any number goes.
MOST_RISE = 1e6


class KeyRef(Frozen):
    """A key is named by its layer, its property and its time."""

    layer: str
    property: str
    time: int


def _rescaled(track: AnyTrack, before: Floats, after: Floats) -> list[KeyBase]:
    """The keys with rises in proportion to each segment's new change; unchanged where the change was nought."""
    keys = list(track.keys)
    # Changes are differences of sums: what only these say anew, in their last digits, is no change.
    slack = 1e-14 * float(max(np.abs(before).max(initial=0), np.abs(after).max(initial=0)))
    old, new = before[1:] - before[:-1], after[1:] - after[:-1]
    for k in np.flatnonzero((np.abs(new - old) > slack) & (np.abs(old) >= 1e-12)).tolist():
        factor = float(new[k] / old[k])
        keys[k] = keys[k].changed(leaving=mirrored(keys[k].leaving, factor))
        keys[k + 1] = keys[k + 1].changed(arriving=mirrored(keys[k + 1].arriving, factor))
    return keys


def in_proportion(track: T, before: Floats) -> T:
    """A track whose measures were ``before`` given back its shapes: rises in proportion, smooth joints one speed."""
    return rebuilt(track, mended(_rescaled(track, before, track.measures()), range(len(track.keys))))


def mended(keys: list[KeyBase], around: Iterable[int]) -> list[KeyBase]:
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
    """A key's value changed; its segments keep their shape in proportion, level stays level.

    A pace key of a position is given a point of its own there.
    """
    if isinstance(track, PathTrack):
        track = pinned(track, index)
        points = list(track.points)
        for k in ends_together(track, int(track.keys[index].at)):
            points[k] = moved_point(points[k], value)
        moved = track.changed(points=tuple(points))
        keys = mended(_rescaled(track, track.measures(), moved.measures()), range(len(track.keys)))
        return rebuilt(track, keys, points)
    if isinstance(track, BlendTrack):
        return rebuilt(track, [key.changed(value=value) if k == index else key for k, key in enumerate(track.keys)])
    return change_values(track, {index: value[0]})


def change_values(track: NumberTrack, values: Mapping[int, float]) -> NumberTrack:
    """Several keys' values changed at once, {index: value}; shapes stay in proportion as for one."""
    if track.evenly and min(values.values(), default=1.0) <= 0:
        raise Refusal("What grows evenly stays above nought. Let it grow by amount first.")
    keys = [key.changed(value=values[k]) if k in values else key for k, key in enumerate(track.keys)]
    before, after = track.measures(), track.changed(keys=tuple(keys)).measures()
    shaped = _rescaled(track, before, after)
    # Keys that stay as they were stay the same ones: a lane may have thousands, and what is the same is not written.
    keys = [
        key if key.leaving is each.leaving and key.arriving is each.arriving
        else key.changed(leaving=each.leaving, arriving=each.arriving)
        for key, each in zip(keys, shaped, strict=True)
    ]  # fmt: skip
    around = {k + i for k in values for i in (-1, 0, 1)}
    return rebuilt(track, mended(list(keys), sorted(around)))


def change_value(track: T, time: int, value: Value, keying: bool, half: int = 0) -> T:
    """What a person's change at a time does to a track. A key within ``half`` a frame of it is meant by it.

    No keys: the value itself changes. A key just here: it changes. Elsewhere keyed: with *Keying changes* on a
    key is made here; off, the change stays loose, shown at this time only, until it is keyed or replaced.
    """
    time = track.time_near(time, half)
    if track.keys and time not in track.key_times and not keying:
        return _with_loose(track, time, value)
    track = _without_loose(track)
    if not track.keys:
        if not keying:
            return _with_value(track, value)
        track = insert_key(_with_value(track, value), time)
    elif isinstance(track, PathTrack):
        track = _opened_to_change(track, time)
    else:
        track = insert_key(track, time)
    return change_key(track, track.key_times.index(time), value)


def _opened_to_change(track: PathTrack, time: int) -> PathTrack:
    """A key put in to be moved elsewhere: where new points are automatic it is, and its neighbours remain so."""
    made = insert_key(track, time)
    index = made.key_times.index(time)
    if track.rounded is None or len(made.points) != len(track.points) + 1 or not made.keys[index].rests:
        return made
    place = int(made.keys[index].at)
    points = [*track.points[:place], point_at(made.points[place].spot, track.rounded), *track.points[place:]]
    return in_proportion(made.changed(points=tuple(points)), made.measures())


def _with_value(track: T, value: Value) -> T:
    """A track without keys, at a value."""
    if isinstance(track, PathTrack):
        return PathTrack(value=value, within=track.within, rounded=track.rounded)
    told = value if isinstance(track, BlendTrack) else value[0]
    if isinstance(track, NumberTrack):
        return NumberTrack(value=told, within=track.within, evenly=track.evenly)
    return type(track)(value=told, within=track.within)


def _with_loose(track: T, time: int, value: Value) -> T:
    if isinstance(track, PathTrack):
        return track.changed(loose=LoosePosition(time=time, value=(value[0], value[1])))
    if isinstance(track, BlendTrack):
        return track.changed(loose=LooseBlend(time=time, value=value))
    return track.changed(loose=LooseNumber(time=time, value=value[0]))


def _without_loose(track: T) -> T:
    return track.changed(loose=None) if track.loose is not None else track


def set_key(track: T, time: int, half: int = 0) -> T:
    """A key at a time with what shows there: the loose value of that time, else the motion as it is.

    Where a key stands within ``half`` a frame of it, none is made beside that.
    """
    loose = track.loose
    if loose is None or loose.time != time:
        time = track.time_near(time, half)
    if loose is not None and loose.time == time:
        value = loose.value if isinstance(loose.value, tuple) else (loose.value,)
        return change_value(track, time, value, keying=True)
    made = insert_key(track, time)
    if track.lasts and made is not track and not track.key_times[0] < time < track.key_times[-1]:
        # Beyond the keys something else shows than they hold: the key has that.
        return change_key(made, made.key_times.index(time), track.at(time))
    return made


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
        left, right = (_longer(side, whole / part) for side, part in ((left, first), (right, last)))
        if left is not None and right is not None and left.reach + right.reach > 1:
            fit = 1 / (left.reach + right.reach)
            left, right = (Side(reach=s.reach * fit, rise=s.rise * fit) for s in (left, right))
        keys[i] = keys[i].changed(leaving=left)
        keys[i + 1] = keys[i + 1].changed(arriving=right)
    if isinstance(track, PathTrack):
        resting = {int(track.keys[k].at) for k in kept if track.keys[k].rests}
        lost = {int(track.keys[k].at) for k in gone if track.keys[k].rests} - resting
        # A path keeps a point where a pace key stands alone.
        lost -= {0} if len(lost) >= len(track.points) else set()
        placed, points = without_points(track, [key for key in keys if isinstance(key, PathKey)], lost)
        placed = settled(placed, points)
        fitted = _fitted_to_path(track, placed, kept, points)
        return rebuilt(track, fitted, points)
    return rebuilt(track, keys)


def _longer(side: Side | None, factor: float) -> Side | None:
    """A side over a longer time at the same speed, as far as there are numbers for it."""
    if side is None or abs(side.rise * factor) <= MOST_RISE:
        return mirrored(side, factor)
    return Side(reach=side.reach * MOST_RISE / abs(side.rise * factor), rise=MOST_RISE if side.rise > 0 else -MOST_RISE)


def _fitted_to_path(
    track: PathTrack, keys: Sequence[PathKey], kept: list[int], points: list[PathPoint]
) -> list[KeyBase]:
    """Rises scaled where leaving a point out made the way between two kept keys shorter."""
    old = track.measures()
    new = track.changed(points=tuple(points), keys=tuple(keys)).measures()
    out: list[KeyBase] = list(keys)
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
    landing = [moves.get(time, time) for time in present]
    if all(map(lt, landing, landing[1:])):
        # In the order they were in, as mostly.
        keys: list[KeyBase] = each_with(track.keys, "time", landing)
        bare, smooth = _parts_moved(track, moves), "smooth" in map(_JOINT, keys)
        return retimed(bare, mended(keys, range(len(keys))) if smooth else keys, landing, only=not smooth)
    target = {k: moves.get(time, time) for k, time in enumerate(present)}
    moved = {k for k, time in enumerate(present) if time in moves}
    taken = {target[k] for k in moved}
    if len(taken) < len(moved):
        raise Refusal("Two keys of one lane would stand at the same time. Move them by less.")
    order = sorted((k for k in target if k in moved or target[k] not in taken), key=lambda k: target[k])
    keys = [track.keys[k].changed(time=target[k]) for k in order]
    track = _parts_moved(track, moves)
    if not isinstance(track, PathTrack) or order == list(range(len(present))):
        return rebuilt(track, mended(keys, range(len(keys))))
    return _reordered(track, order, [key for key in keys if isinstance(key, PathKey)])


def _parts_moved(track: T, moves: Mapping[int, int]) -> T:
    """What part of the keys is played again goes with its key."""
    for side in ("before", "after"):
        told = getattr(track, side)
        if told is not None and told.part in moves:
            track = track.changed(**{side: told.changed(part=moves[told.part])})
    return track


def _reordered(track: PathTrack, order: list[int], keys: list[PathKey]) -> PathTrack:
    """Keys of a position in a new order: their points go with them, pace keys keep their place on the path."""
    points = list(track.points)
    resting = [n for n, k in enumerate(order) if track.keys[k].rests]
    slots = sorted({int(keys[n].at) for n in resting})
    if len(slots) == len(resting):
        spots = [track.points[int(keys[n].at)].spot for n in resting]
        for slot, spot, n in zip(slots, spots, resting, strict=True):
            points[slot] = moved_point(points[slot], spot)
            keys[n] = keys[n].changed(at=float(slot))
    left = {n for n in range(len(points)) if n not in slots}
    lost = left & {int(key.at) for key in track.keys if key.rests}
    keys, points = without_points(track.changed(points=tuple(points)), keys, lost)
    made = rebuilt(track, settled(keys, points), points)
    old = track.measures()
    if len(keys) != len(old):
        return rebuilt(made, mended(list(made.keys), range(len(keys))))
    return rebuilt(made, mended(_rescaled(made, old, made.measures()), range(len(keys))))


def shifted(track: T, by: Value) -> T:
    """The whole motion moved by a value: every key, the resting value and a loose one; no key is added."""
    goes_on = track.going_on(lambda value: tuple(at + more for at, more in zip(value, by, strict=True)))
    if isinstance(track, PathTrack):
        loose = track.loose
        return track.changed(
            **goes_on,
            value=(track.value[0] + by[0], track.value[1] + by[1]),
            points=tuple(moved_point(point, (point.x + by[0], point.y + by[1])) for point in track.points),
            loose=loose.changed(value=(loose.value[0] + by[0], loose.value[1] + by[1])) if loose else None,
        )
    if isinstance(track, BlendTrack):
        raise Refusal("A colour or an outline cannot be shifted by a number.")
    track = by_amount(track)
    loose_number = track.loose
    return track.changed(
        **goes_on,
        value=track.value + by[0],
        keys=tuple(key.changed(value=key.value + by[0]) for key in track.keys),
        loose=loose_number.changed(value=loose_number.value + by[0]) if loose_number else None,
    )


def multiplied(track: NumberTrack, factor: float) -> NumberTrack:
    """The whole motion times a factor, rises included."""
    goes_on = track.going_on(lambda value: tuple(at * factor for at in value))
    if track.evenly and factor > 0:
        # In logarithms a factor is a shift: rises stay.
        keys = tuple(key.changed(value=key.value * factor) for key in track.keys)
        loose = track.loose.changed(value=track.loose.value * factor) if track.loose else None
        return track.changed(value=track.value * factor, keys=keys, loose=loose, **goes_on)
    track = by_amount(track)
    return track.changed(
        **goes_on,
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


def by_amount(track: NumberTrack) -> NumberTrack:
    """A track that grows evenly made one that grows by amount; its speeds at the keys stay."""
    return _measured(track, False) if track.evenly else track


def evenly(track: NumberTrack) -> NumberTrack:
    """A track whose measure is the logarithm, the speeds at its keys as they were."""
    if track.evenly:
        return track
    if any(key.value <= 0 for key in track.keys):
        raise Refusal("Only what stays above nought can grow evenly: a logarithm knows no nought.")
    return _measured(track, True)


def _measured(track: NumberTrack, even: bool) -> NumberTrack:
    track = concrete(track, range(len(track.keys))) if track.keys else track
    factors = [1 / key.value if even else key.value for key in track.keys]
    keys = tuple(
        key.changed(leaving=mirrored(key.leaving, f), arriving=mirrored(key.arriving, f))
        for key, f in zip(track.keys, factors, strict=True)
    )
    return track.changed(keys=keys, evenly=even)


def held(name: str, value: Value) -> Value:
    """A value kept within what its property allows."""
    facts = PROPERTIES[name]
    return tuple(facts.held(number) for number in value)


def still_there(scene: Scene, keys: tuple[KeyRef, ...]) -> list[KeyRef]:
    """Those of some keys that a scene has."""
    by_id = {layer.id: layer for layer in scene.layers}
    return [
        ref for ref in keys
        if (layer := by_id.get(ref.layer)) is not None
        and (track := layer.tracks.get(ref.property)) is not None
        and ref.property in layer.properties
        and ref.time in track.key_set
    ]  # fmt: skip


__all__ = [
    "KeyRef", "Value", "by_amount", "change_key", "change_value", "change_values", "cleared", "delete_keys", "evenly",
    "held", "in_proportion", "insert_key", "key_with", "mended", "move_keys", "multiplied", "set_key", "shifted",
    "still_there", "value_of",
]  # fmt: skip
