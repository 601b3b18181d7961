"""The seam of a loop: what does not meet is found, what meets is not, and what closes it does."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.artwork import Carrier
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.edit import apply
from deftarc.core.edit.keys import Lane
from deftarc.core.edit.scenes import SetPlayRange
from deftarc.core.edit.seam import CloseSeam, LoopLength
from deftarc.core.evaluate import evaluate
from deftarc.core.evaluate.gaps import SHOWS, UNSEEN, seen_apart
from deftarc.core.evaluate.seam import SeamCheck, common_length, cycle_gap, lane_gap
from tests.random_motion import curves, paths
from tests.scenes import EASED, at, layer, numbers, positions, project, side

FRAME = at(1)


def seam_of(*layers, **fields):
    return SeamCheck().seam(project(*layers, **fields).scene("crossing"))


def closed(before, how="auto", own=False, *lanes):
    told = tuple(Lane(layer=name, property=which) for name, which in lanes)
    return apply(before, CloseSeam(scene="crossing", lanes=told, how=how, own=own))


def gap_of(before, name="bob", which="rotation"):
    scene = before.scene("crossing")
    return lane_gap(scene.layer(name), which, 0, scene.length, FRAME)


def test_the_worst_is_told_first_with_what_it_is_off_by():
    found = seam_of(
        layer("Bob", rotation=numbers((0, 0), (100, 40))),
        layer("Way", position=positions((0, (0, 0)), (100, (300, 400)))),
        layer("Veil", opacity=numbers((0, 1), (100, 0.5))),
    )
    assert [gap.layer for gap in found.gaps] == ["way", "bob", "veil"]
    assert found.gaps[0].value == pytest.approx((300, 400))
    assert found.gaps[1].far == pytest.approx(100 * math.radians(40))
    assert (found.moving, found.state) == (3, "open")


def test_whole_turns_meet_and_are_kept_by_what_closes():
    assert seam_of(layer("Bob", rotation=numbers((0, 0), (100, 360)))).state == "perfect"
    before = project(layer("Bob", rotation=numbers((0, 10), (90, 340))))
    made = closed(before, "value").scene("crossing").layer("bob").track("rotation")
    assert made.keys[-1].time == at(100)
    assert made.keys[-1].value == pytest.approx(370)


def test_nothing_that_moves_is_no_loop_at_all():
    assert seam_of(layer("Bob", rotation=numbers((0, 5), (50, 5))), layer("Still")).state == "still"


def test_values_that_meet_at_other_speeds_are_a_loop_with_a_kink():
    found = seam_of(layer("Bob", rotation=numbers((0, 0), (30, 90), (100, 0))))
    assert found.state == "meets"
    # 75 degrees a second on, 32 and a bit back.
    assert found.gaps[0].speed[0] == pytest.approx(-90 / 70 * 25 - 75)


def test_a_last_frame_that_shows_what_the_first_does_is_known_and_mended_by_its_key():
    before = project(layer("Bob", rotation=numbers((0, 0, EASED[0]), (50, 40), (99, 0, EASED[1]))))
    gap = gap_of(before)
    assert gap.doubled
    assert gap.meets
    made = closed(before, "value")
    assert made.scene("crossing").layer("bob").track("rotation").key_times == [0, at(50), at(100)]
    assert gap_of(made) is None
    # Or the loop is a frame shorter.
    shorter = apply(before, SetPlayRange(scene="crossing", start=0, end=at(99)))
    assert not [each for each in SeamCheck().seam(shorter.scene("crossing")).gaps if each.doubled]


def test_a_rest_before_the_end_is_no_doubled_frame():
    gap = gap_of(project(layer("Bob", rotation=numbers((0, 0), (50, 40), (95, 0)))))
    assert gap.meets
    assert not gap.doubled


def test_a_step_at_the_seam_is_meant():
    assert seam_of(layer("Lamp", opacity=numbers((0, 1, {"hold": True}), (50, 0, {"hold": True}), (100, 0)))).gaps == ()
    steep = numbers((0, 1), (50, 0), (99, 0.2))
    assert seam_of(layer("Lamp", opacity=steep)).gaps[0].far > 50


def test_what_nobody_sees_need_not_meet():
    moving = numbers((0, 0), (100, 90))
    assert seam_of(layer("Bob", rotation=moving).changed(hidden=True)).state == "still"
    assert seam_of(layer("Bob", rotation=moving).changed(reference=True)).state == "still"
    fading = layer("Bob", rotation=moving, opacity=numbers((0, 0), (50, 1), (100, 0)))
    assert seam_of(fading).state == "perfect"
    mast = layer("Mast", Carrier(), rotation=moving)
    assert seam_of(mast, layer("Still")).state == "still"
    assert seam_of(mast, layer("Lamp").changed(parent="mast")).gaps[0].layer == "mast"


def test_a_span_that_ends_within_the_loop_pops():
    late = layer("Late", rotation=numbers((0, 0), (100, 360))).changed(start=at(20))
    assert [(gap.name, gap.value) for gap in seam_of(late).gaps] == [(SHOWS, (1.0,))]


def test_the_play_range_is_what_loops_where_there_is_one():
    bob = layer("Bob", rotation=numbers((0, 0), (20, 0), (40, 30), (60, 0), (90, 80)))
    before = apply(project(bob), SetPlayRange(scene="crossing", start=at(20), end=at(60)))
    found = SeamCheck().seam(before.scene("crossing"))
    assert (found.start, found.end) == (at(20), at(60))
    assert found.state == "meets"


def test_only_what_was_touched_is_worked_out_again():
    check = SeamCheck()
    before = project(layer("Bob", rotation=numbers((0, 0), (100, 40))), layer("Way", rotation=numbers((0, 0), (90, 7))))
    first = check.seam(before.scene("crossing"))
    after = closed(before, "value", False, ("bob", "rotation"))
    second = check.seam(after.scene("crossing"))
    kept = {gap.layer: gap for gap in first.gaps}
    assert next(gap for gap in second.gaps if gap.layer == "way") is kept["way"]


@settings(max_examples=60, deadline=None)
@given(turns=curves(), way=paths(), frames=st.integers(61, 140))
def test_random_motion_that_was_closed_meets_in_value_and_speed_within_what_is_seen(turns, way, frames):
    before = project(layer("Bob", rotation=turns, position=way), frames=frames)
    check = SeamCheck()
    if check.seam(before.scene("crossing")).gaps:
        before = closed(before)
    scene = before.scene("crossing")
    for gap in check.seam(scene).gaps:
        # What goes in steps beside the seam, or turns back on its line there, meets and has no speed to match.
        assert gap.meets, gap
        assert not gap.doubled, gap
        track = scene.layer("bob").track(gap.name)
        assert gap.name == "position" or track.keys[0].stepped or track.keys[-2].stepped, gap
    if not any(track.keys[-2].stepped for track in scene.layer("bob").tracks.values()):
        first, last = (evaluate(scene, [time]).leaves[0].matrix[0] for time in (0, scene.length - 1))
        assert np.abs(first - last).max() < 20 * UNSEEN


@pytest.mark.parametrize("own", [False, True])
def test_an_accepted_speed_is_the_one_with_which_it_leaves(own):
    track = numbers((0, 0, {"leaving": side(0.3, 12)}), (40, 70), (100, 0, {"arriving": side(0.5, 0)}))
    track = track.changed(after=Beyond(how="repeat")) if own else track
    before = project(layer("Bob", rotation=track))
    made = closed(before, "speed", own, ("bob", "rotation")).scene("crossing").layer("bob").track("rotation")
    ends = made.curve.speed(np.array([1.0, at(100) - 1.0]))
    assert ends[1] == pytest.approx(ends[0], rel=1e-4)


def test_a_path_that_comes_back_goes_smoothly_through_its_beginning():
    way = positions((0, (0, 0)), (30, (200, 30)), (60, (150, 160)), (100, (0, 0)))
    made = closed(project(layer("Bob", position=way)))
    track = made.scene("crossing").layer("bob").track("position")
    assert track.closed
    gap = gap_of(made, which="position")
    assert gap is None
    # There and back on one line it turns round, and is not bent out of its way.
    back = positions((0, (0, 0)), (50, (200, 0)), (100, (0, 0)))
    made = closed(project(layer("Bob", position=back)))
    assert made.scene("crossing").layer("bob").track("position").points == back.points
    assert gap_of(made, which="position").kink > 7


def test_cycles_are_fitted_to_the_loop_by_whole_turns_and_the_loop_to_the_cycles():
    sway = numbers((0, 0), (7, 20), (15, 0)).changed(after=Beyond(how="repeat"))
    nod = numbers((0, 0, EASED[0]), (9, 5, EASED[1])).changed(
        after=Beyond(how="alternate"), before=Beyond(how="alternate")
    )
    before = project(layer("Bob", rotation=sway), layer("Nod", rotation=nod))
    assert common_length(before.scene("crossing")).length == at(90)
    made = closed(before, "cycle", False, ("bob", "rotation"), ("nod", "rotation"))
    scene = made.scene("crossing")
    assert scene.length / scene.layer("bob").track("rotation").period == pytest.approx(7)
    assert scene.length / scene.layer("nod").track("rotation").period == pytest.approx(6)
    assert all(gap.meets for gap in SeamCheck().seam(scene).gaps)
    longer = apply(before, LoopLength(scene="crossing")).scene("crossing")
    assert longer.frames == 90
    assert all(gap.meets for gap in SeamCheck().seam(longer).gaps)


def test_a_play_range_is_fitted_and_the_scene_grows_where_it_must():
    sway = numbers((0, 0), (35, 0), (70, 0)).changed(after=Beyond(how="repeat"))
    before = apply(project(layer("Bob", rotation=sway)), SetPlayRange(scene="crossing", start=at(40), end=at(60)))
    made = apply(before, LoopLength(scene="crossing")).scene("crossing")
    assert made.play_range == (at(40), at(110))
    assert made.frames == 110


def test_what_adds_up_closes_after_whole_turns_or_never():
    third = numbers((0, 0), (10, 120)).changed(after=Beyond(how="accumulate"))
    assert common_length(project(layer("Bob", rotation=third)).scene("crossing")).length == at(30)
    way = positions((0, (0, 0)), (10, (50, 0))).changed(after=Beyond(how="accumulate"))
    drift = project(layer("Bob", position=way))
    assert common_length(drift.scene("crossing")).never == (("bob", "position"),)
    for edit in (LoopLength(scene="crossing"), CloseSeam(scene="crossing")):
        with pytest.raises(Refusal, match="never comes back"):
            apply(drift, edit)


def test_a_turn_of_its_own_is_looked_at_and_closed():
    bob = layer("Bob", rotation=numbers((0, 0), (12, 40), (20, 3)).changed(after=Beyond(how="repeat")))
    gap = cycle_gap(bob, "rotation", FRAME)
    assert gap.value == pytest.approx((3,))
    made = closed(project(bob), "auto", True, ("bob", "rotation")).scene("crossing").layer("bob")
    assert cycle_gap(made, "rotation", FRAME) is None
    swing = layer("Bob", rotation=numbers((0, 0), (20, 40)).changed(after=Beyond(how="alternate")))
    assert cycle_gap(swing, "rotation", FRAME).meets
    assert cycle_gap(swing, "rotation", FRAME).kink
    made = closed(project(swing), "auto", True, ("bob", "rotation")).scene("crossing").layer("bob")
    assert cycle_gap(made, "rotation", FRAME) is None


def test_what_is_locked_stays_and_nothing_left_to_close_says_so():
    shut = layer("Bob", rotation=numbers((0, 0), (90, 40))).changed(locked=True)
    with pytest.raises(Refusal, match="No lane is left"):
        apply(project(shut), CloseSeam(scene="crossing"))


def test_what_is_seen_of_a_difference_is_told_in_px():
    assert seen_apart(PROPERTIES["position"], np.array([3.0, 4.0])) == 5
    assert seen_apart(PROPERTIES["opacity"], np.array([0.5])) == 50
    assert seen_apart(PROPERTIES["scale"], np.array([0.5, 0.1])) == 50
