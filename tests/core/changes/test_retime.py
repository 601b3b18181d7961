"""Whole motions in time, axes to read positions in, and reciprocal scales."""

import numpy as np
import pytest

from deftarc.core.arrange.axes import position_from, position_in, positions_in
from deftarc.core.arrange.family import members, taken_apart
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import linear_part
from deftarc.core.changes.retime import keys_outside, motion_retimed, shifted_span, span_of, track_retimed
from deftarc.core.document.keys import LooseNumber
from tests.scenes import EASED, at, gull, layer, numbers, positions, scene


def test_a_motion_moved_in_time_plays_the_same_later():
    track = gull().position
    later = track_retimed(track, lambda time: time + at(7))
    for frame in (0, 13, 50):
        assert later.value_at(at(frame + 7)) == pytest.approx(track.value_at(at(frame)))


def test_a_motion_stretched_keeps_its_shape():
    track = numbers((0, 0, EASED[0]), (40, 90, EASED[1]))
    slow = track_retimed(track, lambda time: 2 * time)
    for frame in (0, 9, 31, 40):
        assert slow.value_at(at(2 * frame)) == pytest.approx(track.value_at(at(frame)))


def test_a_loose_value_goes_along_and_the_span_stays():
    moved = layer("Gull", rotation=numbers((0, 0), (9, 9)).changed(loose=LooseNumber(time=at(3), value=5)))
    after = motion_retimed(moved, lambda time: time + at(2))
    assert after.track("rotation").loose.time == at(5)
    assert (after.start, after.end) == (0, None)


def test_keys_never_fall_together_nor_out_of_time():
    with pytest.raises(Refusal, match="same moment"):
        track_retimed(numbers((0, 0), (1, 1)), lambda time: 0)
    with pytest.raises(Refusal, match="24 hours"):
        track_retimed(numbers((0, 0)), lambda time: 25 * 3600 * 705_600_000)


@pytest.mark.parametrize(("start", "end", "span"), [(0, None, (0, 100)), (5, 20, (5, 20)), (-8, 3, (-8, 3))])
def test_an_open_end_is_the_scenes(start, end, span):
    made = layer("A").changed(start=at(start), end=None if end is None else at(end))
    assert span_of(made, at(100)) == tuple(at(frame) for frame in span)


def test_a_layer_that_starts_after_the_scene_still_has_a_span():
    first, last = span_of(layer("A").changed(start=at(120)), at(100))
    assert last > first


def test_a_span_moves_and_an_open_end_stays_open():
    assert shifted_span(layer("A"), at(3)).end is None
    closed = shifted_span(layer("A").changed(end=at(9)), -at(3))
    assert (closed.start, closed.end) == (-at(3), at(6))


def test_a_key_at_the_very_end_of_a_span_is_inside():
    made = layer("A", rotation=numbers((0, 0), (20, 9))).changed(end=at(20))
    assert keys_outside(made, at(100)) == []
    assert keys_outside(made.changed(end=at(19)), at(100)) == [at(20)]


def carried():
    mast = layer(
        "Mast", position=positions(value=(100, 50)), rotation=numbers((0, 0), (20, 90)), scale=numbers(value=2)
    )
    flag = layer("Flag", position=positions((0, (0, 0)), (20, (60, 0))), rotation=numbers(value=30)).changed(
        parent="mast"
    )
    return scene(flag, mast)


@pytest.mark.parametrize("axes", ["own", "parent", "scene"])
def test_positions_told_in_axes_and_taken_back_are_the_same(axes):
    made = carried()
    flag = made.layer("flag")
    told = position_in(made, flag, (12, -7), axes, at(10))
    assert position_from(made, flag, told, axes, at(10)) == pytest.approx((12, -7))


def test_positions_over_time_agree_with_those_of_single_moments():
    from deftarc.core.evaluate import Evaluator

    made = carried()
    flag = made.layer("flag")
    times = np.array([0, at(7), at(20)])
    evaluator = Evaluator()
    values = evaluator.values(made, "flag", times)
    world = evaluator.table(made, times).worlds["mast"]
    for axes in ("own", "parent", "scene"):
        rows = positions_in(values["position"], world, values["rotation"][:, 0], axes)
        for time, row in zip(times, rows, strict=True):
            spot = flag.position.value_at(float(time))
            assert row == pytest.approx(position_in(made, flag, spot, axes, int(time)), abs=1e-9)


@pytest.mark.parametrize("degrees", [-370, -20, 0, 95, 725])
@pytest.mark.parametrize("scale", [(1.5, 0.5), (-2, 1), (1, -0.3)])
def test_a_matrix_is_taken_apart_near_the_turns_it_had(degrees, scale):
    linear = linear_part(degrees, 14, 5) @ np.diag(scale)
    rotation, skew, sx, sy = taken_apart(linear, 5, (degrees + 20, scale[0]))
    assert (rotation, skew, sx, sy) == pytest.approx((degrees, 14, *scale))


def test_a_matrix_of_nothing_has_no_direction():
    with pytest.raises(Refusal, match="scaled to nothing"):
        taken_apart(np.zeros((2, 2)), 0, (0, 1))


def test_members_are_all_that_is_carried_however_far_down():
    made = scene(layer("A").changed(parent="b"), layer("B").changed(parent="c"), layer("C"), layer("D"))
    assert [each.id for each in members(made, "c")] == ["a", "b"]
