"""CSV read in: names, units, separators; and what is no samples."""

import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import RATES
from deftarc.formats.read.samples import read_samples, sample_csv
from tests.scenes import RATE, at, layer, numbers, scene


def read(text, pair=False, start=0):
    return read_samples(text.encode() if isinstance(text, str) else text, RATE, pair, start)


@pytest.mark.parametrize(
    "text",
    [
        "seconds,value\n0,1\n0.04,2.5\n",
        "t;wert\n0;1\n0,04;2,5\n",
        "frame\tvalue\tspeed\n0\t1\t9\n1\t2.5\t9\n",
        "ms,opacity\n0,1%\n40,2.5%\n",
        "\ufeffTime,Value\r\n0,1\r\n0.04,2.5\r\n\r\n",
        "0,1\n0.04,2.5\n",
    ],
)
def test_names_units_and_separators(text):
    found = read(text)
    assert found.times == [0, at(1)]
    assert found.values == [[1], [2.5]]


def test_a_position_takes_x_and_y_wherever_they_stand():
    found = read("y,frame,x\n5,0,1\n6,2,3\n", pair=True)
    assert found.times == [0, at(2)]
    assert found.values == [[1, 5], [3, 6]]


def test_seconds_from_nought_begin_at_the_playhead_and_frames_are_the_scenes():
    assert read("seconds,value\n0,1\n1,2\n", start=at(10)).times == [at(10), at(35)]
    assert read("frame,value\n3,1\n4,2\n", start=at(10)).times == [at(3), at(4)]


def test_a_file_with_frames_lands_on_them_wherever_the_playhead_is():
    assert read("frame,seconds,value\n0,0,1\n25,1,2\n", start=at(10)).times == [0, at(25)]
    # Frames of another rate are not this scene's; its seconds are as long everywhere.
    assert read("frame,seconds,value\n0,0,1\n24,1,2\n", start=at(10)).times == [0, at(25)]
    assert read("frame,seconds,value\n12,0.48,1\n13,moss,2\n".replace("moss", "0.52")).times == [at(12), at(13)]


def test_what_goes_out_comes_back_to_the_same_moments_at_any_rate():
    rate = RATES["29.97"]
    jump = numbers((0, 0, {"hold": True}), (900, 5), (1799, 9))
    made = scene(layer("Gull", rotation=jump), frames=1800).changed(rate=rate)
    text = sample_csv(made, made.layer("gull"), "rotation", 0, 1799)
    back = read_samples(text.encode(), rate, False, 17 * rate.flicks)
    assert back.times == [frame * rate.flicks for frame in range(1800)]


def test_rows_that_do_not_come_later_are_left_out_and_told():
    found = read("seconds,value\n0,1\n1,2\n1,3\n0.5,4\n2,5\n")
    assert [row[0] for row in found.values] == [1, 2, 5]
    assert found.told.startswith("2 rows")


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "no samples"),
        ("seconds,value\n", "no samples"),
        ("when,value\n0,1\n", "No column says when"),
        ("seconds\n0\n", "no column of values"),
        ("seconds,value\n0,moss\n", "Row 2"),
        ("seconds,value\n0\n", "Row 2"),
        ("seconds,value\n0,1e30\n", "too large"),
        ("seconds,value\n1e9,1\n", "too large|too far"),
        ("seconds,value\n0,nan\n", "Row 2 of this file has no number"),
        (b"\xff\xfe\x00", "UTF-8"),
        ("a\0b", "no text"),
    ],
)
def test_what_is_no_samples_is_said(text, words):
    with pytest.raises(Refusal, match=words):
        read(text)


def test_a_position_without_names_is_said_to_need_them():
    with pytest.raises(Refusal, match="named x and y"):
        read("seconds,value\n0,1\n", pair=True)


def test_more_samples_than_are_taken_are_refused():
    with pytest.raises(Refusal, match="20,000"):
        read("seconds,value\n" + "".join(f"{n},1\n" for n in range(20_001)))


def test_what_is_sampled_out_is_read_in_again():
    gull = layer("Gull", rotation=numbers((0, 0), (20, 90)))
    found = read(sample_csv(scene(gull), gull, "rotation", 0, 20))
    assert found.times == [at(n) for n in range(21)]
    assert found.values[20] == pytest.approx([90])
