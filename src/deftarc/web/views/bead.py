"""The bead: a key drawn in two halves, the left for arriving, the right for leaving.

Filled is a curve, empty is straight, missing is a hold (or steps) or no segment on that side.
"""

from dataclasses import dataclass

from deftarc.core.track import AnyTrack, PathKey


@dataclass(frozen=True)
class Bead:
    """``left`` and ``right`` are curve, straight or none."""

    x: float
    y: float
    time: int
    left: str
    right: str
    title: str = ""
    #: "auto" for an automatic joint, "pace" for a key between the points of a path.
    mark: str = ""


def mark_of(track: AnyTrack, index: int) -> str:
    key = track.keys[index]
    if key.joint == "automatic":
        return "auto"
    return "pace" if isinstance(key, PathKey) and not key.rests else ""


def sides_of(track: AnyTrack, index: int) -> tuple[str, str]:
    """How a key's two halves are drawn."""
    key = track.keys[index]
    before = track.keys[index - 1] if index else None
    automatic = key.joint == "automatic"
    last = index == len(track.keys) - 1
    arrives = "curve" if automatic or key.arriving is not None else "straight"
    leaves = "curve" if automatic or key.leaving is not None else "straight"
    left = "none" if before is None or before.stepped else arrives
    right = "none" if last or key.stepped else leaves
    return left, right
