"""The figures: the numbers of the selected layer at the playhead, its key there, and that key's segment."""

from collections.abc import Iterator
from dataclasses import dataclass

from deftarc.core.base.time import time_label
from deftarc.core.changes.retime import keys_outside, span_of
from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork import Painted
from deftarc.core.document.artwork.gradient import PAINTED
from deftarc.core.document.properties import PROPERTIES, Property
from deftarc.core.document.track import AnyTrack
from deftarc.core.spaces.colour import hex_colour

#: How each state of a property is named for readers.
STATES = {
    "none": "no keys",
    "elsewhere": "keyed, no key at this frame",
    "here": "key at this frame",
    "loose": "changed but not keyed",
    "follows": "follows something",
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
    #: Whether it is an outline; of a fill or a stroke that could be a gradient, whether it is one, and which.
    outline: bool = False
    gradients: bool = False
    gradient: str = ""

    @property
    def told(self) -> str:
        return STATES[self.state]


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


def _state(layer: Layer, name: str, time: int, half: int) -> str:
    state = state_of(layer.track(name), time, half)
    return "follows" if state == "none" and name in layer.links else state


def shown_rows(layer: Layer, page: str, section: str = "") -> Iterator[tuple[str, tuple[str, ...]]]:
    """The rows of a page, or of a section of it, that a layer has, each with its label and the properties that share
    it.
    """
    mine = set(layer.properties)
    for facts in PROPERTIES.plain():
        if facts.id not in mine or facts.page != page or facts.section != section or facts.beside:
            continue
        together = (facts.id, *(each.id for each in PROPERTIES.plain() if each.beside == facts.id and each.id in mine))
        if "rare" not in facts.traits or any(name in layer.tracks for name in together):
            yield facts.row, together


def rows_of(
    layer: Layer, time: int, values: dict[str, tuple[float, ...]], page: str, half: int = 0, section: str = ""
) -> list[Row]:
    """The rows of a page, or of a section of it, at a time, with what each property shows."""
    return [row_of(layer, label, names, time, values, half) for label, names in shown_rows(layer, page, section)]


def row_of(
    layer: Layer, label: str, names: tuple[str, ...], time: int, values: dict[str, tuple[float, ...]], half: int
) -> Row:
    states = [_state(layer, name, time, half) for name in names]
    strongest = next(state for state in ("loose", "here", "elsewhere", "follows", "none") if state in states)
    facts = PROPERTIES[names[0]]
    if facts.kind == "colour":
        colour = values[names[0]]
        told = hex_colour(colour)[:7] if colour[3] > 0 else ""
        found = layer.artwork.gradient(facts.id) if isinstance(layer.artwork, Painted) and facts.id in PAINTED else None
        kind = "" if found is None else found.kind
        return Row(label, names, [], strongest, "", told, gradients=facts.id in PAINTED, gradient=kind)
    if facts.kind == "outline":
        return Row(label, names, [], strongest, f"{len(values[names[0]]) // 6} points", outline=True)
    wells = [
        _well(PROPERTIES[name], component, part, values[name][component])
        for name in names
        for component, part in enumerate(PROPERTIES[name].components)
    ]
    return Row(label, names, wells, strongest, _hint(facts, values[names[0]][0]))


def _well(facts: Property, component: int, part: str, value: float) -> Well:
    label = f"{facts.label} {part}".strip()
    return Well(
        facts.id, component, label, number(facts.shown(value), facts.decimals), facts.unit, facts.factor,
        facts.decimals, facts.step,
    )  # fmt: skip


def _hint(facts: Property, value: float) -> str:
    """Turns, where an angle is more than one."""
    if "turning" not in facts.traits or abs(value) < 360:
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
    labels = [time_label(time, scene.rate, unit) for time in (start, end, end - start)]
    outside = len(keys_outside(layer, scene.length))
    return SpanFigures(labels[0], labels[1], labels[2], outside, layer.end is None)
