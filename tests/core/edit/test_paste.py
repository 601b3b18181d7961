"""What is copied is pasted: with its shapes, turned, mirrored, over and over, among what is there or in its place."""

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.clip import copied
from deftarc.core.changes.deviation import motion_of
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.landing import takers
from deftarc.core.changes.pieces import played, taken
from deftarc.core.changes.rebuild import value_of
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.artwork import Contour, FreePath
from deftarc.core.document.clip import Clip, CopiedLane
from deftarc.core.document.track import ColourTrack
from deftarc.core.edit import apply
from deftarc.core.edit.paste import PasteEases, PasteHow, PasteKeys
from deftarc.core.spaces.points import point_at
from tests.random_motion import curves, paths, stays_on_its_way
from tests.scenes import at, floated, layer, numbers, positions, project, side

EASED = ({"leaving": side(0.42, 0.0)}, {"arriving": side(0.42, 0.0)})


def clip_of(track, name="rotation", chosen=None):
    here = project(layer("Source", **{name: track})).scene("crossing")
    times = track.key_times if chosen is None else [track.key_times[k] for k in chosen]
    return copied(here, tuple(KeyRef(layer="source", property=name, time=time) for time in times))


def pasted(track, clip, name="rotation", frame=0, **how):
    """A lane after a paste; ``how`` as PasteHow has it."""
    before = project(layer("Target", **{name: track} if track else {}))
    edit = PasteKeys(scene="crossing", clip=clip, layers=("target",), time=at(frame), how=PasteHow(**how))
    return apply(before, edit).scene("crossing").layer("target").track(name)


@given(curves() | paths(), st.data())
@settings(max_examples=100, deadline=None, suppress_health_check=[HealthCheck.filter_too_much])
def test_a_clip_comes_back_from_its_data_and_keeps_the_motion_between_its_keys(track, data):
    stays_on_its_way(track)
    first = data.draw(st.integers(0, len(track.keys) - 2))
    last = data.draw(st.integers(first + 1, len(track.keys) - 1))
    name = "position" if track.kind == "path" else "rotation"
    clip = clip_of(track, name, range(first, last + 1))
    again = Clip.model_validate_json(clip.model_dump_json())
    assert again == clip
    made = pasted(None, again, name, frame=200)
    # At the last of them what was after it may begin with a jump.
    times = np.linspace(track.keys[first].time, track.keys[last].time, 300)[:-1]
    low = track.keys[first].time
    off = np.abs(motion_of(made)(times - low + at(200)) - motion_of(track)(times))
    assert off.max() < (0.2 if track.kind == "path" else 1e-6)


@given(curves() | paths(), st.integers(1, 5))
@settings(max_examples=80, deadline=None, suppress_health_check=[HealthCheck.filter_too_much])
def test_n_turns_forward_are_the_piece_over_and_over(track, often):
    # Automatic joints take their neighbours around the cycle: that is another curve than one turn's.
    assume(all(key.joint != "automatic" for key in track.keys))
    stays_on_its_way(track)
    piece = taken(track, track.key_times)
    low, high = track.keys[0].time, track.keys[-1].time
    made = played(piece, low, high, often)
    frames = np.arange(low, low + often * (high - low), at(1) // 7)
    frames = frames[(frames - low) % (high - low) != 0]
    off = np.abs(
        motion_of(made)(frames.astype(float)) - motion_of(track)((low + (frames - low) % (high - low)).astype(float))
    )
    assert off.max() < (0.2 if track.kind == "path" else 1e-3)


@given(curves(joints=("corner", "smooth")), st.integers(2, 5))
@settings(max_examples=80, deadline=None)
def test_turns_that_alternate_never_jump_and_run_there_and_back(track, often):
    low, high = track.keys[0].time, track.keys[-1].time
    made = played(taken(track, track.key_times), low, high, often, alternate=True)
    assert len(made.keys) == often * (len(track.keys) - 1) + 1
    times = np.linspace(low, high, 400)[1:-1]
    steps = any(key.stepped for key in track.keys)
    for n in range(often):
        there = times if n % 2 == 0 else low + high - times
        off = np.abs(motion_of(made)(times + n * (high - low)) - motion_of(track)(there))
        assert (np.median(off) if steps else off.max()) < 1e-6


@given(curves(joints=("corner", "smooth")) | paths(), st.integers(2, 5))
@settings(max_examples=80, deadline=None, suppress_health_check=[HealthCheck.filter_too_much])
def test_turns_that_add_up_are_periodic_once_the_steps_are_taken_away(track, often):
    stays_on_its_way(track)
    low, high = track.keys[0].time, track.keys[-1].time
    made = played(taken(track, track.key_times), low, high, often, adding=True)
    assert len(made.keys) == often * (len(track.keys) - 1) + 1
    # What the keys have, not what shows at their times: there steps may have begun.
    step = np.array(value_of(track, len(track.keys) - 1)) - np.array(value_of(track, 0))
    times = np.linspace(low, high, 300)[1:-1]
    for n in range(often):
        off = np.abs(motion_of(made)(times + n * (high - low)) - n * step - motion_of(track)(times))
        assert off.max() < (0.2 if track.kind == "path" else 1e-6)


def test_turns_share_a_key_or_keep_both_a_frame_apart_or_rest_between():
    swing = numbers((0, 0), (5, 10), (10, 0))
    assert pasted(None, clip_of(swing), often=2).key_times == [at(f) for f in (0, 5, 10, 15, 20)]
    assert pasted(None, clip_of(swing), often=2, shared="twice").key_times == [at(f) for f in (0, 5, 10, 11, 16, 21)]
    rested = pasted(None, clip_of(swing), often=2, gap=at(4))
    assert rested.key_times == [at(f) for f in (0, 5, 10, 14, 19, 24)]
    assert np.abs(motion_of(rested)(np.linspace(at(10), at(14), 20))).max() == 0


def test_a_turn_that_begins_elsewhere_jumps_and_changes_nothing_else():
    made = pasted(None, clip_of(numbers((0, 0), (10, 90))), often=2)
    assert [made.value_at(at(f)) for f in (0, 5, 10, 15, 20)] == pytest.approx([0, 45, 0, 45, 90], abs=1e-5)
    assert made.key_times == [0, at(10) - 1, at(10), at(20)]


def test_pasted_keys_come_among_what_is_there_or_in_its_place():
    there = numbers((0, 0), (20, 5), (22, 7), (60, 9))
    clip = clip_of(numbers((0, 1), (10, 90, EASED[0]), (20, 2)))
    mixed = pasted(there, clip, frame=15)
    assert mixed.key_times == [at(f) for f in (0, 15, 20, 22, 25, 35, 60)]
    replaced = pasted(there, clip, frame=15, onto="replace")
    assert replaced.key_times == [at(f) for f in (0, 15, 25, 35, 60)]
    assert replaced.keys[2].leaving == EASED[0]["leaving"]
    # At the same time the pasted key stays.
    assert pasted(there, clip, frame=0).value_at(at(20)) == 2


def test_pasted_keys_begin_at_the_value_that_is_there_or_run_back_or_to_the_other_side():
    clip = clip_of(numbers((0, 10), (10, 30), (15, 20)))
    there = numbers((0, 100), (100, 100))
    values = lambda made: [key.value for key in made.keys][1:-1]  # noqa: E731
    assert values(pasted(there, clip, frame=20, relative=True)) == pytest.approx([100, 120, 110])
    back = pasted(there, clip, frame=20, reversed=True)
    assert values(back) == [20, 30, 10]
    assert back.key_times[1:-1] == [at(20), at(25), at(35)]
    assert values(pasted(there, clip, frame=20, mirrored=True)) == [10, -10, 0]
    assert values(pasted(there, clip, frame=20, mirrored=True, relative=True)) == pytest.approx([100, 80, 90])


def test_pasted_keys_of_what_has_bounds_are_mirrored_within_them():
    fade = numbers((0, 1.0), (5, 0.25), (10, 0.9), (15, 0.4))
    clip = clip_of(fade, "opacity")
    made = pasted(numbers(value=1.0), clip, "opacity", frame=0, mirrored=True)
    assert [key.value for key in made.keys] == pytest.approx([0.25, 1.0, 0.35, 0.85])


def test_pasted_keys_fill_a_span_or_the_play_range():
    clip = clip_of(numbers((0, 1), (10, 2)))
    before = project(layer("Target").changed(start=at(20), end=at(61)), play_range=(at(5), at(26)))
    for fit, ends in (("span", (20, 60)), ("range", (5, 25))):
        edit = PasteKeys(
            scene="crossing", clip=clip, layers=("target",), time=at(3), how=PasteHow(fit=fit, often=2, alternate=True)
        )
        made = apply(before, edit).scene("crossing").layer("target").track("rotation")
        assert (made.key_times[0], made.key_times[-1]) == tuple(map(at, ends))


def test_all_of_a_layers_motion_goes_onto_several_and_of_several_onto_as_many():
    source = layer("Source", rotation=numbers((5, 0), (10, 9)), opacity=numbers((5, 0), (20, 1)))
    other = layer("Other", rotation=numbers((9, 1), (12, 2)))
    a, b = layer("A"), layer("B")
    before = project(source, other, a, b)
    here = before.scene("crossing")
    keys = tuple(
        KeyRef(layer=x.id, property=n, time=t) for x in (source, other) for n in x.keyed for t in x.track(n).key_times
    )
    of_one = copied(here, tuple(ref for ref in keys if ref.layer == "source"))
    after = apply(before, PasteKeys(scene="crossing", clip=of_one, layers=("a", "b"), time=at(30))).scene("crossing")
    for name in "ab":
        assert after.layer(name).track("rotation").key_times == [at(30), at(35)]
        assert after.layer(name).track("opacity").key_times == [at(30), at(45)]
    of_both = copied(here, keys)
    after = apply(before, PasteKeys(scene="crossing", clip=of_both, layers=("b", "a"), time=0)).scene("crossing")
    # In the order of the list, whichever was selected first; each as much later as it was.
    assert after.layer("a").keyed == ("rotation", "opacity")
    assert after.layer("b").track("rotation").key_times == [at(4), at(7)]
    with pytest.raises(Refusal, match="Select 2 layers"):
        apply(before, PasteKeys(scene="crossing", clip=of_both, layers=("a",), time=0))


def test_onto_another_unit_numbers_stay_as_they_are_shown():
    clip = clip_of(numbers((0, 10), (10, 40)))
    before = project(layer("Target", position_x=numbers((0, 0)), position_y=numbers((0, 0))))
    edit = PasteKeys(scene="crossing", clip=clip, layers=("target",), onto_property="opacity", time=0)
    after = apply(before, edit)
    assert [k.value for k in after.scene("crossing").layer("target").track("opacity").keys] == pytest.approx([0.1, 0.4])
    assert [note.text for note in edit.notes(before, after)] == [
        "The numbers stay as they are shown: 40 ° became 40 %."
    ]
    # Of several lanes the one that is most alike has the property, and the others are told of.
    both = Clip(lanes=(*clip.lanes, *clip_of(numbers((0, 0.5), (10, 1)), "opacity").lanes))
    some = PasteKeys(scene="crossing", clip=both, layers=("target",), onto_property="opacity", time=0)
    after = apply(before, some)
    assert [k.value for k in after.scene("crossing").layer("target").track("opacity").keys] == [0.5, 1]
    assert some.notes(before, after)[0].text == "Not pasted: Rotation: Target has one Opacity."


def test_what_is_offered_as_a_target_takes_the_keys():
    target = layer("Target", FreePath(contours=(Contour(points=((0, 0, 0, 0, 9, 0), (60, 0, -9, 0, 9, 9))),)))
    for name, track in (
        ("rotation", numbers((0, 10), (10, 40))),
        ("position", positions((0, (0, 9)), (10, (40, 5)))),
        (
            "fill",
            ColourTrack(
                value=(1, 0, 0, 1), keys=({"time": 0, "value": (1, 0, 0, 1)}, {"time": at(9), "value": (0, 0, 1, 1)})
            ),
        ),
    ):
        clip = clip_of(track, name)
        before = project(target)
        offered = takers(before.scene("crossing").layer("target"), clip.lanes)
        assert offered or name == "position"
        for facts in offered:
            edit = PasteKeys(scene="crossing", clip=clip, layers=("target",), onto_property=facts.id, time=0)
            assert apply(before, edit).scene("crossing").layer("target").track(facts.id).keys, facts.id


def test_a_position_comes_onto_split_axes_by_itself():
    before = project(layer("Target", position_x=numbers((0, 0)), position_y=numbers((0, 0))))
    way = PasteKeys(
        scene="crossing",
        clip=clip_of(positions((0, (0, 9)), (10, (40, 5))), "position"),
        layers=("target",),
        time=at(20),
    )
    after = apply(before, way).scene("crossing").layer("target")
    assert [k.value for k in after.track("position_x").keys] == [0, 0, 40]
    # And x with its y onto a path: the one alone says what is missing.
    tracks = {"position_x": numbers((0, 0), (10, 40), (20, 10)), "position_y": numbers((0, 9), (20, 60))}
    lanes = tuple(CopiedLane(layer="Bob", property=name, track=track) for name, track in tracks.items())
    two = way.changed(clip=Clip(lanes=lanes))
    whole = project(layer("Target", position=positions(value=(5, 5)), opacity=numbers(value=1)))
    made = apply(whole, two).scene("crossing").layer("target").position
    motion = made.motion(np.array([at(f) for f in (20, 30, 35, 40)], float))
    assert motion == pytest.approx(np.array([(0, 9), (40, 34.5), (25, 47.25), (10, 60)]), abs=0.06)
    with pytest.raises(Refusal, match="Position x: Target has none"):
        apply(whole, two.changed(clip=Clip(lanes=lanes[:1])))
    red = ColourTrack(value=(1, 0, 0, 1), keys=({"time": 0, "value": (1, 0, 0, 1)},))
    with pytest.raises(Refusal, match="Fill does not fit Opacity"):
        apply(before, PasteKeys(
            scene="crossing", clip=clip_of(red, "fill"), layers=("target",), onto_property="opacity", time=0
        ))  # fmt: skip


def test_a_path_is_pasted_with_its_bends_among_the_points_that_are_there():
    there = positions((0, (0, 0)), (100, (900, 0)))
    made = pasted(there, clip_of(floated(), "position"), "position", frame=30)
    assert [point.spot for point in made.points] == [(0, 0), (0, 0), (100, 80), (240, 0), (900, 0)][1:] or len(
        made.points
    ) == 4
    inside = np.linspace(at(30), at(70), 200)
    assert np.abs(motion_of(made)(inside) - motion_of(floated())(inside - at(30))).max() < 1e-2
    assert made.value_at(at(100)) == (900, 0)
    on = pasted(positions((0, (500, 300))), clip_of(floated(), "position"), "position", frame=30, relative=True)
    assert on.value_at(at(70)) == pytest.approx((740, 300), abs=1e-2)


def test_part_of_a_path_is_taken_with_the_shape_it_had():
    rows = [point_at((0, 0), 0.5), point_at((100, 80), 0.5), point_at((200, -40), 0.5), point_at((400, 0), 0.5)]
    track = positions((0, (0, 0)), (10, (1, 1)), (20, (2, 2)), (30, (3, 3))).changed(points=tuple(rows))
    made = pasted(None, clip_of(track, "position", [1, 2]), "position")
    times = np.linspace(0, at(10), 99)
    assert np.abs(motion_of(made)(times) - motion_of(track)(times + at(10))).max() < 1e-2
    assert len(made.points) == 2


def test_easing_alone_is_pasted_on_ways_of_any_size_and_property():
    clip = clip_of(numbers((0, 0, EASED[0]), (10, 90, {**EASED[1], "hold": True}), (20, 0)))
    before = project(layer("Target", opacity=numbers((0, 0), (7, 1), (30, 0.2), (40, 1))))
    times = before.scene("crossing").layer("target").track("opacity").key_times
    keys = tuple(KeyRef(layer="target", property="opacity", time=time) for time in times)
    made = (
        apply(before, PasteEases(scene="crossing", clip=clip, keys=keys))
        .scene("crossing")
        .layer("target")
        .track("opacity")
    )
    assert [key.value for key in made.keys] == [0, 1, 0.2, 1]
    assert made.keys[0].leaving == side(0.42, 0.0)
    assert [key.hold for key in made.keys] == [False, True, False, False]
    assert made.keys[2].leaving == side(0.42, 0.0)
    one = clip_of(numbers((0, 0)))
    with pytest.raises(Refusal, match="between two"):
        apply(before, PasteEases(scene="crossing", clip=one, keys=keys))


def test_copied_data_is_checked_like_any_input():
    good = clip_of(numbers((0, 0), (10, 90))).model_dump(mode="json")
    for change in (
        {"property": "colour"}, {"property": "position"}, {"layer": ""}, {"of": -1},
        {"track": {"kind": "number", "value": 0, "keys": []}},
        {"track": {"kind": "number", "value": 0, "keys": [{"time": 5, "value": 0}, {"time": 5, "value": 1}]}},
    ):  # fmt: skip
        with pytest.raises(ValueError):
            Clip.model_validate({**good, "lanes": [{**good["lanes"][0], **change}]})


def test_too_many_turns_are_refused_in_a_sentence():
    clip = clip_of(numbers(*((n, n) for n in range(60))))
    with pytest.raises(Refusal, match="fewer turns"):
        pasted(None, clip, often=1000)
    with pytest.raises(Refusal, match="no length"):
        pasted(None, clip_of(numbers((0, 4))), often=3)


def test_what_goes_on_before_and_after_comes_along():
    cycle = numbers((0, 0), (10, 40)).changed(before=Beyond(how="alternate"), after=Beyond(how="repeat", count=3))
    made = pasted(None, clip_of(cycle), frame=20)
    assert (made.before, made.after) == (cycle.before, cycle.after)
    times = np.arange(at(-30), at(60), at(1) / 2)
    assert np.abs(motion_of(made)(times + at(20)) - motion_of(cycle)(times)).max() < 1e-6
    # Backwards the sides change places; of counted turns nothing goes on.
    turned = pasted(None, clip_of(cycle), reversed=True)
    assert (turned.before.how, turned.after.how) == ("repeat", "alternate")
    assert pasted(None, clip_of(cycle), often=2).after is None
    # Some of the keys have only what goes on beside them.
    assert clip_of(cycle, chosen=[1]).lanes[0].track.before is None
    # Among others it goes on from the key that is the last.
    among = pasted(numbers((0, 5), (5, 9)), clip_of(cycle), frame=20)
    assert (among.before, among.after.how) == (None, "repeat")
    later = pasted(numbers((90, 5), (95, 9)), clip_of(cycle), frame=20)
    assert (later.before.how, later.after) == ("alternate", None)
