"""A SkiaPainter with everything one scene needs, from its artwork's materials."""

from functools import cache

import numpy as np

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.drawing import Drawing
from deftarc.core.evaluate import Scenes, delivered
from deftarc.core.evaluate.within import WITHIN
from deftarc.formats.materials import Materials, ground_drawing
from deftarc.formats.read.picture import decode_rgba
from deftarc.paint.skia.drawings import Pixels
from deftarc.paint.skia.painter import SkiaPainter


def painter_for(scene: Scene, materials: Materials, scenes: Scenes | None = None) -> SkiaPainter:
    """A painter that knows every layer's drawing, those of the scenes shown within it among them, and decodes each
    picture once. It has these scenes as they are delivered.
    """
    within = {name: delivered(each) for name, each in (scenes or {}).items()}

    @cache
    def picture(name: str) -> Pixels:
        try:
            return np.array(decode_rgba(materials.read_asset(name)))
        except Refusal:
            # A picture that is not here or damaged is drawn as nothing; the workbench says which.
            return np.zeros((1, 1, 4), np.uint8)

    return SkiaPainter(_drawings(scene, "", materials, within), picture, materials.shaper.form, within)


def _drawings(scene: Scene, path: str, materials: Materials, scenes: Scenes) -> dict[str, Drawing]:
    """The drawings of all that a scene shows, by the names its leaves have; ``path`` leads to it."""
    out: dict[str, Drawing] = {}
    for layer in scene.layers:
        if not isinstance(layer.artwork, SceneShown):
            out[path + layer.id] = materials.of_layer(layer)
            continue
        inner = scenes.get(layer.artwork.scene)
        if inner is not None:
            name = f"{path}{layer.id}{WITHIN}"
            out[name] = ground_drawing(inner)
            out |= _drawings(inner, name, materials, scenes)
    return out
