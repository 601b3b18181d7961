"""Clip paths and simple masks as outlines: what they hold is put together by Skia's path operations."""

import re
from collections.abc import Iterable
from typing import TYPE_CHECKING
from xml.etree.ElementTree import Element

import numpy as np
import skia

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import from_six
from deftarc.core.document.drawing import Group, Node, Shape, Solid
from deftarc.core.spaces.colour import parse_colour
from deftarc.core.spaces.outline import Outline
from deftarc.formats.read.svg.counts import target_of
from deftarc.formats.read.svg.paint import share
from deftarc.formats.read.svg.place import moved, own_transform, scaled
from deftarc.formats.read.svg.shapes import length
from deftarc.formats.read.svg.style import Style

if TYPE_CHECKING:
    from deftarc.formats.read.svg.reader import _Reader

_URL = re.compile(r"^url\(\s*['\"]?#([^'\")]+)['\"]?\s*\)$", re.IGNORECASE)
DRAWN = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}


def _path(outline: Outline, rule: str) -> skia.Path:
    path = skia.Path()
    at = 0
    for verb in outline.verbs:
        if verb == "Z":
            path.close()
            continue
        count = 3 if verb == "C" else 1
        spots = [float(n) for n in outline.points[at : at + count].reshape(-1)]
        at += count
        {"M": path.moveTo, "L": path.lineTo, "C": path.cubicTo}[verb](*spots)
    path.setFillType(skia.PathFillType.kEvenOdd if rule == "evenodd" else skia.PathFillType.kWinding)
    return path


class Region:
    """A part of the plane, put together from outlines."""

    def __init__(self, outline: Outline | None = None, rule: str = "nonzero") -> None:
        self.path = skia.Path() if outline is None else _path(outline, rule)

    def _with(self, other: "Region", how: skia.PathOp) -> "Region":
        made = Region()
        found = skia.Op(self.path, other.path, how)
        made.path = skia.Path() if found is None else found
        return made

    def joined(self, other: "Region") -> "Region":
        return self._with(other, skia.PathOp.kUnion_PathOp)

    def within(self, other: "Region") -> "Region":
        return self._with(other, skia.PathOp.kIntersect_PathOp)

    def without(self, other: "Region") -> "Region":
        return self._with(other, skia.PathOp.kDifference_PathOp)

    def outline(self) -> tuple[str, str]:
        """Its outline as path data, and the rule it is filled by."""
        verbs: list[str] = []
        points: list[tuple[float, float]] = []
        here = (0.0, 0.0)
        for verb, spots in self.path:
            row = [(float(p.x()), float(p.y())) for p in spots]
            if verb == skia.Path.Verb.kMove_Verb:
                verbs.append("M")
                points.append(row[0])
            elif verb == skia.Path.Verb.kLine_Verb:
                verbs.append("L")
                points.append(row[-1])
            elif verb == skia.Path.Verb.kQuad_Verb:
                verbs.append("C")
                points += [_third(row[0], row[1]), _third(row[2], row[1]), row[2]]
            elif verb == skia.Path.Verb.kCubic_Verb:
                verbs.append("C")
                points += row[1:4]
            elif verb == skia.Path.Verb.kClose_Verb:
                verbs.append("Z")
            here = row[-1] if row else here
        even = self.path.getFillType() in (skia.PathFillType.kEvenOdd, skia.PathFillType.kInverseEvenOdd)
        rows: Floats = np.array(points, float).reshape(-1, 2)
        return Outline("".join(verbs), rows).data(), "evenodd" if even else "nonzero"


def _third(end: tuple[float, float], control: tuple[float, float]) -> tuple[float, float]:
    return end[0] + (control[0] - end[0]) * 2 / 3, end[1] + (control[1] - end[1]) * 2 / 3


def length_of(outline: Outline) -> float:
    """How long an outline is, all its contours together."""
    measure = skia.PathMeasure(_path(outline, "nonzero"), False)
    total = float(measure.getLength())
    while measure.nextContour():
        total += float(measure.getLength())
    return total


def _box_in(nodes: Iterable[Node], home: Floats) -> Floats | None:
    """The box around the outlines of nodes in the space that ``home`` brings them to; None where there are none."""
    boxes: list[Floats] = []
    for node in nodes:
        if isinstance(node, Group):
            found = _box_in(node.nodes, home)
        elif isinstance(node, Shape):
            lies = np.asarray(home @ from_six(np.array(node.matrix)), np.float64)
            found = Outline.parse(node.outline).through(lies).bounds()
        else:
            found = None
        if found is not None:
            boxes.append(found)
    if not boxes:
        return None
    every = np.array(boxes)
    return np.concatenate([every[:, :2].min(axis=0), every[:, 2:].max(axis=0)])


def _name(element: Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


class Clips:
    """The clip paths and masks of a file, resolved for what they are set on."""

    def __init__(self, reader: "_Reader") -> None:
        self.reader = reader
        self._parts = 0

    def _another(self, outline: Outline | None = None) -> None:
        """Counts what is put together: each part costs more the more there are, and the more points it has."""
        self._parts += 1 if outline is None else len(outline.points) // 10
        if self._parts > limits.MAX_SVG_CLIPPINGS:
            raise Refusal("This SVG cuts too many parts by clip paths of too many parts. Simplify it and try again.")

    def of(self, style: Style, nodes: list[Node], matrix: Floats) -> tuple[str, str] | None:
        """The outline in the drawing's px that clip and mask leave of some nodes, and its rule; None for no limit."""
        region: Region | None = None
        for key, resolve, what in (("clip-path", self._clip, "clipping paths"), ("mask", self._mask, "masks")):
            told = style.get(key, "none").strip()
            if told.lower() in ("none", ""):
                continue
            found = _URL.match(told)
            target = self.reader.ids.get(found[1]) if found else None
            if target is None or _name(target) != {"clip-path": "clipPath", "mask": "mask"}[key]:
                if found is None:
                    self.reader.note(what)
                continue
            made = resolve(target, nodes, matrix, 0)
            if made is None:
                self.reader.note(what)
                continue
            region = made if region is None else region.within(made)
        return None if region is None else region.outline()

    def _units(self, element: Element, key: str, default: str, nodes: list[Node], matrix: Floats) -> Floats | None:
        """The matrix of an element's contents; None where they are measured by a box that has no size."""
        if element.get(key, default) != "objectBoundingBox":
            return matrix
        try:
            home = np.linalg.inv(matrix)
        except np.linalg.LinAlgError:
            return None
        box = _box_in(nodes, np.asarray(home, np.float64))
        if box is None or box[2] <= box[0] or box[3] <= box[1]:
            return None
        return np.asarray(
            matrix @ moved(float(box[0]), float(box[1])) @ scaled(float(box[2] - box[0]), float(box[3] - box[1]))
        )

    def _clip(self, element: Element, nodes: list[Node], matrix: Floats, depth: int) -> Region | None:
        if depth > 8:
            return None
        style = self.reader.styles.of(element)
        inside = self._units(element, "clipPathUnits", "userSpaceOnUse", nodes, matrix)
        if inside is None:
            return Region()
        inside = np.asarray(inside @ self._transform(style))
        region = Region()
        for child in element:
            made = self._held(child, style, inside, nodes, depth)
            if made is not None:
                region = region.joined(made)
        return self._also(style, region, nodes, matrix, depth)

    def _also(self, style: Style, region: "Region", nodes: list[Node], matrix: Floats, depth: int) -> "Region":
        """A region further held by the clip path that is set on its own element."""
        found = _URL.match(style.get("clip-path", "none").strip())
        target = self.reader.ids.get(found[1]) if found else None
        if target is None or _name(target) != "clipPath":
            return region
        made = self._clip(target, nodes, matrix, depth + 1)
        return region if made is None else region.within(made)

    def _transform(self, style: Style) -> Floats:
        try:
            return own_transform(style, self.reader.view, None, float(style["font-size"]))
        except ValueError:
            self.reader.note("a transform that cannot be read")
            return np.eye(3)

    def _held(self, child: Element, above: Style, matrix: Floats, nodes: list[Node], depth: int) -> "Region | None":
        """What one child of a clip path leaves; None where that is nothing."""
        self._another()
        name = _name(child)
        style = self.reader.style_under(child, above)
        if style["display"] == "none" or style["visibility"].lower() != "visible":
            return None
        matrix = np.asarray(matrix @ self._transform(style))
        if name == "use" and depth < 8:
            target = self.reader.ids.get(target_of(child))
            if target is None:
                return None
            shift = moved(length(child.get("x"), 0.0), length(child.get("y"), 0.0))
            made = self._held(target, style, matrix @ shift, nodes, depth + 1)
            return None if made is None else self._also(style, made, nodes, matrix, depth)
        if name not in DRAWN:
            if name in ("text", "tspan"):
                self.reader.note("text in clipping paths")
            return None
        outline = self.reader.outline(child, name, style)
        if outline is None or not outline.verbs:
            return None
        self._another(outline)
        made = Region(outline.through(np.asarray(matrix, np.float64)), style["clip-rule"].lower())
        return self._also(style, made, nodes, matrix, depth)

    def _mask(self, element: Element, nodes: list[Node], matrix: Floats, depth: int) -> "Region | None":
        """A mask of opaque white and black shapes as an outline; None for any other."""
        inside = self._units(element, "maskContentUnits", "userSpaceOnUse", nodes, matrix)
        if inside is None:
            return Region()
        alpha = "alpha" in (element.get("mask-type") or "") or "mask-type:alpha" in element.get("style", "").replace(
            " ", ""
        )
        region = Region()
        style = self.reader.styles.of(element)
        rows = [(child, style, inside) for child in element]
        while rows:
            self._another()
            child, above, at = rows.pop(0)
            name = _name(child)
            own = self.reader.style_under(child, above)
            if own["display"] == "none" or not name or name in ("title", "desc", "defs"):
                continue
            at = at @ self._transform(own)
            if name == "g" and share(own["opacity"]) >= 1:
                rows = [(inner, own, at) for inner in child] + rows
                continue
            if name == "use":
                target = self.reader.ids.get(target_of(child))
                if target is None or depth > 50:
                    return None
                depth += 1
                rows.insert(0, (target, own, at @ moved(length(child.get("x"), 0.0), length(child.get("y"), 0.0))))
                continue
            if name not in DRAWN or share(own["opacity"]) < 1 or own.get("filter", "none") != "none":
                return None
            if own["visibility"].lower() != "visible":
                continue
            outline = self.reader.outline(child, name, own)
            if outline is None or not outline.verbs:
                continue
            self._another(outline)
            fill = self.reader.paints.paint(own, "fill", outline.bounds())
            stroke = self.reader.paints.paint(own, "stroke", outline.bounds())
            if stroke is not None and length(own["stroke-width"], 1.0) > 0:
                return None
            if fill is None:
                continue
            if not isinstance(fill, Solid):
                return None
            red, green, blue, opaque = parse_colour(fill.colour)
            light = opaque if alpha else opaque * (0.2126 * red + 0.7152 * green + 0.0722 * blue)
            made = self._also(own, Region(outline.through(at), own["fill-rule"].lower()), nodes, at, depth)
            if light > 0.996:
                region = region.joined(made)
            elif light < 0.004:
                region = region.without(made)
            else:
                return None
        return region
