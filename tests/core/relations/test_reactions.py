"""Reactions: ordinary keys at contacts, peaks and stops, that follow what they answer until a hand changes them."""

import itertools

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document.artwork import Carrier
from deftarc.core.document.reactions import Pulse
from deftarc.core.edit import apply, told
from deftarc.core.edit.clocks import GiveClock
from deftarc.core.edit.delete_keys import DeleteKeys
from deftarc.core.edit.families import SetParent
from deftarc.core.edit.layers import DeleteLayers, DescribeLayers, DuplicateLayers
from deftarc.core.edit.links import LaneAsked, LinkLanes, SourceAsked
from deftarc.core.edit.locks import Locked
from deftarc.core.edit.react import ChangeReactions, EndReactions, React, SquashAtContacts
from deftarc.core.edit.samples import SplitAxes
from deftarc.core.edit.shown import MakeScene
from deftarc.core.edit.spans import MoveSpans
from deftarc.core.edit.transform import LinkScale
from deftarc.core.edit.values import SetValue, TypeKey
from deftarc.core.evaluate import evaluate, frame_times
from tests.scenes import at, layer, numbers, positions, project, side

#: Falls of 200 and 50 px under one gravity, exact with reaches of a third; it comes to lie after the third contact.
FALL, UP, LEVEL = side(1 / 3, 2 / 3 * 200), side(1 / 3, -2 / 3 * 50), side(1 / 3, 0.0)
DROPS = numbers(
    (0, 0, {"leaving": LEVEL}), (20, 200, {"arriving": FALL, "leaving": UP}),
    (30, 150, {"arriving": LEVEL, "leaving": LEVEL}), (40, 200, {"arriving": side(1 / 3, 2 / 3 * 50)}),
)  # fmt: skip


def ball(**more):
    return layer("Ball", position_x=numbers((0, 0), (100, 500)), position_y=DROPS, **more).changed(axes_split=True)


def lanes(*told):
    return tuple(LaneAsked(layer=each, property=name) for each, name in told)


def reacts(before, *told, kinds=("contact",), what="position", amount=0.4, **fields):
    pulse = Pulse(**{"amount": amount, "attack": at(1), "release": at(5), **fields})
    edit = React(
        scene="crossing", lanes=lanes(*told), to=SourceAsked(layer="ball", what=what), kinds=kinds, pulse=pulse
    )
    return apply(before, edit)


def keys_of(made, name, which):
    track = made.scene("crossing").layer(name).track(which)
    return {round(key.time / at(1), 2): round(key.value, 4) for key in track.keys}


def begun(*more):
    return project(ball(), layer("Line"), *more)


def test_each_contact_is_answered_by_rest_peak_rest_sized_by_its_speed():
    made = reacts(begun(), ("line", "skew_x"))
    # The second hits with half the speed of the first.
    assert keys_of(made, "line", "skew_x") == {20: 0, 21: 0.4, 26: 0, 40: 0, 41: 0.2, 46: 0}
    even = reacts(begun(), ("line", "skew_x"), sized=False, later=-at(1), hold=at(2))
    assert keys_of(even, "line", "skew_x") == {19: 0, 20: 0.4, 22: 0.4, 27: 0, 39: 0, 40: 0.4, 42: 0.4, 47: 0}
    at_once = reacts(begun(), ("line", "skew_x"), attack=0)
    assert keys_of(at_once, "line", "skew_x") == {19: 0, 20: 0.4, 25: 0, 39: 0, 40: 0.2, 45: 0}
    assert at_once.scenes[0].layer("line").track("skew_x").at(at(20) - 1) == (0,)


def test_peaks_and_stops_are_answered_and_one_is_turned_off_and_on():
    made = reacts(begun(), ("line", "rotation"), kinds=("peak", "stop"))
    assert set(keys_of(made, "line", "rotation")) == {30, 31, 36}
    both = reacts(begun(), ("line", "rotation"), kinds=("contact", "peak"))
    off = apply(both, ChangeReactions(scene="crossing", lanes=lanes(("line", "rotation")), turn=1))
    assert set(keys_of(off, "line", "rotation")) == {20, 21, 26, 40, 41, 46}
    on = apply(off, ChangeReactions(scene="crossing", lanes=lanes(("line", "rotation")), turn=1))
    assert on.scenes[0].layer("line").tracks == both.scenes[0].layer("line").tracks


def test_a_release_rings_about_its_rest_and_dies_down():
    made = reacts(begun(), ("line", "rotation"), rings=3, release=at(16))
    values = [value for _, value in sorted(keys_of(made, "line", "rotation").items())][:6]
    assert values[:2] == [0, 0.4]
    assert values[5] == 0
    ratios = [-b / a for a, b in itertools.pairwise(values[1:5])]
    assert ratios == pytest.approx([0.02**0.25] * 3, abs=2e-3)


def test_it_lies_on_top_of_what_the_property_does_and_comes_off_it_again():
    before = begun(layer("Mast", rotation=numbers((0, 0), (100, 50))))
    made = reacts(before, ("mast", "rotation"), amount=10)
    assert keys_of(made, "mast", "rotation") == {0: 0, 20: 10, 21: 20.5, 26: 13, 40: 20, 41: 25.5, 46: 23, 100: 50}
    gone = apply(made, EndReactions(scene="crossing", lanes=lanes(("mast", "rotation"))))
    assert gone.scenes[0].layer("mast") == before.scenes[0].layer("mast")
    kept = apply(made, EndReactions(scene="crossing", lanes=lanes(("mast", "rotation")), keys=True))
    assert kept.scenes[0].layer("mast").tracks == made.scenes[0].layer("mast").tracks
    assert not kept.scenes[0].layer("mast").reactions


def test_it_follows_the_motion_until_a_hand_changes_its_keys():
    made = reacts(begun(), ("line", "skew_x"))
    later = apply(made, MoveSpans(scene="crossing", layers=("ball",), by=at(7)))
    assert set(keys_of(later, "line", "skew_x")) == {27, 28, 33, 47, 48, 53}
    edit = TypeKey(scene="crossing", layer="line", property="skew_x", time=at(28), told="9")
    touched = apply(later, edit)
    assert "answers nothing any more" in " ".join(note.text for note in told(later, edit, touched))
    still = apply(touched, MoveSpans(scene="crossing", layers=("ball",), by=at(7)))
    assert set(keys_of(still, "line", "skew_x")) == {27, 28, 33, 47, 48, 53}
    # What is locked stays, and catches up when it is let go.
    shut = apply(made, DescribeLayers(scene="crossing", layers=("line",), locked=True))
    moved = apply(shut, MoveSpans(scene="crossing", layers=("ball",), by=at(7)))
    assert keys_of(moved, "line", "skew_x") == keys_of(made, "line", "skew_x")
    free = apply(moved, DescribeLayers(scene="crossing", layers=("line",), locked=False))
    assert keys_of(free, "line", "skew_x") == keys_of(later, "line", "skew_x")


def test_what_answers_what_answers_follows_through():
    made = reacts(begun(layer("Ring")), ("line", "rotation"), amount=30)
    to = SourceAsked(layer="line", what="rotation")
    pulse = Pulse(amount=1, attack=at(1), release=at(3))
    made = apply(
        made,
        React(scene="crossing", lanes=lanes(("ring", "skew_x")), to=to, kinds=("peak",), pulse=pulse),
    )
    first = min(keys_of(made, "ring", "skew_x"))
    assert first == pytest.approx(21, abs=0.02)
    later = apply(made, MoveSpans(scene="crossing", layers=("ball",), by=at(7)))
    assert min(keys_of(later, "ring", "skew_x")) == pytest.approx(28, abs=0.02)


def test_circles_clocks_and_what_makes_no_contacts_are_refused():
    with pytest.raises(Refusal, match="answer itself"):
        reacts(begun(), ("ball", "position_y"))
    carried = project(ball().changed(parent="mast"), layer("Mast"))
    with pytest.raises(Refusal, match="answer itself"):
        reacts(carried, ("mast", "rotation"))
    assert reacts(carried, ("mast", "opacity")).scenes[0].layer("mast").reactions
    clocked = apply(begun(), GiveClock(scene="crossing", layers=("line",)))
    with pytest.raises(Refusal, match="Clock takes no pulses"):
        reacts(clocked, ("line", "clock"))
    with pytest.raises(Refusal, match="makes no stops"):
        reacts(project(layer("Ball", position=positions((0, (0, 0)), (100, (90, 9)))), layer("Line")),
               ("line", "rotation"), kinds=("stop",))  # fmt: skip


def test_a_source_that_goes_leaves_keys_and_a_copy_answers_its_own():
    made = reacts(begun(), ("line", "skew_x"))
    gone = apply(made, DeleteLayers(scene="crossing", layers=("ball",)))
    assert keys_of(gone, "line", "skew_x") == keys_of(made, "line", "skew_x")
    assert not gone.scenes[0].layer("line").reactions
    copied = apply(made, DuplicateLayers(scene="crossing", layers=("ball", "line"), ids=("b2", "l2")))
    assert copied.scenes[0].layer("l2").reactions["skew_x"].reaction.source.layer == "b2"
    moved = apply(copied, MoveSpans(scene="crossing", layers=("b2",), by=at(7)))
    assert set(keys_of(moved, "l2", "skew_x")) == {27, 28, 33, 47, 48, 53}
    assert set(keys_of(moved, "line", "skew_x")) == {20, 21, 26, 40, 41, 46}


def test_a_ball_is_squashed_from_the_side_that_hits_and_keeps_its_area():
    before = begun()
    edit = SquashAtContacts(scene="crossing", layers=("ball",), boxes=((-50, -30, 50, 30),), amount=0.5)
    made = apply(before, edit)
    here = made.scenes[0]
    assert here.layer("ball").number("pivot_y").value == 30
    worlds = evaluate(here, [at(20)]).worlds["ball"][0]
    size = worlds[0, 0]
    # It comes with 150 px/s from the side, too; along the ground it goes on, and is no flatter for it.
    assert size == pytest.approx(1.5, abs=2e-3)
    assert worlds[1, 1] == pytest.approx(1 / size)
    # The picture stays where it was wherever it is not squashed.
    times = frame_times(before.scenes[0])[:15]
    one, other = (evaluate(each.scenes[0], times).worlds["ball"] for each in (before, made))
    assert one == pytest.approx(other, abs=1e-9)
    # Keys that leave it as large as it is are no hindrance.
    held = ball(scale=numbers((0, 1), (50, 1)))
    assert "scale" in apply(project(held), edit).scenes[0].layer("ball").reactions
    bent = ball(scale=numbers((0, 1, {"leaving": side(0.3, 0.5)}), (50, 1)))
    with pytest.raises(Refusal, match="keys of its size"):
        apply(project(bent), edit)
    # Of any other size it is squashed by as much of that, and keeps the area it has.
    for link, factors in ({"scale": 2.0}, (2, 2)), ({"scale_x": -0.5, "scale_y": 0.8}, (-0.5, 0.8)):
        sized = project(ball(**{name: numbers(value=value) for name, value in link.items()}), layer("Line"))
        here = apply(sized, edit).scenes[0]
        rest, flat = (evaluate(here, [at(frame)]).worlds["ball"][0] for frame in (10, 20))
        assert (rest[0, 0], rest[1, 1]) == pytest.approx(factors)
        assert (flat[0, 0], flat[1, 1]) == pytest.approx((factors[0] * 1.5, factors[1] / 1.5), rel=2e-3)


def test_a_stretched_ball_stays_on_its_ground_and_where_it_rests():
    plain, stretched = begun(), project(ball(stretch=numbers(value=0.5)), layer("Line"))
    edit = SquashAtContacts(scene="crossing", layers=("ball",), boxes=((-50, -30, 50, 30),), amount=0.5, time=at(13))
    assert (
        np.abs(
            evaluate(stretched.scenes[0], [at(13)]).worlds["ball"] - evaluate(plain.scenes[0], [at(13)]).worlds["ball"]
        ).max()
        > 0.1
    )
    made, other = apply(stretched, edit).scenes[0], apply(plain, edit).scenes[0]
    # Where the ball touches, its lowest point is where that of one without a stretch is.
    low = np.array([0.0, 30.0, 1.0])
    for frame in (0, 20, 40):
        spots = [evaluate(each, [at(frame)]).worlds["ball"][0] @ low for each in (made, other)]
        assert spots[0] == pytest.approx(spots[1], abs=1e-6)
    assert "stretch" in made.layer("ball").tracks


def test_a_wall_squashes_thin_and_numbers_are_typed():
    wall = project(layer("Ball", position=positions((0, (0, 0)), (20, (400, 0)), (40, (0, 0)))))
    made = apply(wall, SquashAtContacts(scene="crossing", layers=("ball",), boxes=((-50, -30, 50, 30),)))
    assert made.scenes[0].layer("ball").number("pivot_x").value == 50
    assert keys_of(made, "ball", "scale")[20] == 0.65
    mine = lanes(("ball", "scale"))
    typed = apply(made, ChangeReactions(scene="crossing", lanes=mine, field="amount", told="*=2"))
    assert keys_of(typed, "ball", "scale")[20] == pytest.approx(0.3)
    longer = apply(typed, ChangeReactions(scene="crossing", lanes=mine, field="release", told="+=3"))
    assert 28 in keys_of(longer, "ball", "scale")
    with pytest.raises(Refusal):
        apply(made, ChangeReactions(scene="crossing", lanes=mine, field="release", told="0"))


def test_keys_taken_away_let_go():
    made = reacts(begun(), ("line", "skew_x"))
    refs = (KeyRef(layer="line", property="skew_x", time=at(21)),)
    fewer = apply(made, DeleteKeys(scene="crossing", keys=refs))
    assert not fewer.scenes[0].layer("line").reactions


def test_what_would_answer_itself_by_way_of_others_is_refused_by_name():
    made = reacts(begun(layer("Mast", rotation=numbers((0, 0), (50, 90)))), ("line", "skew_x"))
    to = SourceAsked(layer="line", what="skew_x")
    pulse = Pulse(amount=5, attack=at(1), release=at(3))
    ring = React(scene="crossing", lanes=lanes(("ball", "position_y")), to=to, kinds=("peak",), pulse=pulse)
    with pytest.raises(Refusal, match="answer itself"):
        apply(made, ring)
    # Made by a link, or by what carries it, it is a ring as well.
    with pytest.raises(Refusal, match=r"circle: .*Skew x of Line"):
        apply(made, LinkLanes(scene="crossing", lanes=lanes(("ball", "position_y")), to=to))
    seen = SourceAsked(layer="ball", what="position", axes="scene")
    turns = React(scene="crossing", lanes=lanes(("mast", "rotation")), to=seen, pulse=pulse)
    turning = apply(begun(layer("Mast")), turns)
    with pytest.raises(Refusal, match="circle"):
        apply(turning, SetParent(scene="crossing", layers=("ball",), parent="mast", time=0))
    lost = made.scenes[0].changed(layers=tuple(each for each in made.scenes[0].layers if each.id != "ball"))
    with pytest.raises(ValueError, match="Line answers a layer that is not there"):
        type(lost).model_validate(lost.model_dump())


def test_moved_with_what_it_answers_it_answers_still_and_moved_alone_it_comes_later():
    made = reacts(begun(layer("Mast", rotation=numbers((0, 0), (100, 50)))), ("line", "skew_x"), ("mast", "rotation"))
    both = apply(made, MoveSpans(scene="crossing", layers=("ball", "line", "mast"), by=at(7)))
    here = both.scenes[0]
    assert [here.layer(name).reactions[lane].reaction.pulse.later for name, lane in (("line", "skew_x"), ("mast", "rotation"))] == [0, 0]  # fmt: skip
    assert set(keys_of(both, "line", "skew_x")) == {27, 28, 33, 47, 48, 53}
    assert keys_of(both, "mast", "rotation")[7] == 0
    alone = apply(both, MoveSpans(scene="crossing", layers=("line",), by=at(4)))
    assert alone.scenes[0].layer("line").reactions["skew_x"].reaction.pulse.later == at(4)
    assert set(keys_of(alone, "line", "skew_x")) == {31, 32, 37, 51, 52, 57}
    back = apply(alone, MoveSpans(scene="crossing", layers=("ball",), by=-at(7)))
    assert set(keys_of(back, "line", "skew_x")) == {24, 25, 30, 44, 45, 50}
    off = apply(back, EndReactions(scene="crossing", lanes=lanes(("mast", "rotation"))))
    assert keys_of(off, "mast", "rotation") == {7: 0, 107: 50}


def test_a_value_that_is_changed_and_not_keyed_lets_nothing_go():
    made = reacts(begun(), ("line", "skew_x"))
    loose = SetValue(scene="crossing", layer="line", property="skew_x", value=0.1, time=at(70), keying=False)
    changed = apply(made, loose)
    assert changed.scenes[0].layer("line").reactions
    moved = apply(changed, MoveSpans(scene="crossing", layers=("ball",), by=at(7)))
    track = moved.scenes[0].layer("line").number("skew_x")
    assert track.loose is not None
    assert track.key_times[0] == at(27)


@pytest.mark.parametrize("group", [False, True])
def test_what_is_locked_hinders_nobody_and_its_motion_may_go(group):
    made = reacts(begun(layer("Box", Carrier(group=True))), ("line", "skew_x"))
    if group:
        made = apply(made, SetParent(scene="crossing", layers=("line",), parent="box", time=0))
    shut = apply(made, DescribeLayers(scene="crossing", layers=("box" if group else "line",), locked=True))
    moved = apply(shut, MoveSpans(scene="crossing", layers=("ball",), by=at(7)))
    assert keys_of(moved, "line", "skew_x") == keys_of(made, "line", "skew_x")
    gone = apply(moved, DeleteLayers(scene="crossing", layers=("ball",)))
    assert keys_of(gone, "line", "skew_x") == keys_of(made, "line", "skew_x")
    assert not gone.scenes[0].layer("line").reactions
    with pytest.raises(Locked):
        apply(shut, EndReactions(scene="crossing", lanes=lanes(("line", "skew_x")), keys=True))


def test_axes_are_kept_otherwise_and_what_had_none_any_more_is_let_go():
    squashed = apply(begun(), SquashAtContacts(scene="crossing", layers=("ball",)))
    free = apply(squashed, LinkScale(scene="crossing", layer="ball", link="free", time=0))
    assert not free.scenes[0].layer("ball").reactions
    assert free.scenes[0].layer("ball").track("scale_x").keys
    apart = reacts(begun(layer("Ring").changed(axes_split=True)), ("ring", "position_y"), amount=20)
    whole = apply(apart, SplitAxes(scene="crossing", layer="ring", split=False))
    assert not whole.scenes[0].layer("ring").reactions


def test_a_scene_of_both_keeps_them_answering_and_of_one_leaves_its_keys():
    made = reacts(begun(), ("line", "skew_x"))
    both = apply(made, MakeScene(scene="crossing", layers=("ball", "line"), id="inner", name="Inner"))
    moved = apply(both, MoveSpans(scene="inner", layers=("ball",), by=at(7)))
    line = moved.scene("inner").layer("line")
    assert line.reactions
    assert line.track("skew_x").key_times[0] == at(27)
    edit = MakeScene(scene="crossing", layers=("line",), id="inner", name="Inner")
    one = apply(made, edit)
    assert one.scene("inner").layer("line").tracks == made.scenes[0].layer("line").tracks
    assert not one.scene("inner").layer("line").reactions
    assert "answers what stays outside" in told(made, edit, one)[0].text


@pytest.mark.parametrize(("field", "told_as"), [("release", "0"), ("attack", "-1"), ("hold", "-2"), ("rings", "-1")])
def test_what_takes_no_time_is_refused_in_a_sentence(field, told_as):
    made = reacts(begun(), ("line", "skew_x"))
    with pytest.raises(Refusal, match=f"^{field.capitalize()} is "):
        apply(made, ChangeReactions(scene="crossing", lanes=lanes(("line", "skew_x")), field=field, told=told_as))
