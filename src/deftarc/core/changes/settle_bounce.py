"""Settles and bounces put into a track as ordinary keys, found again while no hand has changed them, and made anew."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.ease import with_shape
from deftarc.core.changes.insert import insert_key
from deftarc.core.changes.rebuild import concrete, key_at, one_by_one, rebuilt
from deftarc.core.curves.knots import Knot
from deftarc.core.curves.sides import Side, mirrored
from deftarc.core.document.craft import AnyCraft, Bounce, Settle, knots_of
from deftarc.core.document.keys import KeyBase
from deftarc.core.document.track import AnyTrack, BlendTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.spaces.bends import with_own_handles
from deftarc.core.spaces.points import point_at

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)


@dataclass(frozen=True)
class Found:
    """A settle or a bounce that its keys still show: from key ``first`` to key ``last`` (indices)."""

    first: int
    last: int
    craft: AnyCraft


def crafts_in(track: AnyTrack) -> list[Found]:
    """The crafts whose keys are still just what they made, wherever those have been moved."""
    out: list[Found] = []
    if not track.crafts or not track.keys:
        return out
    measures = track.measures()
    for craft in track.crafts:
        knots = knots_of(craft)
        for first in range(len(track.keys) - len(knots) + 1):
            if _shows(track, measures, first, craft, knots):
                out.append(Found(first, first + len(knots) - 1, craft))
    return out


def craft_at(track: AnyTrack, index: int) -> Found | None:
    """The craft that a key is part of; at a key where one ends and the next begins, the one that begins."""
    found = [each for each in crafts_in(track) if each.first <= index <= each.last]
    return max(found, key=lambda each: each.first, default=None)


def _shows(track: AnyTrack, measures: np.ndarray, first: int, craft: AnyCraft, knots: list[Knot]) -> bool:
    keys = track.keys[first : first + len(knots)]
    size = float(measures[first + len(knots) - 1] - measures[first]) if craft.between else 1.0
    if size == 0:
        return False
    near = 1e-6 * max(abs(size), abs(craft.far if isinstance(craft, Settle) else craft.height))
    for n, (key, knot) in enumerate(zip(keys, knots, strict=True)):
        if abs(key.time - keys[0].time - round(knot.x * craft.soon * FLICKS)) > 1:
            return False
        if abs(float(measures[first + n] - measures[first]) - knot.y * size) > near:
            return False
        if key.joint != "corner" or (n and not _alike(key.arriving, knot.arriving, size, near)):
            return False
        if n < len(knots) - 1 and (key.stepped or not _alike(key.leaving, knot.leaving, size, near)):
            return False
    return True


def _alike(side: Side | None, told: Side | None, size: float, near: float) -> bool:
    if side is None or told is None:
        return side is told
    return abs(side.reach - told.reach) < 1e-9 and abs(side.rise - told.rise * size) <= near


def remembered(track: T, *crafts: AnyCraft) -> T:
    """The track with the records of some crafts; records that no keys show any more are let go."""
    still: list[AnyCraft] = [each.craft for each in crafts_in(track)]
    kept = list(dict.fromkeys([*crafts, *still]))[: limits.MAX_CRAFTS]
    return track.changed(crafts=tuple(kept))


def between_keys(track: T, index: int, craft: AnyCraft) -> T:
    """The segment after a key made a settle or a bounce that takes ``craft.soon``; the second key moves to its end."""
    return remembered(_between(track, index, craft), craft)


def between_all(track: T, indices: Sequence[int], craft: AnyCraft) -> T:
    """The segments after some keys, none of them the last, made settles or bounces, each as long as it is."""
    made: list[AnyCraft] = []

    def one(part: T, k: int) -> T:
        made.append(craft.changed(soon=(part.keys[k + 1].time - part.keys[k].time) / FLICKS))
        return _between(part, k, made[-1])

    # From the last to the first: what comes in between two keys moves none that is still to come.
    track = one_by_one(track, sorted(indices, reverse=True), one)
    return remembered(track, *made[::-1])


def _between(track: T, index: int, craft: AnyCraft) -> T:
    if isinstance(track, BlendTrack):
        raise Refusal("A colour or an outline cannot swing past its keys. Settle a number or a position.")
    if index >= len(track.keys) - 1:
        raise Refusal("It takes two keys: one where it begins, one where it comes to rest.")
    measures = track.measures()
    if abs(float(measures[index + 1] - measures[index])) < 1e-9:
        raise Refusal("Both keys have one value, so there is no way to swing about. Change one, or use the playhead.")
    end = track.keys[index].time + round(craft.soon * FLICKS)
    if index + 2 < len(track.keys) and end >= track.keys[index + 2].time:
        raise Refusal("It would last beyond the key after it. Make it shorter, or move that key.")
    keys: list[KeyBase] = list(track.keys)
    keys[index] = keys[index].changed(hold=False, steps=None)
    keys[index + 1] = keys[index + 1].changed(time=end)
    return with_shape(rebuilt(track, keys), index, knots_of(craft))


def at_playhead(track: T, time: int, craft: AnyCraft) -> T:
    """A settle or a bounce that begins at a time with the value there. A position drops straight down to bounce,
    on a path of its own, and settles along the way it has come.
    """
    if isinstance(track, BlendTrack):
        raise Refusal("A colour or an outline cannot swing past its keys. Settle a number or a position.")
    knots = knots_of(craft)
    times = [time + round(knot.x * craft.soon * FLICKS) for knot in knots]
    if any(later <= earlier for earlier, later in itertools.pairwise(times)):
        raise Refusal("There is not time enough for so many swings. Let it take longer.")
    if any(time < other <= times[-1] for other in track.key_times):
        raise Refusal("There are keys in the way: it needs its time free of others. Go on, or make it shorter.")
    if isinstance(track, PathTrack):
        return _on_path(track, time, times, craft, knots)
    made = insert_key(track, time)
    index = made.key_times.index(time)
    made = concrete(made, (index, index + 1))
    start = float(made.measures()[index])
    return remembered(_with_row(made, index, times, knots, [start + knot.y for knot in knots]), craft)


def _with_row(track: T, index: int, times: list[int], knots: list[Knot], measures: list[float]) -> T:
    """Keys for all knots but the first put after a key, which takes the first one's leaving side; the last one leaves
    as that key did.
    """
    keys: list[KeyBase] = list(track.keys)
    before = keys[index]
    keys[index] = keys[index].changed(leaving=knots[0].leaving, hold=False, steps=None, joint="corner")
    segment = index - 1 if index else 0
    row: list[KeyBase] = [
        key_at(track, KeyBase(time=t, arriving=knot.arriving, leaving=knot.leaving), measure, segment)
        for t, knot, measure in zip(times[1:], knots[1:], measures[1:], strict=True)
    ]
    row[-1] = row[-1].changed(leaving=before.leaving, hold=before.hold, steps=before.steps)
    return rebuilt(track, [*keys[: index + 1], *row, *keys[index + 1 :]])


def _on_path(track: PathTrack, time: int, times: list[int], craft: AnyCraft, knots: list[Knot]) -> PathTrack:
    after = bool(track.keys) and track.keys[-1].time <= time
    if isinstance(craft, Bounce):
        if track.keys and not after:
            raise Refusal("A position bounces at the playhead after its last key, or while it has none.")
        made = insert_key(track, time)
        x, y = made.points[-1].spot
        end = len(made.points)
        # What was the path's end arrives as it did; the way down from it is straight.
        before = with_own_handles(made.points, (end - 2, end - 1))
        made = rebuilt(made, made.keys, [*before, point_at((x, y + craft.height))])
        index = len(made.keys) - 1
        # Down is along the new span: distances are heights, whichever way it drops.
        toward = 1.0 if craft.height >= 0 else -1.0
        start = float(made.measures()[index])
        keys: list[KeyBase] = list(made.keys)
        keys[index] = keys[index].changed(
            leaving=mirrored(knots[0].leaving, toward), hold=False, steps=None, joint="corner"
        )
        frame = made.changed(keys=(*keys, keys[index].changed(time=times[-1] + 1, at=float(end))))
        row: list[KeyBase] = []
        for t, knot in zip(times[1:], knots[1:], strict=True):
            key = KeyBase(time=t, arriving=mirrored(knot.arriving, toward), leaving=mirrored(knot.leaving, toward))
            row.append(key_at(frame, key, start + knot.y * toward, index))
        row[-1] = row[-1].changed(at=float(end), past=0.0, pace=False)
        shown = craft.changed(height=abs(craft.height))
        return remembered(rebuilt(made, [*keys, *row]), shown)
    if not after or len(track.points) < 2:
        raise Refusal("A position settles along its path: after its last key, or between two. Set a second key first.")
    made = insert_key(track, time)
    index = len(made.keys) - 1
    start = float(made.measures()[index])
    return remembered(_with_row(made, index, times, knots, [start + knot.y for knot in knots]), craft)


def again(track: T, found: Found, craft: AnyCraft) -> T:
    """A craft made anew with other numbers, where the old one stood."""
    first: int = found.first
    last: int = found.last
    keys: list[KeyBase] = list(track.keys)
    if craft.between:
        keys[first + 1 : last] = []
        # Reaches that belonged to the inner keys go with them.
        keys[first] = keys[first].changed(leaving=None)
        keys[first + 1] = keys[first + 1].changed(arriving=None)
        return between_keys(rebuilt(track, keys), first, craft)
    time = keys[first].time
    if isinstance(track, PathTrack) and isinstance(craft, Bounce):
        if last != len(keys) - 1:
            raise Refusal("Keys follow this bounce. Take them away before its drop is changed.")
        before, y = (point.y for point in track.points[-2:])
        sign = 1.0 if y >= before else -1.0
        bare = rebuilt(track, [*keys[:first], keys[first].changed(leaving=None)], track.points[:-1])
        return at_playhead(bare, time, craft.changed(height=sign * abs(craft.height)))
    after = keys[last].leaving, keys[last].hold, keys[last].steps
    keys[first + 1 : last + 1] = []
    keys[first] = keys[first].changed(leaving=after[0], hold=after[1], steps=after[2])
    return at_playhead(rebuilt(track, keys), time, craft)
