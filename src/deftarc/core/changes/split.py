"""A position's axes split into two numbers, and combined as a path again, the motion as it was within a tolerance."""

import numpy as np

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.errors import Refusal
from deftarc.core.base.working import stage
from deftarc.core.changes.deviation import (
    Motion,
    around,
    greatest,
    jumps_of,
    knots_of,
    motion_of,
    sampled_times,
    starts_with_jump,
    steep,
)
from deftarc.core.changes.floating import passed
from deftarc.core.changes.insert import insert_key
from deftarc.core.changes.rebuild import concrete
from deftarc.core.changes.reduce import Fitted, fitted
from deftarc.core.changes.trace import stuck, traced
from deftarc.core.curves.sides import Side, mirrored
from deftarc.core.document.keys import NumberKey, PathKey
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.spaces.bends import moved
from deftarc.core.spaces.points import point_at

#: How often a split or a combination is made anew with more looks where it was off, and by how much finer then.
TRIES, FINER = 6, 0.8


def apart(track: PathTrack, frame: int, tolerance: float) -> tuple[NumberTrack, NumberTrack]:
    """x and y of a motion as two numbers, off by ``tolerance`` px at most; ``frame`` in flicks.

    Ways that are straight all along are split exactly, with the keys they have; bent ones take as many more as the
    tolerance asks for. Each key of the path stays a key of both axes.
    """
    x, y = track.value
    if not track.keys:
        return NumberTrack(value=x), NumberTrack(value=y)
    if len(track.keys) == 1 or not _bends(track):
        return _exactly(track)
    # Corners passed between keys are sharp in both axes: they get a key each, and so do jumps.
    times = passed(track)
    corners = [round(times[k]) for k in times if not track.path.through[k]]
    first, last = track.key_times[0], track.key_times[-1]
    inner = {time for time in (*corners, *jumps_of(track)) if first < time < last}
    # What leaves by a jump has arrived just before it.
    inner |= {time - 1 for time in starts_with_jump(track) if time > first}
    stops = sorted({*track.key_times, *inner})
    knots = sorted({*stops, *knots_of(track)})
    at = sampled_times(knots, frame)
    share = 0.7
    for n in range(TRIES):
        spots = track.positions(at.astype(np.float64))
        fixed = np.searchsorted(at, stops).tolist()
        with stage(2 * n, 2 * TRIES):
            across = _axis(at, spots[:, 0], tolerance * share, fixed)
        with stage(2 * n + 1, 2 * TRIES):
            down = _axis(at, spots[:, 1], tolerance * share, fixed)
        every = {*knots, *across.key_times, *down.key_times}
        looks = [steep(each) for each in (track, across, down)]
        off, peaks = greatest(track.positions, two_axes(across, down), every, looks)
        if off <= tolerance:
            return across, down
        at = np.unique(np.concatenate([at, around(peaks, frame, first, last)]))
        share *= FINER
    raise Refusal(f"Within {tolerance:g} px these axes do not come apart. Allow more.")


def two_axes(x: NumberTrack, y: NumberTrack) -> Motion:
    """Two axes as one motion in the plane."""
    return lambda times: spots_of(x, y, times)


def _bends(track: PathTrack) -> bool:
    """Whether any way between two keys is not one straight line."""
    places = [key.at for key in track.keys]
    first, last = track.stretches
    many = bool((first != last).any())
    return bool(track.path.bent.any()) or many or any(key.past for key in track.keys) or len(set(places)) < 2


def _exactly(track: PathTrack) -> tuple[NumberTrack, NumberTrack]:
    """Straight ways: each axis has the same sides, its share of the rise."""
    made = concrete(track, range(len(track.keys)))
    spots = track.positions(np.array(track.key_times, np.float64))
    first, _ = track.stretches if len(track.keys) > 1 else (np.zeros(0, np.int64), None)
    way = track.path.directions[first, 0] if len(track.points) > 1 and len(first) else np.zeros((0, 2))
    out = []
    for axis in (0, 1):
        keys = []
        for k, key in enumerate(made.keys):
            before = float(way[k - 1, axis]) if k else 0.0
            after = float(way[k, axis]) if k < len(way) else 0.0
            keys.append(
                NumberKey(
                    time=key.time, value=float(spots[k, axis]), arriving=mirrored(key.arriving, before),
                    leaving=mirrored(key.leaving, after), hold=key.hold, steps=key.steps,
                    joint=key.joint if abs(before - after) < 1e-9 else "corner",
                )
            )  # fmt: skip
        out.append(NumberTrack(value=track.value[axis], keys=tuple(keys), within=track.within))
    return out[0], out[1]


def _axis(at: Integers, values: Floats, tolerance: float, fixed: list[int]) -> NumberTrack:
    return NumberTrack(
        value=float(values[0]), keys=tuple(number_keys(at, values, fitted(at, values, tolerance, fixed)))
    )


def number_keys(at: Integers, values: Floats, rows: list[Fitted]) -> list[NumberKey]:
    """Keys of a number from a reduction of its samples."""
    return [
        NumberKey(
            time=int(at[row.sample]), value=float(values[row.sample]), arriving=row.arriving, leaving=row.leaving,
            hold=row.hold, joint="smooth" if row.smooth else "corner",
        )
        for row in rows
    ]  # fmt: skip


def together(x: NumberTrack, y: NumberTrack, frame: int, tolerance: float) -> PathTrack:
    """Two numbers as one motion along a path, off by ``tolerance`` px at most; ``frame`` in flicks."""
    value = (x.value, y.value)
    times = sorted({*x.key_times, *y.key_times})
    if not times:
        return PathTrack(value=value)
    exact = _straight(x, y, times)
    if exact is not None:
        return exact
    knots = sorted({*knots_of(x), *knots_of(y)})
    at = sampled_times(knots, frame)
    made = retraced(two_axes(x, y), at, knots, frame, tolerance, [steep(x), steep(y)])
    if made is None:
        raise Refusal(f"Within {tolerance:g} px these two axes make no path. Allow more.")
    spot = spots_of(x, y, np.array(times[:1]))[0]
    return made.changed(value=value, points=(moved(made.points[0], spot), *made.points[1:]))


def refitted(track: NumberTrack, factor: float, frame: int, tolerance: float) -> NumberTrack:
    """A number's motion times a factor, by amount, with as many more keys as it takes to stay within a tolerance."""
    knots = knots_of(track)
    at = sampled_times(knots, frame)
    motion: Motion = lambda times: factor * track.sampled(times, track.curve.at(times))  # noqa: E731
    share = 0.7
    for n in range(TRIES):
        fixed = np.searchsorted(at, knots).tolist()
        with stage(n, TRIES):
            made = _axis(at, motion(at.astype(np.float64))[:, 0], tolerance * share, fixed)
        off, peaks = greatest(motion, motion_of(made), {*knots, *made.key_times}, [steep(track), steep(made)])
        if off <= tolerance:
            return made
        at = np.unique(np.concatenate([at, around(peaks, frame, knots[0], knots[-1])]))
        share *= FINER
    raise Refusal("This motion takes too many keys to stay as it is. Let it grow by amount first.")


def retraced(
    motion: Motion, at: Integers, knots: list[int], frame: int, tolerance: float, looks: list[Floats]
) -> PathTrack | None:
    """A path and its keys that stay within a tolerance of a motion at every time; None where none is found."""
    share = 1.0
    missed: list[float] = []
    for n in range(TRIES):
        with stage(n, TRIES):
            made, off = traced(at, motion(at.astype(np.float64)), tolerance * share)
        if off <= tolerance * 1.001:
            off, peaks = greatest(motion, made.positions, {*knots, *knots_of(made)}, [*looks, steep(made)])
            if off <= tolerance:
                return made
            at = np.unique(np.concatenate([at, around(peaks, frame, knots[0], knots[-1])]))
        else:
            missed.append(off)
            if stuck(missed, 2):
                return None
        share *= FINER
    return None


def spots_of(x: NumberTrack, y: NumberTrack, at: Integers | Floats) -> Floats:
    """Two axes at times (n,) as spots (n, 2)."""
    rows = [t.valued(t.curve.at(at)) if t.keys else np.full(len(at), t.value) for t in (x, y)]
    return np.stack(rows, axis=1)


def _straight(x: NumberTrack, y: NumberTrack, times: list[int]) -> PathTrack | None:
    """The path of two axes that go in proportion between all keys, exactly; None where any way is bent."""
    if (min(len(x.keys), len(y.keys)) < len(times) and x.keys and y.keys) or x.evenly or y.evenly:
        return None
    for time in times:
        x, y = insert_key(x, time), insert_key(y, time)
    x, y = (concrete(track, range(len(times))) for track in (x, y))
    spots = np.stack([x.measures(), y.measures()], axis=1)
    sides: list[list[Side | None]] = [[None, None] for _ in times]
    for k, way in enumerate(np.diff(spots, axis=0)):
        # The axis that goes further leads; the other one must keep in proportion with it.
        lead, other = (x, y) if abs(way[0]) >= abs(way[1]) else (y, x)
        change, rest = (float(way[0]), float(way[1])) if lead is x else (float(way[1]), float(way[0]))
        one, two = lead.keys[k], other.keys[k]
        if (one.hold, one.steps) != (two.hold, two.steps) and rest:
            return None
        if one.stepped:
            continue
        size = float(np.hypot(change, rest))
        near = 1e-9 * max(size, 1.0)
        for curve_end in ("a", "la", "b", "lb"):
            mine, its = (float(getattr(track.curve, curve_end)[k]) for track in (lead, other))
            if curve_end in ("a", "b"):
                alike = abs(mine - its) < 1e-9 or not rest
            else:
                alike = abs(mine * rest - its * change) <= near * max(size, 1.0) and (size > 0 or abs(mine) < near)
            if not alike:
                return None
        if size > 0 and not (one.leaving is None and lead.keys[k + 1].arriving is None):
            curve = lead.curve
            sides[k][1] = Side(reach=float(curve.a[k]), rise=float(curve.la[k]) / change * size)
            sides[k + 1][0] = Side(reach=float(curve.b[k]), rise=float(curve.lb[k]) / change * size)
    held = [a if a.stepped else b for a, b in zip(x.keys, y.keys, strict=True)]
    keys = tuple(
        PathKey(time=a.time, at=float(k), arriving=sides[k][0], leaving=sides[k][1], hold=a.hold, steps=a.steps)
        for k, a in enumerate(held)
    )
    points = tuple(point_at(spot) for spot in spots.tolist())
    return PathTrack(value=(x.value, y.value), points=points, keys=keys)
