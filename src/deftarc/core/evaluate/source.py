"""Sources: whatever gives a property, or something made of properties, its numbers over time.

A property's keys are a source; what links, clocks and loops will make of it are others. A source says what it reads
and gives its values at any times, not at frames alone: whoever reads it may ask for a moment before or between.
"""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document import Layer
from deftarc.core.document.links import OWN, PLACED
from deftarc.core.document.track import AnyTrack
from deftarc.core.evaluate.clocks import Clocks, inner_pairs, inner_times

#: The ids of the layers that lead to one, from the scene that is evaluated inwards.
Path = tuple[str, ...]


class Node(NamedTuple):
    """What a source drives: a property of a layer, or, marked by a dot, something made of them."""

    path: Path
    what: str


#: Gives the values of a node at times (n,) in flicks.
Read = Callable[[Node, Floats], Any]


class Source:
    """Something that has values over time."""

    def needs(self) -> tuple[Node, ...]:
        """The nodes it reads."""
        return ()

    def together(self) -> tuple[Node, ...]:
        """Those of them that it reads at just the moments it is asked for, and at no others."""
        return self.needs()

    def clocked(self, clocks: Clocks) -> "Source":
        """The same as it is told by some clocks."""
        return self

    def sample(self, times: Floats, read: Read) -> Any:
        """Its values at rising times (n,) in flicks; of a property, numbers (n or 1, components) as a track has them.

        Another state gives another object: whoever holds one may tell by its identity that all is as it was.
        """
        raise NotImplementedError

    def sample_beside(self, times: Floats, shown: Floats, read: Read) -> Any:
        """As ``sample``, of moments that each belong to another one (n,), their frame's own: what jumps between the two
        is as it is then.
        """
        return self.sample(times, read)


class Keys(Source):
    """The keys of a track, with what goes on before and after them, as some clocks tell their time.

    ``loose_at`` is the moment at which a value counts that was changed and not keyed; None where none does.
    """

    __slots__ = ("clocks", "loose_at", "track")

    def __init__(self, track: AnyTrack, clocks: Clocks = (), loose_at: int | None = None) -> None:
        self.track, self.clocks, self.loose_at = track, clocks, loose_at

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, Keys)
            and other.track is self.track
            and other.loose_at == self.loose_at
            and len(other.clocks) == len(self.clocks)
            and all(a is b for a, b in zip(self.clocks, other.clocks, strict=True))
        )

    def __hash__(self) -> int:
        return hash((id(self.track), *map(id, self.clocks)))

    @property
    def plain(self) -> bool:
        """Whether it is its curve and nothing else: such are sampled all in one go."""
        return not self.clocks and self.loose_at is None and not self.track.lasts

    def clocked(self, clocks: Clocks) -> "Keys":
        return Keys(self.track, clocks, self.loose_at)

    def sample_beside(self, times: Floats, shown: Floats, read: Read) -> Floats:
        if not self.track.keys:
            return self.sample(times, read)
        return self.track.motion(self.track.on_one_side(*inner_pairs(self.clocks, times, shown)))

    def sample(self, times: Floats, read: Read) -> Floats:
        track, inner = self.track, inner_times(self.clocks, times)
        rows = track.motion(inner) if track.keys else np.array([track.resting()], np.float64)
        if self.loose_at is None or track.loose is None:
            return rows
        chosen = (times == self.loose_at) & (np.abs(inner - track.loose.time) < 0.5)
        value = track.loose.value
        rows = np.array(np.broadcast_to(rows, (len(times), rows.shape[1])))
        rows[chosen] = value if isinstance(value, tuple) else (value,)
        return rows


def keyed(layer: Layer, path: Path, loose_at: int | None = None) -> Iterator[tuple[str, Source]]:
    """What is keyed of a layer, with its keys as sources; with ``loose_at`` what was changed for just then, too."""
    for name, track in layer.tracks.items():
        if track.keys or (loose_at is not None and track.loose is not None):
            yield name, Keys(track, loose_at=loose_at if track.loose is not None else None)


#: What can drive properties, the strongest last: each gives those of a layer that it drives, with their sources.
DRIVERS: list[Callable[[Layer, Path, int | None], Iterable[tuple[str, Source]]]] = [keyed]


def sources_of(layer: Layer, path: Path, loose_at: int | None = None) -> dict[str, Source]:
    """What drives each of a layer's properties over time; those that rest are left out. With ``loose_at`` a value that
    was changed and not keyed counts at just that moment.
    """
    return {name: source for driver in DRIVERS for name, source in driver(layer, path, loose_at)}


@dataclass(frozen=True)
class Resting(Source):
    """What rests, and is asked for by another."""

    value: tuple[float, ...]

    def sample(self, times: Floats, read: Read) -> Floats:
        return np.array([self.value], np.float64)


__all__ = [
    "DRIVERS", "OWN", "PLACED", "Keys", "Node", "Path", "Read", "Resting", "Source", "keyed", "sources_of",
]  # fmt: skip
