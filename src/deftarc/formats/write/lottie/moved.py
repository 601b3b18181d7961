"""Levels as Lottie transforms: one, and more where each side is sized in its own time or they are slanted."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.plain.lanes import Lane, sampled
from deftarc.core.plain.levels import Level, level_of, matrices_of
from deftarc.formats.write.lottie.keys import Count, number, still

#: A matrix in parts, as a transform that stays.
Transform = dict[str, Any]


@dataclass(frozen=True, eq=False)
class Step:
    """One transform of a chain, and what it is of."""

    name: str
    transform: Transform

    @property
    def idle(self) -> bool:
        return all(value == IDLE[key] for key, value in self.transform.items())


IDLE: Transform = {
    "a": still(0, 0), "p": still(0, 0), "r": still(0), "s": still(100, 100), "sk": still(0), "sa": still(0),
}  # fmt: skip


class Moved:
    """Knows each level's transforms."""

    def __init__(self, count: Count, times: Floats, reach: float) -> None:
        self.count, self.times, self.reach = count, times, reach
        self._known: dict[int, tuple[Level, tuple[Step, ...]]] = {}

    def chain(self, levels: tuple[Level, ...]) -> tuple[Step, ...]:
        """From the outermost in."""
        return tuple(step for level in levels for step in self._of(level))

    def _of(self, level: Level) -> tuple[Step, ...]:
        found = self._known.get(id(level))
        if found is None:
            found = self._known[id(level)] = (level, self._made(level))
        return found[1]

    def _made(self, level: Level) -> tuple[Step, ...]:
        if np.any(level.skew.rows[:, 1]):
            # A slant of both sides goes as what it comes to: a turn, a slant of one, and two sizes.
            level = level_of(level.id, level.name, self.times, matrices_of(level, self.times), self.reach)
        count = self.count
        split = level.split or {}
        own: Transform = dict(IDLE)
        if level.travel is not None:
            own["p"] = count.travelled(level.travel)
        elif "position" in split:
            across, down = (count.property(lane) for lane in split["position"])
            own["p"] = {"s": True, "x": across, "y": down}
        else:
            own["p"] = count.property(level.position)
        outer, inner, sizes = self._slanted(level)
        own["r"] = count.property(outer, 6)
        before: tuple[Step, ...] = ()
        pivot = count.property(level.pivot)
        if sizes is not None:
            before = (Step(f"{level.name} (slant)", own | {"s": count.property(sizes, 5, 100)}),)
            own = IDLE | {"r": count.property(inner, 6)}
        if "scale" not in split:
            own |= {"s": count.property(level.scale, 5, 100), "a": pivot}
            return (*before, Step(level.name, own))
        x, y = split["scale"]
        wide = x.through(np.array([[1.0, 0.0]]), np.array([0.0, 1.0]))
        tall = y.through(np.array([[0.0, 1.0]]), np.array([1.0, 0.0]))
        own["s"] = count.property(wide, 5, 100)
        return (
            *before,
            Step(f"{level.name} (width)", own),
            Step(level.name, IDLE | {"s": count.property(tall, 5, 100), "a": pivot}),
        )

    def _slanted(self, level: Level) -> tuple[Lane, Lane, Lane | None]:
        """A turn, a second turn and the two sizes between them, which come to a level's turn and slant: not every
        player knows a slant. By its singular values; where nothing is slanted there are no sizes.

        [[1, k], [0, 1]] = R(45° − a) · diag((√(k² + 4) + k) / 2, (√(k² + 4) − k) / 2) · R(−45° − a), a half the angle
        whose tangent is k / 2.
        """
        skew = level.skew.through(np.array([[1.0], [0.0]]))
        if not np.any(skew.rows):
            return level.rotation, Lane.still(0.0), None
        k = np.tan(np.deg2rad((skew.at(self.times) if skew.moves else skew.rows)[:, 0]))
        turn = np.rad2deg(np.arctan2(k, 2.0)) / 2
        root = np.sqrt(k * k + 4)
        sizes, inner = np.stack([(root + k) / 2, (root - k) / 2], axis=1), -45.0 - turn
        if not skew.moves:
            outer = level.rotation.through(np.eye(1), np.array([45.0 - turn[0]]))
            return outer, Lane.still(float(inner[0])), Lane.still(*sizes[0])
        fine = 1e-3 / max(self.reach, 1.0)
        outer = sampled(self.times, level.rotation.at(self.times) + (45.0 - turn)[:, None], float(np.rad2deg(fine)))
        return outer, sampled(self.times, inner[:, None], float(np.rad2deg(fine))), sampled(self.times, sizes, fine)


def placed(x: float, y: float, wide: float = 1.0, tall: float = 1.0) -> Transform:
    """A transform that moves and sizes, and stays."""
    return IDLE | {"p": still(number(x), number(y)), "s": still(number(100 * wide, 5), number(100 * tall, 5))}


__all__ = ["IDLE", "Moved", "Step", "Transform", "placed"]
