"""A time curve compiled once into polynomial pieces in time, for many samples of one curve.

Each segment is cut at even steps of its own parameter; on each piece the measure is interpolated in time at
Chebyshev nodes, which converges geometrically because the measure is analytic in time away from cusps. Where
it does not reach the tolerance (near a cusp) the piece is cut finer, and at last the exact inverse is used.
"""

import numpy as np
import numpy.typing as npt
from scipy.interpolate import PPoly

from deftarc.core.curve import TimeCurve, bezier
from deftarc.core.geometry import Floats
from deftarc.core.inverse import solve_parameter, time_coefficients

#: Pieces a segment is cut into at first, and each piece that is not yet exact again, so many times in all.
FIRST_CUTS = 16
FURTHER_CUTS = 4
LEVELS = 5
#: The degree of each piece.
DEGREE = 7
#: Largest error allowed, as a fraction of the curve's range.
TOLERANCE = 1e-10

_NODES = 0.5 - 0.5 * np.cos((2 * np.arange(DEGREE + 1) + 1) * np.pi / (2 * DEGREE + 2))
#: From values at the nodes to coefficients of s⁷ … s⁰ on a piece that runs over s in [0, 1].
_TO_POWERS = np.linalg.inv(np.vander(_NODES))
#: Where a piece is held against the exact inverse: the ends and between the nodes.
_PROBES = np.concatenate(([0.0], 0.5 * (_NODES[1:] + _NODES[:-1]), [1.0]))


class CompiledCurve:
    """Evaluates one curve at (n,) times in flicks, within TOLERANCE of its range of ``TimeCurve.at``."""

    def __init__(self, curve: TimeCurve) -> None:
        self.curve = curve
        self.inexact: npt.NDArray[np.bool_] | None = None
        if len(curve.times) > 1:
            self._compile()

    def __call__(self, times: npt.ArrayLike) -> Floats:
        at = np.asarray(times, dtype=np.float64)
        curve = self.curve
        if len(curve.times) == 1:
            return np.full(at.shape, curve.measures[0])
        first, last = float(curve.times[0]), float(curve.times[-1])
        out: Floats = self.pieces(np.clip(at, first, last))
        out[at >= last] = curve.measures[-1]
        if self.inexact is not None:
            piece = np.clip(np.searchsorted(self.edges, at, side="right") - 1, 0, len(self.inexact) - 1)
            hard = self.inexact[piece]
            out[hard] = curve.at(at[hard])
        return out

    def _compile(self) -> None:
        curve = self.curve
        controls = curve.control_measures()
        spread = max(float(np.ptp(np.concatenate(controls))), 1e-300)
        simple = curve.stepped | curve.even
        starts, powers = self._simple_pieces(np.flatnonzero(curve.even & ~curve.stepped), controls)
        if curve.stepped.any():
            begin, levels = self._step_pieces(np.flatnonzero(curve.stepped))
            starts.append(begin)
            powers.append(levels)
        hard = [np.zeros(sum(map(len, starts)), bool)]
        segment = np.repeat(np.flatnonzero(~simple), FIRST_CUTS)
        low = np.tile(np.arange(FIRST_CUTS) / FIRST_CUTS, len(segment) // FIRST_CUTS)
        size = 1.0 / FIRST_CUTS
        for level in range(LEVELS):
            if not segment.size:
                break
            begin, coefficients, error = self._pieces(segment, low, low + size, controls)
            fine = error <= TOLERANCE * spread
            keep = fine | (level == LEVELS - 1)
            starts.append(begin[keep])
            powers.append(coefficients[keep].T)
            hard.append(~fine[keep])
            size /= FURTHER_CUTS
            segment = np.repeat(segment[~keep], FURTHER_CUTS)
            low = (low[~keep][:, None] + size * np.arange(FURTHER_CUTS)).reshape(-1)
        edges, flags = np.concatenate(starts), np.concatenate(hard)
        order = np.argsort(edges, kind="stable")
        if flags.any():
            self.inexact = flags[order]
        self.edges = np.concatenate([edges[order], [float(curve.times[-1])]])
        self.pieces = PPoly(np.ascontiguousarray(np.concatenate(powers, axis=1)[:, order]), self.edges)

    def _simple_pieces(
        self, chosen: npt.NDArray[np.int64], controls: tuple[Floats, ...]
    ) -> tuple[list[Floats], list[Floats]]:
        """Segments whose time is even: one exact piece each."""
        curve = self.curve
        p0, p1, p2, p3 = (p[chosen] for p in controls)
        d = curve.duration[chosen]
        rows = np.zeros((DEGREE + 1, len(chosen)))
        rows[-1] = p0
        rows[-2] = 3 * (p1 - p0) / d
        rows[-3] = 3 * (p2 - 2 * p1 + p0) / d**2
        rows[-4] = (p3 - p0 + 3 * (p1 - p2)) / d**3
        return [curve.times[chosen].astype(np.float64)], [rows]

    def _step_pieces(self, chosen: npt.NDArray[np.int64]) -> tuple[Floats, Floats]:
        """Starts in flicks and coefficients of the level pieces that segments of steps are made of."""
        curve = self.curve
        counts = curve.steps[chosen, 0]
        segment = np.repeat(chosen, counts)
        part = np.arange(len(segment)) - np.repeat(np.cumsum(counts) - counts, counts)
        elapsed = part * curve.duration[segment] / curve.steps[segment, 0]
        made = np.minimum(part + curve.steps[segment, 1], curve.steps[segment, 2]) / curve.steps[segment, 2]
        rows = np.zeros((DEGREE + 1, len(segment)))
        rows[-1] = curve.measures[segment] + made * (curve.measures[segment + 1] - curve.measures[segment])
        return curve.times[segment] + elapsed, rows

    def _pieces(
        self, segment: npt.NDArray[np.int64], low: Floats, high: Floats, controls: tuple[Floats, ...]
    ) -> tuple[Floats, Floats, Floats]:
        """Start in flicks (n,), coefficients by powers of time (n, 8), largest error (n,), of pieces in u."""
        curve = self.curve
        a, b, d = curve.a[segment], curve.b[segment], curve.duration[segment]
        measures = [p[segment][:, None] for p in controls]
        begin, end = (bezier(u, 0.0, a, 1 - b, 1.0) for u in (low, high))
        width = end - begin
        coefficients = time_coefficients(a, b)

        def exact(spots: Floats) -> Floats:
            fraction = begin[:, None] + width[:, None] * spots
            A, B, C = (np.repeat(c, len(spots)) for c in coefficients)
            at = solve_parameter(A, B, C, fraction.reshape(-1))
            return bezier(at.reshape(fraction.shape), *measures)

        on_unit = exact(_NODES) @ _TO_POWERS.T
        error = np.abs(on_unit @ np.vander(_PROBES, DEGREE + 1).T - exact(_PROBES)).max(axis=1)
        flicks = np.maximum(width * d, 1e-30)
        powers = on_unit / flicks[:, None] ** np.arange(DEGREE, -1, -1)
        sound = np.isfinite(powers).all(axis=1) & (width * d > 1.0)
        return (
            curve.times[segment] + begin * d,
            np.where(sound[:, None], powers, 0.0),
            np.where(sound, error, np.inf),
        )


def compiled(curve: TimeCurve) -> CompiledCurve:
    """The compiled form of a curve, made once and kept with it."""
    found = curve.cache.get("compiled")
    if not isinstance(found, CompiledCurve):
        found = curve.cache["compiled"] = CompiledCurve(curve)
    return found
