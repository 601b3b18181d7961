"""Edits of gradients: a fill or a stroke made one, and its stops."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.arrange.handles import gradient_ends, share_of
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Colour, Identity, Moment, Number
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.artwork import Gradient, Painted, Stop
from deftarc.core.document.layer import new_id
from deftarc.core.edit.base import EditBase
from deftarc.core.edit.masks import without
from deftarc.core.evaluate import posed
from deftarc.core.spaces.colour import hex_colour, parse_colour

Of = Literal["fill", "stroke"]
#: What a gradient or a line is of where there was no colour.
INK = "#22577a"


class GradientEdit(EditBase):
    scene: Identity
    layer: Identity
    of: Of = "fill"

    def painted(self, project: Project) -> tuple[Layer, Painted]:
        layer = project.scene(self.scene).layer(self.layer)
        if not isinstance(layer.artwork, Painted):
            raise Refusal(f"{layer.name} is painted with what its file has. Turn it into shapes first.")
        return layer, layer.artwork

    def gradient(self, project: Project) -> tuple[Layer, Painted, Gradient]:
        layer, art = self.painted(project)
        found = art.gradient(self.of)
        if found is None:
            raise Refusal(f"The {self.of} of {layer.name} is no gradient. Make it one first.")
        return layer, art, found

    def kept(self, project: Project, layer: Layer, made: Gradient | None) -> Project:
        scene = project.scene(self.scene)
        art = layer.artwork.changed(**{f"{self.of}_gradient": made})
        here = set(art.properties)
        gone = tuple(name for name in layer.artwork.properties if name not in here)
        return project.with_scene(scene.with_layer(without(layer, gone).changed(artwork=art)))


class SetGradient(GradientEdit):
    """A fill or a stroke that is a gradient from then on, across the ``box`` of its artwork (left, top, right, bottom):
    from its colour to the same, lighter. None makes it a colour again; another shape keeps ends and stops.
    """

    kind: Literal["set_gradient"] = "set_gradient"
    shape: Literal["linear", "radial"] | None = None
    box: tuple[Number, Number, Number, Number] = (-100.0, -100.0, 100.0, 100.0)

    def apply(self, project: Project) -> Project:
        layer, art = self.painted(project)
        if self.shape is None:
            return self.kept(project, layer, None)
        found = art.gradient(self.of)
        if found is not None:
            return self.kept(project, layer, found.changed(kind=self.shape))
        left, top, right, bottom = self.box
        ends = (left, (top + bottom) / 2, right, (top + bottom) / 2)
        if self.shape == "radial":
            ends = ((left + right) / 2, (top + bottom) / 2, right, (top + bottom) / 2)
        colour = getattr(art, self.of) or INK
        made = Gradient(
            kind=self.shape, x1=ends[0], y1=ends[1], x2=ends[2], y2=ends[3],
            stops=(Stop(id=new_id(), at=0.0, colour=colour), Stop(id=new_id(), at=1.0, colour=lighter(colour))),
        )  # fmt: skip
        return self.kept(project, layer, made)

    def label(self, project: Project) -> str:
        name = project.scene(self.scene).layer(self.layer).name
        return f"One colour as {self.of} of {name}" if self.shape is None else f"A gradient as {self.of} of {name}"


def lighter(colour: str) -> str:
    """A colour half-way to white."""
    row = parse_colour(colour)
    return hex_colour((*(0.5 + 0.5 * part for part in row[:3]), row[3]))


class AddStop(GradientEdit):
    """A stop ``at`` a share of the way, or where that comes nearest to a place in the layer's px, ``near``; without
    either half-way between the two that are furthest apart. It is of the colour that is there.
    """

    at_playhead: ClassVar[bool] = True
    kind: Literal["add_stop"] = "add_stop"
    at: Annotated[float, Field(ge=0, le=1)] | None = None
    near: tuple[Number, Number] | None = None
    time: Moment = 0
    id: Identity = Field(default_factory=new_id)
    colour: Colour | None = None

    def apply(self, project: Project) -> Project:
        layer, art, found = self.gradient(project)
        if len(found.stops) >= limits.MAX_STOPS:
            raise Refusal(f"A gradient has at most {limits.MAX_STOPS} stops.")
        if any(each.id == self.id for of in ("fill", "stroke") if (one := art.gradient(of)) for each in one.stops):
            raise Refusal("A stop with this id is there already.")
        at = self._share(project.scene(self.scene), layer, found)
        after = next((n for n, each in enumerate(found.stops) if each.at > at), len(found.stops))
        fresh = Stop(id=self.id, at=at, colour=self.colour or colour_at(found, at))
        return self.kept(project, layer, found.changed(stops=(*found.stops[:after], fresh, *found.stops[after:])))

    def _share(self, scene: Scene, layer: Layer, found: Gradient) -> float:
        """Where on its way, as that shows at ``time``."""
        if self.at is not None:
            return self.at
        shown = posed(scene, layer, self.time)
        if self.near is not None:
            return min(1.0, max(0.0, share_of(gradient_ends(shown, self.of), self.near)))
        shares = np.sort([shown[f"stop/{each.id}/stop_at"][0] for each in found.stops])
        widest = int(np.argmax(np.diff(shares)))
        return float((shares[widest] + shares[widest + 1]) / 2)

    def label(self, project: Project) -> str:
        return f"Add a stop to the {self.of} of {project.scene(self.scene).layer(self.layer).name}"


def colour_at(gradient: Gradient, at: float) -> str:
    """The colour of a resting gradient at a share of its way, as painters mix it."""
    stops = sorted(gradient.stops, key=lambda each: each.at)
    before = [each for each in stops if each.at <= at] or stops[:1]
    after = [each for each in stops if each.at > at] or stops[-1:]
    one, other = before[-1], after[0]
    share = (at - one.at) / (other.at - one.at) if other.at > one.at else 0.0
    a, b = parse_colour(one.colour), parse_colour(other.colour)
    return hex_colour(tuple(x + (y - x) * min(max(share, 0.0), 1.0) for x, y in zip(a, b, strict=True)))


class RemoveStop(GradientEdit):
    """A stop taken away; two at least stay."""

    kind: Literal["remove_stop"] = "remove_stop"
    stop: Identity

    def apply(self, project: Project) -> Project:
        layer, art = self.painted(project)
        of, stop = art.stop(self.stop)
        found = art.gradient(of)
        assert found is not None
        if len(found.stops) <= 2:
            raise Refusal("A gradient keeps two stops at least. Make it one colour if it should go.")
        made = found.changed(stops=tuple(each for each in found.stops if each.id != stop.id))
        return self.changed(of=of).kept(project, layer, made)

    def label(self, project: Project) -> str:
        return f"Take a stop off {project.scene(self.scene).layer(self.layer).name}"


__all__ = ["AddStop", "RemoveStop", "SetGradient"]
