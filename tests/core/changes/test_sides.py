"""Handles dragged and typed, joints chosen, sides bent, peaks moved: what each changes, and what it leaves."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.ease import ease_as_one, ease_segments, with_shape
from deftarc.core.changes.sides import (
    curved,
    kept_within,
    peak_of,
    side_at,
    speed_of,
    straightened,
    typed_reach,
    typed_speed,
    with_joint,
    with_peak,
    with_side,
)
from deftarc.core.curves.sides import Automatic, Steps
from tests.scenes import EASED, at, numbers, positions, side

SWING = numbers((0, 0), (25, 100, {"joint": "smooth", "arriving": side(0.4, 40), "leaving": side(0.2, 10)}), (50, 150))
FRAMES = np.linspace(at(0), at(50), 501)


def told(one):
    return one.reach, one.rise


def test_a_handle_dragged_takes_the_other_side_of_a_smooth_joint_along():
    made = with_side(SWING, 1, "leaving", 0.5, 30)
    # 60 a second now on both sides; the other reach stays.
    assert speed_of(made, 1, "leaving") == pytest.approx(60)
    assert told(made.keys[1].arriving) == pytest.approx((0.4, 24))


def test_broken_apart_the_other_side_stays():
    made = with_side(SWING, 1, "leaving", 0.5, 30, apart=True)
    assert made.keys[1].arriving == side(0.4, 40)
    assert made.keys[1].joint == "corner"


def test_a_handle_stays_within_its_segment_and_lets_time_run_on():
    wide = with_side(numbers((0, 0), (25, 9, {"arriving": side(1, 0)})), 0, "leaving", 5, 3)
    assert wide.keys[0].leaving.reach == 1
    with pytest.raises(Refusal, match="arrives at the first"):
        with_side(SWING, 0, "arriving", 0.3, 1)
    with pytest.raises(Refusal, match="in steps"):
        with_side(numbers((0, 0, {"hold": True}), (9, 1)), 0, "leaving", 0.3, 1)


def test_a_typed_speed_keeps_the_reach_and_a_typed_reach_the_speed():
    made = typed_speed(SWING, 1, "leaving", 200)
    assert told(made.keys[1].leaving) == pytest.approx((0.2, 40))
    again = typed_reach(made, 1, "leaving", 0.5)
    assert told(again.keys[1].leaving) == pytest.approx((0.5, 100))
    assert speed_of(again, 1, "leaving") == pytest.approx(200)
    none = typed_speed(numbers((0, 0, {"leaving": side(0, 0)}), (25, 100)), 0, "leaving", 50)
    assert told(none.keys[0].leaving) == pytest.approx((0.01, 0.5))
    with pytest.raises(Refusal, match="between 0 and 100"):
        typed_reach(SWING, 1, "leaving", 1.2)


def test_typed_speeds_are_the_curves_own_by_numeric_derivative():
    made = typed_speed(SWING, 1, "arriving", 130)
    before, after = made.curve.at([at(25) - 2000, at(25)])
    assert (after - before) / 2000 * 705_600_000 == pytest.approx(130, rel=1e-3)


def test_smooth_takes_the_mean_speed_weighted_by_duration():
    corner = numbers((0, 0), (25, 100), (75, 150))
    # 100 a second over one second, 25 over two: (100 + 50) / 3.
    made = with_joint(corner, 1, "smooth")
    assert [speed_of(made, 1, which) for which in ("arriving", "leaving")] == pytest.approx([50, 50])
    assert made.keys[1].arriving.reach == pytest.approx(1 / 3)


@settings(max_examples=50, deadline=None)
@given(st.floats(0.05, 0.9), st.floats(-60, 60), st.floats(0.05, 0.9), st.floats(-60, 60))
def test_corner_keeps_every_shape_and_automatic_made_smooth_keeps_its_own(a, la, b, lb):
    track = numbers((0, 0), (25, 100, {"arriving": side(b, lb), "leaving": side(a, la), "joint": "smooth"}), (50, 30))
    assert with_joint(track, 1, "corner").curve.at(FRAMES) == pytest.approx(track.curve.at(FRAMES))
    auto = with_joint(track, 1, "automatic", Automatic(bias=0.3, free=True))
    assert with_joint(auto, 1, "smooth").curve.at(FRAMES) == pytest.approx(auto.curve.at(FRAMES))
    assert with_joint(auto, 1, "corner").curve.at(FRAMES) == pytest.approx(auto.curve.at(FRAMES))


def test_bending_and_straightening_are_there_and_back():
    plain = numbers((0, 0), (25, 100), (50, 150))
    bent = curved(plain, 1)
    assert bent.keys[1].joint == "smooth"
    assert speed_of(bent, 1, "leaving") == speed_of(bent, 1, "arriving") == pytest.approx(75)
    assert straightened(bent, 1) == plain
    ends = curved(curved(plain, 0), 2)
    assert ends.keys[0].leaving == side(0.42, 0)
    assert ends.keys[2].arriving == side(0.42, 0)
    one = curved(plain, 1, ("leaving",))
    assert one.keys[1].arriving is None


def test_kept_within_once_only_the_rises_that_throw_it_past_change():
    track = numbers((0, 0, {"leaving": side(0.3, 200)}), (25, 100, {"arriving": side(0.4, 0)}), (50, 150, {}))
    made = kept_within(track, [0, 1])
    assert made.curve.at(FRAMES).max() <= 150 + 1e-9
    assert made.keys[0].leaving.reach == 0.3
    assert made.keys[1].arriving == side(0.4, 0)
    assert made.keys[2] == track.keys[2]
    assert kept_within(made, [0]) == made


@pytest.mark.parametrize("to", [0.2, 0.5, 0.7])
def test_the_peak_of_speed_goes_where_it_is_dragged(to):
    track = numbers((0, 0, EASED[0]), (50, 100, EASED[1]))
    made = with_peak(track, 0, to)
    assert peak_of(made.curve, 0) == pytest.approx(to, abs=0.01)
    assert speed_of(made, 0, "leaving") == speed_of(made, 1, "arriving") == 0
    speed = made.curve.speed(FRAMES)
    assert FRAMES[speed.argmax()] / at(50) == pytest.approx(to, abs=0.02)


def test_straight_ways_and_steps_have_no_peak():
    assert peak_of(numbers((0, 0), (50, 100)).curve, 0) is None
    assert peak_of(numbers((0, 0, {"hold": True}), (50, 100)).curve, 0) is None


def test_one_side_can_be_eased_and_the_other_left():
    track = numbers((0, 0, {"leaving": side(0.2, 50)}), (50, 100, {"arriving": side(0.3, 9)}))
    made = ease_segments(track, [0], "slow-ends", 100, "arriving")
    assert made.keys[0].leaving == side(0.2, 50)
    assert made.keys[1].arriving == side(1, 0)
    assert ease_segments(made, [0], "straight", 50, "leaving").keys[0].leaving is None


def test_steps_of_n_and_the_ease_after_them():
    made = ease_segments(numbers((0, 0), (50, 100)), [0], "steps", 50, steps=Steps(count=5, jump="both"))
    assert made.keys[0].steps == Steps(count=5, jump="both")
    assert ease_segments(made, [0], "straight", 50).keys[0].steps is None


def test_as_one_a_run_moves_just_as_the_one_ease():
    run = numbers((0, 0), (5, 20), (30, 70), (50, 100))
    for name in ("slow-ends", "slow-start", "overshoot", "straight"):
        made = ease_as_one(run, 0, 3, name, 50)
        whole = ease_segments(numbers((0, 0), (50, 100)), [0], name, 50)
        assert made.curve.at(FRAMES) == pytest.approx(whole.curve.at(FRAMES), abs=1e-5)
        assert [key.value for key in made.keys] == [0, 20, 70, 100]
        assert made.keys[0].time == 0
        assert made.keys[3].time == at(50)


def test_as_one_along_a_path_passes_its_points_in_one_sweep():
    run = positions((0, (0, 0)), (10, (300, 0)), (50, (300, 400)))
    made = ease_as_one(run, 0, 2, "slow-ends", 50)
    assert made.spots == run.spots
    assert made.curve.speed([made.keys[1].time - 50])[0] == pytest.approx(
        made.curve.speed([made.keys[1].time])[0], rel=1e-3
    )


def test_as_one_refuses_what_goes_back_and_steps():
    with pytest.raises(Refusal, match="one way"):
        ease_as_one(numbers((0, 0), (10, 50), (20, 20)), 0, 2, "slow-ends", 50)
    with pytest.raises(Refusal, match="each segment"):
        ease_as_one(numbers((0, 0), (10, 50), (20, 70)), 0, 2, "hold", 50)


def test_a_shape_laid_on_a_path_makes_pace_keys_and_leaves_its_points():
    from deftarc.core.changes.css import parse_easing

    track = with_shape(positions((0, (0, 0)), (50, (200, 0))), 0, parse_easing("linear(0, 0.8 20%, 0.6 60%, 1)"))
    assert track.spots == ((0, 0), (200, 0))
    assert track.positions([at(10), at(30)])[:, 0] == pytest.approx([160, 120])


def test_side_at_reads_straight_and_automatic_sides_as_the_curve_has_them():
    track = numbers((0, 0), (25, 100, {"joint": "automatic"}), (50, 150))
    assert told(side_at(track, 0, "leaving")) == pytest.approx((1 / 3, 100 / 3))
    assert told(side_at(track, 1, "leaving")) == pytest.approx((1 / 3, 25))
