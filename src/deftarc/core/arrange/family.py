"""Who carries whom: parents changed without the picture moving, and matrices taken apart again."""

from collections.abc import Iterable, Iterator, Mapping

import numpy as np

from deftarc.core.arrange.placed import spots_through
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.changes.keys import multiplied, shifted
from deftarc.core.document import Layer, Scene, check_parents
from deftarc.core.document.artwork import Bursts, Particles
from deftarc.core.document.track import NumberTrack
from deftarc.core.evaluate import carried_by, heading_at, matrix_at, pose, related


def taken_apart(linear: Floats, skew_y: float, near: tuple[float, float]) -> tuple[float, float, float, float]:
    """Rotation in degrees, skew x in degrees, scale x, scale y of a (2, 2) matrix R·K·S with a given skew y.

    ``near`` is the rotation to stay close to, and the scale x whose sign is kept.
    """
    across = np.tan(np.deg2rad(skew_y))
    size = float(np.hypot(*linear[:, 0]) / np.sqrt(1 + across**2))
    sx = size if near[1] >= 0 else -size
    if size < 1e-9:
        raise Refusal("A layer scaled to nothing has no direction to keep. Give it a size first.")
    turned = np.arctan2(linear[1, 0] / sx, linear[0, 0] / sx) - np.deg2rad(skew_y)
    cos, sin = np.cos(turned), np.sin(turned)
    back = np.array([[cos, sin], [-sin, cos]]) @ linear[:, 1]
    sy = float(back[1])
    skew_x = float(np.rad2deg(np.arctan2(back[0], sy))) if abs(sy) > 1e-12 else 0.0
    skew_x = (skew_x + 90) % 180 - 90
    degrees = float(np.rad2deg(turned))
    return degrees - 360 * round((degrees - near[0]) / 360), skew_x, sx, sy


def with_parent(scene: Scene, layer: Layer, parent: str | None, time: int) -> Layer:
    """A layer carried by another (or by none), its picture at this time as it was. Its whole motion goes along:
    no key is added. Raises Refusal for a ring, naming its members.
    """
    if parent == layer.parent:
        return layer
    fresh = layer.changed(parent=parent)
    check_parents(tuple(fresh if each.id == layer.id else each for each in scene.layers))
    old, new = carried_by(scene, layer, time), carried_by(scene, fresh, time)
    if abs(np.linalg.det(new)) < 1e-12:
        raise Refusal("The new parent is scaled to nothing at this frame. Go to a frame where it has a size.")
    return through_change(scene, fresh, layer, np.linalg.inv(new) @ old, time)


def through_change(scene: Scene, fresh: Layer, layer: Layer, change: Floats, time: int) -> Layer:
    """A layer that is to be ``fresh``, its whole motion put through a (3, 3) matrix in the px of what carries it, so
    that it looks at a time as that makes it look: no key is added.
    """
    # A stretch comes of how it goes through the scene, and is there again.
    own = change @ matrix_at(scene, layer, time, bare=True)
    now = pose(layer, time)
    free = layer.scale_link == "free"
    scale = (now["scale_x"][0], now["scale_y"][0]) if free else now["scale"]
    skew_y = now["skew_y"][0]
    degrees, skew_x, sx, sy = taken_apart(own[:2, :2], skew_y, (now["rotation"][0], scale[0]))
    out = spots_through(fresh.changed(tracks=layer.tracks), change, scene.rate.flicks)
    degrees -= heading_at(scene, out, time)
    degrees -= 360 * round((degrees - now["rotation"][0]) / 360)
    if abs(degrees - now["rotation"][0]) > 1e-9:
        out = out.with_track("rotation", shifted(layer.number("rotation"), (degrees - now["rotation"][0],)))
    if abs(skew_x - now["skew_x"][0]) > 1e-7:
        out = out.with_track("skew_x", shifted(layer.number("skew_x"), (skew_x - now["skew_x"][0],)))
    return _scaled(out, scale, (sx, sy))


def _scaled(layer: Layer, before: tuple[float, ...], after: tuple[float, float]) -> Layer:
    """The whole scale motion times what brings it from one pair of factors to another."""
    fx, fy = (new / old if abs(old) > 1e-9 else 1.0 for old, new in zip(before, after, strict=True))
    if abs(fx - 1) < 1e-9 and abs(fy - 1) < 1e-9:
        return layer
    if layer.scale_link == "free":
        for name, factor in (("scale_x", fx), ("scale_y", fy)):
            layer = layer.with_track(name, multiplied(layer.number(name), factor))
        return layer
    track: NumberTrack = multiplied(layer.number("scale"), fx)
    ratio = layer.scale_ratio * (fy / fx if layer.scale_link == "linked" else fy * fx)
    return layer.with_track("scale", track).changed(scale_ratio=float(np.clip(ratio, -1e6, 1e6)))


def carried_along(scene: Scene, layers: set[str]) -> set[str]:
    """Those of some layers that another of them carries, at whatever remove."""
    by_id = {layer.id: layer for layer in scene.layers}
    return {name for name in layers if any(each.id in layers for each in scene.ancestors(by_id[name]))}


def led_by(scene: Scene, layers: Iterable[str]) -> set[str]:
    """Some layers, by id, with all that goes where they go: what they carry, what follows them, and what bursts where
    they are, however far on.
    """
    found = set(layers)
    if not related(scene) and not any(isinstance(layer.artwork, Bursts) for layer in scene.layers):
        return found | {each.id for each in scene.layers if any(up.id in found for up in scene.ancestors(each))}
    leads: dict[str, list[str]] = {}
    for layer in scene.layers:
        for leader in _leaders(layer):
            leads.setdefault(leader, []).append(layer.id)
    return _reached(found, leads)


def needed_for(scene: Scene, layers: Iterable[str]) -> set[str]:
    """Some layers, by id, with all that they are told by and drawn with: what carries them, what they follow, burst at
    and show through, however far back.
    """
    by_id = {layer.id: [*_leaders(layer), *_drawn_with(scene, layer)] for layer in scene.layers}
    return _reached({name for name in layers if name in by_id}, by_id)


def seen_with(scene: Scene, layers: Iterable[str]) -> set[str]:
    """Some layers, by id, with all that looks otherwise where they do: what goes where they go, and what shows through
    them or is shaped as they are.
    """
    drawn: dict[str, list[str]] = {}
    for layer in scene.layers:
        for other in _drawn_with(scene, layer):
            drawn.setdefault(other, []).append(layer.id)
    return _reached(led_by(scene, layers), drawn)


def _leaders(layer: Layer) -> Iterator[str]:
    if layer.parent is not None:
        yield layer.parent
    yield from (link.source.layer for link in layer.links.values())
    if isinstance(layer.artwork, Bursts) and layer.artwork.source is not None:
        yield layer.artwork.source


def _drawn_with(scene: Scene, layer: Layer) -> Iterator[str]:
    """What there has to be for a layer to be drawn: what it shows through, if that is a group with all in it, and what
    its particles are shaped as.
    """
    if layer.matte is not None:
        yield layer.matte.layer
        if scene.layer(layer.matte.layer).group:
            yield from (each.id for each in members(scene, layer.matte.layer))
    if isinstance(layer.artwork, Particles) and layer.artwork.shaped is not None:
        yield layer.artwork.shaped


def _reached(found: set[str], on: Mapping[str, list[str]]) -> set[str]:
    waiting = list(found)
    while waiting:
        for name in on.get(waiting.pop(), ()):
            if name not in found:
                found.add(name)
                waiting.append(name)
    return found


def members(scene: Scene, parent: str) -> list[Layer]:
    """All layers that a layer carries, directly or further down, in the list's order."""
    carried: dict[str, list[str]] = {}
    for layer in scene.layers:
        if layer.parent is not None:
            carried.setdefault(layer.parent, []).append(layer.id)
    if parent not in carried:
        return []
    found = _reached({parent}, carried)
    return [layer for layer in scene.layers if layer.id in found and layer.id != parent]
