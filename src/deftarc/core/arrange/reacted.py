"""Reactions kept true: what a motion does found in a scene, pulses laid at it, and laid anew when that motion changes,
for as long as no hand has changed their keys.
"""

from collections.abc import Sequence
from typing import TypeVar

import numpy as np

from deftarc.core.arrange.followed import is_lost
from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.changes.pulse import pulsed
from deftarc.core.document import FreePath, Layer, Project, Scene
from deftarc.core.document.links import LinkSource, told_by
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.reactions import EventKind, Mark, Reacting, reached
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.evaluate import Asker
from deftarc.core.evaluate.clocks import clocks_of, inner_times
from deftarc.core.evaluate.events import Event, events_of
from deftarc.core.evaluate.gaps import seen_apart

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)
#: The smallest change of a motion that is looked at: so many px, seen from as far as the seam is.
SMALLEST = 0.5


def motion_of(scene: Scene, source: LinkSource) -> list[Event]:
    """What a property does in the time of its scene. Kept with the scene: a page asks for it again and again."""
    known: dict[LinkSource, list[Event]] = scene.__dict__.setdefault("_events", {})
    found = known.get(source)
    if found is None:
        ask = Asker(scene)
        layer, name = scene.layer(source.layer), told_by(source)
        facts = PROPERTIES[source.what]
        one = np.ones(2 if facts.kind == "path" else 1)
        least = SMALLEST / max(seen_apart(facts, one) / float(np.linalg.norm(one)), 1e-9)

        def motion(times: Floats) -> Floats:
            rows = ask.asked(layer, name, times) if name.startswith(".") else ask.values(layer, name, times)
            return np.broadcast_to(rows, (len(times), rows.shape[1]))

        found = known[source] = events_of(motion, 0, scene.length, scene.rate.flicks, least)[: 4 * limits.MAX_REACTED]
    return found


def marks_of(
    scene: Scene, source: LinkSource, kinds: Sequence[EventKind], layer: Layer, kind: str = "number"
) -> tuple[Mark, ...]:
    """What there is to answer for a layer, in the time of its own keys. The way it came is told in the axes that a
    track of a kind lies in: an outline in its layer's own, a path in its carrier's.
    """
    found = [each for each in motion_of(scene, source) if each.kind in kinds][: limits.MAX_REACTED]
    clocks = clocks_of(scene, layer)
    times = np.array([each.time for each in found], np.float64)
    own = np.rint(inner_times(clocks, times)).astype(np.int64) if clocks and len(found) else times.astype(np.int64)
    order = np.argsort(own, kind="stable").tolist()
    return tuple(
        Mark(
            time=int(own[n]),
            strength=min(max(found[n].strength, 0.0), 1.0),
            way=_in_axes(scene, layer, source, found[n], kind),
        )
        for n in order
    )


def laid(scene: Scene, layer: Layer, name: str, told: Reacting) -> Layer:
    """A layer whose property answers what it is told, as that is in a scene now."""
    reaction = told.reaction
    marks = marks_of(scene, reaction.source, reaction.kinds, layer, told.base.kind)
    made = told.changed(reaction=reaction.changed(marks=marks))
    track = _pulsed(layer, name, made, scene)
    # A value that was changed and not keyed stays so, whatever lies beneath it.
    track = track.changed(loose=layer.track(name).loose)
    return layer.changed(tracks={**layer.tracks, name: track}, reactions={**layer.reactions, name: made})


def _in_axes(scene: Scene, layer: Layer, source: LinkSource, event: Event, kind: str) -> tuple[float, ...]:
    """Which way something came, in the axes that a layer's outline or path lies in. What is told by a carrier's axes,
    or the scene's, comes through all that carries the layer.
    """
    if len(event.way) < 2 or kind not in ("outline", "path"):
        return event.way
    ask, time = Asker(scene), event.time
    linear = ask.carried(layer.parent, layer.later, time)[:2, :2]
    if kind == "outline":
        linear = linear @ ask.matrix(layer, time)[:2, :2]
    way = np.array(event.way[:2])
    if source.axes != "scene":
        other = scene.layer(source.layer)
        way = ask.carried(other.parent, other.later, time)[:2, :2] @ way
    x, y = np.linalg.pinv(linear) @ way
    far = float(np.hypot(x, y))
    return (float(x) / far, float(y) / far) if far else event.way


def _pulsed(layer: Layer, name: str, told: Reacting, scene: Scene) -> AnyTrack:
    contours = layer.artwork.contours if isinstance(layer.artwork, FreePath) else ()
    track: AnyTrack = told.base
    return pulsed(track, name, told.reaction, scene.rate.flicks, contours)


def as_it_lies(scene: Scene, layer: Layer, name: str, told: Reacting) -> Reacting | None:
    """What a property's keys are made of as they lie now: as told, or all moved in time; None where a hand made others
    of them. Moved with what they answer they answer it still; moved alone, so much later.
    """
    track = layer.tracks.get(name)
    if track is None:
        return None
    made = _pulsed(layer, name, told, scene)
    track = track.changed(loose=None)
    if track == made:
        return told
    if not made.keys or len(track.keys) != len(made.keys):
        return None
    by = track.keys[0].time - made.keys[0].time
    if not by or track != _moved(made, by):
        return None
    reaction = told.reaction
    now = marks_of(scene, reaction.source, reaction.kinds, layer, told.base.kind)
    near = scene.rate.flicks // 100
    went = len(now) == len(reaction.marks) and all(
        abs(mark.time - old.time - by) <= near for mark, old in zip(now, reaction.marks, strict=True)
    )
    if not went:
        later = reaction.pulse.later + by
        if abs(later) > limits.MAX_LAG:
            return None
        reaction = reaction.changed(pulse=reaction.pulse.changed(later=later))
    return told.changed(base=_moved(told.base, by), reaction=reaction)


def _moved(track: T, by: int) -> T:
    return track.changed(keys=tuple(key.changed(time=key.time + by) for key in track.keys))


def without(layer: Layer, name: str) -> Layer:
    return layer.changed(reactions={each: told for each, told in layer.reactions.items() if each != name})


def answers_still(scene: Scene, layer: Layer) -> Layer:
    """A layer of a scene with such reactions alone whose motion is there."""
    for name, told in layer.reactions.items():
        if is_lost(scene, told.reaction.source):
            layer = without(layer, name)
    return layer


def reactions_kept(before: Project, after: Project) -> Project:
    """A project that came of another, with reactions laid anew where what they answer changed; where a hand changed
    their keys, or what they answered is gone, they are nothing but keys from now on.
    """
    for scene, was in after.other_than(before):
        if any(layer.reactions for layer in scene.layers):
            made = _kept(was, scene)
            after = after.with_scene(made) if made is not scene else after
    return after


def _kept(was: Scene | None, scene: Scene) -> Scene:
    old = {layer.id: layer for layer in was.layers} if was is not None else {}
    due: list[tuple[str, str]] = []
    for layer in scene.layers:
        if not layer.reactions:
            continue
        still = answers_still(scene, layer)
        then = old.get(layer.id)
        shut = layer.locked or any(each.group and each.locked for each in scene.ancestors(layer))
        for name, told in still.reactions.items():
            same = (
                then is not None
                and then.reactions.get(name) is told
                and then.tracks.get(name) is layer.tracks.get(name)
            )
            here = told if same else as_it_lies(scene, layer, name, told)
            if here is None:
                still = without(still, name)
                continue
            if here is not told:
                still = still.changed(reactions={**still.reactions, name: here})
            if not shut:
                due.append((layer.id, name))
        if still is not layer:
            scene = scene.with_layer(still)
    # What one lays may be what another answers: in turn, as often as there are any.
    for _ in due:
        by_id = {layer.id: layer for layer in scene.layers}
        told_again = False
        for layer_id, name in due:
            layer = scene.layer(layer_id)
            if was is not None and not _changed(was, scene, old, by_id, layer, name):
                continue
            fresh_layer = laid(scene, layer, name, layer.reactions[name])
            if fresh_layer.tracks[name] != layer.tracks.get(name) or fresh_layer.reactions != layer.reactions:
                scene = scene.with_layer(fresh_layer)
                told_again = True
        if not told_again:
            break
    return scene


def _changed(was: Scene, scene: Scene, old: dict[str, Layer], by_id: dict[str, Layer], layer: Layer, name: str) -> bool:
    """Whether anything that a reaction hangs on is another than it was."""
    if (was.frames, was.rate) != (scene.frames, scene.rate) or old.get(layer.id) is not by_id.get(layer.id):
        return True
    reads = {each for each, _ in reached(by_id, layer.reactions[name].reaction.source)}
    above = [each.id for each in scene.ancestors(layer)]
    return any(old.get(each) is not by_id.get(each) for each in (*reads, *above))


def let_go(before: Project, after: Project) -> list[str]:
    """What reacted and is nothing but keys now, in words."""
    out = []
    for scene, now in before.other_than(after):
        here = {layer.id: layer for layer in now.layers} if now is not None else {}
        for layer in scene.layers:
            then = here.get(layer.id)
            for name in layer.reactions:
                if then is not None and name not in then.reactions and name in then.keyed:
                    out.append(
                        f"{PROPERTIES[name].label} of {layer.name} answers nothing any more: it goes on with the keys "
                        "it has"
                    )
    return out


__all__ = ["answers_still", "laid", "let_go", "marks_of", "motion_of", "reactions_kept"]
