"""The ruler, and the frames that stepping from key to key goes through."""

from typing import Any, ClassVar

from deftarc.core.document import Layer, Scene
from deftarc.web.context import fragment
from deftarc.web.panels.axis import TimeAxis, ticks
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing


@PANELS.add
class RulerPanel(Panel):
    id: ClassVar[str] = "ruler"

    def __init__(self) -> None:
        self.stops_kept: dict[str, tuple[Layer, list[int]]] = {}
        self.ruler: tuple[Any, ...] | None = None

    def forget(self) -> None:
        self.ruler = None

    def answer(self, showing: Showing) -> Part:
        part = Part(head={"stops": self._stops(showing.scene, showing.look.layers)})
        self._ruler(part.fragments, showing.scene, showing.axis, showing.look.unit)
        return part

    def _stops(self, scene: Scene, selected: tuple[str, ...]) -> list[int]:
        """The frames of keys that stepping goes through: those of what is selected, else of all."""
        times: set[int] = set()
        chosen = set(selected)
        for layer in scene.layers:
            if chosen and layer.id not in chosen:
                continue
            kept = self.stops_kept.get(layer.id)
            if kept is None or kept[0] is not layer:
                every = {time for track in layer.tracks.values() for time in track.key_times}
                kept = self.stops_kept[layer.id] = (layer, sorted(every))
            times.update(kept[1])
        return sorted({scene.rate.nearest(time) for time in times})

    def _ruler(self, fragments: dict[str, str], scene: Scene, axis: TimeAxis, unit: str) -> None:
        now = (axis, scene.rate, scene.length, scene.play_range, unit)
        if self.ruler != now:
            self.ruler = now
            first, last = scene.play_range or (0, scene.length)
            fragments["ruler"] = fragment(
                "parts/ruler.svg", axis=axis, ticks=ticks(axis, scene.rate, unit), scene=scene, first=first, last=last
            )
