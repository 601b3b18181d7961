"""Saved motions: taken off layers, laid on others from where these are, as far, as long and as often as asked."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.saved import dialled, far_of, offered, rest_of, saved
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document import Carrier, Contour, FreePath
from deftarc.core.document.effects import EFFECTS
from deftarc.core.document.links import Link, LinkSource
from deftarc.core.document.motion import Dial, SavedMotion
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.edit import apply, told
from deftarc.core.edit.clocks import GiveClock
from deftarc.core.edit.motions import ForgetMotion, KeepMotion, LayHow, LayMotion
from deftarc.core.words.shipped_motions import SHIPPED, shipped
from tests.random_motion import curves, paths
from tests.scenes import RATE, at, layer, numbers, positions, project, scene, side

FRAMES = np.arange(-20, 140) * RATE.flicks


def keys_of(here, *layers):
    return tuple(
        KeyRef(layer=name, property=p, time=t)
        for name in layers for p in here.layer(name).keyed for t in here.layer(name).track(p).key_times
    )  # fmt: skip


def taken(*layers, rest="first", asks=(), **more):
    """A motion saved off some layers, which asks for the numbers of some kinds."""
    here = scene(*layers)
    motion = saved(here, "Sway", keys_of(here, *(each.id for each in layers)), rest)
    dials = tuple(dial for dial in offered(motion) if dial.kind in asks)
    return SavedMotion.model_validate({**motion.changed(dials=dials, **more).model_dump()})


def laid(motion, *layers, time=0, frames=125, **more):
    doc = project(*layers, frames=frames)
    edit = LayMotion(scene="crossing", motion=motion, layers=tuple(each.id for each in layers), time=time, **more)
    after = apply(doc, edit)
    return after.scenes[0], [note.text for note in told(doc, edit, after)]


def sway():
    return layer("Mast", rotation=numbers((10, 30, {"leaving": side(0.4, 9)}), (20, 50), (30, 30)),
                 position=positions((10, (100, 50)), (30, (200, 90))))  # fmt: skip


@given(curves(), st.floats(-200, 200))
@settings(max_examples=60, deadline=None)
def test_a_number_goes_as_it_went_from_where_the_other_layer_is(track, value):
    motion = taken(layer("Mast", rotation=track))
    here, _ = laid(motion, layer("Sign", rotation=NumberTrack(value=value)), time=at(7))
    times = FRAMES - at(7) + track.keys[0].time
    moved = here.layer("sign").track("rotation").motion(FRAMES)
    assert np.allclose(moved - value, track.motion(times) - track.keys[0].value, atol=1e-7, rtol=1e-9)


@given(paths(), st.integers(-180, 180), st.floats(0.1, 4))
@settings(max_examples=60, deadline=None)
def test_a_path_is_turned_and_goes_as_far_as_asked(track, degrees, factor):
    motion = taken(layer("Gull", position=track))
    far = far_of(motion.clip.lanes[0].track, PROPERTIES["position"], "first")
    if far < 1e-3:
        return
    dials = (Dial(id="far", kind="far", label="Far", value=far, low=0, high=far * 5),
             Dial(id="way", kind="way", label="Way", value=0, low=-180, high=180))  # fmt: skip
    motion = motion.changed(dials=dials)
    numbers_ = {"far": far * factor, "way": float(degrees)}
    here, _ = laid(motion, layer("Crow", position=PathTrack(value=(40.0, -10.0))), numbers=numbers_)
    angle = np.deg2rad(degrees)
    turn = factor * np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    then = track.motion(FRAMES + track.keys[0].time) - rest_of(track, "first")
    now = here.layer("crow").track("position").motion(FRAMES) - (40, -10)
    assert np.allclose(now, then @ turn.T, atol=1e-5 * max(1, far * factor))


def test_it_comes_to_where_the_layer_is_where_it_was_saved_so():
    motion = taken(layer("Fly", position=positions((0, (0, 0)), (20, (300, 40)))), rest="last")
    crow = layer("Crow", position=PathTrack(value=(7.0, 8.0)))
    here, _ = laid(motion, crow, time=at(30))
    track = here.layer("crow").track("position")
    assert track.at(at(50)) == pytest.approx((7, 8))
    assert track.at(at(30)) == pytest.approx((-293, -32))
    # Or sets out from there, where that is asked.
    here, _ = laid(motion, crow, time=at(30), how=LayHow(rest="first"))
    assert here.layer("crow").track("position").at(at(30)) == (7, 8)
    # Where its layer begins or ends, whatever the playhead says.
    late = crow.changed(start=at(10), end=at(60))
    assert laid(motion, late, how=LayHow(at="start"))[0].layer("crow").track("position").key_times == [at(10), at(30)]
    assert laid(motion, late, how=LayHow(at="end"))[0].layer("crow").track("position").key_times == [at(39), at(59)]


def test_shares_go_by_shares_and_other_numbers_by_amounts():
    motion = taken(layer("Pop", scale=numbers((0, 1), (10, 1.5)), opacity=numbers((0, 0), (10, 0.8)),
                         rotation=numbers((0, 10), (10, 40))), rest="last")  # fmt: skip
    other = layer("Bell", scale=NumberTrack(value=0.3), opacity=NumberTrack(value=0.4), rotation=NumberTrack(value=5))
    here, _ = laid(motion, other)
    bell = here.layer("bell")
    assert [key.value for key in bell.track("scale").keys] == pytest.approx([0.2, 0.3])
    assert [key.value for key in bell.track("opacity").keys] == pytest.approx([0, 0.4])
    assert [key.value for key in bell.track("rotation").keys] == [-25, 5]


def test_how_far_how_long_and_how_many_change_nothing_else():
    motion = taken(sway(), asks=("far", "long", "often"))
    assert [(dial.label, dial.value, motion.unit_of(dial)) for dial in motion.dials] == [
        ("How far", pytest.approx(107.703, abs=1e-3), "px"), ("How long", 20 / 25, "s"),
        ("How far: Rotation", 20, "°"), ("How many", 1, ""),
    ]  # fmt: skip
    ids = {dial.label: dial.id for dial in motion.dials}
    twice, _ = dialled(motion, {ids["How far: Rotation"]: 40}, RATE.flicks)
    plain, long = dialled(motion, {}, RATE.flicks)
    times = np.arange(0, 22) * RATE.flicks
    names = [lane.property for lane in motion.clip.lanes]
    turn, place = names.index("rotation"), names.index("position")
    assert np.allclose(twice[turn].motion(times) - 30, 2 * (plain[turn].motion(times) - 30))
    assert twice[place] == plain[place]
    slow, slower = dialled(motion, {ids["How long"]: 1.6}, RATE.flicks)
    assert slower == 2 * long
    assert np.allclose(slow[turn].motion(times * 2), plain[turn].motion(times), atol=1e-6)
    many, whole = dialled(motion, {ids["How many"]: 3}, RATE.flicks)
    assert whole == 3 * long
    assert np.allclose(many[turn].motion(times[:20] + 2 * long), plain[turn].motion(times[:20]))


@pytest.mark.parametrize(("turns", "ends"), [("again", 20), ("alternate", 0), ("adding", 40)])
def test_turns_come_again_there_and_back_or_add_up(turns, ends):
    motion = taken(layer("Hop", rotation=numbers((0, 0), (10, 20))), asks=("often",), turns=turns)
    here, _ = laid(motion, layer("Crate"), numbers={motion.dials[0].id: 2})
    assert here.layer("crate").track("rotation").at(at(20)) == (ends,)


def test_what_grows_evenly_goes_as_far_at_its_furthest_as_is_asked():
    motion = taken(layer("Zoom", scale=numbers((0, 1), (10, 2)).changed(evenly=True)), asks=("far",))
    dial = motion.dials[0]
    assert dial.value == 100
    tracks, _ = dialled(motion, {dial.id: 300}, RATE.flicks)
    assert [key.value for key in tracks[0].keys] == pytest.approx([1, 4])
    # Even growth still: half the time is half the logarithm.
    assert tracks[0].at(at(5))[0] == pytest.approx(2)


def test_fitted_to_a_span_a_range_and_the_size_of_a_layer_or_a_scene():
    motion = taken(sway(), sizes=(50.0,), frame=200.0)
    small = layer("Small").changed(start=at(10), end=at(51))
    here, _ = laid(motion, small, how=LayHow(fit="span"))
    assert here.layer("small").track("rotation").key_times == [at(10), at(30), at(50)]
    here, _ = laid(motion, small, how=LayHow(size="layer"), sizes=(25.0,))
    track = here.layer("small").track("position")
    assert track.at(at(20)) == pytest.approx((50, 20))
    # Angles have no size.
    assert here.layer("small").track("rotation").at(at(10)) == (20,)
    here, _ = laid(motion, small, how=LayHow(size="scene"))
    by = np.hypot(here.width, here.height) / 200
    assert here.layer("small").track("position").at(at(20)) == pytest.approx((100 * by, 40 * by))
    with pytest.raises(Refusal, match="nothing here that has a size"):
        laid(motion, small, how=LayHow(size="layer"))
    with pytest.raises(Refusal, match="saved without its size"):
        laid(motion.changed(sizes=()), small, how=LayHow(size="layer"), sizes=(25.0,))


def test_on_many_one_after_the_other_in_an_order():
    motion = taken(layer("Hop", rotation=numbers((0, 0), (10, 20))))
    four = [layer(name) for name in ("One", "Two", "Three", "Four")]

    def begins(**how):
        here, _ = laid(motion, *four, time=at(5), how=LayHow(step=at(3), **how))
        return [here.layer(each.id).track("rotation").key_times[0] // RATE.flicks for each in four]

    assert begins() == [5, 8, 11, 14]
    assert begins(order="reversed") == [14, 11, 8, 5]
    # Where each is to end with its layer, the last one does.
    assert begins(at="end") == [124 - 10 - 9, 124 - 10 - 6, 124 - 10 - 3, 124 - 10]


def test_a_motion_of_two_layers_goes_onto_two_or_four_in_the_order_of_the_list():
    motion = taken(layer("Tug", rotation=numbers((0, 0), (10, 20))), layer("Tow", rotation=numbers((5, 0), (15, 8))))
    rows = [layer(name) for name in ("A", "B", "C", "D")]
    here, _ = laid(motion, *rows, how=LayHow(step=at(20)))
    assert [[key // RATE.flicks for key in each.track("rotation").key_times] for each in here.layers] == [
        [0, 10], [5, 15], [20, 30], [25, 35]]  # fmt: skip
    with pytest.raises(Refusal, match=r"moves 2 layers\. Select 2"):
        laid(motion, *rows[:3])


def test_what_a_layer_lacks_is_told_and_the_rest_is_laid():
    art = layer("Wave", artwork=FreePath(contours=(Contour(points=((0, 0, 0, 0, 0, 0), (9, 9, 0, 0, 0, 0))),)))
    shape = art.artwork.numbers()
    wave = art.changed(tracks={"outline": OutlineTrack(value=shape, keys=(
        {"time": 0, "value": shape}, {"time": at(9), "value": tuple(n + 1 for n in shape)}))})  # fmt: skip
    wave = wave.with_track("rotation", numbers((0, 0), (9, 20)))
    motion = taken(wave)
    here, notes = laid(motion, layer("Sign"))
    assert notes == ["Not laid: Outline: Sign has none."]
    assert here.layer("sign").keyed == ("rotation",)
    # Another shape of as many points goes from its own.
    other = art.changed(id="other", artwork=FreePath(contours=(
        Contour(points=((50, 0, 0, 0, 0, 0), (70, 9, 0, 0, 0, 0))),)))  # fmt: skip
    here, notes = laid(motion, other)
    assert not notes
    assert here.layer("other").track("outline").keys[-1].value[:2] == (51, 1)
    longer = other.changed(artwork=FreePath(contours=(Contour(points=((0, 0, 0, 0, 0, 0),) * 3),)))
    assert laid(motion, longer)[1] == ["Not laid: Outline: that of Wave has another number of points."]
    with pytest.raises(Refusal, match="Nothing of Sway fits here"):
        laid(taken(layer("Dot", fill=ColourTrack(value=(1, 0, 0, 1), keys=(
            {"time": 0, "value": (1, 0, 0, 1)}, {"time": 9, "value": (0, 1, 0, 1)})))), layer("Boat", Carrier()))  # fmt: skip


def test_an_effect_of_the_same_kind_takes_what_moved_one_of_another_id():
    blur = EFFECTS["blur"]
    one = layer("One").changed(effects=(blur(id="mist"),))
    one = one.with_track("effect/mist/blur_radius", numbers((0, 0), (10, 8)))
    other = layer("Other").changed(effects=(blur(id="haze", radius=3),))
    here, notes = laid(taken(one), other)
    assert not notes
    assert [key.value for key in here.layer("other").track("effect/haze/blur_radius").keys] == [3, 11]


def test_of_two_effects_of_a_kind_each_takes_one_and_a_single_one_the_first():
    blur = EFFECTS["blur"]
    two = layer("Two").changed(effects=(blur(id="near"), blur(id="wide")))
    for name, far in (("near", 10), ("wide", 20)):
        two = two.with_track(f"effect/{name}/blur_radius", numbers((0, 0), (10, far)))
    haze = layer("Haze").changed(effects=(blur(id="one", radius=0), blur(id="other", radius=0)))
    here, notes = laid(taken(two), haze)
    assert not notes
    ends = [here.layer("haze").track(f"effect/{name}/blur_radius").keys[-1].value for name in ("one", "other")]
    assert ends == [10, 20]
    here, notes = laid(taken(two), haze.changed(effects=haze.effects[:1]))
    assert [key.value for key in here.layer("haze").track("effect/one/blur_radius").keys] == [0, 10]
    assert len(notes) == 1
    assert "Haze has one" in notes[0]


def test_split_axes_take_a_path_and_a_path_takes_axes():
    path = taken(layer("Fly", position=positions((0, (0, 0)), (20, (300, 40)))))
    split = layer("Split", position_x=NumberTrack(value=5), position_y=NumberTrack(value=6)).changed(axes_split=True)
    here, _ = laid(path, split)
    ends = [here.layer("split").track(name).at(at(20))[0] for name in ("position_x", "position_y")]
    assert ends == pytest.approx([305, 46], abs=0.2)
    axes = taken(layer("Axes", position_x=numbers((0, 0), (20, 60)), position_y=numbers((0, 0), (20, 30)))
                 .changed(axes_split=True))  # fmt: skip
    here, _ = laid(axes, layer("Whole", position=PathTrack(value=(1.0, 2.0))))
    assert here.layer("whole").track("position").at(at(20)) == pytest.approx((61, 32), abs=0.2)


def test_what_goes_on_for_ever_and_what_settles_are_kept():
    track = numbers((10, 4), (20, 9), (30, 4)).changed(after=Beyond(how="repeat", part=at(20)))
    here, _ = laid(taken(layer("Bob", rotation=track)), layer("Sign"), time=at(3))
    made = here.layer("sign").track("rotation")
    assert made.after == Beyond(how="repeat", part=at(13))
    assert np.allclose(made.motion(FRAMES + at(3)), track.motion(FRAMES + at(10)) - 4)


def test_on_top_of_what_is_followed_it_adds_and_takes_nothing_away():
    lead = layer("Lead", rotation=numbers((0, 10), (50, 60)))
    link = Link(source=LinkSource(layer="lead", what="rotation"))
    follow = layer("Follow").changed(links={"rotation": link})
    doc = project(follow, lead)
    motion = taken(layer("Hop", rotation=numbers((0, 7), (10, 27))))
    after = apply(doc, LayMotion(scene="crossing", motion=motion, layers=("follow",), time=0))
    assert [key.value for key in after.scenes[0].layer("follow").track("rotation").keys] == [0, 20]


def test_under_a_clock_it_lies_where_the_clock_shows_it():
    doc = apply(project(layer("Sign")), GiveClock(scene="crossing", layers=("sign",)))
    clock = numbers((0, 0), (100, 50))
    clock = clock.changed(keys=tuple(key.changed(value=key.value / 25) for key in clock.keys))
    here = doc.scenes[0]
    doc = doc.with_scene(here.with_layer(here.layer("sign").with_track("clock", clock)))
    motion = taken(layer("Hop", rotation=numbers((0, 0), (10, 20))))
    after = apply(doc, LayMotion(scene="crossing", motion=motion, layers=("sign",), time=at(40)))
    times = after.scenes[0].layer("sign").track("rotation").key_times
    # From there on it goes by the clock, as all of the layer's keys do.
    assert times == pytest.approx([at(20), at(30)], abs=2)


def test_kept_changed_and_forgotten_in_the_project():
    motion = taken(layer("Hop", rotation=numbers((0, 0), (10, 20))))
    doc = apply(project(layer("Sign")), KeepMotion(motion=motion))
    doc = apply(doc, KeepMotion(motion=motion.changed(name="Hop"), was="Sway"))
    assert [each.name for each in doc.motions] == ["Hop"]
    with pytest.raises(Refusal, match="no saved motion"):
        apply(doc, KeepMotion(motion=motion, was="Sway"))
    fresh = motion.changed(name="Hop")
    with pytest.raises(Refusal, match="There is a “Hop” already in this project"):
        apply(doc, KeepMotion(motion=fresh, fresh=True))
    assert apply(doc, KeepMotion(motion=fresh, was="Hop", fresh=True)).motions == (fresh,)
    assert not apply(doc, ForgetMotion(name="Hop")).motions
    with pytest.raises(Refusal, match="no saved motion"):
        apply(doc, ForgetMotion(name="Sway"))


@pytest.mark.parametrize(
    ("fields", "words"),
    [({"low": 5, "high": 5}, "from a lower number"), ({"value": 9}, "is at first between"),
     ({"lanes": (4,)}, "a lane that is not there"), ({"kind": "long", "low": 0, "value": 1}, "more than no time"),
     ({"kind": "often", "value": 1.5, "low": 1}, "counts turns"), ({"kind": "way", "lanes": (0,)}, "paths lead a way"),
     ({"value": 0}, "more than nothing")],
)  # fmt: skip
def test_numbers_that_make_no_sense_are_no_motion(fields, words):
    motion = taken(layer("Hop", rotation=numbers((0, 0), (10, 20))))
    told_ = {"id": "a", "kind": "far", "label": "Far", "value": 2, "low": 0, "high": 5, **fields}
    with pytest.raises(ValueError, match=words):
        SavedMotion.model_validate({**motion.model_dump(), "dials": [told_]})


def test_numbers_out_of_their_range_and_strange_ones_are_refused():
    motion = taken(layer("Hop", rotation=numbers((0, 0), (10, 20))), asks=("far",))
    with pytest.raises(Refusal, match=r"“How far: Rotation” goes from 0 to 80°"):
        laid(motion, layer("Sign"), numbers={motion.dials[0].id: 81})
    with pytest.raises(Refusal, match="asks for no number"):
        laid(motion, layer("Sign"), numbers={"other": 1})


def test_keys_past_the_scene_are_told():
    motion = taken(layer("Hop", rotation=numbers((0, 0), (10, 20))))
    assert laid(motion, layer("Sign"), time=at(120))[1] == ["1 key lies outside the scene’s time."]


def test_the_shipped_ones_lie_on_any_layer_and_what_is_played_over_begins_as_it_ends():
    assert len(shipped()) >= 12
    for motion, lines in zip(shipped(), SHIPPED, strict=True):
        parts = [layer(f"Sign {n}") for n in range(len(lines.lines))]
        here, notes = laid(motion, *parts, frames=2_000)
        assert not notes
        for each in here.layers:
            for name in each.keyed:
                track = each.track(name)
                if track.after is not None:
                    ends = track.motion(np.array([track.key_times[0], track.key_times[-1]], float))
                    assert np.allclose(ends[0], ends[1]), (motion.name, name)
        assert all(dial.low <= dial.value <= dial.high for dial in motion.dials)
        assert 0.2 * FLICKS < motion.clip.end < 4 * FLICKS
