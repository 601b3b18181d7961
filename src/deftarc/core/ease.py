"""Named eases: two sides made from a name and one strength, and the name found back from two sides.

Strength 0 is straight, 50 the curve of the CSS keyword (CSS Easing Functions Level 1), 100 a level handle that
reaches all the way; the control points move linearly in between.
"""

from dataclasses import dataclass

from deftarc.core.curve import THIRD
from deftarc.core.errors import Refusal
from deftarc.core.track import Side


@dataclass(frozen=True)
class Ease:
    """``leaving`` and ``arriving`` are the side's control point at strength 50 and 100, as (reach, rise as a
    fraction of the segment's change), or None where the side stays straight.
    """

    id: str
    label: str
    css: str
    leaving: tuple[tuple[float, float], tuple[float, float]] | None = None
    arriving: tuple[tuple[float, float], tuple[float, float]] | None = None
    hold: bool = False

    @property
    def has_strength(self) -> bool:
        return self.leaving is not None or self.arriving is not None


#: A side that ends at its own key.
_NONE = ((0.0, 0.0), (0.0, 0.0))
_LEVEL = ((0.42, 0.0), (1.0, 0.0))

EASES: dict[str, Ease] = {
    ease.id: ease
    for ease in (
        Ease("straight", "Straight", "linear"),
        Ease("slow-start", "Slow start", "ease-in", leaving=_LEVEL, arriving=_NONE),
        Ease("slow-stop", "Slow stop", "ease-out", leaving=_NONE, arriving=_LEVEL),
        Ease("slow-ends", "Slow ends", "ease-in-out", leaving=_LEVEL, arriving=_LEVEL),
        Ease("hold", "Hold", "step-end", hold=True),
    )
}


def _point(target: tuple[tuple[float, float], tuple[float, float]], strength: float) -> tuple[float, float]:
    half, full = target
    if strength <= 50:
        start, end, share = (THIRD, THIRD), half, strength / 50
    else:
        start, end, share = half, full, (strength - 50) / 50
    return (start[0] + (end[0] - start[0]) * share, start[1] + (end[1] - start[1]) * share)


def sides(ease: Ease, strength: float, change: float) -> tuple[Side | None, Side | None]:
    """The leaving side of a segment's first key and the arriving side of its second.

    ``change`` is the measure's change over the segment, in its unit; ``strength`` runs from 0 to 100.
    """
    if not 0 <= strength <= 100:
        raise Refusal("Strength runs from 0 to 100.")
    made: list[Side | None] = []
    for target in (ease.leaving, ease.arriving):
        if target is None or strength == 0:
            made.append(None)
        else:
            reach, rise = _point(target, strength)
            made.append(Side(reach=reach, rise=rise * change))
    return made[0], made[1]


def recognise(
    leaving: Side | None, arriving: Side | None, hold: bool, change: float, tolerance: float = 1e-6
) -> tuple[str, float] | None:
    """The ease and strength two sides show, or None when they were shaped by hand."""
    if hold:
        return ("hold", 50.0)
    if leaving is None and arriving is None:
        return ("straight", 50.0)
    for ease in EASES.values():
        if not ease.has_strength:
            continue
        for strength in _strengths(ease, leaving, arriving):
            if _alike(sides(ease, strength, change), (leaving, arriving), abs(change), tolerance):
                return (ease.id, strength)
    return None


def _strengths(ease: Ease, leaving: Side | None, arriving: Side | None) -> list[float]:
    """Strengths at which the reach of a side that tells it would be what it is."""
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
