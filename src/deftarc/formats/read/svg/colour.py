"""CSS colours as sRGB: parsed by tinycss2, wide spaces brought into sRGB as CSS Color 4 has it (clipped)."""

from functools import lru_cache

import numpy as np
import tinycss2.color4
from tinycss2.color4 import Color

from deftarc.core.base.arrays import Floats
from deftarc.core.spaces.colour import decoded, encoded

#: Rows give linear sRGB from XYZ (D65), XYZ (D65) from XYZ (D50), and XYZ (D65) from linear Display P3 and Rec. 2020:
#: CSS Color Module Level 4, sample code for conversions.
_SRGB = np.array([[12831 / 3959, -329 / 214, -1974 / 3959], [-851781 / 878810, 1648619 / 878810, 36519 / 878810],
                  [705 / 12673, -2585 / 12673, 705 / 667]])  # fmt: skip
_FROM_D50 = np.array([[0.9554734527042182, -0.023098536874261423, 0.0632593086610217],
                      [-0.028369706963208136, 1.0099954580058226, 0.021041398966943008],
                      [0.012314001688319899, -0.020507696433477912, 1.3303659366080753]])  # fmt: skip
_P3 = np.array([[608311 / 1250200, 189793 / 714400, 198249 / 1000160],
                [35783 / 156275, 247089 / 357200, 198249 / 2500400],
                [0.0, 32229 / 714400, 5220557 / 5000800]])  # fmt: skip
_2020 = np.array([[63426534 / 99577255, 20160776 / 139408157, 47086771 / 278816314],
                  [26158966 / 99577255, 472592308 / 697040785, 8267143 / 139408157],
                  [0.0, 19567812 / 697040785, 295819943 / 278816314]])  # fmt: skip


@lru_cache(maxsize=8_192)
def parsed(text: str) -> Color | str | None:
    """A CSS colour; “currentcolor”, or None where the text is no colour."""
    try:
        found: Color | str | None = tinycss2.color4.parse_color(text)
    except (ValueError, TypeError, AttributeError, IndexError, ZeroDivisionError):
        return None
    return found


def srgb(colour: Color) -> tuple[float, float, float] | None:
    """Encoded sRGB in [0, 1]; None for a space that is not brought into sRGB here."""
    rgb = np.array([part or 0.0 for part in colour.coordinates], float)
    space = colour.space
    if space in ("hsl", "hwb"):
        rgb = np.array([part or 0.0 for part in colour.to("srgb").coordinates], float)
    elif space != "srgb":
        linear = _linear(colour, rgb)
        if linear is None:
            return None
        rgb = encoded(np.clip(linear, 0.0, 1.0))
    red, green, blue = (float(n) for n in np.clip(rgb, 0.0, 1.0))
    return red, green, blue


def _linear(colour: Color, rgb: Floats) -> Floats | None:
    space = colour.space
    if space == "srgb-linear":
        return rgb
    if space == "display-p3":
        return np.asarray(_SRGB @ _P3 @ decoded(rgb))
    if space == "rec2020":
        # BT.2020's own transfer function.
        low = rgb < 0.0181 * 4.5
        light = np.where(low, rgb / 4.5, ((np.maximum(rgb, 0) + 0.0993) / 1.0993) ** (1 / 0.45))
        return np.asarray(_SRGB @ _2020 @ light)
    if space in ("lab", "lch"):
        return np.asarray(_SRGB @ _FROM_D50 @ np.array(colour.to("xyz-d50").coordinates))
    if space in ("oklab", "oklch"):
        return np.asarray(_SRGB @ np.array(colour.to("xyz-d65").coordinates))
    if space in ("xyz", "xyz-d65"):
        return np.asarray(_SRGB @ rgb)
    if space == "xyz-d50":
        return np.asarray(_SRGB @ _FROM_D50 @ rgb)
    return None


@lru_cache(maxsize=8_192)
def written(colour: Color, opacity: float = 1.0) -> str | None:
    """#rrggbb or #rrggbbaa of a colour at an opacity; None where its space is not read."""
    rgb = srgb(colour)
    if rgb is None:
        return None
    base = "#" + "".join(f"{round(part * 255):02x}" for part in rgb)
    share = min(1.0, max(0.0, float(colour.alpha or 0.0))) * min(1.0, max(0.0, opacity))
    alpha = round(255 * share)
    return base if alpha >= 255 else f"{base}{alpha:02x}"
