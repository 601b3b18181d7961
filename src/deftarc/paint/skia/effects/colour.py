"""Colour with Skia: the matrices of W3C Filter Effects, one after the other, each held to what can be shown."""

import math

import skia

from deftarc.paint.skia.effects.base import Now, Space, paints

#: How light red, green and blue are, as the standard's matrices round it.
R, G, B = 0.213, 0.715, 0.072


@paints("colour")
def colour(now: Now, space: Space, on: skia.ImageFilter | None) -> skia.ImageFilter | None:
    (brightness,), (contrast,), (saturation,), (hue,), (invert,), (tinted,) = (
        now[name] for name in ("brightness", "contrast", "saturation", "hue", "invert", "tinted")
    )
    if brightness != 1:
        on = _through(_even(brightness, 0.0), on)
    if contrast != 1:
        on = _through(_even(contrast, 0.5 - 0.5 * contrast), on)
    if saturation != 1:
        s = saturation
        on = _through([
            R + (1 - R) * s, G - G * s, B - B * s, 0, 0, R - R * s, G + (1 - G) * s, B - B * s, 0, 0,
            R - R * s, G - G * s, B + (1 - B) * s, 0, 0, 0, 0, 0, 1, 0,
        ], on)  # fmt: skip
    if hue % 360:
        c, s = math.cos(math.radians(hue)), math.sin(math.radians(hue))
        on = _through([
            R + c * (1 - R) - s * R, G - c * G - s * G, B - c * B + s * (1 - B), 0, 0,
            R - c * R + s * 0.143, G + c * (1 - G) + s * 0.140, B - c * B - s * 0.283, 0, 0,
            R - c * R - s * (1 - R), G - c * G + s * G, B + c * (1 - B) + s * B, 0, 0,
            0, 0, 0, 1, 0,
        ], on)  # fmt: skip
    if invert > 0:
        on = _through(_even(1 - 2 * invert, invert), on)
    if tinted > 0:
        on = _through(tint_matrix(tinted, now["tint"]), on)
    return on


def tint_matrix(amount: float, tint: tuple[float, ...]) -> list[float]:
    """So much of a colour as light as what it tints."""
    rows: list[float] = []
    for k in range(3):
        row = [amount * part * tint[k] for part in (R, G, B)]
        row[k] += 1 - amount
        rows += [*row, 0, 0]
    return [*rows, 0, 0, 0, 1, 0]


def _even(slope: float, more: float) -> list[float]:
    return [slope, 0, 0, 0, more, 0, slope, 0, 0, more, 0, 0, slope, 0, more, 0, 0, 0, 1, 0]


def _through(matrix: list[float], on: skia.ImageFilter | None) -> skia.ImageFilter:
    return skia.ImageFilters.ColorFilter(skia.ColorFilters.Matrix([float(n) for n in matrix]), on)
