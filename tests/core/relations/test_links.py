"""Links: what follows is its source at an earlier time, times a factor, moved by an offset, with its own keys on top."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.links import Link, LinkSource
from deftarc.core.edit import apply, told
from deftarc.core.edit.layers import DeleteLayers, DuplicateLayers
from deftarc.core.edit.links import ChangeLinks, CutLinks, LaneAsked, LinkLanes, SourceAsked
from deftarc.core.edit.transform import MoveLayers, TurnLayers
from deftarc.core.edit.values import SetValue
from deftarc.core.evaluate import Asker, Evaluator, evaluate, frame_times
from tests.scenes import at, floated, layer, numbers, positions, project, scene, side

TIMES = np.array([-40, 0, 3, 7.5, 20, 41, 60, 99.25]) * at(1)
BENT = {"leaving": side(0.6, 40.0)}, {"arriving": side(0.4, -10.0)}


def link(source="mast", what="rotation", **fields):
    told = {name: fields.pop(name) for name in ("part", "axes") if name in fields}
    return Link(source=LinkSource(layer=source, what=what, **told), **fields)


def linked(found, **links):
    return found.changed(links=links)


def mast(**more):
    return layer("Mast", rotation=numbers((0, 10, BENT[0]), (50, 200, BENT[1])), **more)


def values(made, name, prop, times=TIMES):
    return Asker(made).values(made.layer(name), prop, times)


@given(
    lag=st.integers(-3 * FLICKS, 3 * FLICKS), factor=st.floats(-4, 4), offset=st.floats(-500, 500),
    times=st.lists(st.floats(-5, 12), min_size=1, max_size=8, unique=True),
)  # fmt: skip
def test_what_follows_is_its_source_at_an_earlier_time(lag, factor, offset, times):
    made = scene(linked(layer("Flag"), rotation=link(lag=lag, factor=factor, offset=(offset,))), mast())
    when = np.sort(np.array(times)) * FLICKS
    source = made.layer("mast").tracks["rotation"].motion(when - lag)
    assert values(made, "flag", "rotation", when) == pytest.approx(factor * source + offset, abs=1e-9)


def test_a_chain_of_links_is_the_formulas_put_into_each_other():
    names = ["Mast", "One", "Two", "Three", "Four"]
    told = [(0.5, 3.0, 2), (-2.0, 1.0, 5), (1.5, -7.0, -3), (0.1, 40.0, 11)]
    layers = [mast()]
    for (before, name), (factor, offset, lag) in zip(itertools.pairwise(names), told, strict=True):
        made = link(before.lower(), factor=factor, offset=(offset,), lag=at(lag))
        layers.append(linked(layer(name), rotation=made))
    made = scene(*layers)
    expected = layers[0].tracks["rotation"].motion(TIMES - at(2 + 5 - 3 + 11))
    for factor, offset, _ in told:
        expected = factor * expected + offset
    assert values(made, "four", "rotation") == pytest.approx(expected, abs=1e-9)
    # The table of frames says the same as single questions do.
    times = frame_times(made)
    table = Evaluator().values(made, "four", times)["rotation"]
    assert table == pytest.approx(values(made, "four", "rotation", times.astype(float)), abs=1e-9)


def test_own_keys_lie_on_top():
    flag = layer("Flag", rotation=numbers((0, 5), (40, -5)))
    made = scene(linked(flag, rotation=link(lag=at(4), factor=2.0)), mast())
    source = made.layer("mast").tracks["rotation"].motion(TIMES - at(4))
    assert values(made, "flag", "rotation") == pytest.approx(2 * source + flag.tracks["rotation"].motion(TIMES))


def test_what_repeats_is_followed_as_it_repeats():
    turning = numbers((0, 0), (10, 90)).changed(after=Beyond(how="accumulate"), before=Beyond(how="accumulate"))
    made = scene(linked(layer("Flag"), rotation=link(lag=at(33))), layer("Mast", rotation=turning))
    assert values(made, "flag", "rotation")[:, 0] == pytest.approx((TIMES / at(1) - 33) * 9)


def test_a_number_follows_one_of_two_of_a_position_and_holds_at_the_ends_of_its_range():
    gull = layer("Gull", position=positions((0, (-100, 5)), (100, (500, 5))))
    told = link("gull", "position", part=0, over=(0.0, 300.0), held=True, factor=40 / 300, offset=(100.0,))
    made = scene(linked(layer("Flag"), skew_x=told), gull)
    shown = values(made, "flag", "skew_x", np.array([0, 20, 60, 66, 90]) * at(1))[:, 0]
    # x is −100, 20, 260, 296, 440: from 0 to 300 it goes from 100 to 140, and no further.
    assert shown == pytest.approx([100, 100 + 40 * 20 / 300, 100 + 40 * 260 / 300, 100 + 40 * 296 / 300, 140])


def test_a_position_follows_where_the_scene_shows_it_whatever_carries_either():
    ferry = layer("Ferry", position=positions((0, (0, 0)), (50, (400, 100))), rotation=numbers((0, 0), (50, 90)))
    lamp = layer("Lamp", position=floated()).changed(parent="ferry")
    raft = layer("Raft", position=numbers_at((50, 60)), rotation=numbers(value=30.0), scale=numbers(value=2.0))
    rope = layer("Rope").changed(parent="raft")
    rope = linked(rope, position=link("lamp", "position", axes="scene", lag=at(6), offset=(3.0, -4.0)))
    made = scene(rope, lamp, ferry, raft)
    times = frame_times(made)[10:60]
    table = evaluate(made, times)
    before = evaluate(made, times - at(6))
    assert table.worlds["rope"][:, :2, 2] == pytest.approx(before.worlds["lamp"][:, :2, 2] + [3, -4], abs=1e-9)


def numbers_at(spot):
    return positions(value=spot)


def derived(what, factor=1.0, **more):
    return link("gull", what, axes=more.pop("axes", "scene"), factor=factor, **more)


def test_speed_direction_and_distance_gone_are_those_of_the_way():
    gull = layer("Gull", position=positions((0, (0, 0)), (50, (300, 400))))
    flag = linked(layer("Flag"), rotation=derived("direction"), skew_x=derived("speed", 0.1), pivot_x=derived("gone"))
    made = scene(flag, gull)
    times = np.array([0, 10, 25, 49]) * at(1)
    assert values(made, "flag", "skew_x", times)[:, 0] == pytest.approx([25] * 4)
    assert values(made, "flag", "rotation", times)[:, 0] == pytest.approx([np.rad2deg(np.arctan2(400, 300))] * 4)
    assert values(made, "flag", "pivot_x", times)[:, 0] == pytest.approx([0, 100, 250, 490], abs=1e-6)
    # At rest it has no speed, and points the way it came.
    rest = np.array([60, 90]) * at(1)
    assert values(made, "flag", "skew_x", rest)[:, 0] == pytest.approx([0, 0])
    assert values(made, "flag", "rotation", rest)[:, 0] == pytest.approx([np.rad2deg(np.arctan2(400, 300))] * 2)
    assert values(made, "flag", "pivot_x", rest)[:, 0] == pytest.approx([500, 500])
    before = np.array([-30]) * at(1)
    assert values(made, "flag", "rotation", before)[:, 0] == pytest.approx([np.rad2deg(np.arctan2(400, 300))], abs=0.1)


def test_speed_on_a_bent_way_is_that_of_its_time_curve():
    gull = layer("Gull", position=floated())
    made = scene(linked(layer("Flag"), pivot_x=derived("speed")), gull)
    times = np.array([1, 11, 17.5, 33]) * at(1)
    assert values(made, "flag", "pivot_x", times)[:, 0] == pytest.approx(gull.position.curve.speed(times), rel=1e-4)


def test_turning_speed_counts_what_its_path_turns_it():
    wheel = layer("Gull", rotation=numbers((0, 0), (50, 360)))
    made = scene(linked(layer("Flag"), pivot_x=derived("turning")), wheel)
    assert values(made, "flag", "pivot_x", np.array([5.0, 30.0]) * at(1))[:, 0] == pytest.approx([180, 180])


@pytest.mark.parametrize("what", ["speed", "direction", "gone", "turning"])
def test_what_is_derived_later_is_it_at_an_earlier_time(what):
    gull = layer("Gull", position=floated(), rotation=numbers((0, 0), (30, 40)), along=numbers(value=1.0))
    flag = linked(layer("Flag"), pivot_x=derived(what), pivot_y=derived(what, lag=at(7)))
    made = scene(flag, gull)
    assert values(made, "flag", "pivot_y") == pytest.approx(values(made, "flag", "pivot_x", TIMES - at(7)), abs=1e-9)


def test_what_follows_turns_the_way_it_goes():
    gull = layer("Gull", position=positions((0, (0, 0)), (50, (300, 400))))
    flag = linked(layer("Flag", along=numbers(value=1.0)), position=link("gull", "position", lag=at(5), offset=(0, 0)))
    table = evaluate(scene(flag, gull), [at(20)])
    (a, _, _), (b, _, _), _ = table.worlds["flag"][0]
    assert np.rad2deg(np.arctan2(b, a)) == pytest.approx(np.rad2deg(np.arctan2(400, 300)))


# -- made, changed, cut ------------------------------------------------------------------------------------------------


def lanes(*told):
    return tuple(LaneAsked(layer=name, property=prop) for name, prop in told)


def follow(before, lane, to, **fields):
    source = SourceAsked(layer=to[0], what=to[1], axes=fields.pop("axes", None))
    return apply(before, LinkLanes(scene="crossing", lanes=lanes(lane), to=source, **fields))


def shown(made, name, prop, frame):
    here = made.scenes[0]
    return tuple(Asker(here, at(frame)).shown(here.layer(name), prop, at(frame)))


def test_a_position_keeps_its_distance_and_all_else_takes_the_value_it_follows():
    before = project(layer("Flag", position=positions(value=(50, 20))), mast(position=floated()))
    made = follow(before, ("flag", "position"), ("mast", "position"), time=at(12))
    assert shown(made, "flag", "position", 12) == pytest.approx((50, 20))
    assert shown(made, "flag", "position", 40) != pytest.approx((50, 20))
    turned = follow(before, ("flag", "rotation"), ("mast", "rotation"), time=at(12))
    assert shown(turned, "flag", "rotation", 30) == pytest.approx(shown(turned, "mast", "rotation", 30))
    kept = follow(before, ("flag", "rotation"), ("mast", "rotation"), time=at(12), keep=True, factor=-1.0)
    assert shown(kept, "flag", "rotation", 12) == pytest.approx((0,))


def test_the_opposite_of_its_carriers_turn_lets_a_highlight_stay_put():
    glint = layer("Glint").changed(parent="mast")
    made = follow(project(glint, mast()), ("glint", "rotation"), ("mast", "rotation"), factor=-1.0)
    table = evaluate(made.scenes[0], frame_times(made.scenes[0]))
    assert table.worlds["glint"][:, :2, :2] == pytest.approx(np.broadcast_to(np.eye(2), (100, 2, 2)), abs=1e-12)


def test_the_same_later_for_several_is_one_step():
    flags = [layer(f"Flag {n}") for n in range(1, 5)]
    source = SourceAsked(layer="mast", what="rotation")
    told_lanes = lanes(*((flag.id, "rotation") for flag in flags))
    edit = LinkLanes(scene="crossing", lanes=told_lanes, to=source, lag=at(3), step=at(3))
    made = apply(project(*flags, mast()), edit)
    for n, flag in enumerate(flags, 1):
        assert shown(made, flag.id, "rotation", 40) == pytest.approx(shown(made, "mast", "rotation", 40 - 3 * n))


def test_a_hand_moves_what_follows_and_it_goes_on_following():
    before = project(layer("Flag"), mast(position=floated()))
    made = follow(before, ("flag", "position"), ("mast", "position"), axes="parent", keep=False)
    was = shown(made, "flag", "position", 9)
    moved = apply(made, MoveLayers(scene="crossing", layers=("flag",), dx=30, dy=-7, time=at(9)))
    assert shown(moved, "flag", "position", 9) == pytest.approx((was[0] + 30, was[1] - 7))
    later = shown(made, "flag", "position", 33)
    assert shown(moved, "flag", "position", 33) == pytest.approx((later[0] + 30, later[1] - 7))
    assert not moved.scenes[0].layer("flag").keyed


def test_a_hand_moves_what_follows_in_the_scene_under_a_turned_carrier():
    raft = layer("Raft", rotation=numbers((0, 20), (50, 80)), scale=numbers(value=2.0), position=floated())
    flag = layer("Flag", position=positions(value=(10, 10))).changed(parent="raft")
    before = project(flag, raft, mast(position=floated()))
    made = follow(before, ("flag", "position"), ("mast", "position"), time=at(5))
    place = lambda which, frame: evaluate(which.scenes[0], [at(frame)]).worlds["flag"][0, :2, 2]  # noqa: E731
    assert place(made, 5) == pytest.approx(place(before, 5))
    moved = apply(made, MoveLayers(scene="crossing", layers=("flag",), dx=30, dy=-7, time=at(9)))
    assert place(moved, 9) == pytest.approx(place(made, 9) + [30, -7])
    assert place(moved, 44) == pytest.approx(place(made, 44) + [30, -7])


def test_a_key_set_on_what_follows_lies_on_top_and_shows_what_was_typed():
    before = project(layer("Flag"), mast())
    made = follow(before, ("flag", "rotation"), ("mast", "rotation"))
    typed = SetValue(scene="crossing", layer="flag", property="rotation", told="33", time=at(20), keying=True)
    keyed = apply(made, typed)
    assert shown(keyed, "flag", "rotation", 20) == pytest.approx((33,))
    turned = apply(keyed, TurnLayers(scene="crossing", layers=("flag",), degrees=10, time=at(40), keying=True))
    now = shown(keyed, "flag", "rotation", 40)[0]
    assert shown(turned, "flag", "rotation", 40) == pytest.approx((now + 10,))
    # The first key is the very same as it was.
    first, other = (p.scenes[0].layer("flag").tracks["rotation"].keys[0] for p in (keyed, turned))
    assert (first.time, first.value) == (other.time, other.value)


def test_a_value_changed_and_not_keyed_shows_at_just_its_moment():
    flag = layer("Flag", rotation=numbers((0, 0), (40, 10)))
    made = follow(project(flag, mast()), ("flag", "rotation"), ("mast", "rotation"))
    loose = apply(made, SetValue(scene="crossing", layer="flag", property="rotation", told="33", time=at(20)))
    assert shown(loose, "flag", "rotation", 20) == pytest.approx((33,))
    assert shown(loose, "flag", "rotation", 21) == pytest.approx(shown(made, "flag", "rotation", 21))


def test_cut_it_stays_where_it_shows():
    made = follow(project(layer("Flag"), mast()), ("flag", "rotation"), ("mast", "rotation"), lag=at(2))
    cut = apply(made, CutLinks(scene="crossing", lanes=lanes(("flag", "rotation")), time=at(17)))
    assert not cut.scenes[0].layer("flag").links
    assert shown(cut, "flag", "rotation", 50) == pytest.approx(shown(made, "flag", "rotation", 17))


@pytest.mark.parametrize(("prop", "what"), [("rotation", "rotation"), ("position", "position"), ("skew_x", "speed")])
def test_made_into_keys_it_moves_as_it_did(prop, what):
    before = project(layer("Flag"), mast(position=floated()))
    made = follow(before, ("flag", prop), ("mast", what), lag=at(7), factor=0.05 if what == "speed" else -0.8)
    keyed = apply(made, CutLinks(scene="crossing", lanes=lanes(("flag", prop)), keys=True))
    flag = keyed.scenes[0].layer("flag")
    times = np.linspace(0, at(99), 700).round()
    off = flag.tracks[prop].motion(times) - values(made.scenes[0], "flag", prop, times)
    assert np.hypot.reduce(off, axis=1).max() <= 0.05 + 1e-6
    assert len(flag.tracks[prop].keys) < 30
    assert not flag.links


def test_a_source_that_is_deleted_leaves_keys_and_says_so():
    made = follow(project(layer("Flag"), mast()), ("flag", "rotation"), ("mast", "rotation"), lag=at(7))
    edit = DeleteLayers(scene="crossing", layers=("mast",))
    gone = apply(made, edit)
    times = np.linspace(0, at(99), 300).round()
    off = gone.scenes[0].layer("flag").tracks["rotation"].motion(times) - values(
        made.scenes[0], "flag", "rotation", times
    )
    assert np.abs(off).max() <= 0.05 + 1e-6
    (note,) = told(made, edit, gone)
    assert note.text.startswith("Rotation of Flag followed Rotation of Mast, which is gone; it has ")


def test_a_copy_follows_the_copy_of_what_was_copied_with_it():
    made = follow(project(layer("Flag"), mast()), ("flag", "rotation"), ("mast", "rotation"))
    both = apply(made, DuplicateLayers(scene="crossing", layers=("flag", "mast"), ids=("flagtwo", "masttwo")))
    assert both.scenes[0].layer("flagtwo").links["rotation"].source.layer == "masttwo"
    one = apply(made, DuplicateLayers(scene="crossing", layers=("flag",), ids=("flagtwo",)))
    assert one.scenes[0].layer("flagtwo").links["rotation"].source.layer == "mast"


def test_circles_are_refused_with_their_members_named():
    before = project(layer("Flag"), layer("Bell"), mast())
    made = follow(before, ("flag", "rotation"), ("mast", "rotation"))
    made = follow(made, ("bell", "rotation"), ("flag", "rotation"))
    with pytest.raises(Refusal, match="Rotation of Flag → Rotation of Mast → Rotation of Bell → Rotation of Flag"):
        follow(made, ("mast", "rotation"), ("bell", "rotation"), lag=at(5))
    with pytest.raises(Refusal, match="circle"):
        follow(before, ("flag", "rotation"), ("flag", "rotation"))
    # What it carries cannot lead it, where it is told as the scene shows it.
    carried = project(layer("Flag").changed(parent="mast"), mast())
    with pytest.raises(Refusal, match="circle"):
        follow(carried, ("mast", "rotation"), ("flag", "speed"))
    # Another property of its own is no circle.
    follow(carried, ("mast", "skew_x"), ("mast", "rotation"))


def test_what_cannot_be_followed_is_refused_in_a_sentence():
    before = project(layer("Flag"), mast())
    with pytest.raises(Refusal, match="follows nothing: numbers and positions do"):
        follow(before, ("flag", "fill"), ("mast", "rotation"))
    with pytest.raises(Refusal, match="A position follows a position"):
        follow(before, ("flag", "position"), ("mast", "rotation"))
    with pytest.raises(Refusal, match="no layer"):
        follow(before, ("flag", "rotation"), ("gone", "rotation"))
    with pytest.raises(Refusal, match="has no Sides"):
        follow(before, ("flag", "rotation"), ("mast", "sides"))


def test_ranges_are_told_and_typed():
    before = project(layer("Flag"), mast(position=floated()))
    told_range = {"over": (0.0, 300.0), "onto": (1.0, 1.4)}
    made = follow(before, ("flag", "scale"), ("mast", "position_x"), axes="parent", **told_range)
    where = shown(made, "mast", "position", 22)[0]
    assert shown(made, "flag", "scale", 22)[0] == pytest.approx(1 + 0.4 * where / 300)
    change = ChangeLinks(scene="crossing", lanes=lanes(("flag", "scale")), field="onto", component=1, told="150")
    typed = apply(made, change)
    assert shown(typed, "flag", "scale", 22)[0] == pytest.approx(1 + 0.5 * where / 300)
    held = apply(typed, ChangeLinks(scene="crossing", lanes=lanes(("flag", "scale")), held=True, over=(0.0, 10.0)))
    assert shown(held, "flag", "scale", 22)[0] == pytest.approx(1.5)
    with pytest.raises(Refusal, match="two that differ"):
        apply(made, ChangeLinks(scene="crossing", lanes=lanes(("flag", "scale")), over=(5.0, 5.0)))
