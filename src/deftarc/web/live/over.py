"""What an answer tells beside the picture of one frame: points that are edited, handles, and what smears then."""

from typing import Any

from deftarc.core.document import Layer
from deftarc.core.document.artwork import Pointed
from deftarc.core.edit.outlines import outline_named
from deftarc.core.evaluate import delivered, frame_times, posed
from deftarc.core.evaluate.smear import Smearer, may_smear
from deftarc.formats.materials import Materials, reach_in
from deftarc.formats.wire import smear_parts
from deftarc.web.live.answering import Answering
from deftarc.web.panels.handles import handles_told


def points_told(answering: Answering, chosen: Layer) -> None:
    """The points that are being edited: of a mask, or of a free path."""
    mask = answering.look.mask
    own = next((each for each in chosen.masks if each.id == mask), None)
    art = chosen.artwork if mask is None else own
    if not isinstance(art, Pointed):
        return
    name, time = outline_named(mask), answering.scene.rate.time_of(answering.frame)
    row = posed(answering.scene, chosen, time, (name,))[name]
    contours = [{"count": len(c.points), "closed": c.closed} for c in art.contours]
    answering.head["points"] = {
        "layer": chosen.id,
        "mask": mask,
        "property": name,
        "numbers": row,
        "contours": contours,
    }


def handles_now(answering: Answering, materials: Materials) -> dict[str, Any] | None:
    """Handles for how what is selected looks, where that is what is looked at."""
    chosen, look = answering.chosen, answering.look
    if chosen is None or look.page != "look" or chosen.locked:
        return None
    return handles_told(answering.scene, chosen, answering.scene.rate.time_of(answering.frame), materials)


def smear_told(answering: Answering, smearer: Smearer, materials: Materials) -> None:
    """What smears at the frame shown, while nothing is held: a hand is shown what is sharp."""
    look, scene, frame = answering.look, answering.scene, answering.frame
    if look.edit is not None or not may_smear(scene, answering.project.by_id):
        return
    shown = delivered(scene)
    smear = smearer.smear(shown, frame_times(scene, frame, 1), answering.project.by_id, reach_in(scene, materials))
    if smear is not None:
        told, parts = smear_parts(smear)
        answering.head["smear"] = {**told, "frame": frame}
        answering.blobs.extend(parts)


__all__ = ["handles_now", "points_told", "smear_told"]
