"""Whole motions moved or stretched in time, and layers with them."""

from collections.abc import Callable
from operator import lt
from typing import TypeVar

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import each_with
from deftarc.core.changes.rebuild import retimed
from deftarc.core.document import Layer
from deftarc.core.document.artwork.scene import MAX_RATE, SceneShown
from deftarc.core.document.marker import Marker
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)


def track_retimed(track: T, to: Callable[[int], int]) -> T:
    """A track with every time put through a rising map; sides keep their reach, so shapes stretch with it."""
    # All in one go: a lane may have thousands, and a stagger moves those of hundreds of layers.
    times = [_held(to(time)) for time in track.key_times]
    if not all(map(lt, times, times[1:])):
        raise Refusal("Two keys of one lane would fall on the same moment. Stretch by less.")
    made = retimed(track, each_with(track.keys, "time", times), times)
    loose = track.loose.changed(time=_held(to(track.loose.time))) if track.loose else None
    sides = {
        side: told.changed(part=_held(to(told.part)))
        for side in ("before", "after")
        if (told := getattr(track, side)) is not None and told.part is not None
    }
    return track.changed(keys=made.keys, loose=loose, **sides) if loose or sides else made


def _held(time: int) -> int:
    if abs(time) > limits.FURTHEST:
        raise Refusal(f"A key lies at most {limits.MAX_TIME_SECONDS // 3600} hours from the scene's start.")
    return time


def motion_retimed(layer: Layer, to: Callable[[int], int]) -> Layer:
    """All of a layer's keys, and its markers, through a map of time; its span stays."""
    # What has a clock lies in the time it tells: where that is moved, all of it is.
    moving = ("clock",) if "clock" in layer.tracks else tuple(layer.tracks)
    tracks = {n: track_retimed(t, to) if n in moving and (t.keys or t.loose) else t for n, t in layer.tracks.items()}
    return layer.changed(tracks=tracks, markers=markers_retimed(layer.markers, to))


def shown_stretched(layer: Layer, factor: float) -> Layer:
    """What shows a scene, which is to take so many times as long: it goes at another rate, unless a clock tells it."""
    art = layer.artwork
    if not isinstance(art, SceneShown) or "clock" in layer.tracks:
        return layer
    rate = art.rate / factor
    if abs(rate) > MAX_RATE:
        raise Refusal(f"{layer.name} would run more than {MAX_RATE:g} times as fast as it was made. Stretch by less.")
    return layer.changed(artwork=art.changed(rate=rate))


def markers_retimed(markers: tuple[Marker, ...], to: Callable[[int], int]) -> tuple[Marker, ...]:
    """Markers through a rising map of time."""
    return tuple(marker.changed(time=_held(to(marker.time))) for marker in markers)


def span_of(layer: Layer, scene_end: int) -> tuple[int, int]:
    """Where a layer shows, in flicks; an open end is the scene's, or just after the start where that lies later."""
    return layer.start, max(layer.start + 1, scene_end) if layer.end is None else layer.end


def shifted_span(layer: Layer, by: int) -> Layer:
    """The span alone moved; an open end stays open only where the start stays."""
    return layer.changed(start=_held(layer.start + by), end=None if layer.end is None else _held(layer.end + by))


def keys_outside(layer: Layer, scene_end: int) -> list[int]:
    """The times of keys that lie outside the layer's span, in order. A key at its very end still counts as inside; what
    has a clock lies in another time than its span.
    """
    if "clock" in layer.tracks:
        return []
    start, end = span_of(layer, scene_end)
    times = {time for track in layer.tracks.values() for time in track.key_times}
    return sorted(time for time in times if not start <= time <= end)
