"""Which lane a page is about."""

from deftarc.core.document import Layer, Scene
from deftarc.web.look import Focus, Look

#: A layer and a property of it.
LaneId = tuple[str, str]


def focused(look: Look, scene: Scene, chosen: Layer | None) -> LaneId | None:
    """The main curve: the lane asked for, else the chosen layer's first property that moves, else the first pinned."""
    if look.focus is not None and lane_keyed(scene, look.focus):
        return look.focus.layer, look.focus.property
    if chosen is not None and chosen.moving:
        # What has keys before what follows alone: there is something to shape.
        return chosen.id, next(iter(chosen.keyed or chosen.moving))
    pinned = next((each for each in look.pair.pinned if lane_keyed(scene, each)), None)
    return (pinned.layer, pinned.property) if pinned else None


def lane_keyed(scene: Scene, lane: Focus) -> bool:
    layer = next((layer for layer in scene.layers if layer.id == lane.layer), None)
    return layer is not None and lane.property in layer.moving
