"""One painter for stills and movies: drawings through a FrameTable's matrices, with Skia, without a screen."""

import sys
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np
import skia

from deftarc.core.base.matrices import six
from deftarc.core.document import Scene
from deftarc.core.document.artwork import TextShaper
from deftarc.core.document.drawing import Drawing
from deftarc.core.document.effects import EFFECTS
from deftarc.core.evaluate import (
    Branch,
    FrameTable,
    Group,
    Leaf,
    MatteAt,
    Scenes,
    delivered,
    evaluate,
    frame_times,
)
from deftarc.core.evaluate.smear import Smear, Smearer
from deftarc.paint.skia.cuts import draw_masks
from deftarc.paint.skia.drawings import Drawings, Pixels
from deftarc.paint.skia.effects import Cut, Space, Step, space_of, steps_of
from deftarc.paint.skia.paths import colour4, matrix_of
from deftarc.paint.skia.washes import washed

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
#: What of light colours count for how light they are together, W3C Masking's luminance.
LUMA = [0.0] * 15 + [0.2126, 0.7152, 0.0722, 0.0, 0.0]


@dataclass(frozen=True)
class Ground:
    """What is painted on: what a canvas in it has to do with scene px, and where in its pixels the frame lies."""

    width: int
    height: int
    frame: skia.Rect
    #: What smears as it moves; None while one moment of that is painted.
    smear: Smear | None = None


#: Groups painted as one and mattes may lie in one another as deep as a scene has layers. What is painted within what
#: is a call within a call here, since the canvas keeps its layers so; each takes a few of Python's own frames, which
#: lie on no stack of the machine's.
DEEPEST = 40_000
#: Bytes of pictures of mattes that are kept while a frame is painted.
MATTES_KEPT = 64 * 2**20
sys.setrecursionlimit(max(sys.getrecursionlimit(), DEEPEST))


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
        self.shape_text = shape_text
        self.drawings = Drawings(drawings, read_picture)
        #: Where groups paint in the frame being painted. They are known by their ids: each goes with its group, since
        #: the id of one that is gone may be that of another.
        self._places: dict[tuple[float, ...], tuple[skia.Rect, Branch]] = {}
        #: What mattes that are themselves shown through others show in it, the last ones, with what is known by its id.
        self._mattes: dict[tuple[object, ...], tuple[skia.Image, Branch, Smear | None]] = {}

    def paint(
        self, canvas: skia.Canvas, table: FrameTable, row: int, background: str | None, scale: tuple[float, float]
    ) -> None:
        """One row of a table onto a canvas, scaled from scene px to its pixels."""
        self._places.clear()
        self._mattes.clear()
        canvas.clear(colour4(background) if background else 0)
        size = canvas.getBaseLayerSize()
        ground = Ground(size.width(), size.height(), skia.Rect.MakeWH(size.width(), size.height()), table.smear)
        canvas.save()
        canvas.scale(*scale)
        self._all(canvas, table.roots, row, ground, colour4(background) if background else 0)
        canvas.restore()

    def paint_on(
        self, canvas: skia.Canvas, table: FrameTable, row: int, background: str | None, size: tuple[int, int]
    ) -> None:
        """The same onto a canvas in scene px that may have more on it, the background as large as the scene."""
        self._places.clear()
        self._mattes.clear()
        if background:
            canvas.drawRect(skia.Rect.MakeWH(*size), skia.Paint(Color=colour4(background)))
        whole = canvas.getBaseLayerSize()
        frame = canvas.getTotalMatrix().mapRect(skia.Rect.MakeWH(*size))
        ground = Ground(whole.width(), whole.height(), frame, table.smear)
        self._all(canvas, table.roots, row, ground, colour4(background) if background else 0)

    def _all(
        self, canvas: skia.Canvas, branches: tuple[Branch, ...], row: int, ground: Ground, beneath: int = 0
    ) -> None:
        """Branches from the bottom up; ``beneath`` is the colour that is there already within the frame."""
        if not any(isinstance(each, Leaf) and each.wash and _opacity(each, row) > 0 for each in branches):
            for each in branches:
                self._branch(canvas, each, row, ground)
            return
        # What a wash treats has to be at hand as a picture.
        surface = skia.Surface(ground.width, ground.height)
        aside = surface.getCanvas()
        if beneath:
            aside.drawRect(ground.frame, skia.Paint(Color=beneath))
        aside.setMatrix(canvas.getTotalMatrix())
        for each in branches:
            if isinstance(each, Leaf) and each.wash:
                self._wash(surface, each, row, ground)
            else:
                self._branch(aside, each, row, ground)
        canvas.save()
        canvas.resetMatrix()
        canvas.drawImage(surface.makeImageSnapshot(), 0, 0)
        canvas.restore()

    def _wash(self, surface: skia.Surface, wash: Leaf, row: int, ground: Ground) -> None:
        """Treats what a surface has within the frame."""
        opacity = _opacity(wash, row)
        canvas = surface.getCanvas()
        own = skia.Matrix.Concat(canvas.getTotalMatrix(), _matrix(wash, row))
        if opacity <= 0 or not _has_size(own):
            return

        steps = steps_of(wash.effects, row, space_of(own) or Space(), own, lambda: _box_of(ground.frame, own))
        # What is cut of a wash is where it treats nothing.
        limits = [each for each in steps if isinstance(each, Cut)]
        scene_px = canvas.getTotalMatrix()

        def cut(on: skia.Canvas) -> None:
            if wash.masks:
                on.saveLayer(None, skia.Paint(BlendMode=skia.BlendMode.kDstIn))
                draw_masks(on, wash.masks, row, own)
                on.restore()
            for each in limits:
                on.saveLayer(None, skia.Paint(BlendMode=skia.BlendMode.kDstIn))
                each.draw(on)
                on.restore()
            if wash.matte is not None:
                self._matte(on, wash.matte, row, ground, scene_px)

        filters = [each for each in steps if not isinstance(each, Cut)]
        limited = bool(wash.masks or limits or wash.matte)
        washed(surface, ground.frame, filters, cut if limited else None, opacity, BLEND_MODES[wash.blend])

    def _matte(self, canvas: skia.Canvas, matte: MatteAt, row: int, ground: Ground, scene_px: skia.Matrix) -> None:
        """Leaves of what is on a canvas's layer only what a matte shows."""
        paint = skia.Paint(BlendMode=skia.BlendMode.kDstOut if matte.inverted else skia.BlendMode.kDstIn)
        if matte.by == "luma":
            paint.setColorFilter(skia.ColorFilters.Matrix(LUMA))
        canvas.save()
        if matte.branch.matte is not None:
            # What a matte is itself shown through is painted once a frame: of a chain, each would paint all the rest.
            image = self._matte_image(canvas.getBaseLayerSize(), matte, row, ground, scene_px)
            canvas.resetMatrix()
            canvas.drawImage(image, 0, 0, skia.SamplingOptions(), paint)
        else:
            canvas.setMatrix(scene_px)
            canvas.saveLayer(None, paint)
            self._in_matte(canvas, matte, row, ground)
            canvas.restore()
        canvas.restore()

    def _in_matte(self, canvas: skia.Canvas, matte: MatteAt, row: int, ground: Ground) -> None:
        if matte.by == "luma":
            # On black, what is light counts by its alpha.
            canvas.clear(skia.ColorBLACK)
        self._branch(canvas, matte.branch, row, ground)

    def _matte_image(
        self, size: skia.ISize, matte: MatteAt, row: int, ground: Ground, scene_px: skia.Matrix
    ) -> skia.Image:
        """What a matte shows, as large as the canvas; of those it is shown through, the last one first, so that no more
        than two are being painted at a time.
        """
        where = (row, id(ground.smear), size.width(), size.height(), *(float(scene_px[n]) for n in range(6)))
        chain = [matte]
        while (id(chain[-1].branch), chain[-1].by, *where) not in self._mattes:
            deeper = chain[-1].branch.matte
            if deeper is None:
                break
            chain.append(deeper)
        image = None
        for each in reversed(chain):
            key = (id(each.branch), each.by, *where)
            image = self._mattes[key][0] if key in self._mattes else None
            if image is None and (each.branch.matte is not None or each is matte):
                surface = skia.Surface(size.width(), size.height())
                surface.getCanvas().setMatrix(scene_px)
                self._in_matte(surface.getCanvas(), each, row, ground)
                image = surface.makeImageSnapshot()
                self._mattes[key] = image, each.branch, ground.smear
                most = max(2, MATTES_KEPT // max(1, 4 * size.width() * size.height()))
                while len(self._mattes) > most:
                    self._mattes.pop(next(iter(self._mattes)))
        assert image is not None
        return image

    def _branch(self, canvas: skia.Canvas, branch: Branch, row: int, ground: Ground) -> None:
        """A leaf or a group, its canvas in scene px."""
        moments = ground.smear.rows(branch.layer, row) if ground.smear is not None else []
        if moments and branch.shows[0] <= row < branch.shows[1]:
            self._smeared(canvas, branch, moments, row, ground)
            return
        opacity = _opacity(branch, row)
        if opacity <= 0 or (isinstance(branch, Leaf) and branch.wash):
            return
        scene_px = canvas.getTotalMatrix()
        matrix = _matrix(branch, row)
        own = skia.Matrix.Concat(scene_px, matrix)
        # Turned and treated in its own px it would be painted, and only then turned: soft where it should be sharp.
        space = space_of(own)
        sized = _has_size(matrix)
        steps = (
            steps_of(branch.effects, row, space or Space(), own, lambda: self._box(branch, row))
            if branch.effects and sized else []
        )  # fmt: skip
        masks = branch.masks if sized else ()
        group = isinstance(branch, Group)
        if isinstance(branch, Group) and branch.clip is not None and opacity >= 1 and not steps:
            # Nothing of a scene that is shown has to be put together first: it is painted where it lies.
            group = branch.blend != "normal" or any(each.blend != "normal" for each in branch.children)
        aside = bool(steps or masks or branch.matte) or branch.blend != "normal" or (group and opacity < 1)
        canvas.save()
        canvas.setMatrix(skia.Matrix() if space else own)

        def draw() -> None:
            if isinstance(branch, Group):
                canvas.save()
                if branch.clip is not None:
                    canvas.setMatrix(own)
                    canvas.clipRect(skia.Rect.MakeLTRB(*branch.clip), doAntiAlias=True)
                canvas.setMatrix(scene_px)
                self._all(canvas, branch.children, row, ground)
                canvas.restore()
            else:
                canvas.save()
                canvas.setMatrix(own)
                self.drawings.draw(branch, row)(canvas, 1.0 if aside else opacity)
                canvas.restore()
            if masks:
                canvas.saveLayer(None, skia.Paint(BlendMode=skia.BlendMode.kDstIn))
                draw_masks(canvas, masks, row, own)
                canvas.restore()

        if aside or group:
            if sized:
                # Layers no larger than what is painted in them.
                where = self._where(branch, row, scene_px)
                before = canvas.getTotalMatrix()
                canvas.resetMatrix()
                canvas.clipRect(skia.Rect.Make(where.roundOut()))
                canvas.setMatrix(before)
            # Put together by itself, treated, and laid on as one; being isolated even where nothing else asks for it.
            canvas.saveLayer(None, skia.Paint(Alphaf=opacity, BlendMode=BLEND_MODES[branch.blend]))
            treated(canvas, steps, draw)
            if branch.matte is not None:
                self._matte(canvas, branch.matte, row, ground, scene_px)
            canvas.restore()
        else:
            draw()
        canvas.restore()

    def _smeared(self, canvas: skia.Canvas, branch: Branch, moments: list[int], row: int, ground: Ground) -> None:
        """The mean of a branch over some moments of a frame: summed up in half floats, which lose nothing of it."""
        assert ground.smear is not None
        made = ground.smear.table.by_name.get(branch.layer)
        if made is None:
            return
        alone = replace(made, blend="normal", matte=None)
        scene_px = canvas.getTotalMatrix()
        where = skia.Rect.MakeEmpty()
        for moment in moments:
            where.join(self._where(alone, moment, scene_px))
        if not where.intersect(skia.Rect.MakeWH(ground.width, ground.height)):
            return
        part = where.roundOut()
        info = skia.ImageInfo.Make(
            part.width(), part.height(), skia.ColorType.kRGBA_F16_ColorType, skia.AlphaType.kPremul_AlphaType
        )
        total, one = skia.Surface.MakeRaster(info), skia.Surface(part.width(), part.height())
        add = skia.Paint(Alphaf=1 / len(moments), BlendMode=skia.BlendMode.kPlus)
        still = replace(ground, smear=None)
        moved = skia.Matrix.Concat(skia.Matrix.Translate(-part.left(), -part.top()), scene_px)
        for moment in moments:
            aside = one.getCanvas()
            aside.clear(0)
            aside.setMatrix(moved)
            self._branch(aside, alone, moment, still)
            total.getCanvas().drawImage(one.makeImageSnapshot(), 0, 0, skia.SamplingOptions(), add)
        canvas.save()
        canvas.resetMatrix()
        canvas.clipRect(skia.Rect.Make(part))
        canvas.saveLayer(None, skia.Paint(BlendMode=BLEND_MODES[branch.blend]))
        canvas.drawImage(total.makeImageSnapshot(), part.left(), part.top())
        if branch.matte is not None:
            self._matte(canvas, branch.matte, row, ground, scene_px)
        canvas.restore()
        canvas.restore()

    def frames(self, scene: Scene, first: int, count: int) -> FrameTable:
        """The table of some frames of a scene as it is delivered, with what smears in them."""
        shown, times = delivered(scene), frame_times(scene, first, count)
        table = evaluate(shown, times, self.shape_text, scenes=self.scenes)
        smear = Smearer(self.shape_text).smear(shown, times, self.scenes, self.drawings.reach)
        return table if smear is None else replace(table, smear=smear)

    def _where(self, branch: Branch, row: int, scene_px: skia.Matrix) -> skia.Rect:
        """Which of a canvas's pixels a branch may paint, its effects included. A group is asked for by every one it
        lies in, so what was found is kept while a frame is painted.
        """
        if not isinstance(branch, Group):
            return self._found_where(branch, row, scene_px)
        key = (id(branch), row, *(float(scene_px[n]) for n in range(6)))
        if key not in self._places:
            self._places[key] = self._found_where(branch, row, scene_px), branch
        found, _ = self._places[key]
        return skia.Rect.MakeLTRB(found.left(), found.top(), found.right(), found.bottom())

    def _found_where(self, branch: Branch, row: int, scene_px: skia.Matrix) -> skia.Rect:
        if _opacity(branch, row) <= 0:
            return skia.Rect.MakeEmpty()
        if isinstance(branch, Leaf) and branch.wash:
            # What it makes of what is beneath may lie anywhere.
            return skia.Rect.MakeLTRB(-1e6, -1e6, 1e6, 1e6)
        if isinstance(branch, Group) and branch.clip is None:
            whole = skia.Rect.MakeEmpty()
            for each in branch.children:
                whole.join(self._where(each, row, scene_px))
        else:
            own = skia.Matrix.Concat(scene_px, _matrix(branch, row))
            whole = own.mapRect(skia.Rect.MakeLTRB(*self._box(branch, row)))
        if whole.isEmpty():
            return whole
        size = skia.Matrix.Concat(scene_px, _matrix(branch, row)).getMaxScale()
        out = 2.0 + max(size, 0.0) * sum(
            float(rows[min(row, len(rows) - 1)])
            for each in branch.effects for rows in (EFFECTS[each.kind].reach(each.values),)
        )  # fmt: skip
        return whole.makeOutset(out, out)

    def _box(self, branch: Branch, row: int) -> tuple[float, float, float, float]:
        """What a branch paints in, in its own px."""
        if isinstance(branch, Leaf):
            return self.drawings.box(branch, row)
        if branch.clip is not None:
            return branch.clip
        back = skia.Matrix()
        if not _matrix(branch, row).invert(back):
            return 0.0, 0.0, 0.0, 0.0
        whole = skia.Rect.MakeEmpty()
        for each in branch.children:
            if _opacity(each, row) > 0:
                through = skia.Matrix.Concat(back, _matrix(each, row))
                whole.join(through.mapRect(skia.Rect.MakeLTRB(*self._box(each, row))))
        return whole.left(), whole.top(), whole.right(), whole.bottom()


def treated(canvas: skia.Canvas, steps: list[Step], draw: Callable[[], None]) -> None:
    """Draws what steps treat, the first of them first."""
    if not steps:
        draw()
        return
    *before, last = steps
    if isinstance(last, Cut):
        canvas.saveLayer(None, None)
        treated(canvas, before, draw)
        canvas.saveLayer(None, skia.Paint(BlendMode=skia.BlendMode.kDstIn))
        last.draw(canvas)
        canvas.restore()
    else:
        paint = skia.Paint()
        paint.setImageFilter(last)
        canvas.saveLayer(None, paint)
        treated(canvas, before, draw)
    canvas.restore()


def _opacity(branch: Branch, row: int) -> float:
    """How much of a branch shows in a row."""
    if not branch.shows[0] <= row < branch.shows[1]:
        return 0.0
    return float(branch.opacity[min(row, len(branch.opacity) - 1)])


def _matrix(branch: Branch, row: int) -> skia.Matrix:
    return matrix_of(tuple(six(branch.matrix[min(row, len(branch.matrix) - 1)])))


def _box_of(frame: skia.Rect, own: skia.Matrix) -> tuple[float, float, float, float]:
    """The frame in a layer's own px."""
    back = skia.Matrix()
    own.invert(back)
    box = back.mapRect(frame)
    return box.left(), box.top(), box.right(), box.bottom()


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
    alpha = pixels[..., 3]
    # Most are all clear or all there, and stay as they are.
    soft = (alpha > 0) & (alpha < 255)
    if not soft.any():
        return pixels
    out = pixels.copy()
    over = alpha[soft][:, None].astype(np.uint16)
    out[soft, :3] = np.minimum((pixels[soft, :3].astype(np.uint16) * 255 + over // 2) // over, 255)
    return out
