"""The paints of an SVG: colours, and gradients resolved to the drawing's own terms."""

import itertools
import re
from collections.abc import Callable, Mapping
from xml.etree.ElementTree import Element

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import six
from deftarc.core.document.drawing import LinearGradient, Paint, RadialGradient, Six, Solid, Stop
from deftarc.core.spaces.colour import decoded, encoded, hex_colour, parse_colour
from deftarc.formats.read.svg.colour import parsed, srgb, written
from deftarc.formats.read.svg.counts import target_of
from deftarc.formats.read.svg.place import moved as shift
from deftarc.formats.read.svg.place import read_transform, scaled
from deftarc.formats.read.svg.shapes import length
from deftarc.formats.read.svg.style import Style

_URL = re.compile(r"^url\(\s*['\"]?#([^'\")]+)['\"]?\s*\)\s*(.*)$", re.IGNORECASE | re.DOTALL)
#: So many stops stand for a way between two in linear light.
LINEAR_STEPS = 8


def share(text: str | None) -> float:
    """A number or per cent as a share in [0, 1]; 1 where there is none."""
    return min(1.0, max(0.0, length(text, 1.0, 1.0)))


class PaintServer:
    """Resolves fill and stroke values to paints, gradients by id. ``view`` is what per cent in user space are of."""

    def __init__(
        self, ids: Mapping[str, Element], style_of: Callable[[Element], Style], note: Callable[[str], None],
        view: tuple[float, float],
    ) -> None:  # fmt: skip
        self.ids = ids
        self.style_of = style_of
        self.note = note
        self.view = view
        self._known_stops: dict[tuple[str, float], tuple[Stop, ...]] = {}
        #: Stops of all gradients, each as often as a shape has it.
        self.stops = 0

    def colour(self, value: str, style: Mapping[str, str], opacity: float) -> str | None:
        """A colour's value as #rrggbb(aa); None for none, and for what is not read, which is told."""
        if value.lower() in ("none", ""):
            return None
        found = parsed(value)
        if isinstance(found, str):
            inner = style["color"]
            found = None if inner.lower() == "currentcolor" else parsed(inner)
        if found is None or isinstance(found, str):
            return written(parsed("black"), opacity)
        told = written(found, opacity)
        if told is None:
            self.note(f"colours in {found.space}")
        return told

    def paint(self, style: Mapping[str, str], which: str, box: Floats | None) -> Paint | None:
        """The paint of ``fill`` or ``stroke`` for a shape with a bounding box (4,) in user units."""
        value = style[which].strip()
        opacity = share(style[f"{which}-opacity"])
        found = _URL.match(value)
        if found:
            known, paint = self._gradient(found[1], opacity, box)
            if known:
                return paint
            value = found[2].strip() or "none"
        if value.lower() in ("context-fill", "context-stroke"):
            self.note(f"the paint {value}")
            return None
        colour = self.colour(value, style, opacity)
        return None if colour is None else Solid(colour=colour)

    def _gradient(self, name: str, opacity: float, box: Floats | None) -> tuple[bool, Paint | None]:
        """Whether there is such a gradient, and its paint; None where it paints nothing."""
        element = self.ids.get(name)
        kind = element.tag.rpartition("}")[2] if element is not None else ""
        if element is None or kind not in ("linearGradient", "radialGradient"):
            self.note("patterns" if kind == "pattern" else "a paint that is not in the file")
            return False, None
        chain = self._chain(element)

        def attribute(key: str, default: str) -> str:
            return next((link.get(key, "") for link in chain if link.get(key) is not None), default)

        known = self._known_stops.get((name, opacity))
        stops = self._known_stops[name, opacity] = self._stops(chain, opacity) if known is None else known
        self.stops += len(stops)
        if self.stops > limits.MAX_SVG_STOPS:
            raise Refusal("This SVG has gradients of too many colours on too many shapes. Simplify it and try again.")
        if not stops:
            return True, None
        if attribute("spreadMethod", "pad") != "pad":
            self.note("repeated gradients (shown once)")
        try:
            matrix = read_transform(attribute("gradientTransform", ""))
        except ValueError:
            self.note("a transform that cannot be read")
            matrix = np.eye(3)
        boxed = attribute("gradientUnits", "objectBoundingBox") != "userSpaceOnUse"
        across, down = (1.0, 1.0) if boxed else self.view
        if boxed:
            # A box of no width or height has no space for a paint that is measured by it (SVG 2, 13.2).
            if box is None or box[2] <= box[0] or box[3] <= box[1]:
                return True, None
            matrix = (
                shift(float(box[0]), float(box[1])) @ scaled(float(box[2] - box[0]), float(box[3] - box[1])) @ matrix
            )
        told: Six = tuple(float(n) for n in six(matrix))  # type: ignore[assignment]
        em = float(self.style_of(element)["font-size"])

        def number(key: str, default: str, whole: float) -> float:
            return length(attribute(key, default), length(default, 0.0, whole), whole, em)

        if len(stops) == 1:
            return True, Solid(colour=stops[0].colour)
        if kind == "linearGradient":
            x1, x2 = number("x1", "0%", across), number("x2", "100%", across)
            y1, y2 = number("y1", "0%", down), number("y2", "0%", down)
            if (x1, y1) == (x2, y2):
                return True, Solid(colour=stops[-1].colour)
            return True, LinearGradient(x1=x1, y1=y1, x2=x2, y2=y2, matrix=told, stops=stops)
        diagonal = float(np.hypot(across, down) / np.sqrt(2))
        cx, cy = number("cx", "50%", across), number("cy", "50%", down)
        r = max(0.0, number("r", "50%", diagonal))
        if r == 0:
            return True, Solid(colour=stops[-1].colour)
        fx, fy = (length(attribute(k, ""), at, whole, em) for k, at, whole in (("fx", cx, across), ("fy", cy, down)))
        fr = max(0.0, number("fr", "0%", diagonal))
        off = float(np.hypot(fx - cx, fy - cy))
        if off + fr >= r:
            # A focus outside is brought onto the circle, as SVG 1.1 has it and browsers do.
            pull = max(0.0, (r - fr) * 0.999) / off if off else 1.0
            fx, fy = cx + (fx - cx) * pull, cy + (fy - cy) * pull
        return True, RadialGradient(cx=cx, cy=cy, r=r, fx=fx, fy=fy, fr=min(fr, r), matrix=told, stops=stops)

    def _chain(self, element: Element) -> list[Element]:
        """The gradient and those it refers to, each once."""
        chain: list[Element] = []
        while element is not None and element not in chain and len(chain) < 20:
            chain.append(element)
            following = self.ids.get(target_of(element))
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
                colour = self.colour(style["stop-color"], style, share(style["stop-opacity"]) * opacity)
                stops.append(Stop(offset=offset, colour=colour or "#00000000"))
            if stops:
                break
        if stops and self.style_of(chain[0])["color-interpolation"].lower() == "linearrgb":
            stops = _in_linear_light(stops)
        return tuple(stops[:256])


def _in_linear_light(stops: list[Stop]) -> list[Stop]:
    """Stops between which light mixes evenly, by stops put between them."""
    out = stops[:1]
    for one, other in itertools.pairwise(stops):
        a, b = (np.array(parse_colour(stop.colour)) for stop in (one, other))
        if other.offset > one.offset and one.colour != other.colour:
            for k in range(1, LINEAR_STEPS):
                part = k / LINEAR_STEPS
                mixed = a + (b - a) * part
                mixed[:3] = encoded(decoded(a[:3]) * (1 - part) + decoded(b[:3]) * part)
                out.append(Stop(offset=one.offset + (other.offset - one.offset) * part, colour=hex_colour(mixed)))
        out.append(other)
    return out


__all__ = ["PaintServer", "share", "srgb"]
