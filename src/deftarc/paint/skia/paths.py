"""Skia's paths and paints of drawings: outlines, gradients, pens."""

import numpy as np
import skia

from deftarc.core.document.drawing import LinearGradient, Paint, RadialGradient, Solid, Stroke
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.rounds import commands

CAPS = {"butt": skia.Paint.kButt_Cap, "round": skia.Paint.kRound_Cap, "square": skia.Paint.kSquare_Cap}
JOINS = {"miter": skia.Paint.kMiter_Join, "round": skia.Paint.kRound_Join, "bevel": skia.Paint.kBevel_Join}
RULES = {"nonzero": skia.PathFillType.kWinding, "evenodd": skia.PathFillType.kEvenOdd}
_ADD = {"M": skia.Path.moveTo, "L": skia.Path.lineTo, "C": skia.Path.cubicTo, "Z": skia.Path.close}
SAMPLING = skia.SamplingOptions(skia.FilterMode.kLinear, skia.MipmapMode.kLinear)


def colour4(colour: str) -> int:
    """#rrggbb or #rrggbbaa as Skia's ARGB number."""
    red, green, blue = (int(colour[i : i + 2], 16) for i in (1, 3, 5))
    alpha = int(colour[7:9], 16) if len(colour) == 9 else 255
    return int(skia.ColorSetARGB(alpha, red, green, blue))


def matrix_of(numbers: tuple[float, ...]) -> skia.Matrix:
    """Six numbers as Skia's matrix."""
    a, b, c, d, e, f = (float(n) for n in numbers)
    return skia.Matrix.MakeAll(a, c, e, b, d, f, 0, 0, 1)


def path_of(data: str, rule: str) -> skia.Path:
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


def traced(outline: Outline, rule: str) -> skia.Path:
    """An outline as it is at one moment."""
    verbs, points = outline.verbs, outline.points
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
    matrix = matrix_of(paint.matrix)
    if isinstance(paint, LinearGradient):
        ends = [skia.Point(paint.x1, paint.y1), skia.Point(paint.x2, paint.y2)]
        return skia.GradientShader.MakeLinear(ends, colours, offsets, skia.TileMode.kClamp, 0, matrix)
    return skia.GradientShader.MakeTwoPointConical(
        skia.Point(paint.fx, paint.fy), paint.fr, skia.Point(paint.cx, paint.cy), paint.r,
        colours, offsets, skia.TileMode.kClamp, 0, matrix,
    )  # fmt: skip


def paint_of(paint: Paint) -> skia.Paint:
    """What fills with a colour or a gradient."""
    made = skia.Paint(AntiAlias=True)
    colour = paint.colour if isinstance(paint, Solid) else _flat(paint)
    if colour is not None:
        made.setColor(colour4(colour))
    elif abs(np.linalg.det(np.reshape(paint.matrix[:4], (2, 2)))) < 1e-12:  # type: ignore[union-attr]
        made.setColor(0)
    else:
        made.setShader(_shader(paint))  # type: ignore[arg-type]
    return made


def pen_of(stroke: Stroke, pen: skia.Paint | None = None) -> skia.Paint:
    """What strokes with a pen; its paint is the one that is given, where there is one."""
    pen = paint_of(stroke.paint) if pen is None else pen
    pen.setStyle(skia.Paint.kStroke_Style)
    pen.setStrokeWidth(stroke.width)
    pen.setStrokeCap(CAPS[stroke.cap])
    pen.setStrokeJoin(JOINS[stroke.join])
    pen.setStrokeMiter(stroke.miter_limit)
    if stroke.dash:
        pen.setPathEffect(skia.DashPathEffect.Make(list(stroke.dash), stroke.dash_offset))
    return pen
