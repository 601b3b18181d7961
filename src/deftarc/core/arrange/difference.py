"""Where two documents differ: in which scene, on which layers, at which keys, and at which frame it shows."""

from dataclasses import dataclass, field

import numpy as np

from deftarc.core.arrange.family import needed_for, seen_with
from deftarc.core.base.arrays import Floats
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.artwork import TextShaper
from deftarc.core.evaluate import Dots, Leaf, Scenes, evaluate, frame_times, outermost, wire_rows
from deftarc.core.spaces.outlines import Outlines


@dataclass(frozen=True)
class Difference:
    """What another document has otherwise. ``layers`` are those of ``after`` that are new or not as they were,
    ``gone`` those it has no more, ``keys`` those that ``after`` has and ``before`` has not.
    """

    before: Scene | None
    after: Scene
    layers: tuple[str, ...] = ()
    gone: tuple[str, ...] = ()
    keys: tuple[KeyRef, ...] = field(default=())


def difference(before: Project, after: Project, near: str | None = None) -> Difference | None:
    """Where ``after`` differs, preferably in the scene ``near``; None where no scene does.

    Where a scene is gone, the place is the scene that now stands where it stood.
    """
    old = {scene.id: scene for scene in before.scenes}
    changed = [scene for scene in after.scenes if old.get(scene.id) != scene]
    if not changed:
        lost = [n for n, scene in enumerate(before.scenes) if all(scene.id != other.id for other in after.scenes)]
        if not lost:
            return None
        here = next((scene for scene in after.scenes if scene.id == near), None)
        return Difference(None, here or after.scenes[min(lost[0], len(after.scenes) - 1)])
    scene = next((scene for scene in changed if scene.id == near), changed[0])
    was = old.get(scene.id)
    if was is None:
        return Difference(None, scene)
    known = {layer.id: layer for layer in was.layers}
    layers = [layer for layer in scene.layers if known.get(layer.id) != layer]
    here_now = {layer.id for layer in scene.layers}
    keys = [ref for layer in layers if layer.id in known for ref in _new_keys(known[layer.id], layer)]
    gone = tuple(name for name in known if name not in here_now)
    return Difference(was, scene, tuple(layer.id for layer in layers), gone, tuple(keys))


def _new_keys(before: Layer, after: Layer) -> list[KeyRef]:
    out = []
    for name in after.keyed:
        known = set(before.tracks[name].key_times) if name in before.tracks else set()
        out += [KeyRef(layer=after.id, property=name, time=time) for time in after.tracks[name].key_times
                if time not in known]  # fmt: skip
    return out


def nearest_frame(
    told: Difference, frame: int, shape_text: TextShaper | None = None, scenes: Scenes | None = None
) -> int | None:
    """The frame nearest to one at which the two pictures differ; None where they do at none, or cannot be compared."""
    before, after = told.before, told.after
    if before is None or (before.frames, before.rate) != (after.frames, after.rate):
        return None
    off = np.zeros(after.frames, bool)
    ids = {*told.layers, *told.gone}
    one, other = (_pictured(scene, ids, shape_text, scenes) for scene in (before, after))
    for name in {*one, *other}:
        off |= _apart(one.get(name), other.get(name), after.frames)
    for name in told.layers:
        layers = [next((x for x in scene.layers if x.id == name), None) for scene in (before, after)]
        for time in set().union(*(layer.loose_times for layer in layers if layer is not None)):
            loose = [layer and {n: t.loose for n, t in layer.tracks.items() if t.loose} for layer in layers]
            k = after.rate.nearest(time)
            if loose[0] != loose[1] and 0 <= k < after.frames:
                off[k] = True
    frames = np.flatnonzero(off)
    return int(frames[np.argmin(np.abs(frames - frame))]) if frames.size else None


def _pictured(scene: Scene, layers: set[str], shape_text: TextShaper | None, scenes: Scenes | None) -> dict[str, Leaf]:
    """The items of some layers and of all that goes with them, over the whole scene."""
    wanted = seen_with(scene, {layer.id for layer in scene.layers if layer.id in layers})
    needed = needed_for(scene, wanted)
    part = scene.changed(layers=tuple(layer for layer in scene.layers if layer.id in needed))
    table = evaluate(part, frame_times(scene), shape_text, scenes=scenes)
    return {item.layer: item for item in table.every if isinstance(item, Leaf) and outermost(item.layer) in wanted}


def _same_kind(one: Leaf, other: Leaf) -> bool:
    """Whether two are treated and masked by the same things, and laid on alike: then only numbers can differ."""
    return (
        [(x.id, x.kind) for x in one.effects] == [(x.id, x.kind) for x in other.effects]
        and [(x.id, x.mode, x.inverted) for x in one.masks] == [(x.id, x.mode, x.inverted) for x in other.masks]
        and one.blend == other.blend
        and _matte(one) == _matte(other)
    )


def _matte(leaf: Leaf) -> tuple[str, bool] | None:
    return None if leaf.matte is None else (leaf.matte.by, leaf.matte.inverted)


def _dots_apart(one: Dots, other: Dots, frames: int) -> "np.ndarray[tuple[int], np.dtype[np.bool_]]":
    """By frame, whether rings or particles are others."""
    if (one.kind, one.sides, one.shaped) != (other.kind, other.sides, other.shaped):
        return np.ones(frames, bool)
    return np.array([
        len(one.at(k)) != len(other.at(k)) or bool((np.abs(one.at(k) - other.at(k)) > 1e-6).any())
        for k in range(frames)
    ])  # fmt: skip


def _even_rows(outline: Outlines) -> Floats:
    """The points of an outline whose verbs stay, a row each moment."""
    return outline.grid.reshape(outline.rows, -1)


def _apart(one: Leaf | None, other: Leaf | None, frames: int) -> "np.ndarray[tuple[int], np.dtype[np.bool_]]":
    """By frame, whether two items show otherwise."""
    at = np.arange(frames)
    shown = [np.zeros(frames, bool) if x is None else (x.shows[0] <= at) & (at < x.shows[1]) for x in (one, other)]
    off = shown[0] != shown[1]
    if one is None or other is None:
        return off
    blocks: list[tuple[Floats, Floats]] = [(wire_rows(one).astype(float), wire_rows(other).astype(float))]
    if one.look.keys() != other.look.keys() or (one.outline is None) != (other.outline is None):
        return off | shown[0] | shown[1]
    if (one.dots is None) != (other.dots is None):
        return off | shown[0] | shown[1]
    blocks += [(one.look[name], other.look[name]) for name in one.look]
    if one.outline is not None and other.outline is not None:
        if not (one.outline.even and other.outline.even) or one.outline.verbs != other.outline.verbs:
            return off | shown[0] | shown[1]
        blocks.append((_even_rows(one.outline), _even_rows(other.outline)))
    if not _same_kind(one, other):
        return off | shown[0] | shown[1]
    for effect, then in zip(one.effects, other.effects, strict=True):
        blocks += [(rows, then.values[name]) for name, rows in effect.values.items()]
    for mask, was in zip(one.masks, other.masks, strict=True):
        if not (mask.outline.even and was.outline.even) or mask.outline.verbs != was.outline.verbs:
            return off | shown[0] | shown[1]
        blocks += [
            (mask.feather[:, None], was.feather[:, None]), (mask.opacity[:, None], was.opacity[:, None]),
            (_even_rows(mask.outline), _even_rows(was.outline)),
        ]  # fmt: skip
    if one.dots is not None and other.dots is not None:
        off |= _dots_apart(one.dots, other.dots, frames) & (shown[0] | shown[1])
    for a, b in blocks:
        if a.shape[1] != b.shape[1]:
            return off | shown[0] | shown[1]
        off |= (np.abs(a - b) > 1e-6).any(axis=1) & (shown[0] | shown[1])
    return off
