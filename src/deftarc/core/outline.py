"""Outlines: contours of lines and cubic Béziers, as every painter draws them."""

import re
from dataclasses import dataclass

import numpy as np

from deftarc.core import limits
from deftarc.core.curve import bezier, roots_within
from deftarc.core.errors import Refusal
from deftarc.core.geometry import Floats, apply

#: A quarter circle's handle length as a fraction of its radius (error 2.7e-4 of the radius).
KAPPA = 0.5522847498307936
_NEEDS = {"M": 1, "L": 1, "C": 3, "Z": 0}
_TOKEN = re.compile(r"[MLCZ]|-?(?:\d+\.?\d*|\.\d+)(?:e-?\d+)?")
_CLEAN = re.compile(r"^[MLCZ0-9eE.,\s-]*$")


@dataclass(frozen=True, eq=False)
class Outline:
    """``verbs`` is a string of M, L, C, Z; ``points`` (n, 2) in px holds 1, 1, 3 and 0 points for them in turn."""

    verbs: str
    points: Floats

    @classmethod
    def parse(cls, data: str) -> "Outline":
        """From path data in absolute M, L, C and Z only, as :meth:`data` writes it."""
        if len(data) > limits.MAX_OUTLINE_NUMBERS * 8 or not _CLEAN.match(data):
            raise Refusal("An outline is written with M, L, C and Z and plain numbers only.")
        verbs: list[str] = []
        numbers: list[float] = []
        due = 0
        for token in _TOKEN.findall(data):
            if token in _NEEDS:
                if len(numbers) != due:
                    raise Refusal("An outline has too many or too few numbers after one of its letters.")
                due += 2 * _NEEDS[token]
                verbs.append(token)
            else:
                numbers.append(float(token))
        return cls._checked("".join(verbs), np.array(numbers))

    @classmethod
    def _checked(cls, verbs: str, numbers: Floats) -> "Outline":
        if verbs and verbs[0] != "M":
            raise Refusal("An outline begins with M.")
        if len(numbers) != 2 * sum(_NEEDS[verb] for verb in verbs):
            raise Refusal("An outline has too many or too few numbers.")
        if not np.isfinite(numbers).all() or (numbers.size and np.abs(numbers).max() > limits.MAX_NUMBER):
            raise Refusal("An outline reaches further than Deft Arc can draw.")
        return cls(verbs, numbers.reshape(-1, 2))

    def data(self) -> str:
        """As SVG path data, to eight significant digits."""
        out: list[str] = []
        at = 0
        for verb in self.verbs:
            count = _NEEDS[verb]
            out.append(verb + " ".join(f"{_short(x)} {_short(y)}" for x, y in self.points[at : at + count]))
            at += count
        return "".join(out)

    def through(self, matrix: Floats) -> "Outline":
        """This outline through a (3, 3) matrix."""
        return Outline(self.verbs, apply(matrix, self.points))

    def bounds(self) -> Floats | None:
        """(left, top, right, bottom) of the drawn curve, extremes of its Béziers included; None when empty."""
        if not len(self.points):
            return None
        spots = [self.points[:1]]
        at = 0
        last = self.points[0]
        for verb in self.verbs:
            count = _NEEDS[verb]
            chunk = self.points[at : at + count]
            at += count
            if verb == "C":
                for axis in (0, 1):
                    p = [last[axis], *chunk[:, axis]]
                    first, second, third = p[1] - p[0], p[2] - p[1], p[3] - p[2]
                    if min(first, second, third) >= 0 or max(first, second, third) <= 0:
                        continue
                    for u in roots_within(first - 2 * second + third, 2 * (second - first), first):
                        spots.append(
                            np.array([[float(bezier(np.array(u), *(q[i] for q in (last, *chunk)))) for i in (0, 1)]])
                        )
            if count:
                spots.append(chunk[-1:])
                last = chunk[-1]
        every = np.concatenate(spots)
        return np.concatenate([every.min(axis=0), every.max(axis=0)])


def _short(value: float) -> str:
    text = f"{value:.8g}"
    return "0" if text == "-0" else text


def rectangle(width: float, height: float, radius: float = 0.0) -> Outline:
    """A rectangle about the origin, its corners rounded by quarter ellipses of at most half a side."""
    x, y = width / 2, height / 2
    r = min(radius, x, y)
    if r <= 0:
        return Outline("MLLLZ", np.array([[-x, -y], [x, -y], [x, y], [-x, y]], float))
    k = r * (1 - KAPPA)
    points = [
        (-x + r, -y), (x - r, -y), (x - k, -y), (x, -y + k), (x, -y + r),
        (x, y - r), (x, y - k), (x - k, y), (x - r, y),
        (-x + r, y), (-x + k, y), (-x, y - k), (-x, y - r),
        (-x, -y + r), (-x, -y + k), (-x + k, -y), (-x + r, -y),
    ]  # fmt: skip
    return Outline("MLCLCLCLCZ", np.array(points, float))


def ellipse(width: float, height: float) -> Outline:
    """An ellipse about the origin, from its right end clockwise."""
    x, y = width / 2, height / 2
    i, j = x * KAPPA, y * KAPPA
    points = [
        (x, 0), (x, j), (i, y), (0, y), (-i, y), (-x, j), (-x, 0),
        (-x, -j), (-i, -y), (0, -y), (i, -y), (x, -j), (x, 0),
    ]  # fmt: skip
    return Outline("MCCCCZ", np.array(points, float))
