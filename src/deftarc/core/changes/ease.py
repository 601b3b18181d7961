"""Segments given a shape: by a named ease, by one of one's own, a run as one; and the shape of a run taken off it."""

import itertools
from collections.abc import Iterable, Sequence
from typing import Literal, TypeVar

import numpy as np

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.rebuild import concrete, key_at, rebuilt, side_of
from deftarc.core.curves.curve import bezier, first_root
from deftarc.core.curves.knots import Knot
from deftarc.core.curves.sides import Side, Steps, mirrored
from deftarc.core.document.eases import Ease, ease_named, sides
from deftarc.core.document.keys import KeyBase
from deftarc.core.document.track import AnyTrack, BlendTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)
On = Literal["both", "leaving", "arriving"]


def ease_segments(
    track: T, starts: Iterable[int], ease_id: str, strength: float, on: On = "both", steps: Steps | None = None
) -> T:
    """The segments that begin at the keys ``starts`` (times) given a named ease at a strength of 0 to 100.

    ``on`` one side bends that side as the ease does, and leaves the other as it is.
    """
    ease = ease_named(ease_id)
    index = {time: k for k, time in enumerate(track.key_times)}
    chosen = [index[start] for start in starts if index.get(start, -1) in range(len(track.keys) - 1)]
    track = concrete(track, {k + i for k in chosen for i in (0, 1)})
    keys: list[KeyBase] = list(track.keys)
    measures = track.measures()
    for k in chosen:
        leaving, arriving = sides(ease, strength, float(measures[k + 1] - measures[k]))
        if ease.stepped or on in ("both", "leaving"):
            keys[k] = keys[k].changed(leaving=leaving, joint="corner")
        if ease.stepped or on in ("both", "arriving"):
            keys[k + 1] = keys[k + 1].changed(arriving=arriving, joint="corner")
        keys[k] = keys[k].changed(hold=ease.id == "hold", steps=_steps_of(ease, steps))
    return rebuilt(track, _valid_reaches(keys, chosen))


def _steps_of(ease: Ease, steps: Steps | None) -> Steps | None:
    return (steps or Steps(count=4)) if ease.id == "steps" else None


def _valid_reaches(keys: list[KeyBase], segments: Iterable[int]) -> list[KeyBase]:
    """Reaches of eased segments brought back to what keeps time monotone, where one side alone was changed."""
    for k in segments:
        left, right = keys[k].leaving, keys[k + 1].arriving
        if left is not None and left.reach > 1:
            keys[k] = keys[k].changed(leaving=mirrored(left.changed(reach=1.0), 1 / left.reach))
        if right is not None and right.reach > 1:
            keys[k + 1] = keys[k + 1].changed(arriving=mirrored(right.changed(reach=1.0), 1 / right.reach))
    return keys


def ease_as_one(track: T, first: int, last: int, ease_id: str, strength: float) -> T:
    """One ease over the run from key ``first`` to key ``last`` (indices): the inner keys' times move to fit.

    Each inner key keeps its value and stands where the one curve first has it, so the run moves just as the ease.
    """
    ease = ease_named(ease_id)
    if ease.stepped:
        raise Refusal(f"{ease.label} is set on each segment: a run cannot go through its keys in steps.")
    track = concrete(track, range(first, last + 1))
    measures = track.measures()
    start, change = float(measures[first]), float(measures[last] - measures[first])
    between: list[float] = measures[first + 1 : last].tolist()
    run = np.diff(measures[first : last + 1])
    if change == 0 or (run * np.sign(change) <= 0).any():
        raise Refusal("As one needs values that go one way all along. These go back: ease each segment on its own.")
    leaving, arriving = sides(ease, strength, change)
    a, la = (1 / 3, change / 3) if leaving is None else (leaving.reach, leaving.rise)
    b, lb = (1 / 3, change / 3) if arriving is None else (arriving.reach, arriving.rise)
    x = [0.0, a, 1 - b, 1.0]
    y: list[float] = [start, start + la, start + change - lb, start + change]
    cuts = [0.0, *(first_root(y, m) for m in between), 1.0]
    t0, whole = track.keys[first].time, track.keys[last].time - track.keys[first].time
    keys: list[KeyBase] = list(track.keys)
    times = [t0 + round(float(bezier(np.array(u), *x)) * whole) for u in cuts]
    if any(later <= earlier for earlier, later in itertools.pairwise(times)):
        raise Refusal("Two keys of the run would stand at the same moment. Ease it less strongly.")
    for n, (u, v) in enumerate(itertools.pairwise(cuts)):
        left, right = first + n, first + n + 1
        px, py = _part(x, u, v), _part(y, u, v)
        wide = px[3] - px[0]
        keys[left] = keys[left].changed(leaving=side_of((px[1] - px[0]) / wide, py[1] - py[0]), hold=False, steps=None)
        keys[right] = keys[right].changed(arriving=side_of((px[3] - px[2]) / wide, py[3] - py[2]), time=times[n + 1])
    for k in range(first, last + 1):
        keys[k] = keys[k].changed(joint="smooth" if first < k < last else "corner")
    if leaving is None and arriving is None:
        for k in range(first, last):
            keys[k], keys[k + 1] = keys[k].changed(leaving=None), keys[k + 1].changed(arriving=None)
    if isinstance(track, BlendTrack):
        raise Refusal("A colour or an outline is eased segment by segment.")
    return rebuilt(track, keys)


def _part(p: Sequence[float], u: float, v: float) -> list[float]:
    """The control points of a Bézier's part from u to v (its blossom)."""

    def blossom(r: float, s: float, t: float) -> float:
        row = list(p)
        for w in (r, s, t):
            row = [one + (other - one) * w for one, other in itertools.pairwise(row)]
        return row[0]

    return [blossom(u, u, u), blossom(u, u, v), blossom(u, v, v), blossom(v, v, v)]


def with_shape(track: T, index: int, knots: Sequence[Knot]) -> T:
    """The segment after a key given a shape: its inner knots become ordinary keys, on a path pace keys."""
    track = concrete(track, (index, index + 1))
    left, right = track.keys[index], track.keys[index + 1]
    start, end = (float(m) for m in track.measures()[index : index + 2])
    change = end - start
    times = [left.time + round(knot.x * (right.time - left.time)) for knot in knots]
    if any(later <= earlier for earlier, later in itertools.pairwise(times)):
        raise Refusal("There is not time enough between the two keys for so many more.")
    made: list[KeyBase] = []
    for n, knot in enumerate(knots):
        fields = {
            "arriving": mirrored(knot.arriving, _unit(track, knots, n - 1, change)),
            "leaving": mirrored(knot.leaving, _unit(track, knots, n, change)),
            "hold": knot.holds, "steps": None if knot.holds else knot.steps, "joint": "corner", "automatic": None,
        }  # fmt: skip
        if n == 0:
            fields.pop("arriving")
            made.append(left.changed(**fields))
        elif n == len(knots) - 1:
            made.append(right.changed(arriving=fields["arriving"], joint="corner", automatic=None))
        else:
            made.append(key_at(track, KeyBase(time=times[n], **fields), start + knot.y * change, index))
    keys: list[KeyBase] = list(track.keys)
    keys[index : index + 2] = made
    return rebuilt(track, keys)


def _unit(track: AnyTrack, knots: Sequence[Knot], segment: int, change: float) -> float:
    """What a rise of one is in a segment between two knots: for a blend, whose segments count one each, its share."""
    if not isinstance(track, BlendTrack):
        return change
    if not 0 <= segment < len(knots) - 1:
        return 1.0
    part = knots[segment + 1].y - knots[segment].y
    return 1 / part if abs(part) > 1e-9 else 0.0


def taken(track: AnyTrack, first: int, last: int) -> list[Knot]:
    """The shape of the run between two keys (indices), without its size; Refusal where it changes nothing."""
    track = concrete(track, range(first, last + 1))
    measures, times = track.measures(), track.key_times
    change, whole = float(measures[last] - measures[first]), times[last] - times[first]
    if abs(change) < 1e-12:
        raise Refusal("The two ends have one value, so there is no shape to keep: an ease runs from 0 to 1.")
    out = []
    for k in range(first, last + 1):
        key = track.keys[k]
        out.append(
            Knot(
                x=(times[k] - times[first]) / whole,
                y=(float(measures[k]) - float(measures[first])) / change,
                arriving=mirrored(key.arriving, 1 / change) if k > first else None,
                leaving=mirrored(key.leaving, 1 / change) if k < last else None,
                steps=(Steps(count=1) if key.hold else key.steps) if k < last else None,
            )
        )
    out[-1] = out[-1].changed(x=1.0, y=1.0)
    return out


def side_or_chord(side: Side | None, change: float) -> tuple[float, float]:
    """Reach and rise of a side, a straight one on its chord."""
    return (1 / 3, change / 3) if side is None else (side.reach, side.rise)
