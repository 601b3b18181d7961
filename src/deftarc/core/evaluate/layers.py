"""The sources made of a layer's properties: what it is by itself, and where it comes to be under its carriers."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.matrices import compose
from deftarc.core.document import Layer
from deftarc.core.document.artwork import Painted, TextShaper
from deftarc.core.document.artwork.gradient import PAINTED
from deftarc.core.document.links import FLIGHT, SPOT, TRAVELS, turns_by_travel
from deftarc.core.document.masks import Mask
from deftarc.core.document.properties import PROPERTIES, SHAPING
from deftarc.core.document.shown import shown_values
from deftarc.core.document.track import AnyTrack, NumberTrack
from deftarc.core.evaluate.clocks import Clocks
from deftarc.core.evaluate.follow import way_added
from deftarc.core.evaluate.frames import EffectAt, MaskAt
from deftarc.core.evaluate.source import OWN, Node, Path, Read, Source
from deftarc.core.evaluate.travel import Carrying, stretch, stretched
from deftarc.core.spaces.drawn import cuts_over_time
from deftarc.core.spaces.grown import grown
from deftarc.core.spaces.outlines import Outlines

#: No number of a matrix is larger; far enough out that nothing of it is seen, and still a number in 32 bits.
REACH = 1e30


class OwnState:
    """What a layer is by itself: its matrix, pivot and opacity, and when it is asked for its looks, outline and
    effects: of what carries others at other moments these are not needed.
    """

    def __init__(self, layer: Layer, given: dict[str, Floats], matrix: Floats, shape_text: TextShaper | None) -> None:
        self._layer, self._given, self._shape_text = layer, given, shape_text
        self.matrix = matrix
        self.opacity = self._shown("opacity")[:, 0]

    def _shown(self, name: str) -> Floats:
        given = self._given.get(name)
        return shown_values(self._layer, name, resting_samples(self._layer, name) if given is None else given)

    @property
    def pivot(self) -> Floats:
        """(n or 1, 2), in the layer's px."""
        return _beside(self._shown("pivot_x"), self._shown("pivot_y"))

    @cached_property
    def _looks(self) -> tuple[dict[str, Floats], Outlines | None]:
        return _look(self._layer, self._given, self._shape_text)

    @property
    def look(self) -> dict[str, Floats]:
        return self._looks[0]

    @property
    def outline(self) -> Outlines | None:
        return self._looks[1]

    @cached_property
    def masks(self) -> tuple[MaskAt, ...]:
        """Those that are switched on."""
        return tuple(self._mask(each) for each in self._layer.masks if each.on)

    def _mask(self, mask: Mask) -> MaskAt:
        outline, feather, grow, opacity = (self._shown(name) for name in mask.properties)
        outlines = Outlines.alike(*mask.traced(outline))
        if grow.any():
            outlines = grown(outlines, grow[:, 0], mask.rule)
        return MaskAt(mask.id, mask.mode, mask.inverted, mask.rule, outlines, feather[:, 0], opacity[:, 0])

    @cached_property
    def effects(self) -> tuple[EffectAt, ...]:
        return tuple(
            EffectAt(each.id, each.kind, {
                **{PROPERTIES[own].kept_in: self._shown(name)
                   for own, name in zip(each.keyable, each.properties, strict=True)},
                **{name: np.array([[value]]) for name, value in each.told().items()},
            })
            for each in self._layer.effects if each.on
        )  # fmt: skip


class Own(Source):
    """A layer by itself, made of what its properties show."""

    def __init__(
        self, layer: Layer, path: Path, driven: tuple[str, ...], shape_text: TextShaper | None, clocks: Clocks = ()
    ) -> None:
        self.layer, self.path, self.driven, self.shape_text, self.clocks = layer, path, driven, shape_text, clocks

    def needs(self) -> tuple[Node, ...]:
        layer = self.layer
        asked = (*((FLIGHT,) if layer.stretches else ()), *((TRAVELS, SPOT) if turns_by_travel(layer) else ()))
        return tuple(Node(self.path, name) for name in (*self.driven, *asked))

    def sample(self, times: Floats, read: Read) -> OwnState:
        layer = self.layer
        given = {name: read(Node(self.path, name), times) for name in self.driven}
        value = {name: given[name] if name in given else resting_samples(layer, name) for name in _transform(layer)}
        way = None
        if not layer.axes_split:
            way = way_added(layer, self.path, value, times, self.clocks, read)
        matrix = own_matrix(layer, value, way)
        if layer.stretches:
            amount, limit = (shown_values(layer, name, value[name])[:, 0] for name in ("stretch", "stretch_limit"))
            by = stretch(read(Node(self.path, FLIGHT), times), amount, limit)
            matrix = stretched(matrix, spots_of(layer, value), by)
        return OwnState(layer, given, matrix, self.shape_text)


def spots_of(layer: Layer, samples: dict[str, Floats]) -> Floats:
    """A layer's position (n or 1, 2) in its carrier's px, of its properties' numbers."""
    return _beside(samples["position_x"], samples["position_y"]) if layer.axes_split else samples["position"]


def _transform(layer: Layer) -> list[str]:
    return [name for name in layer.properties if name in TRANSFORM]


def resting_samples(layer: Layer, name: str) -> Floats:
    """The numbers (1, components) of a property that nothing drives."""
    track = layer.tracks.get(name)
    if track is None:
        default = TRANSFORM.get(name)
        if default is not None:
            return default
        track = layer.track(name)
    return np.array([track.resting()], np.float64)


def _default(name: str) -> Floats:
    value = PROPERTIES[name].default
    return np.array([value if name == "position" else value[:1]], np.float64)


#: What every layer has, whatever it is made of, with what it is at first.
TRANSFORM = {facts.id: _default(facts.id) for facts in PROPERTIES.plain() if facts.owner == "transform"}


@dataclass(frozen=True)
class Placed(Source):
    """A layer where its carriers bring it. Two that say the same are the same."""

    path: Path
    carrying: Carrying
    hands_opacity: bool
    as_one: bool
    hides: bool

    def needs(self) -> tuple[Node, ...]:
        return (Node(self.path, OWN), *self.carrying.needs())

    def sample(self, times: Floats, read: Read) -> "PlacedState":
        own: OwnState = read(Node(self.path, OWN), times)
        node = self.carrying.node
        above: PlacedState | None = None if node is None else read(node, times)
        opacity = own.opacity if above is None or above.handed is None else own.opacity * above.handed
        # What is put together first is laid on with the group's opacity, which its members then do not have as well.
        handed = None if self.as_one else opacity if self.hands_opacity else above.handed if above is not None else None
        hidden = above is not None and (above.hidden or above.hides)
        carried = self.carrying.matrices(times, read)
        world = own.matrix if carried is None else within_reach(carried @ own.matrix)
        return PlacedState(own, world, opacity, handed, hidden, self.hides)


@dataclass(eq=False)
class PlacedState:
    """A layer in the scene: ``handed`` is the opacity that goes on to what it carries, None where all of it shows;
    ``hidden`` whether a group above hides it, ``hides`` whether it is one that does.
    """

    own: OwnState
    world: Floats
    opacity: Floats
    handed: Floats | None
    hidden: bool
    hides: bool


def within_reach(matrices: Floats) -> Floats:
    """Matrices with no number beyond REACH: carriers that grow what they carry, many deep, would reach past all
    numbers, and past those a page and a painter know long before.
    """
    if matrices.max(initial=0.0) <= REACH and matrices.min(initial=0.0) >= -REACH:
        return matrices
    return np.clip(matrices, -REACH, REACH)


def own_matrix(layer: Layer, samples: dict[str, Floats], way: "Floats | None" = None) -> Floats:
    """A layer's matrices (F or 1, 3, 3) from its px to those of whoever carries it; ``way`` turns it besides."""
    value = {
        # What rests as every layer does at first shows as it is.
        name: samples[name] if samples[name] is TRANSFORM[name] and name != "scale"
        else shown_values(layer, name, samples[name])
        for name in _transform(layer)
    }  # fmt: skip
    scale = _beside(value["scale_x"], value["scale_y"]) if layer.scale_link == "free" else value["scale"]
    rotation = value["rotation"][:, 0]
    return compose(
        spots_of(layer, value),
        rotation if way is None else rotation + way,
        scale,
        _beside(value["skew_x"], value["skew_y"]),
        _beside(value["pivot_x"], value["pivot_y"]),
    )


def _look(
    layer: Layer, driven: dict[str, Floats], shape_text: TextShaper | None
) -> tuple[dict[str, Floats], Outlines | None]:
    """What of a layer's artwork changes over time: its looks, and its outline if that does."""
    artwork = layer.artwork
    if not isinstance(artwork, Painted):
        return {}, None
    moving = {
        n: shown_values(layer, n, driven[n] if n in driven else resting_samples(layer, n))
        for n in artwork.properties if n in layer.tracks or n in driven
    }  # fmt: skip

    def now(name: str) -> Floats:
        """A number of it over time, (F or 1,)."""
        found = moving.get(name)
        return np.array([float(getattr(artwork, name))]) if found is None else found[:, 0]

    part = now("drawn_from"), now("drawn_to"), now("drawn_shift")
    whole = bool(np.all(np.abs(part[1] - part[0]) >= 1))
    if not moving and whole and artwork.filled >= 1:
        return {}, None
    look = {name: each for name, each in moving.items() if PROPERTIES[name].drives == "paint" and "/" not in name}
    if artwork.filled < 1:
        look.setdefault("filled", np.array([[artwork.filled]]))
    for of in PAINTED:
        gradient = artwork.gradient(of)
        laid = gradient.rows(of, moving) if gradient is not None else None
        if laid is not None:
            look[f"{of}_ends"], look[f"{of}_stops"] = laid
    if any(PROPERTIES[name].owner == "dash" for name in moving):
        look["dash"] = _dashes(artwork, moving)
    shaping = {name: each for name, each in moving.items() if name in SHAPING}
    reshaping = any(PROPERTIES[name].drives == "grown" for name in moving)
    if whole and not shaping and not reshaping:
        return look, None
    rows = artwork.outline({n: v if n == "outline" else v[:, 0] for n, v in shaping.items()}, shape_text)
    outlines = artwork.reshaped(Outlines.alike(*rows), now("rounding"), now("grow"))
    if not whole:
        look["drawn"] = cuts_over_time(outlines, *part, artwork.drawn_in_turn)
    if not shaping and not reshaping:
        return look, None
    look["bounds"] = outlines.bounds()
    return look, outlines


def _dashes(artwork: Painted, moving: dict[str, Floats]) -> Floats:
    """The lengths of dashes and gaps over time, (F, n), an even number of them."""
    rows = [moving.get(f"dash/{n}/dash_length", np.array([[each]])) for n, each in enumerate(artwork.dash)]
    made = np.concatenate(np.broadcast_arrays(*rows), axis=1)
    return np.tile(made, 2) if made.shape[1] % 2 else made


def _beside(x: Floats, y: Floats) -> Floats:
    """Two columns (F or 1, 1) as one (F, 2)."""
    return np.concatenate(np.broadcast_arrays(x, y), axis=1)


def loose_value(track: AnyTrack, time: int) -> tuple[float, ...] | None:
    """The components of a track's loose value, if it has one of just this time."""
    loose = track.loose
    if loose is None or loose.time != time:
        return None
    return loose.value if isinstance(loose.value, tuple) else (loose.value,)


__all__ = [
    "REACH", "TRANSFORM", "NumberTrack", "Own", "OwnState", "Placed", "PlacedState", "loose_value", "own_matrix",
    "resting_samples", "spots_of", "within_reach",
]  # fmt: skip
