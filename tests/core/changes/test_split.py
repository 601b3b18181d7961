"""A position's axes split into two numbers and combined as a path again, the motion as it was."""

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.split import apart, together
from deftarc.core.document import Project
from deftarc.core.document.keys import NumberKey, PathKey
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.edit import apply
from deftarc.core.edit.families import SetParent
from deftarc.core.edit.samples import LaySamples, ReduceKeys, SplitAxes
from deftarc.core.edit.transform import MoveLayers, MovePivot
from deftarc.core.edit.values import SetValue
from deftarc.core.evaluate import evaluate, frame_times, pose
from deftarc.core.spaces.points import point_at
from tests.core.changes.test_reduce import bent_motion
from tests.scenes import RATE, at, floated, layer, numbers, positions, project, side

FRAME = RATE.flicks


def spots(x, y, times):
    return np.stack([x.curve.at(times), y.curve.at(times)], axis=1)


def test_straight_ways_are_split_exactly_with_the_keys_they_have():
    track = positions(
        (0, (0, 0), {"leaving": side(0.42, 0)}),
        (20, (300, 400), {"arriving": side(0.3, 600), "hold": True}),
        (30, (0, 0)),
    )
    x, y = apart(track, FRAME, 0.5)
    assert x.key_times == y.key_times == track.key_times
    times = np.linspace(0, at(30), 400)
    assert spots(x, y, times) == pytest.approx(track.positions(times), abs=1e-9)
    again = together(x, y, FRAME, 0.5)
    assert again.positions(times) == pytest.approx(track.positions(times), abs=1e-9)
    assert len(again.keys) == 3


@pytest.mark.parametrize("closed", [True, False])
def test_a_closed_path_comes_back_closed(closed):
    rows = [point_at(spot, 0.5) for spot in ((0, 0), (200, 40), (120, 160), (0, 0))]
    keys = tuple(PathKey(time=at(10 * n), at=float(n)) for n in range(4))
    ring = PathTrack(value=(0, 0), points=tuple(rows), keys=keys, closed=closed)
    back = apply(split_gull(ring), SplitAxes(scene="crossing", layer="gull", split=False))
    assert gull(back).position.closed == closed
    assert not gull(back).path_closed


@pytest.mark.parametrize("seed", range(6))
def test_split_then_combine_returns_within_the_tolerance(seed):
    track = bent_motion(seed)
    x, y = apart(track, FRAME, 0.5)
    times = np.arange(0, track.key_times[-1], FRAME / 4)
    assert np.hypot(*(spots(x, y, times) - track.positions(times)).T).max() <= 0.5
    # Every key of the path stays one of both axes.
    assert set(track.key_times) <= set(x.key_times) & set(y.key_times)
    back = together(x, y, FRAME, 0.5)
    assert np.hypot(*(back.positions(times) - track.positions(times)).T).max() <= 1.0


def split_gull(track):
    return apply(project(layer("Gull", position=track)), SplitAxes(scene="crossing", layer="gull", split=True))


def gull(made):
    return made.scenes[0].layer("gull")


def test_it_tells_how_many_keys_it_takes_and_how_far_it_is_off():
    before = project(layer("Gull", position=floated()))
    edit = SplitAxes(scene="crossing", layer="gull", split=True, tolerance=0.2)
    after = apply(before, edit)
    x, y = (len(gull(after).number(name).keys) for name in ("position_x", "position_y"))
    (note,) = edit.notes(before, after)
    assert note.text.startswith(f"{x} keys of x and {y} keys of y, off by at most 0.")
    straight = project(layer("Gull", position=positions((0, (0, 0)), (9, (50, 20)))))
    assert edit.notes(straight, apply(straight, edit))[0].text == "2 keys of x and 2 keys of y, exactly as it was."


def test_split_axes_are_painted_moved_and_carried_as_the_path_was():
    before, after = project(layer("Gull", position=floated())), split_gull(floated())
    times = frame_times(before.scenes[0], 0, 41)
    one, other = (evaluate(p.scenes[0], times).leaves[0].matrix[:, :2, 2] for p in (before, after))
    assert np.abs(one - other).max() < 0.5
    assert gull(after).properties[:2] == ("position_x", "position_y")
    moved = apply(after, MoveLayers(scene="crossing", layers=("gull",), dx=4, dy=-3, time=0, keying=True))
    assert pose(gull(moved), 0, ("position",))["position"] == pytest.approx((4, -3))
    typed = SetValue(scene="crossing", layer="gull", property="position_y", told="17", time=0, keying=True)
    assert pose(gull(apply(after, typed)), 0, ("position",))["position"] == pytest.approx((0, 17))
    pivot = apply(after, MovePivot(scene="crossing", layers=("gull",), own=(9.0, 2.0), time=0))
    first = evaluate(pivot.scenes[0], [0]).leaves[0].matrix[0]
    assert first == pytest.approx(evaluate(after.scenes[0], [0]).leaves[0].matrix[0])
    assert Project.model_validate_json(after.model_dump_json(exclude_defaults=True)) == after


def test_what_split_axes_cannot_do_is_said():
    after = split_gull(floated())
    with pytest.raises(Refusal, match="axes of its position are split"):
        gull(after).track("position")
    mast = layer("Mast", rotation=numbers(value=30.0))
    both = project(mast, gull(after))
    with pytest.raises(Refusal, match="Combine its axes"):
        apply(both, SetParent(scene="crossing", layers=("gull",), parent="mast", time=0))
    turning = project(layer("Gull", position=floated(), along=numbers(value=1.0)))
    with pytest.raises(Refusal, match="turns along its path"):
        apply(turning, SplitAxes(scene="crossing", layer="gull", split=True))
    with pytest.raises(Refusal, match="split already"):
        apply(after, SplitAxes(scene="crossing", layer="gull", split=True))


def test_samples_become_a_motion_and_are_told():
    before = project(layer("Gull"))
    times = tuple(at(n) for n in range(41))
    rows = tuple((float(x), float(y)) for x, y in floated().positions(np.array(times, float)))
    edit = LaySamples(scene="crossing", layer="gull", property="position", times=times, values=rows, tolerance=1.0)
    after = apply(before, edit)
    assert len(gull(after).position.keys) <= 3
    assert edit.notes(before, after)[0].text.startswith(f"{len(gull(after).position.keys)} keys for 41 samples, off by")
    opacity = LaySamples(
        scene="crossing",
        layer="gull",
        property="opacity",
        times=times,
        values=tuple((2.5 * n,) for n in range(41)),
        tolerance=1,
    )
    keys = gull(apply(before, opacity)).number("opacity").keys
    assert [(key.time, key.value) for key in keys] == [(0, 0), (at(40), 1)]
    with pytest.raises(Refusal, match="x and a y"):
        apply(before, edit.changed(values=((1.0,),) * 41))
    with pytest.raises(Refusal, match="rise"):
        apply(before, edit.changed(times=tuple(reversed(times))))


def test_samples_in_scene_px_are_taken_back_through_a_moving_carrier():
    mast = layer("Mast", position=positions((0, (0, 0)), (20, (100, 0))))
    before = project(mast, layer("Gull").changed(parent="mast"))
    times = tuple(at(n) for n in range(21))
    still = LaySamples(
        scene="crossing",
        layer="gull",
        property="position",
        times=times,
        values=((300.0, 50.0),) * 21,
        tolerance=1.0,
        axes="scene",
    )
    after = apply(before, still)
    table = evaluate(after.scenes[0], np.array(times))
    assert np.abs(table.leaf("gull").matrix[:, :2, 2] - [300, 50]).max() <= 1.0


def test_what_motion_samples_replace_is_told():
    before = project(layer("Gull", rotation=numbers((0, 0), (10, 5), (30, 9))))
    edit = LaySamples(
        scene="crossing", layer="gull", property="rotation", times=(0, at(5)), values=((0.0,), (9.0,)), tolerance=1
    )
    assert [note.text for note in edit.notes(before, apply(before, edit))][1] == "The 3 keys it had are replaced."


def test_what_grows_evenly_is_reduced_and_combined_by_its_value():
    keys = tuple(NumberKey(time=at(n), value=2.0 ** (n / 10)) for n in range(41))
    grown = NumberTrack(value=1.0, keys=keys, evenly=True)
    before = project(layer("Gull", rotation=grown))
    refs = tuple(KeyRef(layer="gull", property="rotation", time=key.time) for key in keys)
    edit = ReduceKeys(scene="crossing", keys=refs, tolerance=0.05)
    made = gull(apply(before, edit)).number("rotation")
    times = np.linspace(0, at(40), 300)
    assert np.abs(made.sampled(times, made.curve.at(times)) - grown.sampled(times, grown.curve.at(times))).max() <= 0.06
    with pytest.raises(Refusal, match="as a whole"):
        apply(before, edit.changed(keys=refs[:20]))
    still = numbers((0, 5), (40, 5))
    path = together(grown, still, FRAME, 0.5)
    assert path.positions(times)[:, 0] == pytest.approx(grown.valued(grown.curve.at(times)), abs=0.6)


def test_samples_laid_on_a_lane_kept_within_its_keys_stay_within_the_tolerance():
    before = project(layer("Gull", rotation=numbers((0, 0), (9, 4)).changed(within=True)))
    times = tuple(at(n) for n in range(30))
    rows = tuple((20 * float(np.sin(n / 6)),) for n in range(30))
    edit = LaySamples(scene="crossing", layer="gull", property="rotation", times=times, values=rows, tolerance=0.5)
    made = gull(apply(before, edit)).number("rotation")
    assert np.abs(made.curve.at(np.array(times)) - np.array(rows)[:, 0]).max() <= 0.5
