"""Scenes shown in scenes: which of their moments show when, and their leaves and groups as the outer scene has them."""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.limits import FURTHEST
from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.evaluate.clocks import Clocks, inner_pairs, inner_times, own_clock
from deftarc.core.evaluate.frames import Branch, Group, Leaf, Shown, outermost

Bools = npt.NDArray[np.bool_]
#: Parts a name from those of the layers that lead to it.
WITHIN = "/"


@dataclass(frozen=True, eq=False)
class Moments:
    """Which moments of an inner scene show: rising ones (m,) in flicks, which of them each row has (F,), and in which
    rows anything shows (F,).
    """

    times: Integers
    rows: npt.NDArray[np.intp]
    shows: Bools
    #: The moments of that scene which its own belong to (m,), where they are within frames.
    shown: Integers | None = None


def moments_of(layer: Layer, inner: Scene, times: Floats, above: Clocks, shown: Integers | None = None) -> Moments:
    """The moments of a scene that a layer shows at times (F,) in flicks; ``above`` are the clocks of its groups. With
    ``shown`` (F,), those of the frames they belong to, none lies beyond an end of that scene from there.
    """
    art = layer.artwork
    assert isinstance(art, SceneShown)
    clocks = (*above, *own_clock(layer))

    def there(at: Floats) -> Floats:
        return np.clip(
            at if len(clocks) > len(above) else art.begins + art.rate * (at - layer.start), -FURTHEST, FURTHEST
        )

    if shown is None:
        inside, shows = folded(there(inner_times(clocks, times)), inner.length, inner.rate.flicks, art)
        found, rows = np.unique(np.round(inside).astype(np.int64), return_inverse=True)
        return Moments(found, rows, shows)
    at, frames = (there(each) for each in inner_pairs(clocks, times, shown.astype(np.float64)))
    if art.goes_on in ("once", "repeat"):
        turn = np.floor(frames / inner.length) * inner.length
        at = np.clip(at, turn, turn + inner.length - 1)
    inside, shows = folded(at, inner.length, inner.rate.flicks, art)
    found, first, rows = np.unique(np.round(inside).astype(np.int64), return_index=True, return_inverse=True)
    belong = folded(frames, inner.length, inner.rate.flicks, art)[0][first]
    return Moments(found, rows, shows, np.round(belong).astype(np.int64))


def folded(told: Floats, length: int, frame: int, art: SceneShown) -> tuple[Floats, Bools]:
    """Moments (F,) as they lie within a scene of that length, and where anything shows. What stays past an end is the
    first frame, or the last.
    """
    everywhere = np.ones(len(told), bool)
    last = max(length - frame, 0)
    if art.goes_on == "once":
        return np.clip(told, 0, last), (told >= 0) & (told < length)
    if art.goes_on == "hold":
        return np.clip(told, 0, last), everywhere
    if art.plays is not None:
        # After the last play the picture stays as it was left, and before the first as it begins.
        told = np.clip(told, 0, max(art.plays * length - frame, 0))
    turn = np.floor(told / length)
    inside = told - turn * length
    if art.goes_on == "alternate":
        inside = np.where(turn % 2 == 1, length - inside, inside)
    return np.clip(inside, 0, length - 1), everywhere


def ground_of(layer: Layer, inner: Scene) -> tuple[str, str] | None:
    """The name of what stands for an inner scene's background, and its colour; None where none shows."""
    shows = isinstance(layer.artwork, SceneShown) and layer.artwork.ground
    return None if inner.background is None or not shows else (f"{layer.id}{WITHIN}", inner.background)


class Inlaid:
    """What one scene layer showed last, kept as long as nothing it is made of is another."""

    def __init__(self) -> None:
        self.known: dict[str, tuple[tuple[object, ...], Branch]] = {}
        self.moments: tuple[tuple[object, ...], Moments] | None = None

    def branches(
        self, layer: Layer, inner: Scene, roots: tuple[Branch, ...], moments: Moments, world: Floats
    ) -> tuple[Branch, ...]:
        """The inner scene's branches, from the bottom up, as rows of the outer one's table."""
        art = layer.artwork
        assert isinstance(art, SceneShown)
        home = np.eye(3)
        home[:2, 2] = -inner.width / 2, -inner.height / 2
        count = len(moments.rows)
        out: list[Branch] = []
        ground = ground_of(layer, inner)
        if ground is not None:
            out.append(self._kept(ground[0], (world, inner.background, inner.width, inner.height, count), lambda: Leaf(
                ground[0], world, np.ones(1), (0, count), shown=Shown(None, inner)
            )))  # fmt: skip
        out += [self._laid(each, layer.id, moments, world, home, inner) for each in roots]
        return tuple(out)

    def _kept(self, name: str, told: tuple[object, ...], make: "object") -> Branch:
        known = self.known.get(name)
        if known is not None and len(known[0]) == len(told) and all(
            a is b or (isinstance(a, int | str) and a == b) for a, b in zip(known[0], told, strict=True)
        ):  # fmt: skip
            return known[1]
        made: Branch = make()  # type: ignore[operator]
        self.known[name] = (told, made)
        return made

    def _laid(self, branch: Branch, path: str, moments: Moments, world: Floats, home: Floats, inner: Scene) -> Branch:
        name = f"{path}{WITHIN}{branch.layer}"
        if isinstance(branch, Group):
            children = tuple(self._laid(each, path, moments, world, home, inner) for each in branch.children)
            told: tuple[object, ...] = (branch, moments, world, *children)
        else:
            children, told = (), (branch, moments, world)
        matte = None
        if branch.matte is not None:
            through = self._laid(branch.matte.branch, path, moments, world, home, inner)
            matte, told = replace(branch.matte, branch=through), (*told, through)

        def make() -> Branch:
            matrix = _rows(world, len(moments.rows)) @ home @ _of(branch.matrix, moments)
            first, last = branch.shows
            rows = moments.rows
            seen = (rows >= first) & (rows < last) & moments.shows
            opacity = np.where(seen, _of(branch.opacity, moments), 0.0)
            where = np.flatnonzero(seen)
            shows = (int(where[0]), int(where[-1]) + 1) if len(where) else (0, 0)
            effects = tuple(
                replace(each, values={key: _of(value, moments) for key, value in each.values.items()})
                for each in branch.effects
            )
            masks = tuple(
                replace(
                    each,
                    outline=each.outline.taken(moments.rows),
                    feather=_of(each.feather, moments),
                    opacity=_of(each.opacity, moments),
                )
                for each in branch.masks
            )
            if isinstance(branch, Group):
                return replace(
                    branch,
                    layer=name,
                    children=children,
                    matrix=matrix,
                    opacity=opacity,
                    shows=shows,
                    effects=effects,
                    masks=masks,
                    matte=matte,
                )
            outline = branch.outline and branch.outline.taken(moments.rows)
            dots = branch.dots and branch.dots.taken(moments.rows)
            shown = branch.shown or Shown(inner.layer(outermost(branch.layer)), inner)
            look = {key: _of(value, moments) for key, value in branch.look.items()}
            return replace(
                branch, layer=name, matrix=matrix, opacity=opacity, shows=shows, effects=effects, outline=outline,
                masks=masks, matte=matte, look=look, shown=shown, dots=dots,
            )  # fmt: skip

        return self._kept(name, told, make)


def _of(rows: Floats, moments: Moments) -> Floats:
    """Rows over the inner moments as rows over the outer ones; what is constant stays one row."""
    return rows if len(rows) == 1 else rows[moments.rows]


def _rows(matrices: Floats, count: int) -> Floats:
    return matrices if len(matrices) == 1 else matrices[:count]
