"""Pieces of motion: some keys of a lane as a track of their own, turned, mirrored, retimed and played over again.

A piece keeps the shapes of its keys exactly. Where its ends are joined to something else, see weave.py.
"""

from collections.abc import Iterable, Sequence
from typing import Literal, TypeVar

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.changes.keys import delete_keys, shifted
from deftarc.core.changes.places import without_points
from deftarc.core.changes.rebuild import Value, concrete, from_key_to_key, rebuilt, value_of
from deftarc.core.changes.retime import track_retimed
from deftarc.core.changes.reverse import reversed_keys
from deftarc.core.changes.weave import woven
from deftarc.core.curves.sides import mirrored
from deftarc.core.document.keys import PathKey
from deftarc.core.document.track import AnyTrack, BlendTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.spaces.bends import through_matrix, with_own_handles

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)
#: Whether the key that ends a turn and the one that begins the next are one, or both are there, a frame apart.
Shared = Literal["once", "twice"]


def taken(track: T, times: Iterable[int]) -> T:
    """The piece made of some of a track's keys, with their shapes; where others lay between, the gap is closed as when
    these are deleted.
    """
    wanted = set(times)
    chosen = [k for k, time in enumerate(track.key_times) if time in wanted]
    if not chosen:
        raise Refusal("There is no key to take.")
    some = set(chosen)
    last = len(track.keys) - 1
    edges = [k for k in chosen if (k and k - 1 not in some) or (k < last and k + 1 not in some)]
    track = concrete(from_key_to_key(track.changed(loose=None, crafts=())), edges)
    if isinstance(track, PathTrack) and len(chosen) < len(track.keys):
        track = _bends_kept(track, chosen[0], chosen[-1])
    piece = delete_keys(track, {time for time in track.key_times if time not in wanted})
    # What ties call a key by stays with that key: a copy is another one.
    piece = piece.changed(keys=tuple(key.changed(id=None) if key.id is not None else key for key in piece.keys))
    return _trimmed(piece) if isinstance(piece, PathTrack) else piece


def _bends_kept(track: PathTrack, first: int, last: int) -> PathTrack:
    """A path whose ends, where its keys ``first`` to ``last`` will be all, keep the handles they have."""
    low, high = _reach(track.keys[first : last + 1])
    points = with_own_handles(track.points, (low, high), track.closed)
    return track.changed(points=tuple(points), closed=False)


def _reach(keys: Sequence[PathKey]) -> tuple[int, int]:
    """The first and the last point that some keys' motion comes to."""
    places = [key.at for key in keys]
    return int(np.floor(min(places))), int(np.ceil(max(places)))


def _trimmed(track: PathTrack) -> PathTrack:
    """A path without the points that its keys do not come to."""
    first, last = _reach(track.keys)
    if first == 0 and last == len(track.points) - 1:
        return track
    gone = set(range(first)) | set(range(last + 1, len(track.points)))
    keys, points = without_points(track, track.keys, gone)
    return rebuilt(track, keys, points)


def at_times(piece: T, by: int) -> T:
    """A piece moved in time."""
    return track_retimed(piece, lambda time: time + by)


def backwards(piece: T, low: int, high: int) -> T:
    """A piece read backwards within a stretch of time: what was at ``low`` is at ``high``."""
    moves = {time: low + high - time for time in piece.key_times}
    if len(piece.keys) < 2:
        return track_retimed(piece, lambda time: moves.get(time, time))
    return reversed_keys(piece, moves)


def first_value(piece: AnyTrack) -> Value:
    return value_of(piece, 0)


def mirror_image(piece: T, about: Value) -> T:
    """A piece with its values on the other side of a value; colours and outlines have no other side."""
    if isinstance(piece, BlendTrack):
        return piece
    if isinstance(piece, PathTrack):
        matrix = np.array([[-1.0, 0.0, 2 * about[0]], [0.0, -1.0, 2 * about[1]], [0.0, 0.0, 1.0]])
        return piece.changed(points=tuple(through_matrix(point, matrix) for point in piece.points))
    if piece.evenly:
        keys = tuple(key.changed(value=about[0] ** 2 / key.value) for key in piece.keys)
    else:
        keys = tuple(key.changed(value=2 * about[0] - key.value) for key in piece.keys)
    turned = [key.changed(arriving=mirrored(key.arriving, -1.0), leaving=mirrored(key.leaving, -1.0)) for key in keys]
    return rebuilt(piece, turned)


def moved_to(piece: T, value: Value) -> T:
    """A piece shifted so that its first key has a value; ratios are kept where it grows evenly. Colours stay."""
    if isinstance(piece, BlendTrack):
        return piece
    first = first_value(piece)
    if isinstance(piece, NumberTrack) and piece.evenly and value[0] > 0:
        keys = [key.changed(value=key.value * value[0] / first[0]) for key in piece.keys]
        return rebuilt(piece, keys)
    return shifted(piece, tuple(to - at for to, at in zip(value, first, strict=True)))


def growth(piece: AnyTrack) -> Value | None:
    """By how much a piece's value changes from its first key to its last; None where that cannot be added up."""
    if isinstance(piece, BlendTrack):
        return None
    return tuple(b - a for a, b in zip(first_value(piece), value_of(piece, len(piece.keys) - 1), strict=True))


def played(
    piece: T, low: int, high: int, often: int, *, alternate: bool = False, shared: Shared = "once", gap: int = 0,
    adding: bool = False, frame: int = 1,
) -> T:  # fmt: skip
    """A piece several times over, one turn after the other. A turn lasts from ``low`` to ``high``, in flicks, which may
    be longer than its own keys: other lanes are played with it.

    ``alternate`` reads every other turn backwards; ``adding`` begins each turn where the one before ended, and does
    nothing where turns alternate. Where turns meet in one key it is one, or with ``twice`` both are kept a ``frame``
    apart; where they meet at different values the one before ends a flick earlier, so that it jumps and nothing else
    changes. With a ``gap`` the value rests between turns.
    """
    if often * len(piece.keys) > limits.MAX_KEYS_PER_LANE:
        raise Refusal(f"That would be more than {limits.MAX_KEYS_PER_LANE:,} keys in a lane. Take fewer turns.")
    turn = high - low + gap + (frame if shared == "twice" and not gap else 0)
    if often > 1 and turn <= 0:
        raise Refusal("One key has no length to be played over again: leave a gap between the turns.")
    other = backwards(piece, low, high) if alternate else piece
    step = growth(piece) if adding and not alternate else None
    turns = []
    for n in range(often):
        each = other if n % 2 else piece
        turns.append(at_times(further(each, step, n) if step is not None and n else each, n * turn))
    while len(turns) > 1:
        # Two and two: so each key is handled as often as the number of turns can be halved.
        odd = turns[-1:] if len(turns) % 2 else []
        turns = [after_one_another(a, b) for a, b in zip(turns[::2], turns[1::2], strict=False)] + odd
    return turns[0]


def further(piece: T, step: Value, turns: int) -> T:
    """A piece as it is after so many turns that add up."""
    if isinstance(piece, NumberTrack) and piece.evenly:
        # What grows evenly goes on by ratios: from 1 to 2, then from 2 to 4.
        first, last = piece.keys[0].value, piece.keys[-1].value
        return rebuilt(piece, [key.changed(value=key.value * (last / first) ** turns) for key in piece.keys])
    return shifted(piece, tuple(each * turns for each in step))


def after_one_another(one: T, other: T) -> T:
    """Two pieces in turn, the second beginning where or after the first ends."""
    last, first = one.keys[-1], other.keys[0]
    same = _alike(value_of(one, len(one.keys) - 1), first_value(other))
    keys = list(one.keys)
    if last.time >= first.time and not same:
        # It jumps: the turn before ends just before, and rests there for that flick.
        keys[-1] = last.changed(time=first.time - 1, hold=True, steps=None, leaving=None)
        one = one.changed(keys=tuple(keys))
    elif last.time < first.time:
        keys[-1] = last.changed(leaving=None, hold=not same, steps=None)
        one = one.changed(keys=tuple(keys))
        other = other.changed(keys=(first.changed(arriving=None), *other.keys[1:]))
    else:
        # One key for both: it arrives as the one and leaves as the other.
        other = other.changed(keys=(first.changed(arriving=last.arriving), *other.keys[1:]))
    return woven(one, other)


def _alike(one: Value, other: Value) -> bool:
    return all(abs(a - b) <= 1e-9 * max(1.0, abs(a), abs(b)) for a, b in zip(one, other, strict=True))


def fitted(piece: T, low: int, high: int, to: tuple[int, int]) -> T:
    """A piece whose stretch of time, from ``low`` to ``high``, is made another, its shapes with it."""
    if high <= low:
        return at_times(piece, to[0] - low)
    factor = (to[1] - to[0]) / (high - low)
    return track_retimed(piece, lambda time: to[0] + round((time - low) * factor))
