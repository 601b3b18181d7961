"""Markers: named moments of a scene or of a layer."""

import itertools
from typing import Annotated

from pydantic import StringConstraints

from deftarc.core.base import limits
from deftarc.core.base.model import Frozen, Identity, Moment
from deftarc.core.document.tags import Tag


class Marker(Frozen):
    """A moment with a name, which may be empty, and a colour. Its id is its own among those of its scene or layer."""

    id: Identity
    time: Moment
    name: Annotated[str, StringConstraints(strip_whitespace=True, max_length=limits.MAX_NAME)] = ""
    tag: Tag = "slate"


def in_order(markers: tuple[Marker, ...]) -> tuple[Marker, ...]:
    """Markers by time; those of one moment as they were."""
    return tuple(sorted(markers, key=lambda marker: marker.time))


def check_markers(markers: tuple[Marker, ...]) -> None:
    """ValueError where markers are not in order of time, or share an id."""
    if any(b.time < a.time for a, b in itertools.pairwise(markers)):
        raise ValueError("Markers come in the order of their times.")
    if len({marker.id for marker in markers}) != len(markers):
        raise ValueError("Two markers share one id.")
