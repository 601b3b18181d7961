"""Named eases: two sides made from a name and one strength, and the name found back from two sides.

Strength 0 is straight, 50 the curve of the CSS keyword (CSS Easing Functions Level 1), 100 a level handle that
reaches all the way; the control points move linearly in between. For Overshoot and Wind-up it says how far past.
"""

from dataclasses import dataclass

import numpy as np

from deftarc.core.base.errors import Refusal
from deftarc.core.curves.curve import THIRD
from deftarc.core.curves.sides import Side, Steps
from deftarc.core.document.keys import KeyBase

Station = tuple[float, float]


@dataclass(frozen=True)
class Ease:
    """``leaving`` and ``arriving`` are the side's control point at strength 50 and 100, as (reach, rise as a
    fraction of the segment's change), or None where the side stays straight. ``past`` names the end that is gone past.
    """

    id: str
    label: str
    css: str
    leaving: tuple[Station, Station] | None = None
    arriving: tuple[Station, Station] | None = None
    stepped: bool = False
    past: str = ""

    @property
    def has_strength(self) -> bool:
        return self.leaving is not None or self.arriving is not None or bool(self.past)


#: A side that ends at its own key.
_NONE = ((0.0, 0.0), (0.0, 0.0))
_LEVEL = ((0.42, 0.0), (1.0, 0.0))
#: How far past Overshoot goes at strengths 0, 50 and 100, evenly in between; and the reaches of its two sides.
PAST_STRENGTHS, PASTS = (0.0, 50.0, 100.0), (0.0, 0.1, 1.0)
PAST_REACHES = (0.34, 0.36)

#: No strength makes a steep side rise by more changes than this.
FURTHEST_HANDLE = 10.0

EASES: dict[str, Ease] = {
    ease.id: ease
    for ease in (
        Ease("straight", "Straight", "linear"),
        Ease("slow-start", "Slow start", "ease-in", leaving=_LEVEL, arriving=_NONE),
        Ease("slow-stop", "Slow stop", "ease-out", leaving=_NONE, arriving=_LEVEL),
        Ease("slow-ends", "Slow ends", "ease-in-out", leaving=_LEVEL, arriving=_LEVEL),
        Ease("overshoot", "Overshoot", "cubic-bezier(.34, 1.56, .64, 1)", past="end"),
        Ease("wind-up", "Wind-up", "cubic-bezier(.36, 0, .66, -.56)", past="start"),
        Ease("hold", "Hold", "step-end", stepped=True),
        Ease("steps", "Steps", "steps(4)", stepped=True),
    )
}


def ease_named(name: str) -> Ease:
    """Refusal when there is none of that name."""
    ease = EASES.get(name)
    if ease is None:
        raise Refusal(f"There is no ease “{name[:40]}”. There are: {', '.join(EASES)}.")
    return ease


def _point(target: tuple[Station, Station], strength: float) -> Station:
    half, full = target
    if strength <= 50:
        start, end, share = (THIRD, THIRD), half, strength / 50
    else:
        start, end, share = half, full, (strength - 50) / 50
    return (start[0] + (end[0] - start[0]) * share, start[1] + (end[1] - start[1]) * share)


def handle_past(past: float) -> float:
    """The rise p of the steep side that throws the curve ``past`` its change, as shares of it.

    With the other side level, y = 1 + (1−u)²·((3p−2)u − 1), which peaks at u = p/(3p−2) with 4(p−1)³/(3p−2)².
    """
    low, high = 1.0, 2.0 + 3 * past
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if past_of_handle(middle) < past else (low, middle)
    return 0.5 * (low + high)


def past_of_handle(p: float) -> float:
    """How far past its change a curve goes whose steep side rises p of it, the other side level; 0 up to p = 1."""
    return 0.0 if p <= 1 else 4 * (p - 1) ** 3 / (3 * p - 2) ** 2


def sides(ease: Ease, strength: float, change: float) -> tuple[Side | None, Side | None]:
    """The leaving side of a segment's first key and the arriving side of its second.

    ``change`` is the measure's change over the segment, in its unit; ``strength`` runs from 0 to 100.
    """
    if not 0 <= strength <= 100:
        raise Refusal("Strength runs from 0 to 100.")
    if strength == 0:
        return None, None
    if ease.past:
        steep = Side(
            reach=PAST_REACHES[0], rise=handle_past(float(np.interp(strength, PAST_STRENGTHS, PASTS))) * change
        )
        level = Side(reach=PAST_REACHES[1], rise=0.0)
        return (steep, level) if ease.past == "end" else (level, steep)
    made: list[Side | None] = []
    for target in (ease.leaving, ease.arriving):
        if target is None:
            made.append(None)
        else:
            reach, rise = _point(target, strength)
            made.append(Side(reach=reach, rise=rise * change))
    return made[0], made[1]


@dataclass(frozen=True)
class Recognised:
    ease: str
    strength: float = 50.0
    steps: Steps | None = None


def recognise(left: KeyBase, right: KeyBase, change: float, tolerance: float = 1e-6) -> Recognised | None:
    """The ease and strength that the segment between two keys shows, or None when it was shaped by hand."""
    if left.hold:
        return Recognised("hold")
    if left.steps is not None:
        return Recognised("steps", 50.0, left.steps)
    if left.joint == "automatic" or right.joint == "automatic":
        return None
    pair = (left.leaving, right.arriving)
    if pair == (None, None):
        return Recognised("straight")
    for ease in EASES.values():
        if not ease.has_strength:
            continue
        for strength in _strengths(ease, *pair, change):
            if _alike(sides(ease, strength, change), pair, abs(change), tolerance):
                return Recognised(ease.id, strength)
    return None


def _strengths(ease: Ease, leaving: Side | None, arriving: Side | None, change: float) -> list[float]:
    """Strengths at which the side that tells it would be what it is."""
    if ease.past:
        steep = leaving if ease.past == "end" else arriving
        share = steep.rise / change if steep is not None and change else 0.0
        # Further past than any strength goes it is no such ease, and its cube might be no number.
        past = past_of_handle(share) if share < FURTHEST_HANDLE else 0.0
        return [round(float(np.interp(past, PASTS, PAST_STRENGTHS)), 6)] if past else []
    side, target = (leaving, ease.leaving) if ease.leaving not in (None, _NONE) else (arriving, ease.arriving)
    if side is None or target is None:
        return []
    (half, _), (full, _) = target
    found = []
    for low, high, base in ((THIRD, half, 0.0), (half, full, 50.0)):
        share = (side.reach - low) / (high - low)
        if -1e-9 <= share <= 1 + 1e-9:
            found.append(min(100.0, max(0.0, round(base + 50 * share, 6))))
    return found


def _alike(
    one: tuple[Side | None, Side | None],
    other: tuple[Side | None, Side | None],
    change: float,
    tolerance: float,
) -> bool:
    for a, b in zip(one, other, strict=True):
        if (a is None) != (b is None):
            return False
        if a is None or b is None:
            continue
        # A handle of no reach at its own key needs no rise to be itself.
        if abs(a.reach - b.reach) > tolerance or abs(a.rise - b.rise) > tolerance * max(change, 1e-9):
            return False
    return True
