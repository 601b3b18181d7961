"""One moment of a layer or a scene, as it shows at work: loose values of just that time are in it.

A scene that stands at a moment (``moment``) was made of another to be worked on there: what of its layers is still as
it was made is told by that other one, whatever follows what in it.
"""

from dataclasses import dataclass, field

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork import TextShaper
from deftarc.core.document.shown import shown_values
from deftarc.core.document.track import PathTrack
from deftarc.core.evaluate.asker import Asker
from deftarc.core.evaluate.clocks import any_clock
from deftarc.core.evaluate.evaluator import Scenes, evaluate
from deftarc.core.evaluate.frames import FrameTable
from deftarc.core.evaluate.layers import TRANSFORM, loose_value, own_matrix
from deftarc.core.evaluate.travel import stretched
from deftarc.core.evaluate.turning import turned


def related(scene: Scene) -> bool:
    """Whether anything in a scene follows anything, comes later than its carrier, or stretches."""
    known = scene.__dict__.get("_related")
    if known is None:
        known = scene.__dict__["_related"] = any(
            layer.links or layer.stretches or layer.later is not None for layer in scene.layers
        )
    return bool(known)


def stands_alone(scene: Scene) -> bool:
    """Whether a scene is at every moment what its keys say: it has no clocks, and nothing follows anything."""
    return not (any_clock(scene) or related(scene))


@dataclass(eq=False)
class Moment:
    """The scene that one standing at a moment was made of, and its layers as they were made."""

    scene: Scene
    time: int
    made: dict[str, Layer] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.ask = Asker(self.scene, self.time)

    def knows(self, layer: Layer) -> bool:
        return self.made.get(layer.id) is layer


def moment_of(scene: Scene, time: int) -> Moment | None:
    found: Moment | None = scene.__dict__.get("_moment")
    return found if found is not None and found.time == time else None


def pose(layer: Layer, time: int, names: tuple[str, ...] | None = None) -> dict[str, tuple[float, ...]]:
    """What each property (or some) shows at one time by its keys, loose values of just that time included."""
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


def posed(scene: Scene, layer: Layer, time: int, names: tuple[str, ...] | None = None) -> dict[str, tuple[float, ...]]:
    """What each property (or some) shows at one time, whatever drives it, loose values of just that time included; also
    in a scene that stands at that moment.
    """
    if moment_of(scene, time) is not None or stands_alone(scene):
        return pose(layer, time, names)
    ask = Asker(scene, time)
    return {name: ask.shown(layer, name, time) for name in names or layer.properties}


def shows(scene: Scene, layer: Layer, name: str, time: int) -> tuple[float, ...]:
    """What one property shows at a time, whatever drives it, loose values of just that time included."""
    return posed(scene, layer, time, (name,))[name]


def matrix_at(scene: Scene, layer: Layer, time: int, bare: bool = False) -> Floats:
    """A layer's own (3, 3) matrix at a time, loose values of just that time included; its stretch, too, unless ``bare``
    leaves that out.
    """
    moment = moment_of(scene, time)
    if moment is None and not (bare or stands_alone(scene)):
        return Asker(scene, time).matrix(layer, time)
    names = tuple(name for name in layer.properties if name in TRANSFORM)
    if moment is None and any_clock(scene):
        ask = Asker(scene, time)
        samples = {name: ask.values(layer, name, np.array([float(time)])) for name in names}
    else:
        tracks = {name: layer.track(name) for name in names}
        samples = {name: np.array([loose_value(track, time) or track.at(time)]) for name, track in tracks.items()}
    matrix = own_matrix(layer, samples, np.array([heading_at(scene, layer, time)]))
    if not bare and moment is not None and layer.stretches and layer.id in moment.made:
        whole = moment.scene.layer(layer.id)
        by = moment.ask.stretch(whole, time)
        matrix = stretched(matrix, np.array([pose(layer, time, ("position",))["position"]]), by)
    return np.asarray(matrix[0])


def heading_at(scene: Scene, layer: Layer, time: int) -> float:
    """Degrees that a layer's way adds to its rotation at a time."""
    if layer.axes_split:
        return 0.0
    moment = moment_of(scene, time)
    if moment is None and not stands_alone(scene):
        return Asker(scene, time).heading(layer, time)
    if "position" in layer.links and moment is not None and layer.id in moment.made:
        return moment.ask.heading(moment.scene.layer(layer.id), time)
    track = layer.tracks.get("position")
    shares = pose(layer, time, ("along", "lean"))
    if not isinstance(track, PathTrack) or not any(told[0] for told in shares.values()):
        return 0.0
    along, lean = (np.array(shares[name]) for name in ("along", "lean"))
    return float(turned(track, np.array([float(time)]), along, lean)[0])


def carried_by(scene: Scene, layer: Layer, time: int) -> Floats:
    """The (3, 3) matrix from the space a layer's position lives in (its parent's) to the scene."""
    moment = moment_of(scene, time)
    if moment is None:
        if not stands_alone(scene):
            return Asker(scene, time).carried(layer.parent, layer.later, time)
        out = np.eye(3)
        for each in scene.ancestors(layer):
            out = matrix_at(scene, each, time) @ out
        return out
    out = np.eye(3)
    while layer.parent is not None:
        carrier = scene.layer(layer.parent)
        if moment.knows(carrier):
            return moment.ask.carried(carrier.id, layer.later, time) @ out
        out = matrix_at(scene, carrier, time) @ out
        layer = carrier
    return out


def has_loose(layer: Layer, time: int) -> bool:
    """Whether a value of this layer was changed but not keyed at just this time."""
    return time in layer.loose_times


def still(scene: Scene, time: int, shape_text: TextShaper | None = None, scenes: Scenes | None = None) -> FrameTable:
    """One frame as it shows at work: loose values of just that time are in it, as they are never in a movie."""
    return evaluate(scene, [time], shape_text, loose_at=time, scenes=scenes)
