"""An SVG logo read into a Drawing: groups, transforms, shapes, paths, use, gradients, strokes, styles.

XML is parsed by expat, which counts its nodes; nothing outside the file is ever looked at. What is
not supported is named in ``notes``, never dropped in silence.
"""

import re
from dataclasses import dataclass, field
from typing import Literal
from xml.etree.ElementTree import Element

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import six
from deftarc.core.document.drawing import Bitmap, Drawing, Group, Node, Paint, Shape, Six, Stroke
from deftarc.core.spaces.outline import Outline
from deftarc.formats.read.svg.clip import Clips, length_of
from deftarc.formats.read.svg.counts import check_matching, check_sheets, check_unfolded, target_of, tidy
from deftarc.formats.read.svg.paint import PaintServer, share
from deftarc.formats.read.svg.path import read_path
from deftarc.formats.read.svg.place import Box, fitted, moved, own_transform, read_box
from deftarc.formats.read.svg.shapes import basic_shape, length
from deftarc.formats.read.svg.style import GEOMETRY, UNSUPPORTED, Style, Styles
from deftarc.formats.read.svg.tree import read_tree

SVG = "{http://www.w3.org/2000/svg}"
#: Elements that say something and draw nothing.
SILENT = {"defs", "title", "desc", "metadata", "style", "symbol", "linearGradient", "radialGradient", "stop"}
DRAWN = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
NAMED = {
    "text": "text (turn it into paths before export)",
    "tspan": "text (turn it into paths before export)",
    "image": "embedded pictures",
    "foreignObject": "embedded pages",
    "clipPath": "",
    "mask": "",
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


#: Ids that programs make up: they say nothing of what it is.
_MADE_UP = re.compile(
    r"(?i:svg|g|group|layer|path|shape|rect|circle|ellipse|line|polyline|polygon|use|a)?[-_. ]*\d*(?:[-_.]\d+)*"
)


def given_name(element: Element) -> str:
    """What a person calls an element: by its title, its label or its id; empty where it has no such name."""
    for child in element:
        if _local(child) == "title":
            return _plain("".join(child.itertext()))
    labels = [value for key, value in element.attrib.items() if key.rpartition("}")[2] in ("label", "aria-label")]
    if labels:
        return _plain(labels[0])
    made_up = _MADE_UP.fullmatch(element.get("id", ""))
    return "" if made_up else _plain(re.sub(r"[_-]+", " ", element.get("id", "")))


def _plain(text: str) -> str:
    return "".join(c for c in " ".join(text.split()) if c.isprintable())[: limits.MAX_NAME].strip()


def _shared(nodes: list[Node]) -> str:
    """The name all of some nodes have; empty where they have none, or several."""
    names = {"" if isinstance(node, Bitmap) else node.name for node in nodes}
    return names.pop() if len(names) == 1 else ""


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
    root = read_tree(data)
    if root.tag not in (f"{SVG}svg", "svg"):
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
        nodes_in_all = 0
        for element in self.root.iter():
            name = _local(element)
            tidy(element)
            self._refuse_hostile(element, name)
            nodes_in_all += 1
            if element.get("id"):
                self.ids.setdefault(element.get("id", ""), element)
            if name == "style":
                sheets.append("".join(element.itertext()))
        if any("@import" in text.lower() for text in sheets):
            raise Refusal("This SVG looks outside itself (@import), which is not taken. Embed the styles.")
        check_sheets(sheets)
        check_unfolded(self.root, self.ids)
        self.styles = Styles(self.root, sheets)
        check_matching(self.styles.rules, nodes_in_all)
        for kind in sorted(self.styles.skipped):
            self.note(kind)
        style = self.styles.of(self.root)
        width, height, matrix, self.view = self._size(style)
        self.paints = PaintServer(self.ids, self.styles.of, self.note, self.view)
        self.clips = Clips(self)
        nodes: list[Node] = []
        if style["display"] != "none":
            nodes = self._children(self.root, style, matrix, 0)
            nodes = self._together(self.root, style, nodes, matrix)
            nodes = _held(nodes, width, height, style)
        if not nodes:
            raise Refusal("Nothing of this SVG can be drawn" + (f": it has {self._told()}." if self.notes else "."))
        told = tuple(f"Not shown: {note}." for note in self.notes)[:40]
        return ReadLogo(Drawing(nodes=tuple(nodes)), width, height, told)

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

    def _size(self, style: Style) -> tuple[float, float, Floats, tuple[float, float]]:
        """The stated size in px, the matrix from user units to px about its middle, and the view that % are of."""
        box = read_box(self.root.get("viewBox"))
        em = float(style["font-size"])
        sides = []
        for name in ("width", "height"):
            value = style.get(name) or self.root.get(name) or ""
            sides.append(0.0 if "%" in value else length(value, 0.0, 0.0, em))
        width, height = sides
        if box is None:
            width, height = width if width > 0 else 300.0, height if height > 0 else 150.0
        elif width <= 0 and height <= 0:
            width, height = box[2], box[3]
        elif width <= 0 or height <= 0:
            width = width if width > 0 else height * box[2] / box[3]
            height = height if height > 0 else width * box[3] / box[2]
        if not np.isfinite((width, height)).all() or max(width, height) > limits.MAX_NUMBER:
            raise Refusal("This SVG's size is no size Deft Arc can draw.")
        fit = np.eye(3)
        if box is not None:
            fit, _ = fitted(box, width, height, self.root.get("preserveAspectRatio", ""))
        # A transform of the whole is about its middle, as that of any box of CSS.
        turned = self._transform(self.root, style, (width, height), (-width / 2, -height / 2, width, height))
        middle = turned @ moved(-width / 2, -height / 2) @ fit
        return width, height, middle, (box[2], box[3]) if box is not None else (width, height)

    def _transform(self, element: Element, style: Style, view: tuple[float, float], box: Box | None) -> Floats:
        try:
            if element is self.root:
                return own_transform(
                    {**style, "transform-origin": style["transform-origin"] or "0 0"}, (0, 0), None, 16.0
                )
            return own_transform(style, view, box, float(style["font-size"]))
        except ValueError:
            self.note("a transform that cannot be read")
            return np.eye(3)

    def _children(self, parent: Element, above: Style, matrix: Floats, uses: int) -> list[Node]:
        nodes: list[Node] = []
        for element in parent:
            nodes.extend(self._element(element, above, matrix, uses))
        return nodes

    def style_under(self, element: Element, above: Style) -> Style:
        parent = self.styles.wrappers[element].parent
        at_home = parent is not None and self.styles.of(parent.etree_element) is above
        return self.styles.of(element) if at_home else self.styles.under(element, above)

    def _element(self, element: Element, above: Style, matrix: Floats, uses: int) -> list[Node]:
        name = _local(element)
        if name in NAMED:
            self.note(NAMED[name])
        if not name or name in SILENT or (name in NAMED and name != "a"):
            return []
        style = self.style_under(element, above)
        for key, what in UNSUPPORTED.items():
            if style.get(key, "none") not in ("none", "normal", ""):
                self.note(what)
        if style["display"] == "none":
            return []
        outline = self.outline(element, name, style) if name in DRAWN else None
        box = None if outline is None else outline.bounds()
        about = None if box is None else (float(box[0]), float(box[1]), float(box[2] - box[0]), float(box[3] - box[1]))
        matrix = matrix @ self._transform(element, style, self.view, about)
        if name in DRAWN:
            nodes = self._shape(element, name, style, matrix, outline, box)
        elif name in ("g", "a"):
            nodes = self._children(element, style, matrix, uses)
        elif name == "switch":
            chosen = next((child for child in element if _local(child) and _meant(child)), None)
            nodes = [] if chosen is None else self._element(chosen, style, matrix, uses)
        elif name == "svg":
            nodes = self._inner(element, element, style, matrix, uses)
        elif name == "use":
            nodes = self._use(element, style, matrix, uses)
        else:
            self.note(f"“{name[:40]}” elements")
            return []
        return self._together(element, style, nodes, matrix)

    def _together(self, element: Element, style: Style, nodes: list[Node], matrix: Floats) -> list[Node]:
        """Nodes as a group where the element that holds them clips them or lets through what lies beneath; by its name
        where they have none.
        """
        if not nodes:
            return nodes
        if element is not self.root and (name := given_name(element)):
            nodes = [each if isinstance(each, Bitmap) or each.name else each.changed(name=name) for each in nodes]
        opacity = share(style["opacity"])
        if opacity < 1:
            nodes = [Group(opacity=opacity, nodes=tuple(nodes), name=_shared(nodes))]
        clip = self.clips.of(style, nodes, matrix)
        if clip is not None:
            outline, rule = clip
            even: Literal["evenodd", "nonzero"] = "evenodd" if rule == "evenodd" else "nonzero"
            nodes = [Group(clip=outline, clip_rule=even, nodes=tuple(nodes), name=_shared(nodes))]
        return nodes

    def _inner(self, element: Element, sized: Element, style: Style, matrix: Floats, uses: int) -> list[Node]:
        """An svg inside another, or a symbol that ``sized``, a use, shows: with its own view, cut off at its edge."""
        em = float(style["font-size"])

        def side(key: str, whole: float) -> float:
            told = sized.get(key) if sized.get(key) not in (None, "auto") else element.get(key)
            return length(style.get(key) or told, whole, whole, em)

        width, height = side("width", self.view[0]), side("height", self.view[1])
        if width <= 0 or height <= 0:
            return []
        if sized is element:
            x, y = (length(style.get(k) or element.get(k), 0.0, w, em) for k, w in zip("xy", self.view, strict=True))
            matrix = matrix @ moved(x, y)
        edge = Outline("MLLLZ", np.array([(0, 0), (width, 0), (width, height), (0, height)], float)).through(matrix)
        box = read_box(element.get("viewBox"))
        before = self.view
        self.view = (width, height) if box is None else (box[2], box[3])
        self.paints.view = self.view
        if box is not None:
            fit, _ = fitted(box, width, height, element.get("preserveAspectRatio", ""))
            matrix = matrix @ fit
        nodes = self._children(element, style, matrix, uses)
        self.view = self.paints.view = before
        if not nodes or style["overflow"] in ("visible", "auto"):
            return nodes
        reach = edge.bounds()
        if reach is None or _inside(Drawing(nodes=tuple(nodes)).bounds(), reach, 1e-6):
            return nodes
        return [Group(clip=edge.data(), nodes=tuple(nodes))]

    def _use(self, element: Element, style: Style, matrix: Floats, uses: int) -> list[Node]:
        target = self.ids.get(target_of(element))
        if target is None:
            self.note("a use of something that is not in the file")
            return []
        if uses >= 20:
            raise Refusal("This SVG uses parts of itself inside themselves without end. Flatten it and try again.")
        em = float(style["font-size"])
        x, y = (length(style.get(k) or element.get(k), 0.0, w, em) for k, w in zip("xy", self.view, strict=True))
        matrix = matrix @ moved(x, y)
        if _local(target) in ("symbol", "svg"):
            inner = self.styles.under(target, style)
            return self._together(target, inner, self._inner(target, element, inner, matrix, uses + 1), matrix)
        return self._element(target, style, matrix, uses + 1)

    def _shape(
        self, element: Element, name: str, style: Style, matrix: Floats, outline: Outline | None, box: Floats | None
    ) -> list[Node]:
        if style["visibility"].lower() != "visible" or outline is None or not outline.verbs:
            return []
        self.drawn += 1
        self.numbers += outline.points.size
        if self.numbers > limits.MAX_OUTLINE_NUMBERS:
            raise Refusal("The outlines of this SVG have too many points together. Simplify it and try again.")
        if self.drawn > limits.MAX_SVG_NODES:
            raise Refusal(f"This SVG draws more than {limits.MAX_SVG_NODES:,} parts once unfolded. Simplify it.")
        fill = None if name == "line" else self.paints.paint(style, "fill", box)
        stroke = self._stroke(element, style, box, outline)
        rule = "evenodd" if style["fill-rule"].lower() == "evenodd" else "nonzero"
        told = _six(matrix)
        coats: list[Node] = []
        still = stroke is not None and style["vector-effect"].lower() == "non-scaling-stroke"
        order = style["paint-order"].lower().split()
        first = "stroke" in order and (order.index("stroke") < order.index("fill") if "fill" in order else True)
        if stroke is None or not (still or first):
            coats = (
                [Shape(outline=outline.data(), rule=rule, fill=fill, stroke=stroke, matrix=told)]
                if fill or stroke
                else []
            )
        else:
            if fill is not None:
                coats.append(Shape(outline=outline.data(), rule=rule, fill=fill, matrix=told))
            # A pen that does not scale draws along the outline as it lies in the end.
            lies = outline.through(matrix) if still else outline
            pen = Shape(outline=lies.data(), rule=rule, stroke=stroke, matrix=(1, 0, 0, 1, 0, 0) if still else told)
            coats = [pen, *coats] if first else [*coats, pen]
        return coats

    def outline(self, element: Element, name: str, style: Style) -> Outline | None:
        """The outline of a drawn element in its own user units."""
        em = float(style["font-size"])
        if name != "path":
            given = {**element.attrib, **{key: style[key] for key in GEOMETRY if style.get(key)}}
            return basic_shape(name, given, self.view, em)
        data = element.get("d", "").strip()
        css = re.fullmatch(r"path\(\s*(['\"])(.*)\1\s*\)", style.get("d", ""), re.DOTALL)
        if css:
            data = css[2]
        if not data or data == "none":
            return None
        outline, whole = read_path(data)
        if not whole:
            self.note("a path that cannot be read to its end")
        if outline.points.size and np.abs(outline.points).max() > limits.MAX_NUMBER:
            raise Refusal("A path of this SVG reaches further than Deft Arc can draw.")
        return outline

    def _stroke(self, element: Element, style: Style, box: Floats | None, outline: Outline) -> Stroke | None:
        em = float(style["font-size"])
        diagonal = float(np.hypot(*self.view) / np.sqrt(2))
        width = length(style["stroke-width"], 1.0, diagonal, em)
        if width <= 0:
            return None
        paint: Paint | None = self.paints.paint(style, "stroke", box)
        if paint is None:
            return None
        dash = [length(part, 0.0, diagonal, em) for part in re.split(r"[\s,]+", style["stroke-dasharray"]) if part]
        # A length below nought makes the whole list none.
        if style["stroke-dasharray"].lower() == "none" or sum(dash) <= 0 or min(dash) < 0:
            dash = []
        offset = length(style["stroke-dashoffset"], 0.0, diagonal, em)
        told = length(element.get("pathLength"), 0.0)
        if dash and told > 0:
            # Dashes are measured in the length that the author says the path has.
            factor = length_of(outline) / told
            dash, offset = [part * factor for part in dash], offset * factor
        cap, join = style["stroke-linecap"].lower(), style["stroke-linejoin"].lower()
        if join in ("arcs", "miter-clip"):
            self.note(f"stroke joins of the kind {join}")
        dash = dash[:32]
        return Stroke(
            paint=paint,
            width=width,
            cap=cap if cap in ("round", "square") else "butt",
            join=join if join in ("round", "bevel") else "miter",
            miter_limit=min(1000.0, max(1.0, length(style["stroke-miterlimit"], 4.0))),
            dash=tuple(dash * 2 if len(dash) % 2 else dash),
            dash_offset=offset,
        )


def _meant(element: Element) -> bool:
    """Whether a switch takes an element: no extensions asked for, and English among its languages if any."""
    if element.get("requiredExtensions") or element.get("requiredFeatures") == "":
        return False
    told = element.get("systemLanguage")
    return told is None or any(each.strip().lower().split("-")[0] == "en" for each in told.split(","))


def _inside(bounds: tuple[float, float, float, float], reach: Floats, slack: float) -> bool:
    left, top, right, bottom = bounds
    return bool(
        left >= reach[0] - slack
        and top >= reach[1] - slack
        and right <= reach[2] + slack
        and bottom <= reach[3] + slack
    )


def _held(nodes: list[Node], width: float, height: float, style: Style) -> list[Node]:
    """What sticks out of the picture's frame by more than a pen's width is cut off there, as everywhere it is shown."""
    slack = 0.02 * max(width, height)
    reach = np.array([-width / 2, -height / 2, width / 2, height / 2])
    if style["overflow"] == "visible" or _inside(Drawing(nodes=tuple(nodes)).bounds(), reach, slack):
        return nodes
    x, y = width / 2, height / 2
    edge = Outline("MLLLZ", np.array([(-x, -y), (x, -y), (x, y), (-x, y)], float))
    return [Group(clip=edge.data(), nodes=tuple(nodes))]


def _six(matrix: Floats) -> Six:
    numbers = six(matrix)
    if not np.isfinite(numbers).all() or np.abs(numbers).max() > limits.MAX_NUMBER:
        raise Refusal("A transform of this SVG reaches further than Deft Arc can draw.")
    return tuple(round(float(n), 9) for n in numbers)  # type: ignore[return-value]
