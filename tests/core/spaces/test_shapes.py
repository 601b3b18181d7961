"""Shapes by formula, over time, and free paths edited point by point."""

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.document.artwork import Contour, FreePath, Polygon, Rectangle, Star, outline_of
from deftarc.core.document.track import OutlineTrack
from deftarc.core.edit import EDIT, apply
from deftarc.core.evaluate import evaluate
from deftarc.core.spaces.outline import bounds_over_time
from tests.scenes import at, layer, numbers, project, scene

WAVE = FreePath(contours=(Contour(points=((0, 0, 0, 0, 20, -10), (60, 0, -20, 10, 20, -10), (120, 0, -20, 10, 0, 0))),))


def edited(before, kind, **fields):
    return apply(before, EDIT.validate_python({"kind": kind, "scene": "crossing", "layer": "wave", **fields}))


def wave(**tracks):
    return project(layer("Wave", artwork=WAVE, **tracks))


def drawn(p, time=0):
    found = p.scenes[0].layer("wave")
    track = found.track("outline")
    _, points = found.artwork.outline({"outline": np.array([track.at(time)])})
    return points[0]


def samples(points, count=40):
    u = np.linspace(0, 1, count)[:, None]
    out = []
    for k in range(0, len(points) - 1, 3):
        p0, p1, p2, p3 = points[k : k + 4]
        out.append((1 - u) ** 3 * p0 + 3 * (1 - u) ** 2 * u * p1 + 3 * (1 - u) * u**2 * p2 + u**3 * p3)
    return np.concatenate(out)


def test_a_fully_rounded_polygon_is_a_circle_as_near_as_cubics_come():
    _, points = Polygon(sides=6, outer=100, roundness=1).outline({})
    radii = np.hypot(*samples(points[0]).T)
    assert radii.min() == pytest.approx(100, rel=1e-4)
    assert radii.max() == pytest.approx(100, rel=1e-4)


def test_a_star_alternates_its_radii_with_a_point_straight_up():
    points = outline_of(Star(spikes=5, outer=100, inner=40)).points
    corners = points[3::3]
    assert points[0] == pytest.approx([0, -100], abs=1e-9)
    assert np.hypot(*corners.T) == pytest.approx([40, 100] * 5)


def test_the_number_of_points_may_change_over_time_while_the_verbs_stay():
    _, points = Star().outline({"spikes": np.array([3.0, 4.4, 7.0])})
    assert points.shape == (3, 1 + 3 * 14, 2)
    # Corners that are too many lie on the last one, which is the first.
    assert np.allclose(points[0, 1 + 3 * 6 :], points[0, 0])
    assert len(np.unique(np.round(points[2, 3::3], 6), axis=0)) == 14


def test_keyed_sizes_make_an_outline_for_each_frame_with_its_bounds():
    sign = layer(
        "Sign",
        artwork=Rectangle(width=100, height=50),
        width=numbers((0, 100), (10, 300)),
        radius=numbers((0, 0), (10, 25)),
    )
    item = evaluate(scene(sign), [0, at(5), at(10)]).leaves[0]
    verbs, points = item.outline.verbs[0], item.outline.grid
    assert verbs == "MLCLCLCLCZ"
    assert item.look["bounds"][1] == pytest.approx([-100, -25, 100, 25])
    assert points.shape == (3, 17, 2)


def test_bounds_over_time_hold_the_curve():
    verbs, points = WAVE.outline({})
    box = bounds_over_time(verbs, points)[0]
    spots = samples(points[0], 400)
    assert box[:2] == pytest.approx(spots.min(axis=0), abs=0.05)
    assert box[2:] == pytest.approx(spots.max(axis=0), abs=0.05)


def test_a_point_added_changes_no_shape_of_any_key():
    high = tuple(n * 2 for n in WAVE.numbers())
    track = OutlineTrack(
        value=WAVE.numbers(), keys=({"time": 0, "value": WAVE.numbers()}, {"time": at(10), "value": high})
    )
    before = wave(outline=track)
    after = edited(before, "add_point", after=0, share=0.3)
    assert len(after.scenes[0].layer("wave").artwork.numbers()) == 24
    for time in (0, at(4), at(10)):
        old, new = samples(drawn(before, time), 4000), samples(drawn(after, time), 4000)
        off = np.sqrt(((new[:, None] - old[None, ::10]) ** 2).sum(-1)).min(axis=1)
        assert off.max() < 0.6
    deleted = edited(after, "delete_points", points=[1])
    assert len(deleted.scenes[0].layer("wave").track("outline").keys[1].value) == 18


def test_points_and_handles_are_dragged_together_and_apart():
    p = edited(wave(), "drag_points", points=[1, 2], dx=5, dy=7)
    assert drawn(p)[3] == pytest.approx([65, 7])
    assert drawn(p)[0] == pytest.approx([0, 0])
    turned = edited(wave(), "drag_points", points=[1], part="leaving", dx=-20, dy=30)
    rows = np.array(turned.scenes[0].layer("wave").artwork.numbers()).reshape(-1, 6)
    assert rows[1, 4:] == pytest.approx([0, 20])
    assert rows[1, 2:4] == pytest.approx([0, -np.hypot(20, 10)])
    apart = edited(wave(), "drag_points", points=[1], part="leaving", dx=-20, dy=30, apart=True)
    assert np.array(apart.scenes[0].layer("wave").artwork.numbers()).reshape(-1, 6)[1, 2:4] == pytest.approx([-20, 10])


def test_points_are_rounded_straightened_closed_and_keyed():
    corner = edited(wave(), "round_points", points=[1], smooth=False)
    assert corner.scenes[0].layer("wave").artwork.numbers()[8:12] == (0, 0, 0, 0)
    smooth = edited(corner, "round_points", points=[1], smooth=True)
    assert smooth.scenes[0].layer("wave").artwork.numbers()[8:12] == pytest.approx((-20, 0, 20, 0))
    closed = edited(wave(), "close_contours", closed=True).scenes[0].layer("wave").artwork
    assert outline_of(closed).verbs == "MCCCZ"
    keyed = edited(wave(), "drag_points", points=[0], dx=9, dy=0, time=at(5), keying=True)
    assert keyed.scenes[0].layer("wave").track("outline").key_times == [at(5)]


@pytest.mark.parametrize(
    ("kind", "fields"),
    [
        ("drag_points", {"points": [9], "dx": 1, "dy": 1}),
        ("delete_points", {"points": [0, 1, 2]}),
        ("add_point", {"after": 2}),
        ("round_points", {"points": [44], "smooth": True}),
    ],
)
def test_points_that_are_not_there_are_refused(kind, fields):
    with pytest.raises(Refusal):
        edited(wave(), kind, **fields)


def test_only_a_free_path_has_points():
    with pytest.raises(Refusal, match="no points"):
        edited(project(layer("Wave")), "drag_points", points=[0], dx=1, dy=1)
