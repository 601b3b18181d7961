"""What a lane could follow: a list for the drawer, found in by words, tried as one goes through it."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import ClassVar

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer, Scene
from deftarc.core.document.links import DERIVED, PLACES, check_links
from deftarc.core.document.properties import PROPERTIES, Property
from deftarc.core.edit.links import LaneAsked, LinkLanes, SourceAsked
from deftarc.web.panels.drawer import DRAWERS, as_told
from deftarc.web.panels.figures.relations import can_follow
from deftarc.web.panels.motions import MotionRow, MotionsDrawer
from deftarc.web.panels.panel import Showing


@dataclass(frozen=True)
class Row(MotionRow):
    edit: str = ""


def sources(scene: Scene, lane: LaneAsked, carriers: list[str]) -> Iterator[tuple[Layer, str, str]]:
    """What a lane could follow, the likeliest first: what carries it, then all others; of each the like of itself."""
    place = PROPERTIES[lane.property].kind == "path"
    first = [layer for name in carriers for layer in scene.layers if layer.id == name]
    for layer in (*first, *(each for each in scene.layers if each.id not in carriers)):
        if place:
            if layer.id != lane.layer:
                yield layer, "position", "Position"
            continue
        names = [n for n in layer.properties if PROPERTIES[n].kind == "number" and n not in ("clock", *PLACES)]
        names.sort(key=lambda n: n != lane.property)
        told = [(name, PROPERTIES[name].label) for name in names]
        told[1:1] = [("position_x", "Position x"), ("position_y", "Position y")]
        told += [(each.id, each.label) for each in DERIVED.values()]
        for what, label in told:
            if (layer.id, what) != (lane.layer, lane.property):
                yield layer, what, label


@DRAWERS.add
class FollowDrawer(MotionsDrawer):
    id: ClassVar[str] = "follow"
    verb: ClassVar[str] = "follows"
    begin: ClassVar[str] = "Follow"
    template: ClassVar[str] = "parts/follow.html"

    def takes(self, facts: Property) -> bool:
        return facts.kind in ("number", "path")

    def can(self, layer: Layer, name: str) -> bool:
        return can_follow(layer, name) or name in layer.links

    def motions(self, scene: Scene, lane: LaneAsked) -> Iterator[tuple[Layer, str, str]]:
        return sources(scene, lane, [each.id for each in scene.ancestors(scene.layer(lane.layer))])

    def row(
        self, showing: Showing, scene: Scene, lanes: tuple[LaneAsked, ...], layer: Layer, what: str, told: str
    ) -> Row:
        time = scene.rate.time_of(showing.frame)
        mine = tuple(lane for lane in lanes if (lane.layer, lane.property) != (layer.id, what)) or lanes
        edit = LinkLanes(scene=scene.id, lanes=mine, to=SourceAsked(layer=layer.id, what=what), time=time)
        return Row(told, layer.id, _refused(scene, mine[:1], layer, what), as_told(edit))


def _refused(scene: Scene, lanes: tuple[LaneAsked, ...], source: Layer, what: str) -> str:
    """Why a lane cannot follow something: because that comes of the lane itself."""
    edit = LinkLanes(scene=scene.id, lanes=lanes, to=SourceAsked(layer=source.id, what=what), keep=False)
    layer = scene.layer(lanes[0].layer)
    try:
        link = edit.link(scene, layer, PROPERTIES[lanes[0].property], source, 0)
        fresh = layer.changed(links={**layer.links, lanes[0].property: link})
        check_links(tuple(fresh if each.id == layer.id else each for each in scene.layers))
    except Refusal as refusal:
        return str(refusal)
    return ""
