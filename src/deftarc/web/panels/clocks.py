"""Clocks: where in its own time each layer that has one is, by frame, so that its lanes can show it."""

from typing import ClassVar

import numpy as np

from deftarc.core.evaluate.clocks import any_clock, clocks_of, inner_times
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing

#: Layers whose own time is shown in their lanes.
MOST = 60


@PANELS.add
class ClocksPanel(Panel):
    id: ClassVar[str] = "clocks"

    def answer(self, showing: Showing) -> Part:
        scene = showing.scene
        told = [(layer, clocks_of(scene, layer)) for layer in scene.layers] if any_clock(scene) else []
        here = [(layer, clocks) for layer, clocks in told if clocks][:MOST]
        names = []
        for layer, clocks in here:
            name = f"own {layer.id}"
            showing.columns.of_curve(
                name, (*clocks, scene.rate, scene.frames),
                lambda clocks=clocks: (
                    inner_times(clocks, showing.times.astype(np.float64)) / scene.rate.flicks
                )[:, None],
            )  # fmt: skip
            names.append(name)
        return Part(head={"clocks": [layer.id for layer, _ in here]}, columns=names)
