"""One painter for stills and movies: drawings through a FrameTable's matrices, with Skia, without a screen."""

from collections.abc import Callable, Mapping

import numpy as np
import numpy.typing as npt
import skia

from deftarc.core.base.matrices import six
from deftarc.core.document.artwork import TextShaper
from deftarc.core.document.drawing import (
    Bitmap,
    Drawing,
    Group,
    LinearGradient,
    Node,
    Paint,
    RadialGradient,
    Shape,
    Solid,
    Stroke,
)
from deftarc.core.evaluate import Branch, FrameTable, Leaf, Scenes
from deftarc.core.evaluate import Group as Together
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.rounds import commands
from deftarc.paint.skia.effects import Space, filters_of, space_of

Pixels = npt.NDArray[np.uint8]
CAPS = {"butt": skia.Paint.kButt_Cap, "round": skia.Paint.kRound_Cap, "square": skia.Paint.kSquare_Cap}
JOINS = {"miter": skia.Paint.kMiter_Join, "round": skia.Paint.kRound_Join, "bevel": skia.Paint.kBevel_Join}
RULES = {"nonzero": skia.PathFillType.kWinding, "evenodd": skia.PathFillType.kEvenOdd}
#: W3C Compositing's modes as Skia has them.
BLEND_MODES: dict[str, skia.BlendMode] = {
    "normal": skia.BlendMode.kSrcOver, "multiply": skia.BlendMode.kMultiply, "screen": skia.BlendMode.kScreen,
    "overlay": skia.BlendMode.kOverlay, "darken": skia.BlendMode.kDarken, "lighten": skia.BlendMode.kLighten,
    "color-dodge": skia.BlendMode.kColorDodge, "color-burn": skia.BlendMode.kColorBurn,
    "hard-light": skia.BlendMode.kHardLight, "soft-light": skia.BlendMode.kSoftLight,
    "difference": skia.BlendMode.kDifference, "exclusion": skia.BlendMode.kExclusion, "hue": skia.BlendMode.kHue,
    "saturation": skia.BlendMode.kSaturation, "color": skia.BlendMode.kColor,
    "luminosity": skia.BlendMode.kLuminosity,
}  # fmt: skip
_ADD = {"M": skia.Path.moveTo, "L": skia.Path.lineTo, "C": skia.Path.cubicTo, "Z": skia.Path.close}
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
    """An outline that stays, with its arcs as arcs: as the page draws it too."""
    path = skia.Path()
    for letter, numbers in commands(Outline.parse(data)):
        if letter == "A":
            rx, ry, degrees, _, sweep, x, y = numbers
            way = skia.PathDirection.kCW if sweep else skia.PathDirection.kCCW
            path.arcTo(rx, ry, degrees, skia.Path.kSmall_ArcSize, way, x, y)
        else:
            _ADD[letter](path, *numbers)
    path.setFillType(RULES[rule])
    return path


def _traced(verbs: str, points: "npt.NDArray[np.float64]", rule: str) -> skia.Path:
    path = skia.Path()
    at = 0
    for verb in verbs:
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
    path.setFillType(RULES[rule])
    return path


def _flat(paint: LinearGradient | RadialGradient) -> str | None:
    """The one colour of a gradient that has one stop or no size, as SVG 2 has it; None where it is a gradient."""
    still = (paint.x1, paint.y1) == (paint.x2, paint.y2) if isinstance(paint, LinearGradient) else paint.r <= 0
    return paint.stops[-1].colour if still or len(paint.stops) == 1 else None


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
    colour = paint.colour if isinstance(paint, Solid) else _flat(paint)
    if colour is not None:
        made.setColor(colour4(colour))
    elif abs(np.linalg.det(np.reshape(paint.matrix[:4], (2, 2)))) < 1e-12:  # type: ignore[union-attr]
        made.setColor(0)
    else:
        made.setShader(_shader(paint))  # type: ignore[arg-type]
    return made


def _pen(stroke: Stroke) -> skia.Paint:
    pen = _paint(stroke.paint)
    pen.setStyle(skia.Paint.kStroke_Style)
    pen.setStrokeWidth(stroke.width)
    pen.setStrokeCap(CAPS[stroke.cap])
    pen.setStrokeJoin(JOINS[stroke.join])
    pen.setStrokeMiter(stroke.miter_limit)
    if stroke.dash:
        pen.setPathEffect(skia.DashPathEffect.Make(list(stroke.dash), stroke.dash_offset))
    return pen


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


#: Draws a prepared node at an opacity.
Draw = Callable[[skia.Canvas, float], None]


class SkiaPainter:
    """Paints frames of one scene. Outlines, paints and pictures are prepared once, by drawing.

    ``read_picture`` hands over a picture asset as (height, width, 4) RGBA; ``shape_text`` is for whoever evaluates
    the scene that is to be painted.
    """

    def __init__(
        self,
        drawings: Mapping[str, Drawing],
        read_picture: Callable[[str], Pixels],
        shape_text: TextShaper | None = None,
        scenes: Scenes | None = None,
    ) -> None:
        #: The scenes that may be shown within the one that is painted, for whoever evaluates that.
        self.scenes: Scenes = scenes or {}
        self.read_picture = read_picture
        self.shape_text = shape_text
        self.drawings = drawings
        self.pictures: dict[str, skia.Image] = {}
        #: Outlines that stay, of layers whose looks change.
        self.still: dict[str, skia.Path] = {}
        self.prepared = {layer: self._together(drawing.nodes, 1.0) for layer, drawing in drawings.items()}

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
        held = _path(node.clip, node.clip_rule)

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
        path = _path(node.outline, node.rule)
        paints = [paint for paint in (node.fill and _paint(node.fill), node.stroke and _pen(node.stroke)) if paint]
        alphas = [paint.getAlphaf() for paint in paints]
        matrix = _matrix(node.matrix)
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

    def _at(self, item: Leaf, row: int) -> Draw:
        """An item whose looks change, as it is in one row of its table."""
        nodes = self.drawings[item.layer].nodes
        if len(nodes) != 1 or not isinstance(nodes[0], Shape):
            return self.prepared[item.layer]
        node = nodes[0]

        def now(name: str) -> "npt.NDArray[np.float64] | None":
            rows = item.look.get(name)
            return None if rows is None else rows[min(row, len(rows) - 1)]

        fill, stroke = node.fill and _paint(node.fill), node.stroke and _pen(node.stroke)
        if fill and (colour := now("fill")) is not None:
            fill.setColor4f(skia.Color4f(*(float(x) for x in colour)))
        if stroke and node.stroke:
            if (colour := now("stroke")) is not None:
                stroke.setColor4f(skia.Color4f(*(float(x) for x in colour)))
            if (width := now("stroke_width")) is not None:
                stroke.setStrokeWidth(float(width[0]))
                stroke = stroke if width[0] > 0 else None
            if stroke and node.stroke.dash and (offset := now("dash_offset")) is not None:
                stroke.setPathEffect(skia.DashPathEffect.Make(list(node.stroke.dash), float(offset[0])))
        if item.outline is not None:
            verbs, points = item.outline
            path = _traced(verbs, points[min(row, len(points) - 1)], node.rule)
        else:
            if item.layer not in self.still:
                self.still[item.layer] = _path(node.outline, node.rule)
            path = self.still[item.layer]
        coats = [paint for paint in (fill, stroke) if paint]

        def draw(canvas: skia.Canvas, alpha: float) -> None:
            aside = len(coats) > 1 and alpha < 1
            if aside:
                canvas.saveLayerAlpha(None, round(alpha * 255))
            for paint in coats:
                if not aside:
                    paint.setAlphaf(paint.getAlphaf() * alpha)
                canvas.drawPath(path, paint)
            if aside:
                canvas.restore()

        return draw

    def paint(
        self, canvas: skia.Canvas, table: FrameTable, row: int, background: str | None, scale: tuple[float, float]
    ) -> None:
        """One row of a table onto a canvas, scaled from scene px to its pixels."""
        canvas.clear(colour4(background) if background else 0)
        canvas.save()
        canvas.scale(*scale)
        for branch in table.roots:
            self._branch(canvas, branch, row)
        canvas.restore()

    def paint_on(
        self, canvas: skia.Canvas, table: FrameTable, row: int, background: str | None, size: tuple[int, int]
    ) -> None:
        """The same onto a canvas in scene px that may have more on it, the background as large as the scene."""
        if background:
            canvas.drawRect(skia.Rect.MakeWH(*size), skia.Paint(Color=colour4(background)))
        for branch in table.roots:
            self._branch(canvas, branch, row)

    def _branch(self, canvas: skia.Canvas, branch: Branch, row: int) -> None:
        """A leaf or a group, its canvas in scene px."""
        if not branch.shows[0] <= row < branch.shows[1]:
            return
        opacity = float(branch.opacity[min(row, len(branch.opacity) - 1)])
        if opacity <= 0:
            return
        scene_px = canvas.getTotalMatrix()
        matrix = _matrix(tuple(six(branch.matrix[min(row, len(branch.matrix) - 1)])))
        own = skia.Matrix.Concat(scene_px, matrix)
        # Turned and treated in its own px it would be painted, and only then turned: soft where it should be sharp.
        space = space_of(own)
        treated = filters_of(branch.effects, row, space or Space()) if branch.effects and _has_size(matrix) else None
        group = isinstance(branch, Together)
        if isinstance(branch, Together) and branch.clip is not None and opacity >= 1 and treated is None:
            # Nothing of a scene that is shown has to be put together first: it is painted where it lies.
            group = branch.blend != "normal" or any(each.blend != "normal" for each in branch.children)
        aside = treated is not None or branch.blend != "normal" or (group and opacity < 1)
        canvas.save()
        canvas.setMatrix(skia.Matrix() if space else own)
        if aside or group:
            # Put together by itself, treated, and laid on as one; being isolated even where nothing else asks for it.
            laid = skia.Paint(Alphaf=opacity, BlendMode=BLEND_MODES[branch.blend])
            if treated is not None:
                laid.setImageFilter(treated)
            canvas.saveLayer(None, laid)
        if isinstance(branch, Together):
            if branch.clip is not None:
                canvas.setMatrix(own)
                canvas.clipRect(skia.Rect.MakeLTRB(*branch.clip), doAntiAlias=True)
            canvas.setMatrix(scene_px)
            for each in branch.children:
                self._branch(canvas, each, row)
        else:
            canvas.setMatrix(own)
            draw = self._at(branch, row) if branch.look or branch.outline else self.prepared[branch.layer]
            draw(canvas, 1.0 if aside else opacity)
        if aside or group:
            canvas.restore()
        canvas.restore()


def _has_size(matrix: skia.Matrix) -> bool:
    """Whether a matrix leaves anything of what it moves: what is scaled to nothing is not treated."""
    return bool(abs(matrix.getScaleX() * matrix.getScaleY() - matrix.getSkewX() * matrix.getSkewY()) > 1e-12)


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
