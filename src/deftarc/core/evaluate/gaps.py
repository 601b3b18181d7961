"""What of a loop does not meet at its seam, and how far that is seen."""

import math
from dataclasses import dataclass

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.time import FLICKS
from deftarc.core.document.properties import Property

#: What is off by less, in px, is not seen; a speed in px a frame, or by this share of the faster side.
UNSEEN, UNFELT = 0.05, 0.02
#: How far from its pivot a layer is thought to be seen turning and growing, in px.
REACH = 100.0
#: Speeds at an end are told by three moments so far apart, as a share of a frame: a hair, so that what is eased hard
#: has hardly begun to change, and enough that distances along a path, exact to a millionth of a px, tell them well.
NEAR = 1 / 4000
#: A turn that adds up so many degrees comes round after so many turns at most.
MOST_TURNS = 720
#: A lane that is no lane: whether the layer shows.
SHOWS = "shows"
#: Others: how late a layer comes to where its carrier's start puts it, the moment of the scene that it shows, and that
#: scene's own seam, where it begins anew just there.
LATE, MOMENT, INNER = "late", "moment", "inner"
NO_LANES = (SHOWS, LATE, MOMENT, INNER)


@dataclass(frozen=True)
class Gap:
    """How far a lane's end is off its start, end minus start in the property's core unit, and in that a second.

    ``far`` says in px how far that is seen, ``kink`` in px a frame how far the speeds are apart. ``doubled`` is a last
    frame that shows what the first will show. ``goes_on`` says that it repeats by itself past its keys.
    """

    layer: str
    name: str
    value: tuple[float, ...]
    speed: tuple[float, ...]
    far: float
    kink: float
    doubled: bool = False
    goes_on: bool = False

    @property
    def meets(self) -> bool:
        """Whether what shows is alike, however fast it comes and goes."""
        return self.far <= UNSEEN

    @property
    def weight(self) -> float:
        return self.far + self.kink


def off_by(facts: Property, value: Floats) -> Floats:
    """A difference of values, whole turns left out."""
    if facts.unit == "°" and not facts.id.startswith("skew"):
        return np.asarray((value + 180.0) % 360.0 - 180.0)
    return value


def seen_apart(facts: Property, off: Floats) -> float:
    """How far a difference in a property's core unit is seen, in px: of turns and sizes at REACH px from the pivot; a
    hundredth of an opacity, a colour or a share counts as a px.
    """
    size = float(np.abs(off).max(initial=0.0))
    if facts.kind == "path":
        return float(np.hypot(*off))
    if facts.kind == "outline":
        return size
    if facts.unit == "°":
        return REACH * math.radians(min(size, 180.0) if not facts.id.startswith("skew") else size)
    if facts.id.startswith("scale"):
        return REACH * size
    return size * facts.factor


def kinked(facts: Property, off: Floats, comes: Floats, goes: Floats, frame: int) -> float:
    """How far a change of speed is seen in a frame, in px; 0 where beside the faster of the two it is not felt."""
    a_frame = frame / FLICKS
    faster = max(seen_apart(facts, comes), seen_apart(facts, goes)) * a_frame
    kink = seen_apart(facts, off) * a_frame
    return 0.0 if kink <= max(UNSEEN, UNFELT * faster) else kink


def differences(rows: Floats, step: int) -> tuple[Floats, Floats]:
    """Speeds a second from three moments before an end and three after it."""
    per_second = FLICKS / (2 * step)
    late, early = rows[0:3], rows[4:7]
    comes = (3 * late[0] - 4 * late[1] + late[2]) * per_second
    goes = (-3 * early[0] + 4 * early[1] - early[2]) * per_second
    return comes, goes
