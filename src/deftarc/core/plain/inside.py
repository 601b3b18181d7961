"""Layers of scenes that are shown in another: moved by their own keys, told in the time of the outermost scene.

That goes as long as a scene runs evenly where it shows. Whether what comes of it is what shows is looked at, frame by
frame: where a scene repeats, is held, or runs backwards, its layers leave as samples.
"""

from dataclasses import replace
from typing import Self

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.evaluate import Branch
from deftarc.core.evaluate.clocks import clocks_of
from deftarc.core.plain.lanes import Lane
from deftarc.core.plain.levels import NEAR, NEAR_SHARE, Level, Levels, matrices_of

#: How far a layer may be where it is not: px. What is kept of samples may be off by less, each level by itself.
OFF = 4 * NEAR


class Inside:
    """A scene within another: its layers' levels over the outer scene's frames ``at`` (F,) in flicks. A moment u of its
    own is ``first`` + ``pace`` · u out there.
    """

    def __init__(self, scene: Scene, levels: Levels, first: float, pace: float, home: tuple[float, float]) -> None:
        self.scene, self.levels, self.first, self.pace = scene, levels, first, pace
        #: Where its top left is in the px of the layer that shows it.
        self.home = Level(
            "", "", Lane.still(*home), Lane.still(0.0), Lane.still(0.0, 0.0), Lane.still(1.0, 1.0), Lane.still(0.0, 0.0)
        )
        self._by_id = {layer.id: layer for layer in scene.layers}
        self._known: dict[int, tuple[Level, Level]] = {}

    @classmethod
    def of(
        cls, layer: Layer, scene: Scene, inner: Scene, at: Floats, reach: float, first: float = 0.0, pace: float = 1.0
    ) -> Self | None:
        """What a layer of a scene shows, whose own moments are ``first`` + ``pace`` · u out there; None where it does
        not go evenly, or is too short to tell.
        """
        art = layer.artwork
        if not isinstance(art, SceneShown) or art.rate <= 0 or "clock" in layer.tracks or clocks_of(scene, layer):
            return None
        told = art.begins + art.rate * ((at - first) / pace - layer.start)
        shown = np.unique(np.round(told[(told >= 0) & (told <= inner.length)])).astype(np.int64)
        if len(shown) < 2:
            return None
        levels = Levels(inner, shown, reach)
        pace_in = pace / art.rate
        first_in = first + pace * layer.start - pace_in * art.begins
        return cls(inner, levels, first_in, pace_in, (-inner.width / 2, -inner.height / 2))

    def layer(self, branch: Branch) -> Layer | None:
        return self._by_id.get(branch.layer.rpartition("/")[2].rstrip("~"))

    def over(self, layer: Layer) -> tuple[Level, ...]:
        """From the outermost carrier to the layer itself, in the px of what shows its scene."""
        return (self.home, *(self._outside(level) for level in self.levels.over(layer)))

    def opacity(self, layer: Layer) -> Lane:
        return self._lane(self.levels.number(layer, "opacity", NEAR_SHARE))

    def _outside(self, level: Level) -> Level:
        found = self._known.get(id(level))
        if found is None:
            parts = {
                name: self._lane(getattr(level, name)) for name in ("position", "rotation", "skew", "scale", "pivot")
            }
            travel = level.travel and replace(level.travel, distance=self._lane(level.travel.distance))
            split = level.split and {name: (self._lane(x), self._lane(y)) for name, (x, y) in level.split.items()}
            made = Level(level.id, level.name, **parts, travel=travel, split=split)
            found = self._known[id(level)] = (level, made)
        return found[1]

    def _lane(self, lane: Lane) -> Lane:
        return replace(lane, times=self.first + self.pace * lane.times) if lane.moves else lane


def agree(levels: tuple[Level, ...], matrices: Floats, times: Floats, reach: float) -> bool:
    """Whether levels come to matrices (F, 3, 3) at times (F,), for things ``reach`` px large."""
    made = np.broadcast_to(np.eye(3), (len(times), 3, 3))
    for level in levels:
        if level.travel is not None:
            gone = np.abs(level.travel.spots(level.travel.distance.at(times)[:, 0]) - level.position.at(times))
            if gone.max() > OFF:
                return False
        made = made @ matrices_of(level, times)
    off = np.abs(made - matrices)
    return bool(off[:, :2, 2].max() <= OFF and off[:, :2, :2].max() * reach <= OFF)


__all__ = ["Inside", "agree"]
