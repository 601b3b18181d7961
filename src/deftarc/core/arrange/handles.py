"""Handles on the picture for how a layer looks: where each lies in the layer's px, and what a drag of it changes.

A kind of handle is a function that lists those a layer has, and one that says what its properties become when one is
dragged to a place. Shares, directions and distances are worked out here, so that a hand on the page only says where it
is.
"""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from deftarc.core.arrange.nearest import place_at, share_near
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer
from deftarc.core.document.artwork import Bars, Painted, TextShaper
from deftarc.core.document.artwork.gradient import PAINTED
from deftarc.core.document.masks import Mask
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.outlines import Outlines

Spot = tuple[float, float]
Box = tuple[float, float, float, float]
#: What properties show at a moment, by name.
Values = dict[str, tuple[float, ...]]
#: What properties become, by name.
Moved = dict[str, tuple[float, ...]]
#: By what a blur's radius is drawn out, from where on, in the layer's px.
BLUR_OUT, BLUR_FROM = 2.0, 24.0
#: A share of a line this near to where a closed one begins may be its end.
AT_END = 0.02


@dataclass(frozen=True)
class Handle:
    """``at`` and where its ``stem`` begins lie in the layer's px; ``off`` is the way, in px of the screen, by which it
    is drawn beside its place so that nothing lies under it.
    """

    id: str
    at: Spot
    words: str
    stem: Spot | None = None
    off: Spot = (0.0, 0.0)
    #: What it looks like: a ring, a diamond, a bar; or a disc of a colour.
    form: str = "ring"
    colour: str = ""


@dataclass(frozen=True)
class Held:
    """What handles are made of: a layer, what its properties show, and the box of its artwork."""

    layer: Layer
    values: Values
    box: Box
    shape_text: TextShaper | None = None

    def number(self, name: str) -> float:
        return self.values[name][0]

    def outline(self) -> Outline | None:
        """The artwork's outline as it is then."""
        art = self.layer.artwork
        if not isinstance(art, Painted) or (art.kind == "text" and self.shape_text is None):
            return None
        given = {n: np.array([v]) if n == "outline" else np.array(v) for n, v in self.values.items()
                 if n in art.keyable and PROPERTIES[n].drives == "outline"}  # fmt: skip
        verbs, points = art.outline(given, self.shape_text)
        rounding, grow = (np.array(self.values[name]) for name in ("rounding", "grow"))
        return art.reshaped(Outlines.alike(verbs, points[:1]), rounding, grow).at(0)


Lists = Callable[[Held], Iterator[Handle]]
Moves = Callable[[Held, str, Spot], Moved]
_KINDS: dict[str, tuple[Lists, Moves]] = {}


def handles_of(held: Held) -> list[Handle]:
    """All handles of a layer."""
    return [each for lists, _ in _KINDS.values() for each in lists(held)]


def dragged(held: Held, handle: str, to: Spot) -> Moved:
    """What properties become when a handle is dragged to a place in the layer's px; Refusal where it is not there."""
    kind = handle.partition("/")[0]
    if kind not in _KINDS or all(each.id != handle for each in _KINDS[kind][0](held)):
        raise Refusal("This handle is not there any more.")
    moved = _KINDS[kind][1](held, handle, to)
    out: Moved = {}
    for name, value in moved.items():
        facts = PROPERTIES[name]
        out[name] = tuple(facts.held(part) for part in value) if facts.kind == "number" else value
    return out


# -- Shadows and blurs ------------------------------------------------------------------------------------------------


def _pivot(held: Held) -> Spot:
    left, top, right, bottom = held.box
    return (left + right) / 2, (top + bottom) / 2


def _turned(degrees: float, far: float) -> Spot:
    return math.cos(math.radians(degrees)) * far, math.sin(math.radians(degrees)) * far


def _near(degrees: float, before: float) -> float:
    """An angle within half a turn of another, so that what is dragged round goes on."""
    return degrees - 360 * round((degrees - before) / 360)


def _effects(held: Held) -> Iterator[Handle]:
    x, y = _pivot(held)
    for each in held.layer.effects:
        if not each.on:
            continue
        own = f"effect/{each.id}"
        if each.kind == "shadow":
            dx, dy = _turned(held.number(f"{own}/shadow_direction"), held.number(f"{own}/shadow_distance"))
            yield Handle(own, (x + dx, y + dy), "Shadow: drag where it falls", (x, y), (0, 0), "disc", "#1d2a35")
        elif each.kind == "blur" and each.told()["along"]:
            far = BLUR_FROM + BLUR_OUT * held.number(f"{own}/blur_radius")
            dx, dy = _turned(held.number(f"{own}/blur_angle"), far)
            yield Handle(own, (x + dx, y + dy), "Blur: drag its way and how far it goes", (x, y))
        elif each.kind == "crop":
            yield from _crop(held, own)


def _crop(held: Held, own: str) -> Iterator[Handle]:
    left, top, right, bottom = held.box
    a, b, c, d = (held.number(f"{own}/crop_{side}") for side in ("left", "top", "right", "bottom"))
    x1, x2 = left + a * (right - left), right - c * (right - left)
    y1, y2 = top + b * (bottom - top), bottom - d * (bottom - top)
    for side, at in (
        ("left", (x1, (y1 + y2) / 2)), ("right", (x2, (y1 + y2) / 2)),
        ("top", ((x1 + x2) / 2, y1)), ("bottom", ((x1 + x2) / 2, y2)),
    ):  # fmt: skip
        form = "bar-x" if side in ("left", "right") else "bar-y"
        yield Handle(f"{own}/{side}", at, f"Crop: drag the {side} edge", form=form)


def _effect_moved(held: Held, handle: str, to: Spot) -> Moved:
    _, name, *side = handle.split("/")
    own, each = f"effect/{name}", held.layer.effect(name)
    if side:
        return {f"{own}/crop_{side[0]}": (_edge(held.box, side[0], to),)}
    x, y = _pivot(held)
    far, degrees = math.hypot(to[0] - x, to[1] - y), math.degrees(math.atan2(to[1] - y, to[0] - x))
    if each.kind == "shadow":
        told = f"{own}/shadow_direction"
        return {told: (_near(degrees, held.number(told)),), f"{own}/shadow_distance": (far,)}
    told = f"{own}/blur_angle"
    radius = max(0.0, (far - BLUR_FROM) / BLUR_OUT)
    return {told: (_near(degrees, held.number(told)),), f"{own}/blur_radius": (radius,)}


def _edge(box: Box, side: str, to: Spot) -> float:
    """The share of a box by which an edge that is dragged to a place is moved in."""
    left, top, right, bottom = box
    wide, high = max(right - left, 1e-9), max(bottom - top, 1e-9)
    return {
        "left": (to[0] - left) / wide, "right": (right - to[0]) / wide,
        "top": (to[1] - top) / high, "bottom": (bottom - to[1]) / high,
    }[side]  # fmt: skip


# -- Masks ------------------------------------------------------------------------------------------------------------


def _side(held: Held, mask: Mask) -> Spot:
    """The rightmost place of a mask's outline."""
    numbers = held.values[mask.properties[0]]
    verbs, points = mask.traced(np.array([numbers]))
    box = Outline(verbs, points[0]).bounds()
    assert box is not None
    middle = points[0][np.argmax(points[0][:, 0])]
    return float(box[2]), float(middle[1])


def _feathers(held: Held) -> Iterator[Handle]:
    for mask in held.layer.masks:
        if not mask.on:
            continue
        x, y = _side(held, mask)
        x += held.number(f"mask/{mask.id}/mask_grow")
        soft = held.number(f"mask/{mask.id}/mask_feather")
        words = f"{mask.name}: drag how soft its edge is"
        yield Handle(f"mask/{mask.id}", (x + soft, y), words, (x, y), (14, 0), "feather")


def _feathered(held: Held, handle: str, to: Spot) -> Moved:
    mask = held.layer.mask(handle.split("/")[1])
    x, _ = _side(held, mask)
    x += held.number(f"mask/{mask.id}/mask_grow")
    return {f"mask/{mask.id}/mask_feather": (max(0.0, to[0] - x),)}


# -- Gradients --------------------------------------------------------------------------------------------------------


def gradient_ends(values: Values, of: str) -> tuple[Spot, Spot]:
    """Where the gradient of a fill or a stroke begins and ends."""
    x1, y1, x2, y2 = (values[f"gradient/{of}/gradient_{end}"][0] for end in ("x1", "y1", "x2", "y2"))
    return (x1, y1), (x2, y2)


def share_of(way: tuple[Spot, Spot], to: Spot) -> float:
    """The share of a straight way, or beyond its ends, that comes nearest to a place."""
    (x1, y1), (x2, y2) = way
    size = (x2 - x1) ** 2 + (y2 - y1) ** 2
    return ((to[0] - x1) * (x2 - x1) + (to[1] - y1) * (y2 - y1)) / size if size > 0 else 0.0


def _gradients(held: Held) -> Iterator[Handle]:
    art = held.layer.artwork
    if not isinstance(art, Painted):
        return
    for of in PAINTED:
        found = art.gradient(of)
        if found is None:
            continue
        first, second = gradient_ends(held.values, of)
        begins, ends = ("its middle", "its rim") if found.kind == "radial" else ("where it begins", "where it ends")
        yield Handle(f"gradient/{of}/1", first, f"Gradient of the {of}: drag {begins}", form="end")
        yield Handle(f"gradient/{of}/2", second, f"Gradient of the {of}: drag {ends}", first, form="end")
        for stop in found.stops:
            at = held.number(f"stop/{stop.id}/stop_at")
            x, y = first[0] + at * (second[0] - first[0]), first[1] + at * (second[1] - first[1])
            r, g, b, _ = held.values[f"stop/{stop.id}/stop_colour"]
            colour = "#" + "".join(f"{round(255 * min(1, max(0, part))):02x}" for part in (r, g, b))
            yield Handle(f"gradient/{of}/stop/{stop.id}", (x, y), "Stop: drag along the gradient", None, (0, -14),
                         "disc", colour)  # fmt: skip


def _gradient_moved(held: Held, handle: str, to: Spot) -> Moved:
    _, of, which, *stop = handle.split("/")
    if not stop:
        return {f"gradient/{of}/gradient_x{which}": (to[0],), f"gradient/{of}/gradient_y{which}": (to[1],)}
    return {f"stop/{stop[0]}/stop_at": (share_of(gradient_ends(held.values, of), to),)}


# -- What is drawn of a line ------------------------------------------------------------------------------------------


def is_stroked(layer: Layer) -> bool:
    """Whether a layer has a line, at any time."""
    return isinstance(layer.artwork, Painted) and (layer.artwork.stroked or "stroke" in layer.tracks)


def _drawn(held: Held) -> Iterator[Handle]:
    art = held.layer.artwork
    if not isinstance(art, Painted) or not is_stroked(held.layer):
        return
    outline = held.outline()
    if outline is None or not outline.verbs:
        return
    shift = held.number("drawn_shift")
    for end, words in (("from", "begins"), ("to", "ends")):
        at = place_at(outline, held.number(f"drawn_{end}") + shift, art.drawn_in_turn, end == "to")
        if at is not None:
            form = "end-from" if end == "from" else "end-to"
            yield Handle(f"drawn/{end}", at, f"Line: drag where its drawn part {words}", form=form)


def _drawn_moved(held: Held, handle: str, to: Spot) -> Moved:
    end = handle.split("/")[1]
    art, outline = held.layer.artwork, held.outline()
    assert isinstance(art, Painted)
    assert outline is not None
    now = held.number(f"drawn_{end}")
    share = share_near(outline, to, art.drawn_in_turn) - held.number("drawn_shift")
    share -= math.floor(share)
    # Where a closed line begins it ends: there it is the end that it is nearer to.
    ends = [share, *([1.0] if share < AT_END else []), *([0.0] if share > 1 - AT_END else [])]
    return {f"drawn_{end}": (min(ends, key=lambda each: abs(each - now)),)}


# -- Bars -------------------------------------------------------------------------------------------------------------


def _bars(held: Held) -> Iterator[Handle]:
    art = held.layer.artwork
    if not isinstance(art, Bars):
        return
    w, h = art.width / 2, art.height / 2
    for side, at in (
        ("left", (-w + held.number("bar_left") * art.width, 0.0)),
        ("right", (w - held.number("bar_right") * art.width, 0.0)),
        ("top", (0.0, -h + held.number("bar_top") * art.height)),
        ("bottom", (0.0, h - held.number("bar_bottom") * art.height)),
    ):
        form = "bar-x" if side in ("left", "right") else "bar-y"
        yield Handle(f"bars/{side}", at, f"Bars: drag the {side} one", form=form)


def _bars_moved(held: Held, handle: str, to: Spot) -> Moved:
    art, side = held.layer.artwork, handle.split("/")[1]
    assert isinstance(art, Bars)
    w, h = art.width / 2, art.height / 2
    return {f"bar_{side}": (_edge((-w, -h, w, h), side, to),)}


_KINDS.update(
    effect=(_effects, _effect_moved), mask=(_feathers, _feathered), gradient=(_gradients, _gradient_moved),
    drawn=(_drawn, _drawn_moved), bars=(_bars, _bars_moved),
)  # fmt: skip

__all__ = ["Handle", "Held", "dragged", "gradient_ends", "handles_of", "is_stroked", "share_of"]
