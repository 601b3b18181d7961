"""Where things of an SVG lie: transforms of attributes and of CSS, view boxes, and how they fit."""

import re
from collections.abc import Mapping

import numpy as np
import tinycss2

from deftarc.core.base.arrays import Floats
from deftarc.core.base.matrices import from_six
from deftarc.formats.read.svg.shapes import length

_NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?", re.IGNORECASE)
#: Degrees to an angle's unit.
ANGLES = {"": 1.0, "deg": 1.0, "rad": 180 / np.pi, "grad": 0.9, "turn": 360.0}
#: Where the words of a transform's origin lie.
SIDES = {"left": 0.0, "top": 0.0, "center": 0.5, "right": 1.0, "bottom": 1.0}
Box = tuple[float, float, float, float]


def moved(x: float, y: float) -> Floats:
    return from_six(np.array([1.0, 0, 0, 1, x, y]))


def scaled(x: float, y: float) -> Floats:
    return from_six(np.array([x, 0, 0, y, 0.0, 0]))


def turned(degrees: float) -> Floats:
    cos, sin = np.cos(np.deg2rad(degrees)), np.sin(np.deg2rad(degrees))
    return from_six(np.array([cos, sin, -sin, cos, 0.0, 0]))


def read_transform(text: str, box: Box = (0, 0, 0, 0), em: float = 16.0) -> Floats:
    """The matrix of a transform list, as an attribute or as CSS; % are of ``box``. ValueError for none."""
    out = np.eye(3)
    if text.strip().lower() in ("", "none"):
        return out
    for token in tinycss2.parse_component_value_list(text, skip_comments=True):
        if token.type in ("whitespace",) or (token.type == "literal" and token.value == ","):
            continue
        if token.type != "function":
            raise ValueError("no transform")
        parts = [each.serialize() for each in token.arguments if each.type not in ("whitespace", "literal")]
        # “10-5” is two numbers in an attribute.
        parts = [n for part in parts for n in (_split(part))]
        out = out @ _one(token.lower_name, parts, box, em)
    return out


def _split(part: str) -> list[str]:
    found = _NUMBER.findall(part)
    return found if len(found) > 1 and "".join(found) == part else [part]


def _one(name: str, parts: list[str], box: Box, em: float) -> Floats:
    def px(k: int, whole: float) -> float:
        value = length(parts[k], float("nan"), whole, em)
        if not np.isfinite(value):
            raise ValueError("no length")
        return value

    def angle(k: int) -> float:
        found = re.fullmatch(r"([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)([a-z]*)", parts[k].strip(), re.IGNORECASE)
        if not found or found[2].lower() not in ANGLES:
            raise ValueError("no angle")
        return float(found[1]) * ANGLES[found[2].lower()]

    def share(k: int) -> float:
        return length(parts[k], float("nan"), 1.0)

    count = len(parts)
    if name == "matrix" and count == 6:
        return from_six(np.array([float(part) for part in parts]))
    if name == "translate" and count in (1, 2):
        return moved(px(0, box[2]), px(1, box[3]) if count == 2 else 0.0)
    if name in ("translatex", "translatey") and count == 1:
        return moved(px(0, box[2]), 0.0) if name.endswith("x") else moved(0.0, px(0, box[3]))
    if name == "scale" and count in (1, 2):
        return scaled(share(0), share(count - 1))
    if name in ("scalex", "scaley") and count == 1:
        return scaled(share(0), 1.0) if name.endswith("x") else scaled(1.0, share(0))
    if name in ("rotate", "rotatez") and count in (1, 3):
        about = (px(1, box[2]), px(2, box[3])) if count == 3 else (0.0, 0.0)
        return moved(*about) @ turned(angle(0)) @ moved(-about[0], -about[1])
    if name in ("skewx", "skewy", "skew") and count in (1, 2):
        tans = [float(np.tan(np.deg2rad(angle(k)))) for k in range(count)]
        if name == "skewy":
            tans = [0.0, tans[0]]
        return from_six(np.array([1.0, tans[1] if len(tans) > 1 else 0.0, tans[0], 1, 0, 0]))
    raise ValueError(f"no transform {name}")


def own_transform(style: Mapping[str, str], view: tuple[float, float], box: Box | None, em: float) -> Floats:
    """An element's transform, about its origin; ``box`` is its fill box. ValueError where it cannot be read."""
    told = style["transform"]
    single = any(style[name] != "none" for name in ("translate", "rotate", "scale"))
    if told.lower() in ("", "none") and not single:
        return np.eye(3)
    fill = style["transform-box"].lower() in ("fill-box", "content-box", "stroke-box", "border-box") and box is not None
    about: Box = box if fill and box is not None else (0.0, 0.0, *view)
    parts = style["transform-origin"].lower().split()
    matrix = np.eye(3)
    for name in ("translate", "rotate", "scale"):
        if style[name] != "none":
            matrix = matrix @ read_transform(f"{name}({','.join(style[name].split())})", about, em)
    matrix = matrix @ read_transform(told, about, em)
    if not parts and not fill:
        return matrix
    if parts and parts[0] in ("top", "bottom"):
        parts = [*(parts[1:2] or ["center"]), parts[0]]
    # The origin of what is set about its own box is its middle.
    told_x, told_y = (parts[0] if parts else "50%"), (parts[1] if len(parts) > 1 else "50%")
    x = about[0] + (SIDES[told_x] * about[2] if told_x in SIDES else length(told_x, 0.0, about[2], em))
    y = about[1] + (SIDES[told_y] * about[3] if told_y in SIDES else length(told_y, 0.0, about[3], em))
    return moved(x, y) @ matrix @ moved(-x, -y)


def read_box(text: str | None) -> Box | None:
    """A viewBox; None where there is none of a size."""
    numbers = [float(n) for n in _NUMBER.findall(text or "")]
    if len(numbers) != 4 or numbers[2] <= 0 or numbers[3] <= 0 or not np.isfinite(numbers).all():
        return None
    return numbers[0], numbers[1], numbers[2], numbers[3]


def fitted(box: Box, width: float, height: float, told: str) -> tuple[Floats, bool]:
    """The matrix that fits a view box into width × height px by preserveAspectRatio, and whether it may stick out."""
    words = told.replace("defer", "").split()
    align = words[0] if words else "xMidYMid"
    sx, sy = width / box[2], height / box[3]
    if align == "none":
        return scaled(sx, sy) @ moved(-box[0], -box[1]), False
    cover = len(words) > 1 and words[1] == "slice"
    scale = max(sx, sy) if cover else min(sx, sy)
    shares = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
    fx, fy = shares.get(align[1:4], 0.5), shares.get(align[5:8], 0.5)
    x, y = fx * (width - box[2] * scale), fy * (height - box[3] * scale)
    return moved(x, y) @ scaled(scale, scale) @ moved(-box[0], -box[1]), cover
