"""What follows what: the sources of linked properties, and those of whatever they, and stretches, ask of layers."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.limits import MAX_NUMBER
from deftarc.core.base.time import FLICKS
from deftarc.core.document import Layer
from deftarc.core.document.links import (
    ALONG,
    DERIVED,
    FLIGHT,
    OWN,
    PLACED,
    SEEN,
    SPOT,
    TRAVELS,
    TURNED,
    Link,
    Name,
    found_on,
    in_the_scene,
    needs_of,
    placed_of,
    told_by,
    turns_by_travel,
)
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import PathTrack
from deftarc.core.evaluate.clocks import Clocks, inner_times
from deftarc.core.evaluate.source import DRIVERS, Keys, Node, Path, Read, Resting, Source
from deftarc.core.evaluate.travel import Along, Carrying, Flight, Seen, Spot, Travel, Turning, back_through
from deftarc.core.evaluate.turning import FEEL, turned, turned_by

Layers = Mapping[str, Layer]


def node_of(path: Path, name: Name) -> Node:
    """A node of another layer of the same scene."""
    return Node((*path[:-1], name[0]), name[1])


def carrying_of(layer: Layer, path: Path) -> Carrying:
    return Carrying(None if layer.parent is None else (*path[:-1], layer.parent), layer.later)


@dataclass(frozen=True, eq=False)
class Linked(Source):
    """A property that follows another: ``factor · source(t − lag) + offset``, with its own keys on top.

    Two that say the same are the same; tracks and clocks are told apart by identity.
    """

    link: Link
    followed: Node
    #: Its own keys; None where it has none.
    own: Keys | None
    carrying: Carrying | None

    def _told(self) -> tuple[object, ...]:
        return (self.link, self.followed, self.own, self.carrying)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Linked) and self._told() == other._told()

    def __hash__(self) -> int:
        return hash((self.followed, self.own))

    def clocked(self, clocks: Clocks) -> "Linked":
        """The same, its own keys told by clocks; what it follows it follows as that is seen."""
        return Linked(self.link, self.followed, self.own and self.own.clocked(clocks), self.carrying)

    def needs(self) -> tuple[Node, ...]:
        return (self.followed, *(() if self.carrying is None else self.carrying.needs()))

    def together(self) -> tuple[Node, ...]:
        carried = () if self.carrying is None else self.carrying.together()
        return carried if self.link.lag else (self.followed, *carried)

    def sample(self, times: Floats, read: Read) -> Floats:
        out = self.followed_alone(times, read)
        if self.own is not None:
            out = out + self.own.sample(times, read)
        return out

    def followed_alone(self, times: Floats, read: Read) -> Floats:
        """What it follows, made of that, without its own keys: (n or 1, components)."""
        link = self.link
        rows: Floats = read(self.followed, times - link.lag if link.lag else times)
        count = len(link.offset)
        if link.source.part is not None and rows.shape[1] > 1:
            rows = rows[:, link.source.part : link.source.part + 1]
        rows = rows[:, :count]
        if link.held and link.over is not None:
            rows = np.clip(rows, min(link.over), max(link.over))
        out = link.factor * rows + np.array(link.offset)
        if self.carrying is not None:
            matrices = self.carrying.matrices(times, read)
            out = out if matrices is None else back_through(matrices, out)
        return np.asarray(np.clip(out, -REACHED, REACHED))


#: Nothing that follows goes further: chains of factors would leave all numbers.
REACHED = 1000 * MAX_NUMBER


def linked(layer: Layer, path: Path, loose_at: int | None = None) -> Iterable[tuple[str, Source]]:
    """The properties of a layer that follow something, with their sources."""
    for name, link in layer.links.items():
        track = layer.tracks.get(name)
        own = Keys(track, (), loose_at) if track is not None and track.keys else None
        carrying = carrying_of(layer, path) if in_the_scene(link) and layer.parent is not None else None
        yield name, Linked(link, node_of(path, (link.source.layer, told_by(link.source))), own, carrying)


# After keys: where something is followed, its own keys lie on top of that.
DRIVERS.append(linked)


def asked_of(by_id: Layers, layers: Iterable[Layer]) -> dict[Name, None]:
    """All that layers ask of others, or of themselves, and that is not there by itself: what is derived of motions, and
    properties; by layer and name.
    """
    found: dict[Name, None] = {}
    waiting: list[Name] = []
    for layer in layers:
        for name in layer.links:
            waiting += needs_of(layer, name)
        if layer.stretches:
            waiting.append((layer.id, FLIGHT))
        if turns_by_travel(layer):
            waiting += ((layer.id, TRAVELS), (layer.id, SPOT))
    while waiting:
        node = waiting.pop()
        if node in found or node[1] in (OWN, PLACED):
            continue
        found[node] = None
        layer = by_id[node[0]]
        if node[1] not in layer.links:
            waiting += needs_of(layer, node[1])
    return found


def source_of(by_id: Layers, layer: Layer, path: Path, what: str, clocks: Clocks, resting: Any) -> Source:
    """The source of what is asked of a layer; ``resting`` gives the numbers of a property that nothing drives."""

    def here(name: str) -> Node:
        return Node(path, name)

    name, _, axes = what[1:].partition("@")
    if what == SPOT:
        return Spot(tuple(here(each) for each in (("position_x", "position_y") if layer.axes_split else ("position",))))
    if what == SEEN:
        return Seen(here(SPOT), carrying_of(layer, path))
    if what == ALONG:
        return Along(here(SPOT), here(TURNED))
    if what == TURNED:
        return Turned(layer, path, clocks)
    if what == FLIGHT:
        return Flight(here(SEEN), here("stretch_smooth"), carrying_of(layer, path))
    if name == "turning":
        return Turning(here(TURNED))
    if what.startswith(".") and name in DERIVED:
        return Travel(here(placed_of(axes)), name)
    if what in layer.properties:
        return Resting(tuple(map(float, resting(layer, what)[0])))
    other = found_on(layer, what)
    if other is not None:
        return Spot((here(other),))
    # A stand-in for a layer that could not be read has nothing of what is followed.
    return Resting((0.0, 0.0) if what == "position" else (0.0,))


@dataclass(frozen=True, eq=False)
class Turned(Source):
    """What turns a layer in all, in degrees (n or 1, 1): its rotation, and its way where it is turned along that."""

    layer: Layer
    path: Path
    clocks: Clocks

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Turned) and self._told() == other._told()

    def __hash__(self) -> int:
        return hash(self.path)

    def _told(self) -> tuple[object, ...]:
        return (self.path, self.layer.axes_split, id(self.layer.tracks.get("position")), *map(id, self.clocks),
                turns_by_travel(self.layer))  # fmt: skip

    def needs(self) -> tuple[Node, ...]:
        ways = () if self.layer.axes_split else ("along", "lean")
        travels = (TRAVELS, SPOT) if turns_by_travel(self.layer) else ()
        return tuple(Node(self.path, name) for name in ("rotation", *ways, *travels))

    def sample(self, times: Floats, read: Read) -> Floats:
        rotation: Floats = read(Node(self.path, "rotation"), times)
        if self.layer.axes_split:
            return rotation
        shares = {name: read(Node(self.path, name), times) for name in ("along", "lean")}
        way = way_added(self.layer, self.path, shares, times, self.clocks, read)
        return rotation if way is None else rotation + way[:, None]


def way_added(
    layer: Layer, path: Path, shares: Mapping[str, Floats], times: Floats, clocks: Clocks, read: Read
) -> Floats | None:
    """Degrees (n,) that a layer's way adds to its rotation, for shares (n or 1, 1) of turning along it and of leaning;
    None where it adds none. One that follows has no path of its own: it turns the way it goes.
    """
    along, lean = (np.clip(shares[n][:, 0], PROPERTIES[n].low, PROPERTIES[n].high) for n in ("along", "lean"))
    if layer.axes_split or not (along.any() or lean.any()):
        return None
    if turns_by_travel(layer):

        def heading(at: Floats) -> Floats:
            rows: Floats = np.broadcast_to(read(Node(path, TRAVELS), at)[:, 0], (len(at),))
            return rows

        def speed(at: Floats) -> Floats:
            ahead, behind = (read(Node(path, SPOT), at + by) for by in (FEEL * FLICKS, -FEEL * FLICKS))
            return np.asarray(np.hypot(*np.broadcast_to(ahead - behind, (len(at), 2)).T) / (2 * FEEL))

        return turned_by(heading, speed, times, along, lean)
    track = layer.tracks.get("position")
    if not isinstance(track, PathTrack):
        return None
    return turned(track, inner_times(clocks, times), along, lean)
