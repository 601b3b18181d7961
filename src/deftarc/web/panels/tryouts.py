"""Try-outs: the selected motion under several eases at once, each worked out as the edit that would be made."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from deftarc.core.arrange.family import led_by
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Project, Scene
from deftarc.core.document.units import units_of
from deftarc.core.edit import EditBase, apply
from deftarc.formats.materials import Materials
from deftarc.formats.wire import pack
from deftarc.web.panels.axis import TimeAxis, spanning
from deftarc.web.panels.moving import moving
from deftarc.web.panels.pair.curves import scaled, value_paths

#: Candidates shown at once, frames each plays at most, and seconds of rest before and after.
MOST = 24
MOST_FRAMES = 600
REST = 0.3
#: The little curve of each candidate, px.
CURVE = (150.0, 44.0)


@dataclass(frozen=True)
class Candidate:
    label: str
    edit: EditBase | None


def tried(
    project: Project, scene_id: str, keys: Sequence[KeyRef], candidates: Sequence[Candidate], materials: Materials
) -> bytes:
    """A packed answer: for each candidate its layers' tables over the time of the keys, its curve and its bounds.

    A candidate that cannot be made says why instead.
    """
    if not keys:
        raise Refusal("Select the keys whose motion is to be tried under other eases.")
    if len(candidates) > MOST:
        raise Refusal(f"At most {MOST} candidates play at once.")
    scene = project.scene(scene_id)
    first, count = _window(scene, keys)
    times = (np.arange(count) + first) * scene.rate.flicks
    layers = list(dict.fromkeys(ref.layer for ref in keys))
    shown = led_by(scene, layers)
    told: list[dict[str, Any]] = []
    blobs: list[bytes] = []
    for candidate in candidates:
        entry: dict[str, Any] = {"label": candidate.label}
        try:
            made = project if candidate.edit is None else apply(project, candidate.edit)
        except Refusal as refusal:
            told.append({**entry, "refused": str(refusal)})
            continue
        here = made.scene(scene_id)
        picture, parts = moving(made, here, shown, first, times, materials)
        entry |= picture
        entry["curve"] = _curve(here, keys[0], first, count)
        entry["edit"] = candidate.edit.model_dump(mode="json") if candidate.edit is not None else None
        told.append(entry)
        blobs.extend(parts)
    head = {"first": first, "count": count, "rate": scene.rate.per_second, "candidates": told,
            "background": scene.background, "width": scene.width, "height": scene.height}  # fmt: skip
    return pack(head, blobs)


def _window(scene: Scene, keys: Sequence[KeyRef]) -> tuple[int, int]:
    """First frame and number of frames: the segments the keys mean, with a rest on both sides."""
    low, high = min(ref.time for ref in keys), max(ref.time for ref in keys)
    for ref in keys:
        times = scene.layer(ref.layer).track(ref.property).key_times
        if ref.time not in times:
            raise Refusal("A key that was selected is gone. Select again.")
        k = times.index(ref.time)
        # One key alone means the segment after it, or before it where it is the last.
        if len(keys) == 1 and len(times) > 1:
            low, high = (times[k], times[k + 1]) if k + 1 < len(times) else (times[k - 1], times[k])
    rest = round(REST * FLICKS)
    first = (low - rest) // scene.rate.flicks
    last = -(-(high + rest) // scene.rate.flicks)
    return first, int(min(last - first + 1, MOST_FRAMES, limits.MAX_SCENE_FRAMES))


def _curve(scene: Scene, ref: KeyRef, first: int, count: int) -> dict[str, Any]:
    """The candidate's value curve as a small picture, and its values by frame within it (0 at the bottom)."""
    track = scene.layer(ref.layer).track(ref.property)
    curve = scaled(track.curve, units_of(ref.property, track).factor)
    flicks = scene.rate.flicks
    axis = TimeAxis(first * flicks, (first + count - 1) * flicks, CURVE[0])
    times = (np.arange(count) + first) * flicks
    values = curve.at(times)
    scale = spanning(values, 2.0, CURVE[1] - 4)
    line, dotted = value_paths(curve, axis, scale)
    return {"line": line, "dotted": dotted, "ys": [round(float(y), 1) for y in scale.ys(values)]}
