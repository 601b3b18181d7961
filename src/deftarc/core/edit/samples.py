"""Edits that make few keys of many samples: samples brought in or recorded, keys too many, axes split and combined.

Each says afterwards how many keys it took and how far it is off at most.
"""

import math
from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.arrange.axes import back_from
from deftarc.core.arrange.placed import AXES
from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import apply
from deftarc.core.base.model import Identity, Moment, Number
from deftarc.core.changes.deviation import around, greatest, knots_of, motion_of, sampled_times, steep
from deftarc.core.changes.keys import KeyRef, by_amount
from deftarc.core.changes.rebuild import SAME_SPOT, concrete, from_key_to_key, rebuilt
from deftarc.core.changes.reduce import fitted
from deftarc.core.changes.split import FINER, TRIES, apart, number_keys, retraced, spots_of, together
from deftarc.core.changes.trace import traced
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import PROPERTIES, Property, property_named
from deftarc.core.document.track import AnyTrack, BlendTrack, NumberTrack, PathTrack
from deftarc.core.edit.base import EditBase, LaneEdit, LaneName, Note
from deftarc.core.edit.keys import KeysEdit, grouped
from deftarc.core.evaluate import carried_by

#: In the property's shown unit: px, °, %.
Tolerance = Annotated[float, Field(gt=0, le=10_000)]


def bound(off: float) -> str:
    """A number that something stays below, rounded up to two digits that count."""
    if off <= 0:
        return "0"
    step = 10.0 ** (np.floor(np.log10(off)) - 1)
    return f"{float(f'{np.ceil(off / step * (1 - 1e-9)) * step:.2g}'):.12g}"


def _told(facts: Property, before: int, after: int, off: float, what: str) -> Note:
    amount = bound(off * facts.factor)
    keys = "1 key" if after == 1 else f"{after} keys"
    return Note(f"{keys} for {before} {what}, off by at most {amount} {facts.unit}.".replace("  ", " "))


class LaySamples(LaneEdit):
    """Samples made a property's motion, with few keys within a tolerance; what motion it had is replaced.

    ``values`` are in shown units, a row a sample: one number, or x and y of a position, which may come in ``scene``
    px and then are taken back through what carries the layer at each moment.
    """

    brings_paths: ClassVar[bool] = True
    looked_at: ClassVar[bool] = True
    kind: Literal["lay_samples"] = "lay_samples"
    times: Annotated[tuple[Moment, ...], Field(min_length=1, max_length=limits.MAX_SAMPLES)]
    values: Annotated[tuple[tuple[Number, ...], ...], Field(min_length=1, max_length=limits.MAX_SAMPLES)]
    tolerance: Tolerance
    axes: Literal["parent", "scene"] = "parent"
    title: Annotated[str, Field(max_length=60)] = "Lay samples on"

    def _rows(self, scene: Scene, layer: Layer) -> tuple[Integers, Floats]:
        facts = property_named(self.property)
        wide = 2 if facts.kind == "path" else 1
        if facts.kind not in ("number", "path"):
            raise Refusal(f"{facts.label} has no samples of one number a row.")
        if len(self.values) != len(self.times) or any(len(row) != wide for row in self.values):
            raise Refusal(f"{facts.label} takes {'an x and a y' if wide == 2 else 'one number'} for each time.")
        times = np.array(self.times, np.int64)
        if (np.diff(times) <= 0).any():
            raise Refusal("The times of samples rise from row to row.")
        rows = np.array(self.values, np.float64) / facts.factor
        if self.axes == "scene" and wide == 2:
            ancestors = scene.ancestors(layer)
            still = not any(track.keys for each in ancestors for track in each.tracks.values())
            if still:
                rows = apply(back_from(carried_by(scene, layer, 0), layer), rows)
            else:
                backs = [back_from(carried_by(scene, layer, int(time)), layer) for time in times]
                rows = np.array([apply(back, row[None])[0] for back, row in zip(backs, rows, strict=True)])
        return times, rows

    def on_track(self, scene: Scene, layer: Layer, facts: Property, track: AnyTrack) -> AnyTrack:
        times, rows = self._rows(scene, layer)
        tolerance = self.tolerance / facts.factor
        made: AnyTrack
        if isinstance(track, PathTrack):
            path, off = traced(times, rows, tolerance)
            if off > tolerance * 1.001:
                raise Refusal(f"No path was found within {self.tolerance:g} px. Allow more.")
            made = path.changed(rounded=track.rounded)
        else:
            values = rows[:, 0]
            if facts.low is not None or facts.high is not None:
                values = np.clip(values, facts.low, facts.high)
            keys = number_keys(times, values, fitted(times, values, tolerance))
            made = NumberTrack(value=float(values[0]), keys=tuple(keys))
        return made

    def label(self, project: Project) -> str:
        return f"{self.title} {project.scene(self.scene).layer(self.layer).name}"

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = before.scene(self.scene)
        times, rows = self._rows(scene, scene.layer(self.layer))
        facts = property_named(self.property)
        track = after.scene(self.scene).layer(self.layer).track(self.property)
        off = _deviation(track.sampled(times.astype(np.float64), track.curve.at(times)), rows)
        note = _told(facts, len(times), len(track.keys), off, "samples")
        had = len(scene.layer(self.layer).track(self.property).keys)
        if not had:
            return [note]
        return [note, Note(f"The {had} keys it had are replaced." if had > 1 else "The key it had is replaced.")]


class LayRecording(LaneEdit):
    """A hand recorded, made a position's motion as samples are: read at every frame from ``start`` on, between the
    moments that were seen, so that keys come to stand on frames.

    ``spots`` are seconds since it began with x and y in scene px, a row each time it was seen.
    """

    brings_paths: ClassVar[bool] = True
    looked_at: ClassVar[bool] = True
    kind: Literal["lay_recording"] = "lay_recording"
    spots: Annotated[tuple[tuple[Number, Number, Number], ...], Field(min_length=1, max_length=limits.MAX_SAMPLES)]
    start: Moment
    tolerance: Tolerance

    def on_frames(self, scene: Scene) -> LaySamples:
        """The recording as samples at frames."""
        spots = np.array(self.spots, np.float64)
        if (np.diff(spots[:, 0]) < 0).any() or spots[0, 0] < 0:
            raise Refusal("The moments of a recording rise from one to the next, from 0 on.")
        count = int(min(spots[-1, 0] * scene.rate.per_second + 1e-9, limits.MAX_SAMPLES)) + 1
        if count < 3:
            raise Refusal("That was too short to be a motion: press, move for a while, let go.")
        if count > limits.MAX_SAMPLES:
            raise Refusal(f"A recording has at most {limits.MAX_SAMPLES} frames.")
        frames = np.arange(count)
        seconds = frames / scene.rate.per_second
        places = [np.interp(seconds, spots[:, 0], spots[:, column]).round(2) for column in (1, 2)]
        return LaySamples(
            scene=self.scene, layer=self.layer, property=self.property, tolerance=self.tolerance, axes="scene",
            times=tuple(int(self.start + n * scene.rate.flicks) for n in frames),
            values=tuple(zip(*(place.tolist() for place in places), strict=True)), title="Record the path of",
        )  # fmt: skip

    def on_track(self, scene: Scene, layer: Layer, facts: Property, track: AnyTrack) -> AnyTrack:
        return self.on_frames(scene).on_track(scene, layer, facts, track)

    def label(self, project: Project) -> str:
        return f"Record the path of {project.scene(self.scene).layer(self.layer).name}"

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        return self.on_frames(before.scene(self.scene)).notes(before, after)


def _deviation(one: Floats, other: Floats) -> float:
    """The greatest distance between rows of values."""
    return float(np.sqrt(((one - other) ** 2).sum(axis=1)).max())


class ReduceKeys(KeysEdit):
    """Keys too many made few within a tolerance, in each lane from the first to the last of those told."""

    looked_at: ClassVar[bool] = True
    kind: Literal["reduce_keys"] = "reduce_keys"
    tolerance: Tolerance

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack:
        if isinstance(track, BlendTrack):
            raise Refusal("A colour's or an outline's keys are not reduced. Select keys of numbers or positions.")
        return _reduced(track, times, scene.rate.flicks, self.tolerance / PROPERTIES[lane[1]].factor)

    def label(self, project: Project) -> str:
        return f"Reduce {self.of_what(project)}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        out = []
        for (layer, name), times in grouped(self.keys).items():
            inside = project.scene(self.scene).layer(layer).track(name).key_times
            out += [KeyRef(layer=layer, property=name, time=t) for t in inside if min(times) <= t <= max(times)]
        return out

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        out = []
        for (layer, name), times in list(grouped(self.keys).items())[:3]:
            scene = before.scene(self.scene)
            old, new = scene.layer(layer).track(name), after.scene(self.scene).layer(layer).track(name)
            inside = [t for t in {*knots_of(old), *knots_of(new)} if min(times) <= t <= max(times)]
            off, _ = greatest(motion_of(old), motion_of(new), inside, [steep(old), steep(new)])
            count = [sum(min(times) <= t <= max(times) for t in track.key_times) for track in (old, new)]
            out.append(_told(PROPERTIES[name], count[0], count[1], off, "keys"))
        return out


def _reduced(track: AnyTrack, times: list[int], frame: int, tolerance: float) -> AnyTrack:
    """One lane's keys between two of them made few; what goes on beyond the keys goes on."""
    goes_on = {"before": track.before, "after": track.after}
    return _few(from_key_to_key(track), times, frame, tolerance).changed(**goes_on)


def _few(track: AnyTrack, times: list[int], frame: int, tolerance: float) -> AnyTrack:
    present = track.key_times
    first, last = present.index(min(times)), present.index(max(times))
    if last - first < 2:
        raise Refusal("Select a run of three keys or more: between its ends as few are left as the tolerance allows.")
    track = concrete(track, range(first, last + 1))
    inside = [time for time in knots_of(track) if present[first] <= time <= present[last]]
    at = sampled_times(inside, frame)
    ends = track.keys[first], track.keys[last]
    motion = motion_of(track)
    if isinstance(track, PathTrack):
        if first or last < len(present) - 1:
            raise Refusal("Of a position all keys are reduced together. Select them all.")
        made = retraced(track.positions, at, inside, frame, tolerance, [steep(track)])
        if made is None or len(made.keys) >= len(track.keys):
            raise Refusal("Within this tolerance it takes as many keys as there are. Allow more.")
        return made.changed(rounded=track.rounded, value=track.value)
    assert isinstance(track, NumberTrack)
    if (track.evenly or track.within) and (first or last < len(present) - 1):
        raise Refusal("What grows evenly, or is kept within its keys, is reduced as a whole. Select all its keys.")
    plain = by_amount(track).changed(within=False)
    share = 1.0
    for _ in range(TRIES):
        values = motion(at.astype(np.float64))[:, 0]
        rows = number_keys(at, values, fitted(at, values, tolerance * share))
        if len(rows) >= last - first + 1:
            break
        rows[0] = rows[0].changed(arriving=ends[0].arriving, joint="corner")
        rows[-1] = rows[-1].changed(leaving=ends[1].leaving, hold=ends[1].hold, steps=ends[1].steps, joint="corner")
        fresh = rebuilt(plain, [*plain.keys[:first], *rows, *plain.keys[last + 1 :]])
        between = {*inside, *(key.time for key in rows)}
        off, peaks = greatest(motion, motion_of(fresh), between, [steep(track), steep(fresh)])
        if off <= tolerance:
            return fresh
        at = np.unique(np.concatenate([at, around(peaks, frame, inside[0], inside[-1])]))
        share *= FINER
    raise Refusal("Within this tolerance it takes as many keys as there are. Allow more.")


class SplitAxes(EditBase):
    """A position's x and y on their own, or combined as a path again; the motion stays within a tolerance of px."""

    brings_paths: ClassVar[bool] = True
    looked_at: ClassVar[bool] = True
    kind: Literal["split_axes"] = "split_axes"
    scene: Identity
    layer: Identity
    split: bool
    tolerance: Tolerance = 0.5

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        if layer.axes_split == self.split:
            raise Refusal(f"The axes of {layer.name} are {'split' if self.split else 'one path'} already.")
        frame = scene.rate.flicks
        tracks = {name: track for name, track in layer.tracks.items() if name not in ("position", *AXES)}
        if self.split:
            for name, word in (("along", "turns along its path"), ("lean", "leans into its curves")):
                track = layer.number(name)
                if track.keys or track.value:
                    raise Refusal(
                        f"{layer.name} {word}, and split axes have no path. Set {PROPERTIES[name].label} to 0 %."
                    )
            tracks.pop("along", None)
            tracks.pop("lean", None)
            bare = from_key_to_key(layer.position.changed(loose=None))
            x, y = apart(bare, frame, self.tolerance)
            x, y = (_going_on(each, layer.position, axis) for axis, each in enumerate((x, y)))
            made = layer.changed(
                axes_split=True, path_closed=layer.position.closed, tracks={**tracks, "position_x": x, "position_y": y}
            )
        else:
            x, y = (layer.number(name).changed(loose=None) for name in AXES)
            before, after = _both_go_on(layer, x, y)
            x, y = (from_key_to_key(each) for each in (x, y))
            path = together(x, y, frame, self.tolerance).changed(before=before, after=after)
            if layer.path_closed and len(path.points) > 2:
                first, last = (path.points[n].spot for n in (0, -1))
                if math.dist(first, last) <= SAME_SPOT:
                    end = path.points[-1].changed(x=first[0], y=first[1])
                    path = path.changed(points=(*path.points[:-1], end), closed=True)
            made = layer.changed(axes_split=False, path_closed=False, tracks={**tracks, "position": path})
        return project.with_scene(scene.with_layer(made))

    def label(self, project: Project) -> str:
        name = project.scene(self.scene).layer(self.layer).name
        return f"Split the axes of {name}" if self.split else f"Combine the axes of {name} as a path"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return []

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = before.scene(self.scene)
        old, new = scene.layer(self.layer), after.scene(self.scene).layer(self.layer)
        times = sorted({t for each in (old, new) for n in ("position", *AXES) if n in each.tracks
                        for t in each.tracks[n].key_times})  # fmt: skip
        if len(times) < 2:
            return ()
        knots = {
            t for each in (old, new) for n in ("position", *AXES) if n in each.tracks for t in knots_of(each.tracks[n])
        }
        looks = [steep(each.tracks[n]) for each in (old, new) for n in ("position", *AXES) if n in each.tracks]
        off, _ = greatest(lambda at: _spots(old, at), lambda at: _spots(new, at), knots, looks)
        lanes = [len(new.number(name).keys) for name in AXES] if self.split else [len(new.position.keys)]
        counted = " and ".join(f"{n} {word}" for n, word in zip(lanes, ("keys of x", "keys of y"), strict=False))
        told = counted if self.split else f"{lanes[0]} keys on a path of {len(new.position.points)} points"
        exact = "exactly as it was" if off < 1e-6 else f"off by at most {bound(off)} px"
        return [Note(f"{told}, {exact}.")]


def _going_on(axis: NumberTrack, path: PathTrack, number: int) -> NumberTrack:
    """An axis of a split position that goes on before and after its keys as the position did."""
    sides = {}
    for side in ("before", "after"):
        told = getattr(path, side)
        sides[side] = told.changed(value=told.value[number : number + 1]) if told is not None else None
    return axis.changed(**sides)


def _both_go_on(layer: Layer, x: NumberTrack, y: NumberTrack) -> "tuple[Beyond | None, Beyond | None]":
    """What goes on before and after a path made of two axes; Refusal where these go on otherwise."""
    out: list[Beyond | None] = []
    for side in ("before", "after"):
        one, other = (getattr(each, side) for each in (x, y))
        ends = [(each.key_times[0], each.key_times[-1]) for each in (x, y) if each.keys]
        alike = one is None or other is None or one.changed(value=()) == other.changed(value=())
        if (one is None) != (other is None) or not alike or (one is not None and len(set(ends)) > 1):
            word = f"x goes on by “{one.how if one else 'hold'}”, y by “{other.how if other else 'hold'}”"
            raise Refusal(
                f"{layer.name}: {side} their keys {word}, over their own keys. Make both alike, or keys of it."
            )
        out.append(one.changed(value=(*one.value, *other.value)) if one is not None and other is not None else None)
    return out[0], out[1]


def _spots(layer: Layer, at: Floats) -> Floats:
    if not layer.axes_split:
        return layer.position.positions(at)
    x, y = (layer.number(name) for name in AXES)
    return spots_of(x, y, at)
