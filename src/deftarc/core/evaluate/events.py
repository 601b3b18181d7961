"""Contacts, peaks and stops of a motion, found by looking at how it goes and not at its keys: so they are found alike
in what loops, follows, is carried or runs by a clock.

A contact is a velocity that jumps against the way it came: at ever smaller scales the change of velocity across it
stays what it is, where that of a smooth motion shrinks with the scale. Where the value itself jumps, it is a cut and no
contact. A peak is where one of its numbers turns round smoothly; a stop, where it comes to stand still.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace

import numpy as np

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.time import FLICKS
from deftarc.core.document.reactions import KINDS, EventKind

Motion = Callable[[Floats], Floats]

#: How finely a motion is looked through, in flicks; longer ones in no more than so many moments. Contacts nearer to
#: each other than eight of these may be found as one.
STEP, MOST = FLICKS // 960, 400_000
#: What a contact is narrowed down to: by a quarter so many times, to 2 µs.
ROUNDS, INTO = 6, 12
#: Speeds beside a contact are read this far from each other, in flicks: 50 µs.
BESIDE = FLICKS // 20_000
#: What is found this near to a whole frame, in frames, is on it.
ON_FRAME = 1e-3
#: A jump is one where the change of velocity at a quarter of the scale is at least this share of it.
STAYS = 0.6
#: A contact takes at least this share of the fastest speed, and of the speed there.
OF_FASTEST, OF_SPEED = 1e-3, 1e-3


@dataclass(frozen=True)
class Event:
    """Something a motion does at a ``time`` in flicks.

    ``size`` is, of a contact, the speed with which it hits; of a peak, how far it came since it turned last; both in
    the motion's units. ``strength`` is that next to the greatest of its kind; of a stop always 1. ``way`` is the
    direction it came by, of length 1; of a contact the one it hits in, against which its velocity jumps.
    """

    kind: EventKind
    time: int
    size: float
    strength: float
    way: tuple[float, ...]


def events_of(motion: Motion, start: int, end: int, frame: int, least: float) -> list[Event]:
    """What a motion (n,) → (n, components) does from ``start`` up to, not at, ``end``, in order of time.

    ``frame`` is the length of a frame in flicks; ``least`` the smallest change of the motion that can be seen: nothing
    slower than that a second, or smaller, is found.
    """
    if end <= start:
        return []
    step = max(STEP, (end - start) // MOST)
    times = start + step * np.arange(-6, (end - start) // step + 8, dtype=np.float64)
    rows = motion(times)
    if len(rows) == 1 or not np.ptp(rows, axis=0).any():
        return []
    moving = np.diff(rows, axis=0) * (FLICKS / step)
    contacts, cuts = _contacts(motion, times, moving, step, least)
    shut = sorted([*cuts, *(each.time for each in contacts)])
    stops = _stops(motion, times, rows, step, frame, least)
    peaks = _peaks(motion, times, rows, shut, step, frame, least)
    found = (_on_frame(each, frame) for each in (*contacts, *stops, *peaks))
    return sorted(
        (each for each in found if start <= each.time < end),
        key=lambda each: (each.time, KINDS.index(each.kind)),
    )


def _on_frame(event: Event, frame: int) -> Event:
    """An event moved onto the whole frame that it was found beside by no more than looking can tell."""
    near = round(event.time / frame) * frame
    return replace(event, time=near) if 0 < abs(near - event.time) <= ON_FRAME * frame else event


def _contacts(motion: Motion, times: Floats, moving: Floats, step: int, least: float) -> tuple[list[Event], list[int]]:
    """Contacts, and moments at which the value itself jumps."""
    # The change of velocity from before a cell to after it, without what goes on around it anyway.
    across = np.zeros_like(moving)
    across[1:-1] = moving[2:] - moving[:-2]
    alone = np.zeros(len(moving))
    alone[4:-4] = np.linalg.norm(across[4:-4] - (across[1:-7] + across[7:-1]) / 2, axis=1)
    fastest = float(np.linalg.norm(moving, axis=1).max())
    floor = max(least, OF_FASTEST * fastest)
    peak = (alone > floor / 2) & (alone >= np.roll(alone, 1)) & (alone > np.roll(alone, -1))
    cells = np.flatnonzero(peak)
    if not len(cells):
        return [], []
    low, high = _narrowed(motion, times[cells] - step, times[cells] + 2 * step)
    inner = (high - low) / 3
    (at_low, at_high), before, after, bent = _beside(motion, low, high)
    _, wide_before, wide_after, _ = _beside(motion, low - 4.5 * inner, high + 4.5 * inner)
    jump, wide = after - before, wide_after - wide_before
    speed = np.maximum(np.linalg.norm(before, axis=1), np.linalg.norm(after, axis=1))
    size = np.linalg.norm(jump, axis=1)
    # What the value may have moved while it was narrowed down, if it did not jump.
    went = (np.linalg.norm(before, axis=1) + np.linalg.norm(after, axis=1)) * (high - low) / FLICKS
    cut = np.linalg.norm(at_high - at_low, axis=1) > 3 * went + 1e-3 * least
    with np.errstate(invalid="ignore", divide="ignore"):
        normal = jump / size[:, None]
    hits = np.minimum(-np.einsum("nc,nc->n", before, np.nan_to_num(normal)), size)
    sharp = (size > STAYS * np.linalg.norm(wide, axis=1)) & (size > OF_SPEED * speed) & (size > 2 * bent)
    found = ~cut & sharp & (hits > floor)
    spots = np.rint((low + high) / 2).astype(np.int64)
    strongest = max((float(hits[n]) for n in np.flatnonzero(found)), default=1.0)
    out: list[Event] = []
    for n in np.flatnonzero(found):
        if out and spots[n] - out[-1].time < 2 * step:
            # One and the same, seen from both its sides.
            continue
        # Into what it hits: along that it goes on as it came, however fast.
        way = -normal[n]
        out.append(Event("contact", int(spots[n]), float(hits[n]), float(hits[n]) / strongest, tuple(map(float, way))))
    return out, [int(spots[n]) for n in np.flatnonzero(cut)]


def _narrowed(motion: Motion, low: Floats, high: Floats) -> tuple[Floats, Floats]:
    """Stretches (n,) narrowed down to where in them velocity changes most suddenly."""
    for _ in range(ROUNDS):
        grid = low[:, None] + (high - low)[:, None] * (np.arange(-2, INTO + 3) / INTO)
        rows = motion(grid.ravel())
        rows = rows.reshape(*grid.shape, rows.shape[1])
        moving = np.diff(rows, axis=1)
        across = moving[:, 2:] - moving[:, :-2]
        alone = np.linalg.norm(across - np.median(across, axis=1, keepdims=True), axis=2)
        # across[k] spans cell k + 1 of the grid.
        cell = 1 + np.argmax(alone, axis=1)
        line = np.arange(len(grid))
        low, high = grid[line, cell - 1], grid[line, np.minimum(cell + 2, grid.shape[1] - 1)]
    return low, high


def _beside(motion: Motion, low: Floats, high: Floats) -> tuple[tuple[Floats, Floats], Floats, Floats, Floats]:
    """Values at both ends of stretches, and the velocities just before and just after them, each (n, components); by
    how much velocity changes there anyway over BESIDE, (n,).
    """
    grid = np.concatenate([low - 2 * BESIDE, low - BESIDE, low, high, high + BESIDE, high + 2 * BESIDE])
    rows = motion(grid).reshape(6, len(low), -1)
    over = FLICKS / (2 * BESIDE)
    before = (3 * rows[2] - 4 * rows[1] + rows[0]) * over
    after = (4 * rows[4] - rows[5] - 3 * rows[3]) * over
    bent = [np.linalg.norm(a - 2 * b + c, axis=1) * (FLICKS / BESIDE) for a, b, c in (rows[:3], rows[3:])]
    return (rows[2], rows[3]), before, after, np.maximum(*bent)


def _runs(still: np.ndarray) -> Iterable[tuple[int, int]]:
    """The runs of a row of truths, as [first, behind the last)."""
    edges = np.flatnonzero(np.diff(np.concatenate(([False], still, [False])).astype(np.int8)))
    return zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True)


def _stops(motion: Motion, times: Floats, rows: Floats, step: int, frame: int, least: float) -> list[Event]:
    """Where a motion comes to stand still for a frame or longer."""
    near = 1e-7 * least
    still = np.abs(np.diff(rows, axis=0)).max(axis=1) <= near
    firsts = [first for first, behind in _runs(still) if first and (behind - first + 1) * step >= frame]
    if not firsts:
        return []
    rest = rows[firsts]
    low, high = times[np.array(firsts) - 1], times[firsts]
    for _ in range(20):
        middle = (low + high) / 2
        there = np.abs(motion(middle) - rest).max(axis=1) <= near
        low, high = np.where(there, low, middle), np.where(there, middle, high)
    out = []
    for first, time in zip(firsts, high, strict=True):
        # The way it came by, from where it could be seen to move last.
        came = rows[first] - rows[np.maximum(first - np.array([1, 8, 32, 128]), 0)]
        far = np.linalg.norm(came, axis=1)
        n = int(np.argmax(far > least / 10)) if (far > least / 10).any() else int(np.argmax(far))
        out.append(Event("stop", round(time), 0.0, 1.0, tuple(map(float, came[n] / far[n]))))
    return out


def _peaks(
    motion: Motion, times: Floats, rows: Floats, shut: list[int], step: int, frame: int, least: float
) -> list[Event]:
    """Where one of a motion's numbers turns round smoothly, having come as far as can be seen and going so."""
    told: dict[int, tuple[float, list[float]]] = {}
    count = rows.shape[1]
    for k in range(count):
        for time, far, sign in _turns(motion, times, rows[:, k], k, shut, step, frame, least):
            # Numbers that turn round together are one peak.
            near = next((each for each in told if abs(each - time) <= frame // 2), time)
            was, way = told.get(near, (0.0, [0.0] * count))
            way[k] = sign * far
            told[near] = (max(was, far), way)
    greatest = max((far for far, _ in told.values()), default=1.0)
    out = []
    for time, (far, way) in told.items():
        length = float(np.linalg.norm(way))
        out.append(Event("peak", time, far, far / greatest, tuple(each / length for each in way)))
    return out


def _turns(
    motion: Motion, times: Floats, row: Floats, k: int, shut: list[int], step: int, frame: int, least: float
) -> Iterable[tuple[int, float, float]]:
    """The smooth turns of one number of a motion: when, how far it came, and up or down (1 or -1)."""
    change = np.diff(row)
    signs = np.where(np.abs(change) <= 1e-7 * least, 0, np.sign(change)).astype(np.int64)
    going = np.flatnonzero(signs)
    if len(going) < 2:
        return
    turn = np.flatnonzero(signs[going[1:]] != signs[going[:-1]])
    # Between two turns it goes one way: as far as it goes there it came to the second.
    marks: Integers = np.array([going[0], *(going[turn + 1]), going[-1] + 1])
    far = np.abs(np.diff(row[marks]))
    first, second = going[turn], going[turn + 1]
    low, high = times[first], times[second + 1]
    taken = ((second - first - 1) * step < frame) & (np.minimum(far[:-1], far[1:]) >= 2 * least)
    for each in shut:
        taken &= (each < low - step) | (each > high + step)
    n = np.flatnonzero(taken)
    low, high, sign = low[n], high[n], signs[first[n]]
    line = np.arange(len(n))
    for _ in range(10 if len(n) else 0):
        grid = low[:, None] + (high - low)[:, None] * np.linspace(0, 1, 9)
        best = np.argmax(motion(grid.ravel())[:, k].reshape(grid.shape) * sign[:, None], axis=1)
        low, high = grid[line, np.maximum(best - 1, 0)], grid[line, np.minimum(best + 1, 8)]
    for k, time in enumerate((low + high) / 2):
        yield round(time), float(far[n[k]]), float(sign[k])
