"""Scale that grows evenly: its measure is the logarithm, so equal times give equal ratios."""

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.keys import by_amount, change_value, evenly, insert_key, multiplied
from deftarc.core.edit import apply
from deftarc.core.edit.sides import SetCurve
from deftarc.core.edit.transform import LinkScale
from deftarc.core.evaluate import evaluate, frame_times
from tests.scenes import at, gull, layer, numbers, project, side


def test_equal_times_give_equal_ratios():
    track = evenly(numbers((0, 1.0), (30, 8.0)))
    assert [track.value_at(at(f)) for f in (10, 20)] == pytest.approx([2, 4])
    assert track.curve.speed([at(15)])[0] == pytest.approx(np.log(8) / 1.2)


def test_speeds_at_the_keys_stay_when_the_choice_changes():
    track = numbers((0, 2.0, {"leaving": side(0.4, 0.6)}), (25, 8.0, {"arriving": side(0.3, 1.2)}))
    log = evenly(track)
    eps = 1000
    for time in (eps, at(25) - eps):
        now = (log.value_at(time + 500) - log.value_at(time - 500)) / 1000
        was = (track.value_at(time + 500) - track.value_at(time - 500)) / 1000
        assert now == pytest.approx(was, rel=1e-3)
    back = by_amount(log)
    assert back.keys[0].leaving.rise == pytest.approx(0.6)


def test_keys_put_in_and_values_changed_are_values_still():
    track = evenly(numbers((0, 1.0), (30, 8.0)))
    made = insert_key(track, at(10))
    assert made.keys[1].value == pytest.approx(2)
    assert change_value(track, at(10), (3.0,), keying=True).keys[1].value == 3
    doubled = multiplied(track, 2)
    assert [doubled.value_at(at(f)) for f in (0, 10, 30)] == pytest.approx([2, 4, 16])
    assert not multiplied(track, -1).evenly


def test_what_reaches_nought_cannot_grow_evenly():
    with pytest.raises(Refusal, match="above nought"):
        evenly(numbers((0, 0.0), (30, 8.0)))
    with pytest.raises(Refusal, match="above nought"):
        change_value(evenly(numbers((0, 1.0), (30, 8.0))), at(30), (0.0,), keying=True)


def test_it_is_a_choice_of_scale_and_shows_in_the_picture():
    lanes = [{"layer": "buoy", "property": "scale"}]
    buoy = project(layer("Buoy", scale=numbers((0, 1.0), (30, 8.0))))
    edit = SetCurve(scene="crossing", lanes=lanes, evenly=True)
    assert edit.label(buoy) == "Let Scale of Buoy grow evenly"
    scene = apply(buoy, edit).scene("crossing")
    matrix = evaluate(scene, frame_times(scene)).leaves[0].matrix
    assert matrix[10, 0, 0] == pytest.approx(2)
    with pytest.raises(Refusal, match="has no growth"):
        apply(
            project(gull()), SetCurve(scene="crossing", lanes=[{"layer": "gull", "property": "rotation"}], evenly=True)
        )


@pytest.mark.parametrize("joint", ["corner", "automatic"])
def test_unlinked_from_an_area_what_grows_evenly_keeps_its_motion_everywhere(joint):
    track = evenly(numbers((0, 1.0), (20, 3.0, {"joint": joint}), (50, 0.5)))
    sail = layer("Sail", scale=track).changed(scale_link="area")
    before = evaluate(project(sail).scenes[0], frame_times(project(sail).scenes[0])).leaves[0].matrix
    edit = LinkScale(scene="crossing", layer="sail", link="free", time=0)
    after = apply(project(sail), edit).scene("crossing")
    assert evaluate(after, frame_times(after)).leaves[0].matrix == pytest.approx(before, abs=1e-9)


def test_an_automatic_joint_keeps_its_motion_when_axes_are_unlinked():
    track = numbers((0, 1.0), (20, 3.0, {"joint": "automatic"}), (50, 2.0))
    sail = layer("Sail", scale=track).changed(scale_ratio=2.0)
    before = evaluate(project(sail).scenes[0], frame_times(project(sail).scenes[0])).leaves[0].matrix
    after = apply(project(sail), LinkScale(scene="crossing", layer="sail", link="free", time=0)).scene("crossing")
    assert evaluate(after, frame_times(after)).leaves[0].matrix == pytest.approx(before, abs=1e-9)
