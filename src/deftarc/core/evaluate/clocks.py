"""Clocks: the time at which a layer is shown, over the scene's. A group's clock is that of all that is in it.

A clock is a lane like any other, its value in seconds; everything else of the layer lies in the time it tells.
"""

import numpy as np

from deftarc.core.base.arrays import Floats, Integers
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
    return (*clocks_above(scene.by_id, layer), *lane_clock(layer))


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


def lane_clocks(scene: Scene, layer: Layer, name: str) -> Clocks:
    """The clocks that tell the time a lane lies in: that of a layer's own clock lies in the time around it."""
    clocks = clocks_of(scene, layer)
    return clocks[:-1] if name == "clock" and lane_clock(layer) else clocks


def shown_at(clocks: Clocks, times: Integers, frames: Integers, flicks: int) -> tuple[Integers, Integers]:
    """At which frames some moments in ordered ``times`` (n,), in flicks, show under some clocks: the numbers of the
    moments (m,) and the frames (m,). ``frames`` follow one another. A moment that is passed several times shows several
    times; one that a clock rests on, where it gets there; one that is leapt over, never.
    """
    if not clocks or not len(frames) or not len(times):
        at = np.round(times / flicks).astype(np.int64)
        inside = np.flatnonzero((at >= frames[0]) & (at <= frames[-1])) if len(frames) else np.empty(0, np.int64)
        return inside, at[inside]
    # From half a frame before the first to half a frame after the last: what is passed then shows at these.
    halves = np.arange(int(frames[0]) * 2 - 1, int(frames[-1]) * 2 + 2, dtype=np.float64)
    edges: Floats = np.asarray(halves * (flicks / 2), np.float64)
    one, other = edges[:-1], edges[1:]
    found: set[tuple[int, int]] = set()
    # Where a clock leaps between two moments, there is what it passes before and what it passes after.
    for from_, to in (
        (inner_times(clocks, one), inner_pairs(clocks, other, one)[0]),
        (inner_pairs(clocks, one, other)[0], inner_times(clocks, other)),
    ):
        first = np.searchsorted(times, np.minimum(from_, to) - 0.5, "left")
        last = np.searchsorted(times, np.maximum(from_, to) + 0.5, "right")
        for n in np.flatnonzero(last > first).tolist():
            found.update((k, int(frames[0]) + n // 2) for k in range(int(first[n]), int(last[n])))
    pairs = sorted(found)
    row = [pair for k, pair in enumerate(pairs) if not (k and pairs[k - 1] == (pair[0], pair[1] - 1))]
    return np.array([k for k, _ in row], np.int64), np.array([n for _, n in row], np.int64)


def key_frames(scene: Scene, layer: Layer) -> list[int]:
    """The frames at which a layer's keys show; those outside the scene, too, where no clock tells its time."""
    frames: set[int] = set()
    every = np.arange(scene.frames, dtype=np.int64)
    for name, track in layer.tracks.items():
        clocks = lane_clocks(scene, layer, name)
        if clocks:
            frames.update(shown_at(clocks, np.array(track.key_times, np.int64), every, scene.rate.flicks)[1].tolist())
        else:
            frames.update(scene.rate.nearest(time) for time in track.key_times)
    return sorted(frames)


def any_clock(scene: Scene) -> bool:
    return any("clock" in layer.tracks for layer in scene.layers)
