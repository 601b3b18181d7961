"""An SVG logo read into a Drawing: groups, transforms, shapes, paths, use, gradients, strokes, styles.

XML is parsed by defusedxml after a count of its nodes; nothing outside the file is ever looked at. What is
not supported is named in ``notes``, never dropped in silence.
"""

import re
from dataclasses import dataclass, field
from io import BytesIO
from typing import Any
from xml.etree.ElementTree import Element, ParseError

import cssselect2
import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import iterparse
from svgelements import Matrix
from svgelements import Path as SvgPath

from deftarc.core import limits
from deftarc.core.drawing import Drawing, Group, Node, Paint, Shape, Six, Stroke
from deftarc.core.errors import Refusal
from deftarc.core.outline import Outline
from deftarc.formats.svg_paint import PaintServer
from deftarc.formats.svg_shapes import basic_shape, length
from deftarc.formats.svg_style import INHERITED, OWN, UNSUPPORTED, StyleSheet

SVG = "{http://www.w3.org/2000/svg}"
XLINK = "{http://www.w3.org/1999/xlink}href"
#: Elements that say something and draw nothing.
SILENT = {"defs", "title", "desc", "metadata", "style", "symbol", "linearGradient", "radialGradient", "stop"}
DRAWN = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
NAMED = {
    "text": "text (turn it into paths before export)",
    "tspan": "text (turn it into paths before export)",
    "image": "embedded pictures",
    "foreignObject": "embedded pages",
    "clipPath": "clipping paths",
    "mask": "masks",
    "filter": "filters",
    "pattern": "patterns",
    "marker": "markers",
    "animate": "animation inside the file",
    "animateTransform": "animation inside the file",
    "animateMotion": "animation inside the file",
    "set": "animation inside the file",
    "a": "",
}
HOSTILE = {"script", "handler"}


@dataclass(frozen=True)
class ReadLogo:
    """A drawing about the middle of its view box, its size in px, and notes on what is not supported."""

    drawing: Drawing
    width: float
    height: float
    notes: tuple[str, ...]


def read_svg(data: bytes) -> ReadLogo:
    """Reads a logo; Refusal when the file is broken, hostile, too large or shows nothing."""
    root = _parse(data)
    return _Reader(root).read()


def _parse(data: bytes) -> Element:
    if len(data) > limits.MAX_SVG_BYTES:
        raise Refusal(f"This SVG is larger than {limits.MAX_SVG_BYTES // 1024 // 1024} MiB. Simplify it first.")
    root: Element | None = None
    nodes = depth = 0
    try:
        for event, element in iterparse(
            BytesIO(data), events=("start", "end"), forbid_dtd=False, forbid_entities=True, forbid_external=True
        ):
            if event == "end":
                depth -= 1
                continue
            root = element if root is None else root
            nodes += 1
            depth += 1
            if nodes > limits.MAX_SVG_NODES:
                raise Refusal(f"This SVG has more than {limits.MAX_SVG_NODES:,} parts. Simplify it and try again.")
            if depth > limits.MAX_SVG_DEPTH:
                raise Refusal(f"This SVG nests more than {limits.MAX_SVG_DEPTH} groups. Flatten it and try again.")
    except DefusedXmlException:
        raise Refusal("This SVG defines entities or looks outside itself, which is not taken. Save it plain.") from None
    except (ParseError, LookupError, ValueError) as error:
        if isinstance(error, Refusal):
            raise
        raise Refusal("This SVG is broken: it is no well-formed XML. Export it again.") from None
    if root is None or root.tag not in (f"{SVG}svg", "svg"):
        raise Refusal("This file is XML but no SVG: it does not begin with an svg element.")
    return root


def _local(element: Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


@dataclass
class _Reader:
    root: Element
    notes: dict[str, None] = field(default_factory=dict)
    drawn: int = 0
    numbers: int = 0

    def read(self) -> ReadLogo:
        self.ids: dict[str, Element] = {}
        sheets: list[str] = []
        for element in self.root.iter():
            name = _local(element)
            self._refuse_hostile(element, name)
            if element.get("id"):
                self.ids.setdefault(element.get("id", ""), element)
            if name == "style":
                sheets.append("".join(element.itertext()))
        if any("@import" in text.lower() for text in sheets):
            raise Refusal("This SVG looks outside itself (@import), which is not taken. Embed the styles.")
        self.sheet = StyleSheet(sheets)
        for kind in sorted(self.sheet.skipped):
            self.note(kind)
        self.wrappers = {
            wrapped.etree_element: wrapped
            for wrapped in cssselect2.ElementWrapper.from_xml_root(self.root).iter_subtree()
        }
        self.paints = PaintServer(self.ids, self._style_of, self.note)
        box = self._view_box()
        self.view = (box[2], box[3])
        self.diagonal = float(np.hypot(box[2], box[3]) / np.sqrt(2))
        start = Matrix.translate(-box[0] - box[2] / 2, -box[1] - box[3] / 2) * Matrix.scale(self.zoom)
        nodes = self._children(self.root, dict(INHERITED), start, 0)
        if not nodes:
            raise Refusal("Nothing of this SVG can be drawn" + (f": it has {self._told()}." if self.notes else "."))
        return ReadLogo(
            Drawing(nodes=tuple(nodes)),
            box[2] * self.zoom,
            box[3] * self.zoom,
            tuple(f"Not shown: {note}." for note in self.notes)[:40],
        )

    def note(self, what: str) -> None:
        if what:
            self.notes[what] = None

    def _told(self) -> str:
        return ", ".join(self.notes)

    def _refuse_hostile(self, element: Element, name: str) -> None:
        if name in HOSTILE:
            raise Refusal("This SVG carries a script, which is not taken. Save it without scripts.")
        for attribute, value in element.attrib.items():
            plain = attribute.rpartition("}")[2].lower()
            if plain.startswith("on"):
                raise Refusal("This SVG carries a script in an attribute, which is not taken. Save it without scripts.")
            outside = plain == "href" and not value.strip().startswith(("#", "data:")) and name not in ("a",)
            url = re.search(r"url\(\s*['\"]?\s*(?!#|['\"]?#)(\S)", value)
            if (outside and value.strip()) or (url and not value.strip().startswith("data:")):
                raise Refusal("This SVG refers to something outside itself, which is not taken. Embed what it needs.")

    def _view_box(self) -> tuple[float, float, float, float]:
        """The view box in user units, and ``zoom``: px of the stated size to a user unit."""
        numbers = [
            float(n) for n in re.findall(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?", self.root.get("viewBox", ""))
        ]
        width, height = (length(self.root.get(side), 0.0) for side in ("width", "height"))
        percent = any("%" in self.root.get(side, "") for side in ("width", "height"))
        if len(numbers) == 4 and numbers[2] > 0 and numbers[3] > 0:
            x, y, w, h = numbers
            fits = [stated / own for stated, own in ((width, w), (height, h)) if stated > 0]
            self.zoom = 1.0 if percent or not fits else min(fits)
        else:
            x, y, w, h = 0.0, 0.0, width if width > 0 and not percent else 300.0, height or 150.0
            self.zoom = 1.0
        if not all(np.isfinite((x, y, w, h))) or max(w, h) * self.zoom > limits.MAX_NUMBER:
            raise Refusal("This SVG's size is no size Deft Arc can draw.")
        return x, y, w, h

    def _style_of(self, element: Element) -> dict[str, str]:
        return self.sheet.of(self.wrappers[element])

    def _children(self, parent: Element, inherited: dict[str, str], matrix: Matrix, uses: int) -> list[Node]:
        nodes: list[Node] = []
        for element in parent:
            nodes.extend(self._element(element, inherited, matrix, uses))
        return nodes

    def _element(self, element: Element, inherited: dict[str, str], matrix: Matrix, uses: int) -> list[Node]:
        name = _local(element)
        if name in NAMED:
            self.note(NAMED[name])
        if not name or name in SILENT or (name in NAMED and name != "a"):
            return []
        style = self._style_of(element)
        for key, what in UNSUPPORTED.items():
            if style.get(key, "none") not in ("none", "normal", ""):
                self.note(what)
        own = {**OWN, **{k: v for k, v in style.items() if k in OWN and v != "inherit"}}
        if own["display"] == "none":
            return []
        passed = {**inherited, **{k: v for k, v in style.items() if k in INHERITED and v != "inherit"}}
        try:
            matrix = Matrix(element.get("transform", "")) * matrix
        except (ValueError, IndexError, TypeError):
            self.note("a transform that cannot be read")
        if name in DRAWN:
            nodes = self._shape(element, name, passed, matrix)
        elif name in ("g", "a", "switch"):
            nodes = self._children(element, passed, matrix, uses)
        elif name == "svg":
            nodes = self._children(element, passed, _placed(element) * matrix, uses)
        elif name == "use":
            nodes = self._use(element, passed, matrix, uses)
        else:
            self.note(f"“{name[:40]}” elements")
            return []
        opacity = _share(own["opacity"])
        if not nodes or opacity >= 1:
            return nodes
        return [Group(opacity=opacity, nodes=tuple(nodes))]

    def _use(self, element: Element, style: dict[str, str], matrix: Matrix, uses: int) -> list[Node]:
        target = self.ids.get((element.get("href") or element.get(XLINK) or "").lstrip("#"))
        if target is None:
            self.note("a use of something that is not in the file")
            return []
        if uses >= 20:
            raise Refusal("This SVG uses parts of itself inside themselves without end. Flatten it and try again.")
        matrix = _placed(element) * matrix
        if _local(target) in ("symbol", "svg"):
            return self._children(target, {**style, **_inherited(self._style_of(target))}, matrix, uses + 1)
        return self._element(target, style, matrix, uses + 1)

    def _shape(self, element: Element, name: str, style: dict[str, str], matrix: Matrix) -> list[Node]:
        if style["visibility"] != "visible":
            return []
        outline = self._outline(element, name)
        if outline is None or not outline.verbs:
            return []
        self.drawn += 1
        self.numbers += outline.points.size
        if self.drawn > limits.MAX_SVG_NODES or self.numbers > limits.MAX_OUTLINE_NUMBERS:
            raise Refusal(f"This SVG draws more than {limits.MAX_SVG_NODES:,} parts once unfolded. Simplify it.")
        box = outline.bounds()
        fill = None if name == "line" else self.paints.paint(style, "fill", box)
        stroke = self._stroke(style, box)
        if fill is None and stroke is None:
            return []
        return [
            Shape(
                outline=outline.data(),
                rule="evenodd" if style["fill-rule"] == "evenodd" else "nonzero",
                fill=fill,
                stroke=stroke,
                matrix=_six(matrix),
            )
        ]

    def _outline(self, element: Element, name: str) -> Outline | None:
        if name != "path":
            return basic_shape(name, element.attrib, self.view)
        data = element.get("d", "").strip()
        if not data or data == "none":
            return None
        try:
            path = SvgPath(data)
            path.approximate_arcs_with_cubics()
            return _from_segments(path)
        except Refusal:
            raise
        except Exception:
            # The path parser raises all sorts on bad data; SVG draws up to the error, we say so.
            self.note("a path that cannot be read")
            return None

    def _stroke(self, style: dict[str, str], box: Any) -> Stroke | None:
        width = length(style["stroke-width"], 1.0, self.diagonal)
        if width <= 0:
            return None
        paint: Paint | None = self.paints.paint(style, "stroke", box)
        if paint is None:
            return None
        dash = [
            abs(length(part, 0.0, self.diagonal)) for part in re.split(r"[\s,]+", style["stroke-dasharray"]) if part
        ]
        dash = [] if style["stroke-dasharray"] == "none" or sum(dash) <= 0 else dash[:32]
        cap, join = style["stroke-linecap"], style["stroke-linejoin"]
        if join in ("arcs", "miter-clip"):
            self.note(f"stroke joins of the kind {join}")
        return Stroke(
            paint=paint,
            width=width,
            cap=cap if cap in ("round", "square") else "butt",
            join=join if join in ("round", "bevel") else "miter",
            miter_limit=min(1000.0, max(1.0, length(style["stroke-miterlimit"], 4.0))),
            dash=tuple(dash * 2 if len(dash) % 2 else dash),
            dash_offset=length(style["stroke-dashoffset"], 0.0, self.diagonal),
        )


def _inherited(style: dict[str, str]) -> dict[str, str]:
    return {k: v for k, v in style.items() if k in INHERITED and v != "inherit"}


def _placed(element: Element) -> Matrix:
    """The translation of a use or of an inner svg, with the view box of the latter."""
    x, y = length(element.get("x"), 0.0), length(element.get("y"), 0.0)
    return Matrix.translate(x, y)


def _six(matrix: Matrix) -> Six:
    numbers = (matrix.a, matrix.b, matrix.c, matrix.d, matrix.e, matrix.f)
    if not np.isfinite(numbers).all() or max(map(abs, numbers)) > limits.MAX_NUMBER:
        raise Refusal("A transform of this SVG reaches further than Deft Arc can draw.")
    return tuple(round(float(n), 9) for n in numbers)  # type: ignore[return-value]


def _share(text: str) -> float:
    value = length(text, 1.0, 1.0)
    return min(1.0, max(0.0, value))


def _from_segments(path: SvgPath) -> Outline:
    """svgelements' absolute segments as an Outline; quadratic curves become cubic exactly."""
    verbs: list[str] = []
    points: list[tuple[float, float]] = []

    def add(verb: str, *spots: Any) -> None:
        verbs.append(verb)
        points.extend((float(spot.x), float(spot.y)) for spot in spots)

    for segment in path:
        kind = type(segment).__name__
        if kind == "Move":
            add("M", segment.end)
        elif kind == "Line":
            add("L", segment.end)
        elif kind == "Close":
            verbs.append("Z")
        elif kind == "CubicBezier":
            add("C", segment.control1, segment.control2, segment.end)
        elif kind == "QuadraticBezier":
            start, control, end = segment.start, segment.control, segment.end
            add("C", start + (control - start) * (2 / 3), end + (control - end) * (2 / 3), end)
    array = np.array(points, float).reshape(-1, 2)
    if array.size and (not np.isfinite(array).all() or np.abs(array).max() > limits.MAX_NUMBER):
        raise Refusal("A path of this SVG reaches further than Deft Arc can draw.")
    return Outline("".join(verbs), array)
