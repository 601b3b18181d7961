"""What a lane could follow: a list for the drawer, found in by words, tried as one goes through it."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import ClassVar

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer, Scene
from deftarc.core.document.links import DERIVED, PLACES, check_links
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.edit.links import LaneAsked, LinkLanes, SourceAsked
from deftarc.web.context import fragment
from deftarc.web.panels.drawer import DRAWERS, Drawer, as_told
from deftarc.web.panels.figures.relations import can_follow
from deftarc.web.panels.panel import Showing

#: So many are listed; more are found by words.
MOST = 60


@dataclass(frozen=True)
class Row:
    words: str
    layer: str
    edit: str
    #: Why it cannot be followed; empty where it can.
    refused: str = ""


def following(showing: Showing) -> tuple[LaneAsked, ...]:
    """The lanes that are to follow: the one in focus, of all that is selected, else the rotation."""
    look, scene = showing.look, showing.scene
    by_id = {layer.id: layer for layer in scene.layers}
    name = "rotation"
    if look.focus is not None and look.focus.layer in look.layers and look.focus.property in PROPERTIES:
        facts = PROPERTIES[look.focus.property]
        name = facts.id if facts.kind in ("number", "path") and facts.id != "clock" else name
    lanes = []
    for layer_id in look.layers:
        layer = by_id.get(layer_id)
        if layer is not None and (can_follow(layer, name) or name in layer.links) and name in layer.properties:
            lanes.append(LaneAsked(layer=layer.id, property=name))
    return tuple(lanes)


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
class FollowDrawer(Drawer):
    id: ClassVar[str] = "follow"

    def title(self, showing: Showing) -> str:
        lanes = following(showing)
        if not lanes:
            return "Follow: select a layer first"
        whose = showing.scene.layer(lanes[0].layer).name if len(lanes) == 1 else f"{len(lanes)} layers"
        return f"{PROPERTIES[lanes[0].property].label} of {whose} follows…"

    def html(self, showing: Showing) -> str:
        lanes, scene = following(showing), showing.opened.project
        here = next((each for each in scene.scenes if each.id == showing.scene.id), showing.scene)
        rows: list[Row] = []
        more = 0
        words = showing.look.drawer_text.casefold().split()
        if lanes and any(layer.id == lanes[0].layer for layer in here.layers):
            carriers = [each.id for each in here.ancestors(here.layer(lanes[0].layer))]
            for layer, what, label in sources(here, lanes[0], carriers):
                told = f"{label} of {layer.name}"
                if not all(word in told.casefold() for word in words):
                    continue
                if len(rows) >= MOST:
                    more += 1
                    continue
                rows.append(self._row(showing, here, lanes, layer, what, told))
        return fragment("parts/follow.html", rows=rows, more=more, lanes=lanes, text=showing.look.drawer_text)

    def _row(
        self, showing: Showing, scene: Scene, lanes: tuple[LaneAsked, ...], layer: Layer, what: str, told: str
    ) -> Row:
        time = scene.rate.time_of(showing.frame)
        mine = tuple(lane for lane in lanes if (lane.layer, lane.property) != (layer.id, what)) or lanes
        edit = LinkLanes(scene=scene.id, lanes=mine, to=SourceAsked(layer=layer.id, what=what), time=time)
        return Row(told, layer.id, as_told(edit), _refused(scene, mine[:1], layer, what))


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
