"""Shadow with Skia."""

import math

import skia

from deftarc.paint.skia.effects.base import Now, Space, paints


@paints("shadow")
def shadow(now: Now, space: Space, on: skia.ImageFilter | None) -> skia.ImageFilter | None:
    (distance,), (direction,), (softness,) = (now[name] for name in ("distance", "direction", "softness"))
    *colour, alpha = now["colour"]
    alpha *= now["opacity"][0]
    if alpha <= 0:
        return on
    way = math.radians(direction)
    made = skia.Color4f(*colour, alpha).toColor()
    x, y = space.turned(distance * math.cos(way), distance * math.sin(way))
    softness *= space.size
    return skia.ImageFilters.DropShadow(x, y, softness, softness, made, on)
