"""Values of many keys put through one map: scaled about a value, mirrored about it, moved by an amount.

The ways between two of them keep their shape exactly, rises with them; the ways to keys that stay keep it in
proportion to their new change, as wherever a key's value changes.
"""

from collections.abc import Sequence
from typing import TypeVar

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.changes.keys import in_proportion, mended
from deftarc.core.changes.places import at_distance, ends_together, pinned
from deftarc.core.changes.rebuild import rebuilt
from deftarc.core.curves.sides import mirrored
from deftarc.core.document.keys import KeyBase
from deftarc.core.document.properties import Property
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.spaces.bends import through_matrix

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)


def raised(track: T, facts: Property, indices: Sequence[int], level: float, factor: float, more: float) -> T:
    """Keys with their measures m made ``level + (m − level)·factor + more``.

    Of a position only pace keys go along their path; what rests on a point of a path keeps its height, and colours and
    outlines theirs. Values are held within what the property allows.
    """
    measures = track.measures()
    if isinstance(track, PathTrack):
        before = track
        for k in indices:
            track = at_distance(track, k, level + (float(measures[k]) - level) * factor + more)
        return in_proportion(track, before.measures())
    if not isinstance(track, NumberTrack):
        return track
    keys: list[KeyBase] = list(track.keys)
    for k in indices:
        value = float(track.valued(np.array(level + (float(measures[k]) - level) * factor + more)))
        keys[k] = track.keys[k].changed(value=facts.held(value))
    return _reshaped(track, keys, measures, set(indices), factor)


def _reshaped(track: NumberTrack, keys: list[KeyBase], before: Floats, some: set[int], factor: float) -> NumberTrack:
    after = track.changed(keys=tuple(keys)).measures()
    around = {k + i for k in some for i in (-1, 0, 1)}
    for k in sorted(around & set(range(len(keys) - 1))):
        was, now = float(before[k + 1] - before[k]), float(after[k + 1] - after[k])
        # Between two of them the shape is scaled just as they are, unless a limit held one back.
        exact = k in some and k + 1 in some and abs(now - was * factor) <= 1e-9 * max(abs(now), 1.0)
        by = factor if exact else now / was if abs(was) > 1e-12 else 1.0
        if by != 1.0:
            keys[k] = keys[k].changed(leaving=mirrored(keys[k].leaving, by))
            keys[k + 1] = keys[k + 1].changed(arriving=mirrored(keys[k + 1].arriving, by))
    return rebuilt(track, mended(keys, sorted(around)))


def placed(track: PathTrack, indices: Sequence[int], matrix: Floats) -> PathTrack:
    """A position's keys put through a (3, 3) matrix: the points they rest on, with those that float between two of
    them; a pace key is given a point of its own. Timing is kept, in proportion to the new lengths.
    """
    for k in indices:
        track = pinned(track, k)
    some = set(indices)
    chosen = {int(track.keys[k].at) for k in indices}
    for k in indices:
        if k + 1 in some:
            chosen |= set(range(int(track.keys[k].at), int(track.keys[k + 1].at)))
    chosen = {other for place in chosen for other in ends_together(track, place)}
    points = [through_matrix(point, matrix) if n in chosen else point for n, point in enumerate(track.points)]
    made = track.changed(points=tuple(points))
    return in_proportion(made, track.measures())


def level_of(track: AnyTrack, facts: Property, indices: Sequence[int], told: str | float) -> float:
    """The measure that values are scaled or mirrored about: the ``first`` chosen key's, the ``middle`` between the
    lowest and the highest of them, or a value told in the property's shown unit.
    """
    measures = track.measures()[list(indices)]
    if told == "first":
        return float(measures[0])
    if told == "middle":
        return float(measures.min() + measures.max()) / 2
    value = float(told) / facts.factor
    if isinstance(track, NumberTrack) and track.evenly:
        if value <= 0:
            raise Refusal("What grows evenly is scaled about a value above nought.")
        return float(np.log(value))
    return value
