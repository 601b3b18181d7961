"""Bent paths: their lengths, positions and directions by distance, and how they go through their points."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from deftarc.core.spaces import arc
from deftarc.core.spaces.bends import handles_of, path_of, split
from deftarc.core.spaces.points import PathPoint, point_at
from tests.scenes import at, floated

FAR = st.floats(-1000, 1000, allow_nan=False)
ARM = st.tuples(st.floats(-600, 600), st.floats(-600, 600))


@st.composite
def rows(draw, least=2, most=6):
    """Rows of points of all kinds."""
    out = []
    for _ in range(draw(st.integers(least, most))):
        joint = draw(st.sampled_from(["straight", "corner", "smooth", "automatic"]))
        x, y = draw(FAR), draw(FAR)
        if joint in ("straight", "automatic"):
            out.append(PathPoint(x=x, y=y, joint=joint, roundness=draw(st.floats(0, 1))))
            continue
        arriving = draw(ARM)
        leaving = tuple(-1.5 * n for n in arriving) if joint == "smooth" else draw(ARM)
        out.append(PathPoint(x=x, y=y, joint=joint, arriving=arriving, leaving=leaving))
    return out


def by_quadrature(controls, u=1.0):
    """The length of a Bézier up to u, by another library's adaptive quadrature, told where the curve may turn back:
    a short turn between its nodes it would step over.
    """
    p = np.asarray(controls)
    d0, d1, d2 = np.diff(p, axis=0)
    turns = [root.real for axis in (0, 1) for root in np.roots([d0[axis] - 2 * d1[axis] + d2[axis], 2 * (d1[axis] - d0[axis]), d0[axis]])
             if abs(root.imag) < 1e-9 and 0 < root.real < u]  # fmt: skip

    def speed(t):
        d = 3 * ((p[1] - p[0]) * (1 - t) ** 2 + 2 * (p[2] - p[1]) * t * (1 - t) + (p[3] - p[2]) * t * t)
        return math.hypot(*d)

    return quad(speed, 0, u, limit=400, epsabs=1e-7, points=sorted(turns) or None)[0]


@settings(max_examples=60, deadline=None)
@given(rows())
def test_lengths_are_those_of_numeric_quadrature(points):
    path = path_of(points)
    due = [by_quadrature(c) for c in path.controls]
    assert np.diff(path.lengths) == pytest.approx(due, abs=1e-3)


@settings(max_examples=60, deadline=None)
@given(rows(), st.lists(st.floats(0, 1), min_size=1, max_size=8))
def test_a_distance_lies_where_quadrature_finds_it(points, shares):
    path = path_of(points)
    distance = np.sort(np.array(shares)) * path.lengths[-1]
    first, last = np.zeros(len(distance), int), np.full(len(distance), len(points) - 2)
    spots = path.position(distance, first, last)
    for d, spot in zip(distance, spots, strict=True):
        k = int(np.clip(np.searchsorted(path.lengths, d, side="right") - 1, 0, len(points) - 2))
        u = path.parameter_at(k, (d - path.lengths[k]) / max(path.lengths[k + 1] - path.lengths[k], 1e-12))
        if path.bent[k]:
            assert by_quadrature(path.controls[k], u) == pytest.approx(d - path.lengths[k], abs=1e-3)
            c, v = path.controls[k], 1 - u
            there = v**3 * c[0] + 3 * v * v * u * c[1] + 3 * v * u * u * c[2] + u**3 * c[3]
        else:
            there = path.points[k] + (path.points[k + 1] - path.points[k]) * u
        assert spot == pytest.approx(there, abs=1e-3)


def test_a_cusp_is_measured_as_exactly_as_a_calm_span():
    # The control polygon crosses itself so that the curve stops and turns back half-way.
    cusp = [
        PathPoint(x=0, y=0, joint="corner", leaving=(300, 200)),
        PathPoint(x=300, y=0, joint="corner", arriving=(-300, 200)),
    ]
    path = path_of(cusp)
    assert path.lengths[-1] == pytest.approx(by_quadrature(path.controls[0]), abs=1e-6)


def test_automatic_points_at_half_roundness_follow_the_circle_through_them():
    spots = [(100 * math.cos(a), 100 * math.sin(a)) for a in np.linspace(0, 2 * math.pi, 9)]
    spots[-1] = spots[0]
    path = path_of([point_at(spot, 0.5) for spot in spots], closed=True)
    ends = np.zeros(200, int)
    round_trip = path.position(np.linspace(0, path.lengths[-1], 200), ends, ends + 7)
    assert np.hypot(*round_trip.T) == pytest.approx(100, abs=0.8)
    # Every tangent is the circle's own, at the seam too.
    assert path.directions[0, 0] == pytest.approx([0, 1], abs=1e-9)
    assert path.directions[-1, 1] == pytest.approx([0, 1], abs=1e-9)


def test_uneven_neighbours_still_give_the_circles_tangent():
    angles = (0.2, 0.9, 2.3)
    spots = np.array([(50 * math.cos(a), 50 * math.sin(a)) for a in angles])
    handles = handles_of([point_at(spot, 0.5) for spot in spots], spots)
    leaving = handles[1, 2:]
    tangent = np.array([-math.sin(0.9), math.cos(0.9)])
    assert leaving / np.hypot(*leaving) == pytest.approx(tangent)
    # At half roundness a third of each span, at full roundness twice that, at nought none.
    sizes = np.hypot(*np.diff(spots, axis=0).T)
    assert np.hypot(*handles[1, :2]) == pytest.approx(sizes[0] / 3)
    assert np.hypot(*leaving) == pytest.approx(sizes[1] / 3)
    fullest = handles_of([point_at(spot, 1.0) for spot in spots], spots)
    assert fullest[1] == pytest.approx(2 * handles[1])
    assert not handles_of([point_at(spot, 0.0) for spot in spots], spots).any()


def test_the_open_ends_of_three_points_complete_the_arc():
    angles = (0.0, 0.8, 1.6)
    spots = [(50 * math.cos(a), 50 * math.sin(a)) for a in angles]
    path = path_of([point_at(spot, 0.5) for spot in spots])
    assert path.directions[0, 0] == pytest.approx([0, 1], abs=1e-9)
    assert path.directions[1, 1] == pytest.approx([-math.sin(1.6), math.cos(1.6)], abs=1e-9)


def test_beside_a_span_of_no_length_there_is_no_handle():
    spots = np.array([(0.0, 0.0), (100.0, 0.0), (100.0, 0.0), (200.0, 80.0)])
    handles = handles_of([point_at(spot, 1.0) for spot in spots], spots)
    assert not handles[1].any()
    assert not handles[2].any()


@settings(max_examples=80, deadline=None)
@given(rows(), st.integers(0, 4), st.floats(0.05, 0.95))
def test_a_point_added_leaves_the_path_where_it_was(points, span, u):
    span %= len(points) - 1
    path = path_of(points)
    more = path_of(split(points, span, u))
    assert more.lengths[-1] == pytest.approx(path.lengths[-1], abs=1e-3)
    distance = np.linspace(0, path.lengths[-1], 60)
    every = np.zeros(60, int)
    before = path.position(distance, every, every + len(points) - 2)
    after = more.position(distance, every, every + len(points) - 1)
    # Where a span turns on the spot a thousandth of a px along it can be one across.
    assert np.abs(before - after).max() < 5e-3


def test_directions_are_those_of_the_motion():
    path = path_of([point_at(spot, 0.7) for spot in ((0, 0), (120, 40), (200, -60))])
    distance = np.linspace(1, path.lengths[-1] - 1, 40)
    every = np.zeros(40, int)
    ahead, behind = (path.position(distance + d, every, every + 1) for d in (1e-3, -1e-3))
    chords = (ahead - behind) / np.hypot(*(ahead - behind).T)[:, None]
    assert path.direction(distance, every, every + 1) == pytest.approx(chords, abs=1e-5)


def test_overshoot_follows_a_smooth_point_and_leaves_a_corner_straight_on():
    arc = [point_at((0, 0), 0.5), point_at((100, 0), 0.5), point_at((200, 100), 0.5)]
    path = path_of(arc)
    on = np.array([path.lengths[1] + 20.0])
    none = np.zeros(1, int)
    assert path.position(on, none, none) == pytest.approx(path.position(on, none + 1, none + 1))
    corner = path_of([arc[0], point_at((100, 0)), arc[2]])
    tip = corner.position(np.array([corner.lengths[1] + 20.0]), none, none)[0]
    assert tip == pytest.approx(np.array([100, 0]) + 20 * corner.directions[0, 1])


def test_speed_along_a_bent_path_is_the_time_curves():
    track = floated()
    times = np.linspace(at(1), at(39), 80)
    ahead, behind = (track.positions(times + d) for d in (4e4, -4e4))
    moved = np.hypot(*(ahead - behind).T) / 8e4 * 705_600_000
    assert moved == pytest.approx(track.curve.speed(times), rel=1e-4)


def test_a_points_short_form_is_a_pair_and_what_it_cannot_be_is_refused():
    assert PathPoint.model_validate([3, 4]).spot == (3, 4)
    assert PathPoint(x=3, y=4).model_dump() == [3, 4]
    assert PathPoint.model_validate(PathPoint(x=3, y=4, joint="smooth", leaving=(1, 0)).model_dump()).leaving == (1, 0)
    for told in ([1], [1, 2, 3], {"x": 0, "y": 0, "joint": "automatic", "leaving": [1, 0]}):
        with pytest.raises(ValueError, match=r"x and a y|handles of their own"):
            PathPoint.model_validate(told)


def test_lengths_are_worked_out_again_where_there_is_no_room_to_remember_them(monkeypatch):
    monkeypatch.setattr(arc, "MOST_KNOWN", 3)
    first = [point_at((0, 0), 0.5), point_at((90, 40), 0.5), point_at((200, 0), 0.5)]
    due = path_of(first).lengths
    # Two of these spans are known, and the others need the room.
    longer = [*first, *(point_at((250.0 + 60 * n, 70.0 * (n % 2)), 0.5) for n in range(4))]
    assert path_of(longer).lengths[1] == pytest.approx(due[1])
    arc._KNOWN.clear()
    assert len(path_of([*longer, point_at((900, 9), 0.5)]).lengths) == 8
