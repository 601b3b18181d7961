"""Keys taken away, the motion kept: what was one segment is one again, and else one comes as near as it can.

Two halves of a Bézier segment have handles on one line through where they meet, in the proportion u : 1 − u in which
they were cut (de Casteljau); their outer handles are those of the whole, shortened by the same. So the whole is read
off the halves, and taken where cutting it gives them back.
"""

import itertools
from collections.abc import Callable, Sequence
from functools import partial
from typing import NamedTuple, TypeVar

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.working import at_work
from deftarc.core.changes.keys import delete_keys
from deftarc.core.changes.places import settled, without_points
from deftarc.core.changes.rebuild import concrete, rebuilt, side_of
from deftarc.core.changes.reduce import nearest
from deftarc.core.curves.curve import TimeCurve, bezier
from deftarc.core.curves.inverse import is_monotone, solve_parameter, time_coefficients
from deftarc.core.curves.joints import within_keys
from deftarc.core.curves.sides import Steps
from deftarc.core.document.keys import KeyBase, PathKey
from deftarc.core.document.track import AnyTrack, BlendTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.spaces.joined import joined_points
from deftarc.core.spaces.points import PathPoint

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)

#: How near halves have to be to those of a whole, as a share of its size.
ALIKE = 1e-7
#: The smallest share of a whole that a part may have: one of a flick in a day has 2e-14.
NEXT_TO_NONE = 1e-14
#: Even moments at which a gap is looked at, and even steps of a segment's parameter: these are close where it is steep.
LOOKED_AT, STEPS = 240, np.linspace(0, 1, 65)
#: Reaches a search begins from; of many gaps at once only the first is tried.
STARTS = ((1 / 3, 1 / 3), (0.6, 0.6), (0.1, 0.7), (0.7, 0.1), (0.92, 0.92), (0.15, 0.15))
MANY = 60


class Part(NamedTuple):
    """A segment: its duration, the measures it goes from and to, and its handles: reaches and rises."""

    long: float
    start: float
    end: float
    a: float
    la: float
    b: float
    lb: float

    @property
    def straight(self) -> bool:
        change = self.end - self.start
        near = 1e-9 * max(abs(change), 1e-9)
        return abs(self.la - self.a * change) <= near and abs(self.lb - self.b * change) <= near

    def cut(self, u: float) -> "tuple[Part, Part]":
        x, y = self._rows()
        (x01, x12, x23), (y01, y12, y23) = (_between(row, u) for row in (x, y))
        (xa, xb), (ya, yb) = _between([x01, x12, x23], u), _between([y01, y12, y23], u)
        at, value = xa + (xb - xa) * u, ya + (yb - ya) * u
        one, other = max(at, 1e-300), max(self.long - at, 1e-300)
        return (
            Part(at, self.start, value, x01 / one, y01 - self.start, (at - xa) / one, value - ya),
            Part(self.long - at, value, self.end, (xb - at) / other, yb - value, (self.long - x23) / other,
                 self.end - y23),
        )  # fmt: skip

    def _rows(self) -> tuple[list[float], list[float]]:
        x = [0.0, self.a * self.long, (1 - self.b) * self.long, self.long]
        return x, [self.start, self.start + self.la, self.end - self.lb, self.end]

    def time(self, u: Floats) -> Floats:
        """The shares of its duration at which its parameter is u (n,)."""
        return bezier(u, 0.0, self.a, 1.0 - self.b, 1.0)

    def at(self, shares: Floats) -> Floats:
        """The measures at shares (n,) of its duration."""
        ones = np.ones(len(shares))
        u = solve_parameter(*time_coefficients(self.a * ones, self.b * ones), shares)
        return bezier(u, self.start, self.start + self.la, self.end - self.lb, self.end)


def _between(row: Sequence[float], u: float) -> list[float]:
    return [a + (b - a) * u for a, b in itertools.pairwise(row)]


def whole_of(one: Part, other: Part) -> Part | None:
    """The segment whose two parts these are; None where there is none."""
    long, size = one.long + other.long, max(abs(one.end - one.start), abs(other.end - other.start), 1e-9)
    if one.straight and other.straight:
        slopes = [(each.end - each.start) / each.long for each in (one, other)]
        if abs(slopes[0] - slopes[1]) * min(one.long, other.long) > ALIKE * size:
            return None
        change = other.end - one.start
        return Part(long, one.start, other.end, 1 / 3, change / 3, 1 / 3, change / 3)
    into, out = one.b * one.long, other.a * other.long
    if into + out > ALIKE * long:
        u = into / (into + out)
    elif abs(one.lb) + abs(other.la) > ALIKE * size:
        u = abs(one.lb) / (abs(one.lb) + abs(other.la))
    else:
        return None
    if not NEXT_TO_NONE < u < 1 - NEXT_TO_NONE:
        return None
    made = Part(
        long, one.start, other.end, one.a * one.long / (u * long), one.la / u, other.b * other.long / ((1 - u) * long),
        other.lb / (1 - u),
    )  # fmt: skip
    if not is_monotone(made.a, made.b, 1e-6):
        return None
    for half, was in zip(made.cut(u), (one, other), strict=True):
        times = (
            abs(half.long - was.long),
            abs(half.a * half.long - was.a * was.long),
            abs(half.b * half.long - was.b * was.long),
        )
        rises = abs(half.end - was.end), abs(half.la - was.la), abs(half.lb - was.lb)
        if max(times) > ALIKE * long or max(rises) > ALIKE * max(size, abs(made.la), abs(made.lb)):
            return None
    return made


class _Gap(NamedTuple):
    """What is taken away between two keys that stay: the number of the first of these among those that stay, the parts
    in between as they are to be joined, their measures at shares (n,) of its duration, the slopes at which the ends go
    on, NaN where they may be any, and whether some of it goes in steps.
    """

    number: int
    parts: tuple[Part, ...]
    was: Callable[[Floats], Floats]
    slopes: tuple[float, float]
    stepped: bool


def joined(track: T, times: set[int]) -> T:
    """A track without the keys at some times, its motion as it was, or as near to it as one segment for each gap can.

    Before the first key that stays and after the last one it holds, as always.
    """
    present = track.key_times
    gone = [k for k, time in enumerate(present) if time in times]
    kept = [k for k in range(len(present)) if present[k] not in times]
    spans = [(n, a, b) for n, (a, b) in enumerate(itertools.pairwise(kept)) if b > a + 1]
    if not spans:
        return delete_keys(track, times)
    # What an automatic joint would make of its new neighbour is another motion.
    track = concrete(track, {k for _, a, b in spans for k in (a, b)})
    curve = track.curve
    bare = delete_keys(track, times)
    keys: list[KeyBase] = list(bare.keys)
    points: list[PathPoint] | None = None
    old, new = track.measures(), bare.measures()
    if isinstance(track, PathTrack):
        keys, points = _on_joined_path(track, gone, kept)
        new = track.changed(points=tuple(points), keys=tuple(keys), closed=_closed(track, points)).measures()
    stepped = [gap for gap in spans if curve.stepped[gap[1] : gap[2]].all()]
    for n, a, b in stepped:
        keys[n] = _steps_joined(track, keys[n], a, b)
    gaps = []
    for n, a, b in spans:
        if not curve.stepped[a:b].all():
            parts = _parts(track, curve, a, b, old, new[n], new[n + 1])
            gaps.append(
                _Gap(n, parts, partial(_measures, track, parts, a), _slopes(track, curve, a, b, old, new, n),
                     bool(curve.stepped[a:b].any()))
            )  # fmt: skip
    for gap, part in zip(gaps, _all_joined(track, gaps, keys), strict=True):
        left, right = keys[gap.number], keys[gap.number + 1]
        bent = not (part.straight and part.a == part.b == 1 / 3)
        keys[gap.number] = left.changed(
            leaving=side_of(part.a, part.la) if bent else None, hold=False, steps=None
        )  # fmt: skip
        keys[gap.number + 1] = right.changed(arriving=side_of(part.b, part.lb) if bent else None)
    return rebuilt(bare, keys, points)


def _closed(track: PathTrack, points: Sequence[PathPoint]) -> bool:
    return track.closed and len(points) > 2


def _parts(
    track: AnyTrack, curve: TimeCurve, a: int, b: int, old: Floats, start: float, end: float
) -> tuple[Part, ...]:
    """The segments of a gap, in measures that run from one end's new one to the other's."""
    whole = float(old[b] - old[a])
    by = (end - start) / whole if abs(whole) > 1e-12 else 1.0
    if isinstance(track, BlendTrack):
        rows = [0.0, *(_share(track, a, b, k) for k in range(a + 1, b)), 1.0]
    else:
        rows = [start + (float(old[k]) - float(old[a])) * by for k in range(a, b)] + [end]
    out = []
    for k, (one, other) in zip(range(a, b), itertools.pairwise(rows), strict=True):
        if isinstance(track, BlendTrack):
            # From key to key its measure rises by one, however far that is.
            by = other - one
        long = float(curve.duration[k])
        out.append(Part(long, one, other, float(curve.a[k]), float(curve.la[k]) * by, float(curve.b[k]),
                        float(curve.lb[k]) * by))  # fmt: skip
    return tuple(out)


def _share(track: BlendTrack, a: int, b: int, k: int) -> float:
    """How far a key's value is on the way between two others, as near as it comes to that."""
    first, last, value = track.rows[a : a + 1], track.rows[b : b + 1], track.rows[k]

    def off(shares: Floats) -> Floats:
        ones = np.ones((len(shares), 1))
        return np.asarray(np.abs(track.mixed(ones * first, ones * last, shares) - value).sum(axis=1))

    row = np.linspace(-1, 2, 301)
    for _ in range(8):
        best = row[int(off(row).argmin())]
        step = row[1] - row[0]
        row = np.linspace(best - step, best + step, 41)
    return float(row[int(off(row).argmin())])


def _slopes(track: AnyTrack, curve: TimeCurve, a: int, b: int, old: Floats, new: Floats, n: int) -> tuple[float, float]:
    """The slopes of a gap's measure over its duration at its ends, where a smooth joint there is to stay one."""
    if isinstance(track, BlendTrack):
        return float("nan"), float("nan")
    whole = float(old[b] - old[a])
    by = float(new[n + 1] - new[n]) / whole if abs(whole) > 1e-12 else 1.0
    long = float(curve.times[b] - curve.times[a])
    out = []
    for k, reach, rise, at in ((a, curve.a[a], curve.la[a], a), (b, curve.b[b - 1], curve.lb[b - 1], b - 1)):
        smooth = track.keys[k].joint == "smooth" and 0 < k < len(track.keys) - 1 and reach > 0
        out.append(float(rise / reach / curve.duration[at]) * by * long if smooth else float("nan"))
    return out[0], out[1]


def _all_joined(track: AnyTrack, gaps: Sequence[_Gap], keys: Sequence[KeyBase]) -> list[Part]:
    """One segment for each gap."""
    made: list[Part | None] = []
    for gap in at_work(gaps):
        whole: Part | None = None if gap.stepped else gap.parts[0]
        for part in gap.parts[1:]:
            whole = whole_of(whole, part) if whole is not None else None
        made.append(whole)
    due = [gap for gap, part in zip(gaps, made, strict=True) if part is None]
    found = iter(_nearest_of(track, due, keys))
    return [part if part is not None else next(found) for part in made]


def _nearest_of(track: AnyTrack, gaps: Sequence[_Gap], keys: Sequence[KeyBase]) -> list[Part]:
    if not gaps:
        return []
    shares = np.linspace(0, 1, LOOKED_AT + 1)
    rows = np.array([gap.was(shares) for gap in gaps])
    starts = STARTS[: 1 if len(gaps) > MANY else len(STARTS)]
    count = len(starts)
    p, _ = nearest(
        np.tile(shares, (len(gaps) * count, 1)), np.repeat(rows - rows[:, :1], count, 0),
        np.tile(np.array(starts), (len(gaps), 1)), np.repeat(np.array([gap.slopes for gap in gaps]), count, 0),
    )  # fmt: skip
    out = []
    for n, gap in enumerate(gaps):
        start, end = gap.parts[0].start, gap.parts[-1].end
        long = sum(part.long for part in gap.parts)
        tried = [Part(long, start, end, a, la, b, lb) for a, b, la, lb in p[n * count : (n + 1) * count].tolist()]
        tried.append(_as_it_was(gap, keys, long))
        tried = [_within(track, part) for part in tried if is_monotone(part.a, part.b)]
        out.append(min(tried, key=partial(_deviation, gap)))
    return out


def _deviation(gap: _Gap, part: Part) -> float:
    """How far a segment is from a gap at most, looked at where either is steep as well."""
    long = np.cumsum([each.long for each in gap.parts])
    begun = [(end - each.long, each) for end, each in zip(long.tolist(), gap.parts, strict=True)]
    steep = [(at + each.time(STEPS) * each.long) / long[-1] for at, each in begun]
    shares = np.concatenate([np.linspace(0, 1, LOOKED_AT + 1), part.time(STEPS), *steep]).clip(0, 1)
    return float(np.abs(part.at(shares) - gap.was(shares)).max())


def _as_it_was(gap: _Gap, keys: Sequence[KeyBase], long: float) -> Part:
    """The segment that keeps its two sides' reaches and speeds."""
    start, end = gap.parts[0].start, gap.parts[-1].end
    left, right = keys[gap.number].leaving, keys[gap.number + 1].arriving
    a, la = (1 / 3, (end - start) / 3) if left is None else (left.reach, left.rise)
    b, lb = (1 / 3, (end - start) / 3) if right is None else (right.reach, right.rise)
    return Part(long, start, end, a, la, b, lb)


def _within(track: AnyTrack, part: Part) -> Part:
    if not track.within:
        return part
    la, lb = within_keys(np.array([part.la]), np.array([part.lb]), np.array([part.end - part.start]))
    return part._replace(la=float(la[0]), lb=float(lb[0]))


def _measures(track: AnyTrack, parts: Sequence[Part], a: int, shares: Floats) -> Floats:
    """The measures of a gap, as its parts have them, at shares (n,) of its duration from the key ``a`` on."""
    curve, old = track.curve, track.measures()
    first, last = float(curve.times[a]), float(curve.times[a + len(parts)])
    times = first + shares * (last - first)
    which = np.clip(np.searchsorted(curve.times, times, side="right") - 1, a, a + len(parts) - 1)
    starts, ends = (np.array([getattr(part, name) for part in parts])[which - a] for name in ("start", "end"))
    change = old[which + 1] - old[which]
    by = np.where(np.abs(change) > 1e-12, (ends - starts) / np.where(np.abs(change) > 1e-12, change, 1.0), 1.0)
    return np.asarray(starts + (curve.at(times) - old[which]) * by)


def _steps_joined(track: AnyTrack, key: KeyBase, a: int, b: int) -> KeyBase:
    """The key that begins a gap with steps in it: equal ones are counted together, others go on as the first does."""
    measures, times = track.measures(), track.key_times
    nothing = 1e-9 * float(np.ptp(measures[a : b + 1]))
    #: How many steps, how long each is, and how far each goes.
    row: list[tuple[int, float, float]] = []
    for k in range(a, b):
        steps = track.keys[k].steps or (Steps(count=1) if track.keys[k].hold else None)
        if steps is None or steps.jump != "end":
            return key
        count, rise = steps.count, float(measures[k + 1] - measures[k])
        long = float(times[k + 1] - times[k])
        if row and count == row[-1][0] == 1 and abs(row[-1][2]) <= nothing:
            # What rests and then steps is one step.
            long += row.pop()[1]
        row.append((count, long / count, rise / count))
    _, longs, rises = zip(*row, strict=True)
    size = max(map(abs, rises)) or 1.0
    if max(rises) - min(rises) > 1e-6 * size or max(longs) - min(longs) > 1:
        return key
    count = sum(each for each, _, _ in row)
    return key.changed(hold=key.hold and count == 1, steps=None if key.hold and count == 1 else Steps(count=count))


def _on_joined_path(
    track: PathTrack, gone: Sequence[int], kept: Sequence[int]
) -> tuple[list[KeyBase], list[PathPoint]]:
    """The keys that stay and the points of their path, what lay between two of these joined to one span."""
    resting = {int(track.keys[k].at) for k in kept if track.keys[k].rests}
    lost = {int(track.keys[k].at) for k in gone if track.keys[k].rests} - resting
    lost -= {0} if len(lost) >= len(track.points) else set()
    if track.closed and lost & {0, len(track.points) - 1}:
        lost |= {0, len(track.points) - 1}
    placed, points = without_points(track, [track.keys[k] for k in kept], lost)
    if not track.closed or not lost & {0, len(track.points) - 1}:
        points = joined_points(track.points, lost, track.closed)
    row: list[KeyBase] = list(settled([key for key in placed if isinstance(key, PathKey)], points))
    return row, points


__all__ = ["Part", "joined", "whole_of"]
