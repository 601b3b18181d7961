"""Clocks: a layer's own time over the scene's. What they show is the motion sampled at the times they tell."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.arrange.clocked import View, at_work
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.artwork import Carrier, Contour, FreePath
from deftarc.core.document.artwork.bursts import Particles
from deftarc.core.document.links import Link, LinkSource
from deftarc.core.edit import apply, selected, told
from deftarc.core.edit.clocks import BakeClock, FreezeClock, GiveClock
from deftarc.core.edit.keys import ClearMotion, SetKeys
from deftarc.core.edit.spans import MoveSpans
from deftarc.core.edit.transform import MoveLayers, TurnLayers
from deftarc.core.edit.values import SetValue
from deftarc.core.evaluate import Evaluator, carried_by, evaluate, frame_times, matrix_at, pose, posed, shows, still
from deftarc.core.evaluate.clocks import clocks_of, inner_time, inner_times
from deftarc.core.evaluate.seam import SeamCheck
from tests.random_motion import curves, paths
from tests.scenes import EASED, at, gull, layer, numbers, positions, project, scene

GO_ON = {"before": Beyond(how="continue"), "after": Beyond(how="continue")}
#: Eased from 0 to 2 s over 80 frames, still for 20, then backwards.
RAMP = numbers((0, 0, EASED[0]), (80, 2, EASED[1]), (100, 2), (140, 0.4))
WAVE = FreePath(contours=(Contour(points=((0, 0, 0, 0, 9, 0), (60, 0, -9, 0, 9, 9), (90, 0, 0, 0, 0, 0))),))


def timed(**tracks):
    return layer("Bob", clock=RAMP, **tracks)


def shown(made, name="bob", frames=150):
    table = evaluate(made, frame_times(made, 0, frames))
    leaf = table.leaf(name)
    return np.broadcast_to(leaf.matrix, (frames, 3, 3))


@settings(max_examples=40, deadline=None)
@given(turns=curves(), way=paths(), clock=curves())
def test_a_clock_equals_sampling_at_its_times(turns, way, clock):
    clock = clock.changed(keys=tuple(key.changed(value=key.value / 100) for key in clock.keys), **GO_ON)
    bob = layer("Bob", rotation=turns, position=way, clock=clock)
    plain = bob.changed(tracks={n: t for n, t in bob.tracks.items() if n != "clock"})
    times = np.arange(-20, 90) * at(1)
    inner = inner_times((clock,), times.astype(float))
    order = np.argsort(inner, kind="stable")
    other = evaluate(scene(plain), np.round(inner[order]).astype(np.int64)).leaf("bob").matrix
    made = evaluate(scene(bob), times).leaf("bob").matrix
    told = np.empty((len(times), 3, 3))
    told[order] = np.broadcast_to(other, told.shape)
    # A step lies on one side of its moment or the other: there the two may be apart by what rounding to flicks is.
    jumps = np.isclose(np.broadcast_to(made, told.shape), told, atol=1e-3).all(axis=(1, 2))
    stepped = any(key.stepped for track in (turns, way) for key in track.keys)
    assert jumps.all() or (stepped and jumps.mean() > 0.9)


def flowing(track):
    """A track without steps: these lie on one side of their moment or the other."""
    return track.changed(keys=tuple(key.changed(hold=False, steps=None) for key in track.keys))


@settings(max_examples=40)
@given(turns=curves(), way=paths(), clock=curves(), frame=st.integers(-10, 70))
def test_what_is_asked_of_a_scene_and_of_one_that_stands_at_that_moment_is_what_shows(turns, way, clock, frame):
    clock = clock.changed(keys=tuple(key.changed(value=key.value / 100) for key in clock.keys), **GO_ON)
    # All is apart by what rounding to flicks is.
    turns, way, clock = map(flowing, (turns, way, clock))
    boat = layer("Boat", rotation=turns, position=way, clock=clock)
    flag = layer("Flag", scale=numbers((0, 0.5), (40, 2)), opacity=numbers((0, 0), (30, 1)), clock=clock)
    whole = scene(boat, flag.changed(parent="boat"))
    table = evaluate(whole, np.array([at(frame)]))
    for here in (whole, at_work(whole, at(frame)), View(whole, at(frame), to_look=True).scene):
        for name in ("boat", "flag"):
            one = here.layer(name)
            matrix = carried_by(here, one, at(frame)) @ matrix_at(here, one, at(frame))
            assert np.allclose(matrix, table.leaf(name).matrix[0], atol=1e-3)
        told = posed(here, here.layer("flag"), at(frame))
        for name, value in posed(whole, whole.layer("flag"), at(frame)).items():
            assert name == "clock" or told[name] == pytest.approx(value, abs=1e-5)
        assert told["opacity"][0] == pytest.approx(table.leaf("flag").opacity[0], abs=1e-5)
        turned = shows(here, here.layer("boat"), "rotation", at(frame))
        assert turned == pytest.approx(posed(whole, whole.layer("boat"), at(frame))["rotation"], abs=1e-3)


def test_a_flat_clock_freezes_a_falling_one_runs_backwards_and_a_groups_is_all_its_members():
    turn = numbers((0, 0), (50, 100))
    made = shown(scene(timed(rotation=turn)))
    assert np.allclose(made[80], made[100])
    assert np.allclose(made[120], shown(scene(layer("Bob", rotation=turn)))[30])
    group = layer("Fleet", Carrier(group=True), clock=RAMP)
    inside = layer("Bob", rotation=turn).changed(parent="fleet")
    assert np.allclose(shown(scene(group, inside)), made)
    # A clock within a group's: its time is told by both.
    both = layer("Bob", rotation=turn, clock=numbers((0, 0), (100, 2), **{}).changed(**GO_ON)).changed(parent="fleet")
    half = shown(scene(group, both))
    assert np.allclose(half[100], shown(scene(layer("Bob", rotation=turn)))[25])


def test_only_what_a_clock_tells_is_sampled_again():
    group, bob = layer("Fleet", Carrier(group=True), clock=RAMP), layer("Bob", rotation=numbers((0, 0), (50, 100)))
    before = scene(group, bob.changed(parent="fleet"), gull())
    evaluator = Evaluator()
    first = evaluator.table(before, frame_times(before))
    slower = group.changed(tracks={"clock": numbers((0, 0), (100, 1))})
    second = evaluator.table(before.with_layer(slower), frame_times(before))
    assert second.leaf("gull") is first.leaf("gull")
    assert second.leaf("bob") is not first.leaf("bob")
    without = before.with_layer(group.changed(tracks={}))
    third = evaluator.table(without, frame_times(before))
    assert np.array_equal(third.leaf("bob").matrix, evaluate(without, frame_times(before)).leaf("bob").matrix)


def test_what_is_set_at_the_playhead_stands_where_the_clock_says_and_shows_there():
    turn = numbers((0, 0), (50, 100))
    before = project(timed(rotation=turn), gull(), frames=200)
    time = at(40)
    inner = inner_time(clocks_of(before.scene("crossing"), before.scene("crossing").layer("bob")), time)
    assert inner == pytest.approx(FLICKS, abs=2)
    edit = SetValue(scene="crossing", layer="bob", property="rotation", value=77.0, time=time, keying=True)
    made = apply(before, edit)
    track = made.scene("crossing").layer("bob").track("rotation")
    assert inner in track.key_times
    assert track.at(inner) == (77.0,)
    assert np.degrees(
        np.arctan2(shown(made.scene("crossing"))[40][1, 0], shown(made.scene("crossing"))[40][0, 0])
    ) == pytest.approx(77)
    refs = selected(before, SetKeys(scene="crossing", layers=("bob",), properties=("rotation",), time=time), made)
    assert [ref.time for ref in refs] == [inner]
    # By a hand on the picture, too, and together with a layer that has none.
    both = apply(before, TurnLayers(scene="crossing", layers=("bob", "gull"), degrees=10, time=time, keying=True))
    assert inner in both.scene("crossing").layer("bob").track("rotation").key_times
    assert time in both.scene("crossing").layer("gull").track("rotation").key_times
    # What an edit leaves alone stays the same object.
    assert both.scene("crossing").layer("bob").tracks["clock"] is before.scene("crossing").layer("bob").tracks["clock"]
    moved = apply(before, MoveLayers(scene="crossing", layers=("gull",), dx=4, dy=0, time=time, keying=True))
    assert moved.scene("crossing").layer("bob") is before.scene("crossing").layer("bob")


def test_a_key_set_in_a_lane_stands_in_the_lanes_own_time():
    before = project(timed(rotation=numbers((0, 0), (50, 100))), frames=200)
    made = apply(before, SetKeys(scene="crossing", layers=("bob",), properties=("rotation",), time=at(40), own=True))
    assert at(40) in made.scene("crossing").layer("bob").track("rotation").key_times


def test_where_a_clock_stands_still_that_is_said():
    before = project(timed(rotation=numbers((0, 0), (50, 100))), frames=200)

    def notes(frame):
        edit = SetValue(scene="crossing", layer="bob", property="rotation", value=5.0, time=at(frame), keying=True)
        return [note.text for note in told(before, edit, apply(before, edit))]

    assert any("stands still here" in text for text in notes(90))
    assert not any("stands still" in text for text in notes(30))


def test_a_loose_value_shows_at_the_playhead_and_at_no_other_time():
    before = project(timed(rotation=numbers((0, 0), (50, 100))), frames=200)
    edit = SetValue(scene="crossing", layer="bob", property="rotation", value=33.0, time=at(40))
    made = apply(before, edit).scene("crossing")
    here = at_work(made, at(40))
    assert pose(here.layer("bob"), at(40), ("rotation",))["rotation"] == (33.0,)
    matrix = still(here, at(40)).leaf("bob").matrix[0]
    assert np.degrees(np.arctan2(matrix[1, 0], matrix[0, 0])) == pytest.approx(33)
    assert pose(at_work(made, at(41)).layer("bob"), at(41), ("rotation",))["rotation"][0] != pytest.approx(33)
    assert View(made, at(40)).back(View(made, at(40)).scene) == made


def test_a_layer_moved_in_time_takes_its_clock_and_shows_the_same_later():
    before = project(timed(rotation=numbers((0, 0), (50, 100))), frames=300)
    made = apply(before, MoveSpans(scene="crossing", layers=("bob",), by=at(25)))
    assert np.allclose(
        shown(made.scene("crossing"), frames=150)[25:], shown(before.scene("crossing"), frames=150)[:125]
    )


def test_a_clock_is_given_at_a_rate_frozen_and_taken_away():
    before = project(gull(), frames=100)
    plain = shown(before.scene("crossing"), "gull", 100)
    same = apply(before, GiveClock(scene="crossing", layers=("gull",)))
    assert np.allclose(shown(same.scene("crossing"), "gull", 100), plain)
    half = apply(before, GiveClock(scene="crossing", layers=("gull",), rate=0.5)).scene("crossing")
    assert np.allclose(shown(half, "gull", 100)[80], plain[40])
    back = apply(before, GiveClock(scene="crossing", layers=("gull",), rate=-1)).scene("crossing")
    assert np.allclose(shown(back, "gull", 100)[60], plain[40])
    frozen = apply(before, FreezeClock(scene="crossing", layers=("gull",), time=at(20), length=at(15)))
    made = shown(frozen.scene("crossing"), "gull", 100)
    assert np.allclose(made[:20], plain[:20])
    assert np.allclose(made[20:36], plain[20])
    assert np.allclose(made[36:], plain[21:85])
    gone = apply(frozen, ClearMotion(scene="crossing", layers=("gull",), properties=("clock",), time=at(30)))
    assert gone.scene("crossing").layer("gull") == before.scene("crossing").layer("gull")


def test_made_into_keys_it_shows_the_same_at_every_frame():
    bob = timed(
        rotation=numbers((0, 0), (20, 40), (50, 100)).changed(after=Beyond(how="repeat")),
        position=positions((0, (0, 0)), (25, (90, 40)), (50, (200, 0))),
        opacity=numbers((0, 1, {"hold": True}), (30, 0.5)),
    )
    before = project(bob, layer("Wave", WAVE, clock=RAMP), frames=150)
    made = apply(before, BakeClock(scene="crossing", layers=("bob", "wave")))
    assert "clock" not in made.scene("crossing").layer("bob").tracks
    assert np.abs(shown(made.scene("crossing")) - shown(before.scene("crossing"))).max() < 1e-6
    # One that runs evenly moves the keys there are.
    even = apply(project(gull()), GiveClock(scene="crossing", layers=("gull",), rate=0.5))
    made = apply(even, BakeClock(scene="crossing", layers=("gull",))).scene("crossing")
    assert made.layer("gull").track("rotation").key_times == [0, at(80)]
    assert np.abs(shown(made, "gull", 100) - shown(even.scene("crossing"), "gull", 100)).max() < 1e-6
    with pytest.raises(Refusal, match="no clock of its own"):
        apply(project(gull()), BakeClock(scene="crossing", layers=("gull",)))


def same_everywhere(before, made, frames=150):
    times = frame_times(before, 0, frames)
    one, other = (evaluate(each, times).worlds for each in (before, made))
    for name in one:
        assert np.abs(one[name] - other[name]).max() < 2e-3, name


FROZEN = numbers((0, 0), (20, 0.8, {"hold": True}), (50, 0.8), (140, 4.4)).changed(**GO_ON)
BACKWARDS = numbers((0, 3), (100, -1)).changed(**GO_ON)
LEAPING = numbers((0, 0), (30, 1.2, {"hold": True}), (60, 0.2), (140, 3.4))


@pytest.mark.parametrize("clock", [RAMP, FROZEN, BACKWARDS, LEAPING])
def test_a_groups_clock_made_into_keys_is_that_of_all_that_is_in_it(clock):
    boat = layer("Boat", rotation=numbers((0, 0, EASED[0]), (50, 90, EASED[1])), position=positions(value=(40, 0)))
    gull = layer("Gull", position=positions((0, (0, 0)), (25, (90, 40)), (60, (200, 0))).changed(
        after=Beyond(how="accumulate")), clock=numbers((0, 0), (60, 1.2)).changed(**GO_ON))  # fmt: skip
    flag = layer("Flag", rotation=numbers((5, -20, {"hold": True}), (30, 20)).changed(after=Beyond(how="alternate")))
    fleet = layer("Fleet", Carrier(group=True), clock=clock, position=positions((0, (0, 0)), (80, (300, 100))))
    made = project(
        fleet, boat.changed(parent="fleet"), gull.changed(parent="fleet"), flag.changed(parent="boat"), frames=150
    )
    baked = apply(made, BakeClock(scene="crossing", layers=("fleet",)))
    assert "clock" not in baked.scene("crossing").layer("fleet").tracks
    assert "clock" in baked.scene("crossing").layer("gull").tracks
    same_everywhere(made.scene("crossing"), baked.scene("crossing"))


@pytest.mark.parametrize("clock", [RAMP, FROZEN, BACKWARDS, LEAPING])
@pytest.mark.parametrize("how", ["hold", "repeat", "alternate", "accumulate", "continue"])
def test_what_lies_past_the_ends_of_a_motion_is_made_into_keys_as_it_is(clock, how):
    over = {"leaving": {"reach": 0.3, "rise": -60}}
    way = positions((10, (0, 0), over), (25, (90, 40), {"arriving": {"reach": 0.3, "rise": 260}}))
    turns = numbers((5, 0, {"hold": True}), (20, 30), (40, 10))
    if how != "hold":
        way, turns = (each.changed(before=Beyond(how=how), after=Beyond(how=how)) for each in (way, turns))
    made = project(layer("Bob", position=way, rotation=turns, clock=clock), frames=150)
    baked = apply(made, BakeClock(scene="crossing", layers=("bob",)))
    same_everywhere(made.scene("crossing"), baked.scene("crossing"))
    # What jumps does so within a flick, and rests before.
    at_jump = baked.scene("crossing").layer("bob").track("rotation")
    jumps = [time for time in frame_times(made.scene("crossing"), 1, 148).tolist()
             if abs(np.diff(evaluate(made.scene("crossing"), [time - 1, time]).leaf("bob").matrix[:, 0, 0])[0]) > 0.01]  # fmt: skip
    for time in jumps:
        one, other = at_jump.motion(np.array([time - 1.0, float(time)]))[:, 0]
        assert abs(one - other) > 1


@settings(max_examples=30, deadline=None)
@given(turns=curves(), way=paths(), clock=curves())
def test_any_motion_is_made_into_keys_as_it_is_at_every_frame(turns, way, clock):
    clock = clock.changed(keys=tuple(key.changed(value=key.value / 100) for key in clock.keys), **GO_ON)
    made = project(layer("Bob", rotation=turns, position=way, clock=clock), frames=90)
    baked = apply(made, BakeClock(scene="crossing", layers=("bob",)))
    same_everywhere(made.scene("crossing"), baked.scene("crossing"), 90)


def test_an_even_clock_backwards_keeps_keys_as_keys():
    half = apply(project(gull()), GiveClock(scene="crossing", layers=("gull",), rate=-0.5))
    baked = apply(half, BakeClock(scene="crossing", layers=("gull",)))
    for name in ("position", "rotation", "opacity"):
        before, after = (each.scene("crossing").layer("gull").track(name) for each in (half, baked))
        assert len(after.keys) == len(before.keys)
    same_everywhere(half.scene("crossing"), baked.scene("crossing"), 100)


def test_what_keys_cannot_keep_is_refused_by_name():
    dust = layer("Dust", Particles(), position=positions(value=(40, 0))).changed(parent="fleet")
    fleet = layer("Fleet", Carrier(group=True), clock=RAMP)
    with pytest.raises(Refusal, match="What Dust throws out"):
        apply(project(fleet, dust), BakeClock(scene="crossing", layers=("fleet",)))
    boat = layer("Boat", rotation=numbers((0, 0), (50, 90))).changed(parent="fleet", locked=True)
    with pytest.raises(Refusal, match="Boat is locked"):
        apply(project(fleet, boat), BakeClock(scene="crossing", layers=("fleet",)))
    # Many frames at a time or few, what hangs on the clock from outside is found.
    late = layer("Late", rotation=numbers(value=0)).changed(
        links={"rotation": Link(source=LinkSource(layer="boat", what="rotation"), lag=at(40))}
    )
    before = project(fleet, boat.changed(locked=False), late, frames=150)
    baked = apply(before, BakeClock(scene="crossing", layers=("fleet",)))
    same_everywhere(before.scene("crossing"), baked.scene("crossing"))


def test_a_seam_is_what_the_clock_shows():
    turn = numbers((0, 0), (50, 90))
    there_and_back = numbers(
        (0, 0, EASED[0]),
        (50, 2, {"arriving": EASED[1]["arriving"], "leaving": EASED[0]["leaving"]}),
        (100, 0, EASED[1]),
    )
    bob = layer("Bob", rotation=turn, clock=there_and_back)
    assert SeamCheck().seam(scene(bob)).state == "perfect"
    assert SeamCheck().seam(scene(bob.changed(tracks={"rotation": turn}))).state == "open"


def test_a_clock_that_tells_the_furthest_moment_still_shows_and_refuses_only_what_it_cannot_do():
    far = numbers((0, 1e7), (100, -1e7))
    before = project(layer("Bob", rotation=numbers((0, 0), (50, 100), (80_000 * 25, 3)), clock=far))
    here = before.scene("crossing")
    assert np.isfinite(shown(here)).all()
    assert at_work(here, at(99)).layer("bob").name == "Bob"
    edit = SetValue(scene="crossing", layer="bob", property="rotation", value=5.0, time=at(99), keying=True)
    with pytest.raises(Refusal, match="24 hours"):
        apply(before, edit)
