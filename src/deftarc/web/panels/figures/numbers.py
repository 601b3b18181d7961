"""The figures: the numbers of the selected layer at the playhead, its key there, and that key's segment."""

from dataclasses import dataclass

from deftarc.core.base.time import told_frame
from deftarc.core.changes.retime import keys_outside, span_of
from deftarc.core.document import Layer, Scene
from deftarc.core.document.properties import PROPERTIES, Property
from deftarc.core.document.track import AnyTrack
from deftarc.core.spaces.colour import hex_colour

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
    ("Position", ("position_x", "position_y")),
    ("Rotation", ("rotation",)),
    ("Scale", ("scale",)),
    ("Scale", ("scale_x", "scale_y")),
    ("Skew", ("skew_x", "skew_y")),
    ("Pivot", ("pivot_x", "pivot_y")),
    ("Path turn", ("along", "lean")),
    ("Opacity", ("opacity",)),
)
#: Shown once a layer turns along its path or leans into it.
TURNING = ("along", "lean")
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


def state_of(track: AnyTrack, time: int, half: int = 0) -> str:
    if track.loose is not None and track.loose.time == time:
        return "loose"
    if not track.keys:
        return "none"
    return "here" if track.time_near(time, half) in track.key_set else "elsewhere"


def rows_of(layer: Layer, time: int, values: dict[str, tuple[float, ...]], page: str, half: int = 0) -> list[Row]:
    """The rows of a page at a time, with what each property shows."""
    out = []
    for label, names in LOOK if page == "look" else MOTION:
        if names[0] not in layer.properties or (names == TURNING and not any(n in layer.tracks for n in names)):
            continue
        states = [state_of(layer.track(name), time, half) for name in names]
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
