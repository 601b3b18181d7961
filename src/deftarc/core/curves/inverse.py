"""Inverting time: the parameter u at which a segment's Bézier has reached a fraction of its duration.

A segment's time runs x(u) = 3a·u(1−u)² + 3(1−b)·u²(1−u) + u³ = ((A·u + B)·u + C)·u, where a and b are its
leaving and arriving reach. Time is monotone (checked by :func:`is_monotone`), so u is unique.
"""

import numpy as np

from deftarc.core.base.arrays import Floats

#: Residual in time, as a fraction of the segment, that every answer keeps.
RESIDUAL = 1e-14
#: Newton steps taken by all samples together before the stragglers go on alone.
COMMON_STEPS = 5
#: Enough halvings to reach the residual from anywhere.
MOST_STEPS = 90
#: Samples solved at once, so that the working arrays stay in the processor's cache.
BLOCK = 8192


def time_coefficients(a: Floats, b: Floats) -> tuple[Floats, Floats, Floats]:
    """A, B, C of x(u) = ((A·u + B)·u + C)·u from leaving reach a and arriving reach b."""
    return 3 * a + 3 * b - 2, 3 - 3 * b - 6 * a, 3 * a


def is_monotone(a: float, b: float, slack: float = 1e-9) -> bool:
    """Whether time never runs back in a segment with these reaches (exact condition on the quadratic x').

    x'/3 = a(1−u)² + 2(1−a−b)u(1−u) + b·u² is nowhere negative on [0, 1] exactly when a, b ≥ 0 and
    (a+b−1) ≤ √(a·b).
    """
    if a < 0 or b < 0:
        return False
    return a + b - 1 <= (a * b) ** 0.5 + slack


def solve_parameter(A: Floats, B: Floats, C: Floats, fraction: Floats, residual: float = RESIDUAL) -> Floats:
    """u in [0, 1] with x(u) = fraction; all arguments (n,), result (n,).

    Newton's method from the fraction itself, kept inside a shrinking bracket and replaced by halving where it
    would leave it (Numerical Recipes' rtsafe, vectorised).
    """
    out = np.empty_like(fraction)
    for start in range(0, len(fraction), BLOCK):
        part = slice(start, start + BLOCK)
        out[part] = _solve_block(A[part], B[part], C[part], fraction[part], residual)
    return out


def _solve_block(A: Floats, B: Floats, C: Floats, fraction: Floats, residual: float) -> Floats:
    u = np.array(fraction)
    two_b = 2 * B
    three_a = 3 * A
    error, slope = np.empty_like(u), np.empty_like(u)

    def evaluate() -> None:
        np.multiply(A, u, out=error)
        np.add(error, B, out=error)
        np.multiply(error, u, out=error)
        np.add(error, C, out=error)
        np.multiply(error, u, out=error)
        np.subtract(error, fraction, out=error)

    # Unguarded steps serve almost every sample; whoever has not arrived is solved again under guard.
    with np.errstate(divide="ignore", invalid="ignore"):
        for _ in range(COMMON_STEPS):
            evaluate()
            np.multiply(three_a, u, out=slope)
            np.add(slope, two_b, out=slope)
            np.multiply(slope, u, out=slope)
            np.add(slope, C, out=slope)
            np.divide(error, slope, out=error)
            np.subtract(u, error, out=u)
            np.maximum(u, 0.0, out=u)
            np.minimum(u, 1.0, out=u)
        evaluate()
    left = np.flatnonzero(~(np.abs(error) <= residual))
    if left.size:
        # From where they have come to: mostly a step or two is missing.
        u[left] = _solve_guarded(A[left], B[left], C[left], fraction[left], residual, u[left])
    return u


def _solve_guarded(A: Floats, B: Floats, C: Floats, fraction: Floats, residual: float, start: Floats) -> Floats:
    low, high = np.zeros_like(fraction), np.ones_like(fraction)
    u = np.where(np.isfinite(start), start, fraction)
    best = np.array(fraction)
    best_error = np.full_like(fraction, np.inf)
    for _ in range(MOST_STEPS):
        error = ((A * u + B) * u + C) * u - fraction
        better = np.abs(error) < best_error
        best = np.where(better, u, best)
        best_error = np.where(better, np.abs(error), best_error)
        if np.all(best_error <= residual):
            break
        high = np.where(error > 0, u, high)
        low = np.where(error <= 0, u, low)
        slope = (3 * A * u + 2 * B) * u + C
        with np.errstate(divide="ignore", invalid="ignore"):
            step = u - error / slope
        u = np.where((step > low) & (step < high), step, 0.5 * (low + high))
    return best


def solve_one(a: float, b: float, fraction: float, residual: float = RESIDUAL) -> float:
    """u in [0, 1] with x(u) = fraction for one segment with reaches a and b: the same method, without arrays."""
    A, B, C = 3 * a + 3 * b - 2, 3 - 3 * b - 6 * a, 3 * a
    low, high, u = 0.0, 1.0, fraction
    best, least = fraction, float("inf")
    for _ in range(MOST_STEPS):
        error = ((A * u + B) * u + C) * u - fraction
        if abs(error) < least:
            best, least = u, abs(error)
        if least <= residual:
            break
        if error > 0:
            high = u
        else:
            low = u
        slope = (3 * A * u + 2 * B) * u + C
        step = u - error / slope if slope else low
        u = step if low < step < high else 0.5 * (low + high)
    return best
