"""What goes on before the first key and after the last: as a fold of time onto the stretch of the keys.

Cycles are half-open, [first, last): at the last key's own moment the next turn begins. A count is the number of plays
in all, as in CSS's iteration-count, and may have a fraction; then the state there is held, as a forwards fill does
(Web Animations Level 1, *active time* and *iteration progress*).
"""

from collections.abc import Callable
from typing import Annotated, Literal, NamedTuple

import numpy as np
import numpy.typing as npt
from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Frozen, Moment, Number

#: What hold is, is told by nothing: it is what there is where nothing is told.
How = Literal["rest", "repeat", "alternate", "accumulate", "continue"]
CYCLES = ("repeat", "alternate", "accumulate")
#: No count goes further; a lane that plays for ever has none.
MOST_PLAYS = 1e9


class Beyond(Frozen):
    """How a lane goes on past its keys on one side."""

    how: How
    #: Plays in all, the keys' own among them; None is for ever.
    count: Annotated[float, Field(ge=1, le=MOST_PLAYS)] | None = None
    #: After the last key: the key at which what is played again begins. Before the first: the one at which it ends.
    #: None plays all keys again. The key nearest to it is meant.
    part: Moment | None = None
    #: Of rest: the value, in the property's core unit; empty is the one it has without keys.
    value: Annotated[tuple[Number, ...], Field(max_length=4)] = ()

    @property
    def cycles(self) -> bool:
        return self.how in CYCLES

    def through(self, to: Callable[[tuple[float, ...]], tuple[float, ...]]) -> "Beyond":
        """The same, with the value that is rested at put through a map."""
        return self.changed(value=to(self.value)) if self.value else self


class Fold(NamedTuple):
    """Moments (n,) as they lie within the keys: ``at`` there; ``turns`` that are to be added up; whether they run
    ``back``; flicks ``past`` an end that is continued; and −1 or 1 where the lane ``rests`` before or after its keys,
    2 where it holds the end of a count.
    """

    at: Floats
    turns: Floats
    back: npt.NDArray[np.bool_]
    past: Floats
    rests: npt.NDArray[np.int8]


def fold(times: Floats, first: int, last: int, before: Beyond | None, after: Beyond | None,
         begins: int, ends: int) -> Fold:  # fmt: skip
    """Moments folded onto [first, last]. What is played again after that is [begins, last), before it [first, ends)."""
    # What lies outside is left there: a curve holds its ends by itself, before any jump at them.
    at = np.array(times, np.float64)
    made = Fold(at, np.zeros(len(at)), np.zeros(len(at), bool), np.zeros(len(at)), np.zeros(len(at), np.int8))
    if after is not None:
        chosen = times >= last if after.cycles else times > last
        _after(made, times, chosen, last, after, begins)
    if before is not None:
        _before(made, times, times < first, first, before, ends)
    return made


def _after(made: Fold, times: Floats, chosen: npt.NDArray[np.bool_], last: int, after: Beyond, begins: int) -> None:
    if after.how == "rest":
        made.rests[chosen] = 1
    elif after.how == "continue":
        made.past[chosen] = times[chosen] - last
    elif last > begins:
        length = float(last - begins)
        gone = times[chosen] - last
        over = np.zeros(len(gone), bool)
        if after.count is not None:
            whole = (after.count - 1) * length
            over = gone >= whole
            gone = np.minimum(gone, whole)
        turn = np.floor(gone / length)
        into = gone - turn * length
        # The end of a count is the end of its turn, not the beginning of another.
        ended = over & (into == 0) & (gone > 0)
        turn, into = np.where(ended, turn - 1, turn), np.where(ended, length, into)
        still = over & (gone == 0)
        back = (turn % 2 == 0) & (after.how == "alternate") & ~still
        place = np.where(still, float(last), np.where(back, last - into, begins + into))
        made.at[chosen] = place
        made.back[chosen] = back
        made.turns[chosen] = np.where(still, 0.0, turn + 1) if after.how == "accumulate" else 0.0
        made.rests[chosen] = np.where(over, 2, 0)


def _before(made: Fold, times: Floats, chosen: npt.NDArray[np.bool_], first: int, before: Beyond, ends: int) -> None:
    if before.how == "rest":
        made.rests[chosen] = -1
    elif before.how == "continue":
        made.past[chosen] = times[chosen] - first
    elif ends > first:
        length = float(ends - first)
        gone = times[chosen] - first
        over = np.zeros(len(gone), bool)
        if before.count is not None:
            whole = (1 - before.count) * length
            over = gone < whole
            gone = np.maximum(gone, whole)
        turn = np.floor(gone / length)
        into = gone - turn * length
        back = (turn % 2 == 1) & (before.how == "alternate")
        place = np.where(back, ends - into, first + into)
        # Where it holds the beginning of a turn, no jump at its first key has been made yet.
        made.at[chosen] = np.where(over & (into == 0) & ~back, first - 1.0, place)
        made.back[chosen] = back
        made.turns[chosen] = turn if before.how == "accumulate" else 0.0
        made.rests[chosen] = np.where(over, 2, 0)
