"""What a drag is drawn to, on the picture and in time; and lining things up."""

import pytest

from deftarc.core.arrange.snapping import Line, aligned, grid_lines, lines_of, snap_box, snap_time

BOX = (103.0, 50.0, 203.0, 90.0)


def test_the_nearest_line_wins_on_each_axis():
    lines = [Line("x", 100, "guide"), Line("x", 205, "frame"), Line("y", 71, "middle of Ferry")]
    met = snap_box(BOX, lines, [], 6)
    assert (met.dx, met.dy) == (2, 1)
    assert [line.what for line in met.lines] == ["frame", "middle of Ferry"]


def test_out_of_reach_nothing_happens():
    met = snap_box(BOX, [Line("x", 120, "guide")], [], 6)
    assert (met.dx, met.dy, met.lines) == (0, 0, ())


def test_gaps_to_neighbours_are_measured_and_made_even():
    left, right = (0.0, 40.0, 50.0, 100.0), (252.0, 40.0, 300.0, 100.0)
    met = snap_box(BOX, [], [left, right], 6)
    assert met.dx == -2
    assert {(gap.start, gap.end) for gap in met.gaps} == {(50, 101), (201, 252)}
    assert met.lines[0].what == "even gaps"


def test_edges_middles_and_grid_are_lines():
    assert {line.at for line in lines_of((0, 0, 10, 20), "Sun") if line.axis == "y"} == {0, 10, 20}
    assert {line.at for line in grid_lines(BOX, 50) if line.axis == "x"} == {100, 200}


def test_a_moment_snaps_to_what_is_near_else_to_whole_frames():
    targets = [(1000, "the playhead"), (2000, "a key of Gull")]
    assert snap_time([900], 90.0, targets, 40, 25).by == 100
    assert snap_time([900], 90.0, targets, 40, 25).what == "the playhead"
    free = snap_time([900], 33.0, targets, 40, 0)
    assert (900 + free.by) % 40 == 0
    # The last of several anchors may be the one that meets something.
    assert snap_time([0, 1500], 495.0, targets, 40, 25).by == 500


BOXES = {"a": (0.0, 0.0, 10.0, 10.0), "b": (50.0, 30.0, 70.0, 40.0), "c": (90.0, 10.0, 100.0, 50.0)}
FRAME = (0, 0, 200, 100)


@pytest.mark.parametrize(
    ("how", "frame", "steps"),
    [
        ("left", None, {"a": (0, 0), "b": (-50, 0), "c": (-90, 0)}),
        ("right", None, {"a": (90, 0), "b": (30, 0), "c": (0, 0)}),
        ("middle", None, {"a": (0, 20), "b": (0, -10), "c": (0, -5)}),
        ("top", FRAME, {"a": (0, 0), "b": (0, -30), "c": (0, -10)}),
        # 100 px less 40 of boxes leave two gaps of 30; in the frame 160 leave four of 40.
        ("across", None, {"a": (0, 0), "b": (-10, 0), "c": (0, 0)}),
        ("across", FRAME, {"a": (40, 0), "b": (40, 0), "c": (60, 0)}),
    ],
)
def test_boxes_are_lined_up_and_spread(how, frame, steps):
    assert aligned(BOXES, how, frame) == {name: pytest.approx(step) for name, step in steps.items()}
