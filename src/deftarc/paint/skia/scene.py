"""A SkiaPainter with everything one scene needs, from its artwork's materials."""

from functools import cache

import numpy as np

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Scene
from deftarc.formats.materials import Materials
from deftarc.formats.read.picture import decode_rgba
from deftarc.paint.skia.painter import Pixels, SkiaPainter


def painter_for(scene: Scene, materials: Materials) -> SkiaPainter:
    """A painter that knows every layer's drawing and decodes each picture once."""

    @cache
    def picture(name: str) -> Pixels:
        try:
            return np.array(decode_rgba(materials.read_asset(name)))
        except Refusal:
            # A picture that is not here or damaged is drawn as nothing; the workbench says which.
            return np.zeros((1, 1, 4), np.uint8)

    drawings = {layer.id: materials.of_layer(layer) for layer in scene.layers}
    return SkiaPainter(drawings, picture, materials.shaper.form)
