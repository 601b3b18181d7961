"""The pair: value (or distance) over speed, on the time axis of ruler and lanes, for one curve or several."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.changes.keys import KeyRef
from deftarc.core.curves.curve import TimeCurve
from deftarc.core.document import Layer, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack, PathTrack
from deftarc.core.document.units import Units, units_of
from deftarc.core.edit.keys import grouped
from deftarc.web.look import PairAsked
from deftarc.web.panels.axis import TimeAxis, ValueAxis, spanning
from deftarc.web.panels.bead import MOST_WHOLE, Bead
from deftarc.web.panels.beyond import drawn_beyond
from deftarc.web.panels.figures.relations import told_following
from deftarc.web.panels.list.lanes import beads
from deftarc.web.panels.pair.curves import (
    FAR,
    ByFrame,
    Past,
    components,
    frame_ticks,
    past_keys,
    polyline,
    scaled,
    speed_factor,
    speed_paths,
    speed_samples,
    value_paths,
)
from deftarc.web.panels.pair.followed import followed_curve, measures_by_frame
from deftarc.web.panels.pair.handles import (
    Handle,
    Peak,
    Segment,
    SpeedHalf,
    end_speeds,
    handles,
    peaks,
    segments,
    sides_shown,
    speed_halves,
    speed_handles,
)

#: Share of the height that the value curve gets.
VALUE_SHARE = 0.6
#: Of more curves than this, all but the main one are drawn without handles while a hand drags many keys.
CROWDED = 8
#: Colours there are for curves beside the main one, as classes.
COLOURS = 6
#: Rows the gutter lists at most.
MOST_LISTED = 40

LaneId = tuple[str, str]
Axes = tuple[ValueAxis, ValueAxis]


@dataclass(frozen=True)
class Thin:
    """A component drawn thin beside the curve: its colour's name and its path in parts."""

    name: str
    parts: list[str]


@dataclass(frozen=True)
class Listed:
    """A curve in the gutter. ``colour`` is the number of its colour, 0 the ink of the main one."""

    layer: str
    property: str
    label: str
    about: str
    colour: int
    main: bool
    shown: bool
    pinned: bool


@dataclass(frozen=True)
class Drawn:
    """One curve as it is drawn and taken hold of."""

    layer: str
    property: str
    title: str
    units: Units
    factor: float
    colour: int
    main: bool
    value_axis: ValueAxis
    speed_axis: ValueAxis
    curve: str
    dotted: str
    #: What goes on before and after the keys: parts of its values and of its speeds.
    beyond: list[str]
    beyond_speed: list[str]
    speed: list[tuple[str, str]]
    ticks: str
    thin: list[Thin]
    value_beads: list[Bead]
    speed_beads: list[SpeedHalf]
    handles: list[Handle]
    speed_handles: list[Handle]
    peaks: list[Peak]
    segments: list[Segment]
    past: list[Past]
    within: bool
    #: While many keys are dragged, the times of those that are selected: then the beads are drawn bare.
    chosen: frozenset[int] | None = None
    #: Whether it follows something and has no keys of its own.
    followed: bool = False


@dataclass(frozen=True)
class Box:
    """Around the selected keys in the value curve, to move and stretch them by."""

    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class Pair:
    width: float
    height: float
    title: str
    about: str
    speed_unit: str
    value_axis: ValueAxis
    speed_axis: ValueAxis
    split: float
    zero: float
    hairlines: list[float]
    curves: list[Drawn]
    listed: list[Listed]
    box: Box | None = None
    flat: bool = False
    single: bool = False
    fit: str | None = "all"
    axes: dict[LaneId, Axes] = field(default_factory=dict)
    #: The main curve in another take, as path data: its value and its speed.
    ghost: tuple[str, ...] = ()

    @property
    def main(self) -> Drawn:
        return self.curves[0]


@dataclass
class _Curve:
    """A curve on its way to being drawn."""

    layer: Layer
    name: str
    track: AnyTrack
    units: Units
    factor: float
    curve: TimeCurve
    speeds: Floats
    at: Floats
    peaks: list[tuple[float, float]]
    selected: list[int]
    #: Of what follows something, its measures by frame in shown units.
    followed: Floats | None = None


def pair_of(
    scene: Scene,
    shown: Sequence[tuple[Layer, str]],
    axis: TimeAxis,
    height: float,
    asked: PairAsked | None = None,
    kept: Mapping[LaneId, Axes] | None = None,
    unit: str = "timecode",
    keys: Sequence[KeyRef] = (),
    listed: list[Listed] | None = None,
    by_frame: ByFrame | None = None,
) -> Pair | None:
    """The pair of some keyed lanes, the main one first; None when none has keys. ``kept`` axes hold during a drag;
    ``by_frame`` has positions that need not be worked out again.
    """
    asked = asked or PairAsked()
    chosen = grouped(tuple(keys))
    made = [
        _prepared(layer, name, set(chosen.get((layer.id, name), ()))) if layer.track(name).keys
        else _followed(scene, layer, name, axis, by_frame)
        for layer, name in shown
        if layer.track(name).keys or (name in layer.links and by_frame is not None)
    ]  # fmt: skip
    if not made:
        return None
    value_height = height * VALUE_SHARE
    axes = _axes(scene, made, asked, kept or {}, height)
    colours = {(each.layer, each.property): each.colour for each in listed or []}
    light = bool(kept) and sum(len(each.track.keys) for each in made) > MOST_WHOLE
    curves = [
        _drawn(scene, each, axis, axes[_id(each)], unit, colours.get(_id(each), n), n == 0, value_height, bool(kept),
               light, len(made) > CROWDED, by_frame)
        for n, each in enumerate(made)
    ]  # fmt: skip
    first, main = made[0], curves[0]
    times = sorted({float(time) for each in made if each.followed is None for time in each.curve.times})
    values = np.concatenate([*first.curve.control_measures(), first.curve.measures])
    return Pair(
        width=axis.width,
        height=height,
        title=main.title,
        about=f"{first.layer.name} · {_about(first)}"
        if first.followed is None
        else (f"{first.layer.name} follows {told_following(scene, first.layer, first.name, unit)}"),
        speed_unit=main.units.speed,
        value_axis=main.value_axis,
        speed_axis=main.speed_axis,
        split=round(main.speed_axis.top - 8, 1),
        zero=round(main.speed_axis.y(0.0), 1),
        hairlines=[round(x, 1) for x in axis.xs(times).tolist() if -1 <= x <= axis.width + 1],
        curves=curves,
        listed=listed or [],
        box=_box(made, curves, axis),
        flat=len(made) == 1 and first.followed is None and float(np.ptp(values)) < 1e-9,
        single=len(made) == 1 and len(first.curve.times) == 1,
        fit=asked.fit,
        axes=axes,
    )


def _followed(scene: Scene, layer: Layer, name: str, axis: TimeAxis, by_frame: ByFrame | None) -> _Curve:
    """The curve of a lane that has no keys of its own and follows something."""
    assert by_frame is not None
    measures = measures_by_frame(name, by_frame(layer, name), scene.frames)
    curve = followed_curve(scene, axis, measures)
    speeds, at = speed_samples(curve)
    track = layer.track(name)
    return _Curve(layer, name, track, units_of(name, track), 1.0, curve, speeds, at, [], [], measures)


def _id(each: _Curve) -> LaneId:
    return each.layer.id, each.name


def _about(each: _Curve) -> str:
    if isinstance(each.track, PathTrack):
        return "px along the path"
    if each.units.growth:
        return f"{each.units.value}, equal heights are equal ratios"
    return "keys, one a step" if each.units.value == "key" else each.units.value


def _prepared(layer: Layer, name: str, chosen: set[int]) -> _Curve:
    track = layer.track(name)
    units = units_of(name, track)
    factor = speed_factor(name, track)
    curve = scaled(track.curve, units.factor)
    speeds, at = speed_samples(curve)
    selected = [k for k, time in enumerate(track.key_times) if time in chosen]
    return _Curve(layer, name, track, units, factor, curve, speeds * factor, at, curve.extremes(), selected)


def _reach(each: _Curve, scene: Scene, fit: str | None) -> tuple[Floats, Floats]:
    """The values and the speeds that an axis is to show."""
    curve = each.curve
    if each.followed is not None and fit == "all":
        speeds = np.gradient(each.followed) * scene.rate.per_second if len(each.followed) > 1 else np.zeros(1)
        return each.followed, speeds
    values = np.concatenate([curve.measures, np.array([value for _, value in each.peaks])])
    if each.track.lasts and fit == "all":
        # As far as the scene goes, what goes on beyond the keys is shown too.
        times = np.linspace(0.0, float(scene.length), 121)
        values = np.concatenate([values, each.track.drawn(times) * each.units.factor])
        speeds = each.track.speeds(times) * each.units.factor * each.factor
        return values, np.concatenate([each.speeds, speeds[np.isfinite(speeds)]])
    if fit == "selection" and each.selected:
        near = sorted({k + i for k in each.selected for i in (-1, 0, 1)} & set(range(len(curve.times))))
        low, high = float(curve.times[near[0]]), float(curve.times[near[-1]])
    elif fit == "range":
        first, last = scene.play_range or (0, scene.length)
        low, high = float(first), float(last)
    else:
        return values, each.speeds
    times = np.linspace(low, high, 121)
    inside = (each.at >= low) & (each.at <= high)
    shown = each.track.drawn(times) * each.units.factor if each.track.lasts else curve.at(times)
    return shown, each.speeds[inside] if inside.any() else np.zeros(1)


def _axes(
    scene: Scene, made: list[_Curve], asked: PairAsked, kept: Mapping[LaneId, Axes], height: float
) -> dict[LaneId, Axes]:
    """Each curve's two axes: those of one unit share theirs, unless each is to have its own scale."""
    if kept and all(_id(each) in kept for each in made):
        return {_id(each): kept[_id(each)] for each in made}
    value_height = height * VALUE_SHARE
    below, left = value_height + 8.0, height - value_height - 16
    groups: dict[object, list[_Curve]] = {}
    for n, each in enumerate(made):
        own = (each.units.value, bool(each.units.growth))
        groups.setdefault(n if asked.apart else own, []).append(each)
    out: dict[LaneId, Axes] = {}
    for members in groups.values():
        reaches = [_reach(each, scene, asked.fit) for each in members]
        values = np.concatenate([value for value, _ in reaches])
        speeds = np.concatenate([speed for _, speed in reaches])
        top, room = 8.0, value_height - 16
        value_axis = spanning(values, top, room)
        speed_axis = spanning(speeds, below, left, with_zero=True)
        if made[0] in members and asked.fit is None:
            if asked.value is not None:
                value_axis = ValueAxis(*asked.value, top, room)
            if asked.speed is not None:
                speed_axis = ValueAxis(*asked.speed, below, left)
        growth = members[0].units.growth
        if growth:
            value_axis = ValueAxis(value_axis.low, value_axis.high, top, room, growth)
        for each in members:
            out[_id(each)] = (value_axis, speed_axis)
    return _with_one_rest(out) if len(groups) > 1 and asked.fit is not None else out


def _with_one_rest(axes: dict[LaneId, Axes]) -> dict[LaneId, Axes]:
    """Speed axes of several units, with rest at one height for all."""
    sizes = {lane: max(speed.high, -speed.low) for lane, (_, speed) in axes.items()}
    up = max(max(speed.high, 0.0) / sizes[lane] for lane, (_, speed) in axes.items())
    down = max(max(-speed.low, 0.0) / sizes[lane] for lane, (_, speed) in axes.items())
    return {
        lane: (value, ValueAxis(-down * sizes[lane], up * sizes[lane], speed.top, speed.height))
        for lane, (value, speed) in axes.items()
    }


def _drawn(
    scene: Scene,
    each: _Curve,
    axis: TimeAxis,
    axes: Axes,
    unit: str,
    colour: int,
    main: bool,
    value_height: float,
    held: bool,
    light: bool,
    crowded: bool,
    by_frame: ByFrame | None,
) -> Drawn:
    if each.followed is not None:
        return _drawn_followed(each, axis, axes, colour, main)
    curve, track = each.curve, each.track
    value_axis, speed_axis = axes
    line, dotted = value_paths(curve, axis, value_axis, track.lasts)
    outside = [
        (at, measures * each.units.factor, speeds * each.units.factor * each.factor)
        for at, measures, speeds in (drawn_beyond(track, axis) if track.lasts else [])
    ]
    row = beads(scene, each.layer, each.name, track, axis, 0.0, unit, words=not light)
    index = {int(time): k for k, time in enumerate(curve.times)}
    # Of many curves under a hand only the main one has what could be taken hold of next.
    whole = main or not light or not crowded
    shown = sides_shown(track, each.selected) if whole else []
    # The curve as its handles make it, where it is kept within its keys and so drawn otherwise.
    plain = scaled(track.bare, each.units.factor) if track.within else curve
    ends = end_speeds(plain, each.factor)
    near = sorted({k + i for k in each.selected for i in (-1, 0)} & set(range(len(curve.times) - 1))) if whole else []
    facts = PROPERTIES[each.name]
    return Drawn(
        layer=each.layer.id,
        property=each.name,
        title="Distance" if isinstance(track, PathTrack) else facts.label,
        units=each.units,
        factor=each.factor,
        colour=0 if main else colour or 1,
        main=main,
        value_axis=value_axis,
        speed_axis=speed_axis,
        curve=line,
        dotted=dotted,
        beyond=[part for at, measures, _ in outside for part in polyline(axis.xs(at), _seen(value_axis, measures))],
        beyond_speed=[part for at, _, speeds in outside for part in polyline(axis.xs(at), _seen(speed_axis, speeds))],
        speed=speed_paths(each.speeds, each.at, axis, speed_axis),
        ticks=frame_ticks(scene, curve, axis, value_axis) if main else "",
        thin=_thin(scene, each, axis, value_height, by_frame) if main else [],
        value_beads=[
            Bead(
                b.x,
                round(value_axis.y(float(curve.measures[index[b.time]])), 2),
                b.time,
                b.left,
                b.right,
                b.title,
                b.mark,
            )
            for b in row
        ],
        speed_beads=speed_halves(track, plain, ends, axis, speed_axis, each.units, words=not light) if whole else [],
        handles=handles(track, plain, shown, axis, value_axis),
        speed_handles=speed_handles(track, plain, ends, shown, axis, speed_axis),
        peaks=peaks(curve, near, axis, speed_axis, each.units, each.factor),
        # Nobody points at a segment while the hand holds something.
        segments=[] if held else segments(scene, curve, each.speeds, axis, value_axis, each.units, each.factor),
        past=past_keys(curve, each.peaks, axis, value_axis, each.units) if whole else [],
        within=track.within,
        chosen=frozenset(track.keys[k].time for k in each.selected) if light else None,
    )


def _drawn_followed(each: _Curve, axis: TimeAxis, axes: Axes, colour: int, main: bool) -> Drawn:
    """A curve with nothing on it that could be taken hold of."""
    value_axis, speed_axis = axes
    line, dotted = value_paths(each.curve, axis, value_axis)
    facts = PROPERTIES[each.name]
    return Drawn(
        layer=each.layer.id, property=each.name, title="Distance" if facts.kind == "path" else facts.label,
        units=each.units, factor=each.factor, colour=0 if main else colour or 1, main=main, value_axis=value_axis,
        speed_axis=speed_axis, curve=line, dotted=dotted, beyond=[], beyond_speed=[],
        speed=speed_paths(each.speeds, each.at, axis, speed_axis), ticks="", thin=[], value_beads=[], speed_beads=[],
        handles=[], speed_handles=[], peaks=[], segments=[], past=[], within=False, followed=True,
    )  # fmt: skip


def _thin(scene: Scene, each: _Curve, axis: TimeAxis, value_height: float, by_frame: ByFrame | None) -> list[Thin]:
    """What is drawn thin beside a curve, each to its own scale: x and y of a position, or where keys lie on top of what
    is followed, what both come to.
    """
    if each.name in each.layer.links and by_frame is not None:
        measures = measures_by_frame(each.name, by_frame(each.layer, each.name), scene.frames)
        curve = followed_curve(scene, axis, measures)
        ys = spanning(measures, 8.0, value_height - 16).ys(curve.measures)
        return [Thin("total", polyline(axis.xs(curve.times), ys))]
    return [
        Thin(part, polyline(axis.xs(times), spanning(rows, 8.0, value_height - 16).ys(rows)))
        for part, times, rows in components(scene, each.layer, each.name, axis, by_frame)
    ]


def _seen(scale: ValueAxis, rows: Floats) -> Floats:
    """Heights of values; what lies far out is kept short."""
    finite = np.nan_to_num(rows, posinf=1e12, neginf=-1e12)
    return np.clip(scale.ys(finite), -FAR, FAR)


def _box(made: list[_Curve], curves: list[Drawn], axis: TimeAxis) -> Box | None:
    """The box around the selected keys of the main curve, where they are two or more."""
    first, drawn = made[0], curves[0]
    chosen = first.selected
    if len(chosen) < 2:
        return None
    xs = axis.xs(first.curve.times[chosen])
    ys = drawn.value_axis.ys(first.curve.measures[chosen])
    left, right, top, bottom = float(xs.min()), float(xs.max()), float(ys.min()), float(ys.max())
    return Box(round(left, 1), round(top, 1), round(right - left, 1), round(bottom - top, 1))
