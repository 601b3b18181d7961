"""One painter for stills and movies: drawings through a FrameTable's matrices, with Skia, without a screen."""

from collections.abc import Callable, Mapping

import numpy as np
import numpy.typing as npt
import skia

from deftarc.core.drawing import Bitmap, Drawing, Group, LinearGradient, Node, Paint, RadialGradient, Shape, Solid
from deftarc.core.evaluate import FrameTable
from deftarc.core.geometry import six
from deftarc.core.outline import Outline

Pixels = npt.NDArray[np.uint8]
CAPS = {"butt": skia.Paint.kButt_Cap, "round": skia.Paint.kRound_Cap, "square": skia.Paint.kSquare_Cap}
JOINS = {"miter": skia.Paint.kMiter_Join, "round": skia.Paint.kRound_Join, "bevel": skia.Paint.kBevel_Join}
SAMPLING = skia.SamplingOptions(skia.FilterMode.kLinear, skia.MipmapMode.kLinear)


def colour4(colour: str) -> int:
    """#rrggbb or #rrggbbaa as Skia's ARGB number."""
    red, green, blue = (int(colour[i : i + 2], 16) for i in (1, 3, 5))
    alpha = int(colour[7:9], 16) if len(colour) == 9 else 255
    return int(skia.ColorSetARGB(alpha, red, green, blue))


def _matrix(numbers: tuple[float, ...]) -> skia.Matrix:
    a, b, c, d, e, f = (float(n) for n in numbers)
    return skia.Matrix.MakeAll(a, c, e, b, d, f, 0, 0, 1)


def _path(data: str, rule: str) -> skia.Path:
    outline = Outline.parse(data)
    kind = skia.PathFillType.kEvenOdd if rule == "evenodd" else skia.PathFillType.kWinding
    path = skia.Path()
    at = 0
    points = outline.points
    for verb in outline.verbs:
        if verb == "M":
            path.moveTo(*points[at])
            at += 1
        elif verb == "L":
            path.lineTo(*points[at])
            at += 1
        elif verb == "C":
            path.cubicTo(*points[at], *points[at + 1], *points[at + 2])
            at += 3
        else:
            path.close()
    path.setFillType(kind)
    return path


def _shader(paint: LinearGradient | RadialGradient) -> skia.Shader:
    colours = [colour4(stop.colour) for stop in paint.stops]
    offsets = [stop.offset for stop in paint.stops]
    matrix = _matrix(paint.matrix)
    if isinstance(paint, LinearGradient):
        ends = [skia.Point(paint.x1, paint.y1), skia.Point(paint.x2, paint.y2)]
        return skia.GradientShader.MakeLinear(ends, colours, offsets, skia.TileMode.kClamp, 0, matrix)
    return skia.GradientShader.MakeTwoPointConical(
        skia.Point(paint.fx, paint.fy), paint.fr, skia.Point(paint.cx, paint.cy), paint.r,
        colours, offsets, skia.TileMode.kClamp, 0, matrix,
    )  # fmt: skip


def _paint(paint: Paint) -> skia.Paint:
    made = skia.Paint(AntiAlias=True)
    if isinstance(paint, Solid):
        made.setColor(colour4(paint.colour))
    else:
        made.setShader(_shader(paint))
    return made


class SkiaPainter:
    """Paints frames of one scene. Outlines, paints and pictures are prepared once, by drawing.

    ``read_picture`` hands over a picture asset as (height, width, 4) RGBA.
    """

    def __init__(self, drawings: Mapping[str, Drawing], read_picture: Callable[[str], Pixels]) -> None:
        self.read_picture = read_picture
        self.pictures: dict[str, skia.Image] = {}
        self.prepared = {layer: [self._prepare(node) for node in made.nodes] for layer, made in drawings.items()}

    def _prepare(self, node: Node) -> Callable[[skia.Canvas], None]:
        if isinstance(node, Group):
            return self._group([self._prepare(inner) for inner in node.nodes], node.opacity)
        if isinstance(node, Bitmap):
            return self._bitmap(node)
        return self._shape(node)

    @staticmethod
    def _group(inner: list[Callable[[skia.Canvas], None]], opacity: float) -> Callable[[skia.Canvas], None]:
        def draw(canvas: skia.Canvas) -> None:
            canvas.saveLayerAlpha(None, round(opacity * 255))
            for each in inner:
                each(canvas)
            canvas.restore()

        return draw

    def _bitmap(self, node: Bitmap) -> Callable[[skia.Canvas], None]:
        if node.asset not in self.pictures:
            pixels = np.ascontiguousarray(self.read_picture(node.asset))
            self.pictures[node.asset] = skia.Image.fromarray(
                pixels, skia.ColorType.kRGBA_8888_ColorType
            ).withDefaultMipmaps()
        picture = self.pictures[node.asset]
        target = skia.Rect.MakeXYWH(node.x, node.y, node.width, node.height)
        paint = skia.Paint(AntiAlias=True)
        return lambda canvas: canvas.drawImageRect(picture, target, SAMPLING, paint)

    @staticmethod
    def _shape(node: Shape) -> Callable[[skia.Canvas], None]:
        path = _path(node.outline, node.rule)
        paints: list[skia.Paint] = []
        if node.fill is not None:
            paints.append(_paint(node.fill))
        if node.stroke is not None:
            pen = _paint(node.stroke.paint)
            pen.setStyle(skia.Paint.kStroke_Style)
            pen.setStrokeWidth(node.stroke.width)
            pen.setStrokeCap(CAPS[node.stroke.cap])
            pen.setStrokeJoin(JOINS[node.stroke.join])
            pen.setStrokeMiter(node.stroke.miter_limit)
            if node.stroke.dash:
                pen.setPathEffect(skia.DashPathEffect.Make(list(node.stroke.dash), node.stroke.dash_offset))
            paints.append(pen)
        matrix = _matrix(node.matrix)
        plain = node.matrix == (1, 0, 0, 1, 0, 0)

        def draw(canvas: skia.Canvas) -> None:
            if not plain:
                canvas.save()
                canvas.concat(matrix)
            for each in paints:
                canvas.drawPath(path, each)
            if not plain:
                canvas.restore()

        return draw

    def paint(
        self, canvas: skia.Canvas, table: FrameTable, row: int, background: str | None, scale: tuple[float, float]
    ) -> None:
        """One row of a table onto a canvas, scaled from scene px to its pixels."""
        canvas.clear(colour4(background) if background else 0)
        canvas.save()
        canvas.scale(*scale)
        for item in table.items:
            if not item.shows[0] <= row < item.shows[1]:
                continue
            opacity = float(item.opacity[min(row, len(item.opacity) - 1)])
            nodes = self.prepared[item.layer]
            if opacity <= 0 or not nodes:
                continue
            canvas.save()
            canvas.concat(_matrix(tuple(six(item.matrix[min(row, len(item.matrix) - 1)]))))
            if opacity < 1:
                canvas.saveLayerAlpha(None, round(opacity * 255))
            for node in nodes:
                node(canvas)
            canvas.restoreToCount(1 + 1)
        canvas.restore()


def blank(width: int, height: int) -> tuple[Pixels, skia.Surface]:
    """A pixel array (height, width, 4) RGBA, premultiplied, and a surface that paints straight into it."""
    pixels = np.zeros((height, width, 4), np.uint8)
    surface = skia.Surface(
        pixels, colorType=skia.ColorType.kRGBA_8888_ColorType, alphaType=skia.AlphaType.kPremul_AlphaType
    )
    return pixels, surface


def unpremultiplied(pixels: Pixels) -> Pixels:
    """Straight alpha, as PNG keeps it, from premultiplied RGBA."""
    alpha = pixels[..., 3:].astype(np.uint16)
    colour = np.where(alpha > 0, (pixels[..., :3].astype(np.uint16) * 255 + alpha // 2) // np.maximum(alpha, 1), 0)
    return np.concatenate([np.minimum(colour, 255).astype(np.uint8), pixels[..., 3:]], axis=-1)
