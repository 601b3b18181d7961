"""All saved motions there are for a project: its own, those kept for all projects, and those that ship."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from deftarc.app.snapping import box_of, items_of
from deftarc.core.arrange.family import led_by
from deftarc.core.base.errors import unknown
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.motion import SavedMotion
from deftarc.core.evaluate import carried_by, evaluate, matrix_at
from deftarc.core.words.shipped_motions import shipped
from deftarc.formats.materials import Materials

Where = Literal["project", "everywhere", "shipped"]


@dataclass(frozen=True)
class Entry:
    where: Where
    motion: SavedMotion


def library(project: Project | None, everywhere: Sequence[SavedMotion]) -> Iterator[Entry]:
    """The motions there are, one's own first, the newest before older ones."""
    for motion in reversed(project.motions if project is not None else ()):
        yield Entry("project", motion)
    for motion in reversed(everywhere):
        yield Entry("everywhere", motion)
    for motion in shipped():
        yield Entry("shipped", motion)


def found(project: Project | None, everywhere: Sequence[SavedMotion], where: Where, name: str) -> SavedMotion:
    """The motion of a name in one of these places; UnknownThing when there is none."""
    for entry in library(project, everywhere):
        if (entry.where, entry.motion.name) == (where, name):
            return entry.motion
    raise unknown("saved motion", name)


def across(scene: Scene, layer: Layer, time: int, materials: Materials) -> float:
    """How large a layer is across its corners at a time, in px of what carries it; of one that is made of others, all
    of them together. 0 where nothing of it shows.
    """
    if "empty" not in layer.artwork.traits:
        left, top, right, bottom = materials.of_layer(layer).bounds()
        linear = matrix_at(scene, layer, time, bare=True)[:2, :2]
        width, height = float(np.hypot(*linear[:, 0])), float(np.hypot(*linear[:, 1]))
        return float(np.hypot((right - left) * width, (bottom - top) * height))
    inner = led_by(scene, [layer.id])
    items = items_of(scene, evaluate(scene, np.array([time]), materials.shaper.form))
    boxes = [box_of(each, 0, scene.layer(each.layer), materials) for each in items if each.layer in inner]
    rows = np.array([box for box in boxes if box is not None])
    if not len(rows):
        return 0.0
    left, top = rows[:, :2].min(axis=0)
    right, bottom = rows[:, 2:].max(axis=0)
    size = abs(float(np.linalg.det(carried_by(scene, layer, time)[:2, :2]))) ** 0.5
    return float(np.hypot(right - left, bottom - top)) / size if size else 0.0
