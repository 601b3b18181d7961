"""Places on a path while its points come and go: what keys rest on, pace keys between, points given and taken."""

from collections.abc import Sequence

import numpy as np

from deftarc.core.changes.rebuild import key_at, rebuilt, value_of
from deftarc.core.document.keys import KeyBase, PathKey
from deftarc.core.document.track import PathTrack
from deftarc.core.spaces.bends import path_of, split, with_own_handles
from deftarc.core.spaces.points import PathPoint, point_at


def ends_together(track: PathTrack, index: int) -> tuple[int, ...]:
    """A point, and the one it is one with: the other end of a closed path."""
    last = len(track.points) - 1
    return (0, last) if track.closed and index in (0, last) else (index,)


def with_point(track: PathTrack, place: float) -> PathTrack:
    """A point put on a path at a place between two others; the path and all keys stay as they are (de Casteljau)."""
    before = int(np.floor(place))
    share = place - before
    u = track.path.parameter_at(before, share)
    points = split(track.points, before, u, track.closed)
    if track.rounded is not None and points[before + 1].joint == "straight":
        points[before + 1] = point_at(points[before + 1].spot, track.rounded)

    def moved(at: float) -> float:
        if at <= before:
            return at
        if at >= before + 1:
            return at + 1
        part = at - before
        if share <= 0:
            return before + 1 + part
        return before + part / share if part <= share else before + 1 + (part - share) / (1 - share)

    keys = [key.changed(at=moved(key.at)) for key in track.keys]
    return rebuilt(track, keys, points)


def pinned(track: PathTrack, index: int) -> PathTrack:
    """A key of a position given a point of its own to rest on, where it is."""
    key = track.keys[index]
    if key.rests:
        return track
    points = list(track.points)
    before_it = max((each.at for each in track.keys[:index] if each.rests), default=-1.0)
    after_it = min((each.at for each in track.keys[index + 1 :] if each.rests), default=float(len(points)))
    if not key.past and not before_it <= key.at <= after_it:
        # It lies back behind a point that is passed already, or on past one that comes later: a detour to it.
        before = int(before_it) if before_it >= 0 else int(after_it) - 1
        points.insert(before + 1, point_at(value_of(track, index), track.rounded))
        keys: list[KeyBase] = [k.changed(at=k.at + 1) if k.at >= before + 1 else k for k in track.keys]
    elif key.past:
        # A detour: out to the spot, and on from it.
        before = int(np.floor(key.at)) if key.past > 0 else int(np.ceil(key.at)) - 1
        points.insert(before + 1, point_at(value_of(track, index), track.rounded))
        keys = [k.changed(at=k.at + 1) if k.at >= before + 1 else k for k in track.keys]
    elif key.at == int(key.at):
        # On a point already: a second one beside it, before the keys that follow and after those that went before.
        here = int(key.at)
        before = here if index and track.keys[index - 1].at == key.at else here - 1
        points = with_own_handles(points, (here - 1, here, here + 1), track.closed)
        points[here : here + 1] = twins(points[here])
        keys = [k.changed(at=k.at + 1) if n > index and k.at > before else k for n, k in enumerate(track.keys)]
    else:
        made = with_point(track, key.at)
        keys, points, before = list(made.keys), list(made.points), int(np.floor(key.at))
    keys[index] = key.changed(at=float(before + 1), past=0.0, pace=False)
    return rebuilt(track, keys, points)


def twins(point: PathPoint) -> list[PathPoint]:
    """A point as two in one place: the first arrives, the second leaves, and between them is no way."""
    bare = PathPoint(x=point.x, y=point.y)
    if point.joint == "automatic":
        return [point, point]
    if point.joint == "straight":
        return [bare, bare]
    joint = {"joint": "corner"}
    return [
        bare.changed(arriving=point.arriving, **joint) if point.arriving else bare,
        bare.changed(leaving=point.leaving, **joint) if point.leaving else bare,
    ]


def released(track: PathTrack, index: int) -> PathTrack:
    """A key taken off its point: it becomes a pace key just where it is, and can be moved along the path."""
    key = track.keys[index]
    if not key.rests:
        return track
    keys: list[KeyBase] = list(track.keys)
    keys[index] = key.changed(pace=True)
    return track.changed(keys=tuple(keys))


def without_points(track: PathTrack, keys: Sequence[PathKey], gone: set[int]) -> tuple[list[PathKey], list[PathPoint]]:
    """Keys, and the points that are left, once some points are taken away; pace keys keep their share of the way."""
    kept = [n for n in range(len(track.points)) if n not in gone]
    points = [track.points[n] for n in kept]
    lengths = track.path.lengths
    numbers = {n: float(k) for k, n in enumerate(kept)}

    def moved(at: float) -> float:
        if at == int(at) and int(at) in numbers:
            return numbers[int(at)]
        left = [n for n in kept if n <= at]
        right = [n for n in kept if n > at]
        if not left or not right:
            return 0.0 if not left else float(len(kept) - 1)
        a, b = left[-1], right[0]
        way = float(lengths[b] - lengths[a])
        here = float(np.interp(at, np.arange(len(lengths)), lengths))
        return numbers[a] + ((here - float(lengths[a])) / way if way > 0 else 0.5)

    return [key.changed(at=moved(key.at)) for key in keys], points


def settled(keys: Sequence[PathKey], points: Sequence[PathPoint]) -> list[PathKey]:
    """Keys past their place brought back onto the path, where their neighbour lies further on along it."""
    out = list(keys)
    path = path_of(points)
    last = len(points) - 1
    for k, key in enumerate(out):
        on = k + 1 < len(out) and key.past > 0 and out[k + 1].at > key.at
        back = k > 0 and key.past < 0 and out[k - 1].at < key.at
        if on or back:
            distance = float(path.length_at(np.array([key.at]))[0]) + key.past
            out[k] = key.changed(at=min(path.place_at(distance), last), past=0.0)
    return out


def at_distance(track: PathTrack, index: int, distance: float) -> PathTrack:
    """A pace key moved along the path to a distance; what rests on a point keeps its place."""
    key = track.keys[index]
    if key.rests:
        return track
    keys: list[KeyBase] = list(track.keys)
    keys[index] = key_at(track, key, distance, index - 1 if index else 0)
    row = settled([each for each in keys if isinstance(each, PathKey)], track.points)
    return track.changed(keys=tuple(row))
