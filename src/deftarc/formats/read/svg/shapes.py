"""SVG lengths, and the basic shapes as outlines in user units."""

import re
from collections.abc import Mapping

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.shapes import ellipse, rectangle

#: px to a unit, from CSS Values and Units; em and ex hang on the font's size, here the initial one.
UNITS = {
    "": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "in": 96.0, "cm": 96 / 2.54, "mm": 9.6 / 2.54, "q": 2.4 / 2.54,
    "em": 16.0, "rem": 16.0, "ex": 8.0,
}  # fmt: skip
_LENGTH = re.compile(r"^\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*([a-z%]*)\s*$", re.IGNORECASE)
_NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?", re.IGNORECASE)


def length(text: str | None, default: float, whole: float = 0.0, em: float = 16.0) -> float:
    """A length in px; per cent of ``whole``; the default where there is none or it cannot be read."""
    found = _LENGTH.match(text or "")
    if not found:
        return default
    number, unit = float(found[1]), found[2].lower()
    if not np.isfinite(number):
        return default
    if unit == "%":
        return number / 100 * whole
    if unit in ("em", "ex"):
        return number * em * (0.5 if unit == "ex" else 1.0)
    return number * UNITS[unit] if unit in UNITS else default


def _moved(outline: Outline, x: float, y: float) -> Outline:
    return Outline(outline.verbs, outline.points + (x, y))


def basic_shape(
    name: str, attributes: Mapping[str, str], view: tuple[float, float], em: float = 16.0
) -> Outline | None:
    """The outline of a rect, circle, ellipse, line, polyline or polygon; None where it draws nothing.

    ``view`` is the width and height that percentages are of.
    """
    across, down = view
    wholes = {"r": float(np.hypot(across, down) / np.sqrt(2))}
    wholes |= dict.fromkeys(("x", "x1", "x2", "cx", "rx", "width"), across)
    wholes |= dict.fromkeys(("y", "y1", "y2", "cy", "ry", "height"), down)

    def number(key: str, default: float = 0.0) -> float:
        return length(attributes.get(key), default, wholes[key], em)

    if name == "rect":
        return _rounded(number("x"), number("y"), number("width"), number("height"), number("rx", -1), number("ry", -1))
    if name in ("circle", "ellipse"):
        rx = number("r") if name == "circle" else number("rx", number("ry"))
        ry = rx if name == "circle" else number("ry", number("rx"))
        return _moved(ellipse(2 * rx, 2 * ry), number("cx"), number("cy")) if rx > 0 and ry > 0 else None
    if name == "line":
        points = np.array([[number("x1"), number("y1")], [number("x2"), number("y2")]])
        return Outline("ML", points)
    spots = [float(n) for n in _NUMBER.findall(attributes.get("points", ""))]
    spots = spots[: len(spots) // 2 * 2]
    if len(spots) < 4:
        return None
    row: Floats = np.array(spots).reshape(-1, 2)
    return Outline("M" + "L" * (len(row) - 1) + ("Z" if name == "polygon" else ""), row)


def _rounded(x: float, y: float, width: float, height: float, rx: float, ry: float) -> Outline | None:
    """A rectangle; a radius below nought is not told."""
    if width <= 0 or height <= 0:
        return None
    rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
    rx, ry = min(max(rx, 0.0), width / 2), min(max(ry, 0.0), height / 2)
    if rx <= 0 or ry <= 0:
        right, bottom = x + width, y + height
        return Outline("MLLLZ", np.array([(x, y), (right, y), (right, bottom), (x, bottom)], float))
    # A circular corner in a space where rx is one and ry is one, stretched back.
    stretched = rectangle(width / rx, height / ry, 1.0)
    return _moved(Outline(stretched.verbs, stretched.points * (rx, ry)), x + width / 2, y + height / 2)
