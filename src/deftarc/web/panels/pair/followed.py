"""The curve of what follows something: laid through its numbers by frame, to be read and not to be taken hold of."""

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.curves.curve import TimeCurve
from deftarc.core.curves.joints import automatic_speeds
from deftarc.core.document import Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.web.panels.axis import TimeAxis

#: Frames a curve is laid through at most.
MOST = 240


def measures_by_frame(name: str, rows: Floats, frames: int) -> Floats:
    """What the pair shows of values by frame (F or 1, components), in shown units: numbers as they are, of a place how
    far it has gone by then.
    """
    rows = np.broadcast_to(rows, (frames, rows.shape[1]))
    if PROPERTIES[name].kind == "path":
        return np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(rows, axis=0).T))))
    return np.asarray(rows[:, 0] * PROPERTIES[name].factor)


def followed_curve(scene: Scene, axis: TimeAxis, measures: Floats) -> TimeCurve:
    """A curve through measures by frame (F,), over what is in view; it goes past none of them."""
    frame = scene.rate.flicks
    first = int(np.clip(axis.start // frame - 1, 0, len(measures) - 1))
    last = int(np.clip(-(-axis.end // frame) + 1, first, len(measures) - 1))
    at = np.unique(np.linspace(first, last, min(MOST, last - first + 1)).astype(np.int64))
    times, values = at * frame, measures[at]
    arriving, leaving = automatic_speeds(times, values, np.zeros(len(at) - 1, bool), np.zeros((len(at), 4)))
    third = np.diff(times) / 3
    reach = np.full(len(third), 1 / 3)
    steps = np.zeros((len(third), 3), np.int64)
    return TimeCurve(times, values, reach, leaving[:-1] * third, reach, arriving[1:] * third, steps)
