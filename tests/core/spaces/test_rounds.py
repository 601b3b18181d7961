"""Arcs found again among cubics."""

import re

import numpy as np
import pytest

from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.rounds import commands, drawn_data
from deftarc.formats.read.svg.path import read_path

KAPPA = 0.5522847498307936


def letters(data):
    return "".join(letter for letter, _ in commands(Outline.parse(data)))


def told(path):
    return read_path(path)[0].data()


@pytest.mark.parametrize("degrees", [3, 20, 45, 80, 90])
@pytest.mark.parametrize("radius", [0.4, 22.364, 500, 9000])
@pytest.mark.parametrize("sweep", [0, 1])
def test_an_arc_of_a_circle_is_one_again_with_its_radius_and_its_way_round(degrees, radius, sweep):
    turn = np.radians(degrees if sweep else -degrees)
    x, y = radius * np.cos(turn), radius * np.sin(turn)
    found = commands(Outline.parse(told(f"M{radius} 0A{radius} {radius} 0 0 {sweep} {x:.12f} {y:.12f}")))
    assert [letter for letter, _ in found] == ["M", "A"]
    rx, ry, _, large, way, *end = found[1][1]
    assert (rx, ry) == pytest.approx((radius, radius), rel=2e-4 if degrees < 10 else 1e-5)
    assert (large, way) == (0, sweep)
    assert end == pytest.approx((x, y), rel=1e-6, abs=1e-6)


@pytest.mark.parametrize("turned", [0, 25, 90, -70])
def test_a_quarter_of_an_ellipse_is_one_however_it_is_turned(turned):
    cos, sin = np.cos(np.radians(turned)), np.sin(np.radians(turned))
    spots = np.array([[30, 0], [30, 10 * KAPPA], [30 * KAPPA, 10], [0, 10]]) @ np.array([[cos, sin], [-sin, cos]])
    outline = Outline("MC", spots + 100)
    (_, _), (letter, (rx, ry, degrees, _, way, *_)) = commands(Outline.parse(outline.data()))
    assert letter == "A"
    assert sorted((rx, ry)) == pytest.approx([10, 30], rel=1e-5)
    along = degrees if rx > ry else degrees + 90
    assert (along - turned + 90) % 180 == pytest.approx(90, abs=1e-3)
    assert way == 1


@pytest.mark.parametrize(
    "data",
    [
        "M0 0C10 0 20 10 20 20",
        "M0 0C0 55.23 44.77 100 100 100",
        "M0 0C1 0 2 0 3 0",
        "M0 0C0 0 0 0 0 0",
        "M0 0C0 0 10 10 10 10",
        "M0 0C30 0 0 30 30 30",
        "M0 0C0 -5 10 -5 10 0",
        "M0 0C-5 -20 15 -20 10 0",
        # Next to no size on one side: what bounds it overflows, and is no error.
        "M0 -2209C144 -2209 1e-308 1e-310 0 0",
    ],
)
def test_any_other_cubic_stays_a_cubic(data):
    assert letters(data) == "MC"


def test_all_else_stays_as_it_is():
    data = told("M0 0L5 5A10 10 0 0 1 15 15C20 15 25 20 25 30Z M40 0H50V10Z")
    assert letters(data) == "MLACZMLLZ"
    # Path data has its two flags as one figure each.
    assert re.search(r"A\S+ \S+ 0 0 1 15", drawn_data(data))
    assert drawn_data("") == ""


def test_an_arc_is_truer_than_the_cubics_that_stand_for_it():
    """Along the arc it keeps its radius, which the cubics miss by 0.027 %."""
    radius = 1000.0
    outline = Outline.parse(told(f"M{radius} 0A{radius} {radius} 0 0 1 0 {radius}"))
    p = outline.points
    u = np.linspace(0, 1, 101)[:, None]
    at = (1 - u) ** 3 * p[0] + 3 * (1 - u) ** 2 * u * p[1] + 3 * (1 - u) * u**2 * p[2] + u**3 * p[3]
    assert 0.2 < np.abs(np.hypot(*at.T) - radius).max() < 0.3
    assert commands(outline)[1][1][:2] == pytest.approx((radius, radius), abs=1e-4)
