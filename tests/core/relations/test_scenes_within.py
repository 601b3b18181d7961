"""Scenes shown as layers: the moments that show, where, and what they look like."""

import numpy as np
import pytest

from deftarc.core.document import Project
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.evaluate import evaluate, frame_times
from tests.scenes import at, layer, numbers, positions, scene


def bell(frames=40, background=None, **fields):
    found = scene(layer("Clapper", rotation=numbers((0, 0), (40, 80))), frames=frames, background=background, **fields)
    return found.changed(id="bell", name="Bell")


def shown(artwork=None, **tracks):
    art = artwork or SceneShown(scene="bell", width=640, height=360)
    return layer("One", art, **{"position": positions(value=(320, 180)), **tracks})


def turns(outer, inner, frames):
    table = evaluate(outer, np.array(frames) * at(1), scenes={"bell": inner})
    matrix = table.leaf("one/clapper").matrix
    told = np.rad2deg(np.arctan2(matrix[:, 1, 0], matrix[:, 0, 0]))
    opacity = np.broadcast_to(table.leaf("one/clapper").opacity, (len(frames),))
    return [round(float(degrees), 6) if seen else None for degrees, seen in zip(
        np.broadcast_to(told, (len(frames),)), opacity, strict=True)]  # fmt: skip


@pytest.mark.parametrize(
    ("fields", "frames", "degrees"),
    [
        ({}, [0, 10, 39, 40, 70], [0, 20, 78, 78, 78]),
        ({"goes_on": "once"}, [0, 39, 40, 70], [0, 78, None, None]),
        ({"goes_on": "repeat"}, [0, 39, 40, 50, 85], [0, 78, 0, 20, 10]),
        ({"goes_on": "repeat", "plays": 1.5}, [39, 40, 59, 60, 90], [78, 0, 38, 38, 38]),
        ({"goes_on": "alternate"}, [39, 40, 41, 79, 80, 81], [78, 80, 78, 2, 0, 2]),
        ({"rate": 2.0}, [0, 10, 19, 30], [0, 40, 76, 78]),
        ({"rate": -1.0, "begins": at(30)}, [0, 10, 30, 40], [60, 40, 0, 0]),
        ({"rate": 0.5}, [1, 3], [1, 3]),
        ({"begins": at(12)}, [0, 5], [24, 34]),
    ],
)
def test_the_moment_that_shows(fields, frames, degrees):
    art = SceneShown(scene="bell", width=640, height=360, **fields)
    assert turns(scene(shown(art)), bell(), frames) == degrees


def test_its_clock_starts_with_its_span():
    outer = scene(shown().changed(start=at(15), end=at(60)))
    assert turns(outer, bell(), [15, 25]) == [0, 20]
    assert evaluate(outer, frame_times(outer), scenes={"bell": bell()}).roots[0].shows == (15, 60)


def test_a_keyed_clock_tells_the_moment_and_leaves_its_own_motion_alone():
    clock = numbers((0, 0.0), (50, 1.0))
    outer = scene(shown(clock=clock, rotation=numbers((0, 0), (50, 50))))
    table = evaluate(outer, np.array([0, 25, 50]) * at(1), scenes={"bell": bell()})
    # After one second of outer time half a second shows, which is 25 degrees; the layer itself is turned as it is keyed.
    own = np.rad2deg(np.arctan2(table.worlds["one"][:, 1, 0], table.worlds["one"][:, 0, 0]))
    assert own == pytest.approx([0, 25, 50])
    inner = table.leaf("one/clapper").matrix
    assert np.rad2deg(np.arctan2(inner[:, 1, 0], inner[:, 0, 0])) - own == pytest.approx([0, 25, 50])


def test_a_rate_of_its_own_is_kept_in_time():
    from deftarc.core.base.time import FrameRate

    slow = bell(frames=20).changed(rate=FrameRate(numerator=12, denominator=1))
    # Its keys stand at moments: shown at 25 frames a second they are at the same moments.
    assert turns(scene(shown()), slow, [10, 20]) == [20, 40]


def test_it_lies_where_its_layer_is_and_is_cut_off_at_its_frame():
    carried = shown(scale=numbers(value=0.5), position=positions(value=(100, 40)))
    outer = scene(carried)
    inner = scene(layer("Clapper", position=positions(value=(600, 300)))).changed(id="bell")
    group = evaluate(outer, [0], scenes={"bell": inner}).roots[0]
    assert group.clip == (-320, -180, 320, 180)
    assert group.children[-1].matrix[0, :2, 2] == pytest.approx([100 + 0.5 * (600 - 320), 40 + 0.5 * (300 - 180)])


def test_scenes_three_deep_and_one_shown_many_times_at_its_own_places():
    tower = scene(
        layer("Left", SceneShown(scene="bell", width=640, height=360)),
        layer("Right", SceneShown(scene="bell", width=640, height=360, begins=at(10))),
    ).changed(id="tower", name="Tower")
    outer = scene(layer("Town", SceneShown(scene="tower", width=640, height=360)))
    table = evaluate(outer, [at(5)], scenes={"bell": bell(), "tower": tower})
    degrees = {
        leaf.layer: float(np.rad2deg(np.arctan2(leaf.matrix[0, 1, 0], leaf.matrix[0, 0, 0]))) for leaf in table.leaves if leaf.shown.layer is not None
    }  # fmt: skip
    assert degrees == pytest.approx({"town/left/clapper": 10, "town/right/clapper": 30})


def test_circles_and_too_many_are_refused_by_name():
    one = scene(layer("In", SceneShown(scene="bell", width=9, height=9)))
    two = scene(layer("Out", SceneShown(scene="crossing", width=9, height=9))).changed(id="bell", name="Bell")
    with pytest.raises(ValueError, match="Crossing → Bell → Crossing"):
        Project(name="Quillhaven", scenes=(one, two))
    many = scene(*(layer(f"B {n}", SceneShown(scene="bell", width=9, height=9)) for n in range(90)))
    full = scene(*(layer(f"L {n}") for n in range(90))).changed(id="bell", name="Bell")
    with pytest.raises(ValueError, match="Crossing would show 8,190 layers"):
        Project(name="Quillhaven", scenes=(many, full))


def test_what_it_shows_stays_the_same_objects_while_nothing_of_it_changed():
    from deftarc.core.evaluate import Evaluator

    outer, inner = scene(layer("Other"), shown()), bell()
    keeps = Evaluator(scenes={"bell": inner})
    first = keeps.table(outer, frame_times(outer))
    other = outer.with_layer(outer.layer("other").changed(name="Another"))
    again = keeps.table(other, frame_times(other))
    assert again.leaf("one/clapper") is first.leaf("one/clapper")
    assert again.roots[0] is first.roots[0]
    keeps.scenes = {"bell": bell(frames=30)}
    assert keeps.table(other, frame_times(other)).leaf("one/clapper") is not first.leaf("one/clapper")


def test_a_scene_that_is_gone_shows_nothing():
    assert evaluate(scene(shown(), layer("Other")), [0], scenes={}).leaves[0].layer == "other"
