"""SVG paints: colours, and linear and radial gradients with their references to one another."""

import re
from collections.abc import Callable, Mapping
from xml.etree.ElementTree import Element

from svgelements import Color, Matrix

from deftarc.core.drawing import LinearGradient, Paint, RadialGradient, Six, Solid, Stop
from deftarc.core.geometry import Floats
from deftarc.formats.svg_shapes import length

XLINK = "{http://www.w3.org/1999/xlink}href"
_URL = re.compile(r"^url\(\s*['\"]?#([^'\")]+)['\"]?\s*\)\s*(.*)$")


def colour_of(text: str, opacity: float = 1.0) -> str | None:
    """A CSS colour as #rrggbb or #rrggbbaa; None for none, or where it cannot be read."""
    told = text.strip()
    if told.lower() in ("none", ""):
        return None
    if told.lower() == "transparent":
        return "#00000000"
    try:
        colour = Color(told)
        if colour.value is None:
            return None
        red, green, blue, alpha = (int(part) for part in (colour.red, colour.green, colour.blue, colour.alpha))
    except (ValueError, TypeError, AttributeError, IndexError):
        return None
    alpha = round(alpha * min(1.0, max(0.0, opacity)))
    base = f"#{red & 255:02x}{green & 255:02x}{blue & 255:02x}"
    return base if alpha >= 255 else f"{base}{max(alpha, 0):02x}"


class PaintServer:
    """Resolves fill and stroke values to paints, gradients by id."""

    def __init__(
        self, ids: Mapping[str, Element], style_of: Callable[[Element], dict[str, str]], note: Callable[[str], None]
    ) -> None:
        self.ids = ids
        self.style_of = style_of
        self.note = note

    def paint(self, style: Mapping[str, str], which: str, box: Floats | None) -> Paint | None:
        """The paint of ``fill`` or ``stroke`` for a shape with a bounding box (4,) in user units."""
        value = style[which].strip()
        opacity = min(1.0, max(0.0, length(style[f"{which}-opacity"], 1.0, 1.0)))
        found = _URL.match(value)
        if found:
            paint = self._gradient(found[1], opacity, box)
            if paint is not None:
                return paint
            value = found[2] or "none"
        if value.lower() == "currentcolor":
            value = style["color"]
        if value.lower() in ("context-fill", "context-stroke"):
            self.note(f"the paint {value}")
            return None
        colour = colour_of(value, opacity)
        if colour is None and value.lower() not in ("none", ""):
            self.note(f"the colour “{value[:30]}”")
        return None if colour is None else Solid(colour=colour)

    def _gradient(self, name: str, opacity: float, box: Floats | None) -> Paint | None:
        element = self.ids.get(name)
        kind = element.tag.rpartition("}")[2] if element is not None else ""
        if element is None or kind not in ("linearGradient", "radialGradient"):
            self.note("patterns" if kind == "pattern" else "a paint that is not in the file")
            return None
        chain = self._chain(element)

        def attribute(key: str, default: str) -> str:
            return next((link.get(key, "") for link in chain if link.get(key) is not None), default)

        stops = self._stops(chain, opacity)
        if not stops:
            return None
        if attribute("spreadMethod", "pad") != "pad":
            self.note("repeated gradients (shown once)")
        matrix = Matrix(attribute("gradientTransform", ""))
        boxed = attribute("gradientUnits", "objectBoundingBox") != "userSpaceOnUse"
        if boxed:
            if box is None or box[2] <= box[0] or box[3] <= box[1]:
                return Solid(colour=stops[-1].colour)
            matrix = matrix * Matrix(box[2] - box[0], 0, 0, box[3] - box[1], box[0], box[1])
        six: Six = (matrix.a, matrix.b, matrix.c, matrix.d, matrix.e, matrix.f)

        def number(key: str, default: str) -> float:
            return length(attribute(key, default), 0.0, 1.0)

        if kind == "linearGradient":
            ends = {
                "x1": number("x1", "0%"),
                "y1": number("y1", "0%"),
                "x2": number("x2", "100%"),
                "y2": number("y2", "0%"),
            }
            if ends["x1"] == ends["x2"] and ends["y1"] == ends["y2"]:
                return Solid(colour=stops[-1].colour)
            return LinearGradient(**ends, matrix=six, stops=stops)
        cx, cy, r = number("cx", "50%"), number("cy", "50%"), max(0.0, number("r", "50%"))
        if r == 0:
            return Solid(colour=stops[-1].colour)
        fx, fy = (length(attribute(k, ""), default, 1.0) for k, default in (("fx", cx), ("fy", cy)))
        return RadialGradient(cx=cx, cy=cy, r=r, fx=fx, fy=fy, fr=max(0.0, number("fr", "0%")), matrix=six, stops=stops)

    def _chain(self, element: Element) -> list[Element]:
        """The gradient and those it refers to, each once."""
        chain: list[Element] = []
        while element is not None and element not in chain and len(chain) < 20:
            chain.append(element)
            following = self.ids.get((element.get("href") or element.get(XLINK) or "").lstrip("#"))
            if following is None:
                break
            element = following
        return chain

    def _stops(self, chain: list[Element], opacity: float) -> tuple[Stop, ...]:
        stops: list[Stop] = []
        for link in chain:
            for child in link:
                if not isinstance(child.tag, str) or child.tag.rpartition("}")[2] != "stop":
                    continue
                style = self.style_of(child)
                least = stops[-1].offset if stops else 0.0
                offset = min(1.0, max(least, length(child.get("offset"), 0.0, 1.0)))
                share = min(1.0, max(0.0, length(style.get("stop-opacity"), 1.0, 1.0)))
                told = style.get("stop-color", "black")
                if told.lower() == "currentcolor":
                    told = style.get("color", "black")
                stops.append(Stop(offset=offset, colour=colour_of(told, share * opacity) or "#00000000"))
            if stops:
                break
        return tuple(stops[:256])
