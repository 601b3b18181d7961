"""Outlines that answer a motion: a string held at its ends, a cushion that gives way, points that are told."""

import numpy as np
import pytest

from deftarc.core.changes.struck import struck
from deftarc.core.document import Contour, FreePath
from deftarc.core.document.track import ColourTrack, NumberTrack, PathTrack
from deftarc.core.edit import apply, told
from deftarc.core.edit.move_keys import MoveKeys
from deftarc.core.edit.outlines import DragPoints
from deftarc.core.edit.react import ChangeReactions, EndReactions, React
from deftarc.core.evaluate import evaluate
from deftarc.core.spaces.colour import blend
from tests.core.relations.test_reactions import SourceAsked, ball, lanes
from tests.scenes import at, layer, positions, project

LEFT, RIGHT = (-100, 0, 0, 0, 0, 0), (100, 0, 0, 0, 0, 0)
STRING = FreePath(contours=(Contour(points=(LEFT, RIGHT)),), stroke="#14324a", stroke_width=4)
ROPE = STRING.changed(
    contours=(Contour(points=(LEFT, (-40, 0, 0, 0, 0, 0), (0, 0, -9, 0, 9, 0), (60, 0, 0, 0, 0, 0), RIGHT)),)
)
CUSHION = FreePath(contours=(Contour(points=((-50, -20, 0, 0, 0, 0), (50, -20, 0, 0, 0, 0), (50, 20, 0, 0, 0, 0),
                                             (-50, 20, 0, 0, 0, 0)), closed=True),))  # fmt: skip
STRUCK = {"amount": 40, "attack": at(2), "release": at(12), "rings": 3, "aimed": True}


def string(artwork=STRING, **more):
    return layer("String", artwork=artwork, **more)


def hit(*layers, points=(), **pulse):
    edit = React(
        scene="crossing", lanes=lanes(("string", "outline")), to=SourceAsked(layer="ball", what="position"),
        pulse={**STRUCK, **pulse}, points=points,
    )  # fmt: skip
    return apply(project(ball(), *(layers or (string(),))), edit)


def outline(made, frame):
    """The (n, 2) spots of the string's outline as it is drawn at a frame."""
    table = evaluate(made.scenes[0], np.array([at(frame)]))
    (leaf,) = [each for each in table.leaves if each.layer == "string"]
    if leaf.outline is None:
        return made.scenes[0].layer("string").artwork.outline({}, None)[1][0]
    return leaf.outline.grid[0]


def middle(made, frame):
    """The middle of a string of one cubic."""
    spots = outline(made, frame)
    assert len(spots) == 4
    return spots.T @ [1 / 8, 3 / 8, 3 / 8, 1 / 8]


def test_a_line_of_two_points_bends_as_a_string_is_struck_rings_and_rests():
    made = hit()
    # It comes down with full force at frame 20, and with half of it at 40.
    assert middle(made, 20) == pytest.approx((0, 0), abs=1e-4)
    assert middle(made, 22) == pytest.approx((0, 40), abs=1e-4)
    assert middle(made, 42) == pytest.approx((0, 20), abs=1e-4)
    for frame in (10, 21, 22, 24, 27, 60):
        spots = outline(made, frame)
        assert spots[[0, -1]].tolist() == [[-100, 0], [100, 0]]
    swings = [middle(made, frame)[1] for frame in np.arange(22, 34, 0.25)]
    assert min(swings) < -10
    assert np.allclose(outline(made, 34)[:, 1], 0)
    # Halfway down it has slowed: half a parabola.
    assert middle(made, 21)[1] == pytest.approx(30)


def test_a_line_of_many_points_goes_by_how_far_along_each_lies():
    spots = outline(hit(string(ROPE)), 22)
    rest = outline(project(ball(), string(ROPE)), 22)
    moved = spots - rest
    assert np.allclose(moved[:, 0], 0)
    at_points = {round(x): y for x, y in zip(rest[:, 0], moved[:, 1], strict=True)}
    assert at_points[-100] == at_points[100] == pytest.approx(0)
    assert at_points[0] == pytest.approx(40)
    assert at_points[-40] == pytest.approx(40 * np.sin(np.pi * 0.3))
    # Handles go with their points.
    assert at_points[9] == at_points[-9] == pytest.approx(40)


def test_what_is_closed_gives_way_where_it_is_hit():
    moved = outline(hit(string(CUSHION)), 22) - outline(project(ball(), string(CUSHION)), 22)
    ys = {(round(x), round(y)): dy for (x, y), (_, dy) in zip(
        outline(project(ball(), string(CUSHION)), 22), moved, strict=True)}  # fmt: skip
    assert (ys[(-50, -20)], ys[(50, -20)]) == pytest.approx((40, 40))
    assert ys[(-50, 20)] == pytest.approx(0, abs=1e-6)


def test_told_points_go_alone_and_the_way_that_is_told():
    made = hit(string(ROPE), points=(1,), aimed=False, way=0)
    moved = outline(made, 22) - outline(project(ball(), string(ROPE)), 22)
    assert np.abs(moved).sum() == pytest.approx(40 * 3) or np.abs(moved[:, 0]).max() == pytest.approx(40)
    assert np.allclose(moved[:, 1], 0)
    changed = apply(
        made, ChangeReactions(scene="crossing", lanes=lanes(("string", "outline")), points=(), field="way", told="-90")
    )
    spots = outline(changed, 22) - outline(project(ball(), string(ROPE)), 22)
    assert spots[:, 1].min() == pytest.approx(-40)


@pytest.mark.parametrize("degrees", [0, 90, 210])
def test_the_way_is_that_of_the_scene_however_the_string_is_turned(degrees):
    made = hit(string(rotation=NumberTrack(value=degrees)))
    angle = np.deg2rad(degrees)
    turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    assert turn @ middle(made, 22) == pytest.approx((0, 40), abs=1e-4)


def test_it_follows_its_motion_until_a_hand_moves_its_points_and_comes_off_again():
    made = hit()
    here = made.scenes[0]
    keys = [
        {"layer": "ball", "property": "position_y", "time": key.time}
        for key in here.layer("ball").track("position_y").keys
    ]
    moved = apply(made, MoveKeys(scene="crossing", keys=keys, by=at(7)))
    assert middle(moved, 29) == pytest.approx((0, 40), abs=1e-4)
    assert "outline" in moved.scenes[0].layer("string").reactions
    drag = DragPoints(scene="crossing", layer="string", points=(0,), dx=5, dy=5, time=at(22), keying=True)
    by_hand = apply(moved, drag)
    assert "outline" not in by_hand.scenes[0].layer("string").reactions
    assert any("answers nothing any more" in note.text for note in told(moved, drag, by_hand))
    ended = apply(made, EndReactions(scene="crossing", lanes=lanes(("string", "outline"))))
    assert ended.scenes[0].layer("string").artwork == STRING
    assert ended.scenes[0].layer("string").keyed == ()


def test_it_lies_on_top_of_what_the_outline_does():
    base = apply(project(ball(), string(ROPE)), DragPoints(
        scene="crossing", layer="string", points=(2,), dx=0, dy=30, time=0, keying=False))  # fmt: skip
    edit = React(
        scene="crossing",
        lanes=lanes(("string", "outline")),
        to=SourceAsked(layer="ball", what="position"),
        pulse=STRUCK,
    )
    spots = outline(apply(base, edit), 22)
    # Its middle lies nearly in the middle of its length.
    assert spots[:, 1].max() == pytest.approx(70, abs=0.05)


def test_nothing_goes_that_is_nothing():
    flat = np.zeros(12)
    assert not struck((Contour(points=((0, 0, 0, 0, 0, 0),)),), np.zeros(6), (), (0, 1)).any()
    assert np.isfinite(struck((Contour(points=((0,) * 6, (0,) * 6), closed=True),), flat, (), (0, 1))).all()
    assert struck((Contour(points=((0,) * 6, (0,) * 6)),), flat, (7,), (0, 1)).tolist() == [0] * 12


def jolted(*layers, way=None, **pulse):
    told_ = {"aimed": way is None, "way": 0.0 if way is None else way}
    edit = React(
        scene="crossing", lanes=lanes(("string", "position")), to=SourceAsked(layer="ball", what="position"),
        pulse={**STRUCK, "rings": 0, **told_, **pulse},
    )  # fmt: skip
    return apply(project(ball(), *layers), edit)


def place(made, frame):
    return evaluate(made.scenes[0], np.array([at(frame)])).worlds["string"][0][:2, 2]


def test_a_position_jolts_the_way_it_is_hit_and_comes_back():
    made = jolted(string(position=PathTrack(value=(300.0, 200.0))))
    assert place(made, 20) == pytest.approx((300, 200))
    assert place(made, 21)[1] == pytest.approx(230)
    assert place(made, 22) == pytest.approx((300, 240), abs=1e-4)
    assert place(made, 34) == pytest.approx((300, 200))
    assert place(made, 42) == pytest.approx((300, 220), abs=1e-4)
    assert place(made, 99) == pytest.approx((300, 200))
    aside = jolted(string(position=PathTrack(value=(300.0, 200.0))), way=180, attack=0, rings=2)
    assert place(aside, 20) == pytest.approx((260, 200))
    assert place(aside, 19) == pytest.approx((300, 200))
    assert max(place(aside, frame)[0] for frame in range(20, 33)) > 310


def test_on_its_way_it_goes_on_where_it_was_once_it_is_over():
    path = positions((0, (0, 0)), (100, (500, 100)))
    made = jolted(string(position=path))
    for frame in (0, 10, 20, 34, 40, 60, 90, 100):
        assert place(made, frame) == pytest.approx(path.at(at(frame)), abs=1e-6), frame
    assert place(made, 22) == pytest.approx(np.array(path.at(at(22))) + (0, 40), abs=1e-3)
    bent = path.changed(points=tuple(point.changed(joint="smooth", leaving=(90, 200)) if n == 0 else point
                                     for n, point in enumerate(path.points)))  # fmt: skip
    made = jolted(string(position=bent))
    for frame in (5, 20, 34, 60, 90):
        assert place(made, frame) == pytest.approx(bent.at(at(frame)), abs=1e-6), frame
    ended = apply(made, EndReactions(scene="crossing", lanes=lanes(("string", "position"))))
    assert ended.scenes[0].layer("string").track("position") == bent


def test_the_way_a_carried_layer_jolts_is_the_scenes():
    stem = layer("Stem", rotation=NumberTrack(value=90.0), position=PathTrack(value=(100.0, 100.0)))
    made = jolted(stem, string(position=PathTrack(value=(30.0, 0.0))).changed(parent="stem"))
    rest = place(made, 10)
    assert place(made, 22) - rest == pytest.approx((0, 40), abs=1e-4)
    moved = apply(
        made, ChangeReactions(scene="crossing", lanes=lanes(("string", "position")), field="amount", told="10")
    )
    assert place(moved, 22) - rest == pytest.approx((0, 10), abs=1e-4)


def test_a_colour_flashes_as_strong_as_what_it_answers():
    red = (1.0, 0.0, 0.0, 1.0)
    sign = layer("String", fill=ColourTrack(value=red))
    edit = React(
        scene="crossing", lanes=lanes(("string", "fill")), to=SourceAsked(layer="ball", what="position"),
        pulse={"amount": 1.0, "attack": at(2), "release": at(10), "colour": "#0000ff"},
    )  # fmt: skip
    made = apply(project(ball(), sign), edit)
    fill = made.scenes[0].layer("string").track("fill")
    assert fill.at(at(20)) == pytest.approx(red, abs=1e-6)
    assert fill.at(at(22)) == pytest.approx((0, 0, 1, 1), abs=1e-3)
    half = blend(np.array([red]), np.array([(0.0, 0.0, 1.0, 1.0)]), np.array([0.5]))[0]
    assert fill.at(at(42)) == pytest.approx(half, abs=2e-3)
    assert fill.at(at(60)) == pytest.approx(red, abs=1e-6)
    green = apply(made, ChangeReactions(scene="crossing", lanes=lanes(("string", "fill")), colour="#00ff00"))
    assert green.scenes[0].layer("string").track("fill").at(at(22))[1] == pytest.approx(1, abs=1e-3)
    ended = apply(green, EndReactions(scene="crossing", lanes=lanes(("string", "fill"))))
    assert ended.scenes[0].layer("string").artwork.fill == "#ff0000"
