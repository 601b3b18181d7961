"""Settle and Bounce against their closed forms, and their numbers changed again later."""

import itertools
import math

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.keys import change_key, delete_keys, move_keys, shifted
from deftarc.core.changes.rebuild import value_of
from deftarc.core.changes.settle_bounce import again, at_playhead, between_all, between_keys, craft_at, crafts_in
from deftarc.core.document.craft import Bounce, Settle, knots_of, time_of_fall
from tests.scenes import at, floated, numbers, positions


def spring(far, swings, soon, t):
    """1 − e^(−σt)(cos ωt + σ/ω·sin ωt) with the damping that goes past by ``far`` at first."""
    omega = (swings + 1) * math.pi / soon
    sigma = -math.log(far) * omega / math.pi
    return 1 - np.exp(-sigma * t) * (np.cos(omega * t) + sigma / omega * np.sin(omega * t))


@pytest.mark.parametrize(("far", "often"), [(0.1, 2), (0.2, 3), (0.5, 5), (0.8, 8)])
def test_a_settle_is_the_damped_spring(far, often):
    track = between_keys(numbers((0, 20), (50, 220)), 0, Settle(far=far, often=often, soon=2.0))
    keys = track.keys
    assert len(keys) == often + 2
    # Extremes: equal times, values 1 − (−far)ⁿ.
    for n in range(1, often + 1):
        assert keys[n].time / FLICKS == pytest.approx(n * 2.0 / (often + 1), abs=1e-8)
        assert keys[n].value == pytest.approx(20 + 200 * (1 - (-far) ** n))
    t = np.linspace(0, 2.0 * often / (often + 1), 500)
    off = np.abs(track.curve.at(t * FLICKS) - (20 + 200 * spring(far, often, 2.0, t)))
    # A cubic for half a swing comes within a hundredth of the first one's size at worst.
    assert off.max() < 0.01 * 200
    assert (off / (200 * (1 + far))).max() < 0.008


def test_a_stirred_settle_is_a_dying_sine():
    track = at_playhead(numbers(value=10.0), at(5), Settle(between=False, far=30, often=3, soon=1.0))
    ratio = 0.02 ** (1 / 3)
    first = math.atan2(math.pi, -math.log(ratio))
    omega = (first + 3 * math.pi) / 1.0
    sigma = -math.log(ratio) * omega / math.pi
    t = np.linspace(0, (first + 2 * math.pi) / omega, 400)
    wave = np.exp(-sigma * t) * np.sin(omega * t)
    exact = 10 + 30 * wave / (math.exp(-sigma * first / omega) * math.sin(first))
    assert np.abs(track.curve.at(at(5) + t * FLICKS) - exact).max() < 0.15
    assert track.keys[1].value == pytest.approx(40)
    assert track.keys[-1].value == 10


@pytest.mark.parametrize(("keeps", "often"), [(0.5, 3), (0.7, 5), (0.3, 1)])
def test_a_bounces_arcs_are_parabolas_and_its_peaks_follow_restitution(keeps, often):
    told = Bounce(keeps=keeps, often=often, soon=2.0, height=300.0)
    track = between_keys(numbers((0, 0), (50, 300)), 0, told)
    fall = told.fall
    assert told.gravity == pytest.approx(2 * 300 / fall**2)
    assert fall * (1 + 2 * sum(keeps**n for n in range(1, often + 1))) == pytest.approx(2.0)
    start = 0.0
    curve = track.curve
    t = np.linspace(0, fall, 100)
    assert curve.at(t * FLICKS) == pytest.approx(0.5 * told.gravity * t**2, abs=1e-5)
    start = fall
    for n in range(1, often + 1):
        v = keeps**n * told.gravity * fall
        whole = 2 * v / told.gravity
        t = np.linspace(0, whole, 101)
        height = v * t - 0.5 * told.gravity * t**2
        assert curve.at((start + t) * FLICKS) == pytest.approx(300 - height, abs=1e-4)
        assert height.max() == pytest.approx(300 * keeps ** (2 * n), rel=1e-3)
        # A sharp contact: the speed turns round and loses what it does not keep.
        before, after = curve.speed([start * FLICKS - 50, start * FLICKS + 50])
        assert after == pytest.approx(-keeps * before, rel=1e-3)
        start += whole
    assert start == pytest.approx(2.0)


def test_gravity_tells_the_time_of_a_bounce():
    soon = time_of_fall(300.0, 1200.0, 0.5, 3)
    assert Bounce(height=300, keeps=0.5, often=3, soon=soon).gravity == pytest.approx(1200)


def test_gravity_typed_says_how_long_a_bounce_takes_between_keys_and_at_the_playhead():
    from deftarc.core.changes.keys import KeyRef
    from deftarc.core.edit import apply
    from deftarc.core.edit.eases import TypeCraft
    from tests.scenes import layer, project

    ref = KeyRef(layer="ball", property="rotation", time=0)
    for track in (
        between_keys(numbers((0, 0), (50, 300)), 0, Bounce(soon=2.0)),
        at_playhead(numbers(value=0.0), 0, Bounce(between=False, height=300, soon=2.0)),
    ):
        edit = TypeCraft(scene="crossing", keys=(ref,), field="gravity", told="1200")
        assert edit.label(project(layer("Ball"))) == "Change the gravity of a key of Ball"
        made = apply(project(layer("Ball", rotation=track)), edit).scene("crossing").layer("ball").track("rotation")
        assert made.key_times[1] / FLICKS == pytest.approx(math.sqrt(2 * 300 / 1200), abs=1e-8)
        assert craft_at(made, 1).craft.soon == pytest.approx(time_of_fall(300, 1200, 0.5, 3))


def test_a_craft_is_known_by_its_keys_wherever_they_are_moved():
    track = between_keys(numbers((0, 0), (50, 100), (80, 0)), 0, Settle(soon=2.0))
    found = craft_at(track, 2)
    assert (found.first, found.last, found.craft.far) == (0, 4, 0.2)
    assert crafts_in(shifted(track, (40.0,)))
    moved = move_keys(track, {time: time + at(7) for time in track.key_times})
    assert craft_at(moved, 0).craft == found.craft
    # The end belongs to what begins there; here nothing does.
    assert craft_at(track, 4) == found
    assert craft_at(track, 5) is None


@pytest.mark.parametrize(
    "by_hand",
    [
        lambda track: change_key(track, 1, (150,)),
        lambda track: delete_keys(track, {track.key_times[2]}),
        lambda track: move_keys(track, {track.key_times[1]: track.key_times[1] + at(1)}),
    ],
)
def test_what_a_hand_has_changed_is_no_craft_any_more(by_hand):
    track = between_keys(numbers((0, 0), (50, 100)), 0, Settle(soon=2.0))
    assert crafts_in(by_hand(track)) == []


def test_its_numbers_can_be_changed_again():
    track = between_keys(numbers((0, 0), (50, 100), (90, 100)), 0, Settle(soon=2.0))
    later = again(track, craft_at(track, 0), Settle(far=0.4, often=5, soon=1.6))
    assert [round(key.value) for key in later.keys] == [0, 140, 84, 106, 97, 101, 100, 100]
    assert later.key_times[6] == at(40)
    assert len(later.crafts) == 1
    back = again(later, craft_at(later, 3), Settle(soon=2.0))
    assert back.keys == track.keys


def test_a_bounce_at_the_playhead_takes_a_position_down_a_path_of_its_own():
    track = at_playhead(positions(value=(40.0, 100.0)), at(10), Bounce(between=False, height=300, soon=1.5))
    assert track.spots == ((40.0, 100.0), (40.0, 400.0))
    assert track.value_at(at(10)) == (40.0, 100.0)
    end = track.key_times[-1]
    assert (end - at(10)) / FLICKS == pytest.approx(1.5, abs=1e-6)
    assert track.value_at(end) == (40.0, 400.0)
    first = Bounce(height=300, soon=1.5).fall
    assert track.value_at(at(10) + (first * 1.5) * FLICKS)[1] == pytest.approx(400 - 300 * 0.25, abs=0.01)
    assert [key.rests for key in track.keys] == [True, *[False] * (len(track.keys) - 2), True]
    higher = again(track, craft_at(track, 2), Bounce(between=False, height=200, soon=1.0, often=1))
    assert higher.spots[-1] == (40.0, 300.0)
    assert len(higher.keys) == 4


def test_a_settle_at_a_key_leaves_for_the_next_one_as_that_key_did():
    track = numbers((0, 5), (10, 5, {"hold": True}), (60, 9))
    made = at_playhead(track, at(10), Settle(between=False, far=4, often=2, soon=0.8))
    assert [key.hold for key in made.keys] == [False, False, False, False, True, False]
    assert made.value_at(at(59)) == 5
    assert not made.keys[1].hold
    later = again(made, craft_at(made, 2), Settle(between=False, far=2, often=3, soon=1.2))
    assert (len(later.keys), later.keys[-2].hold, later.value_at(at(59))) == (7, True, 5)


def test_a_position_that_has_arrived_is_stirred_along_the_way_it_came():
    track = positions((0, (0, 0)), (25, (300, 0)))
    made = at_playhead(track, at(25), Settle(between=False, far=60, often=2, soon=1.0))
    assert made.spots == ((0, 0), (300, 0))
    assert value_of(made, 2) == pytest.approx((360, 0))
    assert value_of(made, 3)[0] < 300
    assert made.value_at(at(50)) == pytest.approx((300, 0))
    rested = at_playhead(track, at(40), Settle(between=False, far=60, often=2, soon=1.0))
    assert rested.value_at(at(39)) == pytest.approx((300, 0))
    assert max(x for x, _ in rested.positions(np.linspace(at(40), at(65), 200))) == pytest.approx(360, abs=0.1)


def test_a_position_settles_past_the_end_of_its_path_and_back():
    track = between_keys(positions((0, (0, 0)), (50, (0, 200)), (80, (100, 200))), 0, Settle(soon=2.0))
    peak = track.keys[1]
    assert (peak.at, peak.past) == (1.0, pytest.approx(40))
    # It runs straight on where the path turns its corner, and comes back before it goes on.
    assert track.value_at(peak.time) == pytest.approx((0, 240))
    assert track.value_at(track.key_times[2]) == pytest.approx((0, 192))
    assert track.value_at(at(50)) == (0, 200)
    assert track.value_at(at(65)) == pytest.approx((50, 200))


@pytest.mark.parametrize(
    ("make", "why"),
    [
        (lambda: between_keys(numbers((0, 5), (9, 5)), 0, Settle(soon=0.36)), "one value"),
        (lambda: between_keys(numbers((0, 5), (9, 6), (12, 0)), 0, Settle(soon=1.0)), "beyond the key"),
        (lambda: between_keys(numbers((0, 5)), 0, Settle()), "two keys"),
        (lambda: at_playhead(numbers((0, 5), (30, 6)), at(10), Settle(between=False, soon=2)), "in the way"),
        (lambda: at_playhead(positions(value=(0, 0)), 0, Settle(between=False)), "along its path"),
    ],
)
def test_where_there_is_no_room_it_says_why(make, why):
    with pytest.raises(Refusal, match=why):
        make()


def test_the_knots_of_every_craft_rise_in_time_and_end_at_rest():
    for craft in (
        Settle(often=24),
        Settle(between=False, often=24, far=-9),
        Bounce(often=24, keeps=0.9),
        Bounce(often=1),
    ):
        knots = knots_of(craft)
        assert all(b.x > a.x for a, b in itertools.pairwise(knots))
        assert (knots[0].x, knots[-1].x) == (0, 1)


def test_a_bounce_off_the_end_of_a_rounded_path_leaves_that_as_it_was():
    track = floated()
    made = at_playhead(track, at(50), Bounce(between=False, height=200.0, soon=2.0))
    times = np.linspace(0, at(40), 100)
    assert made.positions(times) == pytest.approx(track.positions(times), abs=1e-3)
    (x, low), (end, _) = made.points[-1].spot, track.points[-1].spot
    assert (x, low) == (end, 200)
    assert not made.path.bent[-1]


@pytest.mark.parametrize("lane", [numbers, positions])
def test_many_segments_settle_as_they_do_one_by_one(lane):
    # The third segment is as long as the second, and the fifth as long as the first: their records are one.
    frames = [0, 30, 50, 70, 110, 140, 190, 215]
    values = [n * 40 + 7 * n * n for n in range(len(frames))]
    rows = [(f, v if lane is numbers else (v, 3 * v)) for f, v in zip(frames, values, strict=True)]
    track = alone = lane(*rows)
    chosen = [0, 1, 2, 4, 6]
    craft = Settle(far=0.3, often=2, soon=1.0, between=True)
    for k in reversed(chosen):
        soon = (alone.keys[k + 1].time - alone.keys[k].time) / FLICKS
        alone = between_keys(alone, k, craft.changed(soon=soon))
    made = between_all(track, chosen, craft)
    assert made.keys == alone.keys
    assert made.crafts == alone.crafts
    assert len(made.crafts) == 3
    assert len(crafts_in(made)) == len(chosen)
