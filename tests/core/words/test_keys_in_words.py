"""A lane's keys in one line: read back exactly, typed shortly, and told where a word is wrong."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import RATES
from deftarc.core.changes.ease import ease_segments
from deftarc.core.changes.places import released
from deftarc.core.curves.beyond import Beyond
from deftarc.core.curves.sides import Automatic, Steps
from deftarc.core.document.keys import NumberKey
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.edit import apply
from deftarc.core.edit.type_keys import TypeKeys
from deftarc.core.words import Misread, read_keys, told_keys
from deftarc.core.words.numbers import number_of, written
from tests.random_motion import curves, paths
from tests.scenes import RATE, at, floated, layer, numbers, positions, project, side

ROTATION, SCALE, OPACITY = (PROPERTIES[name] for name in ("rotation", "scale", "opacity"))
POSITION, FILL, OUTLINE = (PROPERTIES[name] for name in ("position", "fill", "outline"))


def there_and_back(track, facts, rate=RATE):
    text = told_keys(track, facts, rate)
    assert "\n" not in text
    made = read_keys(text, type(track)(value=track.value), facts, rate)
    assert made == track.changed(loose=None, crafts=()), text
    return text


@given(curves(), st.sampled_from([ROTATION, SCALE]), st.booleans())
@settings(max_examples=200, deadline=None)
def test_any_curve_comes_back_just_as_it_was(track, facts, within):
    there_and_back(track.changed(within=within), facts)


@given(paths(), st.none() | st.floats(0, 1))
@settings(max_examples=100, deadline=None)
def test_any_path_comes_back_just_as_it_was(track, rounded):
    there_and_back(track.changed(rounded=rounded), POSITION)


@given(st.floats(-1e7, 1e7), st.sampled_from([1.0, 100.0]))
@settings(max_examples=300)
def test_every_number_comes_back_exactly(value, factor):
    assert number_of(written(value, factor), factor) == value


@given(st.lists(st.integers(-(10**12), 10**12), min_size=1, max_size=6, unique=True), st.sampled_from(sorted(RATES)))
def test_every_moment_comes_back_exactly(times, rate):
    track = NumberTrack(value=0, keys=tuple(NumberKey(time=time, value=1) for time in sorted(times)))
    there_and_back(track, ROTATION, RATES[rate])


def test_what_has_names_is_told_by_them():
    track = NumberTrack(value=1, keys=tuple(NumberKey(time=at(f), value=v) for f, v in ((0, 1), (50, 0.6), (100, 1))))
    track = ease_segments(track, [at(50)], "slow-ends", 70)
    track = track.changed(keys=(*track.keys[:2], track.keys[2].changed(hold=True)))
    assert there_and_back(track, SCALE) == "0f 100% · 50f 60% slow ends 70 · 100f 100% hold"
    for ease, words in (("slow-start", "slow start"), ("wind-up", "wind-up"), ("overshoot", "overshoot")):
        assert there_and_back(ease_segments(track, [0], ease, 50), SCALE).startswith(f"0f 100% {words} · 50f")


def test_all_that_is_rare_comes_back():
    auto = {"joint": "automatic", "automatic": Automatic(tension=0.25, bias=-1, free=True)}
    there_and_back(
        numbers((0, 0), (5, 3, auto), (9, 9, {"joint": "automatic", "automatic": Automatic()}), (12, 1)), ROTATION
    )
    there_and_back(numbers((0, 0, {"steps": Steps(count=3, jump="both"), "leaving": side(0.2, 5)}), (9, 9)), ROTATION)
    there_and_back(numbers((-20.25, 0.1), (9, 0.2)).changed(evenly=True), SCALE)
    there_and_back(released(positions((0, (0, 0)), (10, (100, 0)), (30, (200, 0))), 1), POSITION)
    settle = positions((0, (0, 0)), (10, (100, 0)))
    past = settle.keys[1].changed(time=at(12), past=8.5, pace=True)
    for told in (
        {"how": "repeat"},
        {"how": "alternate", "count": 3.5, "part": at(9)},
        {"how": "rest", "value": (0.4,)},
    ):
        there_and_back(
            numbers((0, 0.1), (9, 0.2), (20, 0.1)).changed(after=Beyond(**told), before=Beyond(**told)), SCALE
        )
    there_and_back(floated().changed(after=Beyond(how="rest", value=(3.0, 4.5))), POSITION)
    there_and_back(settle.changed(keys=(*settle.keys, past, settle.keys[1].changed(time=at(20)))), POSITION)
    ring = [*floated().points, floated().points[0]]
    there_and_back(floated().changed(points=tuple(ring), closed=True), POSITION)
    red, odd = (1.0, 0.0, 0.0, 1.0), (0.1, 0.25, 1 / 3, 0.5)
    colours = ColourTrack(
        value=red, keys=({"time": 0, "value": red}, {"time": at(9), "value": odd, "arriving": side(0.3, 0.1)})
    )
    assert there_and_back(colours, FILL).startswith("0f #ff0000 · 9f [0.1 0.25 ")
    shape = tuple(float(n) for n in range(12))
    there_and_back(
        OutlineTrack(value=shape, keys=({"time": 0, "value": shape}, {"time": at(9), "value": shape})), OUTLINE
    )


@pytest.mark.parametrize(
    ("text", "told"),
    [("0 100% ; 50 60%;100 100", [(0, 1.0), (50, 0.6), (100, 1.0)]),
     ("0f 100 % · 2s 60%", [(0, 1.0), (50, 0.6)]),
     ("-10f 100%\n0:02:00 60%", None),
     ("0:00:00 100% slow ends · 0:02:00 60%", [(0, 1.0), (50, 0.6)]),
     ("evenly: 0f 100% · 12.5f 200%", [(0, 1.0), (12.5, 2.0)])],
)  # fmt: skip
def test_times_and_values_are_typed_as_one_likes(text, told):
    if told is None:
        with pytest.raises(Misread, match="put a · or a ;"):
            read_keys(text, NumberTrack(value=1), SCALE, RATE)
        return
    made = read_keys(text, NumberTrack(value=1), SCALE, RATE)
    assert [(key.time, key.value) for key in made.keys] == [(at(frame), value) for frame, value in told]


@pytest.mark.parametrize(
    ("facts", "text", "wrong", "match"),
    [(SCALE, "0f 100% · 50f sixty · 90f 1%", "sixty", "no value"),
     (SCALE, "0f 100% fast · 50f 60%", "fast", "no word for a way"),
     (SCALE, "0f 100% · 50f 60° · 90f 1%", "60°", "Scale is in %"),
     (SCALE, "soon 100% · 50f 60%", "soon", "no time"),
     (SCALE, "50f 100% · 20f 60%", "20f", "rising times"),
     (SCALE, "0f 100% slow ends 170 · 20f 60%", "170", "0 to 100"),
     (SCALE, "0f 100% · 20f 60% slow ends", "slow", "no way to go"),
     (SCALE, "0f 100% steps 0 · 9f 3%", "0", "steps"),
     (SCALE, "0f 100% leaving 300% 4 · 9f 3%", "300%", "reaches"),
     (SCALE, "0f 100% leaving 30% · 9f 3%", "30%", "rise is missing"),
     (SCALE, "0f · 9f 3%", "0f", "value is missing"),
     (SCALE, "closed: 0f 3%", "closed", "not known of this lane"),
     (OPACITY, "0f 20% · 9f 130%", "130%", "ends at 100"),
     (ROTATION, "0f 1e9°", "1e9", "too large"),
     (ROTATION, "9999999f 4°", "9999999f", "24 hours"),
     (POSITION, "0f 12 · 9f 3,4", "12", "no place"),
     (POSITION, "0f 1,2(bent) · 9f 3,4", "(bent)", "round 50"),
     (POSITION, "0f = · 9f 3,4", "=", "no point before"),
     (POSITION, "0f 1,2 · 9f 3,4(round 50", "(", "other half"),
     (FILL, "0f red", "red", "#c04a2b"),
     (OUTLINE, "0f 12", "12", "stand in"),
     (ROTATION, "  ", "  ", "Type a key")],
)  # fmt: skip
def test_a_wrong_word_is_told_where_it_stands(facts, text, wrong, match):
    kinds = {"number": NumberTrack(value=1), "path": PathTrack(value=(0, 0))}
    track = kinds.get(facts.kind) or (ColourTrack if facts.kind == "colour" else OutlineTrack)(value=(0, 0, 0, 1))
    with pytest.raises(Misread, match=match) as told:
        read_keys(text, track, facts, RATE)
    assert text[told.value.start : told.value.end] == wrong


def test_typed_keys_replace_a_lanes_motion_and_what_is_wrong_changes_nothing():
    before = project(layer("Sun", scale=numbers((0, 1), (30, 2))))
    text = "0f 100% slow ends · 50f 60% slow ends · 99f 100%"
    edit = TypeKeys(scene="crossing", layer="sun", property="scale", text=text)
    track = apply(before, edit).scene("crossing").layer("sun").track("scale")
    assert track.key_times == [at(0), at(50), at(99)]
    assert np.allclose(track.curve.at(np.array([at(25), at(50), at(99)], float)), [0.8, 0.6, 1.0])
    with pytest.raises(Misread):
        apply(before, edit.changed(text=text + " no"))
    with pytest.raises(Refusal, match="has no"):
        apply(before, edit.changed(property="outline", text="0f [0]"))


@given(
    st.text(alphabet="0123456789f%°.,;· @~=()[]-+#abcdefhilnoprstuw:", max_size=60),
    st.sampled_from([SCALE, POSITION, FILL]),
)
@settings(max_examples=300, deadline=None)
def test_whatever_is_typed_is_read_or_told_to_be_wrong(text, facts):
    kinds = {"number": NumberTrack(value=1), "path": PathTrack(value=(0, 0)), "colour": ColourTrack(value=(0, 0, 0, 1))}
    try:
        made = read_keys(text, kinds[facts.kind], facts, RATE)
    except Misread as misread:
        assert 0 <= misread.start <= misread.end <= len(text)  # noqa: PT017
    else:
        assert made.keys
