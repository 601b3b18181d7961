"""Edits of clocks: given, held still for a while, made into ordinary keys."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Moment
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.keys import KeyRef, set_key
from deftarc.core.changes.retime import span_of, track_retimed
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.keys import BlendKey, NumberKey, PathKey
from deftarc.core.document.track import AnyTrack, BlendTrack, NumberTrack, PathTrack
from deftarc.core.edit.base import Note
from deftarc.core.edit.spans import SpanEdit
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
            first = layer.artwork.begins
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


class BakeClock(SpanEdit):
    """The motion of layers under their own clocks made into ordinary keys, and the clocks taken away. Where a clock
    runs evenly keys are moved as they are; else there is one at each frame of the span.
    """

    kind: Literal["bake_clock"] = "bake_clock"

    def on_layer(self, scene: Scene, layer: Layer) -> Layer:
        clock = own_clock(layer)
        if not clock:
            raise Refusal(f"{layer.name} has no clock of its own: there is nothing to make.")
        rest = layer.changed(tracks={n: t for n, t in layer.tracks.items() if n != "clock"})
        even = _even(clock[0])
        frame = scene.rate.flicks
        start, end = span_of(layer, scene.length)
        times = np.arange(-(-start // frame), end // frame + 1, dtype=np.int64) * frame
        if even is None and len(times) > limits.MAX_KEYS_PER_LANE:
            raise Refusal(f"{layer.name} shows for too many frames to have a key at each. Trim it first.")
        tracks = {}
        for name, track in rest.tracks.items():
            if not track.keys:
                tracks[name] = track
            elif even is not None:
                rate, begins, tells = even
                tracks[name] = track_retimed(track, lambda t: round(begins + (t - tells) / rate))  # noqa: B023
            else:
                tracks[name] = by_frames(track, times, inner_times(clock, times.astype(np.float64)))
        return rest.changed(tracks=tracks)

    def label(self, project: Project) -> str:
        return f"Make keys of the clock of {self.names(project)}"

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = after.scene(self.scene)
        count = sum(len(t.keys) for name in self.layers for t in scene.layer(name).tracks.values())
        return (Note(f"{count} keys now, with the same motion."),)


def _even(track: NumberTrack) -> tuple[float, int, float] | None:
    """The rate of a clock that runs on evenly, and a moment with what it tells then, in flicks; None for others."""
    goes_on = all(told is not None and told.how == "continue" for told in (track.before, track.after))
    if len(track.keys) != 2 or not goes_on:
        return None
    a, b = track.keys
    straight = a.leaving is None and b.arriving is None and not a.stepped
    rate = (b.value - a.value) * FLICKS / (b.time - a.time)
    return (rate, a.time, a.value * FLICKS) if straight and rate > 1e-6 else None


def by_frames(track: AnyTrack, times: Integers, told: Floats) -> AnyTrack:
    """A track with a straight key at each of some times (n,), showing what it shows at others (n,)."""
    bare = track.changed(crafts=(), before=None, after=None, loose=None)
    if isinstance(track, PathTrack):
        inside = np.clip(track.folded(told).at if track.lasts else told, track.key_times[0], track.key_times[-1])
        rows = [
            PathKey(time=int(time), at=float(track.path.place_at(float(m))), pace=True)
            for time, m in zip(times, track.curve.at(inside), strict=True)
        ]
        return bare.changed(keys=tuple(rows))
    values = track.motion(told)
    if isinstance(track, BlendTrack):
        return bare.changed(keys=tuple(
            BlendKey(time=int(time), value=tuple(map(float, row))) for time, row in zip(times, values, strict=True)
        ))  # fmt: skip
    return bare.changed(keys=tuple(
        NumberKey(time=int(time), value=float(row[0])) for time, row in zip(times, values, strict=True)
    ))  # fmt: skip


def stands_still(scene: Scene, layer: Layer, time: int) -> bool:
    """Whether the clocks of a layer stand still at a moment."""
    clocks = clocks_of(scene, layer)
    if not clocks:
        return False
    hair = scene.rate.flicks / 8
    a, b = inner_times(clocks, np.array([time - hair, time + hair]))
    return abs(float(b - a)) < 1e-3 * hair
