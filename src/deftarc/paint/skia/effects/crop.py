"""Crop with Skia."""

from collections.abc import Callable

import skia

from deftarc.paint.skia.effects.base import Box, Now, cuts

#: Px beyond all that is painted.
FAR = 1e6


@cuts("crop")
def crop(now: Now, box: Box) -> tuple[Callable[[skia.Canvas], None], float] | None:
    (left,), (top,), (right,), (bottom,), (soft,) = (
        now[name] for name in ("left", "top", "right", "bottom", "softness")
    )
    if not (left or top or right or bottom):
        return None
    wide, high = box[2] - box[0], box[3] - box[1]
    edges = skia.Rect.MakeLTRB(
        box[0] + left * wide if left else -FAR, box[1] + top * high if top else -FAR,
        box[2] - right * wide if right else FAR, box[3] - bottom * high if bottom else FAR,
    )  # fmt: skip
    paint = skia.Paint(AntiAlias=True, Color=skia.ColorWHITE)

    def draw(canvas: skia.Canvas) -> None:
        if edges.left() < edges.right() and edges.top() < edges.bottom():
            canvas.drawRect(edges, paint)

    return draw, soft
