"""The figures: the numbers of the selected layer at the playhead, its key there, and that key's segment."""

from dataclasses import dataclass

import numpy as np

from deftarc.core.colour import hex_colour
from deftarc.core.curve import TimeCurve
from deftarc.core.document import Layer, Scene
from deftarc.core.ease import EASES, Ease, recognise, sides
from deftarc.core.keying import value_of
from deftarc.core.properties import PROPERTIES, Property
from deftarc.core.retime import keys_outside, span_of
from deftarc.core.time import FLICKS, told_frame
from deftarc.core.track import AnyTrack, PathTrack
from deftarc.web.views.bead import sides_of

#: How each state of a property is named for readers.
STATES = {
    "none": "no keys",
    "elsewhere": "keyed, no key at this frame",
    "here": "key at this frame",
    "loose": "changed but not keyed",
}


@dataclass(frozen=True)
class Well:
    """One number: what the edit calls it, what it shows, and how far a px of dragging moves it."""

    property: str
    component: int
    label: str
    value: str
    unit: str
    factor: float
    decimals: int
    step: float


@dataclass(frozen=True)
class Row:
    """One property, or two that belong together: its wells or its colour, and its state at the playhead."""

    label: str
    properties: tuple[str, ...]
    wells: list[Well]
    state: str
    hint: str = ""
    #: #rrggbb of a colour; "" where there is none.
    colour: str | None = None

    @property
    def told(self) -> str:
        return STATES[self.state]


#: Rows of the figures, two to a line, by the page they are on.
MOTION = (
    ("Position", ("position",)),
    ("Rotation", ("rotation",)),
    ("Scale", ("scale",)),
    ("Scale", ("scale_x", "scale_y")),
    ("Skew", ("skew_x", "skew_y")),
    ("Pivot", ("pivot_x", "pivot_y")),
    ("Opacity", ("opacity",)),
)
LOOK = (
    ("Size", ("width", "height")),
    ("Corners", ("radius",)),
    ("Sides", ("sides",)),
    ("Points", ("spikes",)),
    ("Radius", ("outer",)),
    ("Inner", ("inner",)),
    ("Rounded", ("roundness",)),
    ("Outline", ("outline",)),
    ("Size", ("size",)),
    ("Lines", ("line_height",)),
    ("Letters", ("letter_spacing",)),
    ("Fill", ("fill",)),
    ("Stroke", ("stroke",)),
    ("Width", ("stroke_width",)),
    ("Dashes at", ("dash_offset",)),
)
#: Shown units that a px of dragging moves a number by.
STEPS = {"scale": 0.5, "scale_x": 0.5, "scale_y": 0.5, "opacity": 0.5, "rotation": 0.5, "stroke_width": 0.25,
         "sides": 0.05, "spikes": 0.05, "roundness": 0.5, "line_height": 0.5, "letter_spacing": 0.25}  # fmt: skip


def number(value: float, decimals: int) -> str:
    """As many decimals as it needs, at most those; a true minus sign is left to print."""
    text = f"{value + 0.0:.{decimals}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text == "-0" else text


def state_of(track: AnyTrack, time: int) -> str:
    if track.loose is not None and track.loose.time == time:
        return "loose"
    if not track.keys:
        return "none"
    return "here" if time in track.key_times else "elsewhere"


def rows_of(layer: Layer, time: int, values: dict[str, tuple[float, ...]], page: str) -> list[Row]:
    """The rows of a page at a time, with what each property shows."""
    out = []
    for label, names in LOOK if page == "look" else MOTION:
        if names[0] not in layer.properties:
            continue
        states = [state_of(layer.track(name), time) for name in names]
        strongest = next(state for state in ("loose", "here", "elsewhere", "none") if state in states)
        facts = PROPERTIES[names[0]]
        if facts.kind == "colour":
            colour = values[names[0]]
            out.append(Row(label, names, [], strongest, "", hex_colour(colour)[:7] if colour[3] > 0 else ""))
            continue
        if facts.kind == "outline":
            out.append(Row(label, names, [], strongest, f"{len(values[names[0]]) // 6} points"))
            continue
        wells = [
            _well(PROPERTIES[name], component, part, values[name][component])
            for name in names
            for component, part in enumerate(PROPERTIES[name].components)
        ]
        out.append(Row(label, names, wells, strongest, _hint(names[0], values[names[0]][0])))
    return out


def _well(facts: Property, component: int, part: str, value: float) -> Well:
    label = f"{facts.label} {part}".strip()
    return Well(
        facts.id, component, label, number(facts.shown(value), facts.decimals), facts.unit, facts.factor,
        facts.decimals, STEPS.get(facts.id, 1.0),
    )  # fmt: skip


def _hint(name: str, value: float) -> str:
    """Turns, where an angle is more than one."""
    if name != "rotation" or abs(value) < 360:
        return ""
    return f"{number(value / 360, 2)} turns"


@dataclass(frozen=True)
class SpanFigures:
    """When a layer shows, in the chosen unit; keys outside are counted."""

    start: str
    end: str
    length: str
    outside: int
    open: bool


def span_figures(scene: Scene, layer: Layer, unit: str) -> SpanFigures:
    start, end = span_of(layer, scene.length)
    first, last = scene.rate.nearest(start), scene.rate.nearest(end)
    told = [told_frame(frame, scene.rate, unit) for frame in (first, last, last - first)]
    outside = len(keys_outside(layer, scene.length))
    return SpanFigures(told[0], told[1], told[2], outside, layer.end is None)


@dataclass(frozen=True)
class KeyFigures:
    """The selected key: its number in the lane, its halves, its speeds, and how long it holds."""

    label: str
    time: str
    left: str
    right: str
    arriving: str
    leaving: str
    arriving_reach: str
    leaving_reach: str
    #: What can be typed: the key's time, and its value's components with their labels.
    typed_time: str
    values: list[tuple[str, str]]


@dataclass(frozen=True)
class EaseChoice:
    id: str
    label: str
    css: str
    picture: str
    chosen: bool


@dataclass(frozen=True)
class SegmentFigures:
    title: str
    about: str
    ease: str
    strength: float
    has_strength: bool
    choices: list[EaseChoice]


def speed_words(value: float, facts: Property) -> str:
    if value in (float("inf"), float("-inf")):
        return f"unbounded {facts.speed_unit}"
    return f"{number(value * facts.factor, 0 if abs(value * facts.factor) >= 10 else 1)} {facts.speed_unit}"


def key_figures(scene: Scene, layer: Layer, name: str, index: int, unit: str) -> KeyFigures:
    track = layer.track(name)
    facts = PROPERTIES[name]
    curve = track.curve
    left, right = sides_of(track, index)
    frame = scene.rate.nearest(track.keys[index].time)

    def reach(segment: int, share: float) -> str:
        frames = share * curve.duration[segment] / scene.rate.flicks
        return f"{number(share * 100, 0)} % · {number(frames, 1)} f"

    def side(segment: int, at: float, rest: str) -> str:
        if segment < 0 or segment >= len(curve.times) - 1:
            return rest
        if curve.hold[segment]:
            held = curve.duration[segment] / scene.rate.flicks
            return f"holds for {number(held, 1)} frames"
        return speed_words(_end_speed(curve, segment, at), facts)

    return KeyFigures(
        label=f"{facts.label}, key {index + 1} of {len(track.keys)}",
        time=f"{told_frame(frame, scene.rate, unit)}",
        left=left,
        right=right,
        arriving=side(index - 1, 1.0, "first key"),
        leaving=side(index, 0.0, "last key"),
        arriving_reach=reach(index - 1, float(curve.b[index - 1])) if left != "none" else "",
        leaving_reach=reach(index, float(curve.a[index])) if right != "none" else "",
        typed_time=told_frame(frame, scene.rate, unit),
        values=[
            (part, number(facts.shown(value), max(facts.decimals, 2)))
            for part, value in zip(facts.components, value_of(track, index), strict=False)
        ]
        if facts.kind in ("number", "path")
        else [],
    )


def _end_speed(curve: TimeCurve, segment: int, u: float) -> float:
    return float(curve.speed_at(np.array([segment]), np.array([u]))[0])


def segment_figures(scene: Scene, layer: Layer, name: str, index: int) -> SegmentFigures | None:
    """The segment after a key, or before it where it is the last; None when the lane has one key."""
    track = layer.track(name)
    if len(track.keys) < 2:
        return None
    k = min(index, len(track.keys) - 2)
    curve = track.curve
    left, right = track.keys[k], track.keys[k + 1]
    change = float(curve.measures[k + 1] - curve.measures[k])
    found = recognise(left, right, change)
    facts = PROPERTIES[name]
    unit = "px" if isinstance(track, PathTrack) else facts.unit
    frames = curve.duration[k] / scene.rate.flicks
    seconds = curve.duration[k] / FLICKS
    mean = change * facts.factor / seconds
    changed = f"{number(change * facts.factor, 1)} {unit}"
    about = f"{number(frames, 1)} frames · {changed} · mean {number(mean, 1)} {facts.speed_unit}"
    ease_id, strength = (found.ease, found.strength) if found else ("", 50.0)
    return SegmentFigures(
        title=f"Segment {k + 1} → {k + 2}",
        about=about.replace(" °", "°"),
        ease=EASES[ease_id].label if found else "By hand",
        strength=strength,
        has_strength=bool(found) and EASES[ease_id].has_strength,
        choices=[EaseChoice(e.id, e.label, e.css, picture(e), e.id == ease_id) for e in EASES.values()],
    )


def picture(ease: Ease) -> str:
    """An ease as a small picture, 44 × 26 px: its own curve."""
    x0, y0, w, h = 4.0, 22.0, 36.0, 18.0
    if ease.id == "hold":
        return f"M{x0} {y0}H{x0 + w}V{y0 - h}"
    if ease.id == "steps":
        return f"M{x0} {y0}" + "".join(f"h{w / 4}v{-h / 4}" for _ in range(4))
    leaving, arriving = sides(ease, 50, 1.0)
    a, la = (1 / 3, 1 / 3) if leaving is None else (leaving.reach, leaving.rise)
    b, lb = (1 / 3, 1 / 3) if arriving is None else (arriving.reach, arriving.rise)
    first = f"{x0 + a * w:.1f} {y0 - la * h:.1f}"
    second = f"{x0 + (1 - b) * w:.1f} {y0 - (1 - lb) * h:.1f}"
    return f"M{x0} {y0}C{first} {second} {x0 + w} {y0 - h}"
