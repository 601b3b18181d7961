"""What is done to a path on the picture: points and handles dragged, added, taken away, joined; distances evened.

Times of keys are never touched here, but where a command says so; rises follow the lengths of their segments.
"""

import math
from collections.abc import Iterable, Sequence
from typing import Literal

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.changes.floating import floating
from deftarc.core.changes.keys import delete_keys, in_proportion
from deftarc.core.changes.places import ends_together, settled, with_point, without_points
from deftarc.core.changes.rebuild import SAME_SPOT, concrete, is_closed, rebuilt
from deftarc.core.document.keys import KeyBase, PathKey
from deftarc.core.document.track import PathTrack
from deftarc.core.spaces.bends import arm, handles_of, in_line, moved, with_own_handles
from deftarc.core.spaces.points import PathPoint

Joint = Literal["straight", "corner", "smooth", "automatic"]
Part = Literal["point", "arriving", "leaving"]
#: A third of the neighbouring span: what a point is given that had no handle.
USUAL = 0.5


def _checked(track: PathTrack, indices: Iterable[int]) -> list[int]:
    wanted = sorted(set(indices))
    if not track.points or wanted[-1] >= len(track.points):
        raise Refusal("This point of the path is not there any more.")
    return wanted


def with_points(track: PathTrack, points: Sequence[PathPoint]) -> PathTrack:
    """A path bent: other points in the same number. No key changes its time, nor its fraction of the way."""
    bent = track.changed(points=tuple(points), closed=track.closed and is_closed(points))
    return in_proportion(bent, track.measures())


def dragged(track: PathTrack, indices: Iterable[int], part: Part, by: tuple[float, float], apart: bool) -> PathTrack:
    """Points moved by (dx, dy), or the handle of each on one side; the other turns along at a smooth point unless
    ``apart``, which makes a corner of it. A handle drawn out of an automatic point keeps the ones it had.
    """
    points = list(track.points)
    chosen = {other for k in _checked(track, indices) for other in ends_together(track, k)}
    if part == "point":
        for k in chosen:
            points[k] = moved(points[k], (points[k].x + by[0], points[k].y + by[1]))
        return with_points(track, points)
    points = with_own_handles(points, chosen, track.closed)
    seam = len(chosen) == 2 and track.closed
    for k in sorted(chosen):
        if seam and k != (len(points) - 1 if part == "arriving" else 0):
            continue
        points = _handle_dragged(track, points, k, part, by, apart)
    return with_points(track, points)


def _handle_dragged(
    track: PathTrack, points: list[PathPoint], k: int, part: str, by: tuple[float, float], apart: bool
) -> list[PathPoint]:
    other_side = "leaving" if part == "arriving" else "arriving"
    ends = ends_together(track, k)
    # Over the seam of a closed path the other handle is the other end's.
    partner = next((n for n in ends if n != k), k)
    point, facing = points[k], points[partner]
    handle = np.array(getattr(point, part) or (0.0, 0.0)) + by
    other = getattr(facing, other_side)
    together = point.joint in ("smooth", "automatic") and not apart
    size = float(np.hypot(*handle))
    turned = other
    if together and other is not None and size > 1e-9:
        turned = arm(-handle / size * np.hypot(*other))
    joint = "smooth" if together else "corner"
    out = list(points)
    if partner == k:
        out[k] = _told(point, joint, **{part: arm(handle), other_side: turned})
    else:
        out[k] = _told(point, joint, **{part: arm(handle)})
        out[partner] = _told(facing, joint, **{other_side: turned})
    return out


def _told(point: PathPoint, joint: str, **arms: object) -> PathPoint:
    made = point.changed(joint=joint, **arms)
    return made if made.arriving or made.leaving else point.changed(joint="straight", arriving=None, leaving=None)


def joined(track: PathTrack, indices: Iterable[int], joint: Joint, roundness: float | None = None) -> PathTrack:
    """How the path goes through points: each kind keeps as much of the way as it can.

    Corner and smooth keep the handles there are; smooth puts them in one line, and where there are none gives those
    of an automatic point.
    """
    points = list(track.points)
    chosen = sorted({other for k in _checked(track, indices) for other in ends_together(track, k)})
    if joint == "straight":
        for k in chosen:
            points[k] = PathPoint(x=points[k].x, y=points[k].y)
    elif joint == "automatic":
        for k in chosen:
            share = points[k].roundness if roundness is None else roundness
            points[k] = PathPoint(x=points[k].x, y=points[k].y, joint="automatic", roundness=share)
    else:
        points = with_own_handles(points, chosen, track.closed)
        bare = [k for k in chosen if not (points[k].arriving or points[k].leaving)]
        if bare:
            usual = list(points)
            for k in bare:
                usual[k] = PathPoint(x=points[k].x, y=points[k].y, joint="automatic", roundness=USUAL)
            spots = np.array([point.spot for point in usual])
            handles = handles_of(usual, spots, track.closed)
            for k in bare:
                row = handles[k] if handles[k].any() else _along(spots, k)
                points[k] = _told(points[k], joint, arriving=arm(row[:2]), leaving=arm(row[2:]))
        for k in chosen:
            points[k] = _told(points[k], joint)
        if joint == "smooth":
            points = _put_in_line(track, points, chosen)
    return with_points(track, points)


def _along(spots: Floats, k: int) -> Floats:
    """Handles that lie on the straight ways beside a point: a third of each, (4,)."""
    row = np.zeros(4)
    if k:
        row[:2] = (spots[k - 1] - spots[k]) / 3
    if k < len(spots) - 1:
        row[2:] = (spots[k + 1] - spots[k]) / 3
    return row


def _put_in_line(track: PathTrack, points: list[PathPoint], chosen: Iterable[int]) -> list[PathPoint]:
    out = list(points)
    for k in chosen:
        partner = next((n for n in ends_together(track, k) if n != k), k)
        first, second = (k, partner) if partner >= k else (partner, k)
        arriving, leaving = out[second].arriving, out[first].leaving
        if arriving is None or leaving is None or in_line(arriving, leaving):
            continue
        a, b = (np.array(x) for x in (arriving, leaving))
        way = b / np.hypot(*b) - a / np.hypot(*a)
        if np.hypot(*way) < 1e-6:
            way = np.array([-b[1], b[0]])
        way = way / np.hypot(*way)
        out[second] = out[second].changed(arriving=arm(-way * np.hypot(*a)))
        out[first] = out[first].changed(leaving=arm(way * np.hypot(*b)))
    return out


def toggled(track: PathTrack, indices: Iterable[int]) -> PathTrack:
    """Points that turn sharply made smooth, and round ones made corners: what a double click does."""
    chosen = _checked(track, indices)
    sharp = any(track.points[k].joint in ("straight", "corner") for k in chosen)
    return joined(track, chosen, "smooth" if sharp else "straight")


def point_added(track: PathTrack, span: int, u: float) -> PathTrack:
    """A point put on the path at a parameter of one of its spans; it floats, and the motion stays as it is."""
    if not 0 <= span < len(track.points) - 1:
        raise Refusal("There is no way on from this point to put another one on.")
    return with_point(track, span + min(max(track.path.share_at(span, u), 1e-9), 1 - 1e-9))


def spread(track: PathTrack, first: int, last: int, count: int) -> PathTrack:
    """So many points put evenly, by distance, between two points of the path; they float, the motion stays."""
    if not 0 <= first < last < len(track.points):
        raise Refusal("Select two points of the path: the new ones go evenly between them.")
    lengths = track.path.lengths
    start, whole = float(lengths[first]), float(lengths[last] - lengths[first])
    if whole <= 0:
        raise Refusal("There is no way between these points to put others on.")
    wanted = [start + whole * n / (count + 1) for n in range(1, count + 1)]
    for distance in reversed(wanted):
        # From the end back, so that the places before it stay what they were.
        place = track.path.place_at(distance)
        if abs(place - round(place)) > 1e-9:
            track = with_point(track, place)
    return track


def points_deleted(track: PathTrack, indices: Iterable[int]) -> PathTrack:
    """Points taken out of the path; with one that a key rests on, the key goes too."""
    gone = {other for k in _checked(track, indices) for other in ends_together(track, k)}
    times = {key.time for key in track.keys if key.rests and int(key.at) in gone}
    loose = gone & set(floating(track))
    if loose:
        before = track.measures()
        keys, points = without_points(track, list(track.keys), loose)
        track = in_proportion(rebuilt(track, settled(keys, points), points), before)
    return delete_keys(track, times) if times else track


def closed(track: PathTrack, on: bool) -> PathTrack:
    """A path closed: its last point put on its first, smooth through the seam where either end was round; or opened
    again, as it lies, without the way back that was added to close it.
    """
    if not on:
        # Once there are other points, what was added is no longer the last one by itself.
        if track.way_back == len(track.points) and track.keys[-1].rests and track.keys[-1].at == track.way_back - 1:
            return _without_way_back(track)
        points = with_own_handles(track.points, (0, len(track.points) - 1), track.closed)
        return rebuilt(track.changed(closed=False), track.keys, points)
    if len(track.points) < 3:
        raise Refusal("A path of two points has nothing to close. Add a third point first.")
    first, last = track.points[0], track.points[-1]
    end = moved(last, first.spot)
    round_ = [p for p in (first, last) if p.joint == "automatic"]
    points = list(track.points)
    if round_:
        points[0] = points[-1] = round_[0].changed(x=first.x, y=first.y)
    elif "smooth" in (first.joint, last.joint):
        spots = np.array([point.spot for point in (first, *points[1:-1], end)])
        leaving = first.leaving or arm(_along(spots, 0)[2:])
        arriving = end.arriving or arm(_along(spots, len(spots) - 1)[:2])
        points[0] = first.changed(joint="smooth", leaving=leaving)
        points[-1] = end.changed(joint="smooth", arriving=arriving)
    else:
        points[-1] = end
    before = track.measures()
    shut = rebuilt(track, track.keys, points).changed(closed=True, way_back=0)
    if points[0].joint == "smooth":
        shut = shut.changed(points=tuple(_put_in_line(shut, points, (0,))))
    return in_proportion(shut, before)


def with_way_back(track: PathTrack, frame: int) -> PathTrack:
    """A path closed by a way from its last point to its first, at the mean speed of all before it; all keys stay.
    ``frame`` in flicks: the new key is on one.
    """
    first, last = track.points[0], track.points[-1]
    if len(track.points) < 3 or math.dist(first.spot, last.spot) <= SAME_SPOT:
        return closed(track, True)
    whole, long = track.key_times[-1] - track.key_times[0], float(track.path.lengths[-1])
    takes = whole * math.dist(first.spot, last.spot) / long if long > 0 else frame
    time = frame * max(round((track.key_times[-1] + takes) / frame), track.key_times[-1] // frame + 1)
    back = PathPoint(x=first.x, y=first.y)
    if first.joint == "automatic":
        back = back.changed(joint="automatic", roundness=first.roundness)
    if time > limits.FURTHEST or len(track.keys) >= limits.MAX_KEYS_PER_LANE:
        raise Refusal("There is no room for a way back: it has as many keys, or goes as far on in time, as it can.")
    key = PathKey(time=time, at=float(len(track.points)))
    opened = rebuilt(track, [*track.keys, key], [*track.points, back])
    return closed(opened, True).changed(way_back=len(opened.points))


def _without_way_back(track: PathTrack) -> PathTrack:
    """An opened path without its last point and key."""
    before = track.measures()[:-1]
    return in_proportion(rebuilt(track.changed(closed=False, way_back=0), track.keys[:-1], track.points[:-1]), before)


def at_one_speed(track: PathTrack, first: int, last: int) -> PathTrack:
    """The run between two keys (indices) at constant speed: inner keys move in time to where it comes to them."""
    measures = track.measures()
    way = np.abs(np.diff(measures[first : last + 1]))
    if not way.sum() > 0:
        raise Refusal("There is no way between these keys to go at a constant speed.")
    track = concrete(track, range(first, last + 1))
    start, whole = track.keys[first].time, track.keys[last].time - track.keys[first].time
    share = np.concatenate(([0.0], np.cumsum(way))) / way.sum()
    keys: list[KeyBase] = list(track.keys)
    for k in range(first, last + 1):
        keys[k] = keys[k].changed(
            time=start + round(float(share[k - first]) * whole),
            leaving=None if k < last else keys[k].leaving,
            arriving=None if k > first else keys[k].arriving,
            hold=keys[k].hold and k == last,
            steps=keys[k].steps if k == last else None,
            joint="corner",
        )
    if any(b.time <= a.time for a, b in zip(keys[first:last], keys[first + 1 : last + 1], strict=True)):
        raise Refusal("Two of these keys lie in one place, and would come at the same moment. Take one away first.")
    return rebuilt(track, keys)


def at_even_distances(track: PathTrack, first: int, last: int) -> PathTrack:
    """Keys between two keys (indices) put at even distances along the path, at the times they have: as pace keys,
    while the points they rested on stay, and float.
    """
    if last - first < 2:
        raise Refusal("Between these keys are none to be spaced. Select a run of three keys or more.")
    before = track.measures()
    keys = list(track.keys)
    for k in range(first + 1, last):
        distance = float(before[first] + (before[last] - before[first]) * (k - first) / (last - first))
        place = track.path.place_at(distance)
        on_point = abs(place - round(place)) <= 1e-9
        at = float(round(place)) if on_point else place
        keys[k] = keys[k].changed(at=at, past=0.0, pace=not (on_point and keys[k].rests))
    return in_proportion(rebuilt(track, keys), before)


def reversed_path(track: PathTrack) -> PathTrack:
    """The path run the other way: its points from last to first, keys at the mirrored places, times as they are.

    Twice it is the path again.
    """
    last = len(track.points) - 1
    points = [point.changed(arriving=point.leaving, leaving=point.arriving) for point in reversed(track.points)]
    keys = [
        key.changed(at=last - mirror.at, past=-mirror.past, pace=mirror.pace)
        for key, mirror in zip(track.keys, reversed(track.keys), strict=True)
    ]
    return in_proportion(rebuilt(track.changed(way_back=0), keys, points), track.measures())
