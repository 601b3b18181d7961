"""What lies around a scene that is shown within another: which moments go together, and the outer picture as the inner
scene would see it.
"""

from io import BytesIO

import numpy as np
import skia
from PIL import Image

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Project, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.evaluate import delivered, evaluate, frame_times
from deftarc.core.evaluate.clocks import clocks_above
from deftarc.core.evaluate.within import moments_of
from deftarc.formats.materials import Materials
from deftarc.paint.skia.painter import blank, unpremultiplied
from deftarc.paint.skia.scene import painter_for

#: The outer picture is shown as far beyond the inner frame as that is large, on each side; and at most so wide, in px.
BEYOND, WIDEST = 0.6, 1200


def shown_scene(project: Project, scene: Scene, layer_id: str) -> Scene:
    """The scene that a layer shows; Refusal where it shows none."""
    layer = scene.layer(layer_id)
    inner = project.by_id.get(layer.artwork.scene) if isinstance(layer.artwork, SceneShown) else None
    if inner is None:
        raise Refusal(f"{layer.name} shows no scene.")
    return inner


def inner_frames(project: Project, scene: Scene, layer_id: str) -> "np.ndarray[tuple[int], np.dtype[np.float64]]":
    """By frame of a scene, which frame of the scene a layer shows is seen, (F,); NaN where nothing is."""
    layer, inner = scene.layer(layer_id), shown_scene(project, scene, layer_id)
    above = clocks_above(scene.by_id, layer)
    moments = moments_of(layer, inner, frame_times(scene).astype(np.float64), above)
    frames = moments.times[moments.rows] / inner.rate.flicks
    return np.where(moments.shows, frames, np.nan)


def outer_frame(project: Project, scene: Scene, layer_id: str, frame: int, near: int) -> int:
    """The frame of a scene at which a layer shows a frame of its scene, the nearest one to ``near``."""
    shown = inner_frames(project, scene, layer_id)
    off = np.abs(shown - frame)
    if np.isnan(off).all():
        return near
    best = float(np.nanmin(off))
    fitting = np.flatnonzero(off <= best + 0.5)
    return int(fitting[np.argmin(np.abs(fitting - near))])


def around(
    project: Project, scene: Scene, layer_id: str, frame: int, near: int, materials: Materials
) -> tuple[bytes, tuple[float, float, float, float]]:
    """A PNG of a scene without the layer that shows another, as that other sees it at one of its frames; and the box
    that it fills, left, top, width and height in the inner scene's px.
    """
    inner = shown_scene(project, scene, layer_id)
    at = outer_frame(project, scene, layer_id, frame, near)
    bare = delivered(scene.with_layer(scene.layer(layer_id).changed(hidden=True)))
    painter = painter_for(bare, materials, project.by_id)
    table = evaluate(bare, frame_times(scene, at, 1), materials.shaper.form, scenes=painter.scenes)
    home = np.eye(3)
    home[:2, 2] = -inner.width / 2, -inner.height / 2
    into = table.worlds[layer_id][0] @ home
    if abs(np.linalg.det(into)) < 1e-12:
        raise Refusal("What shows this scene is scaled to nothing at this frame.")
    box = (-BEYOND * inner.width, -BEYOND * inner.height, (1 + 2 * BEYOND) * inner.width,
           (1 + 2 * BEYOND) * inner.height)  # fmt: skip
    size = min(1.0, WIDEST / max(box[2], box[3]))
    pixels, surface = blank(max(1, round(box[2] * size)), max(1, round(box[3] * size)))
    canvas = surface.getCanvas()
    canvas.scale(size, size)
    canvas.translate(-box[0], -box[1])
    (a, c, e), (b, d, f), _ = np.linalg.inv(into).tolist()
    canvas.concat(skia.Matrix.MakeAll(a, c, e, b, d, f, 0, 0, 1))
    painter.paint_on(canvas, table, 0, scene.background, (scene.width, scene.height))
    surface.flushAndSubmit()
    out = BytesIO()
    Image.fromarray(unpremultiplied(pixels), "RGBA").save(out, "PNG")
    return out.getvalue(), box
