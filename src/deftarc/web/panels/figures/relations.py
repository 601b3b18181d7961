"""The relations of the chosen layer, as the figures list them: who carries it and how much later, its stretch, what its
properties follow and what follows it.
"""

from dataclasses import dataclass

from deftarc.core.base.time import time_label
from deftarc.core.document import Layer, Scene
from deftarc.core.document.links import DERIVED, PLACES, Link, found_on, told_source
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.edit.links import onto_of, shown_factor
from deftarc.web.panels.figures.numbers import number
from deftarc.web.panels.figures.reactions import ReactionRow, reactions_of

#: How the axes a place is told in are called.
AXES = {"parent": "in its carrier’s px", "scene": "as the scene shows it", "own": "along its own axes"}
#: So many of those that follow are listed.
MOST = 12


@dataclass(frozen=True)
class LinkWell:
    """A number of a link: which it is, what it shows, and what turns it into the core's."""

    field: str
    component: int
    label: str
    value: str
    unit: str
    factor: float
    step: float


@dataclass(frozen=True)
class LinkRow:
    """What one property follows. ``wells`` are its factor and offset, or its two ranges."""

    property: str
    label: str
    source: str
    lane: str
    asked: str
    lag: str
    wells: list[LinkWell]
    ranged: bool
    held: bool
    axes: str
    #: The axes that can be chosen; none where it is no place.
    choices: dict[str, str]
    whole: bool
    keyed: bool


@dataclass(frozen=True)
class Follower:
    layer: str
    property: str
    words: str


@dataclass(frozen=True)
class Relations:
    """All that the page of relations tells of a layer."""

    links: list[LinkRow]
    reactions: list[ReactionRow]
    followers: list[Follower]
    more: int
    #: How much later its place, turn and size come, as they are typed; one where they come together.
    lags: tuple[str, ...]
    ties: int
    clock: bool
    #: The properties that could follow something, with their labels.
    free: list[tuple[str, str]]


def told_lag(lag: int, scene: Scene, unit: str) -> str:
    """How much later, as it can be typed."""
    label = time_label(abs(lag), scene.rate, unit)
    return f"−{label}" if lag < 0 else label


def relations_of(scene: Scene, layer: Layer, unit: str) -> Relations:
    by_id = {each.id: each for each in scene.layers}
    followers = [
        Follower(each.id, name, f"{PROPERTIES[name].label} of {each.name} follows its {_called(link)}")
        for each in scene.layers
        for name, link in each.links.items()
        if link.source.layer == layer.id
    ]
    later = layer.later
    lags = (0,) if later is None else (later.position,) if later.as_one else (
        later.position, later.rotation, later.scale
    )  # fmt: skip
    return Relations(
        links=[_row(scene, by_id, layer, name, link, unit) for name, link in layer.links.items()],
        reactions=reactions_of(scene, layer),
        followers=followers[:MOST],
        more=max(0, len(followers) - MOST),
        lags=tuple(told_lag(lag, scene, unit) for lag in lags),
        ties=sum(layer.id in (tie.what.layer, tie.to.layer) for tie in scene.ties),
        clock="clock" in layer.tracks,
        free=[(name, PROPERTIES[name].label) for name in layer.properties if can_follow(layer, name)],
    )


def related_to(layer: Layer) -> bool:
    """Whether the page of relations has something to tell of a layer besides who carries it."""
    return bool(layer.links or layer.reactions) or layer.stretches or layer.later is not None


def can_follow(layer: Layer, name: str) -> bool:
    """Whether a property follows nothing yet, and could."""
    return name != "clock" and name not in layer.links and PROPERTIES[name].kind in ("number", "path")


def _asked(link: Link) -> str:
    """What is followed, as it is asked for."""
    part = link.source.part
    return link.source.what if part is None else PLACES[1 + part]


def _called(link: Link) -> str:
    return told_source(link.source, "it").removesuffix(" of it").lower()


def _row(scene: Scene, by_id: dict[str, Layer], layer: Layer, name: str, link: Link, unit: str) -> LinkRow:
    facts, source = PROPERTIES[name], by_id[link.source.layer]
    whole = len(link.offset) == 2
    theirs = shown_factor(scene, link.source)
    their_unit = DERIVED[link.source.what].unit if link.source.what in DERIVED else PROPERTIES[link.source.what].unit
    wells: list[LinkWell]
    ranged = link.over is not None
    if link.over is not None:
        onto = onto_of(link)
        wells = [
            LinkWell("over", 0, f"{source.name} from", number(link.over[0] * theirs, 2), their_unit, theirs, 1.0),
            LinkWell("over", 1, f"{source.name} to", number(link.over[1] * theirs, 2), their_unit, theirs, 1.0),
            LinkWell("onto", 0, f"{facts.label} from", number(onto[0] * facts.factor, 2), facts.unit, facts.factor,
                     facts.step),
            LinkWell("onto", 1, f"{facts.label} to", number(onto[1] * facts.factor, 2), facts.unit, facts.factor,
                     facts.step),
        ]  # fmt: skip
    else:
        ratio = facts.factor / theirs
        parts = facts.components if whole else ("",)
        wells = [LinkWell("factor", 0, "Factor", number(link.factor * ratio, 3), "", ratio, 0.01)]
        wells += [
            LinkWell("offset", k, f"Offset {part}".strip(), number(link.offset[k] * facts.factor, 2), facts.unit,
                     facts.factor, facts.step)
            for k, part in enumerate(parts)
        ]  # fmt: skip
    placed = link.source.what in PLACES or (link.source.what in DERIVED and DERIVED[link.source.what].placed)
    choices = {each: words for each, words in AXES.items() if each != "own" or link.source.what == "position"}
    return LinkRow(
        property=name, label=facts.label, source=told_source(link.source, source.name),
        asked=f"{source.id} {_asked(link)}",
        lane=source_lane(scene, link),
        lag=told_lag(link.lag, scene, unit), wells=wells, ranged=ranged, held=link.held, axes=link.source.axes,
        choices=choices if placed else {}, whole=whole, keyed=name in layer.keyed,
    )  # fmt: skip


def source_lane(scene: Scene, link: Link) -> str:
    """Where what is followed is: its layer, and its lane if it is one."""
    what = link.source.what
    layer = next((each for each in scene.layers if each.id == link.source.layer), None)
    found = found_on(layer, what) if layer is not None else None
    if layer is not None and what == "position" and layer.axes_split:
        found = PLACES[1 + (link.source.part or 0)]
    if what in DERIVED and DERIVED[what].placed and layer is not None and not layer.axes_split:
        found = "position"
    return f"{link.source.layer} {found or ''}".strip()


def told_following(scene: Scene, layer: Layer, name: str, unit: str) -> str:
    """What a property follows in a few words, for its lane: “Rotation of Mast, 7 later”."""
    link = layer.links[name]
    source = next((each for each in scene.layers if each.id == link.source.layer), None)
    told = told_source(link.source, source.name if source is not None else "what is gone")
    if link.over is None and link.factor == -1:
        told = f"the opposite of {told}"
    if link.lag:
        told += f", {told_lag(abs(link.lag), scene, unit)} {'later' if link.lag > 0 else 'earlier'}"
    return told
