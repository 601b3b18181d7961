"""Markers: pennants above the ruler and on their layers' rows, and their list in the drawer."""

from dataclasses import dataclass
from typing import Any, ClassVar

from deftarc.core.base.time import time_label
from deftarc.core.document import Scene
from deftarc.core.document.marker import Marker
from deftarc.core.document.tags import TAGS
from deftarc.web.context import fragment
from deftarc.web.panels.axis import TimeAxis
from deftarc.web.panels.drawer import DRAWERS, Drawer
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing

#: Px that a letter of a name takes, and of the most that are drawn.
LETTER, MOST_LETTERS = 6.6, 24
#: More are not drawn one by one.
MOST_DRAWN = 800


@dataclass(frozen=True)
class Pennant:
    id: str
    layer: str
    tag: str
    x: float
    #: As much of its name as there is room for.
    name: str
    title: str


def pennants(markers: tuple[Marker, ...], layer: str, scene: Scene, axis: TimeAxis, unit: str) -> list[Pennant]:
    """Those in view, in order of time."""
    seen = [(m, axis.x(m.time)) for m in markers]
    seen = [(m, x) for m, x in seen if -20 <= x <= axis.width + 2][:MOST_DRAWN]
    out = []
    for k, (m, x) in enumerate(seen):
        room = (seen[k + 1][1] if k + 1 < len(seen) else axis.width) - x - 14
        fits = min(int(room / LETTER), MOST_LETTERS)
        name = m.name if len(m.name) <= fits else f"{m.name[: fits - 1]}…" if fits > 3 else ""
        told = time_label(m.time, scene.rate, unit)
        title = f"{m.name or 'Marker'}, {told}: a drag moves it, a double click names it"
        out.append(Pennant(m.id, layer, m.tag, round(x, 1), name, title))
    return out


@PANELS.add
class MarkersPanel(Panel):
    """The row of the scene's markers above the ruler; where there are none there is no row."""

    id: ClassVar[str] = "markers"

    def __init__(self) -> None:
        #: Whether the page shows it: that stays so, whatever else it is to be told anew.
        self.told = False

    def answer(self, showing: Showing) -> Part:
        scene = showing.scene
        told: list[dict[str, Any]] = [
            {"layer": owner, "id": m.id, "time": m.time, "name": m.name, "tag": m.tag}
            for owner, markers in ((None, scene.markers), *((layer.id, layer.markers) for layer in scene.layers))
            for m in markers
        ]
        if not scene.markers:
            shown, self.told = self.told, False
            return Part(head={"marks": told}, fragments={"marks": ""} if shown else {})
        self.told = True
        drawn = pennants(scene.markers, "", scene, showing.axis, showing.look.unit)
        html = fragment("parts/marks.svg", pennants=drawn, width=showing.axis.width)
        return Part(head={"marks": told}, fragments={"marks": html})


@dataclass(frozen=True)
class Row:
    marker: Marker
    layer: str
    whose: str
    told: str


@DRAWERS.add
class MarkersDrawer(Drawer):
    id: ClassVar[str] = "markers"

    def title(self, showing: Showing) -> str:
        count = len(self._rows(showing))
        return "Markers: none yet" if not count else "1 marker" if count == 1 else f"{count} markers"

    def _rows(self, showing: Showing) -> list[Row]:
        scene = showing.scene
        owners = [("", "", scene.markers)] + [(x.id, x.name, x.markers) for x in scene.layers if x.markers]
        rows = [
            Row(m, layer, whose, time_label(m.time, scene.rate, showing.look.unit))
            for layer, whose, markers in owners
            for m in markers
        ]
        return sorted(rows, key=lambda row: row.marker.time)

    def html(self, showing: Showing) -> str:
        rows = self._rows(showing)
        return fragment("parts/markers.html", rows=rows[:MOST_DRAWN], more=max(0, len(rows) - MOST_DRAWN), tags=TAGS)
