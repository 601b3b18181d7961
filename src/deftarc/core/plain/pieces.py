"""What a scene leaves as: leaves and heaps from the bottom up, each with what moves it and its looks as lanes."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.evaluate import Branch, FrameTable, Group, Leaf
from deftarc.core.plain.inside import Inside, agree
from deftarc.core.plain.lanes import Lane, sampled, stepped
from deftarc.core.plain.levels import NEAR, NEAR_SHARE, Level, Levels
from deftarc.core.spaces.drawn import drawn_part
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.outlines import Outlines

#: Shares of 255 that a colour may be off.
NEAR_COLOUR = 0.4 / 255


@dataclass(frozen=True, eq=False)
class Forms:
    """An outline over time: as points (K, 2 · P) that go from key to key while its ``verbs`` stay, or another at each
    of some moments.
    """

    lane: Lane
    verbs: str = ""
    #: Where the verbs change: the outline of each key of the lane, which then has only their numbers.
    each: Outlines | None = None


@dataclass(frozen=True, eq=False)
class Piece:
    """Something drawn: its leaf, what moves it from the place of what it lies in, and its looks."""

    leaf: Leaf
    layer: Layer | None
    levels: tuple[Level, ...]
    opacity: Lane
    shows: Lane
    look: dict[str, Lane] = field(default_factory=dict)
    form: Forms | None = None
    matte: "Piece | Heap | None" = None


@dataclass(frozen=True, eq=False)
class Heap:
    """Several put together and laid on as one; what is in it lies in its px where it has a clip, else in those it lies
    in itself.
    """

    group: Group
    layer: Layer | None
    levels: tuple[Level, ...]
    opacity: Lane
    shows: Lane
    children: "tuple[Piece | Heap, ...]"
    matte: "Piece | Heap | None" = None
    #: Whether what is in it lies in its px.
    own: bool = False


Thing = Piece | Heap


class Pieces:
    """Makes pieces of a table of consecutive frames."""

    def __init__(self, scene: Scene, table: FrameTable, reach: float, scenes: Callable[[str], Scene | None]) -> None:
        self.scene, self.table, self.scenes = scene, table, scenes
        self.times = table.times
        self.at = table.times.astype(np.float64)
        self.levels = Levels(scene, table.times, reach)
        self._by_id = {layer.id: layer for layer in scene.layers}

    def of(self, branch: Branch, base: Floats | None = None, inside: Inside | None = None) -> Thing:
        """A branch of the table; ``base`` are the matrices (F or 1, 3, 3) of the px it is to lie in, None for the
        scene's, ``inside`` the scene it is in, where that is shown in another and goes evenly.
        """
        layer = self._by_id.get(branch.layer.rstrip("~")) if "/" not in branch.layer else None
        if layer is not None and base is None:
            levels = self.levels.over(layer)
            opacity = self._opacity(layer, branch)
        else:
            levels, opacity = self._relative(branch, base, inside)
        matte = self.of(branch.matte.branch, base, inside) if branch.matte is not None else None
        shows = self._shows(branch)
        if isinstance(branch, Group):
            inner, scene = (branch.matrix, self._shown(branch, inside)) if branch.clip is not None else (base, inside)
            children = tuple(self.of(each, inner, scene) for each in branch.children)
            if branch.clip is not None:
                return Heap(branch, layer, levels, opacity, shows, children, matte, own=True)
            moved = self._moved_by(levels, children) if branch.effects or branch.masks else None
            return Heap(branch, layer, levels, opacity, shows, moved or children, matte, own=moved is not None)
        return Piece(branch, layer, levels, opacity, shows, self._look(branch), self._form(branch), matte)

    @staticmethod
    def _moved_by(levels: tuple[Level, ...], children: tuple[Thing, ...]) -> tuple[Thing, ...] | None:
        """Members of a group as they lie in its px, where it carries all of them; None where it does not."""
        count = len(levels)
        for each in children:
            carried = len(each.levels) >= count and all(a is b for a, b in zip(levels, each.levels, strict=False))
            if not carried or (isinstance(each, Heap) and not each.own):
                return None
        return tuple(replace(each, levels=each.levels[count:]) for each in children)

    def _shown(self, branch: Branch, inside: Inside | None) -> Inside | None:
        """The scene that a branch shows, where it goes evenly."""
        around = self.scene if inside is None else inside.scene
        if inside is None and "/" in branch.layer:
            return None
        name = branch.layer.rpartition("/")[2].rstrip("~")
        layer = next((each for each in around.layers if each.id == name), None)
        inner = (
            self.scenes(layer.artwork.scene) if layer is not None and isinstance(layer.artwork, SceneShown) else None
        )
        if layer is None or inner is None:
            return None
        first, pace = (0.0, 1.0) if inside is None else (inside.first, inside.pace)
        return Inside.of(layer, around, inner, self.at, self.levels.reach, first, pace)

    def _relative(self, branch: Branch, base: Floats | None, inside: Inside | None) -> tuple[tuple[Level, ...], Lane]:
        """What moves a branch within px that move themselves, and how much of it shows: by the keys of its layer, where
        these come to what shows, else as samples.
        """
        matrices = self._matrices(branch, base)
        shares = self._rows(branch.opacity)
        layer = inside.layer(branch) if inside is not None and base is not None else None
        first, last = branch.shows
        if inside is not None and layer is not None and last > first:
            shown = slice(first, last)
            told = np.broadcast_to(matrices, (len(self.at), 3, 3))[shown]
            levels, opacity = inside.over(layer), inside.opacity(layer)
            if agree(levels, told, self.at[shown], self.levels.reach):
                if np.abs(opacity.at(self.at[shown])[:, 0] - shares[shown]).max() > 2 * NEAR_SHARE:
                    opacity = sampled(self.at, shares[:, None], NEAR_SHARE)
                return levels, opacity
        name = branch.layer
        return (self.levels.taken_apart(name, name, matrices),), sampled(self.at, shares[:, None], NEAR_SHARE)

    def _matrices(self, branch: Branch, base: Floats | None) -> Floats:
        """Where a branch is in px that move themselves."""
        matrices = branch.matrix
        if base is not None:
            flat = np.abs(np.linalg.det(base[:, :2, :2])) < 1e-12
            turned = np.zeros_like(base)
            turned[~flat] = np.linalg.inv(base[~flat])
            count = max(len(base), len(matrices))
            told = np.broadcast_to(matrices, (count, 3, 3))
            matrices = np.broadcast_to(turned, (count, 3, 3)) @ told
            if flat.any() and len(base) > 1:
                # While what it lies in has no size it may be anywhere: as it is nearest to that.
                good = np.flatnonzero(~flat)
                if len(good):
                    nearest = good[np.abs(np.arange(count)[:, None] - good).argmin(axis=1)]
                    matrices = matrices[nearest]
        return matrices

    def _rows(self, rows: Floats) -> Floats:
        return np.broadcast_to(rows, (len(self.times), *rows.shape[1:]))

    def _opacity(self, layer: Layer, branch: Branch) -> Lane:
        if len(branch.opacity) == 1:
            return Lane.still(float(branch.opacity[0]))
        handed = any(each.hands_opacity for each in self.scene.ancestors(layer))
        if not handed and layer.later is None:
            lane = self.levels.number(layer, "opacity", NEAR_SHARE)
            if lane.exact:
                return lane
        return sampled(self.at, self._rows(branch.opacity)[:, None], NEAR_SHARE)

    def _shows(self, branch: Branch) -> Lane:
        first, last = branch.shows
        rows = np.zeros((len(self.times), 1))
        rows[first:last] = 1.0
        return stepped(self.at, rows)

    def _look(self, leaf: Leaf) -> dict[str, Lane]:
        out: dict[str, Lane] = {}
        for name, rows in leaf.look.items():
            if name in ("bounds", "drawn"):
                continue
            if name.endswith("_ends"):
                # Its length besides, which does not go evenly where its ends do.
                rows = np.concatenate([rows, np.hypot(*(rows[:, 2:] - rows[:, :2]).T)[:, None]], axis=1)
            near = NEAR_COLOUR if name in ("fill", "stroke", "filled") or name.endswith("_stops") else NEAR
            out[name] = sampled(self.at, self._rows(rows), near) if len(rows) > 1 else Lane.still(*rows[0])
        return out

    def _form(self, leaf: Leaf) -> Forms | None:
        return forms_of(self.at, leaf.outline) if leaf.outline is not None else None


def forms_of(times: Floats, outlines: Outlines, near: float = NEAR) -> Forms:
    """Outlines at rising times as few as a tolerance allows."""
    if outlines.even:
        grid = outlines.grid
        rows = grid.reshape(len(grid), -1)
        lane = sampled(times, rows, near) if len(rows) > 1 else Lane.still(*rows[0])
        return Forms(lane, outlines.verbs[0])
    # Told apart by their numbers, and by how many there are.
    new = [0]
    for k in range(1, outlines.rows):
        one, two = outlines.at(new[-1]), outlines.at(k)
        if one.verbs != two.verbs or not np.array_equal(one.points, two.points):
            new.append(k)
    chosen = np.array(new)
    lane = stepped(times[chosen], np.arange(len(new), dtype=np.float64)[:, None])
    return Forms(lane, each=outlines.taken(chosen))


def cut_forms(times: Floats, leaf: Leaf, still: Outline) -> Forms:
    """What is drawn of a leaf's outline, or of one that stays, at each of some moments."""
    rows = leaf.look["drawn"]
    outline = leaf.outline
    count = max(len(rows), outline.rows if outline is not None else 1)
    parts = []
    for k in range(count):
        whole = still if outline is None else outline.at(k)
        parts.append(drawn_part(whole, rows[min(k, len(rows) - 1)].reshape(-1, 2)))
    made = Outlines.each(parts)
    if made.rows == 1:
        return Forms(Lane.still(*made.at(0).points.reshape(-1)), made.at(0).verbs)
    return forms_of(times, made)


def every(things: tuple[Thing, ...]) -> Iterator[Thing]:
    """All pieces and heaps, those that only mattes show among them."""
    for each in things:
        yield each
        if isinstance(each, Heap):
            yield from every(each.children)
        if each.matte is not None:
            yield from every((each.matte,))


__all__ = ["NEAR_COLOUR", "Forms", "Heap", "Piece", "Pieces", "Thing", "cut_forms", "every", "forms_of"]
