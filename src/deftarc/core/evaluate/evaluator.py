"""Evaluation: a scene and times in, a FrameTable out. The one seam between the core and all that paints.

``Evaluator`` keeps what it worked out for each layer and each track; documents share what an edit did not
touch, so identity says what is still true.
"""

from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.matrices import compose
from deftarc.core.curves.curve import sample_many
from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork import Carrier, Painted
from deftarc.core.document.outlines import TextShaper, outlines
from deftarc.core.document.properties import PROPERTIES, SHAPING
from deftarc.core.document.shown import shown_values
from deftarc.core.document.track import AnyTrack, NumberTrack, PathTrack
from deftarc.core.evaluate.frames import FrameTable, Item
from deftarc.core.evaluate.turning import turned
from deftarc.core.spaces.outline import bounds_over_time

#: No number of a matrix is larger; far enough out that nothing of it is seen, and still a number in 32 bits.
REACH = 1e30
#: A track and its samples (F or 1, components).
Sampled = tuple[AnyTrack, Floats]


@dataclass(eq=False)
class _Kept:
    """What was worked out for one layer at one set of times: each track's samples, and what it is by itself."""

    layer: Layer
    samples: dict[str, Sampled]
    own: Floats
    opacity: Floats
    look: dict[str, Floats]
    outline: tuple[str, Floats] | None
    #: What it was last composed from, and the item that came of it.
    above: tuple[object, ...] = ()
    item: Item | None = None
    world: Floats = field(default_factory=lambda: np.eye(3)[None])
    #: The opacity that goes on to what it carries; None where all of it shows.
    handed: Floats | None = None
    #: Values as they are shown, by property, each with what it was made from.
    shown: dict[str, tuple[object, Floats]] = field(default_factory=dict)


class Evaluator:
    """Evaluates scenes, one after the other, remembering each layer by identity.

    ``shape_text`` is asked for the form of texts whose numbers are keyed. Not thread-safe; whoever shares one holds
    a lock around it.
    """

    def __init__(self, shape_text: TextShaper | None = None) -> None:
        self.shape_text = shape_text
        self._times: Integers = np.empty(0, np.int64)
        self._kept: dict[str, _Kept] = {}
        self._last: tuple[Scene, FrameTable] | None = None

    def table(self, scene: Scene, times: npt.ArrayLike) -> FrameTable:
        """The FrameTable of a scene at rising times (F,) in flicks."""
        at = np.asarray(times, np.int64)
        if not np.array_equal(at, self._times):
            self._kept.clear()
            self._times = at
        elif self._last is not None and self._last[0] is scene:
            return self._last[1]
        fresh = [layer for layer in scene.layers if (k := self._kept.get(layer.id)) is None or k.layer is not layer]
        self._sample(fresh, at)
        if len(self._kept) > 2 * len(scene.layers) + 64:
            here = {layer.id for layer in scene.layers}
            self._kept = {name: kept for name, kept in self._kept.items() if name in here}
        self._compose(scene, at, {layer.id for layer in fresh})
        kept = [self._kept[layer.id] for layer in scene.layers]
        items = tuple(each.item for each in reversed(kept) if each.item is not None)
        made = FrameTable(at, items, {each.layer.id: each.world for each in kept})
        self._last = (scene, made)
        return made

    def values(self, scene: Scene, layer_id: str, times: npt.ArrayLike) -> dict[str, Floats]:
        """A layer's property values at the times: property to (F or 1, components), loose values left out.

        Arrays stay the same objects while what they were made from does.
        """
        self.table(scene, times)
        layer = scene.layer(layer_id)
        kept = self._kept[layer_id]
        out: dict[str, Floats] = {}
        for name in layer.properties:
            sampled = kept.samples.get(name)
            made_from: object = layer.artwork if sampled is None else sampled[1]
            known = kept.shown.get(name)
            if known is None or known[0] is not made_from or name == "scale":
                rows = shown_values(layer, name, (sampled or _resting(layer.track(name)))[1])
                if known is not None and np.array_equal(known[1], rows):
                    rows = known[1]
                known = kept.shown[name] = (made_from, rows)
            out[name] = known[1]
        return out

    def _sample(self, layers: list[Layer], times: Integers) -> None:
        """Samples every track not yet known of these layers in one go, then works out each layer by itself."""
        wanted: list[tuple[str, str, AnyTrack]] = []
        samples: dict[str, dict[str, Sampled]] = {}
        for layer in layers:
            known = self._kept.get(layer.id)
            mine = samples[layer.id] = {}
            for name in layer.properties:
                track = layer.tracks.get(name)
                if track is None:
                    if name in TRANSFORM:
                        mine[name] = TRANSFORM[name]
                elif known is not None and name in known.samples and known.samples[name][0] is track:
                    mine[name] = known.samples[name]
                elif not track.keys:
                    mine[name] = _resting(track)
                else:
                    wanted.append((layer.id, name, track))
        if wanted:
            measures = sample_many([track.curve for _, _, track in wanted], times)
            at = times.astype(np.float64)
            for (layer_id, name, track), row in zip(wanted, measures, strict=True):
                samples[layer_id][name] = (track, track.sampled(at, row))
        for layer in layers:
            mine = samples[layer.id]
            value = {name: pair[1] for name, pair in mine.items()}
            look, outline = _look(layer, value, self.shape_text)
            opacity = shown_values(layer, "opacity", value["opacity"])[:, 0]
            own = own_matrix(layer, value, way_of(layer, value, times))
            shown = self._kept[layer.id].shown if layer.id in self._kept else {}
            self._kept[layer.id] = _Kept(layer, mine, own, opacity, look, outline, shown=shown)

    def _compose(self, scene: Scene, times: Integers, fresh: set[str]) -> None:
        """What each layer is in the scene: itself under those that carry it. Kept while none of these changed."""
        by_id = {layer.id: layer for layer in scene.layers}
        done: set[str] = set()
        scene_end = scene.length
        for layer in scene.layers:
            if layer.parent is None and layer.id not in fresh:
                above = self._kept[layer.id].above
                if above and above[2] == scene_end:
                    # As it was, and carried by nobody: most layers, at most moves of a hand.
                    continue
            chain = []
            while layer.id not in done:
                chain.append(layer)
                done.add(layer.id)
                if layer.parent is None:
                    break
                layer = by_id[layer.parent]
            for each in reversed(chain):
                self._place(each, by_id, times, scene_end)

    def _place(self, layer: Layer, by_id: dict[str, Layer], times: Integers, scene_end: int) -> None:
        kept = self._kept[layer.id]
        carrier = self._kept[layer.parent] if layer.parent is not None else None
        hidden = layer.hidden or any_group_hidden(layer, by_id)
        above = (carrier.world if carrier else None, carrier.handed if carrier else None, scene_end, hidden)
        before = kept.above
        if before and before[0] is above[0] and before[1] is above[1] and before[2:] == above[2:]:
            return
        opacity = kept.opacity if carrier is None or carrier.handed is None else kept.opacity * carrier.handed
        kept.world = kept.own if carrier is None else within_reach(carrier.world @ kept.own)
        kept.handed = opacity if layer.hands_opacity else carrier.handed if carrier is not None else None
        kept.above = above
        if not isinstance(layer.artwork, Carrier):
            stop = scene_end if layer.end is None else layer.end
            begin, end = (int(np.searchsorted(times, t, side="left")) for t in (layer.start, stop))
            # An open end shows as far as anyone looks; a scene's own end is its painters' business.
            shows = (0, 0) if hidden else (begin, len(times) if layer.end is None else end)
            kept.item = Item(layer.id, kept.world, opacity, shows, kept.look, kept.outline)


def within_reach(matrices: Floats) -> Floats:
    """Matrices with no number beyond REACH: carriers that grow what they carry, many deep, would reach past all
    numbers, and past those a page and a painter know long before.
    """
    if matrices.max(initial=0.0) <= REACH and matrices.min(initial=0.0) >= -REACH:
        return matrices
    return np.clip(matrices, -REACH, REACH)


def any_group_hidden(layer: Layer, by_id: dict[str, Layer]) -> bool:
    """Whether a group that a layer is a member of, however deep, is hidden."""
    while layer.parent is not None:
        layer = by_id[layer.parent]
        if layer.group and layer.hidden:
            return True
    return False


def _resting(track: AnyTrack) -> Sampled:
    return track, np.array([track.resting()], np.float64)


def _default(name: str) -> Sampled:
    value = PROPERTIES[name].default
    return _resting(PathTrack(value=(value[0], value[1])) if name == "position" else NumberTrack(value=value[0]))


TRANSFORM = {name: _default(name) for name, facts in PROPERTIES.items() if not facts.artwork}


def way_of(layer: Layer, samples: dict[str, Floats], times: npt.ArrayLike) -> "Floats | None":
    """Degrees (F,) that a layer's way adds to its rotation at times (F,); None where it adds none."""
    track = layer.tracks.get("position")
    if not isinstance(track, PathTrack) or not (samples["along"].any() or samples["lean"].any()):
        return None
    shares = (shown_values(layer, name, samples[name])[:, 0] for name in ("along", "lean"))
    return turned(track, np.asarray(times, np.float64), *shares)


def own_matrix(layer: Layer, samples: dict[str, Floats], way: "Floats | None" = None) -> Floats:
    """A layer's matrices (F or 1, 3, 3) from its px to those of whoever carries it; ``way`` turns it besides."""
    value = {name: shown_values(layer, name, samples[name]) for name in layer.properties if name in TRANSFORM}
    scale = _beside(value["scale_x"], value["scale_y"]) if layer.scale_link == "free" else value["scale"]
    rotation = value["rotation"][:, 0]
    return compose(
        _beside(value["position_x"], value["position_y"]) if layer.axes_split else value["position"],
        rotation if way is None else rotation + way,
        scale,
        _beside(value["skew_x"], value["skew_y"]),
        _beside(value["pivot_x"], value["pivot_y"]),
    )


def _look(
    layer: Layer, samples: dict[str, Floats], shape_text: TextShaper | None
) -> tuple[dict[str, Floats], tuple[str, Floats] | None]:
    """What of a layer's artwork changes over time: its looks, and its outline if that does."""
    artwork = layer.artwork
    moving = {name for name in artwork.keyable if name in layer.tracks}
    if not moving or not isinstance(artwork, Painted):
        return {}, None
    look = {name: shown_values(layer, name, samples[name]) for name in moving - SHAPING}
    shaping = moving & SHAPING
    if not shaping:
        return look, None
    numbers = {name: shown_values(layer, name, samples[name]) for name in shaping}
    outline = outlines(artwork, {n: v if n == "outline" else v[:, 0] for n, v in numbers.items()}, shape_text)
    look["bounds"] = bounds_over_time(*outline)
    return look, outline


def _beside(x: Floats, y: Floats) -> Floats:
    """Two columns (F or 1, 1) as one (F, 2)."""
    return np.concatenate(np.broadcast_arrays(x, y), axis=1)


def evaluate(scene: Scene, times: npt.ArrayLike, shape_text: TextShaper | None = None) -> FrameTable:
    """The FrameTable of a scene at rising times in flicks, from nothing."""
    return Evaluator(shape_text).table(scene, times)
