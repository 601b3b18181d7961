"""The registers of how Skia does each effect, and what an item's effects are at a row of its table, step by step."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeAlias

import skia

from deftarc.core.evaluate import EffectAt

#: An effect's numbers at one moment, by the fields that keep them.
Now = dict[str, tuple[float, ...]]
#: Left, top, right and bottom of what is treated, in its px.
Box = tuple[float, float, float, float]


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
#: Says what draws what an effect leaves of something with a box, on an empty layer in its px, and by how many of those
#: that is blurred afterwards; None leaves all.
Cutter = Callable[[Now, Box], "tuple[Callable[[skia.Canvas], None], float] | None"]
CUTTERS: dict[str, Cutter] = {}


@dataclass(frozen=True)
class Cut:
    """A step that leaves only a part: ``draw`` draws that on an empty layer."""

    draw: Callable[[skia.Canvas], None]


Step: TypeAlias = skia.ImageFilter | Cut


def paints(kind: str) -> Callable[[Filter], Filter]:
    """Registers a filter under an effect's kind."""

    def added(made: Filter) -> Filter:
        if kind in CUTTERS or FILTERS.setdefault(kind, made) is not made:
            raise ValueError(f"There are two painters of {kind}.")
        return made

    return added


def cuts(kind: str) -> Callable[[Cutter], Cutter]:
    """Registers what an effect leaves under its kind."""

    def added(made: Cutter) -> Cutter:
        if kind in FILTERS or CUTTERS.setdefault(kind, made) is not made:
            raise ValueError(f"There are two painters of {kind}.")
        return made

    return added


def steps_of(
    effects: tuple[EffectAt, ...], row: int, space: Space, own: skia.Matrix, box: Callable[[], Box]
) -> list[Step]:
    """All effects of an item at a row, in a space, in their order: filters as far as they can be one, and cuts. ``own``
    is from the item's px to the canvas's.
    """
    steps: list[Step] = []
    made: skia.ImageFilter | None = None
    for each in effects:
        now = {name: tuple(map(float, rows[min(row, len(rows) - 1)])) for name, rows in each.values.items()}
        if each.kind in FILTERS:
            made = FILTERS[each.kind](now, space, made)
            continue
        cut = CUTTERS[each.kind](now, box())
        if cut is not None:
            steps += [*([made] if made is not None else []), Cut(_in_own_px(*cut, own))]
            made = None
    return [*steps, made] if made is not None else steps


def _in_own_px(draw: Callable[[skia.Canvas], None], soft: float, own: skia.Matrix) -> Callable[[skia.Canvas], None]:
    space = space_of(own)

    def drawn(canvas: skia.Canvas) -> None:
        canvas.save()
        canvas.setMatrix(skia.Matrix() if space else own)
        if soft > 0:
            sigma = soft * (space.size if space else 1.0)
            paint = skia.Paint()
            paint.setImageFilter(skia.ImageFilters.Blur(sigma, sigma, skia.TileMode.kDecal, None))
            canvas.saveLayer(None, paint)
        canvas.setMatrix(own)
        draw(canvas)
        if soft > 0:
            canvas.restore()
        canvas.restore()

    return drawn
