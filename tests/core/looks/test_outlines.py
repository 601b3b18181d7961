"""What is done to outlines: drawn in part by their length, rounded, grown; dashes and gradients that are keyed."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from deftarc.core.arrange.nearest import place_at, share_near
from deftarc.core.document.artwork import Contour, FreePath, Gradient, Rectangle, Star, Stop
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.core.spaces.arc import arc_table
from deftarc.core.spaces.contours import spans_of
from deftarc.core.spaces.drawn import Measured, cuts_over_time, drawn_part
from deftarc.core.spaces.grown import Filled, _faces, grown
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.outlines import Outlines
from deftarc.core.spaces.rounded import rounded, rounded_over_time
from deftarc.core.spaces.shapes import ellipse, rectangle
from tests.core.spaces.test_colour import colours
from tests.scenes import layer, numbers, scene

SHARE = st.floats(0, 1).map(lambda n: round(n, 6))
NUMBER = st.floats(-300, 300).map(lambda n: round(n, 3))


@st.composite
def outlines(draw):
    """Random contours, open and closed, of lines and curves."""
    verbs, points = "", []
    for _ in range(draw(st.integers(1, 3))):
        verbs += "M"
        points.append((draw(NUMBER), draw(NUMBER)))
        for _ in range(draw(st.integers(1, 4))):
            curve = draw(st.booleans())
            verbs += "C" if curve else "L"
            points += [(draw(NUMBER), draw(NUMBER)) for _ in range(3 if curve else 1)]
        verbs += "Z" if draw(st.booleans()) else ""
    return Outline(verbs, np.array(points))


def length(outline):
    return sum(float(arc_table(each.controls, each.bent).distance[-1]) for each in spans_of(outline))


def part(outline, start, end, shift=0.0, in_turn=False):
    one = Measured(outline)
    return drawn_part(outline, one.cuts(np.array([start]), np.array([end]), np.array([shift]), in_turn)[0])


@given(outlines(), SHARE, SHARE, st.floats(-3, 3), st.booleans())
def test_what_is_drawn_is_just_so_much_of_the_length(outline, start, end, shift, in_turn):
    whole = length(outline)
    drawn = length(part(outline, start, end, shift, in_turn))
    assert drawn == pytest.approx(abs(end - start) * whole, abs=1e-5 * max(1.0, whole))


@given(outlines(), SHARE, st.booleans())
def test_two_parts_that_meet_are_all_of_it(outline, share, in_turn):
    first, second = part(outline, 0, share, 0, in_turn), part(outline, share, 1, 0, in_turn)
    assert length(first) + length(second) == pytest.approx(length(outline), abs=1e-5 * max(1.0, length(outline)))


def test_a_part_goes_on_over_the_start_of_a_closed_contour_as_one_line_and_of_an_open_one_as_two():
    box = rectangle(200, 100)
    assert part(box, 0.9, 1.0, 0.05).data() == "M-100 -20L-100 -50L-70 -50"
    way = Outline.parse("M0 0L100 0")
    assert part(way, 0.0, 0.5, 0.75).data() == "M75 0L100 0M0 0L25 0"
    assert part(way, 0.3, 0.3).verbs == ""
    # In turn: through the end of one into the next.
    two = Outline.parse("M0 0L100 0M0 50L100 50")
    assert part(two, 0.25, 0.75, 0, True).data() == "M50 0L100 0M0 50L50 50"


@given(outlines(), st.lists(st.tuples(st.floats(0.05, 40), NUMBER), min_size=2, max_size=4), SHARE, SHARE, st.floats(-3, 3), st.booleans())  # fmt: skip
def test_what_grows_and_moves_is_cut_where_it_is_cut_measured_anew(outline, sizes, start, end, shift, in_turn):
    """Each contour by itself, as the letters of a text do whose size and spacing are keyed."""
    counts = [{"M": 1, "C": 3, "L": 1, "Z": 0}[verb] for verb in outline.verbs]
    which = np.repeat(np.cumsum([verb == "M" for verb in outline.verbs]) - 1, counts)[:, None]
    rows = np.array([
        outline.points * size * (1 + 0.1 * which) + by * which for size, by in sizes
    ])  # fmt: skip
    told = [np.full(len(rows), each) for each in (start, end, shift)]
    cuts = cuts_over_time(Outlines.alike(outline.verbs, rows), *told, in_turn).reshape(len(rows), -1, 2)
    for row, cut in zip(rows, cuts, strict=True):
        now = Outline(outline.verbs, row)
        alone = part(now, start, end, shift, in_turn)
        drawn = drawn_part(now, cut)
        assert length(drawn) == pytest.approx(length(alone), abs=2e-5 * max(1.0, length(now)))


def test_a_changing_outline_is_measured_at_each_moment_and_one_that_only_grows_once(monkeypatch):
    made = []
    monkeypatch.setattr("deftarc.core.spaces.drawn.Measured", lambda outline: made.append(outline) or Measured(outline))
    box = rectangle(200, 100).points
    half = np.full(3, 0.5)
    for rows, often in (([box, 2 * box, 3 * box + 7], 1), ([box, box * [2, 1], box * [3, 1]], 3)):
        made.clear()
        cuts = cuts_over_time(Outlines.alike("MLLLZ", np.array(rows)), 0 * half, half, 0 * half, False)
        assert len(made) == often
        assert cuts[:, 1] == pytest.approx([2.0] * 3)


@given(outlines(), st.lists(st.tuples(st.floats(0.05, 40), NUMBER), min_size=2, max_size=3), st.floats(0, 200))
def test_what_grows_and_moves_is_rounded_as_it_is_rounded_at_each_moment(outline, sizes, radius):
    rows = np.array([outline.points * size + by for size, by in sizes])
    radii = np.linspace(0, radius, len(rows))
    made = rounded_over_time(Outlines.alike(outline.verbs, rows), radii)
    for k, row in enumerate(rows):
        alone = rounded(Outline(outline.verbs, row), radii[k])
        near = 1e-6 * max(1.0, length(alone))
        assert length(made.at(k)) == pytest.approx(length(alone), abs=near)
        assert made.at(k).bounds() == pytest.approx(alone.bounds(), abs=near)


def test_a_texts_letters_are_worked_out_once_a_shape_and_what_grows_as_a_whole_once(monkeypatch):
    faced, filled = [], []
    monkeypatch.setattr("deftarc.core.spaces.grown._KNOWN", {})
    monkeypatch.setattr("deftarc.core.spaces.grown._faces", lambda *told: faced.append(told) or _faces(*told))
    monkeypatch.setattr("deftarc.core.spaces.grown.Filled", lambda *told: filled.append(told) or Filled(*told))
    ring = np.concatenate([ellipse(80, 60).points, 0.5 * ellipse(80, 60).points])
    verbs = ellipse(80, 60).verbs * 2
    line = np.concatenate([ring, ring + (100, 0), ring + (230.5, 7)])
    # Three of one shape, from moment to moment further apart: each is a ring's width more around, inside and out.
    apart = np.array([line * (1, 1), line + np.repeat([[0, 0], [9, 0], [20, 0]], len(ring), axis=0)])
    spaced = grown(Outlines.alike(verbs * 3, apart), np.array([2.0]), "evenodd")
    assert (len(faced), len(filled)) == (1, 2)
    for k, first in enumerate(((0, 100, 230.5), (0, 109, 250.5))):
        middles = [box[[0, 2]].mean() for box in _boxes(spaced.at(k))]
        assert sorted(set(np.round(middles, 3))) == pytest.approx(first, abs=1e-3)
    # What is too large to be kept, or was put away for others, comes to the same.
    for limit in ({"MOST_KEPT": 1}, {"MOST_KNOWN": 1}):
        for name, value in limit.items():
            monkeypatch.setattr(f"deftarc.core.spaces.grown.{name}", value)
        again = grown(Outlines.alike(verbs * 3, apart), np.array([2.0]), "evenodd")
        assert again.verbs == spaced.verbs
        assert again.points == pytest.approx(spaced.points, abs=1e-6)
    monkeypatch.undo()
    faced.clear()
    filled.clear()
    monkeypatch.setattr("deftarc.core.spaces.grown._KNOWN", {})
    monkeypatch.setattr("deftarc.core.spaces.grown._faces", lambda *told: faced.append(told) or _faces(*told))
    monkeypatch.setattr("deftarc.core.spaces.grown.Filled", lambda *told: filled.append(told) or Filled(*told))
    whole = grown(Outlines.alike(verbs * 3, np.array([line, 0.5 * line + 3, 2 * line])), np.array([2.0]), "evenodd")
    assert (len(faced), len(filled)) == (1, 1)
    assert whole.at(1).bounds() == pytest.approx(grown(Outlines.alike(verbs * 3, 0.5 * line[None] + 3), np.array([2.0])).at(0).bounds(), abs=0.06)  # fmt: skip


def _boxes(outline):
    return [np.concatenate([p.min(axis=0), p.max(axis=0)]) for p in (each.controls[:, 0] for each in spans_of(outline))]


@given(outlines(), SHARE, st.booleans())
def test_a_place_on_a_line_is_found_again_by_its_share(outline, share, in_turn):
    spot = place_at(outline, share, in_turn, False)
    if spot is None:
        return
    found = place_at(outline, share_near(outline, spot, in_turn), in_turn, False)
    assert np.hypot(*(np.array(found) - spot)) < 0.05


@given(outlines(), NUMBER, NUMBER)
def test_no_place_on_a_line_lies_nearer_than_that_of_the_share_near(outline, x, y):
    made = Measured(outline)
    if made.lengths.sum() < 1:
        return
    spots = made.places(np.linspace(0, 1, 1_001))
    share = share_near(outline, (x, y), True)
    # Where a contour ends the next begins: a share of both is at two places.
    near = [place_at(outline, each, True, False) for each in (share - 1e-9, share, share + 1e-9)]
    assert min(np.hypot(a - x, b - y) for a, b in near) <= np.hypot(*(spots - (x, y)).T).min() + 0.05


def test_a_corner_between_straight_sides_becomes_the_circle_that_touches_both():
    made = rounded(rectangle(200, 100), 30)
    assert made.verbs == rectangle(200, 100, 30).verbs
    spots = {tuple(np.round(point, 9)) for point in made.points}
    assert spots == {tuple(np.round(point, 9)) for point in rectangle(200, 100, 30).points}
    # No side gives more than half of itself, and what is round already stays.
    assert np.abs(rounded(rectangle(40, 20), 500).points).max() <= 20
    assert rounded(ellipse(80, 80), 20).data() == ellipse(80, 80).data()


@pytest.mark.parametrize(("join", "area"), [("miter", 220 * 120), ("round", 220 * 120 - (4 - np.pi) * 100)])
def test_a_rectangle_grown_is_as_large_as_its_joins_say(join, area):
    made = Filled(rectangle(200, 100)).grown(10, join)
    x, y = made.points.T
    assert abs(0.5 * np.sum(x * np.roll(y, -1) - y * np.roll(x, -1))) == pytest.approx(area, rel=1e-3)


def test_a_hole_closes_as_the_shape_grows_and_all_goes_as_it_shrinks():
    ring = Outline(
        ellipse(200, 200).verbs + ellipse(60, 60).verbs,
        np.concatenate([ellipse(200, 200).points, ellipse(60, 60).points]),
    )
    assert Filled(ring, "evenodd").grown(10).verbs.count("M") == 2
    assert Filled(ring, "evenodd").grown(35).verbs.count("M") == 1
    assert Filled(ring, "nonzero").grown(10).verbs.count("M") == 1
    assert Filled(ring, "evenodd").grown(-41).verbs == ""
    rows = grown(Outlines.alike(*_rows(ring)), np.array([0.0, 10.0, 35.0]), "evenodd")
    assert [each.count("M") for each in rows.verbs] == [2, 2, 1]
    assert rows.taken(np.array([2, 0])).verbs == (rows.verbs[2], rows.verbs[0])
    assert rows.bounds()[2] == pytest.approx([-135, -135, 135, 135], abs=0.1)


def _rows(outline):
    return outline.verbs, outline.points[None]


def test_keyed_parts_dashes_and_gradients_come_to_the_table_by_frame():
    stops = (Stop(id="a", at=0.5, colour="#ff0000"), Stop(id="b", at=0.2, colour="#00ff0080"))
    art = Rectangle(
        width=100,
        height=60,
        stroke="#000000",
        dash=(10, 4, 2),
        fill_gradient=Gradient(x1=0, y1=0, x2=9, y2=0, stops=stops),
    )
    keys = {
        "drawn_to": numbers((0, 0), (10, 1)), "dash/1/dash_length": numbers((0, 4), (10, 8)),
        "gradient/fill/gradient_x2": numbers((0, 9), (10, 29)), "stop/b/stop_colour": colours((0, "#00ff00"), (10, "#0000ff")),
    }  # fmt: skip
    leaf = evaluate(scene(layer("Card", art, **keys)), frame_times(scene(), 0, 11)).leaves[0]
    assert leaf.look["drawn"][5].tolist() == [0.0, pytest.approx(2.0)]
    assert leaf.look["dash"][5].tolist() == [10, 6, 2, 10, 6, 2]
    assert leaf.look["fill_ends"][5].tolist() == [0, 0, 19, 0]
    # A stop that would lie before the one before it lies on it.
    assert leaf.look["fill_stops"][10] == pytest.approx([0.5, 1, 0, 0, 1, 0.5, 0, 0, 1, 1])


def test_grown_and_rounded_over_time_and_drawn_in_part_as_it_is_then():
    path = FreePath(
        contours=(Contour(points=((0, 0, 0, 0, 0, 0), (80, 0, 0, 0, 0, 0), (80, 60, 0, 0, 0, 0)), closed=True),),
        stroke="#000000",
    )
    made = layer("Sail", path, grow=numbers((0, 0), (10, 20)), drawn_to=numbers((0, 0.5), (10, 1)))
    leaf = evaluate(scene(made), frame_times(scene(), 0, 11)).leaves[0]
    assert not leaf.outline.even
    assert leaf.look["bounds"][10] == pytest.approx([-20, -20, 100, 80], abs=0.6)
    assert leaf.look["drawn"].shape == (11, 2)
    star = layer("Star", Star(outer=60, inner=20), rounding=numbers((0, 0), (10, 12)))
    assert evaluate(scene(star), frame_times(scene(), 0, 11)).leaves[0].outline.rows == 11
