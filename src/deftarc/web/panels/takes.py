"""Takes: which of them shows, in When's head, and their list in the drawer, with what two of them have otherwise."""

from dataclasses import dataclass
from typing import Any, ClassVar

from deftarc.core.document import Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.takes import TakeSet
from deftarc.core.edit.keys import Lane
from deftarc.core.edit.takes import SPAN, CopyTake, DeleteTake, ShowTake, differences
from deftarc.web.context import fragment
from deftarc.web.panels.drawer import DRAWERS, Drawer, as_told
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing

#: Differences listed at once.
MOST_ROWS = 120


def sets_meant(scene: Scene, layers: tuple[str, ...]) -> list[TakeSet]:
    """The sets of takes of what is selected; where nothing is, all."""
    chosen = set(layers)
    return [each for each in scene.takes if not chosen or chosen & set(each.layers)]


@PANELS.add
class TakesPanel(Panel):
    id: ClassVar[str] = "takes"

    def answer(self, showing: Showing) -> Part:
        told: list[dict[str, Any]] = [
            {"set": each.id, "shown": each.shown, "layers": each.layers,
             "takes": [{"id": take.id, "name": take.name} for take in each.takes]}
            for each in sets_meant(showing.scene, showing.look.layers)
        ]  # fmt: skip
        return Part(head={"takes": {"sets": told, "over": bool(showing.ghosts)}})


@dataclass(frozen=True)
class Row:
    layer: str
    property: str
    name: str
    words: str
    here: str
    there: str


@DRAWERS.add
class TakesDrawer(Drawer):
    id: ClassVar[str] = "takes"

    def title(self, showing: Showing) -> str:
        return "Takes"

    def html(self, showing: Showing) -> str:
        scene, ghost = showing.scene, showing.look.ghost
        sets = []
        for told in sets_meant(scene, showing.look.layers):
            names = [layer.name for layer in scene.layers if layer.id in told.layers]
            takes = [
                (take, take.id == told.shown, ghost is not None and (ghost.set, ghost.take) == (told.id, take.id),
                 as_told(ShowTake(scene=scene.id, set=told.id, take=take.id)),
                 as_told(DeleteTake(scene=scene.id, set=told.id, take=take.id)))
                for take in told.takes
            ]  # fmt: skip
            over = told.take(ghost.take) if ghost is not None and ghost.set == told.id else None
            rows = self._rows(scene, told, over.id) if over is not None and over.id != told.shown else []
            sets.append((told, ", ".join(names), takes, over, rows))
        chosen = [layer.name for layer in scene.layers if layer.id in showing.look.layers]
        return fragment("parts/takes.html", sets=sets, chosen=chosen)

    def _rows(self, scene: Scene, told: TakeSet, other: str) -> list[Row]:
        shown, beside = told.take(told.shown), told.take(other)
        assert shown is not None
        assert beside is not None
        rows = []
        for each in list(differences(scene, told, shown, beside))[:MOST_ROWS]:
            layer = scene.layer(each.layer)
            label = "Span" if each.property == SPAN else PROPERTIES[each.property].label
            lanes = (Lane(layer=layer.id, property=each.property),)
            copy = CopyTake(scene=scene.id, set=told.id, source=other, target=told.shown, lanes=lanes)
            back = copy.changed(source=told.shown, target=other)
            rows.append(
                Row(layer.id, each.property, f"{label} of {layer.name}", each.words, as_told(copy), as_told(back))
            )
        return rows
