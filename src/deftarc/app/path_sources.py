"""Motion paths and masks taken from outlines: of another layer, or of an SVG file."""

from collections.abc import Iterator

import numpy as np

from deftarc.app.measured import contours_of
from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import from_six
from deftarc.core.document import Layer, Scene, new_id
from deftarc.core.document.artwork import Contour
from deftarc.core.document.drawing import Drawing, Group, Node, Shape
from deftarc.core.document.masks import Mask
from deftarc.core.edit.masks import AddMask
from deftarc.core.edit.paths import TakePath
from deftarc.core.evaluate import carried_by, matrix_at
from deftarc.core.spaces.bends import path_of
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.points import PathPoint
from deftarc.formats.materials import Materials
from deftarc.formats.read.svg.reader import ReadLogo


def path_of_layer(scene: Scene, materials: Materials, layer: Layer, source: Layer, time: int, end: int) -> TakePath:
    """The edit that gives a layer another one's outline as its path, as that lies on the picture at a time."""
    if source.id == layer.id:
        raise Refusal("A layer cannot go along its own outline. Choose another layer.")
    matrix = carried_by(scene, source, time) @ matrix_at(scene, source, time)
    return _taken(scene, layer, materials.of_layer(source), matrix, source.name, time, end)


def mask_of_layer(scene: Scene, materials: Materials, layer: Layer, source: Layer, time: int) -> AddMask:
    """The edit that masks a layer by all of another one's outline, as that lies on the picture at a time."""
    if source.id == layer.id:
        raise Refusal("A layer is not masked by its own outline. Choose another layer.")
    matrix = carried_by(scene, source, time) @ matrix_at(scene, source, time)
    mask = _mask(materials.of_layer(source), matrix, source.name, source.name)
    return AddMask(scene=scene.id, layer=layer.id, mask=mask, in_scene=True, time=time)


def mask_of_logo(scene: Scene, materials: Materials, layer: Layer, logo: ReadLogo) -> AddMask:
    """The edit that masks a layer by all outlines of an SVG: at its own size, in the middle of the layer."""
    left, top, right, bottom = (0.0,) * 4 if layer.group else materials.of_layer(layer).bounds()
    middle = np.array([[1.0, 0.0, (left + right) / 2], [0.0, 1.0, (top + bottom) / 2], [0.0, 0.0, 1.0]])
    return AddMask(scene=scene.id, layer=layer.id, mask=_mask(logo.drawing, middle, "This file", "From a file"))


def _mask(drawing: Drawing, matrix: Floats, told: str, name: str) -> Mask:
    """A mask of all outlines of a drawing, through a matrix."""
    contours = [c for outline in _outlines(drawing.nodes, matrix) for c in contours_of(outline) if len(c.points) > 1]
    if not contours:
        raise Refusal(f"{told} has no outline to mask with.")
    if len(contours) > limits.MAX_CONTOURS or sum(len(c.points) for c in contours) > limits.MAX_OUTLINE_POINTS:
        raise Refusal(f"{told} has more points than a mask can have. Simplify it first.")
    closed = tuple(contour.changed(closed=True) for contour in contours)
    # What has holes by being gone round twice keeps them.
    rules = {node.rule for node in _shapes(drawing.nodes)}
    return Mask(id=new_id(), name=name, contours=closed, rule="evenodd" if rules == {"evenodd"} else "nonzero")


def path_of_logo(scene: Scene, layer: Layer, logo: ReadLogo, time: int, end: int) -> TakePath:
    """The edit that gives a layer the longest outline of an SVG as its path: at its own size, in the middle."""
    middle = np.array([[1.0, 0.0, scene.width / 2], [0.0, 1.0, scene.height / 2], [0.0, 0.0, 1.0]])
    return _taken(scene, layer, logo.drawing, middle, "This file", time, end)


def _taken(scene: Scene, layer: Layer, drawing: Drawing, matrix: Floats, name: str, time: int, end: int) -> TakePath:
    contours = [c for outline in _outlines(drawing.nodes, matrix) for c in contours_of(outline) if len(c.points) > 1]
    if not contours:
        raise Refusal(f"{name} has no outline to go along.")
    longest = max(contours, key=_length)
    if len(longest.points) > limits.MAX_OUTLINE_POINTS:
        raise Refusal(f"{name} has an outline of more than {limits.MAX_OUTLINE_POINTS:,} points. Simplify it first.")
    return TakePath(
        scene=scene.id, layer=layer.id, points=longest.points, closed=longest.closed, time=time, end=end
    )  # fmt: skip


def _outlines(nodes: tuple[Node, ...], matrix: Floats) -> Iterator[Outline]:
    """Every outline of a drawing, through the groups it is in."""
    for node in _shapes(nodes):
        yield Outline.parse(node.outline).through(matrix @ from_six(np.array(node.matrix)))


def _shapes(nodes: tuple[Node, ...]) -> Iterator[Shape]:
    for node in nodes:
        if isinstance(node, Group):
            yield from _shapes(node.nodes)
        elif isinstance(node, Shape):
            yield node


def _length(contour: Contour) -> float:
    points = [
        PathPoint(x=x, y=y, joint="corner", arriving=(ax, ay), leaving=(lx, ly))
        for x, y, ax, ay, lx, ly in (*contour.points, *(contour.points[:1] if contour.closed else ()))
    ]
    return float(path_of(points).lengths[-1])
