"""A lane's keys typed as one line, where the lane is."""

import pytest
from playwright.sync_api import expect

AT = 29_400_000


@pytest.fixture
def line(bench):
    bench.select("ferry")
    bench.bead("ferry", "rotation", 0).click()
    bench.settle()
    bench.press("Shift+k")
    expect(bench.tab.locator("#key-line input")).to_be_focused()
    return bench.tab.locator("#key-line input")


def frames(bench, layer, name):
    return [time // AT for time in bench.track(layer, name).key_times]


def test_a_lanes_keys_are_read_typed_live_and_kept_by_enter(bench, line):
    assert line.input_value().startswith("0f ")
    line.fill("0f 0° slow ends 70 · 30f 20° · 60f 0°")
    bench.settle()
    expect(bench.tab.locator("#lane-ferry-rotation .bead")).to_have_count(3)
    assert len(bench.track("ferry", "rotation").keys) == 5
    line.press("Enter")
    bench.settle()
    assert frames(bench, "ferry", "rotation") == [0, 30, 60]
    expect(bench.tab.locator("#key-line")).to_be_hidden()
    bench.press("End")
    assert bench.state["frame"] == 143
    bench.press("Control+z")
    assert len(bench.track("ferry", "rotation").keys) == 5


def test_a_wrong_word_is_told_where_it_stands_and_enter_keeps_nothing(bench, line):
    line.fill("0f 0° swiftly · 30f 20°")
    expect(bench.tab.locator("#key-line p")).to_contain_text("“swiftly” is no word for a way")
    mark = bench.tab.locator("#key-line i")
    expect(mark).to_be_visible()
    letters = bench.tab.evaluate(
        "() => { const f = document.querySelector('#key-line input').getBoundingClientRect();"
        " const m = document.querySelector('#key-line i').getBoundingClientRect();"
        " const c = document.createElement('canvas').getContext('2d'); c.font = getComputedStyle(document.querySelector('#key-line input')).font;"
        " const ch = c.measureText('0').width; return [(m.left - f.left - 8) / ch, m.width / ch]; }"
    )
    assert letters == pytest.approx([6, 7], abs=0.3)
    line.press("Enter")
    bench.settle()
    assert len(bench.track("ferry", "rotation").keys) == 5
    line.press("Escape")
    bench.settle()
    expect(bench.tab.locator("#lane-ferry-rotation .bead")).to_have_count(5)
    assert len(bench.track("ferry", "rotation").keys) == 5


def test_a_size_that_shrinks_and_comes_back_takes_five_actions(bench):
    bench.select("hills")  # one
    bench.tab.locator('#figures [data-row="scale"]').first.click(button="right")  # two
    bench.tab.get_by_role("menuitem", name="Type its keys").click()  # three
    field = bench.tab.locator("#key-line input")
    expect(field).to_be_focused()
    field.fill("0f 100% slow ends · 50f 60% slow ends · 100f 100%")  # four
    field.press("Enter")  # five
    bench.settle()
    assert frames(bench, "hills", "scale") == [0, 50, 100]
    assert [round(k.value, 3) for k in bench.track("hills", "scale").keys] == [1, 0.6, 1]


def test_leaving_the_field_keeps_nothing_and_says_so(bench, line):
    line.fill("0f 0° · 30f 20°")
    bench.settle()
    bench.tab.locator("#stage").click(position={"x": 5, "y": 5})
    bench.settle()
    expect(bench.tab.locator("#key-line")).to_be_hidden()
    assert len(bench.track("ferry", "rotation").keys) == 5
