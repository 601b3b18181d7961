"""What evaluation gives: leaves and groups over time, in a tree. The one seam between the core and all that paints."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.matrices import six
from deftarc.core.document import Layer, Scene
from deftarc.core.document.effects import Values
from deftarc.core.evaluate.dots import Dots
from deftarc.core.spaces.outlines import Outlines

if TYPE_CHECKING:
    from deftarc.core.evaluate.smear import Smear


@dataclass(frozen=True, eq=False)
class EffectAt:
    """An effect over time: its id in its layer's list, its kind, and its numbers by the fields that keep them."""

    id: str
    kind: str
    values: Values


@dataclass(frozen=True, eq=False)
class MaskAt:
    """A mask over time: how it goes with those before it, whether it is turned inside out, its outlines in the px of
    what it masks (grown as it is), and its feather in those px and opacity, (F or 1,) each.
    """

    id: str
    mode: str
    inverted: bool
    rule: str
    outline: Outlines
    feather: Floats
    opacity: Floats


@dataclass(frozen=True, eq=False)
class MatteAt:
    """What something shows through: a branch of its own, drawn for that alone, by alpha or luma, perhaps inverted."""

    branch: "Branch"
    by: str
    inverted: bool


@dataclass(frozen=True, eq=False)
class Shown:
    """Of what lies in a scene that is shown within another: the layer it is there, None for that scene's ground."""

    layer: Layer | None
    scene: Scene


@dataclass(frozen=True, eq=False)
class Leaf:
    """One drawable thing over time: its layer's id, matrices (F or 1, 3, 3), opacities (F or 1,) in [0, 1]
    and the frames it shows in as a half-open stretch of the table's rows.

    ``look`` has what else changes: fill and stroke (F, 4) as encoded sRGB and alpha, or of gradients fill_ends (F, 4)
    and fill_stops (F, 5 · n), a share and a colour each; stroke_width and dash_offset (F, 1) and dash (F, n) in px;
    drawn (F, 2 · C), where the drawn part of each contour's line begins and ends (see spaces/drawn); and bounds (F, 4)
    beside an ``outline``. Masks come before effects, the ``matte`` after all but blending.
    """

    layer: str
    matrix: Floats
    opacity: Floats
    shows: tuple[int, int]
    look: dict[str, Floats] = field(default_factory=dict)
    outline: Outlines | None = None
    effects: tuple[EffectAt, ...] = ()
    blend: str = "normal"
    masks: tuple[MaskAt, ...] = ()
    matte: MatteAt | None = None
    #: It paints nothing itself and treats what lies beneath it in its group.
    wash: bool = False
    #: Rings or particles, which it shows instead of its drawing.
    dots: Dots | None = None
    #: Where it lies in a scene shown within this one: its name then leads there.
    shown: Shown | None = None


@dataclass(frozen=True, eq=False)
class Group:
    """Several put together by themselves, then laid on what is beneath as one: ``matrix`` is that of the px in which
    its effects are told. Being isolated, what is in it blends only with what is in it. A scene shown within this one is
    a group with a ``clip``: left, top, right and bottom in its own px, beyond which nothing of it shows.
    """

    layer: str
    children: "tuple[Leaf | Group, ...]"
    matrix: Floats
    opacity: Floats
    shows: tuple[int, int]
    effects: tuple[EffectAt, ...] = ()
    blend: str = "normal"
    clip: tuple[float, float, float, float] | None = None
    masks: tuple[MaskAt, ...] = ()
    matte: MatteAt | None = None


Branch = Leaf | Group


@dataclass(frozen=True, eq=False)
class FrameTable:
    """What shows, from the bottom up, at times (F,) in flicks. ``worlds`` has all layers' matrices, carriers' too."""

    times: Integers
    roots: tuple[Branch, ...]
    worlds: dict[str, Floats] = field(default_factory=dict)
    #: What smears as it moves, where anything does.
    smear: "Smear | None" = None

    @cached_property
    def by_name(self) -> dict[str, Branch]:
        """All leaves and groups by their names."""
        return {each.layer: each for each in self.every}

    @cached_property
    def every(self) -> tuple[Branch, ...]:
        """All leaves and groups, what only mattes show among them, each once."""
        return tuple({id(each): each for each in _walk_all(self.roots)}.values())

    @cached_property
    def leaves(self) -> tuple[Leaf, ...]:
        """All that is drawn, from the bottom up, whatever group it is in."""
        return tuple(each for each in walk(self.roots) if isinstance(each, Leaf))

    @cached_property
    def groups(self) -> tuple[Group, ...]:
        """All that is put together, those within others after them."""
        return tuple(each for each in walk(self.roots) if isinstance(each, Group))

    @property
    def branches(self) -> tuple[Branch, ...]:
        """All leaves, then all groups; those that only mattes show among them."""
        every = self.every
        return (*(x for x in every if isinstance(x, Leaf)), *(x for x in every if isinstance(x, Group)))

    def leaf(self, layer: str) -> Leaf | None:
        return next((each for each in self.leaves if each.layer == layer), None)


def walk(branches: tuple[Branch, ...]) -> Iterator[Branch]:
    """Every leaf and group of a tree, from the bottom up, a group before what is in it."""
    waiting = list(reversed(branches))
    while waiting:
        each = waiting.pop()
        yield each
        if isinstance(each, Group):
            waiting += reversed(each.children)


def _walk_all(branches: tuple[Branch, ...]) -> Iterator[Branch]:
    """As ``walk``, and what mattes show, after what shows through it; each once, however many show through it."""
    seen: set[int] = set()
    waiting = list(reversed(branches))
    while waiting:
        each = waiting.pop()
        yield each
        if isinstance(each, Group):
            waiting += reversed(each.children)
        if each.matte is not None and id(each.matte.branch) not in seen:
            seen.add(id(each.matte.branch))
            waiting.append(each.matte.branch)


#: Ends the name of what is drawn for a matte alone.
FOR_MATTE = "~"


def outermost(name: str) -> str:
    """The layer of the scene itself that a leaf or group belongs to, by its name."""
    return name.partition("/")[0].rstrip(FOR_MATTE)


def drawn_as(name: str) -> str:
    """Under which name its drawing is known."""
    return name.replace(FOR_MATTE, "")


def delivered(scene: Scene) -> Scene:
    """The scene as it is rendered: reference layers are for work only."""
    if not any(layer.reference for layer in scene.layers):
        return scene
    return scene.changed(
        layers=tuple(layer.changed(hidden=True) if layer.reference else layer for layer in scene.layers)
    )


def frame_times(scene: Scene, first: int = 0, count: int | None = None) -> Integers:
    """The times of frames first … first + count − 1; by default of the whole scene."""
    number = scene.frames - first if count is None else count
    return np.arange(first, first + number, dtype=np.int64) * scene.rate.flicks


def wire_rows(branch: Branch) -> npt.NDArray[np.float32]:
    """A leaf's or group's numbers for the wire, float32 (F or 1, 7): the six of its matrix, then its opacity."""
    count = max(len(branch.matrix), len(branch.opacity))
    rows = np.empty((count, 7), np.float32)
    rows[:, :6] = six(branch.matrix)
    rows[:, 6] = branch.opacity
    return rows
