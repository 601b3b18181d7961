"""What goes on before and after a lane's keys, as it is drawn: faint bands and curves, ends of turns, a handle for how
often.
"""

from dataclasses import dataclass

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document.track import AnyTrack
from deftarc.web.panels.axis import TimeAxis

#: Px between samples.
STRIDE = 3.0
#: Turns narrower than this are not told apart by a tick, and no more ticks than so many are drawn.
NARROWEST, MOST_TICKS = 6.0, 300
#: What is shown of a count that has no end.
FOR_EVER = "∞"


@dataclass(frozen=True)
class Side:
    """One side of a lane: its band, the ends of its turns, and where its count ends, to be dragged."""

    side: str
    how: str
    band: str
    ticks: list[float]
    #: Where the handle stands in px, and what stands beside it; ``told`` is empty where nothing is counted.
    x: float
    told: str
    #: From which moment turns are counted, and how long one takes, in flicks.
    origin: int = 0
    turn: int = 0
    title: str = ""


def sides_beyond(track: AnyTrack, axis: TimeAxis, middle: float, most: float) -> list[Side]:
    """What is drawn before and after a lane's keys."""
    if not track.lasts:
        return []
    times = track.key_times
    top = _top(track, axis)
    out = []
    for side, told in (("before", track.before), ("after", track.after)):
        if told is None:
            continue
        at = axis.x(times[-1] if side == "after" else times[0])
        left, right = (max(at, 0.0), axis.width) if side == "after" else (0.0, min(at, axis.width))
        a, b = track.cycle(side)
        turn = times[b] - times[a]
        if not told.cycles or turn <= 0:
            out.append(Side(side, told.how, _band(track, axis, left, right, middle, most, top), [], at, ""))
            continue
        origin = times[-1] if side == "after" else times[0]
        way = 1 if side == "after" else -1
        end = axis.x(origin + way * (told.count - 1) * turn) if told.count is not None else None
        shown = (right if side == "after" else left) if end is None else min(max(end, 0.0), axis.width)
        band = (
            _band(track, axis, min(left, shown), max(shown, left), middle, most, top)
            if side == "after"
            else _band(track, axis, min(shown, right), right, middle, most, top)
        )
        count = FOR_EVER if told.count is None else f"×{told.count:.4g}"
        x = min(max(shown, 9.0), axis.width - 9.0)
        often = "for ever" if told.count is None else f"{told.count:.4g} times in all"
        out.append(
            Side(side, told.how, band, _ticks(axis, origin, way * turn, told.count), round(x, 1), count, origin, turn,
                 f"{told.how.capitalize()} {side} the keys, {often}: drag for how often")
        )  # fmt: skip
    return out


def _top(track: AnyTrack, axis: TimeAxis) -> float:
    """The lane's fastest in view, as its own band is drawn against."""
    count = max(2, int(axis.width / STRIDE))
    xs = np.linspace(0, axis.width, count)
    speed = np.abs(track.speeds(axis.start + xs * (axis.end - axis.start) / axis.width))
    finite = speed[np.isfinite(speed)]
    return float(finite.max()) if finite.size else 0.0


def _band(track: AnyTrack, axis: TimeAxis, left: float, right: float, middle: float, most: float, top: float) -> str:
    if right - left < 1 or top <= 0:
        return ""
    xs = np.linspace(left, right, max(2, int((right - left) / STRIDE) + 1))
    speed = np.abs(track.speeds(axis.start + xs * (axis.end - axis.start) / axis.width))
    half = np.where(np.isfinite(speed), np.maximum(speed / top * most, 0.7), most)
    half = np.where(speed == 0, 0.0, half)
    around = np.concatenate([np.stack([xs, middle - half], 1), np.stack([xs, middle + half], 1)[::-1]])
    return "M" + " ".join(map(str, np.round(around, 1).reshape(-1).tolist())) + "Z"


def _ticks(axis: TimeAxis, origin: int, turn: int, count: float | None) -> list[float]:
    """Where turns end, in view."""
    wide = abs(turn) * axis.width / (axis.end - axis.start)
    if wide < NARROWEST:
        return []
    most = min(MOST_TICKS, int(axis.width / wide) + 2 + int(abs(axis.x(origin)) / wide))
    ends = np.arange(1, most + 1 if count is None else min(most, int(np.floor(count - 1))) + 1)
    xs = axis.xs(origin + ends * turn)
    return [round(float(x), 1) for x in xs if 0 <= x <= axis.width]


def drawn_beyond(track: AnyTrack, axis: TimeAxis) -> list[tuple[Floats, Floats, Floats]]:
    """Times (n,), measures and speeds of what is drawn beyond the keys, a row a side, in the measure's unit."""
    if not track.keys:
        return []
    times = track.key_times
    scale = (axis.end - axis.start) / axis.width
    out = []
    for left, right in ((0.0, min(axis.x(times[0]), axis.width)), (max(axis.x(times[-1]), 0.0), axis.width)):
        if right - left < 1:
            continue
        at = axis.start + np.linspace(left, right, max(2, int((right - left) / 2) + 1)) * scale
        out.append((at, track.drawn(at), track.speeds(at)))
    return out
