"""Turning along the path and leaning into its curves."""

import math

import numpy as np
import pytest

from deftarc.core.document.keys import PathKey
from deftarc.core.document.track import PathTrack
from deftarc.core.edit import apply
from deftarc.core.edit.families import SetParent
from deftarc.core.edit.transform import MoveLayers, ScaleLayers, TurnLayers
from deftarc.core.evaluate import evaluate, heading_at, matrix_at, still
from deftarc.core.evaluate.turning import turned
from deftarc.core.spaces.points import point_at
from tests.scenes import at, floated, layer, numbers, positions, project, scene


def ring(radius=250.0, frames=79):
    """Once round a circle, clockwise from its right end, at one speed."""
    spots = [(radius * math.cos(a), radius * math.sin(a)) for a in np.linspace(0, 2 * math.pi, 17)]
    spots[-1] = spots[0]
    points = tuple(point_at(spot, 0.5) for spot in spots)
    keys = (PathKey(time=0, at=0.0), PathKey(time=at(frames), at=16.0))
    return PathTrack(value=spots[0], points=points, keys=keys, closed=True)


def degrees(matrix):
    return math.degrees(math.atan2(matrix[1, 0], matrix[0, 0]))


def test_the_heading_is_counted_on_round_whole_turns():
    times = np.linspace(1, at(79) - 1, 60)
    headings = ring().headings(times)
    assert headings[0] == pytest.approx(90, abs=1)
    assert headings[-1] == pytest.approx(450, abs=1)
    assert (np.diff(headings) > 0).all()


def test_half_the_share_turns_half_as_far_all_the_way():
    times = np.linspace(1, at(79) - 1, 60)
    half = turned(ring(), times, np.array([0.5]), np.zeros(1))
    assert half == pytest.approx(0.5 * ring().headings(times))


def test_a_layer_points_where_it_goes_with_its_rotation_as_offset():
    gull = layer("Gull", position=floated(), along=numbers(value=1.0), rotation=numbers(value=30.0))
    times = np.array([at(n) for n in range(1, 40)])
    table = evaluate(scene(gull), times)
    for time, matrix in zip(times, table.leaves[0].matrix, strict=True):
        assert degrees(matrix) == pytest.approx(30 + gull.position.headings(np.array([float(time)]))[0])
        # One moment alone is turned as it is among others.
        assert matrix_at(scene(gull), gull, int(time)) == pytest.approx(matrix)
    assert still(scene(gull), int(times[7])).leaves[0].matrix[0] == pytest.approx(table.leaves[0].matrix[7])


def test_it_is_keyed_on_and_off():
    gull = layer("Gull", position=floated(), along=numbers((0, 0, {"hold": True}), (20, 1)))
    before, after = (evaluate(scene(gull), [at(n)]).leaves[0].matrix[0] for n in (19, 21))
    assert degrees(before) == 0
    assert degrees(after) == pytest.approx(heading_at(scene(gull), gull, at(21)))
    assert abs(degrees(after)) > 1


def test_a_lean_balances_the_sideways_pull():
    # 1571 px round in 79 frames of 25 are 497 px/s, a pull of 497²/250 = 988 px/s².
    times = np.linspace(at(10), at(70), 30)
    lean = turned(ring(), times, np.zeros(1), np.array([1.0]))
    assert lean == pytest.approx(math.degrees(math.atan(497**2 / 250 / 1000)), abs=1.0)
    assert turned(ring(), times, np.zeros(1), np.array([-0.5])) == pytest.approx(-0.5 * lean)
    straight = positions((0, (0, 0)), (40, (900, 0)))
    assert not turned(straight, times[:9], np.zeros(1), np.ones(1)).any()


def test_what_rests_or_has_no_path_is_not_turned():
    assert not turned(positions((0, (5, 5))), np.array([0.0]), np.ones(1), np.ones(1)).any()
    gull = layer("Gull", along=numbers(value=1.0))
    assert matrix_at(scene(gull), gull, 0) == pytest.approx(np.eye(3))


def turning(**more):
    return project(
        layer("Gull", position=floated(), along=numbers(value=1.0), **more), layer("Mast", rotation=numbers(value=40.0))
    )


def test_turning_by_hand_changes_the_offset_and_shift_goes_by_what_is_seen():
    made = apply(turning(), TurnLayers(scene="crossing", layers=("gull",), degrees=17, time=at(20), constrain=True))
    gull = made.scenes[0].layer("gull")
    assert degrees(matrix_at(made.scenes[0], gull, at(20))) % 15 == pytest.approx(0, abs=1e-6) or degrees(
        matrix_at(made.scenes[0], gull, at(20))
    ) % 15 == pytest.approx(15, abs=1e-6)


def test_a_handle_scales_along_the_turned_sides():
    before = turning().scenes[0].layer("gull")
    matrix = matrix_at(turning().scenes[0], before, at(10))
    start, to = (tuple(float(n) for n in (matrix @ [x, 0, 1])[:2]) for x in (50, 100))
    free = turning(scale_x=numbers(value=1.0), scale_y=numbers(value=1.0))
    edit = ScaleLayers(scene="crossing", layers=("gull",), start=start, to=to, axes=(1, 0), time=at(10))
    gull = apply(free, edit).scenes[0].layer("gull")
    assert gull.number("scale_x").value == pytest.approx(2)
    assert gull.number("scale_y").value == pytest.approx(1)


def test_a_new_parent_keeps_the_picture_of_what_turns_along_its_path():
    before = turning()
    seen = evaluate(before.scenes[0], [at(15)]).leaf("gull").matrix[0]
    made = apply(before, SetParent(scene="crossing", layers=("gull",), parent="mast", time=at(15)))
    assert evaluate(made.scenes[0], [at(15)]).leaf("gull").matrix[0] == pytest.approx(seen)


def test_a_path_of_automatic_points_goes_through_what_squeezes_it_point_by_point():
    squeezing = layer("Mast", scale_x=numbers(value=2.0), scale_y=numbers(value=0.5), rotation=numbers(value=20.0))
    gull = layer("Gull", position=floated())
    before = project(squeezing, gull)
    made = apply(before, SetParent(scene="crossing", layers=("gull",), parent="mast", time=0))
    times = np.arange(0, at(40), at(1))
    one, other = (evaluate(p.scenes[0], times).leaf("gull").matrix[:, :2, 2] for p in (before, made))
    # Both ways are one: every spot of the one lies on the other, whatever a squeeze does to the pace between.
    fine = np.linspace(0, at(40), 6000)
    whole = gull.position.positions(fine)
    off = np.hypot(*(whole[:, None] - other[None]).transpose(2, 0, 1)).min(axis=0)
    assert off.max() < 0.05
    assert other[[0]] == pytest.approx(one[[0]])
    assert "automatic" not in {point.joint for point in made.scenes[0].layer("gull").position.points}


def test_what_is_loosely_moved_still_points_where_its_path_goes():
    before = turning()
    moved = apply(before, MoveLayers(scene="crossing", layers=("gull",), dx=30, dy=5, time=at(11)))
    gull = moved.scenes[0].layer("gull")
    assert gull.position.loose is not None
    shown = still(moved.scenes[0], at(11)).leaf("gull").matrix[0]
    assert degrees(shown) == pytest.approx(degrees(matrix_at(before.scenes[0], before.scenes[0].layer("gull"), at(11))))
    assert shown == pytest.approx(matrix_at(moved.scenes[0], gull, at(11)))
