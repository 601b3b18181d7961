"""Numbers that look like chance and are none: of a seed, a thing's number and a channel, the same in any order.

SplitMix64's finaliser (Steele, Lea & Flood, “Fast splittable pseudorandom number generators”, 2014) over the three.
"""

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats

_GOLDEN = np.uint64(0x9E3779B97F4A7C15)
_FIRST, _SECOND = np.uint64(0xBF58476D1CE4E5B9), np.uint64(0x94D049BB133111EB)
_CHANNEL = np.uint64(0xD1342543DE82EF95)


def chance(seed: int, things: npt.NDArray[np.uint64], channel: int) -> Floats:
    """Numbers in [0, 1) for things by their numbers (n,)."""
    with np.errstate(over="ignore"):
        z = (things + np.uint64(1)) * _GOLDEN + np.uint64(seed) * _CHANNEL + np.uint64(channel) * _SECOND
        for shift, factor in ((30, _FIRST), (27, _SECOND)):
            z = (z ^ (z >> np.uint64(shift))) * factor
        z = z ^ (z >> np.uint64(31))
    return np.asarray((z >> np.uint64(11)).astype(np.float64) * 2.0**-53)


__all__ = ["chance"]
