"""Copied lanes on their way onto layers: which property takes one, with what it becomes there, and how it is laid."""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice

import numpy as np

from deftarc.core.base import limits
from deftarc.core.changes.keys import KeyRef, by_amount, delete_keys, evenly
from deftarc.core.changes.pieces import first_value, mirror_image
from deftarc.core.changes.split import apart, together
from deftarc.core.changes.weave import woven
from deftarc.core.document import Layer, Scene
from deftarc.core.document.clip import CopiedLane
from deftarc.core.document.properties import PROPERTIES, Property, property_named
from deftarc.core.document.track import AnyTrack, NumberTrack, OutlineTrack, PathTrack

#: How far a position split into its axes on the way may be off, in px.
NEAR = 0.1


@dataclass(frozen=True)
class Landing:
    """A copied lane and where it goes: the property of a layer, with the keys it comes to there."""

    lane: CopiedLane
    layer: Layer
    property: str
    track: AnyTrack


def as_paths(scene: Scene, pairs: Sequence[tuple[CopiedLane, Layer]]) -> list[tuple[CopiedLane, Layer]]:
    """Lanes and their layers, with x and y that were copied together put together as a path where a layer's position
    is one.
    """
    axes: dict[tuple[int, str], dict[str, CopiedLane]] = {}
    for lane, layer in pairs:
        if lane.property in ("position_x", "position_y") and not layer.axes_split:
            axes.setdefault((lane.of, layer.id), {})[lane.property] = lane
    out = []
    for lane, layer in pairs:
        both = axes.get((lane.of, layer.id), {}) if lane.property in ("position_x", "position_y") else {}
        if len(both) < 2:
            out.append((lane, layer))
        elif lane.property == "position_x":
            x, y = both["position_x"].track, both["position_y"].track
            assert isinstance(x, NumberTrack)
            assert isinstance(y, NumberTrack)
            path = together(x, y, scene.rate.flicks, NEAR)
            out.append((lane.changed(property="position", track=path), layer))
    return out


def fitted_in(
    scene: Scene,
    pairs: Sequence[tuple[CopiedLane, Layer]],
    missed: list[str],
    onto: str | None = None,
) -> Iterator[Landing]:
    """Lanes on the properties of their layers that take them, each as it is taken and one lane a property: those of
    their own names, or ``onto`` one, with the numbers that are shown where units differ. What does not fit is named
    in ``missed``.
    """
    taken: dict[str, set[str]] = {}
    if onto is None:
        pairs = as_paths(scene, pairs)
    else:
        # Of several the one that is most alike has it.
        unit = property_named(onto).unit
        pairs = sorted(pairs, key=lambda pair: (pair[0].property != onto, PROPERTIES[pair[0].property].unit != unit))
    for lane, layer in pairs:
        there = taken.setdefault(layer.id, set())
        for name, track in _fitting(scene, lane, layer, missed, onto, there):
            if name in there:
                missed.append(f"{PROPERTIES[lane.property].label}: {layer.name} has one {PROPERTIES[name].label}")
                continue
            there.add(name)
            yield Landing(lane, layer, name, track)


def _fitting(
    scene: Scene,
    lane: CopiedLane,
    layer: Layer,
    missed: list[str],
    onto: str | None,
    taken: Collection[str],
) -> list[tuple[str, AnyTrack]]:
    facts = PROPERTIES[lane.property]
    if onto is None:
        found = own_name(layer, lane.property, taken)
        if found is not None:
            there = layer.track(found)
            if isinstance(lane.track, OutlineTrack) and lane.track.width != there.width:
                missed.append(f"{facts.label}: that of {layer.name} has another number of points")
                return []
            return [(found, lane.track)]
        if isinstance(lane.track, PathTrack) and layer.axes_split:
            x, y = apart(lane.track, scene.rate.flicks, NEAR)
            return [("position_x", x), ("position_y", y)]
        missed.append(f"{facts.label}: {layer.name} has none")
        return []
    to = property_named(onto)
    if to.id not in layer.properties:
        missed.append(f"{to.label}: {layer.name} has none")
    elif to.kind != facts.kind:
        missed.append(f"{facts.label} does not fit {to.label}")
    elif isinstance(lane.track, NumberTrack) and to.unit != facts.unit:
        return [(to.id, as_numbers(lane.track, facts, to))]
    elif isinstance(lane.track, OutlineTrack) and lane.track.width != layer.track(to.id).width:
        missed.append(f"{facts.label}: {to.label} of {layer.name} has another number of points")
    else:
        return [(to.id, lane.track)]
    return []


def takers(layer: Layer, lanes: Sequence[CopiedLane]) -> list[Property]:
    """The properties of a layer that take copied lanes of one property, its own left out: those in its unit first."""
    own = PROPERTIES[lanes[0].property]
    tracks = [lane.track for lane in lanes]
    out = []
    for facts in map(property_named, layer.properties):
        if facts.kind != own.kind or facts.id == own.id:
            continue
        width = layer.track(facts.id).width if isinstance(layer.track(facts.id), OutlineTrack) else None
        if all(not isinstance(track, OutlineTrack) or track.width == width for track in tracks):
            out.append(facts)
    return sorted(out, key=lambda facts: facts.unit != own.unit)


def own_name(layer: Layer, name: str, taken: Collection[str] = ()) -> str | None:
    """What a layer calls a property: of an effect, by the first one it has of that kind that is not taken."""
    if name in layer.properties or "/" not in name:
        return name if name in layer.properties else None
    own = name.rpartition("/")[2]
    alike = [each for each in layer.properties if "/" in each and each.rpartition("/")[2] == own]
    return next((each for each in alike if each not in taken), alike[0] if alike else None)


def like(piece: AnyTrack, there: AnyTrack, facts: Property) -> AnyTrack:
    """A piece that grows as the track does onto which it goes."""
    if not isinstance(piece, NumberTrack) or not isinstance(there, NumberTrack) or not there.keys:
        return piece
    if piece.evenly == there.evenly:
        return piece
    return evenly(piece) if there.evenly else by_amount(piece)


def held(piece: AnyTrack, facts: Property) -> AnyTrack:
    """A piece with its values within what a property allows."""
    if not isinstance(piece, NumberTrack):
        return piece
    keys = [key.changed(value=facts.held(key.value)) for key in piece.keys]
    if all(a.value == b.value for a, b in zip(keys, piece.keys, strict=True)):
        return piece
    return piece.changed(keys=tuple(keys))


def mirrored_within(piece: AnyTrack, facts: Property) -> AnyTrack:
    """A piece mirrored about its first value; where a property does not allow all of that, about the middle of what it
    spans, so that none of it is cut off.
    """
    made = mirror_image(piece, first_value(piece))
    if not isinstance(piece, NumberTrack) or held(made, facts) is made:
        return made
    low, high = (pick(key.value for key in piece.keys) for pick in (min, max))
    return mirror_image(piece, (float(np.sqrt(low * high)) if piece.evenly else (low + high) / 2,))


def as_numbers(piece: NumberTrack, facts: Property, to: Property) -> NumberTrack:
    """A piece whose shown numbers are the same in another unit."""
    by = facts.factor / to.factor
    plain = by_amount(piece)
    keys = [
        key.changed(
            value=key.value * by,
            arriving=key.arriving.changed(rise=key.arriving.rise * by) if key.arriving else None,
            leaving=key.leaving.changed(rise=key.leaving.rise * by) if key.leaving else None,
        )
        for key in plain.keys
    ]
    return plain.changed(keys=tuple(keys))


def laid_on(scene: Scene, landings: Sequence[Landing], replace: bool) -> Scene:
    """A scene with what comes to lie on its layers."""
    for each in landings:
        layer = scene.layer(each.layer.id)
        made = onto(layer.track(each.property), each.track, replace)
        scene = scene.with_layer(layer.with_track(each.property, made))
    return scene


def keys_of(landings: Sequence[Landing]) -> list[KeyRef]:
    """The keys that come to lie, as many as a lane may have."""
    refs = (
        KeyRef(layer=each.layer.id, property=each.property, time=time)
        for each in landings
        for time in each.track.key_times
    )
    return list(islice(refs, limits.MAX_KEYS_PER_LANE))


def outside(scene: Scene, landings: Sequence[Landing]) -> int:
    """How many keys come to lie outside a scene's time."""
    return sum(not 0 <= time < scene.length for each in landings for time in each.track.key_times)


def onto(track: AnyTrack, piece: AnyTrack, replace: bool) -> AnyTrack:
    """A track with a piece's keys: among its own, or ``replace`` those in the way, from its first to its last."""
    if replace and track.keys:
        first, last = piece.keys[0].time, piece.keys[-1].time
        gone = {time for time in track.key_times if first <= time <= last}
        track = piece if len(gone) == len(track.keys) else delete_keys(track, gone)
    if not track.keys:
        return _onto_none(track, piece)
    made = woven(track.changed(loose=None), piece.changed(before=None, after=None))
    # What goes on beyond the keys is that of the key it begins from.
    if piece.before is not None and made.key_times[0] == piece.key_times[0]:
        made = made.changed(before=piece.before)
    if piece.after is not None and made.key_times[-1] == piece.key_times[-1]:
        made = made.changed(after=piece.after)
    return made


def _onto_none(track: AnyTrack, piece: AnyTrack) -> AnyTrack:
    """A piece as all the motion of a property that had none."""
    if isinstance(piece, PathTrack) and isinstance(track, PathTrack):
        return piece.changed(value=track.value, rounded=track.rounded)
    return piece.changed(value=track.value)
