"""The ruler, and the frames that stepping from key to key goes through."""

from typing import Any, ClassVar

from deftarc.core.document import Scene
from deftarc.core.evaluate.clocks import clocks_of, key_frames
from deftarc.web.context import fragment
from deftarc.web.panels.axis import TimeAxis, ticks
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing


@PANELS.add
class RulerPanel(Panel):
    id: ClassVar[str] = "ruler"

    def __init__(self) -> None:
        self.stops_kept: dict[str, tuple[tuple[Any, ...], list[int]]] = {}
        self.ruler: tuple[Any, ...] | None = None

    def forget(self) -> None:
        self.ruler = None

    def answer(self, showing: Showing) -> Part:
        part = Part(head={"stops": self._stops(showing.scene, showing.look.layers)})
        self._ruler(part.fragments, showing.scene, showing.axis, showing.look.unit)
        return part

    def _stops(self, scene: Scene, selected: tuple[str, ...]) -> list[int]:
        """The frames of keys that stepping goes through: those of what is selected, else of all."""
        frames: set[int] = set()
        chosen = set(selected)
        for layer in scene.layers:
            if chosen and layer.id not in chosen:
                continue
            clocks = clocks_of(scene, layer)
            now = (layer, clocks, scene.rate, scene.frames)
            kept = self.stops_kept.get(layer.id)
            if kept is None or kept[0][0] is not layer or kept[0][1:] != now[1:]:
                kept = self.stops_kept[layer.id] = (now, key_frames(scene, layer))
            frames.update(kept[1])
        return sorted(frames)

    def _ruler(self, fragments: dict[str, str], scene: Scene, axis: TimeAxis, unit: str) -> None:
        now = (axis, scene.rate, scene.length, scene.play_range, unit)
        if self.ruler != now:
            self.ruler = now
            first, last = scene.play_range or (0, scene.length)
            fragments["ruler"] = fragment(
                "parts/ruler.svg", axis=axis, ticks=ticks(axis, scene.rate, unit), scene=scene, first=first, last=last
            )
