"""Drawings prepared for Skia once and drawn as often as frames ask; of layers whose looks change, as they are then."""

import math
from collections.abc import Callable, Mapping

import numpy as np
import numpy.typing as npt
import skia

from deftarc.core.base.arrays import Floats
from deftarc.core.document.drawing import (
    Bitmap,
    Drawing,
    Group,
    LinearGradient,
    Node,
    Paint,
    RadialGradient,
    Shape,
    Stop,
)
from deftarc.core.evaluate import Dots, Leaf, drawn_as
from deftarc.core.spaces.colour import hex_colour
from deftarc.core.spaces.drawn import drawn_part
from deftarc.core.spaces.outline import Outline
from deftarc.paint.skia.dots import draw_dots
from deftarc.paint.skia.paths import SAMPLING, matrix_of, paint_of, path_of, pen_of, traced

Pixels = npt.NDArray[np.uint8]


def _single_coat(node: Node) -> bool:
    return isinstance(node, Bitmap) or (isinstance(node, Shape) and (node.fill is None or node.stroke is None))


def _reach(nodes: tuple[Node, ...]) -> skia.Rect:
    """A box that holds everything the nodes paint, pens and their points included: a layer no larger than needed."""
    left, top, right, bottom = Drawing(nodes=nodes).bounds()
    out = 2.0 + max((_pen_reach(node) for node in nodes), default=0.0)
    return skia.Rect.MakeLTRB(left - out, top - out, right + out, bottom + out)


def _pen_reach(node: Node) -> float:
    if isinstance(node, Group):
        return max((_pen_reach(inner) for inner in node.nodes), default=0.0)
    if not isinstance(node, Shape) or node.stroke is None:
        return 0.0
    a, b, c, d = node.matrix[:4]
    widest = max(float(np.hypot(a, b)), float(np.hypot(c, d)))
    return node.stroke.width / 2 * max(1.5, node.stroke.miter_limit) * widest


def pen_reach(drawing: Drawing) -> float:
    """How far pens paint beyond a drawing's outlines, in its px."""
    return max((_pen_reach(node) for node in drawing.nodes), default=0.0)


#: Draws a prepared node at an opacity.
Draw = Callable[[skia.Canvas, float], None]


class Drawings:
    """The drawings of a scene's layers by the names their leaves have. ``read_picture`` hands over a picture asset as
    (height, width, 4) RGBA.
    """

    def __init__(self, drawings: Mapping[str, Drawing], read_picture: Callable[[str], Pixels]) -> None:
        self.read_picture = read_picture
        self.drawings = drawings
        self.pictures: dict[str, skia.Image] = {}
        #: Outlines that stay, of layers whose looks change, as Skia has them and as numbers.
        self.still: dict[str, skia.Path] = {}
        self.outlines: dict[str, Outline] = {}
        self.prepared = {layer: self._together(drawing.nodes, 1.0) for layer, drawing in drawings.items()}

    def draw(self, item: Leaf, row: int) -> Draw:
        """What draws a leaf as it is in one row of its table."""
        name = drawn_as(item.layer)
        if item.dots is not None:
            return self._dots(item.dots, name, row)
        nodes = self.drawings[name].nodes
        if not (item.look or item.outline) or len(nodes) != 1 or not isinstance(nodes[0], Shape):
            return self.prepared[name]
        return self._changing(item, name, nodes[0], row)

    def _dots(self, dots: Dots, name: str, row: int) -> Draw:
        shaped = None
        if dots.shaped is not None:
            # Of a scene that is shown within another, the layer is one of that.
            other = f"{name.rpartition('/')[0]}/{dots.shaped}" if "/" in name else dots.shaped
            if other in self.prepared and self.drawings[other].nodes:
                shaped = (self.prepared[other], self.drawings[other].bounds())
        return lambda canvas, alpha: draw_dots(canvas, dots, row, alpha, shaped)

    def reach(self, name: str) -> float:
        """How far a drawing's furthest corner is from its origin."""
        drawing = self.drawings.get(name)
        if drawing is None:
            return 0.0
        left, top, right, bottom = map(abs, drawing.bounds())
        return math.hypot(max(left, right), max(top, bottom))

    def box(self, item: Leaf, row: int) -> tuple[float, float, float, float]:
        """Left, top, right and bottom of all that a leaf paints in a row, in its px, pens included."""
        if item.dots is not None:
            return item.dots.bounds(row)
        drawing = self.drawings[drawn_as(item.layer)]
        bounds = _now(item, "bounds", row)
        left, top, right, bottom = drawing.bounds() if bounds is None else (float(x) for x in bounds)
        width = _now(item, "stroke_width", row)
        out = pen_reach(drawing) if width is None else float(width[0]) / 2
        return left - out, top - out, right + out, bottom + out

    def _together(self, nodes: tuple[Node, ...], opacity: float) -> Draw:
        """Nodes under one opacity: painted aside and laid on as one, unless there is a single coat of paint."""
        drawn = [self._prepare(node) for node in nodes]
        if len(nodes) == 1 and _single_coat(nodes[0]):
            return lambda canvas, alpha: drawn[0](canvas, alpha * opacity)
        reach = _reach(nodes)

        def draw(canvas: skia.Canvas, alpha: float) -> None:
            whole = alpha * opacity
            if whole < 1:
                canvas.saveLayerAlpha(reach, round(whole * 255))
            for each in drawn:
                each(canvas, 1.0)
            if whole < 1:
                canvas.restore()

        return draw

    def _prepare(self, node: Node) -> Draw:
        if isinstance(node, Group):
            return self._clipped(node, self._together(node.nodes, node.opacity))
        if isinstance(node, Bitmap):
            return self._bitmap(node)
        return self._shape(node)

    @staticmethod
    def _clipped(node: Group, inside: Draw) -> Draw:
        if node.clip is None:
            return inside
        held = path_of(node.clip, node.clip_rule)

        def draw(canvas: skia.Canvas, alpha: float) -> None:
            canvas.save()
            canvas.clipPath(held, True)
            inside(canvas, alpha)
            canvas.restore()

        return draw

    def _bitmap(self, node: Bitmap) -> Draw:
        if node.asset not in self.pictures:
            pixels = np.ascontiguousarray(self.read_picture(node.asset))
            self.pictures[node.asset] = skia.Image.fromarray(
                pixels, skia.ColorType.kRGBA_8888_ColorType
            ).withDefaultMipmaps()
        picture = self.pictures[node.asset]
        target = skia.Rect.MakeXYWH(node.x, node.y, node.width, node.height)
        paint = skia.Paint(AntiAlias=True)

        def draw(canvas: skia.Canvas, alpha: float) -> None:
            paint.setAlphaf(alpha)
            canvas.drawImageRect(picture, target, SAMPLING, paint)

        return draw

    @staticmethod
    def _shape(node: Shape) -> Draw:
        path = path_of(node.outline, node.rule)
        paints = [paint for paint in (node.fill and paint_of(node.fill), node.stroke and pen_of(node.stroke)) if paint]
        alphas = [paint.getAlphaf() for paint in paints]
        matrix = matrix_of(node.matrix)
        plain = node.matrix == (1, 0, 0, 1, 0, 0)

        def draw(canvas: skia.Canvas, alpha: float) -> None:
            if not plain:
                canvas.save()
                canvas.concat(matrix)
            for paint, own in zip(paints, alphas, strict=True):
                paint.setAlphaf(own * alpha)
                canvas.drawPath(path, paint)
            if not plain:
                canvas.restore()

        return draw

    def _changing(self, item: Leaf, name: str, node: Shape, row: int) -> Draw:
        """A shape with the looks it has in a row."""
        fill, stroke = node.fill and _paint_at(node.fill, item, "fill", row), None
        filled = _now(item, "filled", row)
        if fill and filled is not None:
            fill.setAlphaf(fill.getAlphaf() * float(filled[0]))
        if node.stroke is not None:
            width, offset, dash = (_now(item, each, row) for each in ("stroke_width", "dash_offset", "dash"))
            told = node.stroke.changed(
                width=node.stroke.width if width is None else max(float(width[0]), 0.0),
                dash=node.stroke.dash if dash is None else tuple(float(x) for x in dash),
                dash_offset=node.stroke.dash_offset if offset is None else float(offset[0]),
            )
            if told.width > 0:
                stroke = pen_of(told, _paint_at(node.stroke.paint, item, "stroke", row))
        outline = item.outline.at(row) if item.outline is not None else None
        if outline is not None:
            path = traced(outline, node.rule)
        else:
            if name not in self.still:
                self.still[name] = path_of(node.outline, node.rule)
            path = self.still[name]
        line = path
        cuts = _now(item, "drawn", row)
        if cuts is not None:
            if outline is None:
                outline = self.outlines.setdefault(name, Outline.parse(node.outline))
            line = traced(drawn_part(outline, cuts.reshape(-1, 2)), "nonzero")
        coats = [(each, way) for each, way in ((fill, path), (stroke, line)) if each]

        def draw(canvas: skia.Canvas, alpha: float) -> None:
            aside = len(coats) > 1 and alpha < 1
            if aside:
                canvas.saveLayerAlpha(None, round(alpha * 255))
            for paint, way in coats:
                if not aside:
                    paint.setAlphaf(paint.getAlphaf() * alpha)
                canvas.drawPath(way, paint)
            if aside:
                canvas.restore()

        return draw


def _now(item: Leaf, name: str, row: int) -> Floats | None:
    """What of a leaf's looks is so in a row; None where that does not change."""
    rows = item.look.get(name)
    return None if rows is None else rows[min(row, len(rows) - 1)]


def _paint_at(paint: Paint, item: Leaf, of: str, row: int) -> skia.Paint:
    """A fill's or a stroke's paint in a row."""
    ends, stops, colour = (_now(item, f"{of}{part}", row) for part in ("_ends", "_stops", ""))
    if ends is not None and stops is not None and isinstance(paint, LinearGradient | RadialGradient):
        return paint_of(gradient_at(paint, ends, stops))
    made = paint_of(paint)
    if colour is not None and not isinstance(paint, LinearGradient | RadialGradient):
        made.setColor4f(skia.Color4f(*(float(x) for x in colour)))
    return made


def gradient_at(paint: LinearGradient | RadialGradient, ends: Floats, stops: Floats) -> LinearGradient | RadialGradient:
    """A gradient with the ends (4,) and stops (5 · n,) it has at a moment."""
    x1, y1, x2, y2 = (float(x) for x in ends)
    rows = stops.reshape(-1, 5)
    told = tuple(Stop(offset=min(1.0, float(row[0])), colour=hex_colour(row[1:])) for row in rows)
    if isinstance(paint, LinearGradient):
        return paint.changed(x1=x1, y1=y1, x2=x2, y2=y2, stops=told)
    return paint.changed(cx=x1, cy=y1, fx=x1, fy=y1, r=float(np.hypot(x2 - x1, y2 - y1)), stops=told)


__all__ = ["Draw", "Drawings", "Pixels", "gradient_at", "pen_reach"]
