"""Motion blur: what smears as it moves, at moments within each frame's shutter, as many as it moves far.

Whatever moves it is in it: these are moments like any others, and all that drives a layer is asked for them.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.document import Scene
from deftarc.core.document.artwork import TextShaper
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.evaluate.evaluator import Evaluator, Scenes
from deftarc.core.evaluate.frames import Branch, FrameTable, Group, Leaf, drawn_as

#: Px of the way between two moments of a frame; the fewest and the most of these; px that are no way.
PX, FEWEST, MOST, STILL = 2.0, 8, 64, 0.2
#: Moments of a shutter that are looked at for how far things move.
LOOKED_AT = 5
#: A layer's furthest corner from its origin, by the name its leaf has, in its px.
Reach = Callable[[str], float]


@dataclass(frozen=True, eq=False)
class Smear:
    """What smears: in ``table``, at the rows (F, often) that each frame's moments are; and by name, how many of these
    show at each frame, (F,): 1 where it does not move.
    """

    table: FrameTable
    moments: Integers
    counts: dict[str, Integers]

    @property
    def often(self) -> int:
        return self.moments.shape[1]

    def rows(self, name: str, row: int) -> list[int]:
        """The rows of the table that show at a frame, evenly apart; none where nothing smears then."""
        counts = self.counts.get(name)
        frame = min(row, len(self.moments) - 1)
        if counts is None or counts[frame] <= 1:
            return []
        step = self.often // int(counts[frame])
        return [int(each) for each in self.moments[frame, step // 2 :: step]]


def smearing(scene: Scene) -> frozenset[str]:
    """The layers of a scene that smear while its shutter is open."""
    if not scene.shutter.on or scene.shutter.angle <= 0:
        return frozenset()
    return frozenset(layer.id for layer in scene.layers if layer.smears and not layer.hidden)


def may_smear(scene: Scene, scenes: Scenes | None) -> bool:
    """Whether anything smears while a scene's shutter is open, in it or in a scene that it shows."""
    if not scene.shutter.on or scene.shutter.angle <= 0:
        return False
    due, known = [scene], {scene.id}
    for each in due:
        for layer in each.layers:
            if layer.hidden:
                continue
            if layer.smears:
                return True
            art = layer.artwork
            inner = scenes.get(art.scene) if scenes and isinstance(art, SceneShown) else None
            if inner is not None and inner.id not in known:
                known.add(inner.id)
                due.append(inner)
    return False


class Smearer:
    """Smears scenes, one after the other, keeping what an edit did not touch."""

    def __init__(self, shape_text: TextShaper | None = None) -> None:
        self._looking, self._fine = Evaluator(shape_text), Evaluator(shape_text)

    def smear(
        self, scene: Scene, times: npt.ArrayLike, scenes: Scenes | None, reach: Reach, most: int = MOST
    ) -> Smear | None:
        """What smears at frames that show at some times, in flicks, by at most so many moments each; None where nothing
        does.
        """
        names = smearing(scene)
        at = np.asarray(times, np.int64)
        if not len(at) or not may_smear(scene, scenes):
            return None
        self._looking.scenes = self._fine.scenes = scenes or {}
        # Not quite to its end, which may be where the next one's begins.
        looked, places = self._at(self._looking, scene, at, np.linspace(0, 1 - 1e-6, LOOKED_AT))
        found = {each.layer: _way(each, places, reach) for each in looked.every if _smears(each, names)}
        counts = {name: np.minimum(_counts(way), most) for name, way in found.items()}
        often = int(max((int(each.max()) for each in counts.values()), default=1))
        if often <= 1:
            return None
        table, moments = self._at(self._fine, scene, at, (np.arange(often) + 0.5) / often)
        return Smear(table, moments, counts)

    @staticmethod
    def _at(evaluator: Evaluator, scene: Scene, times: Integers, shares: Floats) -> tuple[FrameTable, Integers]:
        """The table at shares (n,) of the shutter of all frames, each moment once and in order, and its rows (F, n).

        Only movement smears: what jumps, comes or goes while the shutter is open is as the frame itself has it.
        """
        shutter = scene.shutter
        offsets = (shutter.phase + shares * shutter.angle) / 360 * scene.rate.flicks
        each = np.round(times[:, None] + offsets).astype(np.int64)
        moments, places = np.unique(each, return_inverse=True)
        shown = np.empty(len(moments), np.int64)
        shown[places.ravel()] = np.repeat(times, len(shares))
        return evaluator.table(scene, moments, shown), places.reshape(each.shape).astype(np.int64)


def _smears(branch: Branch, names: frozenset[str]) -> bool:
    if isinstance(branch, Leaf) and branch.shown is not None:
        # In a scene that is shown within this one: by what it is there.
        return branch.shown.layer is not None and branch.shown.layer.smears
    return drawn_as(branch.layer) in names


def _counts(way: Floats) -> Integers:
    """How many moments a way of so many px takes: powers of two, so that fewer are among the more."""
    wish = np.clip(way / PX, FEWEST, MOST)
    return np.where(way <= STILL, 1, 2 ** np.ceil(np.log2(wish)).astype(np.int64))


def _way(branch: Branch, places: Integers, reach: Reach) -> Floats:
    """How far the furthest of a branch moves during each frame's shutter, in px (F,), and what else of it changes as if
    it moved; ``places`` (F, n) are the rows of the moments that are looked at.
    """
    if isinstance(branch, Group):
        ways = [_way(each, places, reach) for each in branch.children]
        return np.max([np.zeros(len(places)), *ways], axis=0)
    far = reach(drawn_as(branch.layer))
    if "bounds" in branch.look:
        box = np.abs(branch.look["bounds"]).max(axis=0)
        far = float(np.hypot(max(box[0], box[2]), max(box[1], box[3])))
    elif branch.dots is not None:
        far = branch.dots.furthest()
    way = _moved(branch.matrix, far, places)
    if branch.outline is not None and branch.outline.rows > 1:
        size = float(np.abs(branch.matrix[:, :2, :2]).max())
        bounds = (
            branch.outline.grid.reshape(branch.outline.rows, -1) if branch.outline.even else branch.outline.bounds()
        )
        way = way + _steps(bounds, places).max(axis=1) * size
    if branch.dots is not None:
        # Each has a speed of its own: as if they went as far as many do.
        here = branch.dots.counts[places].any(axis=1)
        way = way + np.where(here, FEWEST * 2 * PX, 0.0)
    for rows in (branch.opacity[:, None], *(each for effect in branch.effects for each in effect.values.values())):
        if len(rows) > 1:
            way = way + np.where(_steps(rows, places).max(axis=1) > 1e-3, FEWEST * PX, 0.0)
    return way


def _steps(rows: Floats, places: Integers) -> Floats:
    """How far each number goes during each frame's shutter, (F, n)."""
    return np.asarray(np.abs(np.diff(rows[places], axis=1)).sum(axis=1))


def _moved(matrix: Floats, far: float, places: Integers) -> Floats:
    if len(matrix) == 1:
        return np.zeros(len(places))
    steps = np.diff(matrix[places], axis=1)
    place = np.hypot(steps[:, :, 0, 2], steps[:, :, 1, 2])
    # The larger singular value: how far a place a px away goes at most.
    a, b, c, d = steps[:, :, 0, 0], steps[:, :, 0, 1], steps[:, :, 1, 0], steps[:, :, 1, 1]
    turn = 0.5 * (np.hypot(a + d, b - c) + np.hypot(a - d, b + c)) * far
    return np.asarray((place + turn).sum(axis=1))


__all__ = ["Smear", "Smearer", "may_smear"]
