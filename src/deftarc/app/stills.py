"""One frame as the render paints it, as it lies on a stage: for a page whose canvas can only come near that."""

from collections.abc import Set
from dataclasses import replace
from io import BytesIO

from PIL import Image

from deftarc.core.document import Project, Scene
from deftarc.core.evaluate import delivered, evaluate, frame_times
from deftarc.core.evaluate.smear import Smearer
from deftarc.formats.materials import Materials
from deftarc.paint.skia.painter import blank, unpremultiplied
from deftarc.paint.skia.scene import painter_for


def only(scene: Scene, alone: Set[str]) -> Scene:
    """The scene with nothing showing but some layers and what is carried by them; all of it where these are none."""
    if not alone:
        return scene

    def seen(layer_id: str) -> bool:
        return layer_id in alone or any(up.id in alone for up in scene.ancestors(scene.layer(layer_id)))

    return scene.changed(
        layers=tuple(
            each if each.group or seen(each.id) else each.changed(hidden=True) for each in scene.layers
        )
    )  # fmt: skip


def still_picture(
    project: Project, scene: Scene, frame: int, view: tuple[float, float, float], size: tuple[int, int],
    materials: Materials,
) -> bytes:  # fmt: skip
    """A PNG of so many px, clear where the scene is: ``view`` has how much that is enlarged, and where its left and top
    lie.
    """
    painter = painter_for(scene, materials, project.by_id)
    times = frame_times(scene, frame, 1)
    table = evaluate(scene, times, painter.shape_text, scenes=painter.scenes)
    smear = Smearer(painter.shape_text).smear(delivered(scene), times, painter.scenes, painter.drawings.reach)
    pixels, surface = blank(*size)
    canvas = surface.getCanvas()
    zoom, left, top = view
    canvas.translate(left, top)
    canvas.scale(zoom, zoom)
    painter.paint_on(canvas, replace(table, smear=smear), 0, scene.background, (scene.width, scene.height))
    surface.flushAndSubmit()
    out = BytesIO()
    Image.fromarray(unpremultiplied(pixels), "RGBA").save(out, "PNG", compress_level=1)
    return out.getvalue()
