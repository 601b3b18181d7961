"""Stretch: longer along the way, thinner across, the area kept, the artwork not turned."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from deftarc.core.edit import apply
from deftarc.core.edit.families import SetParent
from deftarc.core.edit.later import LayRelations, StretchLayers
from deftarc.core.edit.transform import MovePivot
from deftarc.core.evaluate import evaluate, frame_times
from tests.scenes import at, floated, layer, numbers, positions, project, scene


def ball(amount=0.5, limit=4.0, smooth=0.0, **tracks):
    told = {"stretch": amount, "stretch_limit": limit, "stretch_smooth": smooth}
    return layer("Ball", **{name: numbers(value=value) for name, value in told.items()}, **tracks)


def bare(found):
    return found.changed(tracks={n: t for n, t in found.tracks.items() if not n.startswith("stretch")})


def by(found, *more, times):
    """What a stretch does to a layer's matrices."""
    one, other = (evaluate(scene(each, *more), times).worlds["ball"] for each in (found, bare(found)))
    one, other = (np.broadcast_to(each, (len(times), 3, 3))[:, :2, :2] for each in (one, other))
    return one @ np.linalg.inv(other)


@given(
    way=st.floats(-180, 180), far=st.floats(20, 2000), amount=st.floats(-3, 3), turned=st.floats(-720, 720),
    limit=st.floats(1.05, 6),
)  # fmt: skip
def test_the_area_is_kept_and_the_longest_line_lies_along_the_way(way, far, amount, turned, limit):
    to = (far * np.cos(np.deg2rad(way)), far * np.sin(np.deg2rad(way)))
    found = ball(amount, limit, position=positions((0, (0, 0)), (25, to)), rotation=numbers(value=turned))
    told = by(found, times=[at(10)])[0]
    assert np.linalg.det(told) == pytest.approx(1, abs=1e-9)
    along = np.array(to) / far
    # The logarithm of the length is L·tanh(amount·speed / 1000 L), L that of the limit; the way takes a second.
    most = np.log(limit)
    assert told @ along == pytest.approx(along * np.exp(most * np.tanh(amount * far / 1000 / most)), rel=1e-6)


def test_at_rest_it_is_itself_and_the_faster_the_longer():
    gull = ball(position=floated())
    times = np.array([3, 12, 20, 33, 39]) * at(1)
    speeds = np.abs(gull.position.curve.speed(times))
    lengths = np.linalg.svd(by(gull, times=times))[1][:, 0]
    assert (np.argsort(lengths) == np.argsort(speeds)).all()
    assert by(gull, times=[at(70)])[0] == pytest.approx(np.eye(2), abs=1e-9)


def test_smoothed_it_goes_by_the_mean_speed_over_a_while():
    # Down and up again: at the contact the mean of a while about it is nought.
    gull = ball(0.5, smooth=0.2, position=positions((0, (0, 0)), (25, (0, 500)), (50, (0, 0))))
    assert by(gull, times=[at(25)])[0] == pytest.approx(np.eye(2), abs=1e-9)
    assert by(gull, times=[at(10)])[0, 1, 1] > 1.2


def test_its_numbers_are_keyed():
    amounts = numbers((0, 0), (20, 1))
    gull = ball(position=positions((0, (0, 0)), (50, (500, 0))))
    gull = gull.changed(tracks={**gull.tracks, "stretch": amounts})
    told = by(gull, times=np.array([0, 10, 20]) * at(1))[:, 0, 0]
    assert told[0] == pytest.approx(1)
    assert told[0] < told[1] < told[2]


def test_what_is_carried_stretches_along_its_way_through_the_scene():
    ferry = layer("Ferry", position=positions((0, (0, 0)), (50, (800, 0))), rotation=numbers((0, 0), (50, 40)))
    gull = ball(0.5, position=positions(value=(30, 0))).changed(parent="ferry")
    times = [at(20)]
    told = by(gull, ferry, times=times)[0]
    steps = evaluate(scene(gull, ferry), [at(20), at(20) + 200_000]).worlds["ball"][:, :2, 2]
    way = steps[1] - steps[0]
    x, y = told @ way
    assert x * way[1] - y * way[0] == pytest.approx(0, abs=1e-4 * float(way @ way))
    assert np.linalg.det(told) == pytest.approx(1, abs=1e-9)


def test_a_new_parent_and_a_moved_pivot_keep_its_picture():
    raft = layer("Raft", rotation=numbers(value=30.0), scale=numbers(value=1.5))
    gull = ball(0.5, position=positions((0, (0, 0)), (50, (500, 90))), rotation=numbers(value=20.0))
    before = project(gull, raft)
    seen = evaluate(before.scenes[0], [at(20)]).leaf("ball").matrix[0]
    for edit in (
        SetParent(scene="crossing", layers=("ball",), parent="raft", time=at(20)),
        MovePivot(scene="crossing", layers=("ball",), own=(20, -9), time=at(20)),
    ):
        made = apply(before, edit)
        assert evaluate(made.scenes[0], [at(20)]).leaf("ball").matrix[0] == pytest.approx(seen, abs=1e-6)


def test_it_is_switched_on_and_off():
    before = project(layer("Ball", position=floated()))
    made = apply(before, StretchLayers(scene="crossing", layers=("ball",), amount=0.8))
    found = made.scenes[0].layer("ball")
    assert [found.number(n).value for n in ("stretch", "stretch_limit", "stretch_smooth")] == [0.8, 2.0, 0.04]
    assert apply(made, StretchLayers(scene="crossing", layers=("ball",), on=False)).scenes[0] == before.scenes[0]


def test_made_into_keys_it_shows_the_same():
    gull = ball(0.6, smooth=0.1, position=floated(), rotation=numbers((0, 0), (40, 30)), scale=numbers(value=1.3))
    before = project(gull)
    made = apply(before, LayRelations(scene="crossing", layers=("ball",), what="stretch"))
    found = made.scenes[0].layer("ball")
    assert not found.stretches
    assert found.scale_link == "free"
    times = frame_times(made.scenes[0])[:60]
    one, other = (evaluate(p.scenes[0], times).leaf("ball").matrix for p in (before, made))
    corners = np.array([[-50, -30, 1], [50, 30, 1], [50, -30, 1]])
    assert np.abs((one - other) @ corners.T).max() < 0.3
