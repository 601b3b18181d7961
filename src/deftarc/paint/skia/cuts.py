"""Masks with Skia: pictures of which only the alpha counts."""

import skia

from deftarc.core.evaluate import MaskAt
from deftarc.paint.skia.effects import space_of
from deftarc.paint.skia.paths import traced

_MODES = {"add": skia.BlendMode.kSrcOver, "subtract": skia.BlendMode.kDstOut, "intersect": skia.BlendMode.kDstIn}


def draw_masks(canvas: skia.Canvas, masks: tuple[MaskAt, ...], row: int, own: skia.Matrix) -> None:
    """All masks of something at a row, on an empty layer; ``own`` is from its px to the canvas's."""
    if masks[0].mode != "add":
        # What is first taken away is taken from all of it.
        canvas.drawColor(skia.ColorWHITE)
    space = space_of(own)
    for mask in masks:
        feather, opacity = (float(rows[min(row, len(rows) - 1)]) for rows in (mask.feather, mask.opacity))
        canvas.save()
        # A Gaussian in the mask's own px; where these keep their shape it is one in the canvas's, too.
        canvas.setMatrix(skia.Matrix() if space else own)
        canvas.saveLayer(None, skia.Paint(Alphaf=opacity, BlendMode=_MODES[mask.mode]))
        if mask.inverted:
            canvas.drawColor(skia.ColorWHITE)
        laid = skia.Paint(BlendMode=skia.BlendMode.kDstOut if mask.inverted else skia.BlendMode.kSrcOver)
        if feather > 0:
            sigma = feather * (space.size if space else 1.0)
            laid.setImageFilter(skia.ImageFilters.Blur(sigma, sigma, skia.TileMode.kDecal, None))
        canvas.saveLayer(None, laid)
        canvas.setMatrix(own)
        canvas.drawPath(traced(mask.outline.at(row), mask.rule), skia.Paint(AntiAlias=True, Color=skia.ColorWHITE))
        canvas.restore()
        canvas.restore()
        canvas.restore()


__all__ = ["draw_masks"]
