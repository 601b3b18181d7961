"""What a page paints a layer with: its drawing as data, its arcs as arcs, as the render paints them; and its name."""

from functools import lru_cache
from hashlib import sha1
from typing import Any

from deftarc.core.document import Layer
from deftarc.core.document.artwork import Artwork
from deftarc.core.document.drawing import Drawing
from deftarc.core.spaces.rounds import drawn_data
from deftarc.formats.materials import keyed_paints


def drawing_told(drawing: Drawing) -> dict[str, Any]:
    """A drawing for the wire, with the box that holds it."""
    told = drawing.model_dump(mode="json")
    for node in told["nodes"]:
        _round(node)
    return {**told, "bounds": drawing.bounds()}


def _round(node: dict[str, Any]) -> None:
    if node["kind"] == "shape":
        told = drawn_data(node["outline"])
        if told != node["outline"]:
            # What is drawn of its line in part is told in its cubics.
            node["cubics"], node["outline"] = node["outline"], told
    if node["kind"] == "group":
        if node["clip"]:
            node["clip"] = drawn_data(node["clip"])
        for inner in node["nodes"]:
            _round(inner)


@lru_cache(maxsize=4096)
def _named(artwork: Artwork, paints: tuple[str, ...]) -> str:
    text = artwork.model_dump_json() + " ".join(paints)
    return sha1(text.encode(), usedforsecurity=False).hexdigest()[:16]


def drawing_key(layer: Layer) -> str:
    """A short name for what a layer looks like at rest."""
    return _named(layer.artwork, tuple(sorted(keyed_paints(layer))))
