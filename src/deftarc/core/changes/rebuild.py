"""What every change of a track is made with: the track rebuilt from other keys, and a key's value and sides."""

from collections.abc import Callable, Iterable, Sequence
from typing import Any, TypeVar
from weakref import ref

import numpy as np

from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import CHECKED, RETIMED
from deftarc.core.base.working import at_work
from deftarc.core.curves.sides import Side
from deftarc.core.document.keys import BlendKey, KeyBase, NumberKey, PathKey
from deftarc.core.document.soundness import sound
from deftarc.core.document.track import (
    OF_POINTS,
    AnyTrack,
    BlendTrack,
    ColourTrack,
    NumberTrack,
    OutlineTrack,
    PathTrack,
)
from deftarc.core.spaces.points import PathPoint

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)
Value = tuple[float, ...]
#: How many keys on either side of one show what becomes of it: an automatic joint looks at its neighbours, and what is
#: done to a key, at the joints beside it.
BESIDE = 4
_SIDES = ("time", "arriving", "leaving", "hold", "steps", "joint", "automatic", "id")


def rebuilt(track: T, keys: Iterable[KeyBase], points: Iterable[PathPoint | tuple[float, float]] | None = None) -> T:
    """The track with other keys (and points, which the keys' places count in), checked."""
    fresh: dict[str, Any] = {"keys": tuple(keys)}
    row = tuple(points) if points is not None else None
    if isinstance(track, PathTrack) and track.closed:
        fresh["closed"] = is_closed(track.points if row is None else row)
    if isinstance(track, PathTrack) and row is not None:
        told = {name: getattr(track, name) for name in type(track).model_fields}
        return type(track)(**{**told, **fresh, "points": row})
    # Its keys are sound one by one, as whoever made them made them, and are not read through once more.
    made = track.changed(**fresh)
    if isinstance(track, PathTrack) and fresh.get("closed", track.closed) == track.closed:
        _carry_points(track, made)
    try:
        return sound(made)
    except ValueError as error:
        raise Refusal(f"This: {error}") from None


def _carry_points(track: AnyTrack, made: AnyTrack) -> None:
    """What was worked out from the points of a path alone, for a track with the same ones."""
    for name in OF_POINTS:
        if name in track.__dict__:
            made.__dict__[name] = track.__dict__[name]


def one_by_one(track: T, indices: Sequence[int], change: Callable[[T, int], T]) -> T:
    """A track with a change made to each of some keys in turn, each on what those before it made.

    A change keeps the points of a path, touches the key and the one after it, may put keys between these two, and looks
    no further than to the keys beside them: it is shown no more of the track than ``BESIDE`` keys on either side, so
    that thousands of keys take as long as they are many. Where keys come in, ``indices`` go from the last to the first.
    """
    if isinstance(track, PathTrack) and track.points:
        # Worked out once, for all parts of it.
        _ = track.path
    keys: list[Any] = list(track.keys)
    fresh = False
    for k in at_work(indices):
        low, high = max(k - BESIDE, 0), min(k + BESIDE + 1, len(keys))
        if track.lasts and (low == 0 or high == len(keys)):
            # The ends of a cycle look at each other.
            low, high = 0, len(keys)
            part = track.changed(keys=tuple(keys))
        else:
            part = track.changed(keys=tuple(keys[low:high]), before=None, after=None)
        _carry_points(track, part)
        made = change(part, k - low)
        if made is not part:
            keys[low:high] = made.keys
            fresh = True
    return rebuilt(track, keys) if fresh else track


def retimed(track: T, keys: Iterable[KeyBase], times: list[int], only: bool = True) -> T:
    """The track with its keys at other times, rising, in the order they were in and with the reaches they had: what is
    asked of them together holds as it did. ``only`` says that nothing else of them is another.
    """
    made = track.changed(keys=tuple(keys))
    made.__dict__["key_times"] = times
    if CHECKED in track.__dict__:
        made.__dict__[CHECKED] = True
        if only:
            made.__dict__[RETIMED] = ref(track)
    return made


#: What is no further apart than this, in px, is in one place.
SAME_SPOT = 1e-6


def is_closed(points: Sequence[PathPoint | tuple[float, float]]) -> bool:
    """Whether a row of points may still be a closed path: whoever takes an end away opens it."""
    first, last = (point.spot if isinstance(point, PathPoint) else point for point in (points[0], points[-1]))
    return len(points) > 2 and first == last


def fields_of(key: KeyBase) -> dict[str, object]:
    """All of a key but its value."""
    return {name: getattr(key, name) for name in _SIDES}


def value_of(track: AnyTrack, index: int) -> Value:
    """The value of a key, as components."""
    if isinstance(track, PathTrack):
        key = track.keys[index]
        if key.rests:
            return track.points[int(key.at)].spot
        segment = np.array([max(0, min(index, len(track.keys) - 2))])
        x, y = track.path.position(track.measures()[index : index + 1], *track.stretch(segment))[0]
        return (float(x), float(y))
    value = track.keys[index].value
    return value if isinstance(value, tuple) else (value,)


def key_with(track: AnyTrack, key: KeyBase, value: Value) -> KeyBase:
    """A key of the kind a track has, with the sides of another and a value. Not for paths, whose values are places."""
    if isinstance(track, BlendTrack):
        return BlendKey(**{**fields_of(key), "value": value})
    return NumberKey(**{**fields_of(key), "value": value[0]})


def key_at(track: AnyTrack, key: KeyBase, measure: float, segment: int) -> KeyBase:
    """A key of the kind a track has, with the sides of another, where its curve has a measure in a time segment.

    On a path it is a pace key, past the stretch that the segment travels where the measure lies beyond.
    """
    if isinstance(track, PathTrack):
        told = track.stretch(np.array([max(0, min(segment, len(track.keys) - 2))]))
        first, last = (int(n[0]) for n in (track.path.reach(*told) if len(track.points) > 1 else told))
        lengths = track.path.lengths
        end = min(last + 1, len(lengths) - 1)
        at: float
        if measure > lengths[end]:
            at, past = float(end), measure - float(lengths[end])
        elif measure < lengths[first]:
            at, past = float(first), measure - float(lengths[first])
        else:
            at, past = min(max(track.path.place_at(measure), first), end), 0.0
        return PathKey(**{**fields_of(key), "at": at, "past": past if abs(past) > 1e-9 else 0.0, "pace": True})
    if isinstance(track, BlendTrack):
        k = max(0, min(segment, len(track.keys) - 2))
        share = np.array([measure - k])
        value = track.mixed(track.rows[k : k + 1], track.rows[k + 1 : k + 2], share)[0]
        return key_with(track, key, tuple(float(number) for number in value))
    return key_with(track, key, (float(track.valued(np.array(measure))),))


def side_of(reach: float, rise: float) -> Side:
    return Side(reach=min(max(reach, 0.0), 4 / 3), rise=rise)


def concrete(track: T, around: Iterable[int]) -> T:
    """Automatic keys among those ``around`` made smooth, with the sides they had worked out for themselves."""
    chosen = [k for k in around if 0 <= k < len(track.keys) and track.keys[k].joint == "automatic"]
    if not chosen:
        return track
    curve = track.bare
    keys: list[KeyBase] = list(track.keys)
    for k in chosen:
        leaving = Side(reach=float(curve.a[k]), rise=float(curve.la[k])) if k < len(curve.a) else None
        arriving = Side(reach=float(curve.b[k - 1]), rise=float(curve.lb[k - 1])) if k else None
        how = keys[k].automatic
        joint = "smooth" if leaving is None or arriving is None or how is None or how.continuity == 0 else "corner"
        keys[k] = keys[k].changed(leaving=leaving, arriving=arriving, joint=joint, automatic=None)
    return track.changed(keys=tuple(keys))


def from_key_to_key(track: T) -> T:
    """A track that holds before its keys and after them, the motion between them as it was: automatic ends of a cycle
    keep the speeds they had around it.
    """
    if not track.lasts:
        return track.changed(before=None, after=None)
    return concrete(track, (0, len(track.keys) - 1)).changed(before=None, after=None)
