"""What the picture shows of handles for how a layer looks."""

from typing import Any

from deftarc.core.arrange.handles import Held, handles_of
from deftarc.core.document import Layer, Scene
from deftarc.core.evaluate import posed
from deftarc.formats.materials import Materials


def handles_told(scene: Scene, layer: Layer, time: int, materials: Materials) -> dict[str, Any]:
    """A layer's handles at a time, in its px, with the box of its artwork."""
    box = materials.of_layer(layer).bounds()
    told = [
        {"id": each.id, "at": each.at, "stem": each.stem, "off": each.off, "words": each.words, "form": each.form,
         "colour": each.colour}
        for each in handles_of(Held(layer, posed(scene, layer, time), box, materials.shape_text))
    ]  # fmt: skip
    return {"layer": layer.id, "box": box, "list": told}


__all__ = ["handles_told"]
