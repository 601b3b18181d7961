"""Eases as CSS text (CSS Easing Functions Level 2): ``cubic-bezier()``, ``linear()``, ``steps()`` and the keywords."""

import itertools
import math
import re
from collections.abc import Sequence

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.arithmetic import plain_number
from deftarc.core.base.errors import Refusal
from deftarc.core.changes.ease import side_or_chord
from deftarc.core.curves.curve import bezier
from deftarc.core.curves.inverse import time_coefficients
from deftarc.core.curves.knots import Knot
from deftarc.core.curves.sides import Side, Steps

KEYWORDS = {
    "ease": (0.25, 0.1, 0.25, 1.0),
    "ease-in": (0.42, 0.0, 1.0, 1.0),
    "ease-out": (0.0, 0.0, 0.58, 1.0),
    "ease-in-out": (0.42, 0.0, 0.58, 1.0),
}
JUMPS = {"jump-start": "start", "jump-end": "end", "jump-none": "none", "jump-both": "both", "start": "start",
         "end": "end"}  # fmt: skip
#: How far a linear() text may be from a bent curve, as a share of its change.
LINEAR_TOLERANCE = 0.001
#: What of that is left for the digits it is written with, and how far a number of cubic-bezier() may be rounded.
FITTED, ROUNDED = 0.0009, 1e-9
#: How near to each other two places of linear() are read at least.
APART = 1e-7
#: How near to an upright place others are written.
CLEAR = 1.05 * APART
#: How far numbers and per cent of linear() may be rounded: what is left of its thousandth.
NEAR_PLACE = 2e-5
_HOW = "Write cubic-bezier(0.3, 0, 0.2, 1), linear(0, 0.4 30%, 1), steps(4) or a keyword such as ease-out."


def parse_easing(text: str) -> list[Knot]:
    """The shape a CSS easing function tells; Refusal with how it is written when it tells none."""
    told = re.sub(r"\s+", " ", text.strip().rstrip(";").lower())
    told = re.sub(r"^[a-z-]*timing-function\s*:\s*", "", told)
    if told == "linear":
        return [Knot(x=0, y=0), Knot(x=1, y=1)]
    if told in KEYWORDS:
        return _cubic(KEYWORDS[told])
    if told in ("step-start", "step-end"):
        return _steps(1, "start" if told == "step-start" else "end")
    found = re.fullmatch(r"([a-z-]+)\s*\((.*)\)", told)
    if not found:
        raise Refusal(f"“{text.strip()[:60]}” is no CSS easing function. {_HOW}")
    name, inside = found[1], found[2]
    if name == "cubic-bezier":
        numbers = [_number(part, text) for part in inside.split(",")]
        if len(numbers) != 4:
            raise Refusal(f"cubic-bezier() takes four numbers, not {len(numbers)}.")
        if not (0 <= numbers[0] <= 1 and 0 <= numbers[2] <= 1):
            raise Refusal("In cubic-bezier() the first and the third number lie between 0 and 1.")
        return _cubic((numbers[0], numbers[1], numbers[2], numbers[3]))
    if name == "steps":
        return _steps_told([part.strip() for part in inside.split(",")], text)
    if name == "linear":
        return _linear(inside, text)
    raise Refusal(f"There is no easing function “{name[:30]}” here. {_HOW}")


def _number(part: str, text: str) -> float:
    try:
        value = plain_number(part.strip())
    except ValueError:
        raise Refusal(f"“{part.strip()[:20]}” in “{text.strip()[:60]}” is no number. {_HOW}") from None
    if not math.isfinite(value) or abs(value) > 1e4:
        raise Refusal(f"“{part.strip()[:20]}” is too large for an ease.")
    return value


def _cubic(p: tuple[float, float, float, float]) -> list[Knot]:
    return [Knot(x=0, y=0, leaving=Side(reach=p[0], rise=p[1])),
            Knot(x=1, y=1, arriving=Side(reach=1 - p[2], rise=1 - p[3]))]  # fmt: skip


def _steps(count: int, jump: str) -> list[Knot]:
    return [Knot(x=0, y=0, steps=Steps.model_validate({"count": count, "jump": jump})), Knot(x=1, y=1)]


def _steps_told(parts: list[str], text: str) -> list[Knot]:
    count = _number(parts[0], text)
    jump = JUMPS.get(parts[1]) if len(parts) == 2 else "end" if len(parts) == 1 else None
    if jump is None:
        raise Refusal("steps() takes a number, and perhaps jump-start, jump-end, jump-none or jump-both after it.")
    if count != int(count) or not 1 <= count <= limits.MAX_STEPS or (jump == "none" and count < 2):
        raise Refusal(f"steps() takes a whole number from {2 if jump == 'none' else 1} to {limits.MAX_STEPS}.")
    return _steps(int(count), jump)


def _linear(inside: str, text: str) -> list[Knot]:
    """Stops with their places filled in as the standard says: ends at 0 and 1, never falling, the rest even."""
    stops: list[tuple[float, float | None]] = []
    for part in inside.split(","):
        words = part.split()
        values = [word for word in words if not word.endswith("%")]
        where = [_number(word[:-1], text) / 100 for word in words if word.endswith("%")]
        if len(values) != 1 or len(where) > 2:
            raise Refusal(f"“{part.strip()[:30]}” is no stop of linear(): it is a number and at most two places in %.")
        value = _number(values[0], text)
        stops += [(value, place) for place in where] or [(value, None)]
    if len(stops) < 2 or len(stops) > limits.MAX_EASE_KNOTS:
        raise Refusal(f"linear() takes 2 to {limits.MAX_EASE_KNOTS} stops here, not {len(stops)}.")
    places: list[float | None] = [place for _, place in stops]
    places[0] = 0.0 if places[0] is None else places[0]
    places[-1] = 1.0 if places[-1] is None else places[-1]
    most = -math.inf
    for n, place in enumerate(places):
        if place is not None:
            places[n] = most = max(most, place)
    known = [n for n, place in enumerate(places) if place is not None]
    xs = np.interp(range(len(places)), known, [float(places[n] or 0.0) for n in known])
    ys = [value for value, _ in stops]
    if abs(xs[0]) > 1e-9 or abs(xs[-1] - 1) > 1e-9 or abs(ys[0]) > 1e-9 or abs(ys[-1] - 1) > 1e-9:
        raise Refusal("A linear() for a segment begins with 0 at 0% and ends with 1 at 100%: its keys say the rest.")
    return _knots_of(list(zip(map(float, xs), [0.0, *ys[1:-1], 1.0], strict=True)))


def _knots_of(stops: list[tuple[float, float]]) -> list[Knot]:
    """Knots through stops; two at one place are a jump, after which the later one is there from that instant on."""
    rows: list[list[float]] = []
    for x, y in stops:
        # Of many at one place only the first and the last ever show.
        if len(rows) > 1 and rows[-1][0] == rows[-2][0] == x:
            rows[-1][1] = y
        elif [x, y] not in rows[-1:]:
            rows.append([x, y])
    jumps = [a[0] == b[0] for a, b in itertools.pairwise(rows)]
    knots: list[Knot] = []
    for n, (x, y) in enumerate(rows):
        steps = None
        if n < len(jumps) and jumps[n]:
            if knots and knots[-1].steps is None and knots[-1].y == y:
                # Flat up to a jump: a hold.
                knots[-1] = knots[-1].changed(steps=Steps(count=1))
                continue
            steps = Steps(count=1, jump="start")
        if steps is None and n and jumps[n - 1] and knots[-1].x == x:
            ahead = rows[n + 1] if n + 1 < len(rows) else None
            if ahead is not None and ahead[1] == y and not (n + 1 < len(jumps) and jumps[n + 1]):
                # Flat after a jump: its step lasts as long.
                continue
            x = x + APART
        knots.append(Knot(x=min(1.0, x), y=y, steps=steps))
    return _apart(knots)


def _apart(knots: list[Knot]) -> list[Knot]:
    """Knots at least so far apart as keys can stand, from 0 to 1; one that jumps at the very end is a hold."""
    xs = [knot.x for knot in knots]
    if xs[-2] >= 1.0 and knots[-2].steps is not None:
        knots[-2] = knots[-2].changed(steps=Steps(count=1))
    for n in range(1, len(xs)):
        xs[n] = max(xs[n], xs[n - 1] + APART)
    for n in range(len(xs) - 2, -1, -1):
        xs[n] = min(xs[n], min(1.0, xs[n + 1]) - APART)
    xs[0], xs[-1] = 0.0, 1.0
    return [knot.changed(x=x) for knot, x in zip(knots, xs, strict=True)]


def easing_text(knots: Sequence[Knot]) -> str:
    """The shape as CSS text: exact for one curve, steps and straight runs; bent runs as linear() to a thousandth."""
    if len(knots) == 2:
        first, last = knots
        if first.steps is not None:
            jump = "" if first.steps.jump == "end" else f", jump-{first.steps.jump}"
            return f"steps({first.steps.count}{jump})"
        if first.leaving is None and last.arriving is None:
            return "linear"
        a, la = side_or_chord(first.leaving, 1.0)
        b, lb = side_or_chord(last.arriving, 1.0)
        if a <= 1 and b <= 1:
            return f"cubic-bezier({', '.join(_short(n) for n in (a, la, 1 - b, 1 - lb))})"
    stops: list[tuple[float, float]] = [(0.0, 0.0)]
    for left, right in itertools.pairwise(knots):
        for stop in _stops(left, right):
            if stop != stops[-1]:
                stops.append(stop)
    stops = _plain_jumps(stops)
    if len(stops) > limits.MAX_EASE_KNOTS:
        raise Refusal("This run has too many keys for one linear() text.")
    return "linear(" + ", ".join(_stop(stops, n) for n in range(len(stops))) + ")"


def _plain_jumps(stops: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Stops without those that stand beside a jump only because no two keys can stand at one time."""
    out = list(stops)
    for n in range(len(out) - 1, 0, -1):
        (x, y), (at, v) = out[n - 1], out[n]
        if y == v and 0 < at - x <= CLEAR:
            ends = n + 1 == len(out)
            jumps_next = not ends and out[n + 1][0] == at
            if ends or jumps_next:
                if n > 1:
                    out.pop(n - 1)
            else:
                out.pop(n)
    return out


def _stop(stops: Sequence[tuple[float, float]], n: int) -> str:
    """A stop as text. Where the shape is steep its place is told the more exactly: there it decides the value."""
    x, y = stops[n]
    beside = [stops[k] for k in (n - 1, n + 1) if 0 <= k < len(stops)]
    steep = max(
        (abs(v - y) / abs(at - x) for at, v in beside if at != x and abs(abs(at - x) - APART) > 1e-3 * APART),
        default=0.0,
    )
    return f"{_short(y, NEAR_PLACE)} {_short(100 * x, NEAR_PLACE * min(1.0, 100 / max(steep, 1e-9)))}%"


def _stops(left: Knot, right: Knot) -> list[tuple[float, float]]:
    """Stops after ``left`` up to ``right``, as few as keep to the curve."""
    wide, change = right.x - left.x, right.y - left.y
    if left.steps is not None:
        count, first, jumps = left.steps.row
        out = []
        for n in range(count):
            level = left.y + change * min(n + first, jumps) / jumps
            out += [(left.x + wide * n / count, level), (left.x + wide * (n + 1) / count, level)]
        return [*out, (right.x, right.y)]
    if left.leaving is None and right.arriving is None:
        return [(right.x, right.y)]
    a, la = side_or_chord(left.leaving, change)
    b, lb = side_or_chord(right.arriving, change)
    # Even along the curve, not in time: a steep place has no width in time.
    u = np.linspace(0, 1, 2001)
    A, B, C = time_coefficients(np.full(len(u), a), np.full(len(u), b))
    f = np.maximum.accumulate(((A * u + B) * u + C) * u)
    y = bezier(u, left.y, left.y + la, right.y - lb, right.y)
    chosen: list[int] = []

    def part(i: int, j: int) -> None:
        if j - i < 2:
            return
        off = np.abs(y[i + 1 : j] - np.interp(f[i + 1 : j], f[[i, j]], y[[i, j]]))
        worst = int(off.argmax()) + 1
        if off[worst - 1] > FITTED:
            part(i, i + worst)
            chosen.append(i + worst)
            part(i + worst, j)

    part(0, len(f) - 1)
    places = left.x + wide * f[chosen]
    # Stops closer than they can be read stand upright together: two of them, so that the steepest place stays.
    kept: list[tuple[float, float]] = []
    for run in np.split(np.arange(len(chosen)), np.flatnonzero(np.diff(places) >= APART) + 1):
        if len(run) == 1:
            least = kept[-1][0] + CLEAR if kept else 0.0
            kept.append((max(float(places[run[0]]), least), float(y[chosen[run[0]]])))
        elif len(run):
            i, j = chosen[run[0]], chosen[run[-1]]
            steepest = i + 1 + int((f[i + 2 : j + 1] - f[i : j - 1]).argmin()) if j - i > 1 else i
            start = left.x + wide * float(f[steepest]) - APART * float((y[steepest] - y[i]) / (y[j] - y[i]))
            start = min(max(start, 0.0), 1.0 - APART)
            if kept and kept[-1][0] > start - CLEAR:
                kept[-1] = (start - CLEAR, kept[-1][1])
            kept += [(start, float(y[i])), (start + APART, float(y[j]))]
    return [*kept, (right.x, right.y)]


def _short(value: float, near: float = ROUNDED) -> str:
    """A number with as many decimals as it takes to be itself, but for so much."""
    text = next(t for d in (4, 6, 8, 10, 12) if abs(float(t := f"{value + 0.0:.{d}f}") - value) <= near or d == 12)
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text in ("-0", "") else text
