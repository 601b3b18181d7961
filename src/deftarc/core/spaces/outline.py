"""Outlines: contours of lines and cubic Béziers, as every painter draws them."""

import re
from dataclasses import dataclass

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import apply
from deftarc.core.curves.curve import bezier, roots_within

NEEDS = {"M": 1, "L": 1, "C": 3, "Z": 0}
_TOKEN = re.compile(r"[MLCZ]|-?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][-+]?[0-9]+)?")


@dataclass(frozen=True, eq=False)
class Outline:
    """``verbs`` is a string of M, L, C, Z; ``points`` (n, 2) in px holds 1, 1, 3 and 0 points for them in turn."""

    verbs: str
    points: Floats

    @classmethod
    def parse(cls, data: str) -> "Outline":
        """From path data in absolute M, L, C and Z only, as :meth:`data` writes it."""
        # What is left between the letters and numbers may only part them.
        if len(data) > limits.MAX_OUTLINE_NUMBERS * 8 or _TOKEN.sub("", data).strip(" ,\t\r\n"):
            raise Refusal("An outline is written with M, L, C and Z and plain numbers only.")
        verbs: list[str] = []
        numbers: list[float] = []
        due = 0
        for token in _TOKEN.findall(data):
            if token in NEEDS:
                if len(numbers) != due:
                    raise Refusal("An outline has too many or too few numbers after one of its letters.")
                due += 2 * NEEDS[token]
                verbs.append(token)
            else:
                numbers.append(float(token))
        return cls._checked("".join(verbs), np.array(numbers))

    @classmethod
    def _checked(cls, verbs: str, numbers: Floats) -> "Outline":
        if verbs and verbs[0] != "M":
            raise Refusal("An outline begins with M.")
        if len(numbers) != 2 * sum(NEEDS[verb] for verb in verbs):
            raise Refusal("An outline has too many or too few numbers.")
        if not np.isfinite(numbers).all() or (numbers.size and np.abs(numbers).max() > limits.MAX_NUMBER):
            raise Refusal("An outline reaches further than Deft Arc can draw.")
        return cls(verbs, numbers.reshape(-1, 2))

    def data(self) -> str:
        """As SVG path data, to eight significant digits."""
        out: list[str] = []
        at = 0
        for verb in self.verbs:
            count = NEEDS[verb]
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
        if "C" not in self.verbs:
            return np.concatenate([self.points.min(axis=0), self.points.max(axis=0)])
        ends, curves = self._laid_out()
        spots = [self.points[ends]]
        if len(curves):
            # The four points of each curve, (n, 4, 2): its own three and the end before them.
            four = self.points[curves[:, None] + np.array([-1, 0, 1, 2])]
            steps = np.diff(four, axis=1)
            for axis in (0, 1):
                first, second, third = steps[:, :, axis].T
                least, most = (f(f(first, second), third) for f in (np.minimum, np.maximum))
                turns = np.flatnonzero((least < 0) & (most > 0))
                first, second, third = first[turns], second[turns], third[turns]
                which, u = roots_within(first - 2 * second + third, 2 * (second - first), first)
                if len(u):
                    spots.append(bezier(u[:, None], *(four[turns[which], k] for k in range(4))))
        every = np.concatenate(spots)
        return np.concatenate([every.min(axis=0), every.max(axis=0)])

    def _laid_out(self) -> tuple[Integers, Integers]:
        """Which points are ends of lines and curves, and with which point each curve begins after its start."""
        needs = np.array([NEEDS[verb] for verb in self.verbs], np.int64)
        after = np.cumsum(needs)
        curves = np.frombuffer(self.verbs.encode(), np.uint8) == ord("C")
        return after[needs > 0] - 1, (after - needs)[curves]


def bounds_over_time(verbs: str, points: Floats) -> Floats:
    """(left, top, right, bottom) of one outline at many times: points (F, P, 2) to (F, 4).

    Béziers are sampled at 24 even steps: short of the true extreme by less than 0.1 % of the segment's size.
    """
    frames = len(points)
    if not points.shape[1]:
        return np.zeros((frames, 4))
    needs = np.array([NEEDS[verb] for verb in verbs], np.int64)
    after = np.cumsum(needs)
    begins = (after - needs)[[verb == "C" for verb in verbs]]
    spots = points[:, after[needs > 0] - 1]
    low, high = spots.min(axis=1), spots.max(axis=1)
    u = np.linspace(0, 1, 25)[None, :, None]
    for at in begins:
        # A curve lies between its four points: most stick out of what is known nowhere, and need no look.
        four = points[:, at - 1 : at + 3] if at else points[:, [0, 0, 1, 2]]
        if np.all(four.min(axis=1) >= low) and np.all(four.max(axis=1) <= high):
            continue
        spots = bezier(u, *(four[:, k, None] for k in range(4)))
        low, high = np.minimum(low, spots.min(axis=1)), np.maximum(high, spots.max(axis=1))
    return np.concatenate([low, high], axis=1)


def _short(value: float) -> str:
    text = f"{value:.8g}"
    return "0" if text == "-0" else text
