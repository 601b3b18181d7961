"""Frames, flicks and timecode; drop-frame numbers are SMPTE ST 12-1's own."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS, RATES, FrameRate, parse_moment, parse_time, time_label, timecode

NTSC = RATES["29.97"]


@pytest.mark.parametrize("rate", RATES.values(), ids=RATES.keys())
def test_every_offered_rate_has_whole_flicks_to_the_frame(rate):
    assert rate.flicks * rate.numerator == FLICKS * rate.denominator


def test_a_rate_that_does_not_divide_time_is_refused():
    with pytest.raises(ValueError, match="does not divide"):
        FrameRate(numerator=7919)


def test_equal_times_of_two_rates_are_equal_integers():
    assert RATES["24"].time_of(48) == RATES["60"].time_of(120) == 2 * FLICKS


@pytest.mark.parametrize(
    ("frame", "told"),
    [
        (0, "0:00;00"),
        (1799, "0:59;29"),
        (1800, "1:00;02"),
        (17981, "9:59;29"),
        (17982, "10:00;00"),
        (107892, "1:00:00;00"),
    ],
)
def test_drop_frame_skips_two_labels_a_minute_but_not_each_tenth(frame, told):
    assert timecode(frame, NTSC, drop=True) == told
    assert parse_moment(told, NTSC) == frame


def test_a_skipped_label_is_no_moment():
    with pytest.raises(Refusal, match="skips"):
        parse_moment("1:00;00", NTSC)


@pytest.mark.parametrize("told", ["", "x", "1:99:00:00:00", "0:61:00:00", "3:25", "nan", "1e9", "12.5"])
def test_what_is_no_time_is_refused_with_a_sentence(told):
    with pytest.raises(Refusal, match=r"no time|no timecode"):
        parse_moment(told, RATES["25"])


@pytest.mark.parametrize(
    ("told", "frame"), [("48", 48), ("3:02", 77), ("0:03:02", 77), ("2.5s", 62), ("-4", -4), ("1:00:00:00", 90_000)]
)
def test_typed_moments(told, frame):
    assert parse_moment(told, RATES["25"]) == frame


@given(st.integers(0, 2_000_000), st.sampled_from(sorted(RATES)), st.booleans())
def test_timecode_and_its_reading_are_inverse(frame, name, drop):
    rate = RATES[name]
    told = timecode(frame, rate, drop and rate.drops)
    assert parse_moment(told, rate) == frame


@pytest.mark.parametrize(
    ("frames", "unit", "shown"),
    [(12, "frames", "12"), (12.25, "frames", "12.25"), (50.38, "timecode", "0:02:00.38"), (-0.5, "frames", "−0.50"),
     (-30.25, "timecode", "−0:01:05.25"), (12.999, "frames", "12.99"), (12.25, "seconds", "0.4900 s"),
     (12, "seconds", "0.48 s")],
)  # fmt: skip
def test_a_moment_between_frames_is_shown_with_hundredths_and_read_as_it_is_shown(frames, unit, shown):
    rate = RATES["25"]
    time = round(frames * rate.flicks)
    assert time_label(time, rate, unit) == shown
    if unit != "seconds":
        assert abs(parse_time(shown, rate) - time) <= 0.01 * rate.flicks


def test_a_typed_moment_may_lie_between_frames():
    rate = RATES["25"]
    for text, frames in (
        ("50.38", 50.38),
        ("50.5f", 50.5),
        ("0:02:00.25", 50.25),
        ("-1.5", -1.5),
        ("48", 48),
        ("2s", 50),
    ):
        assert parse_time(text, rate) == round(frames * rate.flicks)
    with pytest.raises(Refusal, match="is no time"):
        parse_time("0:.5", rate)
