"""Points of a path without a key: when they are passed, and how they come by a key and lose it again."""

from collections.abc import Iterable

import numpy as np

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.insert import insert_key
from deftarc.core.changes.keys import delete_keys
from deftarc.core.changes.rebuild import concrete, rebuilt
from deftarc.core.curves.curve import bezier, first_root
from deftarc.core.document.track import PathTrack


def floating(track: PathTrack) -> list[int]:
    """The points of a path that no key rests on, in order; the last of a closed path is its first."""
    resting = {int(key.at) for key in track.keys if key.rests}
    return [k for k in range(len(track.points)) if k not in resting]


def passed(track: PathTrack) -> dict[int, float]:
    """When each floating point is first passed, in flicks (a real number); those never reached are left out.

    Within the first segment whose way leads over it, it is where the time curve first has its distance. Segments in
    steps pass it at the first jump that gets as far.
    """
    out: dict[int, float] = {}
    if len(track.keys) < 2:
        return out
    curve, lengths = track.curve, track.path.lengths
    places = np.array([key.at for key in track.keys])
    controls = curve.control_measures()
    for point in floating(track):
        over = (np.minimum(places[:-1], places[1:]) <= point) & (np.maximum(places[:-1], places[1:]) >= point)
        if not over.any():
            continue
        k = int(np.argmax(over))
        d = float(lengths[point])
        start, duration = float(curve.times[k]), float(curve.duration[k])
        if curve.stepped[k]:
            count = int(curve.steps[k, 0])
            jumps = start + duration * np.arange(count + 1) / count
            far = curve.at(np.ceil(jumps))
            sign = 1.0 if far[-1] >= far[0] else -1.0
            reached = np.flatnonzero((far - d) * sign >= -1e-9)
            if reached.size:
                out[point] = float(np.ceil(jumps[reached[0]]))
            continue
        u = first_root([float(row[k]) for row in controls], d)
        x = float(bezier(np.array(u), 0.0, float(curve.a[k]), 1 - float(curve.b[k]), 1.0))
        out[point] = start + x * duration
    return out


def with_keys(track: PathTrack, points: Iterable[int]) -> PathTrack:
    """Floating points given keys at the times they are passed; the motion stays as it is.

    Those that are never passed are left alone. Raises Refusal where none is.
    """
    times = passed(track)
    wanted = [k for k in sorted(set(points)) if k in times]
    if not wanted:
        raise Refusal("None of these points floats and is passed. Select open points of a path that moves.")
    done = False
    for point in wanted:
        time = round(times[point])
        if not _is_there(track, time, point):
            # A jump goes past it: there is no time at which the motion is there.
            continue
        done = True
        if time in track.key_times:
            index = track.key_times.index(time)
            if track.keys[index].rests:
                continue
            made = concrete(track, (index,))
        else:
            made = insert_key(track, time, pace=True)
            index = made.key_times.index(time)
        keys = list(made.keys)
        keys[index] = keys[index].changed(at=float(point), past=0.0, pace=False)
        track = rebuilt(made, keys)
    if not done:
        raise Refusal("The motion jumps past these points and is at none of them. Give the segment another ease first.")
    return track


def _is_there(track: PathTrack, time: int, point: int) -> bool:
    """Whether the motion is at a point at a time, where it goes in steps then."""
    k = int(np.clip(np.searchsorted(track.key_times, time, side="right") - 1, 0, len(track.keys) - 2))
    if not track.curve.stepped[k]:
        return True
    return abs(float(track.curve.at([time])[0]) - float(track.path.lengths[point])) < 1e-6


def without_keys(track: PathTrack, times: Iterable[int]) -> PathTrack:
    """Keys taken away whose points stay on the path and float: the segments beside each run through as one."""
    wanted = set(times)
    inner = {time for time in track.key_times[1:-1] if time in wanted}
    if not inner:
        raise Refusal("The first and the last key hold the path in time. Float keys between them.")
    loosened = [key.changed(pace=True) if key.time in inner else key for key in track.keys]
    return delete_keys(track.changed(keys=tuple(loosened)), inner)
