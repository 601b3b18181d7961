"""Places on a path while its points come and go: what keys rest on, pace keys between, points given and taken."""

from collections.abc import Sequence

import numpy as np

from deftarc.core.rebuild import key_at, rebuilt, value_of
from deftarc.core.space import Path
from deftarc.core.track import KeyBase, PathKey, PathTrack

Spot = tuple[float, float]


def with_point(track: PathTrack, place: float, spot: Spot) -> PathTrack:
    """A point put into a path at a place between two others; keys stay at the places they had on the way there.

    Rises are left alone: where the point lies on the path, nothing moves.
    """
    before = int(np.floor(place))
    share = place - before
    points = list(track.points)
    points.insert(before + 1, spot)

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
    x, y = value_of(track, index)
    spot = (x, y)
    if key.past:
        # A detour: out to the spot, and on from it.
        before = int(np.floor(key.at)) if key.past > 0 else int(np.ceil(key.at)) - 1
        points = list(track.points)
        points.insert(before + 1, spot)
        keys: list[KeyBase] = [k.changed(at=k.at + 1) if k.at >= before + 1 else k for k in track.keys]
    elif key.at == int(key.at):
        # On a point already: a second one beside it, before the keys that follow and after those that went before.
        before = int(key.at) if index and track.keys[index - 1].at == key.at else int(key.at) - 1
        points = list(track.points)
        points.insert(before + 1, spot)
        keys = [k.changed(at=k.at + 1) if n > index and k.at > before else k for n, k in enumerate(track.keys)]
    else:
        made = with_point(track, key.at, spot)
        keys, points, before = list(made.keys), list(made.points), int(np.floor(key.at))
    keys[index] = key.changed(at=float(before + 1), past=0.0, pace=False)
    return rebuilt(track, keys, points)


def released(track: PathTrack, index: int) -> PathTrack:
    """A key taken off its point: it becomes a pace key just where it is, and can be moved along the path."""
    key = track.keys[index]
    if not key.rests:
        return track
    keys: list[KeyBase] = list(track.keys)
    keys[index] = key.changed(pace=True)
    return track.changed(keys=tuple(keys))


def without_points(track: PathTrack, keys: Sequence[PathKey], gone: set[int]) -> tuple[list[PathKey], list[Spot]]:
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


def settled(keys: Sequence[PathKey], points: Sequence[Spot]) -> list[PathKey]:
    """Keys past their place brought back onto the path, where their neighbour lies further on along it."""
    out = list(keys)
    path = Path(np.array(points, dtype=np.float64).reshape(-1, 2))
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
