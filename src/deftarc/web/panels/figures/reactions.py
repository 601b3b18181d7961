"""The reactions of the chosen layer, as the figures list them: what each answers, its numbers, its pulses."""

from dataclasses import dataclass

from deftarc.core.arrange.reacted import motion_of
from deftarc.core.changes.pulse import LEAST, sized
from deftarc.core.document import FreePath, Layer, Scene
from deftarc.core.document.links import told_source
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.reactions import KINDS, PLURAL, Reacting, Reaction, told_in
from deftarc.web.panels.figures.numbers import number

#: What can be typed of a pulse: its field, what it is called, and what that means.
FIELDS = (
    ("amount", "by", "The peak of the strongest"),
    ("later", "later", "Frames after what it answers; with a minus it goes ahead"),
    ("attack", "attack", "Frames to its peak"),
    ("hold", "hold", "Frames it stays there"),
    ("release", "release", "Frames back to rest"),
    ("rings", "rings", "Swings about its rest, dying down"),
    ("way", "to", "Which way it goes, in degrees clockwise from right"),
)
#: So many pulses are listed one by one.
MOST = 40


@dataclass(frozen=True)
class Well:
    field: str
    label: str
    about: str
    value: str
    unit: str


@dataclass(frozen=True)
class Pulsed:
    """One thing that is answered: its place in the row, when and how strong, and whether it is left out."""

    place: int
    words: str
    title: str
    off: bool


@dataclass(frozen=True)
class ReactionRow:
    property: str
    label: str
    source: str
    lane: str
    kinds: list[tuple[str, str, bool, str]]
    wells: list[Well]
    sized: bool
    aimed: bool
    #: Whether its direction can be that of what it answers.
    aims: bool
    pulses: list[Pulsed]
    more: int
    #: Which points go, of an outline; empty for all else.
    points: str = ""
    #: The colour at the peak, of a colour.
    colour: str = ""


def reactions_of(scene: Scene, layer: Layer) -> list[ReactionRow]:
    return [_row(scene, layer, name, told) for name, told in layer.reactions.items()]


def told_answering(scene: Scene, layer: Layer, name: str) -> str:
    """What a property answers in a few words, for its lane: “contacts of Position of Ball”."""
    reaction = layer.reactions[name].reaction
    kinds = " and ".join(PLURAL[kind] for kind in reaction.kinds)
    source = next((each for each in scene.layers if each.id == reaction.source.layer), None)
    return f"{kinds} of {told_source(reaction.source, source.name if source is not None else 'what is gone')}"


def _points(layer: Layer, name: str, reaction: Reaction) -> str:
    if name != "outline":
        return ""
    count = len(reaction.points)
    if count:
        return f"{count} point{'s' if count > 1 else ''}"
    art = layer.artwork
    closed = isinstance(art, FreePath) and any(contour.closed for contour in art.contours)
    return "where it is hit" if closed else "held at its ends"


def _row(scene: Scene, layer: Layer, name: str, told: Reacting) -> ReactionRow:
    facts, reaction = PROPERTIES[name], told.reaction
    pulse, source = reaction.pulse, scene.layer(reaction.source.layer)
    frame = scene.rate.flicks
    wells = []
    unit, factor = told_in(facts)
    units = {"amount": (unit, factor), "rings": ("", 1.0), "way": ("°", 1.0)}
    for field, label, about in FIELDS:
        # Which way, where that is not the one of what it answers: numbers and colours have none.
        if field == "way" and (facts.kind not in ("path", "outline") or pulse.aimed):
            continue
        told_unit, by = units.get(field, ("f", 1 / frame))
        shown = getattr(pulse, field) * by
        wells.append(Well(field, label, about, number(shown, 2), told_unit))
    found = motion_of(scene, reaction.source)
    kinds = []
    for kind in KINDS:
        count = sum(each.kind == kind for each in found)
        on = kind in reaction.kinds
        other = [each for each in KINDS if (each in reaction.kinds) != (each == kind)]
        words = f"{count} {PLURAL[kind] if count != 1 else kind}"
        kinds.append((words, "on" if on else "", bool(count), " ".join(other)))
    pulses = []
    for n, mark in enumerate(reaction.marks[:MOST]):
        size = sized(name, pulse, mark)
        small = abs(size) <= LEAST * abs(pulse.amount)
        far = number(size * factor, 1)
        title = "too small to be seen" if small else f"{far}{unit if unit in ('°', '%') else ''}"
        pulses.append(Pulsed(n, f"{number(mark.time / frame, 1)}f", title, n in reaction.off))
    lane = "position" if reaction.source.what == "position" and not source.axes_split else reaction.source.what
    lane = "position_y" if lane == "position" and source.axes_split else lane
    return ReactionRow(
        name, facts.label, told_source(reaction.source, source.name), f"{source.id} {lane}", kinds,
        wells, pulse.sized, pulse.aimed, name in ("scale", "position", "position_x", "position_y", "outline"), pulses,
        max(0, len(reaction.marks) - MOST), _points(layer, name, reaction),
        pulse.colour[:7] if facts.kind == "colour" else "",
    )  # fmt: skip
