"""The speed curve in parts: one line, one area, and no more samples than can be seen."""

import itertools
import re

import numpy as np
import pytest

from deftarc.web.panels.axis import TimeAxis, spanning
from deftarc.web.panels.pair.curves import NARROW, TOGETHER, components, scaled, speed_paths, speed_samples
from tests.scenes import EASED, at, layer, numbers, positions, scene


def spots(path):
    return np.array(re.findall(r"(-?[\d.]+) (-?[\d.]+)", path), float)


def drawn(count, width, sides=EASED, **axis):
    track = numbers(*[(4 * k, float(k % 3), {**sides[0], **sides[1]}) for k in range(count + 1)])
    curve = scaled(track.curve, 1.0)
    speeds, times = speed_samples(curve)
    view = TimeAxis(axis.get("start", 0), axis.get("end", at(4 * count)), width)
    scale = spanning(speeds, 0, 100, with_zero=True)
    return curve, view, scale, speed_paths(speeds, times, view, scale)


def test_the_parts_join_to_one_line_even_where_the_speed_jumps():
    *_, parts = drawn(2 * TOGETHER + 3, 2000, ({}, {}))
    assert len(parts) == 3
    for (line, _), (following, _) in itertools.pairwise(parts):
        assert spots(line)[-1] == pytest.approx(spots(following)[0], abs=0.11)
    # Where segments 8 and 9 meet it goes straight down from one speed to the other.
    (left, above), (right, below) = spots(parts[1][0])[:2]
    assert left == right
    assert below - above > 10


def test_every_spot_of_the_line_lies_on_the_speed_curve():
    curve, view, scale, parts = drawn(TOGETHER, 60 * TOGETHER)
    told = spots(parts[0][0])
    inner = told[(told[:, 0] % 60 > 2) & (told[:, 0] % 60 < 58)]
    times = view.start + inner[:, 0] / view.width * (view.end - view.start)
    # A tenth of a px across is worth as much down as the curve is steep.
    steep = np.abs(np.gradient(scale.ys(curve.speed(times)), inner[:, 0])) + 1
    assert (np.abs(inner[:, 1] - scale.ys(curve.speed(times))) <= 0.15 * steep).all()


def test_segments_of_few_px_have_fewer_samples():
    wide, narrow = (len(spots(drawn(TOGETHER, TOGETHER * px)[3][0][0])) for px in (NARROW + 6, NARROW - 6))
    assert (wide, narrow) == (33 * TOGETHER, 17 * TOGETHER)


def test_segments_beyond_the_view_are_not_drawn():
    *_, parts = drawn(40, 1000, start=at(60), end=at(100))
    told = np.concatenate([spots(line) for line, _ in parts])
    assert told[:, 0].min() >= -110
    assert told[:, 0].max() <= 1110


def test_the_area_goes_down_to_rest_on_both_sides():
    _, _, scale, parts = drawn(3, 600)
    area = spots(parts[0][1])
    assert area[[0, -1], 1] == pytest.approx([scale.y(0)] * 2, abs=0.06)
    assert area[[0, -1], 0] == pytest.approx([0, 600], abs=0.06)


def test_x_and_y_are_drawn_thin_from_the_frames_there_are_and_rest_outside_them():
    made = scene(layer("Gull", position=positions((10, (0, 0)), (50, (100, 40)), (90, (300, 0)))))
    track = made.layers[0].track("position")
    frames = np.arange(made.frames) * at(1)
    view = TimeAxis(at(-10), at(110), 1200)
    (_, times, x), (_, _, y) = components(made, made.layers[0], "position", view, lambda *_: track.positions(frames))
    assert (np.diff(times) >= 0).all()
    assert (times[0], times[-1]) == (view.start, view.end)
    assert np.stack([x, y], 1) == pytest.approx(track.positions(times), abs=1e-9)


def test_where_few_frames_are_in_view_x_and_y_are_sampled_between_them():
    made = scene(layer("Gull", position=positions((10, (0, 0)), (90, (300, 0)))))
    near = TimeAxis(at(40), at(45), 1000)
    (_, times, _), _ = components(made, made.layers[0], "position", near, lambda *_: np.zeros((100, 2)))
    assert len(times) == 100
