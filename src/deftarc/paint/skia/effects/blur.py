"""Blur with Skia."""

import skia

from deftarc.paint.skia.effects.base import Now, Space, paints


@paints("blur")
def blur(now: Now, space: Space, on: skia.ImageFilter | None) -> skia.ImageFilter | None:
    radius = now["radius"][0] * space.size
    return skia.ImageFilters.Blur(radius, radius, skia.TileMode.kDecal, on) if radius > 0 else on
