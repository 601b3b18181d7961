"""How lanes become animations: CSS keyframes, or SMIL's lists of values and times."""

from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.time import FLICKS
from deftarc.core.plain.lanes import EVEN, Lane
from deftarc.formats.write.svg.numbers import fine, short

#: Gives a row's text, as a property has it.
Said = Callable[[Floats], str]
#: By so much of a frame jumps come early, that none is late for the frame it is for.
EARLY = 1e-3


@dataclass
class Clock:
    """The time that animations take: from one moment to another, in flicks, so many times (0 is for ever)."""

    start: float
    end: float
    frame: float
    loops: int
    #: Keyframes by their text, so that what moves alike is told once.
    rules: dict[str, str] = field(default_factory=dict)

    @property
    def seconds(self) -> float:
        return (self.end - self.start) / FLICKS

    def part(self, lane: Lane) -> Lane:
        return lane.part(self.start, self.end)

    def shares(self, lane: Lane) -> list[float]:
        """When each key is, as a share of all; rising, what comes after a hold a little early."""
        times = (lane.times - self.start) / (self.end - self.start)
        early = EARLY * self.frame / (self.end - self.start)
        after_hold = np.concatenate(([False], lane.holds))
        shares = np.clip(np.where(after_hold & (times > 0), times - early, times), 0.0, 1.0)
        out = [float(x) for x in shares]
        for k in range(len(out) - 2, -1, -1):
            out[k] = max(0.0, min(out[k], out[k + 1] - early / 4))
        return out

    # --- CSS ---

    def css(self, prop: str, lane: Lane, said: Said) -> str:
        """An animation of a property; what goes into the list of ``animation``."""
        lane = self.part(lane)
        shares = self.shares(lane)
        digits = self._digits()
        rows = [(share, lane.rows[k], self._easing(lane, k)) for k, share in enumerate(shares)]
        if rows[0][0] > 0:
            rows.insert(0, (0.0, lane.rows[0], "steps(1)"))
        if rows[-1][0] < 1:
            rows[-1] = (rows[-1][0], rows[-1][1], "steps(1)")
            rows.append((1.0, lane.rows[-1], ""))
        frames = "".join(
            f"{short(share * 100, digits)}%{{{prop}:{said(row)}{f';animation-timing-function:{ease}' if ease else ''}}}"
            for share, row, ease in rows
        )
        name = self.rules.setdefault(frames, f"m{len(self.rules) + 1}")
        times = "infinite" if self.loops == 0 else short(self.loops)
        return f"{name} {short(self.seconds, 6)}s linear {times} both"

    def _digits(self) -> int:
        """Decimals of a share in per cent, finer than by how much jumps come early."""
        frames = (self.end - self.start) / self.frame
        return max(3, int(np.ceil(np.log10(frames * 10 / EARLY))) - 1)

    @staticmethod
    def _easing(lane: Lane, k: int) -> str:
        if k >= len(lane.eases):
            return ""
        if lane.holds[k]:
            return "steps(1)"
        if lane.even[k]:
            return ""
        return f"cubic-bezier({','.join(fine(float(x)) for x in lane.eases[k])})"

    def style(self) -> str:
        return "".join(f"@keyframes {name}{{{frames}}}" for frames, name in self.rules.items())

    # --- SMIL ---

    def smil(self, attribute: str, lane: Lane, said: Said, kind: str = "") -> str:
        """An animation element of an attribute, or of a transform of a kind."""
        lane = tamed(self.part(lane), self.frame)
        shares = self.shares(lane)
        rows = [(share, lane.rows[k], k) for k, share in enumerate(shares)]
        if rows[0][0] > 0:
            rows.insert(0, (0.0, lane.rows[0], -1))
        if rows[-1][0] < 1:
            rows.append((1.0, lane.rows[-1], -1))
        digits = self._digits() + 2
        values = ";".join(said(row) for _, row, _ in rows)
        times = ";".join(short(share, digits) for share, *_ in rows)
        common = f'values="{values}" keyTimes="{times}" {self._smil_time()}'
        splines = []
        for k in range(len(rows) - 1):
            n = rows[k][2]
            ease = lane.eases[n] if 0 <= n < len(lane.eases) and rows[k + 1][2] == n + 1 else np.array((0, 0, 1, 1))
            splines.append(" ".join(fine(float(x)) for x in np.clip(ease, 0, 1)))
        if lane.holds.all() and len(lane.eases):
            how = 'calcMode="discrete"'
        elif all(each in ("0 0 1 1", "0.333333 0.333333 0.666667 0.666667") for each in splines):
            how = 'calcMode="linear"'
        else:
            how = f'calcMode="spline" keySplines="{";".join(splines)}"'
        if kind:
            return f'<animateTransform attributeName="transform" type="{kind}" additive="sum" {common} {how}/>'
        return f'<animate attributeName="{attribute}" {common} {how}/>'

    def _smil_time(self) -> str:
        times = "indefinite" if self.loops == 0 else short(self.loops)
        return f'dur="{short(self.seconds, 6)}s" repeatCount="{times}" fill="freeze"'


def tamed(lane: Lane, frame: float) -> Lane:
    """A lane as SMIL's splines can say it: no ease past its ends, and either all of it holds or none."""
    if not lane.moves or lane.holds.all():
        return lane
    wild = (np.min(np.nan_to_num(lane.eases[:, [1, 3]], nan=0.5), axis=1) < 0) | (
        np.max(np.nan_to_num(lane.eases[:, [1, 3]], nan=0.5), axis=1) > 1
    )
    if not wild.any() and not lane.holds.any():
        return lane
    times: list[float] = [float(lane.times[0])]
    rows: list[Floats] = [lane.rows[0]]
    eases: list[tuple[float, ...]] = []
    for k, (a, b) in enumerate(pairwise(lane.times)):
        first, last = lane.rows[k], lane.rows[k + 1]
        if lane.holds[k]:
            # It has jumped a little before its moment: a player's own moment may lie a little before, too.
            early = min(EARLY * frame, (float(b) - float(a)) / 4)
            times += [float(b) - 2 * early, float(b) - early, float(b)]
            rows += [first, last, last]
            eases += [EVEN] * 3
        elif wild[k]:
            count = max(2, min(400, round(2 * (b - a) / frame)))
            part = Lane(np.array([a, b]), np.stack([first, last]), lane.eases[k : k + 1])
            for n in range(1, count + 1):
                at = a + (b - a) * n / count
                times.append(float(at))
                rows.append(last if n == count else part.part(float(a), float(at)).rows[-1])
                eases.append(EVEN)
        else:
            times.append(float(b))
            rows.append(last)
            eases.append(tuple(float(x) for x in lane.eases[k]))
    return Lane(np.array(times), np.array(rows), np.array(eases), lane.exact)


def by_frames(lane: Lane, clock: Clock) -> Lane:
    """A lane as it is at each frame, straight between them."""
    times = np.arange(clock.start, clock.end, clock.frame)
    rows = [lane.part(float(time), float(time) + 1).rows[0] for time in times]
    return Lane(times, np.array(rows), np.tile(np.array(EVEN), (len(times) - 1, 1)), False)


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


__all__ = ["EARLY", "Clock", "Said", "by_frames", "runs_lane", "tamed"]
