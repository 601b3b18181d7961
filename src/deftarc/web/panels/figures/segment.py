"""The figures of a selected key and of its segment: speeds, reaches, joint, ease, and what made it."""

import itertools
import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from deftarc.core.base.time import FLICKS, time_label
from deftarc.core.changes.rebuild import value_of
from deftarc.core.changes.settle_bounce import craft_at
from deftarc.core.curves.curve import THIRD, TimeCurve
from deftarc.core.curves.joints import goes_past, harmless_reach
from deftarc.core.curves.knots import Knot, OwnEase
from deftarc.core.curves.sides import Automatic, Steps
from deftarc.core.document import Layer, Scene
from deftarc.core.document.craft import AnyCraft, Bounce
from deftarc.core.document.eases import EASES, Ease, recognise, sides
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack
from deftarc.core.document.units import Units, units_of, with_unit
from deftarc.web.panels.bead import mark_of, sides_of
from deftarc.web.panels.figures.numbers import number
from deftarc.web.panels.pair.curves import scaled, speed_factor
from deftarc.web.panels.pair.handles import counted, top_speed


@dataclass(frozen=True)
class SideFigures:
    """One side of the key: ``rest`` says why there is nothing to type; else its speed and reach as they are typed."""

    name: str
    rest: str = ""
    #: At an end of the lane: what goes on from there, and how often in all.
    beyond: str = ""
    count: str = ""
    speed: str = ""
    unbounded: bool = False
    unit: str = ""
    reach: str = ""
    frames: str = ""
    #: The largest reach in per cent that keeps the segment within its keys, where this side throws it past one.
    harmless: str = ""


@dataclass(frozen=True)
class KeyFigures:
    label: str
    left: str
    right: str
    arriving: SideFigures
    leaving: SideFigures
    #: What can be typed: the key's time, and its value's components with their labels and numbers.
    typed_time: str
    values: list[tuple[int, str, str]]
    joint: str
    automatic: Automatic | None
    mark: str
    #: Whether it is between two segments, so that a joint means something.
    inner: bool


def key_figures(scene: Scene, layer: Layer, name: str, index: int, unit: str) -> KeyFigures:
    track = layer.track(name)
    facts = PROPERTIES[name]
    key = track.keys[index]
    left, right = sides_of(track, index)
    mark = mark_of(track, index)
    values = []
    if facts.kind in ("number", "path"):
        shown = zip(facts.components, value_of(track, index), strict=False)
        values = [(n, part, number(facts.shown(v), max(facts.decimals, 2))) for n, (part, v) in enumerate(shown)]
    if mark == "pace":
        values = [(2, "distance", number(float(track.measures()[index]), 2))]
    return KeyFigures(
        label=f"{facts.label}, {'pace key' if mark == 'pace' else 'key'} {index + 1} of {len(track.keys)}",
        left=left,
        right=right,
        arriving=_side(scene, track, name, index, "arriving"),
        leaving=_side(scene, track, name, index, "leaving"),
        typed_time=time_label(key.time, scene.rate, unit),
        values=values,
        joint=key.joint,
        automatic=(key.automatic or Automatic()) if key.joint == "automatic" else None,
        mark=mark,
        inner=0 < index < len(track.keys) - 1,
    )


def _side(scene: Scene, track: AnyTrack, name: str, index: int, side: str) -> SideFigures:
    segment = index if side == "leaving" else index - 1
    if not 0 <= segment < len(track.keys) - 1:
        on = track.after if side == "leaving" else track.before
        often = "" if on is None or on.count is None else f"{on.count:.6g}"
        words = "last key, then" if side == "leaving" else "first key, before it"
        return SideFigures(side, words, beyond=on.how if on is not None else "hold", count=often)
    curve = track.bare
    frames = float(curve.duration[segment]) / scene.rate.flicks
    if curve.stepped[segment]:
        count = int(curve.steps[segment, 0])
        steps = f"holds for {counted(frames)}" if curve.hold[segment] else f"{count} steps in {counted(frames)}"
        return SideFigures(side, steps)
    units = units_of(name, track)
    factor = units.factor * speed_factor(name, track)
    at = 0.0 if side == "leaving" else 1.0
    speed = float(curve.speed_at(np.array([segment]), np.array([at]))[0])
    reach = float((curve.a if side == "leaving" else curve.b)[segment])
    finite = bool(np.isfinite(speed))
    told = speed * factor
    return SideFigures(
        side,
        speed=number(told, 1 if abs(told) < 1000 else 0) if finite else "unbounded",
        unbounded=not finite,
        unit=units.speed,
        reach=number(reach * 100, 1),
        frames=number(reach * frames, 1),
        harmless=_harmless(curve, segment, side, speed) if finite else "",
    )


def _harmless(curve: TimeCurve, k: int, side: str, speed: float) -> str:
    change = np.diff(curve.measures[k : k + 2])
    la, lb = curve.la[k : k + 1], curve.lb[k : k + 1]
    low, high = sorted((0.0, float(change[0])))
    if low <= la[0] <= high and low <= lb[0] <= high:
        # A curve stays among its four measures, and these lie within the keys.
        return ""
    own, other = (la, lb) if side == "leaving" else (lb, la)
    still = np.zeros(1)
    if not own.any() or not goes_past(la, lb, change).any():
        return ""
    # Offered on the side that does it: without its rise the segment would stay within.
    alone = goes_past(still, lb, change) if side == "leaving" else goes_past(la, still, change)
    if alone.any():
        return ""
    reach = harmless_reach(speed, float(curve.duration[k]) / FLICKS, float(change[0]), float(other[0]))
    return "" if reach is None else number(np.floor(reach * 1000) / 10, 1)


@dataclass(frozen=True)
class EaseChoice:
    """An ease to choose. One's own brings its ``knots`` as JSON, and where it is ``kept``: project or everywhere."""

    id: str
    label: str
    about: str
    picture: str
    chosen: bool
    knots: str = ""
    kept: str = ""


@dataclass(frozen=True)
class CraftFigures:
    """The numbers a settle or a bounce was made from: each (field, label, value, unit)."""

    kind: str
    about: str
    numbers: list[tuple[str, str, str, str]]


@dataclass(frozen=True)
class SegmentFigures:
    title: str
    about: str
    ease: str
    ease_id: str
    strength: float
    has_strength: bool
    steps: Steps | None
    choices: tuple[EaseChoice, ...]
    past: str
    several: int
    craft: CraftFigures | None


def segment_figures(
    scene: Scene, layer: Layer, name: str, starts: Sequence[int], index: int, own: Sequence[tuple[str, OwnEase]] = ()
) -> SegmentFigures | None:
    """The first of the segments that begin at ``starts`` (times); None when the lane has one key.

    ``own`` are eases of one's own, each with where it is kept: project or everywhere.
    """
    track = layer.track(name)
    if len(track.keys) < 2:
        return None
    k = track.key_times.index(starts[0]) if starts else min(index, len(track.keys) - 2)
    units = units_of(name, track)
    factor = speed_factor(name, track)
    curve = scaled(track.curve, units.factor)
    found = recognise(track.keys[k], track.keys[k + 1], float(np.diff(track.measures()[k : k + 2])[0]))
    ease_id = found.ease if found else ""
    return SegmentFigures(
        title=f"Segment {k + 1} → {k + 2}",
        about=segment_words_short(scene, curve, k, units, factor),
        ease=EASES[ease_id].label if found else "By hand",
        ease_id=ease_id,
        strength=found.strength if found else 50.0,
        has_strength=bool(found) and EASES[ease_id].has_strength,
        steps=found.steps if found else None,
        choices=(
            *(EaseChoice(e.id, e.label, f"CSS {e.css}", picture(e), e.id == ease_id) for e in EASES.values()),
            *(_own_choice(where, ease) for where, ease in own),
        ),
        past=_past_words(curve, k, units),
        several=len(starts),
        craft=craft_figures(track, units, index),
    )


@lru_cache(maxsize=500)
def _own_choice(where: str, ease: OwnEase) -> EaseChoice:
    about = "kept in this project" if where == "project" else "kept for all projects"
    knots = json.dumps([knot.model_dump(mode="json", exclude_defaults=True) for knot in ease.knots])
    return EaseChoice(f"{where} {ease.name}", ease.name, about, knots_picture(ease.knots), False, knots, where)


def segment_words_short(scene: Scene, curve: TimeCurve, k: int, units: Units, factor: float) -> str:
    frames = float(curve.duration[k]) / scene.rate.flicks
    change = float(curve.measures[k + 1] - curve.measures[k])
    mean = with_unit(change / (float(curve.duration[k]) / FLICKS) * factor, units.speed)
    by = f"× {float(np.exp(min(change, 30.0))):.2f}" if units.growth else with_unit(change, units.value)
    top = top_speed(curve, k) * factor
    told = with_unit(top, units.speed) if np.isfinite(top) else f"unbounded {units.speed}"
    return f"{counted(frames)} · {by} · mean {mean.removesuffix(units.speed).strip()}, top {told}"


def _past_words(curve: TimeCurve, k: int, units: Units) -> str:
    low, high = sorted(float(m) for m in curve.measures[k : k + 2])
    peaks = [v for t, v in curve.extremes() if curve.times[k] < t < curve.times[k + 1]]
    over = max((max(v - high, low - v) for v in peaks), default=0.0)
    if over <= 0.005 * max(1.0, high - low) * (0.01 if units.growth else 1.0):
        return ""
    if units.growth:
        return f"{100 * (float(np.exp(over)) - 1):.1f}% past"
    return f"{with_unit(over, units.value)} past"


def craft_figures(track: AnyTrack, units: Units, index: int) -> CraftFigures | None:
    found = craft_at(track, index)
    if found is None:
        return None
    measures = track.measures()
    return craft_numbers(found.craft, units, float(measures[found.last] - measures[found.first]))


def craft_numbers(craft: AnyCraft, units: Units, change: float) -> CraftFigures:
    """The numbers of a settle or a bounce over a change of the measure."""
    soon = ("soon", "at rest after", number(craft.soon, 3), "s")
    if isinstance(craft, Bounce):
        rows = [("keeps", "keeps", number(craft.keeps * 100, 1), "%"), ("often", "bounces", str(craft.often), ""), soon]
        about = f"first fall {number(craft.fall, 2)} s"
        height = change if craft.between else craft.height
        if not craft.between:
            rows.insert(0, ("height", "drop", number(height * units.factor, 1), units.value))
        if not units.growth:
            gravity = abs(2 * height / craft.fall**2) * units.factor
            rows.append(("gravity", "gravity", number(gravity, 0), f"{units.value}/s²"))
        return CraftFigures("bounce", about, rows)
    far = (craft.far * 100, "%") if craft.between else (craft.far * units.factor, units.value)
    rows = [("far", "past by", number(far[0], 1), far[1]), ("often", "swings", str(craft.often), ""), soon]
    return CraftFigures("settle", "a damped spring", rows)


#: The small pictures: 44 × 26 px, the unit square inside with room for what goes past.
_X0, _Y0, _W, _H = 5.0, 21.0, 34.0, 15.0


@lru_cache(maxsize=32)
def picture(ease: Ease) -> str:
    """An ease as a small picture: its own curve."""
    if ease.id == "hold":
        return f"M{_X0} {_Y0}H{_X0 + _W}V{_Y0 - _H}"
    if ease.id == "steps":
        return f"M{_X0} {_Y0}" + "".join(f"h{_W / 4}v{-_H / 4}" for _ in range(4))
    leaving, arriving = sides(ease, 50, 1.0)
    return knots_picture((Knot(x=0, y=0, leaving=leaving), Knot(x=1, y=1, arriving=arriving)))


def knots_picture(knots: Sequence[Knot]) -> str:
    """A shape as a small picture."""

    def spot(x: float, y: float) -> str:
        return f"{_X0 + x * _W:.1f} {min(25.0, max(1.0, _Y0 - y * _H)):.1f}"

    out = [f"M{spot(knots[0].x, knots[0].y)}"]
    for left, right in itertools.pairwise(knots):
        wide, change = right.x - left.x, right.y - left.y
        if left.steps is not None:
            count, first, jumps = left.steps.row
            for n in range(min(count, 20)):
                y = left.y + change * min(n + first, jumps) / jumps
                out.append(f"L{spot(left.x + wide * n / count, y)}L{spot(left.x + wide * (n + 1) / count, y)}")
            out.append(f"L{spot(right.x, right.y)}")
            continue
        a, la = (THIRD, change / 3) if left.leaving is None else (left.leaving.reach, left.leaving.rise)
        b, lb = (THIRD, change / 3) if right.arriving is None else (right.arriving.reach, right.arriving.rise)
        out.append(
            f"C{spot(left.x + a * wide, left.y + la)} {spot(right.x - b * wide, right.y - lb)} {spot(right.x, right.y)}"
        )
    return "".join(out)
