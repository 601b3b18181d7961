"""Blur with Skia."""

import skia

from deftarc.paint.skia.effects.base import Now, paints


@paints("blur")
def blur(now: Now, on: skia.ImageFilter | None) -> skia.ImageFilter | None:
    (radius,) = now["radius"]
    return skia.ImageFilters.Blur(radius, radius, skia.TileMode.kDecal, on) if radius > 0 else on
