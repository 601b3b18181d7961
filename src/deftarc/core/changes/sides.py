"""What is done to the sides and joints of single keys: handles dragged and typed, joints chosen, curves kept within."""

from collections.abc import Iterable, Sequence
from typing import Literal, TypeVar

import numpy as np

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.ease import side_or_chord
from deftarc.core.changes.rebuild import concrete, rebuilt
from deftarc.core.curves.curve import TimeCurve, bezier
from deftarc.core.curves.inverse import is_monotone
from deftarc.core.curves.joints import automatic_speeds, within_keys
from deftarc.core.curves.sides import Automatic, Side
from deftarc.core.document.keys import KeyBase
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)
Which = Literal["arriving", "leaving"]
BOTH: tuple[Which, Which] = ("arriving", "leaving")
#: What a typed speed gives a side of no reach.
LEAST_REACH = 0.01
#: The reach of a side made a curve beside nothing: the one of CSS's ease-in and ease-out.
EASY = 0.42


def segment_of(track: AnyTrack, index: int, which: Which) -> int:
    """The segment on a side of a key; Refusal where there is none, or none with handles."""
    k = index if which == "leaving" else index - 1
    if not 0 <= k < len(track.keys) - 1:
        where = "leaves the last" if which == "leaving" else "arrives at the first"
        raise Refusal(f"No segment {where} key, so there is nothing to shape on that side.")
    if track.keys[k].stepped:
        raise Refusal("This segment goes in steps and has no handles. Give it another ease first.")
    return k


def seconds(track: AnyTrack, segment: int) -> float:
    return (track.keys[segment + 1].time - track.keys[segment].time) / FLICKS


def side_at(track: AnyTrack, index: int, which: Which) -> Side:
    """A side of a key as the curve has it, straight and automatic ones as well."""
    k = segment_of(track, index, which)
    curve = track.bare
    reach, rise = (curve.a[k], curve.la[k]) if which == "leaving" else (curve.b[k], curve.lb[k])
    return Side(reach=float(reach), rise=float(rise))


def speed_of(track: AnyTrack, index: int, which: Which) -> float:
    """The speed at a side of a key, in the measure's unit per second; infinite where unbounded."""
    k = segment_of(track, index, which)
    at = 0.0 if which == "leaving" else 1.0
    return float(track.bare.speed_at(np.array([k]), np.array([at]))[0])


def with_side(track: T, index: int, which: Which, reach: float, rise: float, apart: bool = False) -> T:
    """A side's handle put somewhere; on a smooth joint the other side takes its speed and keeps its own reach.

    ``apart`` breaks the joint first. Reaches stay between 0 and 1, and so far as the far side lets time run on.
    """
    k = segment_of(track, index, which)
    track = concrete(track, (index,))
    keys: list[KeyBase] = list(track.keys)
    far = keys[index + 1].arriving if which == "leaving" else keys[index - 1].leaving
    held = _held_reach(min(max(reach, 0.0), 1.0), far)
    side = Side(reach=held, rise=rise)
    key = keys[index].changed(**{which: side}, **({"joint": "corner"} if apart else {}))
    if key.joint == "smooth":
        other: Which = "arriving" if which == "leaving" else "leaving"
        speed = rise / (held * seconds(track, k)) if held > 0 else None
        key = _matched(track, index, key, other, speed)
    keys[index] = key
    return rebuilt(track, keys)


def _held_reach(reach: float, far: Side | None) -> float:
    """A reach shortened until time does not run back against the far side's."""
    b = 1 / 3 if far is None else far.reach
    if is_monotone(reach, b):
        return reach
    low, high = 0.0, reach
    for _ in range(50):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if is_monotone(middle, b) else (low, middle)
    return low


def _matched(track: AnyTrack, index: int, key: KeyBase, other: Which, speed: float | None) -> KeyBase:
    """A key whose other side has a speed too, where it has a segment with handles there."""
    k = index if other == "leaving" else index - 1
    if speed is None or not 0 <= k < len(track.keys) - 1 or track.keys[k].stepped:
        return key
    side = key.leaving if other == "leaving" else key.arriving
    reach = 1 / 3 if side is None else max(side.reach, LEAST_REACH)
    return key.changed(**{other: Side(reach=reach, rise=speed * reach * seconds(track, k))})


def typed_speed(track: T, index: int, which: Which, speed: float) -> T:
    """A side given a speed in measure units per second; it keeps its reach, and takes 1 % where it had none."""
    k = segment_of(track, index, which)
    reach = max(side_at(track, index, which).reach, LEAST_REACH)
    return with_side(track, index, which, reach, speed * reach * seconds(track, k))


def typed_reach(track: T, index: int, which: Which, reach: float) -> T:
    """A side given a reach, 0 to 1; it keeps its speed."""
    if not 0 <= reach <= 1:
        raise Refusal("A reach lies between 0 and 100 % of its segment.")
    segment_of(track, index, which)
    side = side_at(track, index, which)
    rise = side.rise * reach / side.reach if side.reach > 0 else 0.0
    return with_side(track, index, which, reach, rise)


def with_joint(
    track: T, index: int, joint: Literal["corner", "smooth", "automatic"], how: Automatic | None = None
) -> T:
    """A key's joint changed, with as much of its shape as the new one allows.

    Corner changes nothing but what a later drag may do. Smooth gives both sides one speed, their mean weighted by
    duration; a side that was straight keeps its slope in that. Automatic works both out anew.
    """
    if joint == "automatic":
        keys: list[KeyBase] = list(track.keys)
        keys[index] = keys[index].changed(joint="automatic", automatic=how, arriving=None, leaving=None)
        return rebuilt(track, keys)
    track = concrete(track, (index,))
    keys = list(track.keys)
    key = keys[index].changed(joint=joint)
    inner = 0 < index < len(keys) - 1
    if joint == "smooth" and inner and not keys[index].stepped and not keys[index - 1].stepped:
        before, after = seconds(track, index - 1), seconds(track, index)
        speeds = [speed_of(track, index, which) for which in BOTH]
        finite = [s if np.isfinite(s) else 0.0 for s in speeds]
        speed = (finite[0] * before + finite[1] * after) / (before + after)
        for which in BOTH:
            key = _matched(track, index, key, which, speed)
    keys[index] = key
    return rebuilt(track, keys)


def straightened(track: T, index: int, sides: Sequence[Which] = BOTH) -> T:
    """Sides of a key made straight."""
    track = concrete(track, (index,))
    keys: list[KeyBase] = list(track.keys)
    keys[index] = keys[index].changed(**dict.fromkeys(sides), joint="corner")
    return rebuilt(track, keys)


def curved(track: T, index: int, sides: Sequence[Which] = BOTH) -> T:
    """Sides of a key made curves: smooth with the speed an automatic joint has; level beside nothing or steps."""
    track = concrete(track, (index,))
    keys: list[KeyBase] = list(track.keys)
    key, count = keys[index], len(keys)
    curve = track.curve
    told = np.zeros((count, 4))
    speeds = automatic_speeds(curve.times, curve.measures, curve.stepped, told)
    has = {"arriving": index > 0 and not keys[index - 1].stepped, "leaving": index < count - 1 and not key.stepped}
    both = has["arriving"] and has["leaving"]
    for which in sides:
        if not has[which]:
            continue
        k = index if which == "leaving" else index - 1
        if both:
            speed = float(speeds[0 if which == "arriving" else 1][index]) * FLICKS
            key = key.changed(**{which: Side(reach=1 / 3, rise=speed * seconds(track, k) / 3)})
        else:
            key = key.changed(**{which: Side(reach=EASY, rise=0.0)})
    keys[index] = key.changed(joint="smooth" if both and len(sides) == 2 else key.joint)
    return rebuilt(track, keys)


def bends(track: AnyTrack, index: int) -> bool:
    """Whether any side of a key is a curve."""
    key = track.keys[index]
    return key.joint == "automatic" or key.arriving is not None or key.leaving is not None


def kept_within(track: T, segments: Iterable[int]) -> T:
    """The rises of some segments shortened, once and for good, until no extreme lies past their keys."""
    chosen = [k for k in segments if 0 <= k < len(track.keys) - 1 and not track.keys[k].stepped]
    track = concrete(track, {k + i for k in chosen for i in (0, 1)})
    curve = track.bare
    keys: list[KeyBase] = list(track.keys)
    la, lb = within_keys(curve.la, curve.lb, np.diff(curve.measures))
    for k in chosen:
        if abs(la[k] - curve.la[k]) > 1e-12 and keys[k].leaving is not None:
            keys[k] = keys[k].changed(leaving=Side(reach=float(curve.a[k]), rise=float(la[k])), joint="corner")
        if abs(lb[k] - curve.lb[k]) > 1e-12 and keys[k + 1].arriving is not None:
            keys[k + 1] = keys[k + 1].changed(arriving=Side(reach=float(curve.b[k]), rise=float(lb[k])), joint="corner")
    return rebuilt(track, keys)


def peak_of(curve: TimeCurve, segment: int) -> float | None:
    """Where in a segment, as a fraction of its time, its speed is greatest; None where it has no peak inside."""
    found = peak_with_speed(curve, segment)
    return None if found is None else found[0]


_ACROSS = np.linspace(0, 1, 201)


def peak_with_speed(curve: TimeCurve, segment: int) -> tuple[float, float] | None:
    """Where in a segment its speed is greatest, and that speed per second with its sign; None without a peak inside."""
    if curve.stepped[segment]:
        return None
    u = _ACROSS
    signed = curve.speed_at(np.full(len(u), segment), u)
    speed = np.abs(signed)
    speed = np.where(np.isfinite(speed), speed, np.inf)
    best = int(speed.argmax())
    if best in (0, len(u) - 1) or not np.isfinite(speed[best]) or speed[best] - max(speed[0], speed[-1]) < 1e-9:
        return None
    return float(bezier(u[best], 0.0, curve.a[segment], 1 - curve.b[segment], 1.0)), float(signed[best])


def with_peak(track: T, index: int, fraction: float) -> T:
    """The speed peak of the segment after a key made earlier or later: what one reach gains the other gives.

    Speeds at the two keys stay; the peak goes as far as reaches between 0 and 1 let it.
    """
    k = segment_of(track, index, "leaving")
    track = concrete(track, (k, k + 1))
    left, right = track.keys[k], track.keys[k + 1]
    change = float(np.diff(track.measures()[k : k + 2])[0])
    (a, la), (b, lb) = side_or_chord(left.leaving, change), side_or_chord(right.arriving, change)
    low, high = -min(a, 1 - b), min(b, 1 - a)

    def shaped(by: float) -> T:
        keys: list[KeyBase] = list(track.keys)
        one, other = a + by, b - by
        # What leans over further than time allows is brought back.
        keys[k] = left.changed(leaving=Side(reach=one, rise=la * one / a if a > 0 else 0.0))
        keys[k + 1] = right.changed(arriving=Side(reach=other, rise=lb * other / b if b > 0 else 0.0))
        return track.changed(keys=tuple(keys))

    for _ in range(40):
        middle = 0.5 * (low + high)
        at = peak_of(shaped(middle).curve, k)
        # With no peak inside, it has run into the end that the longer reach pushes it to.
        here = at if at is not None else (1.0 if a + middle > b - middle else 0.0)
        low, high = (middle, high) if here < fraction else (low, middle)
    made = shaped(0.5 * (low + high))
    return rebuilt(made, made.keys)
