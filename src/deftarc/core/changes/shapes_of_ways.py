"""The shapes of ways between keys, without size: taken off a piece, laid on other ways one after the other."""

from collections.abc import Iterable, Sequence
from typing import TypeVar

from deftarc.core.changes.rebuild import concrete, rebuilt
from deftarc.core.changes.reverse import Way, way_after
from deftarc.core.changes.weave import honest
from deftarc.core.curves.sides import mirrored
from deftarc.core.document.keys import KeyBase
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)


def shapes_taken(track: AnyTrack) -> list[Way]:
    """The ways between a track's keys, with rises as shares of their change. One that changes nothing is level."""
    track = concrete(track, range(len(track.keys)))
    measures = track.measures()
    out = []
    for k in range(len(track.keys) - 1):
        change = float(measures[k + 1] - measures[k])
        by = 1 / change if abs(change) > 1e-12 else 0.0
        way = way_after(track, k)
        out.append(way._replace(leaving=mirrored(way.leaving, by), arriving=mirrored(way.arriving, by)))
    return out


def segments_meant(track: AnyTrack, times: Iterable[int]) -> list[int]:
    """The ways, by their first key, that some keys of a lane mean: those between two of them; a single key means the
    way after it, or before it where it is the last.
    """
    wanted = set(times)
    chosen = [k for k, time in enumerate(track.key_times) if time in wanted]
    some = set(chosen)
    between = [k for k in chosen if k + 1 in some]
    if between or not chosen or len(track.keys) < 2:
        return between
    return [min(chosen[0], len(track.keys) - 2)]


def shapes_laid(track: T, times: Iterable[int], shapes: Sequence[Way]) -> T:
    """Ways that some keys mean given shapes, the first the first, and round again where there are more ways."""
    segments = segments_meant(track, times)
    if not segments:
        return track
    track = concrete(track, {k + i for k in segments for i in (0, 1)})
    keys: list[KeyBase] = list(track.keys)
    measures = track.measures()
    for n, k in enumerate(segments):
        way, change = shapes[n % len(shapes)], float(measures[k + 1] - measures[k])
        keys[k] = keys[k].changed(leaving=mirrored(way.leaving, change), hold=way.hold, steps=way.steps)
        keys[k + 1] = keys[k + 1].changed(arriving=mirrored(way.arriving, change))
    return rebuilt(track, honest(keys))
