"""Edits of clocks: given, held still for a while, made into ordinary keys."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Moment
from deftarc.core.base.time import FLICKS
from deftarc.core.base.working import at_work
from deftarc.core.changes.keys import KeyRef, set_key
from deftarc.core.changes.retime import span_of
from deftarc.core.changes.unclocked import even_of, unclocked
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.keys import NumberKey
from deftarc.core.document.track import NumberTrack
from deftarc.core.edit.base import Note
from deftarc.core.edit.layers import LayersEdit
from deftarc.core.edit.spans import SpanEdit
from deftarc.core.evaluate import Evaluator, frame_times
from deftarc.core.evaluate.clocks import clocks_of, inner_times, lane_clocks, own_clock


class GiveClock(SpanEdit):
    """Layers given a clock of their own that runs at a rate from the start of their span on: 1 is the scene's, 0.5 half
    as fast, below 0 it runs backwards from the span's end; None is the rate at which a layer goes already. One there is
    takes its place.
    """

    kind: Literal["give_clock"] = "give_clock"
    rate: Annotated[float, Field(ge=-100, le=100)] | None = None

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        start, end = span_of(layer, scene.length)
        rate = 1.0 if self.rate is None else self.rate
        first = start if rate >= 0 else end
        if isinstance(layer.artwork, SceneShown):
            # A clock tells the moment of the scene that is shown.
            rate = layer.artwork.rate if self.rate is None else self.rate
            backwards = self.rate is not None and rate < 0
            first = layer.artwork.begins + (end - start if backwards else 0)
        values = (first / FLICKS, (first + rate * (end - start)) / FLICKS)
        keys = tuple(NumberKey(time=time, value=value) for time, value in zip((start, end), values, strict=True))
        goes_on = Beyond(how="continue")
        return layer.with_track("clock", NumberTrack(value=0.0, keys=keys, before=goes_on, after=goes_on))

    def label(self, project: Project) -> str:
        return f"Give {self.names(project)} a clock" + ("" if self.rate in (None, 1) else f" at {100 * self.rate:g}%")

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        # The last key is the one to take hold of: earlier all runs faster, later slower.
        scene = project.scene(self.scene)
        return [
            KeyRef(layer=name, property="clock", time=scene.layer(name).track("clock").key_times[-1])
            for name in self.layers
        ]


class FreezeClock(SpanEdit):
    """Clocks held still for a while from a moment on; what they tell later comes so much later. Both are the scene's
    time: a clock within another one is held where that shows it, for as long as is seen.
    """

    kind: Literal["freeze_clock"] = "freeze_clock"
    time: Moment
    length: Annotated[Moment, Field(gt=0)]

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        if not own_clock(layer):
            layer = GiveClock(scene=scene.id, layers=(layer.id,)).on_layer(scene, layer)
        above = lane_clocks(scene, layer, "clock")
        here, later_on = inner_times(above, np.array([self.time, self.time + self.length], np.float64)).tolist()
        time, length = round(here), round(abs(later_on - here)) or self.length
        track = set_key(layer.number("clock"), time)
        k = track.key_times.index(time)
        still = track.keys[k]
        later = [key.changed(time=key.time + length) for key in track.keys[k + 1 :]]
        if later and later[-1].time > limits.FURTHEST:
            raise Refusal(f"A key lies at most {limits.MAX_TIME_SECONDS // 3600} hours from the scene's start.")
        again = still.changed(time=time + length, arriving=None, joint="corner", id=None)
        held = still.changed(leaving=None, hold=True, steps=None, joint="corner")
        return layer.with_track("clock", track.changed(keys=(*track.keys[:k], held, again, *later)))

    def label(self, project: Project) -> str:
        return f"Freeze {self.names(project)}"


class BakeClock(LayersEdit):
    """The motion of layers in the time of their clocks made into ordinary keys, and the clocks taken away: of them
    and of what is in them, where they are groups. Where a clock runs evenly keys are moved as they are; else there is
    one at each frame. Refused by name where the motion would not be the same.
    """

    kind: Literal["bake_clock"] = "bake_clock"

    def apply(self, project: Project) -> Project:
        scene = before = project.scene(self.scene)
        for layer in self.found(project):
            scene = _without_clock(scene, scene.layer(layer.id))
        self._check(before, scene)
        return project.with_scene(scene)

    def _check(self, before: Scene, scene: Scene) -> None:
        """Refusal where any layer would be elsewhere, or show another value, at any frame."""
        driven = {each.id for layer in self.layers for each in _timed_by(before, before.layer(layer))}
        scenes = (before, scene)
        # So many at a time that what they come to takes no more memory than a short scene does.
        count = max(1, AT_ONCE // len(before.layers))
        for first in at_work(range(0, before.frames, count)):
            times = frame_times(before, first, min(count, before.frames - first))
            evaluators = [Evaluator(), Evaluator()]
            tables = [each.table(one, times) for each, one in zip(evaluators, scenes, strict=True)]
            for layer in before.layers:
                off = float(np.abs(tables[0].worlds[layer.id] - tables[1].worlds[layer.id]).max())
                if layer.id in driven and off <= NEAR:
                    old, new = (each.values(one, layer.id, times) for each, one in zip(evaluators, scenes, strict=True))
                    off = max((_off(old[name], new[name]) for name in old.keys() & new.keys() - {"clock"}), default=0.0)
                if off > NEAR:
                    raise Refusal(
                        f"{layer.name} would not move as it does: it depends on this clock as no keys can keep it."
                    )

    def label(self, project: Project) -> str:
        return f"Make keys of the clock of {self.names(project)}"

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = after.scene(self.scene)
        timed = {each.id for name in self.layers for each in _timed_by(scene, scene.layer(name))}
        count = sum(len(t.keys) for name in timed for t in scene.layer(name).tracks.values())
        of = f" of {len(timed)} layers" if len(timed) > 1 else ""
        return (Note(f"{count} keys{of} now, with the same motion."),)


#: What is no difference: px, and parts of a value.
NEAR = 1e-3
#: Layers times frames that are compared at once.
AT_ONCE = 200_000


def _off(one: Floats, other: Floats) -> float:
    """By how much two rows of values differ, as a share of what they span where that is more than 1."""
    return float(np.abs(one - other).max()) / max(1.0, float(np.abs(one).max()))


def _timed_by(scene: Scene, layer: Layer) -> list[Layer]:
    """A layer with a clock and all whose time that is."""
    if not layer.group:
        return [layer]
    return [layer, *(each for each in scene.layers if any(above.id == layer.id for above in scene.ancestors(each)))]


def _without_clock(scene: Scene, layer: Layer) -> Scene:
    clock = own_clock(layer)
    if not clock:
        raise Refusal(f"{layer.name} has no clock of its own: there is nothing to make.")
    frame = scene.rate.flicks
    changed = {}
    for each in _timed_by(scene, layer):
        if "scene" in each.artwork.traits and (each is layer or not own_clock(each)):
            raise Refusal(f"{each.name} shows a scene, whose time this clock tells: there are no keys to make of that.")
        if "bursts" in each.artwork.traits:
            raise Refusal(f"What {each.name} throws out goes by this clock: there are no keys to make of that.")
        start, end = span_of(each, scene.length)
        first, last = min(-(-start // frame), 0), max(end // frame, scene.frames)
        if even_of(clock[0]) is None and last - first >= limits.MAX_KEYS_PER_LANE:
            raise Refusal(f"{each.name} shows for too many frames to have a key at each. Trim it first.")
        times = np.arange(first, last + 1, dtype=np.int64) * frame
        # What has a clock of its own lies in the time that tells, and only this one lies in the time around it.
        own = each is not layer and bool(own_clock(each))
        tracks = {
            name: unclocked(track, clock[0], times) if (name == "clock") == own else track
            for name, track in each.tracks.items() if each is not layer or name != "clock"
        }  # fmt: skip
        changed[each.id] = each.changed(tracks=tracks)
    return scene.with_layers(changed)


def stands_still(scene: Scene, layer: Layer, time: int) -> bool:
    """Whether the clocks of a layer stand still at a moment."""
    clocks = clocks_of(scene, layer)
    if not clocks:
        return False
    hair = scene.rate.flicks / 8
    a, b = inner_times(clocks, np.array([time - hair, time + hair]))
    return abs(float(b - a)) < 1e-3 * hair
