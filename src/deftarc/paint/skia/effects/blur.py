"""Blur with Skia."""

import math

import skia

from deftarc.paint.skia.effects.base import Now, Space, paints


@paints("blur")
def blur(now: Now, space: Space, on: skia.ImageFilter | None) -> skia.ImageFilter | None:
    radius = now["radius"][0] * space.size
    if radius <= 0:
        return on
    if not now["along"][0]:
        return skia.ImageFilters.Blur(radius, radius, skia.TileMode.kDecal, on)
    way = math.radians(now["angle"][0])
    x, y = space.turned(math.cos(way), math.sin(way))
    degrees = math.degrees(math.atan2(y, x))
    quarters = round(degrees / 90)
    if abs(degrees - 90 * quarters) < 1e-6:
        # Nothing has to be turned.
        across, down = (radius, 0.0) if quarters % 2 == 0 else (0.0, radius)
        return skia.ImageFilters.Blur(across, down, skia.TileMode.kDecal, on)
    sampling = skia.SamplingOptions(skia.FilterMode.kLinear)
    turned = skia.ImageFilters.MatrixTransform(skia.Matrix.RotateDeg(-degrees), sampling, on)
    made = skia.ImageFilters.Blur(radius, 0.0, skia.TileMode.kDecal, turned)
    return skia.ImageFilters.MatrixTransform(skia.Matrix.RotateDeg(degrees), sampling, made)
