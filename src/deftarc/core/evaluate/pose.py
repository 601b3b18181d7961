"""One moment of a layer or a scene, as it shows at work: loose values of just that time are in it."""

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork import TextShaper
from deftarc.core.document.shown import shown_values
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.evaluate.evaluator import evaluate
from deftarc.core.evaluate.frames import FrameTable
from deftarc.core.evaluate.layers import TRANSFORM, loose_value, own_matrix, way_of


def pose(layer: Layer, time: int, names: tuple[str, ...] | None = None) -> dict[str, tuple[float, ...]]:
    """What each property (or some) shows at one time, loose values of just that time included."""
    out: dict[str, tuple[float, ...]] = {}
    for name in names or layer.properties:
        if name == "position" and layer.axes_split:
            both = pose(layer, time, ("position_x", "position_y"))
            out[name] = (*both["position_x"], *both["position_y"])
            continue
        track = layer.track(name)
        value = loose_value(track, time) or track.at(time)
        out[name] = tuple(float(number) for number in shown_values(layer, name, np.array([value], np.float64))[0])
    return out


def matrix_at(layer: Layer, time: int) -> Floats:
    """A layer's own (3, 3) matrix at a time, loose values of just that time included."""
    names = tuple(name for name in layer.properties if name in TRANSFORM)
    samples = {name: np.array([loose_value(layer.track(name), time) or layer.track(name).at(time)]) for name in names}
    return own_matrix(layer, samples, way_of(layer, samples, [time]))[0]


def heading_at(layer: Layer, time: int) -> float:
    """Degrees that a layer's way adds to its rotation at a time."""
    if layer.axes_split:
        return 0.0
    shares = pose(layer, time, ("along", "lean"))
    way = way_of(layer, {name: np.array([told]) for name, told in shares.items()}, [time])
    return 0.0 if way is None else float(way[0])


def carried_by(scene: Scene, layer: Layer, time: int) -> Floats:
    """The (3, 3) matrix from the space a layer's position lives in (its parent's) to the scene."""
    out = np.eye(3)
    for each in scene.ancestors(layer):
        out = matrix_at(each, time) @ out
    return out


def has_loose(layer: Layer, time: int) -> bool:
    """Whether a value of this layer was changed but not keyed at just this time."""
    return time in layer.loose_times


def still(scene: Scene, time: int, shape_text: TextShaper | None = None) -> FrameTable:
    """One frame as it shows at work: loose values of just that time are in it, as they are never in a movie."""
    layers = []
    for layer in scene.layers:
        position = layer.tracks.get("position")
        if position is not None and loose_value(position, time) is not None and (way := heading_at(layer, time)):
            # Put elsewhere for a moment it has no path, and yet is turned as its path has it here.
            rotation = pose(layer, time, ("rotation",))["rotation"][0] + way
            rest = {name: track for name, track in layer.tracks.items() if name not in ("along", "lean")}
            layer = layer.changed(tracks={**rest, "rotation": NumberTrack(value=rotation)})
        for name, track in layer.tracks.items():
            value = loose_value(track, time)
            if value is not None:
                resting = track.changed(keys=(), loose=None, **({"points": ()} if isinstance(track, PathTrack) else {}),
                                        value=value[0] if isinstance(track, NumberTrack) else value)  # fmt: skip
                layer = layer.changed(tracks={**layer.tracks, name: resting})
        layers.append(layer)
    return evaluate(scene.changed(layers=tuple(layers)), [time], shape_text)
