"""Colours blended in OKLab, and keyed."""

import numpy as np
import pytest

from deftarc.core.changes.keys import change_key, insert_key
from deftarc.core.curves.sides import Side
from deftarc.core.document.keys import BlendKey
from deftarc.core.document.track import ColourTrack
from deftarc.core.spaces.colour import blend, hex_colour, oklab, parse_colour
from tests.scenes import at


def colours(*keys):
    made = [BlendKey(time=at(k[0]), value=parse_colour(k[1]), **(k[2] if len(k) > 2 else {})) for k in keys]
    return ColourTrack(value=parse_colour(keys[0][1]), keys=tuple(made))


def test_oklab_agrees_with_the_numbers_its_author_gives():
    # Ottosson's page: the XYZ test points; in sRGB, white is (1, 0, 0) and red (0.628, 0.225, 0.126).
    assert oklab(np.array([1.0, 1, 1])) == pytest.approx([1, 0, 0], abs=1e-3)
    assert oklab(np.array([1.0, 0, 0])) == pytest.approx([0.62796, 0.22486, 0.12585], abs=1e-4)


def test_ends_are_exact_and_the_middle_of_black_and_white_is_perceived_grey():
    black, white = (np.array([parse_colour(c)]) for c in ("#000000", "#ffffff"))
    assert hex_colour(blend(black, white, np.array([0.0]))[0]) == "#000000"
    assert hex_colour(blend(black, white, np.array([1.0]))[0]) == "#ffffff"
    assert oklab(blend(black, white, np.array([0.5]))[:, :3])[0, 0] == pytest.approx(0.5, abs=1e-6)


def test_a_transparent_end_lends_no_hue():
    red, clear_blue = (np.array([parse_colour(c)]) for c in ("#ff0000", "#0000ff00"))
    middle = blend(red, clear_blue, np.array([0.5]))[0]
    assert middle[:3] == pytest.approx([1, 0, 0], abs=1e-6)
    assert middle[3] == 0.5


def test_overshoot_stays_in_the_gamut():
    a, b = (np.array([parse_colour(c)]) for c in ("#102030", "#f0e040"))
    for share in (-0.4, 1.4):
        past = blend(a, b, np.array([share]))
        assert past.min() >= 0
        assert past.max() <= 1


@pytest.mark.parametrize("frame", [3, 12.5, 30])
def test_a_key_put_on_a_colour_changes_it_nowhere(frame):
    track = colours(
        (0, "#b23a26", {"leaving": Side(reach=0.5, rise=0.1)}),
        (25, "#1f5c6b", {"arriving": Side(reach=0.3, rise=0.0)}),
        (40, "#e2a21b"),
    )
    times = np.linspace(-at(5), at(45), 200)
    before = track.sampled(times, track.curve.at(times))
    split = insert_key(track, round(at(frame)))
    after = split.sampled(times, split.curve.at(times))
    assert len(split.keys) == 4
    assert np.abs(after - before).max() < 1e-6


def test_a_keys_colour_changes_alone():
    track = change_key(colours((0, "#000000"), (10, "#ffffff")), 1, parse_colour("#b23a26"))
    assert hex_colour(track.at(at(10))) == "#b23a26"
    assert hex_colour(track.at(0)) == "#000000"
