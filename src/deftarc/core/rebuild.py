"""What every change of a track is made with: the track rebuilt from other keys, and a key's value and sides."""

from collections.abc import Iterable
from typing import TypeVar

import numpy as np

from deftarc.core.track import (
    AnyTrack,
    BlendKey,
    BlendTrack,
    ColourTrack,
    KeyBase,
    NumberKey,
    NumberTrack,
    OutlineTrack,
    PathKey,
    PathTrack,
    Side,
)

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)
Value = tuple[float, ...]


def rebuilt(track: T, keys: Iterable[KeyBase], points: Iterable[tuple[float, float]] | None = None) -> T:
    """The track with other keys (and points), checked; places are numbered anew."""
    row = tuple(keys)
    if isinstance(track, PathTrack):
        spots = tuple(track.points if points is None else points)
        placed = tuple(PathKey(**{**_fields(key), "at": float(index)}) for index, key in enumerate(row))
        return PathTrack(value=track.value, points=spots, keys=placed, loose=track.loose)
    return type(track)(value=track.value, keys=row, loose=track.loose)


def _fields(key: KeyBase) -> dict[str, object]:
    return {
        "time": key.time, "arriving": key.arriving, "leaving": key.leaving, "hold": key.hold, "joint": key.joint,
    }  # fmt: skip


def value_of(track: AnyTrack, index: int) -> Value:
    """The value of a key, as components."""
    if isinstance(track, PathTrack):
        x, y = (
            track.path.position(
                track.measures()[index : index + 1],
                *track.stretch(np.array([max(0, min(index, len(track.keys) - 2))])),
            )[0]
            if len(track.keys) > 1
            else track.points[0]
        )
        return (float(x), float(y))
    value = track.keys[index].value
    return value if isinstance(value, tuple) else (value,)


def key_with(track: AnyTrack, key: KeyBase, value: Value) -> KeyBase:
    """A key of the kind a track has, with the sides of another and a value. Not for paths, whose values are points."""
    if isinstance(track, BlendTrack):
        return BlendKey(**{**_fields(key), "value": value})
    return NumberKey(**{**_fields(key), "value": value[0]})


def side_of(reach: float, rise: float) -> Side:
    return Side(reach=min(max(reach, 0.0), 4 / 3), rise=rise)


def mirrored(side: Side | None, sign: float) -> Side | None:
    return None if side is None else Side(reach=side.reach, rise=side.rise * sign)
