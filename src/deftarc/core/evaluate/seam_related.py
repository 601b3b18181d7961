"""The seam of what hangs on other layers: lanes that follow, what comes later than its carrier, stretches, and scenes
that are shown. They have no curve of their own to be looked at: each is asked for at moments about the two ends.
"""

import math
from collections.abc import Callable, Iterator
from typing import Protocol

import numpy as np

from deftarc.core.document import Layer, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.shown import shown_values
from deftarc.core.evaluate.asker import Asker
from deftarc.core.evaluate.clocks import clocks_above
from deftarc.core.evaluate.gaps import (
    INNER,
    LATE,
    MOMENT,
    NEAR,
    REACH,
    UNSEEN,
    Gap,
    differences,
    kinked,
    off_by,
    seen_apart,
)
from deftarc.core.evaluate.within import moments_of


class Meeting(Protocol):
    """A seam, as it is told in seam.py."""

    @property
    def gaps(self) -> tuple[Gap, ...]:
        """What does not meet, the worst first."""
        ...


def is_related(layer: Layer) -> bool:
    """Whether what a layer shows at the seam hangs on others than itself."""
    return bool(layer.links) or layer.later is not None or layer.stretches or "scene" in layer.artwork.traits


def related_gaps(
    scene: Scene, layer: Layer, start: int, end: int, inner: Scene | None, within: Callable[[Scene], Meeting]
) -> Iterator[tuple[Gap | None, bool]]:
    """What of such a layer does not meet, and whether it moves in the stretch; ``inner`` is the scene it shows, and
    ``within`` tells the seam of that.
    """
    ask = Asker(scene)
    for name in layer.links:
        yield lane_followed_gap(ask, layer, name, start, end, scene.rate.flicks)
    if layer.later is not None and layer.parent is not None:
        yield late_gap(ask, layer, start, end), True
    if layer.stretches:
        yield stretch_gap(ask, layer, start, end), True
    if inner is not None:
        yield moment_gap(scene, layer, inner, start, end, within)


def lane_followed_gap(ask: Asker, layer: Layer, name: str, start: int, end: int, frame: int) -> tuple[Gap | None, bool]:
    """How a lane that follows something is off, and whether it moves."""
    facts = PROPERTIES[name]
    step = max(round(frame * NEAR), 1)
    ends = [end - 1, end - 1 - step, end - 1 - 2 * step, end, start, start + step, start + 2 * step]
    rows = shown_values(layer, name, ask.values(layer, name, np.array(ends, np.float64)))
    looks = shown_values(layer, name, ask.values(layer, name, np.linspace(start, end - 1, 48)))
    moves = bool(np.ptp(looks, axis=0).max() > 1e-9)
    jumps = seen_apart(facts, rows[3] - rows[0]) > 20 * UNSEEN
    value = off_by(facts, (rows[0] if jumps else rows[3]) - rows[4])
    comes, goes = differences(rows, step)
    far, off = seen_apart(facts, value), comes - goes
    kink = kinked(facts, off, comes, goes, frame)
    if far <= UNSEEN and not kink:
        return None, moves
    return Gap(layer.id, name, tuple(map(float, value)), tuple(map(float, off)), far, kink), moves


def late_gap(ask: Asker, layer: Layer, start: int, end: int) -> Gap | None:
    """How what is carried later is off where the loop begins: its carrier was elsewhere before that."""
    before, after = (ask.carried(layer.parent, layer.later, time) for time in (end - 1, start))
    spot = np.append(ask.asked(layer, ".spot", np.array([float(start)]))[0], 1.0)
    far = float(np.hypot(*((before - after) @ spot)[:2]))
    angles = [math.atan2(matrix[1, 0], matrix[0, 0]) for matrix in (before, after)]
    far += REACH * abs((angles[0] - angles[1] + math.pi) % (2 * math.pi) - math.pi)
    return Gap(layer.id, LATE, (far,), (), far, 0.0) if far > 20 * UNSEEN else None


def stretch_gap(ask: Asker, layer: Layer, start: int, end: int) -> Gap | None:
    """How a stretch is off: it comes of how the layer goes shortly before the loop begins, too."""
    apart = float(np.abs(ask.stretch(layer, end - 1) - ask.stretch(layer, start)).max())
    far = REACH * apart
    return Gap(layer.id, "stretch", (apart,), (), far, 0.0) if far > 20 * UNSEEN else None


def moment_gap(
    scene: Scene, layer: Layer, inner: Scene, start: int, end: int, within: Callable[[Scene], Meeting]
) -> tuple[Gap | None, bool]:
    """By how many frames the moment that shows at the end is off the one at the start, where anything moves there; or,
    where the inner scene begins anew just there, what of that does not meet.
    """
    moves = any(each.moving or "scene" in each.artwork.traits for each in inner.layers)
    if not moves:
        return None, False
    above = clocks_above(scene.by_id, layer)
    told = moments_of(layer, inner, np.array([start, end - 1, end], np.float64), above)
    one, last, other = (int(told.times[row]) for row in told.rows)
    off = (other - one) / inner.rate.flicks
    # A loop that ends where its scene does, or on its last frame, goes on where that begins.
    if abs(off) < 0.5 or abs(abs(off) - inner.frames) < 1.5:
        again = abs(last - one) > inner.rate.flicks / 2
        worst = next(iter(within(inner).gaps), None) if again else None
        return worst and Gap(layer.id, INNER, (), (), worst.far, worst.kink, worst.doubled), True
    return Gap(layer.id, MOMENT, (off,), (), 100.0, 0.0), True
