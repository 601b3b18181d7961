"""Colours as four numbers, and their blend in OKLab.

A colour here is (red, green, blue, alpha), sRGB as encoded, each in [0, 1]; arrays are (..., 4). Blending mixes
OKLab (Björn Ottosson, “A perceptual color space for image processing”, 2020) with alpha premultiplied.
"""

from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats

_TO_LMS = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)
_FROM_LMS, _FROM_LAB = np.linalg.inv(_TO_LMS), np.linalg.inv(_TO_LAB)


def parse_colour(text: str) -> tuple[float, float, float, float]:
    """#rrggbb or #rrggbbaa as four numbers in [0, 1]."""
    digits = text[1:] + ("ff" if len(text) == 7 else "")
    r, g, b, a = (int(digits[i : i + 2], 16) / 255 for i in (0, 2, 4, 6))
    return (r, g, b, a)


def hex_colour(colour: "Floats | tuple[float, ...]") -> str:
    """Four numbers as #rrggbb, or #rrggbbaa where not opaque."""
    parts = [round(255 * min(1.0, max(0.0, float(part)))) for part in colour]
    text = "#" + "".join(f"{part:02x}" for part in parts[:3])
    return text if parts[3] == 255 else f"{text}{parts[3]:02x}"


def decoded(colour: Floats) -> Floats:
    """Encoded sRGB to linear light (IEC 61966-2-1)."""
    out: Any = np.where(colour <= 0.04045, colour / 12.92, ((np.maximum(colour, 0.0) + 0.055) / 1.055) ** 2.4)
    return out


def encoded(linear: Floats) -> Floats:
    """Linear light in [0, 1] to encoded sRGB (IEC 61966-2-1)."""
    out: Any = np.where(linear <= 0.0031308, linear * 12.92, 1.055 * np.maximum(linear, 0.0) ** (1 / 2.4) - 0.055)
    return out


def oklab(colour: Floats) -> Floats:
    """Encoded sRGB (..., 3) to OKLab (..., 3)."""
    out: Any = np.cbrt(decoded(colour) @ _TO_LMS.T) @ _TO_LAB.T
    return out


def from_oklab(lab: Floats) -> Floats:
    """OKLab (..., 3) to encoded sRGB (..., 3), clipped to the gamut."""
    linear = np.clip((lab @ _FROM_LAB.T) ** 3 @ _FROM_LMS.T, 0.0, 1.0)
    return encoded(linear)


def extended(first: Floats, second: Floats, share: Floats) -> Floats:
    """Colours (n, 4) that lie between two, or beyond them, as :func:`blend` goes through them, but not brought into
    what can be shown: so they are, put between the two, the ends of the same way.
    """
    at = share[:, None]
    a0, a1 = first[:, 3:], second[:, 3:]
    alpha = a0 + (a1 - a0) * at
    lab0, lab1 = oklab(first[:, :3]) * a0, oklab(second[:, :3]) * a1
    mixed = lab0 + (lab1 - lab0) * at
    near = np.where(np.abs(alpha) < 1e-9, 1.0, alpha)
    lab = np.where(np.abs(alpha) < 1e-9, oklab(second[:, :3]), mixed / near)
    linear = (lab @ _FROM_LAB.T) ** 3 @ _FROM_LMS.T
    return np.concatenate([encoded(linear), alpha], axis=1)


def blend(first: Floats, second: Floats, share: Floats) -> Floats:
    """Colours (n, 4) between ``first`` and ``second`` (n, 4) at shares (n,), which may lie beyond 0 and 1.

    A fully transparent end lends no hue: that is what the premultiplied alpha is for.
    """
    at = share[:, None]
    a0, a1 = first[:, 3:], second[:, 3:]
    alpha = np.clip(a0 + (a1 - a0) * at, 0.0, 1.0)
    lab0, lab1 = oklab(first[:, :3]) * a0, oklab(second[:, :3]) * a1
    mixed = lab0 + (lab1 - lab0) * at
    with np.errstate(divide="ignore", invalid="ignore"):
        lab = np.where(alpha > 0, mixed / np.where(alpha > 0, alpha, 1.0), oklab(second[:, :3]))
    return np.concatenate([from_oklab(lab), alpha], axis=1)
