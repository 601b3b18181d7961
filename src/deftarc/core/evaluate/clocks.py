"""Clocks: the time at which a layer is shown, over the scene's. A group's clock is that of all that is in it.

A clock is a lane like any other, its value in seconds; everything else of the layer lies in the time it tells.
"""

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.limits import FURTHEST
from deftarc.core.base.time import FLICKS
from deftarc.core.document import Layer, Scene
from deftarc.core.document.track import NumberTrack

#: From the outermost group inwards.
Clocks = tuple[NumberTrack, ...]


def own_clock(layer: Layer) -> Clocks:
    track = layer.tracks.get("clock")
    return (track,) if isinstance(track, NumberTrack) and track.keys else ()


def lane_clock(layer: Layer) -> Clocks:
    """A layer's own clock where it tells the time of its lanes: one that shows a scene has it for that alone."""
    return () if "scene" in layer.artwork.traits else own_clock(layer)


def clocks_above(scene_layers: dict[str, Layer], layer: Layer) -> Clocks:
    """The clocks of the groups a layer is in, the outermost first."""
    out: Clocks = ()
    above = layer.parent
    while above is not None:
        each = scene_layers[above]
        if each.group:
            out = (*own_clock(each), *out)
        above = each.parent
    return out


def clocks_of(scene: Scene, layer: Layer) -> Clocks:
    """All clocks that tell a layer's time, its own the last."""
    if layer.parent is None:
        return lane_clock(layer)
    return (*clocks_above({each.id: each for each in scene.layers}, layer), *lane_clock(layer))


def inner_times(clocks: Clocks, times: Floats) -> Floats:
    """Moments (n,) in flicks as some clocks tell them."""
    for track in clocks:
        told = track.motion(times)[:, 0] * FLICKS
        # A step of a hair is no other moment: what stands on a frame stays on it.
        times = np.clip(np.where(np.abs(told - np.round(told)) < 0.01, np.round(told), told), -FURTHEST, FURTHEST)
    return times


def inner_pairs(clocks: Clocks, times: Floats, shown: Floats) -> tuple[Floats, Floats]:
    """Moments (n,) and those they belong to (n,), as some clocks tell them: no clock jumps between the two."""
    for track in clocks:
        times, shown = (inner_times((track,), each) for each in (track.on_one_side(times, shown), shown))
    return times, shown


def inner_time(clocks: Clocks, time: int) -> int:
    """One moment in flicks as some clocks tell it."""
    return round(float(inner_times(clocks, np.array([float(time)]))[0])) if clocks else time


def any_clock(scene: Scene) -> bool:
    return any("clock" in layer.tracks for layer in scene.layers)
