"""Shadow with Skia."""

import math

import skia

from deftarc.core.document.effects.shadow import spread_by
from deftarc.paint.skia.effects.base import Now, Space, paints


@paints("shadow")
def shadow(now: Now, space: Space, on: skia.ImageFilter | None) -> skia.ImageFilter | None:
    (distance,), (direction,), (softness,) = (now[name] for name in ("distance", "direction", "softness"))
    *colour, alpha = now["colour"]
    alpha *= now["opacity"][0]
    only = bool(now["only"][0])
    if alpha <= 0 and not only:
        return on
    way = math.radians(direction)
    x, y = space.turned(distance * math.cos(way), distance * math.sin(way))
    softness *= space.size
    spread = now["spread"][0] * space.size
    found = spread_by(spread)
    if found is None:
        made = skia.Color4f(*colour, alpha).toColor()
        drop = skia.ImageFilters.DropShadowOnly if only else skia.ImageFilters.DropShadow
        return drop(x, y, softness, softness, made, on)
    slope, more = found
    sigma = abs(spread)
    # Its shape, grown: blurred and cut where a straight edge has moved by just the spread.
    shape = skia.ImageFilters.Blur(sigma, sigma, skia.TileMode.kDecal, on)
    shape = _coloured([0.0] * 15 + [0, 0, 0, slope, more], shape)
    shape = skia.ImageFilters.Offset(x, y, shape)
    if softness > 0:
        shape = skia.ImageFilters.Blur(softness, softness, skia.TileMode.kDecal, shape)
    r, g, b = colour
    shape = _coloured([0, 0, 0, 0, r, 0, 0, 0, 0, g, 0, 0, 0, 0, b, 0, 0, 0, alpha, 0], shape)
    return shape if only else skia.ImageFilters.Merge([shape, on])


def _coloured(matrix: list[float], on: skia.ImageFilter | None) -> skia.ImageFilter:
    return skia.ImageFilters.ColorFilter(skia.ColorFilters.Matrix([float(n) for n in matrix]), on)
