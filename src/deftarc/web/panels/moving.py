"""Small pictures that move: some layers of a scene over some frames, packed for a page that plays them."""

from typing import Any

import numpy as np

from deftarc.app.snapping import boxes_of, items_of
from deftarc.core.arrange.family import needed_for
from deftarc.core.base.arrays import Integers
from deftarc.core.document import Project, Scene
from deftarc.core.evaluate import FrameTable, evaluate
from deftarc.formats.materials import Materials
from deftarc.formats.wire import table_parts


def moving(
    project: Project, scene: Scene, shown: set[str], first: int, times: Integers, materials: Materials
) -> tuple[dict[str, Any], list[bytes]]:
    """What is told of one such picture, its layers' table and what they sweep over in scene px; the table's parts."""
    # Of a large scene only what these hang on is worked out.
    needed = needed_for(scene, shown)
    scene = scene.changed(layers=tuple(layer for layer in scene.layers if layer.id in needed))
    table = evaluate(scene, times, materials.shaper.form, scenes=project.by_id)
    told, parts = table_parts(table, first, shown)
    return {"table": told, "bounds": bounds_of(scene, table, shown, materials)}, parts


def bounds_of(scene: Scene, table: FrameTable, shown: set[str], materials: Materials) -> list[float] | None:
    """What the layers sweep over, in scene px."""
    boxes = [np.empty((0, 4))]
    for item in items_of(scene, table):
        if item.layer in shown:
            count = len(item.matrix) if item.dots is None else len(table.times)
            rows = np.arange(0, count, max(1, count // 24))
            boxes.append(boxes_of(item, rows, scene.layer(item.layer), materials))
    every = np.concatenate(boxes)
    return [*every[:, :2].min(axis=0).tolist(), *every[:, 2:].max(axis=0).tolist()] if len(every) else None
