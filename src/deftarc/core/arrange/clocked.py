"""A scene at one moment, under its clocks and with all that follows something where it is just then: every layer's keys
are put where the clocks show them, and have the values at which they are seen.

Whatever is done at the playhead is done to that view, in which the moment of the scene and of every layer are one, and
what a property shows is what its keys say; then all is put back into its own time, and onto what it follows. So no edit
has to know of clocks or links, and a key set while one runs stands where the clock says.
"""

from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import apply
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.keys import shifted as shifted_by
from deftarc.core.changes.retime import track_retimed
from deftarc.core.document import Layer, Scene
from deftarc.core.document.links import in_the_scene
from deftarc.core.document.track import AnyTrack, NumberTrack, PathTrack
from deftarc.core.evaluate.clocks import clocks_of, inner_time, lane_clock
from deftarc.core.evaluate.pose import Moment, stands_alone

#: What links came to at the moment, by property, and the tracks that were made of that and of the keys.
Followed = dict[str, tuple[tuple[float, ...], AnyTrack]]


class View:
    """A scene as it is at a moment, in flicks; with ``bare`` without the clocks themselves. Refusal where keys would
    come to lie further out than any may; ``to_look`` leaves such layers as they are.
    """

    def __init__(self, scene: Scene, time: int, bare: bool = False, to_look: bool = False) -> None:
        self.whole = scene
        #: By how much each layer's keys, and its clock's own, were moved.
        self.by: dict[str, tuple[int, int]] = {}
        #: What its links came to.
        self._followed: dict[str, Followed] = {}
        self._layers: dict[str, tuple[Layer, Layer]] = {}
        self._moment = None if stands_alone(scene) else Moment(scene, time)
        layers = []
        for layer in scene.layers:
            made = self._in_time(layer, time, bare, to_look)
            if self._moment is not None and layer.links:
                made = self._followed_there(layer, made, time)
            if made is not layer:
                self._layers[layer.id] = (layer, made)
            layers.append(made)
        self.scene = scene.changed(layers=tuple(layers)) if self._layers or self._moment else scene
        if self._moment is not None:
            self._moment.made.update((layer.id, layer) for layer in layers)
            self.scene.__dict__["_moment"] = self._moment

    def _in_time(self, layer: Layer, time: int, bare: bool, to_look: bool) -> Layer:
        clocks = clocks_of(self.whole, layer)
        if not clocks:
            return layer
        above = clocks[:-1] if lane_clock(layer) else clocks
        by = (time - inner_time(clocks, time), time - inner_time(above, time))
        try:
            moved = shifted(layer, *by)
        except Refusal:
            if not to_look:
                raise
            by, moved = (0, 0), layer
        if bare:
            moved = moved.changed(tracks={n: t for n, t in moved.tracks.items() if n != "clock"})
        self.by[layer.id] = by
        return moved

    def _followed_there(self, layer: Layer, made: Layer, time: int) -> Layer:
        assert self._moment is not None
        tracks, told = dict(made.tracks), {}
        for name in layer.links:
            value = self._moment.ask.alone(layer, name, time)
            track = made.tracks.get(name)
            if track is not None and track.keys:
                track = shifted_by(track, value)
            else:
                loose = track.loose if track is not None else None
                track = _resting(made.track(name), value).changed(loose=loose)
            tracks[name], told[name] = track, (value, track)
        self._followed[layer.id] = told
        return made.changed(tracks=tracks)

    def back(self, made: Scene) -> Scene:
        """What came of the view, in its layers' own times and on top of what they follow; what was left alone is what
        it was.
        """
        if made is self.scene:
            return self.whole
        if not self._layers and self._moment is None:
            return made
        layers = []
        for layer in made.layers:
            known = self._layers.get(layer.id)
            if known is not None:
                layer = known[0] if layer is known[1] else self._own(layer, known[0])
            layers.append(layer)
        made = made.changed(layers=tuple(layers))
        made.__dict__.pop("_moment", None)
        return made

    def _own(self, layer: Layer, was: Layer) -> Layer:
        """A layer that was changed in the view, on top of what it follows, in its own time."""
        told = self._followed.get(layer.id)
        own, other = self.by.get(layer.id, (0, 0))
        if told:
            layer = _on_top(layer, told, self._carried(was), self._carried(layer))
        layer = shifted(layer, -own, -other)
        if not told:
            return layer
        # What was not touched is the very same as it was; put there and back, it would be off by a hair.
        tracks = {
            name: _same_where_it_is(track, was.tracks[name]) if name in was.tracks else track
            for name, track in layer.tracks.items()
        }
        return layer.changed(tracks=tracks)

    def _carried(self, layer: Layer) -> Floats:
        """What takes a layer's carrier's px, (3, 3), to the scene's."""
        assert self._moment is not None
        known = layer.parent is None or layer.parent in self._moment.made
        return self._moment.ask.carried(layer.parent if known else None, layer.later, self._moment.time)

    def again(self, after: Scene) -> Scene:
        """Another state of the scene, moved as this view is."""
        return after.changed(
            layers=tuple(shifted(each, *self.by[each.id]) if each.id in self.by else each for each in after.layers)
        )

    def ref_back(self, ref: KeyRef) -> KeyRef:
        """A key of the view by its own time."""
        own, other = self.by.get(ref.layer, (0, 0))
        return ref.changed(time=ref.time - (other if ref.property == "clock" else own))


def _resting(track: AnyTrack, value: tuple[float, ...]) -> AnyTrack:
    if isinstance(track, PathTrack):
        return track.changed(value=(value[0], value[1]))
    assert isinstance(track, NumberTrack)
    return track.changed(value=value[0])


def _on_top(layer: Layer, told: Followed, before: Floats, after: Floats) -> Layer:
    """A layer whose tracks are on top of what they follow again. Where one has no keys, its offset takes what its value
    became; one that follows nothing any more stays as it shows. ``before`` and ``after`` carry it, (3, 3) each.
    """
    tracks, links = dict(layer.tracks), dict(layer.links)
    for name, (value, track) in told.items():
        link, now = links.get(name), tracks.get(name)
        if link is None or now is None:
            continue
        seen = in_the_scene(link)
        if now.keys:
            if seen:
                # Put where the scene shows its source, it is there in whoever's px it lies.
                value = through_back(after, through(before, value))
            tracks[name] = shifted_by(now, tuple(-number for number in value))
            continue
        one, other = now.resting(), track.resting()
        if seen:
            one, other = through(after, one), through(before, other)
        offset = tuple(at + to - was for at, to, was in zip(link.offset, one, other, strict=True))
        links[name] = link if one == other else link.changed(offset=offset)
    return layer.changed(tracks=tracks, links=links)


def through(matrix: Any, spot: tuple[float, ...]) -> tuple[float, ...]:
    x, y = apply(matrix, np.array([spot]))[0].tolist()
    return x, y


def through_back(matrix: Floats, spot: tuple[float, ...]) -> tuple[float, ...]:
    if abs(np.linalg.det(matrix)) < 1e-12:
        return 0.0, 0.0
    return through(np.linalg.inv(matrix), spot)


def _same_where_it_is(track: AnyTrack, was: AnyTrack) -> AnyTrack:
    """A track with the keys and points of another one wherever they are that, to the last digits but some."""
    if type(track) is not type(was):
        return track
    known = {key.time: key for key in was.keys}
    keys = tuple(known[key.time] if _near(key, known.get(key.time)) else key for key in track.keys)
    if not isinstance(track, PathTrack) or not isinstance(was, PathTrack):
        return track.changed(keys=keys)
    spots = {(round(point.x, 6), round(point.y, 6)): point for point in was.points}
    points = tuple(
        old if (old := spots.get((round(point.x, 6), round(point.y, 6)))) is not None
        and old.changed(x=point.x, y=point.y) == point else point
        for point in track.points
    )  # fmt: skip
    return track.changed(keys=keys, points=points)


def _near(key: object, was: object) -> bool:
    if was is None or type(key) is not type(was):
        return False
    value, old = getattr(key, "value", None), getattr(was, "value", None)
    if isinstance(value, float) and isinstance(old, float):
        return abs(value - old) <= 1e-9 * max(1.0, abs(old)) and key == was.changed(value=value)  # type: ignore[attr-defined]
    return key == was


def shifted(layer: Layer, by: int, clock: int) -> Layer:
    """A layer with all keys moved in time, those of its clock by another step."""
    if not by and not clock:
        return layer
    tracks = {}
    for name, track in layer.tracks.items():
        step = clock if name == "clock" else by
        tracks[name] = track_retimed(track, lambda time, step=step: time + step) if step else track  # type: ignore[misc]
    return layer.changed(tracks=tracks)


def at_work(scene: Scene, time: int, clocked: bool = False) -> Scene:
    """A scene that shows at a moment by its keys what this one does, loose values of then included; without its clocks,
    unless they are to stay to be looked at.
    """
    return scene if stands_alone(scene) else View(scene, time, bare=not clocked, to_look=True).scene
