"""Ties: thin brackets between the rows whose timings hold together, and their list in the drawer."""

from dataclasses import dataclass
from typing import Any, ClassVar

from deftarc.core.arrange.tied import moment_of, told_anchor
from deftarc.core.base.time import time_label
from deftarc.core.document import Scene
from deftarc.core.document.ties import Anchor
from deftarc.core.edit.ties import ChangeTies
from deftarc.web.context import fragment
from deftarc.web.panels.drawer import DRAWERS, Drawer, as_told
from deftarc.web.panels.list.rows import Spot, rows_of_list
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing

#: So many are drawn, and listed.
MOST = 400


@dataclass(frozen=True)
class Line:
    """A tie as it is drawn: from what leads to what follows, in px of the list."""

    id: str
    d: str
    ends: tuple[tuple[float, float], tuple[float, float]]
    title: str
    chosen: bool


def told_distance(offset: int, scene: Scene, unit: str) -> str:
    """How much later something is held, as it can be typed."""
    label = time_label(abs(offset), scene.rate, unit)
    return f"−{label}" if offset < 0 else label


def _height(anchor: Anchor, rows: dict[str, Spot]) -> float | None:
    """The middle of the row in which an anchor is drawn; a scene's marker comes from above. None where it shows in
    none.
    """
    if anchor.layer is None:
        return 0.0
    spot = rows.get(f"lane-{anchor.layer}-{anchor.property}") if anchor.of == "key" else None
    spot = spot or rows.get(f"layer-{anchor.layer}")
    return None if spot is None else spot.top + spot.height / 2


@PANELS.add
class TiesPanel(Panel):
    id: ClassVar[str] = "ties"

    def __init__(self) -> None:
        #: Whether the page shows it: that stays so, whatever else it is to be told anew.
        self.told = False

    def answer(self, showing: Showing) -> Part:
        scene, look, axis = showing.scene, showing.look, showing.axis
        head: list[dict[str, Any]] = [
            {"id": tie.id, "layers": [x.layer for x in (tie.what, tie.to) if x.layer], "offset": tie.offset}
            for tie in scene.ties
        ]
        if not scene.ties:
            shown, self.told = self.told, False
            return Part(head={"ties": head}, fragments={"tie-lines": ""} if shown else {})
        self.told = True
        listed = rows_of_list(
            scene, showing.folded, look.opened, set(look.layers), look.filters, look.lane_height
        )  # fmt: skip
        rows = {spot.id: spot for spot in listed}
        lines = []
        for tie in scene.ties[:MOST]:
            at, to = moment_of(scene, tie.what), moment_of(scene, tie.to)
            y, above = _height(tie.what, rows), _height(tie.to, rows)
            if at is None or to is None or y is None or above is None:
                continue
            x, lead = round(axis.x(at), 1), round(axis.x(to), 1)
            if max(x, lead) < 0 or min(x, lead) > axis.width:
                continue
            later = told_distance(tie.offset, scene, look.unit)
            title = f"{told_anchor(scene, tie.what)} held at {told_anchor(scene, tie.to)}, {later} later"
            chosen = any(each.layer in look.layers for each in (tie.what, tie.to))
            lines.append(Line(tie.id, f"M{lead} {above}V{y}H{x}", ((lead, above), (x, y)), title, chosen))
        height = listed[-1].top + listed[-1].height if listed else 0
        html = fragment("parts/ties.svg", lines=lines, width=axis.width, height=height)
        return Part(head={"ties": head}, fragments={"tie-lines": html})


@dataclass(frozen=True)
class Row:
    id: str
    words: str
    distance: str
    cut: str
    layer: str


@DRAWERS.add
class TiesDrawer(Drawer):
    id: ClassVar[str] = "ties"

    def title(self, showing: Showing) -> str:
        count = len(showing.scene.ties)
        return "Ties: none yet" if not count else "1 tie" if count == 1 else f"{count} ties"

    def html(self, showing: Showing) -> str:
        scene = showing.scene
        rows = [
            Row(
                tie.id,
                f"{told_anchor(scene, tie.what)} held at {told_anchor(scene, tie.to)}",
                told_distance(tie.offset, scene, showing.look.unit),
                as_told(ChangeTies(scene=scene.id, ties=(tie.id,), cut=True)),
                tie.what.layer or "",
            )
            for tie in scene.ties[:MOST]
            if all(each.layer is None or any(x.id == each.layer for x in scene.layers) for each in (tie.what, tie.to))
        ]
        return fragment("parts/ties.html", rows=rows)
