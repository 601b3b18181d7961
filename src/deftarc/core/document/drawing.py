"""Drawings: what a layer looks like before it is moved, in the terms every painter knows.

A drawing is plain data in the layer's own px, origin where the artwork says (see document.py). Painters fill
and stroke its shapes in order; nothing in it depends on time.
"""

from functools import cached_property
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, field_validator

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import AssetHash, Colour, Frozen, Kinded, Number, Told
from deftarc.core.document.upgrade import FORMAT
from deftarc.core.spaces.outline import Outline

Six = tuple[Number, Number, Number, Number, Number, Number]
Share = Annotated[float, Field(ge=0, le=1)]


class Solid(Kinded):
    kind: Literal["solid"] = "solid"
    colour: Colour


class Stop(Frozen):
    offset: Share
    colour: Colour


class LinearGradient(Kinded):
    """From (x1, y1) to (x2, y2) in a space that ``matrix`` maps onto the drawing; padded beyond its ends."""

    kind: Literal["linear"] = "linear"
    x1: Number
    y1: Number
    x2: Number
    y2: Number
    matrix: Six = (1, 0, 0, 1, 0, 0)
    stops: tuple[Stop, ...] = Field(min_length=1, max_length=256)


class RadialGradient(Kinded):
    """From the focal circle (fx, fy, fr) to the circle (cx, cy, r), as in SVG 2; padded beyond its ends."""

    kind: Literal["radial"] = "radial"
    cx: Number
    cy: Number
    r: Annotated[float, Field(ge=0, le=limits.MAX_NUMBER)]
    fx: Number
    fy: Number
    fr: Annotated[float, Field(ge=0, le=limits.MAX_NUMBER)] = 0.0
    matrix: Six = (1, 0, 0, 1, 0, 0)
    stops: tuple[Stop, ...] = Field(min_length=1, max_length=256)


Paint = Annotated[Solid | LinearGradient | RadialGradient, Field(discriminator="kind")]


class Stroke(Frozen):
    paint: Paint
    width: Annotated[float, Field(gt=0, le=limits.MAX_NUMBER)]
    cap: Literal["butt", "round", "square"] = "butt"
    join: Literal["miter", "round", "bevel"] = "miter"
    miter_limit: Annotated[float, Field(ge=1, le=1000)] = 4.0
    dash: tuple[Annotated[float, Field(ge=0, le=limits.MAX_NUMBER)], ...] = Field(default=(), max_length=64)
    dash_offset: Number = 0.0


class Shape(Kinded):
    """An outline, filled and then stroked. ``matrix`` is applied to the outline and, for the stroke, to its pen."""

    kind: Literal["shape"] = "shape"
    outline: str
    rule: Literal["nonzero", "evenodd"] = "nonzero"
    fill: Paint | None = None
    stroke: Stroke | None = None
    matrix: Six = (1, 0, 0, 1, 0, 0)
    #: What it is called where it comes from.
    name: Annotated[str, Field(max_length=limits.MAX_NAME)] = ""

    @field_validator("outline")
    @classmethod
    def _parses(cls, data: str) -> str:
        Outline.parse(data)
        return data


class Bitmap(Kinded):
    """A picture asset stretched over width × height px with its top left at (x, y)."""

    kind: Literal["bitmap"] = "bitmap"
    asset: AssetHash
    x: Number
    y: Number
    width: Annotated[float, Field(gt=0, le=limits.MAX_NUMBER)]
    height: Annotated[float, Field(gt=0, le=limits.MAX_NUMBER)]


class Group(Kinded):
    """Nodes painted together and then laid on what is beneath with one opacity, where ``clip`` has room for them."""

    kind: Literal["group"] = "group"
    opacity: Share = 1.0
    #: An outline within which alone the nodes show; None shows all of them.
    clip: str | None = None
    clip_rule: Literal["nonzero", "evenodd"] = "nonzero"
    nodes: tuple["Node", ...] = ()
    name: Annotated[str, Field(max_length=limits.MAX_NAME)] = ""

    @field_validator("clip")
    @classmethod
    def _clips(cls, data: str | None) -> str | None:
        if data:
            Outline.parse(data)
        return data


Node = Annotated[Shape | Bitmap | Group, Field(discriminator="kind")]


class Drawing(Told):
    always: ClassVar[tuple[str, ...]] = ("format",)
    format: Literal[8] = FORMAT
    nodes: tuple[Node, ...] = ()

    def bounds(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) of the outlines and pictures, stroke widths left out; zeros when empty."""
        return self._bounds

    @cached_property
    def _bounds(self) -> tuple[float, float, float, float]:
        boxes = [box for node in self.nodes for box in _boxes(node)]
        if not boxes:
            return (0.0, 0.0, 0.0, 0.0)
        every = np.array(boxes)
        left, top = every[:, :2].min(axis=0)
        right, bottom = every[:, 2:].max(axis=0)
        return (float(left), float(top), float(right), float(bottom))


def _boxes(node: Shape | Bitmap | Group) -> list[Floats]:
    from deftarc.core.base.matrices import from_six

    if isinstance(node, Group):
        boxes = [box for inner in node.nodes for box in _boxes(inner)]
        if node.clip is None:
            return boxes
        held = Outline.parse(node.clip).bounds()
        if held is None:
            return []
        cut = [np.concatenate([np.maximum(box[:2], held[:2]), np.minimum(box[2:], held[2:])]) for box in boxes]
        return [box for box in cut if box[0] <= box[2] and box[1] <= box[3]]
    if isinstance(node, Bitmap):
        return [np.array([node.x, node.y, node.x + node.width, node.y + node.height])]
    box = Outline.parse(node.outline).through(from_six(np.array(node.matrix))).bounds()
    return [] if box is None else [box]


def count_nodes(drawing: Drawing) -> int:
    """How many nodes a drawing has in all."""

    def count(nodes: tuple[Shape | Bitmap | Group, ...]) -> int:
        return sum(1 + (count(node.nodes) if isinstance(node, Group) else 0) for node in nodes)

    return count(drawing.nodes)


def checked(drawing: Drawing) -> Drawing:
    """The drawing, if it keeps the limits; Refusal otherwise."""
    if count_nodes(drawing) > limits.MAX_SVG_NODES:
        raise Refusal(f"This drawing has more than {limits.MAX_SVG_NODES:,} parts. Simplify it and bring it in again.")
    return drawing
