"""Shapes of a Lottie file as contours: paths, rectangles, ellipses, stars, still or from key to key."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document.artwork import Contour
from deftarc.core.document.keys import BlendKey
from deftarc.core.document.track import NumberTrack, OutlineTrack
from deftarc.core.plain.lanes import sampled
from deftarc.formats.read.lottie.keys import Clocked, Key, list_of, row_of, sided
from deftarc.formats.read.lottie.source import Told

#: A handle's length for a quarter of a circle.
QUARTER = 0.5519
#: Px that what is kept of samples may be off.
NEAR = 0.05

#: Six numbers a point: it, and its two handles from it.
Rows = list[list[float]]


@dataclass(frozen=True)
class Source:
    """A contour: its points where it stays, or at each of its keys; whether it is closed."""

    closed: bool
    keys: tuple[Key, ...]
    rows: tuple[Rows, ...]

    @property
    def moves(self) -> bool:
        return len(self.keys) > 1


def path(told: Told, clocked: Clocked) -> list[Source]:
    """A drawn path. Keys with another number of points than its first one's are left out."""
    shape = told.get("ks")
    keys = clocked.keys(shape)
    if not keys:
        rows, closed = _bezier(clocked.still(shape))
        return [Source(closed, (), (rows,))] if rows else []
    found = [(key, *_bezier(key.value)) for key in keys]
    count, closed = len(found[0][1]), found[0][2]
    kept = [(key, rows) for key, rows, _ in found if len(rows) == count]
    if len(kept) < len(found):
        clocked.notes.add("Outlines whose points come and go keep those they begin with")
    if not count:
        return []
    return [Source(closed, tuple(key for key, _ in kept), tuple(rows for _, rows in kept))]


def _bezier(told: Any) -> tuple[Rows, bool]:
    if isinstance(told, list):
        told = told[0] if told else None
    if not isinstance(told, dict) or not isinstance(told.get("v"), list):
        return [], False
    spots, come, left = (list_of(told.get(name)) for name in ("v", "i", "o"))
    rows = []
    for k, spot in enumerate(spots):
        arms = [row_of(each[k], 2) if k < len(each) else (0.0, 0.0) for each in (come, left)]
        rows.append([*row_of(spot, 2), *arms[0], *arms[1]])
    return rows, bool(told.get("c", False))


def formed(told: Told, clocked: Clocked) -> list[Source]:
    """A rectangle, an ellipse, a polygon or a star."""
    kind = told.get("ty")
    turn = -1.0 if told.get("d") == 3 else 1.0
    if kind in ("rc", "el"):
        names = [("p", 0, 0.0), ("p", 1, 0.0), ("s", 0, 0.0), ("s", 1, 0.0), *([("r", 0, 0.0)] if kind == "rc" else [])]
        make = _rectangle if kind == "rc" else _ellipse
    else:
        star = told.get("sy", 1) != 2
        names = [("p", 0, 0.0), ("p", 1, 0.0), ("pt", 0, 5.0), ("or", 0, 0.0), ("os", 0, 0.0), ("r", 0, 0.0),
                 *([("ir", 0, 0.0), ("is", 0, 0.0)] if star else [])]  # fmt: skip
        make = _star
    tracks = [_number(told.get(name), part, default, clocked) for name, part, default in names]
    keyed = {name: clocked.keys(told.get(name)) for name, *_ in names}
    moving = [name for name, keys in keyed.items() if len(keys) > 1]
    split = any(isinstance(told.get(name), dict) and told[name].get("s") is True for name, *_ in names)
    if not moving and not split:
        return [Source(True, (), (make([track.value for track in tracks], turn),))]
    if len(moving) == 1 and not split and moving[0] in ("p", "s") and kind in ("rc", "el"):
        keys = keyed[moving[0]]
        bent = any(key.out or key.into for key in keys) or any(len(set(key.eases)) > 1 for key in keys)
        if not bent and not (kind == "rc" and tracks[4].value):
            # What it comes to goes evenly with its numbers: its keys are theirs.
            rows = tuple(make([_at(track, key.time) for track in tracks], turn) for key in keys)
            return [Source(True, tuple(keys), rows)]
    return _by_frames(tracks, lambda numbers: make(numbers, turn), clocked)


def _number(told: Any, part: int, default: float, clocked: Clocked) -> NumberTrack:
    if isinstance(told, dict) and told.get("s") is True:
        return clocked.number(told.get("xy"[part]), 0, default=default)
    return clocked.number(told, part, default=default)


def _at(track: NumberTrack, time: float) -> float:
    return float(track.at(time)[0]) if track.keys else track.value


def _by_frames(tracks: Sequence[NumberTrack], make: Callable[[list[float]], Rows], clocked: Clocked) -> list[Source]:
    """What numbers come to at each frame from their first key to their last."""
    times = [key.time for track in tracks for key in track.keys]
    frames = np.arange(min(times), max(times) + 1, clocked.flicks)
    if frames[-1] < max(times):
        frames = np.append(frames, max(times))
    made = [make([_at(track, float(time)) for track in tracks]) for time in frames]
    count = len(made[0])
    if any(len(rows) != count for rows in made):
        clocked.notes.add("Stars whose number of points changes keep the one they begin with")
        return [Source(True, (), (made[0],))]
    return [_thinned(frames.astype(np.float64), np.array(made), True)]


def _thinned(times: Floats, rows: Floats, closed: bool) -> Source:
    lane = sampled(times, rows.reshape(len(rows), -1), NEAR)
    shape = rows.shape[1:]
    kept = tuple(each.reshape(shape).tolist() for each in lane.rows)
    if not lane.moves:
        return Source(closed, (), kept)
    return Source(closed, tuple(Key(round(float(time)), None) for time in lane.times), kept)


def _rectangle(numbers: list[float], turn: float) -> Rows:
    x, y, width, height, corner = numbers
    w, h = width / 2, height / 2
    r = min(abs(w), abs(h), max(0.0, corner))
    if r <= 0:
        spots = [(w, -h), (w, h), (-w, h), (-w, -h)]
        rows = [[x + a, y + b, 0.0, 0.0, 0.0, 0.0] for a, b in spots]
    else:
        k = r * QUARTER
        rows = [
            [x + w, y - h + r, 0, -k, 0, 0], [x + w, y + h - r, 0, 0, 0, k], [x + w - r, y + h, k, 0, 0, 0],
            [x - w + r, y + h, 0, 0, -k, 0], [x - w, y + h - r, 0, k, 0, 0], [x - w, y - h + r, 0, 0, 0, -k],
            [x - w + r, y - h, -k, 0, 0, 0], [x + w - r, y - h, 0, 0, k, 0],
        ]  # fmt: skip
    return rows if turn > 0 else _turned(rows)


def _ellipse(numbers: list[float], turn: float) -> Rows:
    x, y, width, height = numbers
    w, h = width / 2, height / 2
    a, b = w * QUARTER, h * QUARTER
    rows = [
        [x, y - h, -a, 0, a, 0], [x + w, y, 0, -b, 0, b], [x, y + h, a, 0, -a, 0], [x - w, y, 0, b, 0, -b],
    ]  # fmt: skip
    return rows if turn > 0 else _turned(rows)


def _turned(rows: Rows) -> Rows:
    """The same contour the other way round, from the same point on."""
    back = [rows[0], *reversed(rows[1:])]
    return [[x, y, e, f, c, d] for x, y, c, d, e, f in back]


def _star(numbers: list[float], turn: float) -> Rows:
    x, y, count, outer, round_out, rotation, *inner = numbers
    points = max(2, min(500, math.floor(count)))
    sides = points * 2 if inner else points
    step = 2 * math.pi / sides * turn
    angle = -math.pi / 2 + math.radians(rotation)
    rows = []
    for k in range(sides):
        far, roundness = (outer, round_out) if not inner or k % 2 == 0 else (inner[0], inner[1])
        arm = 2 * math.pi * far / (sides * (2 if inner else 4)) * roundness / 100 * turn
        dx, dy = math.cos(angle), math.sin(angle)
        # Along the circle, from the side it comes from.
        ox, oy = (dy, -dx) if far else (0.0, 0.0)
        rows.append([x + far * dx, y + far * dy, ox * arm, oy * arm, -ox * arm, -oy * arm])
        angle += step
    return rows


# --- several as one path ---


def put_together(sources: Sequence[Source], clocked: Clocked) -> tuple[tuple[Contour, ...], OutlineTrack | None]:
    """Contours as one free path's, and its outline's keys where any of them moves."""
    contours = tuple(
        Contour(points=tuple(tuple(row) for row in each.rows[0]), closed=each.closed)
        for each in sources
    )  # fmt: skip
    moving = [each for each in sources if each.moves]
    if not moving:
        return contours, None
    first = moving[0]
    told = [(key.time, key.hold, key.ease(0)) for key in first.keys]
    if all([(key.time, key.hold, key.ease(0)) for key in each.keys] == told for each in moving[1:]):
        rows = [_row([each.rows[k] if each.moves else each.rows[0] for each in sources]) for k in range(len(told))]
        made = [
            BlendKey(time=key.time, value=rows[k], **sides)
            for k, (key, sides) in enumerate(sided(list(first.keys), [float(k) for k in range(len(told))]))
        ]
        return contours, OutlineTrack(value=rows[0], keys=tuple(made))
    tracks = [put_together([each], clocked)[1] for each in sources]
    times = [key.time for track in tracks if track is not None for key in track.keys]
    frames = np.arange(min(times), max(times) + clocked.flicks, clocked.flicks).astype(np.float64)
    columns = [
        np.tile(np.ravel(each.rows[0]), (len(frames), 1)) if track is None else track.motion(frames)
        for each, track in zip(sources, tracks, strict=True)
    ]
    lane = sampled(frames, np.concatenate(columns, axis=1), NEAR)
    keys = tuple(
        BlendKey(time=round(float(time)), value=tuple(row.tolist()))
        for time, row in zip(lane.times, lane.rows, strict=True)
    )
    return contours, OutlineTrack(value=keys[0].value, keys=keys)


def _row(parts: Sequence[Rows]) -> tuple[float, ...]:
    return tuple(float(n) for rows in parts for row in rows for n in row)


__all__ = ["Source", "formed", "path", "put_together"]
