"""What goes on before the first key and after the last: folded, counted, added up, and made into keys."""

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.bake import baked
from deftarc.core.changes.deviation import motion_of
from deftarc.core.changes.pieces import taken
from deftarc.core.changes.rebuild import value_of
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.track import ColourTrack
from deftarc.core.edit import EDIT, apply
from deftarc.core.edit.beyond import phase_of
from deftarc.core.evaluate import evaluate, frame_times
from tests.random_motion import curves, paths, stays_on_its_way
from tests.scenes import at, floated, layer, numbers, positions, project, side

CYCLES = ("repeat", "alternate", "accumulate")


def going(track, after=None, before=None, **fields):
    told = {name: Beyond(how=how, **fields) for name, how in (("after", after), ("before", before)) if how}
    return track.changed(**told)


def values(track, *frames):
    return [round(float(x), 6) for x in track.motion(np.array([at(f) for f in frames], float))[:, 0]]


SWING = numbers((0, 0), (10, 100), (20, 40))


def test_each_way_of_going_on_by_hand():
    assert values(going(SWING, "repeat"), 19, 20, 25, 30, 40, 45) == [46, 0, 50, 100, 0, 50]
    assert values(going(SWING, "alternate"), 20, 25, 30, 40, 45) == [40, 70, 100, 0, 50]
    assert values(going(SWING, "accumulate"), 20, 25, 30, 40, 50) == [40, 90, 140, 80, 180]
    assert values(going(SWING, "continue"), 20, 25, 30) == [40, 10, -20]
    assert values(going(SWING, "rest", value=(7.0,)), 20, 20.1, 90) == [40, 7, 7]
    assert values(going(SWING.changed(value=3.0), "rest"), 30) == [3]
    assert values(going(SWING, before="repeat"), 0, -1, -10, -20, -25) == [0, 46, 100, 0, 70]
    assert values(going(SWING, before="alternate"), -1, -10, -15, -20, -25) == [10, 100, 70, 40, 70]
    assert values(going(SWING, before="accumulate"), -10, -20, -30) == [60, -40, 20]
    assert values(going(SWING, before="continue"), -5) == [-50]


def test_a_count_is_the_number_of_plays_and_may_have_a_fraction():
    assert values(going(SWING, "repeat", count=2), 39, 40, 90) == [46, 40, 40]
    assert values(going(SWING, "repeat", count=2.25), 40, 45, 90) == [0, 50, 50]
    assert values(going(SWING, "alternate", count=2), 40, 90) == [0, 0]
    assert values(going(SWING, "accumulate", count=3), 60, 90) == [120, 120]
    assert values(going(SWING, "repeat", count=1), 20, 90) == [40, 40]
    assert values(going(SWING, before="repeat", count=1.5), -10, -11, -90) == [100, 100, 100]


def test_a_part_of_the_keys_is_played_again():
    track = SWING.changed(after=Beyond(how="repeat", part=at(10)), before=Beyond(how="repeat", part=at(10)))
    assert values(track, 20, 25, 30, -1, -10, -11) == [100, 70, 100, 90, 0, 90]
    moved = apply(
        project(layer("Swing", rotation=track)),
        EDIT.validate_python({"kind": "move_keys", "scene": "crossing", "by": at(2),
                              "keys": [{"layer": "swing", "property": "rotation", "time": at(10)}]}),
    ).scene("crossing").layer("swing").track("rotation")  # fmt: skip
    assert moved.after.part == at(12)


def test_what_grows_evenly_adds_up_by_ratios_and_a_path_is_carried_on():
    grown = going(numbers((0, 1), (10, 2)).changed(evenly=True), "accumulate")
    assert values(grown, 10, 20, 30) == [2, 4, 8]
    path = going(floated(), "accumulate")
    first, second = (path.motion(np.array([float(at(f))]))[0] for f in (15, 55))
    assert second - first == pytest.approx((240, 0), abs=1e-2)


@given(
    curves(joints=("corner", "smooth")) | paths(), st.sampled_from(CYCLES), st.floats(1, 4) | st.none(), st.booleans()
)
@settings(max_examples=120, deadline=None, suppress_health_check=[HealthCheck.filter_too_much])
def test_made_into_keys_it_is_the_same_at_every_frame(track, how, count, also_before):
    stays_on_its_way(track)
    # A count may end at the very moment of a jump, and hold what was before it or what comes after.
    assume(count is None or not any(key.stepped for key in track.keys))
    track = going(track, how, how if also_before else None, count=count)
    made = baked(track, -at(100), at(200))
    assert not made.lasts
    times = np.arange(-at(100), at(200), at(1)).astype(float)
    # At the moment of a jump the one shows what was before it, the other what comes after.
    ends = np.array(track.key_times)[[0, -1]]
    near = np.abs((times - ends[0]) % (ends[1] - ends[0]))
    chosen = np.minimum(near, (ends[1] - ends[0]) - near) > 2
    steps = any(key.stepped for key in track.keys)
    off = np.abs(motion_of(made)(times) - motion_of(track)(times)).max(axis=1) * chosen
    # At the very moment of a jump the one shows what was before it, the other what comes after.
    assert (np.median(off) if steps else off.max()) < (0.1 if track.kind == "path" else 1e-3)


@given(curves(joints=("corner", "smooth")), st.sampled_from(["rest", "continue"]))
@settings(max_examples=60, deadline=None)
def test_rest_and_continue_made_into_keys_are_the_same(track, how):
    track = going(track, how, how).changed(value=33.0)
    made = baked(track, -at(50), at(120))
    times = np.arange(-at(50), at(120), at(1)).astype(float) + at(0.5)
    speeds = track.curve.speed(np.array(track.key_times, float)[[0, -1]])
    assume(np.isfinite(speeds).all() and np.abs(speeds).max() < 1e4)
    inside = (times < track.key_times[0]) | (times > track.key_times[-1])
    assert np.abs(motion_of(made)(times) - motion_of(track)(times))[inside].max() < 1e-2


@given(curves(joints=("corner", "smooth")), st.integers(1, 9))
@settings(max_examples=80, deadline=None)
def test_alternate_never_jumps_and_accumulate_is_periodic_once_its_steps_are_taken_away(track, n):
    length = track.key_times[-1] - track.key_times[0]
    back = going(track, "alternate", "alternate")
    if not any(key.stepped for key in track.keys):
        for k in (-n, n):
            moment = track.key_times[0] + k * length
            one, other = back.motion(np.array([moment - 1.0, moment + 1.0]))
            assert abs(one - other).max() < 1e-3
    adding = going(track, "accumulate", "accumulate")
    times = np.linspace(track.key_times[0], track.key_times[-1], 99)[:-1]
    step = value_of(track, len(track.keys) - 1)[0] - value_of(track, 0)[0]
    for k in (-n, n):
        assert np.abs(adding.motion(times + k * length) - k * step - track.motion(times)).max() < 1e-6


def test_an_automatic_end_takes_its_neighbour_around_the_cycle():
    auto = {"joint": "automatic"}
    track = numbers((0, 0, auto), (10, 50, auto), (30, -20, auto), (40, 0, auto))
    assert track.curve.speed(np.array([0.0]))[0] > 0
    cycle = going(track, "repeat")
    ends = cycle.curve.speed(np.array([0.0, float(at(40))]))
    assert ends[0] == pytest.approx(ends[1])
    assert (
        going(numbers((0, 0, auto), (10, 50, auto), (20, 90, auto)), "alternate").curve.speed(np.array([0.0]))[0] == 0
    )


def test_colours_repeat_but_do_not_add_up():
    red, blue = (1.0, 0.0, 0.0, 1.0), (0.0, 0.0, 1.0, 1.0)
    track = ColourTrack(value=red, keys=({"time": 0, "value": red}, {"time": at(10), "value": blue}))
    assert tuple(going(track, "repeat").motion(np.array([float(at(20))]))[0]) == pytest.approx(red)
    before = project(layer("Lamp", fill=track))
    lane = {"layer": "lamp", "property": "fill"}
    with pytest.raises(Refusal, match="cannot add up"):
        apply(
            before,
            EDIT.validate_python({"kind": "set_beyond", "scene": "crossing", "lanes": [lane], "how": "accumulate"}),
        )


@pytest.mark.parametrize(("wrong", "match"), [({"how": "repeat", "lanes": [{"layer": "one", "property": "rotation"}]}, "one key"),
                                              ({"how": "repeat", "lanes": [{"layer": "one", "property": "opacity"}]}, "no keys"),
                                              ({"how": "rest", "rest": [1, 2]}, "as many numbers")])  # fmt: skip
def test_what_cannot_go_on_is_told(wrong, match):
    before = project(layer("Swing", rotation=SWING), layer("One", rotation=numbers((3, 4))))
    told = {"kind": "set_beyond", "scene": "crossing", "lanes": [{"layer": "swing", "property": "rotation"}], **wrong}
    with pytest.raises(Refusal, match=match):
        apply(before, EDIT.validate_python(told))


def test_the_frame_table_knows_what_goes_on_and_a_million_turns_cost_what_two_do():
    track = going(SWING, "repeat", "repeat", count=1e6)
    here = project(layer("Swing", rotation=track)).scene("crossing")
    table = evaluate(here, frame_times(here))
    angle = np.degrees(np.arctan2(table.leaves[0].matrix[:, 1, 0], table.leaves[0].matrix[:, 0, 0]))
    assert angle[25] == pytest.approx(50)
    assert angle[85] == pytest.approx(50)
    assert len(track.keys) == 3


def test_a_phase_moves_keys_so_that_layers_are_not_in_step():
    bob = going(numbers((0, 0), (10, 9), (20, 0)), "repeat")
    before = project(layer("A", rotation=bob), layer("B", rotation=bob), layer("C", rotation=SWING))
    lanes = [{"layer": name, "property": "rotation"} for name in "ab"]
    told = {"kind": "set_phase", "scene": "crossing", "lanes": lanes, "phase": 0.25, "step": 0.5}
    after = apply(before, EDIT.validate_python(told)).scene("crossing")
    a, b = (after.layer(name).track("rotation") for name in "ab")
    assert (phase_of(a, 0), phase_of(b, 0)) == (0.25, 0.75)
    assert a.key_times[0] == -at(5)
    # The cycle runs already at the first frame.
    assert b.key_times[0] <= 0
    assert values(a, 0, 5) == values(bob, 5, 10)
    with pytest.raises(Refusal, match="does not repeat"):
        apply(before, EDIT.validate_python({**told, "lanes": [{"layer": "c", "property": "rotation"}]}))


def test_a_reversed_lane_goes_on_before_as_it_went_on_after():
    track = going(SWING, "accumulate")
    before = project(layer("Swing", rotation=track))
    keys = [{"layer": "swing", "property": "rotation", "time": time} for time in track.key_times]
    made = apply(before, EDIT.validate_python({"kind": "reverse_keys", "scene": "crossing", "keys": keys}))
    turned = made.scene("crossing").layer("swing").track("rotation")
    assert (turned.before.how, turned.after) == ("accumulate", None)
    assert values(turned, -5) == values(track, 25)


def test_rest_before_and_after_holds_at_bent_sides_too():
    track = going(numbers((0, 10, {"leaving": side(0.4, 80)}), (10, 50)), "rest", "rest").changed(value=-5.0)
    assert values(track, -1, 0, 10, 11) == [-5, 10, 50, -5]
    path = going(positions((0, (0, 0)), (10, (40, 0)), value=(9.0, 9.0)), "rest")
    assert path.value_at(at(30)) == (9, 9)


def test_split_and_combined_axes_go_on_as_the_position_did_or_say_why_not():
    path = positions((0, (0, 0)), (10, (40, 9))).changed(after=Beyond(how="alternate", count=3.0))
    before = project(layer("Gull", position=path))
    split = {"kind": "split_axes", "scene": "crossing", "layer": "gull", "split": True}
    apart = apply(before, EDIT.validate_python(split))
    x = apart.scene("crossing").layer("gull").track("position_x")
    assert values(x, 15) == [20]
    again = apply(apart, EDIT.validate_python({**split, "split": False}))
    assert again.scene("crossing").layer("gull").position.after == path.after
    other = {
        "kind": "set_beyond",
        "scene": "crossing",
        "lanes": [{"layer": "gull", "property": "position_y"}],
        "how": "repeat",
    }
    unlike = apply(apart, EDIT.validate_python(other))
    with pytest.raises(Refusal, match="Make both alike"):
        apply(unlike, EDIT.validate_python({**split, "split": False}))


def test_what_goes_on_is_kept_by_what_changes_its_keys():
    """Reduced, shifted, keyed further out, unlinked: the lane still goes on, at the value it rests at."""
    saw = numbers((0, 0), (10, 50), (20, 100), (30, 0)).changed(after=Beyond(how="repeat"))
    before = project(layer("Swing", rotation=saw, scale=going(numbers((0, 1), (10, 2)), "rest", value=(3.0,))))
    keys = [{"layer": "swing", "property": "rotation", "time": time} for time in saw.key_times]
    few = apply(
        before, EDIT.validate_python({"kind": "reduce_keys", "scene": "crossing", "keys": keys, "tolerance": 1})
    )
    made = few.scene("crossing").layer("swing").track("rotation")
    assert len(made.keys) == 3
    # Its last key is where it was, not at the value with which the next turn begins.
    assert made.keys[-1].value == pytest.approx(0, abs=1e-6)
    assert values(made, 25, 40, 50)[1:] == pytest.approx(values(saw, 40, 50), abs=1)
    further = {"kind": "set_keys", "scene": "crossing", "layers": ["swing"], "properties": ["rotation"], "time": at(45)}
    keyed = apply(before, EDIT.validate_python(further)).scene("crossing").layer("swing").track("rotation")
    assert keyed.keys[-1].value == pytest.approx(values(saw, 45)[0])
    free = {"kind": "link_scale", "scene": "crossing", "layer": "swing", "link": "area", "time": 0}
    area = apply(before, EDIT.validate_python(free))
    apart = apply(area, EDIT.validate_python({**free, "link": "free"})).scene("crossing").layer("swing")
    assert (apart.track("scale_x").after.value, apart.track("scale_y").after.value) == ((3.0,), (pytest.approx(1 / 3),))


def test_a_position_that_goes_on_is_carried_through_a_change_of_parent():
    path = positions((0, (0, 0)), (10, (40, 0))).changed(after=Beyond(how="rest", value=(100.0, 50.0)))
    before = project(layer("Gull", position=path), layer("Mast", position=positions(value=(30, 40))))
    told = {"kind": "set_parent", "scene": "crossing", "layers": ["gull"], "parent": "mast", "time": 0}
    after = apply(before, EDIT.validate_python(told)).scene("crossing").layer("gull").position
    assert after.after.value == (70, 10)
    assert after.value_at(at(50)) == (70, 10)


@pytest.mark.parametrize("how", ["repeat", "accumulate", "alternate"])
def test_automatic_ends_of_a_cycle_are_made_into_keys_and_copied_as_they_move(how):
    auto = {"joint": "automatic"}
    track = going(numbers((0, 0, auto), (10, 50, auto), (30, -20, auto), (40, 0, auto)), how, how)
    times = np.arange(-at(60), at(110), at(1) // 3).astype(float)
    assert np.abs(motion_of(baked(track, -at(80), at(120)))(times) - motion_of(track)(times)).max() < 1e-6
    inside = np.linspace(0, at(40), 99)[:-1]
    piece = taken(track, track.key_times)
    assert np.abs(motion_of(piece)(inside) - motion_of(track)(inside)).max() < 1e-9


def test_what_goes_on_has_the_speed_of_its_end_there():
    track = numbers((10, 0), (20, 50), (30, 70)).changed(before=Beyond(how="continue"), after=Beyond(how="continue"))
    assert track.speeds(np.array([at(0), at(40)], float)) == pytest.approx([125.0, 50.0])
    held = numbers((10, 0), (20, 50)).changed(after=Beyond(how="continue"))
    assert held.speeds(np.array([at(0), at(40)], float)) == pytest.approx([0.0, 125.0])
