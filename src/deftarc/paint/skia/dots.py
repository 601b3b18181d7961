"""Rings and particles with Skia."""

import math
from collections.abc import Callable

import skia

from deftarc.core.base.arrays import Floats
from deftarc.core.evaluate import Dots

#: Stops by which a ring's soft edges are told, and how many standard deviations out these go.
STOPS, OUT = 13, 3.0
#: Draws a prepared drawing at an opacity, and its box.
Shaped = tuple[Callable[[skia.Canvas, float], None], tuple[float, float, float, float]]


def draw_dots(canvas: skia.Canvas, dots: Dots, row: int, alpha: float, shaped: Shaped | None) -> None:
    """All of a row, as one where they are seen through together."""
    rows = dots.at(row)
    if not len(rows):
        return
    if alpha < 1:
        canvas.saveLayerAlpha(None, round(alpha * 255))
    if dots.kind == "rings":
        for each in rows:
            _ring(canvas, each)
    elif shaped is not None:
        _drawings(canvas, rows, shaped)
    else:
        _discs(canvas, rows, dots.sides)
    if alpha < 1:
        canvas.restore()


def _discs(canvas: skia.Canvas, rows: Floats, sides: int) -> None:
    paint = skia.Paint(AntiAlias=True)
    unit = polygon(sides) if sides > 2 else None
    for x, y, size, turn, _, r, g, b, a in rows.tolist():
        if size <= 0 or a <= 0:
            continue
        paint.setColor4f(skia.Color4f(r, g, b, a))
        if unit is None:
            canvas.drawCircle(x, y, size / 2, paint)
            continue
        canvas.save()
        canvas.translate(x, y)
        canvas.rotate(turn)
        canvas.scale(size / 2, size / 2)
        canvas.drawPath(unit, paint)
        canvas.restore()


def polygon(sides: int) -> skia.Path:
    """A regular polygon in the unit circle, a corner straight up."""
    path = skia.Path()
    spots = [(math.sin(2 * math.pi * k / sides), -math.cos(2 * math.pi * k / sides)) for k in range(sides)]
    path.moveTo(*spots[0])
    for spot in spots[1:]:
        path.lineTo(*spot)
    path.close()
    return path


def _drawings(canvas: skia.Canvas, rows: Floats, shaped: Shaped) -> None:
    draw, (left, top, right, bottom) = shaped
    side = max(right - left, bottom - top)
    if side <= 0:
        return
    for x, y, size, turn, _, _, _, _, a in rows.tolist():
        if size <= 0 or a <= 0:
            continue
        canvas.save()
        canvas.translate(x, y)
        canvas.rotate(turn)
        canvas.scale(size / side, size / side)
        canvas.translate(-(left + right) / 2, -(top + bottom) / 2)
        draw(canvas, a)
        canvas.restore()


def _ring(canvas: skia.Canvas, row: Floats) -> None:
    x, y, radius, width, soft, r, g, b, a = (float(n) for n in row)
    if a <= 0 or width <= 0:
        return
    inner, outer = radius - width / 2, radius + width / 2
    paint = skia.Paint(AntiAlias=True)
    if soft <= 0:
        paint.setColor4f(skia.Color4f(r, g, b, a))
        paint.setStyle(skia.Paint.kStroke_Style)
        paint.setStrokeWidth(width)
        canvas.drawCircle(x, y, radius, paint)
        return
    stops = ring_stops(inner, outer, soft)
    far = stops[-1][0]
    colours = [skia.Color4f(r, g, b, a * part).toColor() for _, part in stops]
    paint.setShader(skia.GradientShader.MakeRadial(skia.Point(x, y), far, colours, [at / far for at, _ in stops]))
    canvas.drawCircle(x, y, far, paint)


def ring_stops(inner: float, outer: float, soft: float) -> list[tuple[float, float]]:
    """How much of a ring's colour there is at distances from its middle: as a straight band softened by a Gaussian."""

    def much(at: float) -> float:
        return 0.5 * (math.erf((at - inner) / (soft * math.sqrt(2))) - math.erf((at - outer) / (soft * math.sqrt(2))))

    spots = {0.0}
    for edge in (inner, outer):
        spots |= {edge + soft * OUT * (2 * k / (STOPS - 1) - 1) for k in range(STOPS)}
    return [(at, much(at)) for at in sorted(spots) if at >= 0]


__all__ = ["draw_dots", "polygon", "ring_stops"]
