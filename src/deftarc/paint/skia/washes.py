"""Washes with Skia: what a surface has within a frame, treated."""

from collections.abc import Callable

import skia


def washed(
    surface: skia.Surface,
    frame: skia.Rect,
    filters: list[skia.ImageFilter],
    cut: Callable[[skia.Canvas], None] | None,
    opacity: float,
    blend: skia.BlendMode,
) -> None:
    """Treats what lies on a surface within a frame of its pixels; ``cut`` leaves of a canvas's layer only where the
    wash is. The picture goes on past the frame's edges as it is there, so that nothing of what is outside comes in.
    """
    picture = surface.makeImageSnapshot(frame.roundOut())
    canvas = surface.getCanvas()
    made = skia.Surface(surface.width(), surface.height())
    on = made.getCanvas()
    on.clipRect(frame)
    _treated(on, filters, picture, skia.Matrix.Translate(frame.left(), frame.top()))
    if cut is not None:
        cut(on)
    canvas.save()
    canvas.resetMatrix()
    canvas.clipRect(frame)
    if blend == skia.BlendMode.kSrcOver:
        # In the place of what was there, as far as there is a wash: laid over it, what is clear would show through.
        there = skia.Surface(surface.width(), surface.height())
        there.getCanvas().drawColor(skia.ColorBLACK)
        if cut is not None:
            cut(there.getCanvas())
        gone = skia.Paint(Alphaf=opacity, BlendMode=skia.BlendMode.kDstOut)
        canvas.drawImage(there.makeImageSnapshot(), 0, 0, skia.SamplingOptions(), gone)
        blend = skia.BlendMode.kPlus
    laid = skia.Paint(Alphaf=opacity, BlendMode=blend)
    canvas.drawImage(made.makeImageSnapshot(), 0, 0, skia.SamplingOptions(), laid)
    canvas.restore()


def _treated(canvas: skia.Canvas, steps: list[skia.ImageFilter], picture: skia.Image, place: skia.Matrix) -> None:
    if not steps:
        shader = picture.makeShader(skia.TileMode.kClamp, skia.TileMode.kClamp, skia.SamplingOptions(), place)
        canvas.drawPaint(skia.Paint(Shader=shader))
        return
    *before, last = steps
    paint = skia.Paint()
    paint.setImageFilter(last)
    canvas.saveLayer(None, paint)
    _treated(canvas, before, picture, place)
    canvas.restore()


__all__ = ["washed"]
