"""Many keys at once: turned round, mirrored, stretched, spread, brought together, pushing what is later."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.deviation import motion_of
from deftarc.core.document.keys import NumberKey, PathKey
from deftarc.core.document.track import ColourTrack, NumberTrack, PathTrack
from deftarc.core.edit import EDIT, apply
from deftarc.core.edit.move_keys import MoveKeys
from deftarc.core.spaces.points import point_at
from tests.random_motion import curves, paths
from tests.scenes import at, floated, layer, numbers, positions, project, side

TIMES = np.arange(at(-4), at(70), at(1) // 7).astype(float)


def refs(track, name="rotation", chosen=None, layer_id="swing"):
    picked = range(len(track.keys)) if chosen is None else chosen
    return [{"layer": layer_id, "property": name, "time": track.keys[k].time} for k in picked]


def done(track, kind, name="rotation", chosen=None, **fields):
    """The lane after an edit of some of its keys, and the keys selected then."""
    before = project(layer("Swing", **{name: track}))
    edit = EDIT.validate_python({"kind": kind, "scene": "crossing", "keys": refs(track, name, chosen), **fields})
    after = apply(before, edit)
    return after.scene("crossing").layer("swing").track(name), edit.selects(before, after)


def tried(*given, **fields):
    """As ``done``; what would be refused as too large is no example."""
    try:
        return done(*given, **fields)
    except Refusal as refusal:
        assume("the least it holds" not in str(refusal) and "the most it holds" not in str(refusal))
        raise


def again(made, kind, name="rotation", **fields):
    """The same edit of the keys that are selected once it is made."""
    track, selected = made
    before = project(layer("Swing", **{name: track}))
    edit = EDIT.validate_python(
        {"kind": kind, "scene": "crossing", "keys": [r.model_dump() for r in selected], **fields}
    )
    return apply(before, edit).scene("crossing").layer("swing").track(name)


def apart(one, other, times=TIMES):
    return float(np.abs(motion_of(one)(times) - motion_of(other)(times)).max())


@given(curves(), st.data())
@settings(max_examples=150, deadline=None)
def test_reversed_twice_is_the_identity(track, data):
    first = data.draw(st.integers(0, len(track.keys) - 2))
    last = data.draw(st.integers(first + 1, len(track.keys) - 1))
    made = tried(track, "reverse_keys", chosen=range(first, last + 1))
    assert apart(again(made, "reverse_keys"), track) < 1e-6


@given(curves(least=3), st.data())
@settings(max_examples=80, deadline=None)
def test_keys_with_others_between_them_change_places_and_those_stay(track, data):
    chosen = sorted(data.draw(st.sets(st.sampled_from(range(len(track.keys))), min_size=2)))
    made, selected = tried(track, "reverse_keys", chosen=chosen)
    value = {key.time: key.value for key in made.keys}
    assert [value[ref.time] for ref in selected] == [track.keys[k].value for k in chosen]
    staying = {key.time: key.value for k, key in enumerate(track.keys) if k not in chosen}
    assert staying.items() <= value.items()


@given(curves())
@settings(max_examples=150, deadline=None)
def test_a_whole_curve_reversed_runs_backwards(track):
    made, _ = tried(track, "reverse_keys")
    first, last = track.keys[0].time, track.keys[-1].time
    # Steps hold on the one side of their jumps; between the jumps both agree.
    times = np.linspace(first, last, 997)[1:-1]
    off = np.abs(motion_of(made)(times) - motion_of(track)(first + last - times))
    jumps = any(key.stepped for key in track.keys)
    assert np.median(off) < 1e-6 if jumps else off.max() < 1e-6


@given(paths())
@settings(max_examples=60, deadline=None)
def test_a_path_reversed_runs_backwards_and_twice_is_itself(track):
    made = done(track, "reverse_keys", "position")
    first, last = track.keys[0].time, track.keys[-1].time
    times = np.linspace(first, last, 211)[1:-1]
    off = np.abs(motion_of(made[0])(times) - motion_of(track)(first + last - times)).max(axis=1)
    assert (np.median(off) if any(key.stepped for key in track.keys) else off.max()) < 1e-2
    assert apart(again(made, "reverse_keys", "position"), track) < 1e-2


def test_part_of_a_path_is_reversed_with_its_bends_and_what_lies_outside_stays():
    rows = [
        point_at((0, 0)),
        point_at((100, 0), 0.6),
        point_at((150, 90), 0.6),
        point_at((300, 0)),
        point_at((400, 50)),
    ]
    track = PathTrack(value=(0, 0), points=tuple(rows), keys=tuple(
        PathKey(time=at(f), at=float(n), leaving=side(0.4, 5.0)) for f, n in ((0, 0), (10, 1), (30, 3), (50, 4))
    ))  # fmt: skip
    made, selected = done(track, "reverse_keys", "position", chosen=[1, 2])
    inside = np.linspace(at(10), at(30), 99)
    assert np.abs(motion_of(made)(inside) - motion_of(track)(at(40) - inside)).max() < 1e-2
    assert made.value_at(at(0)) == track.value_at(at(0))
    assert made.value_at(at(50)) == track.value_at(at(50))
    assert [ref.time for ref in selected] == [at(30), at(10)]


def test_a_position_is_not_reversed_across_a_gap_and_one_key_is_nothing():
    track = positions((0, (0, 0)), (10, (100, 0)), (20, (200, 50)))
    with pytest.raises(Refusal, match="without gaps"):
        done(track, "reverse_keys", "position", chosen=[0, 2])
    with pytest.raises(Refusal, match="two times"):
        done(track, "reverse_keys", "position", chosen=[1])


def test_lanes_are_reversed_together_so_that_what_came_later_comes_earlier():
    first, later = numbers((0, 0), (10, 90)), numbers((20, 0), (40, 1))
    before = project(layer("Swing", rotation=first, opacity=later))
    keys = refs(first) + refs(later, "opacity")
    after = apply(before, EDIT.validate_python({"kind": "reverse_keys", "scene": "crossing", "keys": keys}))
    made = after.scene("crossing").layer("swing")
    assert made.track("rotation").key_times == [at(30), at(40)]
    assert made.track("opacity").key_times == [at(0), at(20)]
    assert [key.value for key in made.track("opacity").keys] == [1, 0]


@given(curves(), st.data())
@settings(max_examples=120, deadline=None)
def test_mirrored_twice_is_the_identity_and_once_is_the_mirror_image(track, data):
    whole = data.draw(st.booleans())
    chosen = None if whole else sorted(data.draw(st.sets(st.sampled_from(range(len(track.keys))), min_size=1)))
    made = tried(track, "scale_values", chosen=chosen, factor=-1, about=12.0)
    if whole:
        assert np.abs(motion_of(made[0])(TIMES) + motion_of(track)(TIMES) - 24).max() < 1e-6
    if whole or all(key.joint == "corner" for key in track.keys):
        selected = refs(made[0], chosen=chosen)
        back = apply(
            project(layer("Swing", rotation=made[0])),
            EDIT.validate_python(
                {"kind": "scale_values", "scene": "crossing", "keys": selected, "factor": -1, "about": 12.0}
            ),
        )
        level = [abs(b.value - a.value) for a, b in zip(track.keys, track.keys[1:], strict=False)]
        # A way that is level for the moment has no proportion to come back by.
        flat = [abs(b.value - a.value) for a, b in zip(made[0].keys, made[0].keys[1:], strict=False)]
        if whole or min(level + flat) > 1e-3:
            assert apart(back.scene("crossing").layer("swing").track("rotation"), track) < 1e-5


@given(curves(), st.sampled_from([2, 3, 4, 5]), st.sampled_from(["first", "middle", 7.0]))
@settings(max_examples=80, deadline=None)
def test_stretched_and_scaled_by_k_and_then_its_inverse_is_the_identity(track, k, about):
    made = done(track, "stretch_keys", about=at(3), longer=k, on_frames=False)
    assert apart(again(made, "stretch_keys", about=at(3), longer=1 / k, on_frames=False), track) < 1e-4
    scaled, _ = done(track, "scale_values", factor=k, about=about)
    again_, _ = done(scaled, "scale_values", factor=1 / k, about=about)
    assert apart(again_, track) < 1e-6


@given(paths(), st.floats(-200, 200))
@settings(max_examples=40, deadline=None)
def test_a_path_mirrored_is_the_mirror_image_at_every_time(track, about):
    made, _ = done(track, "scale_values", "position", factor=-1, about=about, axis="x")
    one, other = motion_of(made)(TIMES), motion_of(track)(TIMES)
    assert np.abs(one[:, 0] + other[:, 0] - 2 * about).max() < 1e-2
    assert np.abs(one[:, 1] - other[:, 1]).max() < 1e-2


def test_values_are_moved_by_an_amount_and_held_within_what_the_property_allows():
    fade = numbers((0, 0.2), (10, 0.9))
    made, _ = done(fade, "scale_values", "opacity", more=30)
    assert [key.value for key in made.keys] == [0.5, 1.0]
    grown = numbers((0, 1.0), (10, 2.0)).changed(evenly=True)
    made, _ = done(grown, "scale_values", "scale", more=50)
    assert [round(key.value, 9) for key in made.keys] == [1.5, 2.5]
    with pytest.raises(Refusal, match="above nought"):
        done(grown, "scale_values", "scale", more=-150)


def test_a_mirror_image_is_whole_where_the_property_has_bounds():
    fade = numbers((0, 1.0), (5, 0.25), (10, 0.9, {"leaving": side(0.4, -0.2)}), (15, 0.4))
    made, _ = done(fade, "scale_values", "opacity", factor=-1)
    # About the middle of 25 and 100 %: about 100 % all of it would be cut off.
    assert np.abs(motion_of(made)(TIMES) + motion_of(fade)(TIMES) - 1.25).max() < 1e-9
    before = project(layer("Swing", opacity=fade, rotation=numbers((0, 100), (5, 25))))
    for named, words in (("opacity", ["about the middle"]), ("rotation", [])):
        told = {"kind": "scale_values", "scene": "crossing", "factor": -1,
                "keys": refs(before.scene("crossing").layer("swing").track(named), named)}  # fmt: skip
        edit = EDIT.validate_python(told)
        notes = [note.text for note in edit.notes(before, apply(before, edit))]
        assert len(notes) == len(words)
        assert all(each in note for each, note in zip(words, notes, strict=True))
    with pytest.raises(Refusal, match="would leave 0 to 100 %"):
        done(fade, "scale_values", "opacity", factor=-1, about=90.0)
    with pytest.raises(Refusal, match="would go below 0 px"):
        done(numbers((0, 4), (9, 20)), "scale_values", "radius", factor=-1, about=2.0)
    # Within its bounds it is about its first value, as everywhere.
    low, _ = done(numbers((0, 0.5), (9, 0.7)), "scale_values", "opacity", factor=-1)
    assert [key.value for key in low.keys] == pytest.approx([0.5, 0.3])


def test_what_is_held_at_a_bound_is_told():
    fade = numbers((0, 0.2), (10, 0.9), (20, 0.95))
    before = project(layer("Swing", opacity=fade))
    edit = EDIT.validate_python(
        {"kind": "scale_values", "scene": "crossing", "more": 30, "keys": refs(fade, "opacity")}
    )
    assert [note.text for note in edit.notes(before, apply(before, edit))] == [
        "2 keys are held at the end of what the property allows."
    ]


def test_colours_have_no_values_to_scale_but_are_reversed():
    red, blue = (0.9, 0.1, 0.1, 1.0), (0.1, 0.2, 0.9, 1.0)
    track = ColourTrack(value=red, keys=(
        {"time": 0, "value": red, "leaving": side(0.8, 0.1)}, {"time": at(20), "value": blue}
    ))  # fmt: skip
    made, _ = done(track, "reverse_keys", "fill")
    times = np.linspace(0, at(20), 50)
    assert np.abs(motion_of(made)(times) - motion_of(track)(at(20) - times)).max() < 1e-6
    with pytest.raises(Refusal, match="no values to scale"):
        done(track, "scale_values", "fill", factor=2)


def test_keys_are_spread_evenly_in_each_lane_or_from_lane_to_lane():
    made, _ = done(numbers((0, 0), (3, 5), (5, 9), (30, 0)), "spread_keys")
    assert made.key_times == [at(0), at(10), at(20), at(30)]
    layers = [layer(f"Row{n}", opacity=numbers((f, 0.0), (60, 1.0))) for n, f in enumerate((0, 2, 20))]
    keys = [{"layer": x.id, "property": "opacity", "time": x.track("opacity").keys[0].time} for x in layers]
    edit = EDIT.validate_python({"kind": "spread_keys", "scene": "crossing", "keys": keys})
    after = apply(project(*layers), edit).scene("crossing")
    assert [x.track("opacity").key_times[0] for x in after.layers] == [at(0), at(10), at(20)]
    with pytest.raises(Refusal, match="three keys"):
        done(numbers((0, 0), (3, 5)), "spread_keys")


def test_keys_of_several_lanes_are_brought_to_one_time_each_run_as_it_is():
    before = project(layer("A", rotation=numbers((4, 0), (9, 5))), layer("B", rotation=numbers((0, 0), (20, 5))))
    keys = [{"layer": name, "property": "rotation", "time": at(f)} for name, f in (("a", 4), ("a", 9), ("b", 20))]
    told = {"kind": "align_keys", "scene": "crossing", "keys": keys}
    after = apply(before, EDIT.validate_python(told)).scene("crossing")
    assert [after.layer(x).track("rotation").key_times for x in "ab"] == [[at(4), at(9)], [at(0), at(4)]]
    after = apply(before, EDIT.validate_python({**told, "time": at(40), "by": "last"})).scene("crossing")
    assert [after.layer(x).track("rotation").key_times for x in "ab"] == [[at(35), at(40)], [at(0), at(40)]]


@pytest.mark.parametrize(
    ("push", "moved"),
    [("none", []), ("lane", ["a rotation"]), ("layer", ["a rotation", "a opacity"]),
     ("scene", ["a rotation", "a opacity", "b rotation", "late"])],
)  # fmt: skip
def test_keys_push_what_is_later_in_their_lane_layer_or_scene(push, moved):
    a = layer("A", rotation=numbers((0, 0), (10, 5), (30, 0)), opacity=numbers((5, 0), (40, 1)))
    b = layer("B", rotation=numbers((0, 0), (50, 5)))
    shut = layer("Shut", rotation=numbers((50, 0), (60, 5))).changed(locked=True)
    late = layer("Late").changed(start=at(30), end=at(60))
    before = project(a, b, shut, late)
    edit = EDIT.validate_python(
        {"kind": "move_keys", "scene": "crossing", "by": at(7), "push": push,
         "keys": [{"layer": "a", "property": "rotation", "time": at(10)}]}
    )  # fmt: skip
    after = apply(before, edit).scene("crossing")
    assert after.layer("a").track("rotation").key_times[:2] == [at(0), at(17)]
    seen = {
        "a rotation": after.layer("a").track("rotation").key_times[-1] == at(37),
        "a opacity": after.layer("a").track("opacity").key_times == [at(5), at(47)],
        "b rotation": after.layer("b").track("rotation").key_times == [at(0), at(57)],
        "late": after.layer("late").start == at(37),
    }
    assert [name for name, there in seen.items() if there] == moved
    assert after.layer("shut") == shut
    assert len(edit.notes(before, before)) == (push == "scene")


def test_a_stretch_pushes_what_is_later_by_as_much_as_its_end_moves():
    track = numbers((0, 0), (10, 5), (20, 0), (25, 9))
    made, selected = done(track, "stretch_keys", chosen=[0, 1], about=0, longer=3, push="lane")
    assert made.key_times == [at(0), at(30), at(40), at(45)]
    assert [ref.time for ref in selected] == [at(0), at(30)]


def test_what_is_passed_over_is_known_and_a_drop_that_replaces_takes_what_it_covers():
    track = numbers((0, 0), (10, 5), (20, 7), (22, 8), (40, 9))
    before = project(layer("Swing", rotation=track))
    edit = MoveKeys(scene="crossing", keys=tuple(refs(track, chosen=[0, 1])), by=at(17))
    here = before.scene("crossing")
    assert [ref.time for ref in edit.passed(here, at(17))] == [at(20), at(22)]
    assert [ref.time for ref in edit.changed(by=at(5)).passed(here, at(5))] == []
    kept = apply(before, edit).scene("crossing").layer("swing").track("rotation")
    assert kept.key_times == [at(17), at(20), at(22), at(27), at(40)]
    gone = apply(before, edit.changed(onto="replace")).scene("crossing").layer("swing").track("rotation")
    assert gone.key_times == [at(17), at(27), at(40)]


def test_a_bend_of_a_level_way_is_mirrored_too():
    swing = NumberTrack(value=0, keys=(
        NumberKey(time=0, value=0, leaving=side(0.4, 30)), NumberKey(time=at(20), value=0, arriving=side(0.4, -30)),
    ))  # fmt: skip
    made, _ = done(swing, "scale_values", factor=-1)
    assert np.allclose(motion_of(made)(TIMES), -motion_of(swing)(TIMES))


def test_floating_points_between_keys_are_mirrored_with_them():
    made, _ = done(floated(), "scale_values", "position", factor=-1, about=0, axis="y")
    assert [point.y for point in made.points] == [0, -80, 0]
