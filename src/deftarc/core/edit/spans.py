"""Edits of when layers show: spans moved with their keys or without, trimmed, given one length, stretched."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Moment
from deftarc.core.changes.retime import keys_outside, motion_retimed, shifted_span, shown_stretched, span_of
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.edit.layers import LayersEdit

Length = Annotated[int, Field(gt=0, le=limits.FURTHEST)]


class SpanEdit(LayersEdit):
    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer in self.found(project):
            scene = scene.with_layer(self.on_layer(scene, layer))
        return project.with_scene(scene)

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        raise NotImplementedError


class MoveSpans(SpanEdit):
    """Spans moved in time by flicks: with their keys the layers play later as they are, without them only the window
    moves. An open end becomes the scene's when the start moves.
    """

    snaps: ClassVar = "spans"
    kind: Literal["move_spans"] = "move_spans"
    by: Moment
    keys: bool = True

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        moved = shifted_span(layer.changed(end=span_of(layer, scene.length)[1]), self.by)
        return motion_retimed(moved, lambda time: time + self.by) if self.keys else moved

    def label(self, project: Project) -> str:
        return f"Move {self.names(project)} in time" if self.keys else f"Move the span of {self.names(project)}"


class TrimSpan(SpanEdit):
    """The start or the end of spans put at a time; keys stay where they are."""

    snaps: ClassVar = "edge"
    kind: Literal["trim_span"] = "trim_span"
    start: Moment | None = None
    end: Moment | None = None

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        start, end = span_of(layer, scene.length)
        start = start if self.start is None else self.start
        end = end if self.end is None else self.end
        if end <= start:
            raise Refusal(f"{layer.name} would end before it starts. Leave it at least one frame.")
        return layer.changed(start=start, end=layer.end if self.end is None and layer.end is None else end)

    def label(self, project: Project) -> str:
        return f"Trim {self.names(project)}"


class SetSpanLength(SpanEdit):
    """Several spans given one length from their starts; with ``keys`` their keys stretch in proportion, and what they
    show goes at another rate."""

    kind: Literal["set_span_length"] = "set_span_length"
    length: Length
    keys: bool = False

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        start, end = span_of(layer, scene.length)
        if self.keys:
            factor = self.length / (end - start)
            layer = motion_retimed(layer, lambda time: start + round((time - start) * factor))
            layer = shown_stretched(layer, factor)
        return layer.changed(start=start, end=start + self.length)

    def label(self, project: Project) -> str:
        return f"Give {self.names(project)} a length"


class CoverKeys(SpanEdit):
    """Spans stretched over keys that lie outside them."""

    kind: Literal["cover_keys"] = "cover_keys"

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        outside = keys_outside(layer, scene.length)
        if not outside:
            return layer
        start, end = span_of(layer, scene.length)
        return layer.changed(start=min(start, outside[0]), end=max(end, outside[-1] + scene.rate.flicks))

    def label(self, project: Project) -> str:
        return f"Stretch {self.names(project)} over its keys"
