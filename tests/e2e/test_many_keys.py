"""Many keys in the lanes: stretched by the box, reversed, mirrored, spread, scaled by what is typed, pushing others."""

import pytest
from playwright.sync_api import expect

from tests.e2e.conftest import Workbench

AT = 29_400_000  # flicks a frame in Crossing


def frames(bench, layer, name):
    return [time // AT for time in bench.track(layer, name).key_times]


def grip(bench, side):
    box = bench.tab.locator(f'#lanes-box .key-grip[data-grip="{side}"]').bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


@pytest.fixture
def title(bench):
    """The lettering with all its keys selected: scale at 18, 34, 44, opacity at 18, 28."""
    bench.select("title")
    bench.press("Control+a")
    assert len(bench.state["keys"]) == 5
    return bench


def a_frame(bench):
    return bench.tab.evaluate(f"(({{axis}}) => {AT} / (axis.end - axis.start) * axis.width)(window.deftarc.state)")


def test_the_box_around_selected_keys_stretches_them_across_lanes_live_and_in_one_step(title):
    x, y = grip(title, "end")
    title.drag((x, y), (x + 26 * a_frame(title), y), release=False)
    expect(title.tab.locator("#hint")).to_contain_text("Stretching 5 keys over 52 frames, 200 % of their time")
    assert title.tab.evaluate("window.deftarc.state.shownKeys.length") == 5
    assert frames(title, "title", "scale") == [18, 34, 44]
    title.tab.mouse.up()
    title.settle()
    assert frames(title, "title", "scale") == [18, 50, 70]
    assert frames(title, "title", "opacity") == [18, 38]
    title.press("Control+z")
    assert frames(title, "title", "scale") == [18, 34, 44]


def test_the_start_of_the_box_stretches_about_the_end_shift_about_the_middle_and_escape_puts_back(title):
    x, y = grip(title, "start")
    title.drag((x, y), (x - 13 * a_frame(title), y))
    assert frames(title, "title", "scale") == [5, 29, 44]
    title.press("Control+z")
    x, y = grip(title, "end")
    title.drag((x, y), (x + 13 * a_frame(title), y), hold=("Shift",))
    assert frames(title, "title", "scale") == [5, 37, 57]
    title.press("Control+z")
    x, y = grip(title, "end")
    title.drag((x, y), (x + 60, y), release=False)
    title.press("Escape")
    title.tab.mouse.up()
    title.settle()
    assert frames(title, "title", "scale") == [18, 34, 44]
    assert title.tab.evaluate("window.deftarc.state.tentative") is None


def test_the_box_is_of_what_is_in_view_and_goes_with_the_selection(title):
    box = title.tab.locator("#lanes-box")
    expect(box).to_be_visible()
    title.press("Escape")
    expect(box).to_be_hidden()
    title.bead("title", "scale", 0).click()
    title.settle()
    expect(box).to_be_hidden()


def test_how_long_many_keys_last_is_typed_as_a_time_or_a_factor(title):
    field = title.tab.locator("[data-many-length]")
    expect(field).to_have_value("0:01:02")
    expect(title.tab.locator(".many-keys")).to_contain_text("5 keys, 2 lanes")
    field.fill("52")
    field.press("Enter")
    title.settle()
    assert frames(title, "title", "scale") == [18, 50, 70]
    field.fill("50 %")
    field.press("Enter")
    title.settle()
    assert frames(title, "title", "scale") == [18, 34, 44]
    field.fill("soon")
    field.press("Enter")
    title.settle()
    assert frames(title, "title", "scale") == [18, 34, 44]
    expect(field).to_have_value("0:01:02")
    title.tab.troubles.clear()
    title.press("Shift+l")
    title.tab.locator("#ask-dialog input").fill("*2")
    title.tab.locator("#ask-dialog input").press("Enter")
    title.settle()
    assert frames(title, "title", "scale") == [18, 50, 70]


def test_about_what_they_are_stretched_can_be_chosen(title):
    title.go(18 + 26)
    act(title, "Stretch about the playhead")
    title.tab.locator("[data-many-length]").fill("200 %")
    title.tab.locator("[data-many-length]").press("Enter")
    title.settle()
    assert frames(title, "title", "scale") == [-8, 24, 44]


def act(bench, words):
    """An action found by typing."""
    bench.press("c")
    field = bench.tab.locator("#find-dialog input, dialog[open] input").first
    field.fill(words)
    field.press("Enter")
    bench.settle()


def test_reverse_mirror_and_spread_by_strokes_and_by_buttons(title):
    values = lambda: [round(key.value, 3) for key in title.track("title", "scale").keys]  # noqa: E731
    before = values()
    title.press("Shift+r")
    assert frames(title, "title", "scale") == [18, 28, 44]
    assert values() == before[::-1]
    assert frames(title, "title", "opacity") == [34, 44]
    title.tab.locator("#many-keys [data-menu]").click()
    title.tab.get_by_role("menuitem", name="Reverse in time").click()
    title.settle()
    assert values() == before
    title.press("Shift+s")
    assert frames(title, "title", "scale") == [18, 31, 44]
    title.press("Shift+m")
    assert values() == [round(2 * before[0] - value, 3) for value in before]
    title.press("Shift+v")
    title.tab.locator("#ask-dialog input").fill("+10")
    title.tab.locator("#ask-dialog input").press("Enter")
    title.settle()
    assert values()[0] == pytest.approx(before[0] + 0.1)
    for _ in range(5):
        title.press("Control+z")
    assert values() == before
    assert frames(title, "title", "scale") == [18, 34, 44]


def test_keys_of_lanes_begin_together_and_a_stroke_that_does_nothing_says_why(bench):
    bench.select("title")
    bench.bead("title", "scale", 1).click()
    bench.bead("title", "opacity", 0).click(modifiers=["Control"])
    bench.settle()
    bench.press("Shift+t")
    # Where it would have met another key it stands beside that.
    assert frames(bench, "title", "scale") == [17, 18, 44]
    bench.press("Escape")
    bench.press("Shift+r")
    expect(bench.tab.locator("#notices")).to_contain_text("Select two keys or more")


def test_what_is_passed_over_is_marked_and_the_drop_replaces_with_ctrl(bench):
    bench.select("title")
    bench.bead("title", "scale", 0).click()
    bench.settle()
    x, y = bench.middle(bench.bead("title", "scale", 0))
    end = (x + 20 * a_frame(bench), y)
    bench.tab.keyboard.down("Alt")
    bench.drag((x, y), end, release=False)
    bench.tab.keyboard.up("Alt")
    expect(bench.tab.locator("#lanes .bead.passed")).to_have_count(1)
    expect(bench.tab.locator("#hint")).to_contain_text("over a key")
    bench.tab.mouse.up()
    bench.settle()
    assert frames(bench, "title", "scale") == [34, 38, 44]
    expect(bench.tab.locator("#lanes .bead.passed")).to_have_count(0)


def test_moved_keys_push_what_is_later_as_is_chosen_and_told_loudly(bench):
    bench.select("title")
    act(bench, "They push what is later on their layers")
    expect(bench.tab.locator("#push")).to_have_text("Pushing: layer")
    bench.bead("title", "scale", 0).click()
    bench.settle()
    bench.press("ArrowRight")
    assert frames(bench, "title", "scale") == [19, 35, 45]
    assert frames(bench, "title", "opacity") == [18, 29]
    bench.tab.reload()
    again = Workbench(bench.tab, bench.served)
    expect(again.tab.locator("#push")).to_have_text("Pushing: layer")
    again.tab.locator("#push").click()
    again.tab.get_by_role("menuitem", name="Moved keys push nothing").click()
    again.settle()
    expect(again.tab.locator("#push")).to_be_hidden()


def test_a_locked_layer_is_not_turned_round_and_says_so(bench):
    bench.select("title")
    bench.press("Control+a")
    bench.tab.locator('#layer-title [data-toggle="locked"]').click()
    bench.settle()
    bench.press("Shift+r")
    expect(bench.tab.locator("#notices")).to_contain_text("Lettering is locked")
    bench.tab.troubles.clear()
    assert frames(bench, "title", "scale") == [18, 34, 44]


def test_keys_of_folded_layers_and_groups_have_the_box_around_their_rows(title):
    title.tab.locator('[data-fold="title"]').click()
    title.settle()
    row, box = (title.tab.locator(each).bounding_box() for each in ("#layer-title", "#lanes-box"))
    assert (box["y"], box["height"]) == pytest.approx((row["y"], row["height"]), abs=2)
    x, y = grip(title, "end")
    title.drag((x, y), (x + 26 * a_frame(title), y))
    assert frames(title, "title", "scale") == [18, 50, 70]
    title.press("Control+z")
    # Of a group that is folded its own row is around what is inside.
    title.press("Control+g")
    group = title.state["layers"][0]
    title.tab.locator(f'[data-fold="{group}"]').click()
    title.settle()
    title.press("Control+a")
    row, box = (title.tab.locator(each).bounding_box() for each in (f"#layer-{group}", "#lanes-box"))
    assert (box["y"], box["height"]) == pytest.approx((row["y"], row["height"]), abs=2)
