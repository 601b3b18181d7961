"""The toy effect with Skia."""

import skia

from deftarc.paint.skia.effects.base import Now, paints


@paints("haze")
def haze(now: Now, on: skia.ImageFilter | None) -> skia.ImageFilter | None:
    (amount,) = now["amount"]
    return skia.ImageFilters.Blur(amount, amount, skia.TileMode.kDecal, on)
