"""Sources: whatever gives a property, or something made of properties, its numbers over time.

A property's keys are a source; what links, clocks and loops will make of it are others. A source says what it reads
and gives its values at any times, not at frames alone: whoever reads it may ask for a moment before or between.
"""

from collections.abc import Callable, Iterable, Iterator
from typing import Any, NamedTuple

from deftarc.core.base.arrays import Floats
from deftarc.core.document import Layer
from deftarc.core.document.track import AnyTrack

#: The ids of the layers that lead to one, from the scene that is evaluated inwards.
Path = tuple[str, ...]


class Node(NamedTuple):
    """What a source drives: a property of a layer, or, marked by a dot, something made of them."""

    path: Path
    what: str


OWN, PLACED = ".own", ".placed"
#: Gives the values of a node at times (n,) in flicks.
Read = Callable[[Node, Floats], Any]


class Source:
    """Something that has values over time."""

    def needs(self) -> tuple[Node, ...]:
        """The nodes it reads."""
        return ()

    def sample(self, times: Floats, read: Read) -> Any:
        """Its values at rising times (n,) in flicks; of a property, numbers (n or 1, components) as a track has them.

        Another state gives another object: whoever holds one may tell by its identity that all is as it was.
        """
        raise NotImplementedError


class Keys(Source):
    """The keys of a track, with what goes on before and after them."""

    __slots__ = ("track",)

    def __init__(self, track: AnyTrack) -> None:
        self.track = track

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Keys) and other.track is self.track

    def __hash__(self) -> int:
        return id(self.track)

    def sample(self, times: Floats, read: Read) -> Floats:
        return self.track.motion(times)


def keyed(layer: Layer, path: Path) -> Iterator[tuple[str, Source]]:
    """What is keyed of a layer, with its keys as sources."""
    for name, track in layer.tracks.items():
        if track.keys:
            yield name, Keys(track)


#: What can drive properties, the strongest last: each gives those of a layer that it drives, with their sources.
DRIVERS: list[Callable[[Layer, Path], Iterable[tuple[str, Source]]]] = [keyed]


def sources_of(layer: Layer, path: Path) -> dict[str, Source]:
    """What drives each of a layer's properties over time; those that rest are left out."""
    return {name: source for driver in DRIVERS for name, source in driver(layer, path)}
