"""Steps against the words of CSS Easing Functions Level 1, worked by hand; and keys put into them."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.changes.insert import insert_key
from deftarc.core.curves.curve import sample_many
from deftarc.core.curves.sides import Steps
from tests.scenes import at, numbers


def stepped(count, jump, frames=12, start=0.0, end=100.0):
    return numbers((0, start, {"steps": Steps(count=count, jump=jump)}), (frames, end), (20, end))


# At 0, a quarter, half, three quarters and just before the end, of a change of 100.
@pytest.mark.parametrize(
    ("count", "jump", "values"),
    [
        (4, "end", [0, 25, 50, 75, 75]),
        (4, "start", [25, 50, 75, 100, 100]),
        (4, "none", [0, 100 / 3, 200 / 3, 100, 100]),
        (4, "both", [20, 40, 60, 80, 80]),
        (1, "end", [0, 0, 0, 0, 0]),
        (1, "start", [100, 100, 100, 100, 100]),
        (1, "both", [50, 50, 50, 50, 50]),
        (2, "none", [0, 0, 100, 100, 100]),
    ],
)
def test_each_jump_stands_where_the_standard_puts_it(count, jump, values):
    curve = stepped(count, jump).curve
    assert curve.at([at(0), at(3), at(6), at(9), at(12) - 1]) == pytest.approx(values)
    assert curve.at([at(12)])[0] == 100
    assert not curve.speed([at(0), at(5), at(11)]).any()


@given(st.integers(1, 40), st.sampled_from(["start", "end", "both"]), st.integers(1, 2000))
def test_a_jump_is_never_a_sample_late(count, jump, duration):
    """The jump of part n falls exactly at n/count of the time, however that divides."""
    track = numbers((0, 0.0, {"steps": Steps(count=count, jump=jump)}), (duration, 1.0))
    times = [-(-n * at(duration) // count) for n in range(1, count)]
    curve = track.curve
    first, jumps = {"start": (1, count), "end": (0, count), "both": (1, count + 1)}[jump]
    assert curve.at(times) == pytest.approx([(n + first) / jumps for n in range(1, count)])
    before = curve.at([t - 1 for t in times])
    assert before == pytest.approx([(n - 1 + first) / jumps for n in range(1, count)])


def test_steps_go_down_as_they_go_up():
    assert stepped(4, "end", start=80, end=0).curve.at([at(3)])[0] == 60


def test_steps_that_jump_at_neither_end_are_two_at_least():
    with pytest.raises(ValueError, match="two at least"):
        Steps(count=1, jump="none")


@settings(max_examples=60, deadline=None)
@given(st.integers(1, 7), st.sampled_from(["start", "end", "none", "both"]), st.integers(1, 13))
def test_a_key_put_into_steps_changes_no_frame(count, jump, frame):
    if jump == "none" and count == 1:
        return
    track = numbers((-4, 30.0), (0, 10.0, {"steps": Steps(count=count, jump=jump)}), (14, 80.0), (20, 0.0))
    made = insert_key(track, at(frame))
    assert at(frame) in made.key_times or frame == 14
    times = np.arange(at(-4), at(20), at(1) // 4)
    assert made.curve.at(times) == pytest.approx(track.curve.at(times))


def test_many_curves_at_once_step_as_each_alone():
    curves = [stepped(n, jump).curve for n in (1, 3, 5) for jump in ("start", "end", "both")]
    times = np.arange(at(-3), at(25), at(1) // 3)
    together = sample_many(curves, times)
    for curve, row in zip(curves, together, strict=True):
        assert row == pytest.approx(curve.at(times))
