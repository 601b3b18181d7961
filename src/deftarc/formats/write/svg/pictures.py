"""What cannot be said as drawings, as pictures in turn."""

from dataclasses import dataclass

import numpy as np

from deftarc.core.plain.lanes import Lane
from deftarc.formats.write.svg.clock import Clock


@dataclass(frozen=True, eq=False)
class Pictures:
    """What cannot be said otherwise, as pictures: each with where it lies in the scene (x, y, width, height) and the
    moments from one up to another at which it shows; ``data`` is WebP or PNG.
    """

    shown: tuple[tuple[bytes, str, tuple[float, float, float, float], tuple[tuple[float, float], ...]], ...]


def runs_lane(runs: tuple[tuple[float, float], ...], clock: Clock) -> Lane:
    """1 within runs, 0 elsewhere."""
    times, rows = [clock.start], [0.0]
    for first, last in runs:
        if first <= times[-1]:
            times[-1], rows[-1] = first, 1.0
        else:
            times.append(first)
            rows.append(1.0)
        if last < clock.end:
            times.append(last)
            rows.append(0.0)
    if len(times) == 1:
        return Lane.still(rows[0])
    return Lane(np.array(times), np.array(rows)[:, None], np.full((len(times) - 1, 4), np.nan), False)


__all__ = ["Pictures", "runs_lane"]
