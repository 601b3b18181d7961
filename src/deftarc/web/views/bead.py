"""The bead: a key drawn in two halves, the left for arriving, the right for leaving.

Filled is a curve, empty is straight, missing is a hold or no segment on that side.
"""

from dataclasses import dataclass

from deftarc.core.track import AnyTrack


@dataclass(frozen=True)
class Bead:
    """``left`` and ``right`` are curve, straight or none."""

    x: float
    y: float
    time: int
    left: str
    right: str
    title: str = ""


def sides_of(track: AnyTrack, index: int) -> tuple[str, str]:
    """How a key's two halves are drawn."""
    key = track.keys[index]
    before = track.keys[index - 1] if index else None
    left = "none" if before is None or before.hold else "straight" if key.arriving is None else "curve"
    last = index == len(track.keys) - 1
    right = "none" if last or key.hold else "straight" if key.leaving is None else "curve"
    return left, right
