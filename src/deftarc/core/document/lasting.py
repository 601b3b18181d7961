"""A lane's motion at any time: within its keys as its curve says, before and after them as is told of that."""

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING, Any

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Kinded
from deftarc.core.base.time import FLICKS
from deftarc.core.curves.beyond import Beyond, Fold, fold
from deftarc.core.curves.curve import TimeCurve

#: Nothing that adds up, or goes on at its speed, goes further than this, in the measure's unit.
FURTHEST = 1e7
#: Of what plays again without end so many jumps are looked for.
MOST_JUMPS = 100_000


class Lasting(Kinded):
    """What has keys, and goes on past them."""

    #: What goes on before the first key and after the last; None is a hold.
    before: Beyond | None = None
    after: Beyond | None = None

    if TYPE_CHECKING:
        keys: Any

        @cached_property
        def key_times(self) -> list[int]: ...
        @property
        def curve(self) -> TimeCurve: ...
        def measures(self) -> Floats: ...
        def sampled(self, times: Floats, measures: Floats) -> Floats: ...
        def resting(self) -> tuple[float, ...]: ...

    def going_on(self, to: Callable[[tuple[float, ...]], tuple[float, ...]]) -> dict[str, Beyond | None]:
        """What goes on before and after, as fields, with what is rested at put through a map of values."""
        told = {"before": self.before, "after": self.after}
        return {side: each.through(to) if each is not None else None for side, each in told.items()}

    @property
    def lasts(self) -> bool:
        """Whether anything but a hold lies before its keys or after them."""
        return (self.before is not None or self.after is not None) and bool(self.keys)

    def cycle(self, side: str) -> tuple[int, int]:
        """The indices of the keys at which what is played again on a side begins and ends."""
        told = self.after if side == "after" else self.before
        last = len(self.keys) - 1
        if told is None or told.part is None:
            return 0, last
        part = told.part
        near = min(range(len(self.keys)), key=lambda k: abs(self.keys[k].time - part))
        return (min(near, max(last - 1, 0)), last) if side == "after" else (0, max(near, min(1, last)))

    @property
    def period(self) -> int | None:
        """How long a turn takes, in flicks, there and back where it alternates; None where it does not cycle."""
        side = "after" if self.after is not None and self.after.cycles else "before"
        told = getattr(self, side)
        if told is None or not told.cycles or len(self.keys) < 2:
            return None
        a, b = self.cycle(side)
        turn: int = self.keys[b].time - self.keys[a].time
        return 2 * turn if told.how == "alternate" else turn

    def folded(self, times: Floats) -> Fold:
        """Moments (n,) in flicks as they lie within the keys."""
        all_times = self.key_times
        begins, ends = all_times[self.cycle("after")[0]], all_times[self.cycle("before")[1]]
        return fold(times, all_times[0], all_times[-1], self.before, self.after, begins, ends)

    def motion(self, times: Floats) -> Floats:
        """The values (n, components) at any times (n,) in flicks, loose ones left out. It has keys."""
        if not self.lasts:
            return self.sampled(times, self.curve.at(times))
        told = self.folded(times)
        out = np.array(np.broadcast_to(self.sampled(told.at, self._continued(told)), (len(times), self.width)))
        for side, chosen in (("before", told.turns < 0), ("after", told.turns > 0)):
            if chosen.any():
                out[chosen] = self._added(out[chosen], side, told.turns[chosen])
        for where, beyond in ((-1, self.before), (1, self.after)):
            chosen = told.rests == where
            if beyond is not None and chosen.any():
                out[chosen] = beyond.value or self.resting()
        return out

    def jumps(self, first: float, last: float) -> Floats:
        """Rising moments in flicks from ``first`` to ``last`` at which its value may jump: ends of holds, steps, seams
        of what plays again and of what it rests at.
        """
        curve, ends = self.curve, self.key_times
        inside: list[Floats] = []
        for k in np.flatnonzero(curve.steps[:, 0] > 0).tolist():
            count = int(curve.steps[k, 0])
            inside.append(curve.times[k] + np.ceil(float(curve.duration[k]) * np.arange(count + 1) / count))
        base = np.unique(np.concatenate(inside)) if inside else np.empty(0)
        out = [base]
        for side, beyond in (("before", self.before), ("after", self.after)):
            if beyond is None:
                continue
            edge = float(ends[-1] if side == "after" else ends[0])
            # At the last key's own moment its value is still there.
            out.append(np.array([edge + (beyond.how == "rest" and side == "after")]))
            a, b = (float(ends[n]) for n in self.cycle(side))
            if not beyond.cycles or b <= a:
                continue
            length, away = b - a, max(0.0, last - edge if side == "after" else edge - first)
            turns = np.arange(min(np.ceil(away / length), MOST_JUMPS / (len(base) + 1)))
            again = base[(base >= a) & (base <= b)]
            starts = edge + turns * length if side == "after" else edge - (turns + 1) * length
            if beyond.how == "alternate":
                # Every other turn goes backwards, where what jumped at a moment does so just after it.
                out += [np.add.outer(starts[::2], b - again + 1).ravel(), np.add.outer(starts[1::2], again - a).ravel()]
            else:
                out += [starts, np.add.outer(starts, again - a).ravel()]
        found = np.unique(np.concatenate(out))
        return found[(found >= first) & (found <= last)]

    def on_one_side(self, times: Floats, shown: Floats) -> Floats:
        """Moments (n,), each brought so near to another one (n,) that the value jumps nowhere between the two."""
        jumps = self.jumps(min(times.min(), shown.min()), max(times.max(), shown.max())) if len(times) else times
        if not len(jumps):
            return times
        bounds = np.concatenate(([-np.inf], jumps, [np.inf]))
        k = np.searchsorted(jumps, shown, side="right")
        return np.clip(times, bounds[k], np.maximum(bounds[k + 1] - 1, shown))

    @property
    def width(self) -> int:
        """Numbers a value has."""
        return len(self.resting())

    def _continued(self, told: Fold) -> Floats:
        """The measures at folded moments; past an end that is continued, at its speed."""
        measures = self.curve.at(told.at)
        if not told.past.any():
            return measures
        further = self._end_speeds(told) * told.past / FLICKS
        return np.asarray(measures + np.clip(further, -FURTHEST, FURTHEST))

    def _end_speeds(self, fold: Fold) -> Floats:
        """The speed at which each of some folded moments goes on where it is past an end that is continued."""
        ends = self.curve.speed(np.array(self.key_times, np.float64)[[0, -1]])
        speed = np.where(fold.past < 0, ends[0], ends[1])
        return np.asarray(np.where(np.isfinite(speed), speed, 0.0))

    def _added(self, values: Floats, side: str, turns: Floats) -> Floats:
        """Values (n, components) with what so many turns (n,) of a cycle have added up to."""
        times = np.array(self.key_times, np.float64)[list(self.cycle(side))]
        one, other = self.sampled(times, self.measures()[list(self.cycle(side))])
        return np.asarray(values + np.clip((other - one) * turns[:, None], -FURTHEST, FURTHEST))

    def drawn(self, times: Floats) -> Floats:
        """The measures (n,) at any times as they are drawn: what adds up goes on from turn to turn."""
        if not self.lasts:
            return self.curve.at(times)
        told = self.folded(times)
        out = np.array(self._continued(told))
        measures = self.measures()
        for side, chosen in (("before", told.turns < 0), ("after", told.turns > 0)):
            if chosen.any():
                a, b = self.cycle(side)
                out[chosen] += np.clip((measures[b] - measures[a]) * told.turns[chosen], -FURTHEST, FURTHEST)
        return out

    def speeds(self, times: Floats) -> Floats:
        """dm/dt in measure units per second (n,) at any times: what runs back has it the other way round."""
        if not self.lasts:
            return self.curve.speed(times)
        told = self.folded(times)
        out = self.curve.speed(told.at)
        out = np.where(told.back, -out, out)
        out = np.where(told.rests != 0, 0.0, out)
        return np.asarray(np.where(told.past != 0, self._end_speeds(told), out))
