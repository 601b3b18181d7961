"""What goes on before and after a lane's keys, made into ordinary keys."""

from typing import TypeVar

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.insert import insert_key
from deftarc.core.changes.keys import delete_keys
from deftarc.core.changes.pieces import after_one_another, at_times, backwards, further, growth, taken
from deftarc.core.changes.rebuild import from_key_to_key, key_with, rebuilt
from deftarc.core.changes.weave import woven
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.keys import KeyBase, PathKey
from deftarc.core.document.lasting import FURTHEST
from deftarc.core.document.track import AnyTrack, BlendTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.spaces.points import PathPoint

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)


def baked(track: T, low: int, high: int) -> T:
    """A track whose keys reach from ``low`` to ``high``, in flicks, with what went on before and after them; outside of
    that it holds. Refusal where that would be too many keys.
    """
    if not track.lasts:
        return track
    after, before = track.after, track.before
    # Its ends have speeds that hang on the cycle: what is made of it has them as they are.
    track = from_key_to_key(track).changed(before=before, after=after)
    first, last = track.key_times[0], track.key_times[-1]
    made = track
    if after is not None and (high > last or after.how == "rest"):
        made = _after_baked(made, after, high)
    made = made.changed(after=None)
    if before is None or (low >= first and before.how != "rest"):
        return made.changed(before=None)
    # The same read backwards: what went on before goes on after.
    ends = (made.key_times[0], made.key_times[-1])
    turned = backwards(made.changed(before=None), *ends)
    mirror = ends[0] + ends[1]
    # What is played again before is what the keys were, not what came after them.
    part = before.part if before.part is not None else last
    told = before.changed(part=mirror - part)
    back = _after_baked(turned.changed(before=None, after=told), told, mirror - low)
    # One key read backwards is itself; more are moved by what they are read about.
    return backwards(back.changed(after=None), *ends)


def _after_baked(track: T, after: Beyond, high: int) -> T:
    bare = track.changed(after=None)
    if after.how == "rest":
        return _resting(bare, after)
    if after.how == "continue":
        return _continued(bare, high)
    a, b = track.cycle("after")
    times = track.key_times
    begins, ends = times[a], times[b]
    length = ends - begins
    if length <= 0:
        return bare
    piece = taken(track, times[a:])
    turns, stop = int(np.ceil((high - ends) / length)), high
    if after.count is not None:
        stop = ends + round((after.count - 1) * length)
        turns = min(turns, int(np.ceil(after.count - 1)))
    if turns * len(piece.keys) > limits.MAX_KEYS_PER_LANE:
        raise Refusal(f"That would be more than {limits.MAX_KEYS_PER_LANE:,} keys in a lane. Choose a shorter stretch.")
    back = backwards(piece, begins, ends) if after.how == "alternate" else piece
    step = growth(piece) if after.how == "accumulate" else None
    rows: list[T] = [bare.changed(before=None)]
    for n in range(turns):
        each = back if n % 2 == 0 else piece
        rows.append(at_times(further(each, step, n + 1) if step is not None else each, (n + 1) * length))
    while len(rows) > 1:
        odd = rows[-1:] if len(rows) % 2 else []
        rows = [after_one_another(x, y) for x, y in zip(rows[::2], rows[1::2], strict=False)] + odd
    made = rows[0].changed(before=track.before)
    return _cut(made, stop) if stop < made.key_times[-1] and after.count is not None else made


def _cut(track: T, stop: int) -> T:
    """A track that ends at a moment, with the value it has just then."""
    if isinstance(track, PathTrack):
        # The path goes on beyond: what the motion has yet to pass of it may bend the way that is left.
        track = insert_key(track, stop, pace=True) if stop not in track.key_set else track
        return rebuilt(track, [key for key in track.keys if key.time <= stop])
    track = insert_key(track, stop) if stop not in track.key_set else track
    return delete_keys(track, {time for time in track.key_times if time > stop})


def _resting(track: T, after: Beyond) -> T:
    """The value it rests at, from just after the last key on."""
    last = track.keys[-1]
    value = after.value or track.resting()
    key = KeyBase(time=last.time + 1)
    held: list[KeyBase] = [*track.keys[:-1], last.changed(hold=True, steps=None)]
    if isinstance(track, PathTrack):
        point = PathPoint(x=value[0], y=value[1])
        rest = track.changed(points=(point,), keys=(PathKey(time=last.time + 1, at=0.0),), closed=False)
        return woven(track.changed(keys=tuple(held)), rest)
    return rebuilt(track, [*held, key_with(track, key, value)])


def _continued(track: T, high: int) -> T:
    """One more key, as far on as the speed at the end leads to by a moment."""
    last = track.keys[-1]
    speed = float(track.curve.speed(np.array([float(last.time)]))[0])
    if not np.isfinite(speed) or high <= last.time or isinstance(track, BlendTrack):
        return track
    way = float(np.clip(speed * (high - last.time) / FLICKS, -FURTHEST, FURTHEST))
    keys: list[KeyBase] = [
        *track.keys[:-1],
        last.changed(leaving=None, hold=False, steps=None, joint="corner", automatic=None),
    ]
    if isinstance(track, PathTrack):
        more = PathKey(time=high, at=track.keys[-1].at, past=track.keys[-1].past + way, pace=True)
        return rebuilt(track, [*keys, more])
    measure = float(track.measures()[-1]) + way
    return rebuilt(track, [*keys, key_with(track, KeyBase(time=high), (float(track.valued(np.array(measure))),))])
