"""Path data read up to its first error, as SVG 2 wants it drawn; arcs and quadratic curves become cubics."""

import math
import re
from collections.abc import Iterator

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.spaces.outline import Outline

# Blanks, at most one comma, and blanks after that alone: any other way to say it tries every cut of a run of blanks.
_TOKEN = re.compile(r"\s*(?:,\s*)?(?:([MmZzLlHhVvCcSsQqTtAa])|([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?))")
_FLAG = re.compile(r"\s*(?:,\s*)?([01])")
#: Numbers each letter takes.
TAKES = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7, "Z": 0}


def _commands(data: str) -> Iterator[tuple[str, list[float]]]:
    """Each command with its numbers, until the data ends or makes no sense."""
    at = 0
    letter = ""
    end = len(data.rstrip(" \t\r\n\f,"))
    while at < end:
        found = _TOKEN.match(data, at)
        if not found:
            raise ValueError("no path data")
        if found[1]:
            letter, at = found[1], found.end()
            if letter in "Zz":
                yield letter, []
                continue
        elif not letter or letter in "Zz":
            raise ValueError("numbers without a command")
        numbers: list[float] = []
        for k in range(TAKES[letter.upper()]):
            found = (_FLAG if letter in "Aa" and k in (3, 4) else _TOKEN).match(data, at)
            value = found and (found[1] if letter in "Aa" and k in (3, 4) else found[2])
            if not found or value is None:
                raise ValueError("too few numbers")
            numbers.append(float(value))
            at = found.end()
        yield letter, numbers
        # Further numbers after a move are lines.
        letter = {"M": "L", "m": "l"}.get(letter, letter)


def read_path(data: str) -> tuple[Outline, bool]:
    """The outline of path data, and whether all of it could be read."""
    verbs: list[str] = []
    points: list[tuple[float, float]] = []
    here = start = (0.0, 0.0)
    control: tuple[float, float] | None = None
    before = ""

    def cubic(a: tuple[float, float], b: tuple[float, float], end: tuple[float, float]) -> None:
        verbs.append("C")
        points.extend((a, b, end))

    whole = True
    try:
        for letter, n in _commands(data):
            if 2 * len(points) > limits.MAX_OUTLINE_NUMBERS:
                raise Refusal("This SVG has an outline of too many points. Simplify it and try again.")
            kind, relative = letter.upper(), letter.islower()
            if not verbs and kind != "M":
                raise ValueError("path data begins with a move")
            if kind != "M" and verbs and verbs[-1] == "Z":
                # What follows a closed contour without a move begins where that did.
                verbs.append("M")
                points.append(start)
            if kind == "Z":
                verbs.append("Z")
                here, before, control = start, kind, None
                continue
            dx, dy = here if relative else (0.0, 0.0)
            if kind == "H":
                spots = [(n[0] + dx, here[1])]
            elif kind == "V":
                spots = [(here[0], n[0] + dy)]
            elif kind == "A":
                spots = [(n[5] + dx, n[6] + dy)]
            else:
                spots = [(x + dx, y + dy) for x, y in zip(n[::2], n[1::2], strict=True)]
            end = spots[-1]
            mirrored = here if control is None else (2 * here[0] - control[0], 2 * here[1] - control[1])
            if kind == "M":
                verbs.append("M")
                points.append(end)
                start = end
            elif kind in "LHV":
                verbs.append("L")
                points.append(end)
            elif kind == "A":
                _arc(here, n, end, cubic, verbs, points)
            elif kind in "CS":
                first = spots[0] if kind == "C" else mirrored if before in ("C", "S") else here
                second = spots[-2]
                cubic(first, second, end)
                control = second
            else:
                quad = spots[0] if kind == "Q" else mirrored if before in ("Q", "T") else here
                cubic(_third(here, quad), _third(end, quad), end)
                control = quad
            if kind not in "CSQT":
                control = None
            here, before = end, kind
    except Refusal:
        raise
    except ValueError:
        whole = False
    if verbs and verbs[-1] == "M":
        verbs.pop()
        points.pop()
    row: Floats = np.array(points, float).reshape(-1, 2)
    return Outline("".join(verbs), row), whole


def _third(end: tuple[float, float], control: tuple[float, float]) -> tuple[float, float]:
    return end[0] + (control[0] - end[0]) * 2 / 3, end[1] + (control[1] - end[1]) * 2 / 3


def _arc(here, n, end, cubic, verbs, points) -> None:  # type: ignore[no-untyped-def]
    """An elliptical arc as cubics of at most a quarter turn (SVG 2, B.2.4); one without a radius is a line."""
    rx, ry, turn, large, sweep = abs(n[0]), abs(n[1]), math.radians(n[2]), n[3] != 0, n[4] != 0
    if here == end:
        return
    if rx == 0 or ry == 0:
        verbs.append("L")
        points.append(end)
        return
    cos, sin = math.cos(turn), math.sin(turn)
    hx, hy = (here[0] - end[0]) / 2, (here[1] - end[1]) / 2
    x, y = cos * hx + sin * hy, -sin * hx + cos * hy
    over = (x / rx) ** 2 + (y / ry) ** 2
    if over > 1:
        rx, ry = rx * math.sqrt(over), ry * math.sqrt(over)
    under = (rx * y) ** 2 + (ry * x) ** 2
    root = math.sqrt(max(0.0, ((rx * ry) ** 2 - under) / under)) if under else 0.0
    root = -root if large == sweep else root
    cx, cy = root * rx * y / ry, -root * ry * x / rx
    mx, my = cos * cx - sin * cy + (here[0] + end[0]) / 2, sin * cx + cos * cy + (here[1] + end[1]) / 2
    first = math.atan2((y - cy) / ry, (x - cx) / rx)
    whole = math.atan2((-y - cy) / ry, (-x - cx) / rx) - first
    if sweep and whole < 0:
        whole += 2 * math.pi
    elif not sweep and whole > 0:
        whole -= 2 * math.pi
    parts = max(1, math.ceil(abs(whole) / (math.pi / 2) - 1e-9))
    step = whole / parts
    arm = 4 / 3 * math.tan(step / 4)

    def spot(angle: float, along: float = 0.0) -> tuple[float, float]:
        ex = rx * (math.cos(angle) - along * math.sin(angle))
        ey = ry * (math.sin(angle) + along * math.cos(angle))
        return mx + cos * ex - sin * ey, my + sin * ex + cos * ey

    for k in range(parts):
        a, b = first + k * step, first + (k + 1) * step
        cubic(spot(a, arm), spot(b, -arm), end if k == parts - 1 else spot(b))
