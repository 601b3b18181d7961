"""The toy effect with Skia."""

import skia

from deftarc.paint.skia.effects.base import Now, Space, paints


@paints("haze")
def haze(now: Now, space: Space, on: skia.ImageFilter | None) -> skia.ImageFilter | None:
    amount = now["amount"][0] * space.size
    return skia.ImageFilters.Blur(amount, amount, skia.TileMode.kDecal, on)
