"""One look being answered: what it asks for, where that is not said, and what is to be sent."""

from dataclasses import dataclass, field
from typing import Any

from deftarc.core.base import limits
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.takes import as_taken
from deftarc.core.edit import EditBase
from deftarc.store.projects import OpenProject
from deftarc.web.look import Look
from deftarc.web.panels.axis import TimeAxis

#: More layers than this open folded.
MANY_LAYERS = 14


@dataclass
class Answering:
    """One look being answered: what it asks for, the document as tried, and what is to be sent."""

    look: Look
    opened: OpenProject
    project: Project
    scene: Scene
    #: The selected layer the figures tell of.
    chosen: Layer | None
    frame: int
    edit: EditBase | None
    head: dict[str, Any]
    blobs: list[bytes] = field(default_factory=list)
    #: Columns of numbers by frame that the page has to have.
    names: list[str] = field(default_factory=list)

    @property
    def ahead(self) -> bool:
        """Whether a hand on the picture tries this, so that the picture may go ahead of the rest."""
        return self.look.ahead and self.edit is not None


def kind_of(look: Look) -> tuple[str, str] | None:
    """What is dragged in which scene, or that only the frame is another; None for what shows the page anew."""
    what = look.edit.kind if look.edit is not None else "light" if look.light and not look.fresh else None
    return None if what is None else (look.scene, f"{what}, brief" if look.brief else what)


def folded_of(look: Look, scene: Scene) -> list[str]:
    """The layers whose lanes are folded away: as asked, else all of many."""
    if look.folded is not None:
        return list(look.folded)
    return [layer.id for layer in scene.layers] if len(scene.layers) > MANY_LAYERS else []


def ghosts_of(look: Look, scene: Scene) -> dict[str, Layer]:
    """The layers of the take that is laid over what shows, as they are in it; none where it is gone, or shows."""
    if look.ghost is None:
        return {}
    told = next((each for each in scene.takes if each.id == look.ghost.set), None)
    take = told.take(look.ghost.take) if told is not None else None
    if told is None or take is None or take.id == told.shown:
        return {}
    wanted = set(told.layers)
    return {layer.id: as_taken(layer, take) for layer in scene.layers if layer.id in wanted}


def axis_of(look: Look, scene: Scene) -> TimeAxis:
    """The time axis asked for, within what can be drawn; else one that fits the scene."""
    asked = look.axis
    if asked is None:
        return TimeAxis.fitting(scene, 560.0)
    frame = scene.rate.flicks
    if not asked.end - asked.start > frame:
        return TimeAxis.fitting(scene, asked.width)
    furthest = 4.0 * limits.FURTHEST
    start, end = max(asked.start, -furthest), min(asked.end, furthest)
    return TimeAxis(start, end, asked.width) if end > start else TimeAxis.fitting(scene, asked.width)
