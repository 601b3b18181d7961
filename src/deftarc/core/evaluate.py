"""Evaluation: a scene and times in, a FrameTable out. The one seam between the core and all that paints.

``Evaluator`` keeps what it worked out for each layer and each track; documents share what an edit did not
touch, so identity says what is still true.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from deftarc.core.curve import Integers, sample_many
from deftarc.core.document import Layer, Scene
from deftarc.core.geometry import Floats, compose, six
from deftarc.core.properties import PROPERTIES
from deftarc.core.track import NumberTrack, PathTrack


@dataclass(frozen=True, eq=False)
class Item:
    """One drawable thing over time: its layer's id, matrices (F or 1, 3, 3), opacities (F or 1,) in [0, 1]
    and the frames it shows in as a half-open stretch of the table's rows.
    """

    layer: str
    matrix: Floats
    opacity: Floats
    shows: tuple[int, int]


@dataclass(frozen=True, eq=False)
class FrameTable:
    """Items from the bottom up, at times (F,) in flicks."""

    times: Integers
    items: tuple[Item, ...]

    def item(self, layer: str) -> Item | None:
        return next((item for item in self.items if item.layer == layer), None)


@dataclass(eq=False)
class _Kept:
    """What was worked out for one layer at one set of times: each track's samples, and the item."""

    layer: Layer
    samples: dict[str, tuple[NumberTrack | PathTrack, Floats]]
    item: Item


class Evaluator:
    """Evaluates scenes, one after the other, remembering each layer by identity.

    Not thread-safe; whoever shares one holds a lock around it.
    """

    def __init__(self) -> None:
        self._times: Integers = np.empty(0, np.int64)
        self._kept: dict[str, _Kept] = {}

    def table(self, scene: Scene, times: npt.ArrayLike) -> FrameTable:
        """The FrameTable of a scene at rising times (F,) in flicks."""
        at = np.asarray(times, np.int64)
        if not np.array_equal(at, self._times):
            self._kept.clear()
            self._times = at
        fresh = [layer for layer in scene.layers if (k := self._kept.get(layer.id)) is None or k.layer is not layer]
        self._sample(fresh, at, scene.length)
        if len(self._kept) > 2 * len(scene.layers) + 64:
            here = {layer.id for layer in scene.layers}
            self._kept = {name: kept for name, kept in self._kept.items() if name in here}
        return FrameTable(at, tuple(self._kept[layer.id].item for layer in reversed(scene.layers)))

    def values(self, scene: Scene, layer_id: str, times: npt.ArrayLike) -> dict[str, Floats]:
        """A layer's property values at the times: property to (F or 1, components), loose values left out."""
        self.table(scene, times)
        layer = scene.layer(layer_id)
        samples = self._kept[layer_id].samples
        return {name: shown_values(layer, name, samples[name][1]) for name in layer.properties}

    def _sample(self, layers: list[Layer], times: Integers, scene_end: int) -> None:
        """Samples every track not yet known of these layers in one go, then composes each layer."""
        wanted: list[tuple[str, str, NumberTrack | PathTrack]] = []
        samples: dict[str, dict[str, tuple[NumberTrack | PathTrack, Floats]]] = {}
        for layer in layers:
            known = self._kept.get(layer.id)
            mine = samples[layer.id] = {}
            for name in layer.properties:
                track = layer.tracks.get(name)
                if track is None:
                    mine[name] = _DEFAULTS[name]
                elif known is not None and name in known.samples and known.samples[name][0] is track:
                    mine[name] = known.samples[name]
                elif not track.keys:
                    mine[name] = (track, np.atleast_2d(np.asarray(track.value, np.float64)))
                else:
                    wanted.append((layer.id, name, track))
        if wanted:
            measures = sample_many([track.curve for _, _, track in wanted], times)
            at = times.astype(np.float64)
            for (layer_id, name, track), row in zip(wanted, measures, strict=True):
                value = track.positions(at, row) if isinstance(track, PathTrack) else row[:, None]
                samples[layer_id][name] = (track, value)
        for layer in layers:
            mine = samples[layer.id]
            item = _compose_item(layer, {name: pair[1] for name, pair in mine.items()}, times, scene_end)
            self._kept[layer.id] = _Kept(layer, mine, item)


def _default(name: str) -> tuple[NumberTrack | PathTrack, Floats]:
    value = PROPERTIES[name].default
    track: NumberTrack | PathTrack
    track = PathTrack(value=(value[0], value[1])) if name == "position" else NumberTrack(value=value[0])
    return track, np.array([value[:2] if name == "position" else value[:1]], np.float64)


_DEFAULTS = {name: _default(name) for name in PROPERTIES}


def shown_values(layer: Layer, name: str, samples: Floats) -> Floats:
    """A track's samples (F, 1 or 2) as the property's components: linked scale becomes its two axes."""
    if name == "scale":
        second = samples * layer.scale_ratio if layer.scale_link == "linked" else _reciprocal(samples)
        return np.concatenate([samples, second], axis=1)
    facts = PROPERTIES[name]
    if facts.low is not None or facts.high is not None:
        return np.clip(samples, facts.low, facts.high)
    return samples


def _reciprocal(samples: Floats) -> Floats:
    """1/s with s kept off nought, so that an area link stays finite."""
    return 1.0 / np.where(np.abs(samples) < 1e-6, np.copysign(1e-6, samples), samples)


def _compose_item(layer: Layer, samples: dict[str, Floats], times: Integers, scene_end: int) -> Item:
    value = {name: shown_values(layer, name, samples[name]) for name in layer.properties}
    scale = _beside(value["scale_x"], value["scale_y"]) if layer.scale_link == "free" else value["scale"]
    matrix = compose(
        value["position"],
        value["rotation"][:, 0],
        scale,
        _beside(value["skew_x"], value["skew_y"]),
        _beside(value["pivot_x"], value["pivot_y"]),
    )
    begin, end = (int(np.searchsorted(times, at, side="left")) for at in (layer.start, layer.end or scene_end))
    # An open end shows as far as anyone looks; a scene's own end is its painters' business.
    shows = (0, 0) if layer.hidden else (begin, len(times) if layer.end is None else end)
    return Item(layer.id, matrix, value["opacity"][:, 0], shows)


def _beside(x: Floats, y: Floats) -> Floats:
    """Two columns (F or 1, 1) as one (F, 2)."""
    return np.concatenate(np.broadcast_arrays(x, y), axis=1)


def evaluate(scene: Scene, times: npt.ArrayLike) -> FrameTable:
    """The FrameTable of a scene at rising times in flicks, from nothing."""
    return Evaluator().table(scene, times)


def frame_times(scene: Scene, first: int = 0, count: int | None = None) -> Integers:
    """The times of frames first … first + count − 1; by default of the whole scene."""
    number = scene.frames - first if count is None else count
    return np.arange(first, first + number, dtype=np.int64) * scene.rate.flicks


def pose(scene: Scene, layer: Layer, time: int) -> dict[str, tuple[float, ...]]:
    """What each property shows at one time, loose values of just that time included."""
    out: dict[str, tuple[float, ...]] = {}
    for name in layer.properties:
        track = layer.track(name)
        if track.loose is not None and track.loose.time == time:
            value: object = track.loose.value
        else:
            value = track.value_at(time)
        row = shown_values(layer, name, np.atleast_2d(np.asarray(value, np.float64)))[0]
        out[name] = tuple(float(number) for number in row)
    return out


def has_loose(layer: Layer, time: int) -> bool:
    """Whether a value of this layer was changed but not keyed at just this time."""
    return any(track.loose is not None and track.loose.time == time for track in layer.tracks.values())


def still(scene: Scene, time: int) -> FrameTable:
    """One frame as it shows at work: loose values of just that time are in it, as they are never in a movie."""
    layers = []
    for layer in scene.layers:
        if has_loose(layer, time):
            tracks = dict(layer.tracks)
            for name, track in layer.tracks.items():
                if track.loose is None or track.loose.time != time:
                    continue
                value = track.loose.value
                tracks[name] = PathTrack(value=value) if isinstance(value, tuple) else NumberTrack(value=value)
            layer = layer.changed(tracks=tracks)
        layers.append(layer)
    return evaluate(scene.changed(layers=tuple(layers)), [time])


def wire_rows(item: Item) -> npt.NDArray[np.float32]:
    """An item's numbers for the wire, float32 (F or 1, 7): the six of its matrix, then its opacity."""
    count = max(len(item.matrix), len(item.opacity))
    rows = np.empty((count, 7), np.float32)
    rows[:, :6] = six(item.matrix)
    rows[:, 6] = item.opacity
    return rows
