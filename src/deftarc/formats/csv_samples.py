"""A property's motion as CSV: frame, seconds, its components and its speed, one row a frame."""

import csv
from io import StringIO

import numpy as np

from deftarc.core.document import Layer, Scene
from deftarc.core.errors import Refusal
from deftarc.core.evaluate import Evaluator, frame_times
from deftarc.core.properties import property_named
from deftarc.core.time import FLICKS
from deftarc.core.track import TrackBase

#: What a colour's numbers are called; in per cent of encoded sRGB.
COLOUR_PARTS = ("red", "green", "blue", "alpha")


def sample_csv(scene: Scene, layer: Layer, name: str, first: int, last: int) -> str:
    """Rows for frames first … last inclusive, in shown units; speed per second, ``inf`` where unbounded."""
    facts = property_named(name)
    if not 0 <= first <= last < scene.frames:
        raise Refusal(f"{scene.name} has frames 0 to {scene.frames - 1}; ask for a range within them.")
    track: TrackBase = layer.track(name)
    if facts.kind == "outline":
        raise Refusal("An outline is many points, and has no samples in one row. Render the layer, or sample a number.")
    times = frame_times(scene, first, last - first + 1)
    values = Evaluator().values(scene, layer.id, times)[name] * facts.factor
    values = np.broadcast_to(values, (len(times), values.shape[1]))
    speed = track.curve.speed(times) * facts.factor if track.keys else np.zeros(len(times))
    out = StringIO()
    writer = csv.writer(out, lineterminator="\n")
    parts = COLOUR_PARTS if facts.kind == "colour" else tuple(part or "value" for part in facts.components)
    writer.writerow(["frame", "seconds", *parts, "speed"])
    for row in range(len(times)):
        numbers = [float(times[row]) / FLICKS, *values[row], speed[row]]
        writer.writerow([first + row, *[f"{number + 0.0:.9g}" for number in numbers]])
    return out.getvalue()
