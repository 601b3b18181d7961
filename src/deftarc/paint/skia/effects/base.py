"""The register of Skia's image filters for effects, and what of an item's effects is one at a row of its table."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import skia

from deftarc.core.evaluate import EffectAt

#: An effect's numbers at one moment, by the fields that keep them.
Now = dict[str, tuple[float, ...]]


@dataclass(frozen=True)
class Space:
    """Brings what is told in the px of what is treated into the px it is treated in."""

    #: By how much lengths grow.
    size: float = 1.0
    matrix: tuple[float, float, float, float] = (1.0, 0.0, 0.0, 1.0)

    def turned(self, x: float, y: float) -> tuple[float, float]:
        """Where a step leads."""
        a, b, c, d = self.matrix
        return a * x + c * y, b * x + d * y


def space_of(matrix: skia.Matrix) -> Space | None:
    """What a matrix does to lengths and steps, where it keeps shapes; None where it squeezes or skews them."""
    a, b, c, d = matrix.getScaleX(), matrix.getSkewY(), matrix.getSkewX(), matrix.getScaleY()
    size = math.sqrt(abs(a * d - b * c))
    square = abs(a * c + b * d) <= 1e-6 * size * size
    even = abs(math.hypot(a, b) - math.hypot(c, d)) <= 1e-6 * size
    return Space(size, (a, b, c, d)) if square and even else None


#: Makes the filter of an effect, in a space, laid on another filter (None: on what is painted).
Filter = Callable[[Now, Space, skia.ImageFilter | None], skia.ImageFilter | None]
FILTERS: dict[str, Filter] = {}


def paints(kind: str) -> Callable[[Filter], Filter]:
    """Registers a filter under an effect's kind."""

    def added(made: Filter) -> Filter:
        if FILTERS.setdefault(kind, made) is not made:
            raise ValueError(f"There are two painters of {kind}.")
        return made

    return added


def filters_of(effects: tuple[EffectAt, ...], row: int, space: Space) -> skia.ImageFilter | None:
    """All effects of an item at a row, in a space, the first of them innermost; None where they do nothing."""
    made: skia.ImageFilter | None = None
    for each in effects:
        now = {name: tuple(map(float, rows[min(row, len(rows) - 1)])) for name, rows in each.values.items()}
        made = FILTERS[each.kind](now, space, made)
    return made
