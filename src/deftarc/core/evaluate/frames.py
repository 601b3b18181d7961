"""What evaluation gives: items over time, in a table. The one seam between the core and all that paints."""

from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.matrices import six
from deftarc.core.document import Scene


@dataclass(frozen=True, eq=False)
class Item:
    """One drawable thing over time: its layer's id, matrices (F or 1, 3, 3), opacities (F or 1,) in [0, 1]
    and the frames it shows in as a half-open stretch of the table's rows.

    ``look`` has what else changes: fill and stroke (F, 4) as encoded sRGB and alpha, stroke_width and dash_offset
    (F, 1) in px, and bounds (F, 4) beside an ``outline`` of constant verbs with points (F, P, 2).
    """

    layer: str
    matrix: Floats
    opacity: Floats
    shows: tuple[int, int]
    look: dict[str, Floats] = field(default_factory=dict)
    outline: tuple[str, Floats] | None = None


@dataclass(frozen=True, eq=False)
class FrameTable:
    """Items from the bottom up, at times (F,) in flicks. ``worlds`` has the matrices of all layers, carriers too."""

    times: Integers
    items: tuple[Item, ...]
    worlds: dict[str, Floats] = field(default_factory=dict)

    def item(self, layer: str) -> Item | None:
        return next((item for item in self.items if item.layer == layer), None)


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


def wire_rows(item: Item) -> npt.NDArray[np.float32]:
    """An item's numbers for the wire, float32 (F or 1, 7): the six of its matrix, then its opacity."""
    count = max(len(item.matrix), len(item.opacity))
    rows = np.empty((count, 7), np.float32)
    rows[:, :6] = six(item.matrix)
    rows[:, 6] = item.opacity
    return rows
