"""What a page paints a layer with: its drawing as data, its arcs as arcs, as the render paints them."""

from typing import Any

from deftarc.core.drawing import Drawing
from deftarc.core.rounds import drawn_data


def drawing_told(drawing: Drawing) -> dict[str, Any]:
    """A drawing for the wire, with the box that holds it."""
    told = drawing.model_dump(mode="json")
    for node in told["nodes"]:
        _round(node)
    return {**told, "bounds": drawing.bounds()}


def _round(node: dict[str, Any]) -> None:
    if node["kind"] == "shape":
        node["outline"] = drawn_data(node["outline"])
    if node["kind"] == "group":
        if node["clip"]:
            node["clip"] = drawn_data(node["clip"])
        for inner in node["nodes"]:
            _round(inner)
