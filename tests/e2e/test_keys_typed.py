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


def test_enter_right_after_a_mended_word_keeps_it_and_a_wrong_one_says_why(bench, line):
    line.fill("0f 0° swiftly · 30f 20°")
    expect(bench.tab.locator("#key-line p")).to_contain_text("“swiftly” is no word for a way")
    # Mended and kept at once, before the page has heard what becomes of it.
    line.evaluate(
        "(field, text) => { field.value = text; field.dispatchEvent(new Event('input', { bubbles: true }));"
        " field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true })); }",
        "0f 0° slow ends · 30f 20°",
    )
    bench.settle()
    assert frames(bench, "ferry", "rotation") == [0, 30]
    bench.press("Control+z", "Shift+k")
    line.evaluate(
        "(field, text) => { field.value = text; field.dispatchEvent(new Event('input', { bubbles: true }));"
        " field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true })); }",
        "0f 0° swiftly",
    )
    expect(bench.tab.locator("#hint")).to_contain_text("Not kept")
    expect(line).to_be_focused()
    assert len(bench.track("ferry", "rotation").keys) == 5


def test_what_was_typed_and_not_kept_is_there_again(bench, line):
    before = line.input_value()
    line.fill("0f 0° · 40f 20°")
    bench.settle()
    bench.tab.locator("#ruler").click(position={"x": 200, "y": 8})
    bench.settle()
    assert len(bench.track("ferry", "rotation").keys) == 5
    bench.press("Shift+k")
    expect(line).to_have_value("0f 0° · 40f 20°")
    expect(bench.tab.locator("#lane-ferry-rotation .bead")).to_have_count(2)
    line.press("Escape")
    bench.settle()
    expect(bench.tab.locator("#lane-ferry-rotation .bead")).to_have_count(5)
    bench.press("Shift+k")
    expect(line).to_have_value(before)


def test_the_line_is_that_of_the_lane_pointed_at_last_and_effects_have_one(bench):
    bench.select("gull")
    bench.bead("gull", "rotation", 0).click()
    bench.settle()
    bench.well("opacity").focus()
    bench.settle()
    bench.tab.keyboard.press("Enter")
    bench.press("Shift+k")
    expect(bench.tab.locator("#key-line label span")).to_have_text("Gull, Opacity")
    bench.press("Escape")
    bench.tab.locator("[data-page=look]").click()
    bench.settle()
    bench.tab.locator('[data-effect-add="blur"]').first.click()
    bench.settle()
    name = next(
        each for each in bench.served.document().scene("crossing").layer("gull").properties if "effect/" in each
    )
    row = bench.tab.locator(f'#figures [data-row~="{name}"]')
    row.scroll_into_view_if_needed()
    row.click(button="right")
    bench.tab.get_by_role("menuitem", name="Type its keys…").click()
    bench.settle()
    field = bench.tab.locator("#key-line input")
    expect(field).to_be_focused()
    field.fill("0f 4 · 20f 12")
    field.press("Enter")
    bench.settle()
    assert frames(bench, "gull", name) == [0, 20]


def test_a_paste_with_choices_goes_to_the_lane_pointed_at_and_offers_only_what_takes_it(bench):
    bench.select("gull")
    bench.bead("gull", "rotation", 0).click()
    bench.bead("gull", "rotation", 1).click(modifiers=["Control"])
    bench.settle()
    bench.press("Control+c")
    bench.well("opacity").focus()
    bench.tab.keyboard.press("Enter")
    bench.press("u")
    choice = bench.tab.locator('#trial select[data-trial="onto_property"]')
    expect(choice).to_have_value("opacity")
    values = choice.locator("option").evaluate_all("all => all.map((each) => each.value)")
    for value in values:
        choice.select_option(value)
        bench.settle()
        expect(bench.tab.locator("#trial [data-trial-told]")).not_to_contain_text("Nothing of")
    bench.press("Escape")
