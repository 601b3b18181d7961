"""Arc length of cubic Béziers, and its inverse: which parameter lies at a distance.

Lengths are integrals of |B'(u)| by Gauss–Legendre quadrature (Abramowitz & Stegun, 25.4.29), halved where halving
still changes them, so that spans with a cusp are as exact as calm ones. The inverse is Newton's method inside the
pieces this leaves, under guard.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from deftarc.core.base.arrays import Floats, Integers

#: Nodes and weights on [0, 1].
_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(10)
_NODES, _WEIGHTS = (_NODES + 1) / 2, _WEIGHTS / 2
#: A piece is halved while that changes its length by more than this fraction of its span's size.
FINE = 1e-10
MOST_HALVINGS = 40
#: Parts of a span in each of which its speed is looked at for a turn.
LOOKED_AT = 32
#: So many times over, each time within one of those parts.
LOOKS = 3
#: Px along the path that an inverse may be off.
NEAR = 1e-9
MOST_STEPS = 60


def steps_of(controls: Floats) -> Floats:
    """The control polygons' steps times three, (S, 3, 2): the derivative's Bézier points."""
    return np.asarray(3 * np.diff(controls, axis=1))


def derivative(steps: Floats, u: Floats) -> Floats:
    """B'(u) of spans (n, 3, 2) at parameters (n,): (n, 2)."""
    w = u[:, None]
    a, b, c = _powers(steps)
    return np.asarray(a + w * (b + w * c))


def _powers(steps: Floats) -> tuple[Floats, Floats, Floats]:
    """B'(u) = a + b·u + c·u², each (n, 2)."""
    d0, d1, d2 = steps[:, 0], steps[:, 1], steps[:, 2]
    return d0, 2 * (d1 - d0), d0 - 2 * d1 + d2


def piece_lengths(steps: Floats, start: Floats, end: Floats) -> Floats:
    """Lengths of pieces [start, end] (n,) of spans with ``steps`` (n, 3, 2)."""
    return _lengths(np.concatenate(_powers(steps), axis=1).T, start, end)


def _lengths(powers: Floats, start: Floats, end: Floats) -> Floats:
    """The same, with B'(u) = a + b·u + c·u² as ax, ay, bx, by, cx, cy (6, n): rows of two are slow to run through."""
    wide = end - start
    u = start[:, None] + wide[:, None] * _NODES
    ax, ay, bx, by, cx, cy = powers[:, :, None]
    x, y = ax + u * (bx + u * cx), ay + u * (by + u * cy)
    return np.asarray((np.sqrt(x * x + y * y) @ _WEIGHTS) * wide)


@dataclass(frozen=True, eq=False)
class ArcTable:
    """Pieces of spans in order: each piece's span, its u from and to, and the distance from the path's start to
    each piece's start, with the whole length last: (N,), (N,), (N,), (N + 1,). ``first`` is each span's first piece,
    (S + 1,).
    """

    steps: Floats
    span: Integers
    start: Floats
    end: Floats
    distance: Floats
    first: Integers
    #: Of nothing but lines: u is the share of the length.
    straight: bool = False

    @property
    def lengths(self) -> Floats:
        """Distance from the path's start to each point, (S + 1,)."""
        return np.asarray(self.distance[self.first])

    def parameter(self, span: Integers, distance: Floats) -> Floats:
        """u at distances (n,) from the path's start, on spans (n,); held to their ends."""
        piece = np.searchsorted(self.distance, distance, side="right") - 1
        piece = np.clip(piece, self.first[span], self.first[span + 1] - 1)
        low, high = self.start[piece], self.end[piece]
        length = self.distance[piece + 1] - self.distance[piece]
        due = np.clip(distance - self.distance[piece], 0.0, length)
        with np.errstate(divide="ignore", invalid="ignore"):
            share = np.where(length > 0, due / length, 0.0)
        if self.straight:
            return np.asarray(share)
        # Hermite's cubic through both ends of the piece with the slopes of u there: near enough that two steps do.
        first, last = self._slopes[piece].T
        rest = 1 - share
        run = share * share * (3 - 2 * share) + share * rest * (first * rest - last * share)
        return self._solve(self.steps[span], low, high, due, low + run * (high - low))

    @cached_property
    def _slopes(self) -> Floats:
        """How fast u grows with the distance at both ends of each piece (N, 2), both counted in the piece's own size;
        held to what keeps Hermite's cubic rising (Fritsch & Carlson, 1980).
        """
        length = self.distance[1:] - self.distance[:-1]
        steps, wide = self.steps[self.span], self.end - self.start
        out = []
        for u in (self.start, self.end):
            d = derivative(steps, u)
            with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
                slope = length / (np.hypot(d[:, 0], d[:, 1]) * wide)
            out.append(np.where(np.isfinite(slope), np.clip(slope, 0.0, 3.0), 1.0))
        return np.stack(out, axis=1)

    def distance_at(self, span: Integers, u: Floats) -> Floats:
        """Distances from the path's start at parameters (n,) of spans (n,)."""
        piece = np.searchsorted(self.span + self.start, span + np.minimum(u, 1 - 1e-12), side="right") - 1
        piece = np.clip(piece, self.first[span], self.first[span + 1] - 1)
        return np.asarray(self.distance[piece] + piece_lengths(self.steps[span], self.start[piece], u))

    def _solve(self, steps: Floats, start: Floats, end: Floats, due: Floats, u: Floats) -> Floats:
        """u (n,) of spans with ``steps`` (n, 3, 2), between ``start`` and ``end``, at lengths ``due`` from the start;
        by Newton's method from a guess, halving where that would leave what is known to hold it.
        """
        low, high, here, left = start, end, u, np.arange(len(u))
        powers = np.concatenate(_powers(steps), axis=1).T
        for _ in range(MOST_STEPS):
            ax, ay, bx, by, cx, cy = powers
            error = _lengths(powers, start, here) - due
            open_ = np.abs(error) > NEAR
            if not open_.all():
                u[left[~open_]] = here[~open_]
                left, here, low, high = left[open_], here[open_], low[open_], high[open_]
                start, due, error = start[open_], due[open_], error[open_]
                powers = powers[:, open_]
                ax, ay, bx, by, cx, cy = powers
                if not left.size:
                    break
            over = error > 0
            high, low = np.where(over, here, high), np.where(over, low, here)
            dx, dy = ax + here * (bx + here * cx), ay + here * (by + here * cy)
            with np.errstate(divide="ignore", invalid="ignore"):
                step = here - error / np.sqrt(dx * dx + dy * dy)
            here = np.where((step > low) & (step < high), step, 0.5 * (low + high))
        u[left] = here
        return u


def _calm_pieces(steps: Floats, spans: Integers) -> tuple[Integers, Floats, Floats]:
    """Spans cut in the middle and where they are slowest or fastest: a cusp lies at an end of a piece, never within
    one, where quadrature could step over it. Span, start and end of each piece.
    """
    a, b, c = _powers(steps[spans])
    # Half the growth of |B'|² with u: B'·B'', a cubic.
    g0, g1 = (a * b).sum(axis=1), (b * b + 2 * a * c).sum(axis=1)
    g2, g3 = 3 * (b * c).sum(axis=1), 2 * (c * c).sum(axis=1)

    def gaining(row: Integers, u: Floats) -> Floats:
        return np.asarray(g0[row] + u * (g1[row] + u * (g2[row] + u * g3[row])))

    grid = np.linspace(0, 1, LOOKED_AT + 1)
    row, at = np.divmod(np.arange(len(spans) * len(grid)), len(grid))
    sign = np.sign(gaining(row, grid[at])).reshape(len(spans), len(grid))
    row, cell = np.nonzero(sign[:, :-1] * sign[:, 1:] < 0)
    low, wide = grid[cell], 1.0 / LOOKED_AT
    first = sign[row, cell]
    for _ in range(LOOKS if len(row) else 0):
        # The last place of each finer row that is still on this side of the turn.
        inner = low[:, None] + wide * grid
        before = np.sign(gaining(row[:, None], inner)) == first[:, None]
        cell = np.maximum(np.argmin(before, axis=1) - 1, 0)
        low, wide = inner[np.arange(len(row)), cell], wide / LOOKED_AT
    every = np.arange(len(spans))
    which = np.concatenate([row, every, every, every])
    cuts = np.concatenate([low, np.zeros(len(spans)), np.full(len(spans), 0.5), np.ones(len(spans))])
    order = np.lexsort((cuts, which))
    which, cuts = which[order], cuts[order]
    inside = (which[1:] == which[:-1]) & (cuts[1:] > cuts[:-1])
    return spans[which[:-1][inside]], cuts[:-1][inside], cuts[1:][inside]


#: Pieces of spans worked out before, by their Bézier points: a drag bends two or three spans of many.
_KNOWN: dict[bytes, tuple[Floats, Floats, Floats]] = {}
MOST_KNOWN = 4096


def arc_table(controls: Floats, bent: np.ndarray) -> ArcTable:
    """The table of spans (S, 4, 2); those not ``bent`` (S,) are lines, run through evenly, in one piece."""
    chords = controls[:, 3] - controls[:, 0]
    steps = steps_of(controls)
    steps[~bent] = chords[~bent][:, None, :]
    if not bent.any():
        every = np.arange(len(controls) + 1)
        distance = np.concatenate(([0.0], np.cumsum(np.hypot(*chords.T))))
        still, whole = np.zeros(len(controls)), np.ones(len(controls))
        return ArcTable(steps, every[:-1], still, whole, distance, every, straight=True)
    names = [controls[k].tobytes() if curved else b"" for k, curved in enumerate(bent.tolist())]
    # Taken out first: another page's path may need the room meanwhile.
    known = {name: pieces for name in names if name and (pieces := _KNOWN.get(name)) is not None}
    fresh = [k for k, name in enumerate(names) if name and name not in known]
    if fresh:
        made = dict(zip((names[k] for k in fresh), _pieces(steps[np.array(fresh)]), strict=True))
        known.update(made)
        if len(_KNOWN) + len(made) > MOST_KNOWN:
            _KNOWN.clear()
        _KNOWN.update(made)
    whole = np.hypot(*chords.T)
    line = np.zeros(1), np.ones(1)
    rows = [known[name] if name else (*line, whole[k : k + 1]) for k, name in enumerate(names)]
    start, end, length = (np.concatenate(part) for part in zip(*rows, strict=True))
    counts = [len(row[0]) for row in rows]
    distance = np.concatenate(([0.0], np.cumsum(length)))
    first = np.concatenate(([0], np.cumsum(counts)))
    return ArcTable(steps, np.repeat(np.arange(len(controls)), counts), start, end, distance, first)


def _pieces(steps: Floats) -> list[tuple[Floats, Floats, Floats]]:
    """Start, end and length of the pieces of each of some spans (n, 3, 2), in order."""
    size = np.abs(steps).sum(axis=(1, 2)) + 1e-300
    kept: list[tuple[Integers, Floats, Floats, Floats]] = []
    span, start, end = _calm_pieces(steps, np.arange(len(steps)))
    whole = piece_lengths(steps[span], start, end)
    for halving in range(MOST_HALVINGS):
        if not len(span):
            break
        middle = 0.5 * (start + end)
        both = np.concatenate([span, span])
        halves = piece_lengths(steps[both], np.concatenate([start, middle]), np.concatenate([middle, end]))
        before, after = halves[: len(span)], halves[len(span) :]
        good = (np.abs(before + after - whole) <= FINE * size[span]) | (halving == MOST_HALVINGS - 1)
        kept.append((span[good], start[good], end[good], (before + after)[good]))
        rest = ~good
        span = np.repeat(span[rest], 2)
        start, end = (
            np.stack([start[rest], middle[rest]], 1).ravel(),
            np.stack([middle[rest], end[rest]], 1).ravel(),
        )
        whole = np.stack([before[rest], after[rest]], 1).ravel()
    every, begin, stop, length = (np.concatenate(part) for part in zip(*kept, strict=True))
    order = np.lexsort((begin, every))
    cuts = np.searchsorted(every[order], np.arange(1, len(steps)))
    return list(zip(*(np.split(row[order], cuts) for row in (begin, stop, length)), strict=True))
