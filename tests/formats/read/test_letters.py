"""Texts of a Lottie as outlines of the letters it brings along, set as a player nobody here wrote sets them."""

import json

import pytest

from deftarc.core.document.artwork import Carrier, FreePath, Text
from deftarc.formats.read.lottie.reader import read_lottie
from tests.e2e.playing import apart, painted
from tests.formats.read.test_lottie import job_of_read
from tests.lettering import lettered
from tests.lottie_players import alone

BOX = {"t": "The gull flies over the harbour wall", "sz": [220, 150], "ps": [-110, -60]}


def read(told):
    return read_lottie(json.dumps(told).encode())


def layers(told):
    return read(told).project.scenes[0].layers


def left_and_right(layer):
    """Where the outline of a text begins and ends, in px."""
    xs = [row[0] for contour in layer.artwork.contours for row in contour.points]
    return min(xs), max(xs)


@pytest.mark.parametrize(
    "documents",
    [
        [(0, {"t": "Quillhaven"})], [(0, BOX)], [(0, {**BOX, "j": 2})],
        [(0, {"t": "Bell", "sc": [0.8, 0.2, 0.1], "sw": 3, "s": 70})],
        [(0, {"t": "One"}), (20, {"t": "Two", "fc": [0.8, 0.1, 0.1]})],
    ],
    ids=["plain", "box", "box in the middle", "outlined", "changing"],
)  # fmt: skip
def test_texts_look_as_a_player_shows_them(documents):
    told = lettered(*documents)
    found = read(told)
    assert found.notes == ()
    for frame, seen in alone(told, (400, 240), (0, 25)):
        mean, edges = apart(seen, painted(job_of_read(found), frame))
        assert (mean < 0.5, edges < 0.2) == (True, True), frame


def test_a_text_is_one_outline_and_says_one_thing_after_the_other_in_a_group():
    (one,) = layers(lettered((0, {"t": "Ferry"})))
    assert isinstance(one.artwork, FreePath)
    assert one.artwork.fill == "#1a334c"
    group, first, second = layers(lettered((0, {"t": "Out"}), (20, {"t": "Home"}), ip=5, op=40))
    assert isinstance(group.artwork, Carrier)
    rate = read(lettered((0, {"t": "x"}))).project.scenes[0].rate.flicks
    assert [(each.start // rate, each.end // rate) for each in (first, second)] == [(5, 20), (20, 40)]


def test_lines_lie_from_the_left_to_the_right_and_in_the_middle_without_the_spaces_at_their_ends():
    lines = "To the  \rIsle "
    plain, right, middle = (layers(lettered((0, {"t": lines, "j": j, "tr": 50})))[0] for j in (0, 1, 2))
    _, far = left_and_right(plain)
    assert left_and_right(right)[1] == pytest.approx(0, abs=3)
    assert sum(left_and_right(middle)) == pytest.approx(0, abs=6)
    assert far == pytest.approx(left_and_right(right)[1] - left_and_right(right)[0], abs=6)
    # Tracking lies between letters, and not after the last one.
    wide = left_and_right(layers(lettered((0, {"t": "IIII", "tr": 500})))[0])
    near = left_and_right(layers(lettered((0, {"t": "IIII"})))[0])
    assert wide[1] - near[1] == pytest.approx(3 * 0.5 * 40)


def test_a_word_wider_than_its_box_is_broken_and_capitals_are_told():
    (narrow,) = layers(lettered((0, {"t": "Quillhaven", "sz": [90, 200]})))
    left, right = left_and_right(narrow)
    assert right - left < 90
    assert len({round(row[1] / 48) for contour in narrow.artwork.contours for row in contour.points}) > 2
    (low,) = layers(lettered((0, {"t": "BELL"})))
    told = lettered((0, {"t": "BELLbell"}))
    told["layers"][0]["t"]["d"]["k"][0]["s"] |= {"t": "bell", "ca": 1}
    assert layers(told)[0].artwork == low.artwork


def test_a_long_text_is_several_outlines():
    group, *parts = layers(lettered((0, {"t": "The bell rings over the grey harbour. " * 12, "sz": [380, 900]})))
    assert isinstance(group.artwork, Carrier)
    assert len(parts) > 1
    assert all(each.parent == group.id for each in parts)


def test_without_its_letters_it_is_set_in_a_face_that_is_here_and_what_is_left_out_is_said():
    told = lettered((0, {"t": "Ferry"}), (9, {"t": "Isle"}))
    told["chars"] = told["chars"][:2]
    found = read(told)
    assert isinstance(found.project.scenes[0].layers[0].artwork, Text)
    assert found.notes == (
        "“Words” says what it says first: its other words are left out.", "“Words” is set in a face that is shipped.",
    )  # fmt: skip
    told = lettered((0, {"t": "Ferry"}))
    told["layers"][0]["t"] |= {"a": [{"a": {"o": {"a": 0, "k": 0}}, "s": {}}], "p": {"m": 0}}
    assert len(read(told).notes) == 2


def test_whatever_a_letter_is_it_is_read():
    for broken in ({"w": "wide"}, {"data": []}, {"data": {"shapes": [None, {"ty": "gr"}]}}, {"w": 1e300}):
        told = lettered((0, {"t": "Ferry"}))
        told["chars"][0] |= broken
        told["chars"].append("none")
        told["fonts"]["list"].append(7)
        assert read(told).project.scenes[0].layers
