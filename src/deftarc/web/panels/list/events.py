"""What a motion does, marked in its lane where something answers it."""

import numpy as np

from deftarc.core.arrange.reacted import motion_of
from deftarc.core.base.time import time_label
from deftarc.core.document import Layer, Scene
from deftarc.core.document.links import PLACES, SPOT, LinkSource
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.evaluate import Asker
from deftarc.web.panels.axis import TimeAxis

#: So many are drawn in a lane; of more, every so many.
MOST = 200


def answered(scene: Scene) -> dict[tuple[str, str], LinkSource]:
    """The motions of a scene that something answers, by layer and property."""
    known: dict[tuple[str, str], LinkSource] | None = scene.__dict__.get("_answered")
    if known is None:
        known = scene.__dict__["_answered"] = {
            (told.reaction.source.layer, told.reaction.source.what): told.reaction.source
            for layer in scene.layers
            for told in layer.reactions.values()
        }
    return known


def events_in(scene: Scene, layer: Layer, name: str, axis: TimeAxis, unit: str) -> tuple[tuple[float, str, str], ...]:
    """The marks of a lane: (x in px, kind, words)."""
    source = answered(scene).get((layer.id, "position" if name in PLACES else name))
    if source is None:
        return ()
    found = motion_of(scene, source)
    label = PROPERTIES[source.what].label
    return tuple(
        (
            round(axis.x(each.time), 1), each.kind,
            f"{each.kind.capitalize()} of {label} of {layer.name} at "
            + time_label(each.time, scene.rate, unit)
            + (f", {round(100 * each.strength)} % of the strongest" if each.kind != "stop" else ""),
        )
        for each in found[:: max(1, len(found) // MOST)]
    )  # fmt: skip


def spots_of_events(scene: Scene, layer: Layer) -> list[tuple[float, float, str, str]]:
    """Where on its way a layer does what is answered: (x, y in its carrier's px, kind, words)."""
    source = answered(scene).get((layer.id, "position"))
    found = motion_of(scene, source)[:MOST] if source is not None else []
    if not found:
        return []
    spots = Asker(scene).asked(layer, SPOT, np.array([each.time for each in found], np.float64))
    rows = np.broadcast_to(spots, (len(found), 2)).round(2).tolist()
    return [
        (x, y, each.kind, f"{each.kind.capitalize()} of {layer.name}") for (x, y), each in zip(rows, found, strict=True)
    ]
