"""Where something thrown is after a time: with gravity and drag, in closed form, so that no moment needs the one
before.
"""

import numpy as np

from deftarc.core.base.arrays import Floats

#: Less drag than this a second is none.
FREE = 1e-5


def thrown(age: Floats, vx: Floats, vy: Floats, gravity: Floats, drag: Floats) -> tuple[Floats, Floats]:
    """How far it has come, x and y (n,), after ages (n,) in seconds: v' = g − k v from speeds (n,) at first."""
    dragged = drag > FREE
    k = np.where(dragged, drag, 1.0)
    # −expm1 keeps its digits where little time has gone.
    run = np.where(dragged, -np.expm1(-k * age) / k, age)
    fall = np.where(dragged, (age - run) / k, age * age / 2)
    return vx * run, vy * run + gravity * fall


__all__ = ["thrown"]
