"""Keys copied, cut and pasted: within a scene, between scenes, windows and projects; tried in the lanes with choices."""

import pytest
from playwright.sync_api import expect

from tests.e2e.conftest import Workbench

AT = 29_400_000


@pytest.fixture
def desk(bench):
    """The workbench with the system's clipboard allowed, and empty."""
    bench.tab.context.grant_permissions(["clipboard-read", "clipboard-write"])
    bench.tab.evaluate("navigator.clipboard.writeText('')")
    return bench


def frames(bench, layer, name, scene="crossing", at=AT):
    return [round(time / at, 3) for time in bench.track(layer, name, scene).key_times]


def copy(bench, stroke="Control+c"):
    bench.press(stroke)
    expect(bench.tab.locator("#hint")).to_contain_text("cut" if stroke == "Control+x" else "copied")
    return bench.tab.evaluate("navigator.clipboard.readText()")


def copy_title(bench):
    bench.select("title")
    bench.press("Control+a")
    return copy(bench)


def test_keys_are_copied_as_text_and_pasted_at_the_playhead_in_one_step(desk):
    text = copy_title(desk)
    assert text.splitlines()[0].startswith("Lettering / scale: 0f 88%")
    desk.select("mist")
    desk.go(60)
    desk.press("Control+v")
    expect(desk.tab.locator("#lanes .bead.selected").first).to_be_visible()
    assert frames(desk, "mist", "scale") == [60, 76, 86]
    assert desk.track("mist", "scale").keys[0].leaving == desk.track("title", "scale").keys[0].leaving
    # Opacity had keys at 0 and 109: the pasted ones come among them.
    assert frames(desk, "mist", "opacity")[1:3] == [60, 70]
    assert len(desk.state["keys"]) == 5
    desk.press("Control+z")
    assert desk.track("mist", "scale").key_times == []


def test_cut_takes_them_away_and_one_undo_brings_them_back(desk):
    desk.select("title")
    desk.bead("title", "scale", 1).click()
    desk.settle()
    copy(desk, "Control+x")
    assert frames(desk, "title", "scale") == [18, 44]
    desk.go(50)
    desk.press("Control+v")
    desk.until(lambda: frames(desk, "title", "scale") == [18, 44, 50])
    desk.press("Control+z", "Control+z")
    assert frames(desk, "title", "scale") == [18, 34, 44]


def test_a_layer_selected_alone_is_copied_with_all_its_keys_onto_several(desk):
    desk.select("title")
    copy(desk)
    desk.select("hills")
    desk.row("sky").click(modifiers=["Control"])
    desk.go(0)
    desk.press("Control+v")
    desk.until(lambda: frames(desk, "sky", "scale") == [0, 16, 26])
    assert frames(desk, "hills", "opacity") == [0, 10]


def test_a_paste_with_choices_is_shown_in_the_lanes_before_it_is_kept(desk):
    copy_title(desk)
    desk.select("mist")
    desk.go(10)
    desk.press("u")
    bar = desk.tab.locator("#trial")
    expect(bar).to_contain_text("Paste 5 keys")
    expect(desk.tab.locator("#lane-mist-scale .bead")).to_have_count(3)
    assert desk.track("mist", "scale").key_times == []
    bar.locator('[data-trial="how.often"]').fill("3")
    desk.settle()
    bar.get_by_role("button", name="there and back").click()
    desk.settle()
    expect(desk.tab.locator("#lane-mist-scale .bead")).to_have_count(7)
    # Nothing to choose where it means nothing.
    expect(bar.get_by_role("button", name="adding up")).to_be_disabled()
    desk.press("ArrowRight", "ArrowRight")
    desk.press("Enter")
    expect(bar).to_be_hidden()
    assert frames(desk, "mist", "scale") == [12, 28, 38, 48, 64, 80, 90]
    desk.press("Control+z")
    assert desk.track("mist", "scale").key_times == []


def test_escape_drops_what_is_tried_and_enter_in_a_field_of_the_bar_keeps_it(desk):
    copy_title(desk)
    desk.select("mist")
    desk.press("u")
    expect(desk.tab.locator("#lane-mist-scale .bead")).to_have_count(3)
    desk.press("Escape")
    expect(desk.tab.locator("#trial")).to_be_hidden()
    expect(desk.tab.locator("#lane-mist-scale")).to_have_count(0)
    assert desk.track("mist", "scale").key_times == []
    desk.press("u")
    field = desk.tab.locator('[data-trial="how.often"]')
    field.fill("2")
    field.press("Enter")
    desk.settle()
    desk.until(lambda: len(desk.track("mist", "scale").key_times) > 3)


def test_the_right_edge_of_what_is_tried_drags_how_often(desk):
    desk.select("title")
    desk.bead("title", "opacity", 0).click()
    desk.bead("title", "opacity", 1).click(modifiers=["Shift"])
    desk.settle()
    copy(desk)
    desk.select("hills")
    desk.go(0)
    desk.press("u")
    box = desk.tab.locator('#lanes-box .key-grip[data-grip="end"]').bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    ten = desk.tab.evaluate(f"(({{axis}}) => {10 * AT} / (axis.end - axis.start) * axis.width)(window.deftarc.state)")
    desk.drag((x, y), (x + 3 * ten, y))
    expect(desk.tab.locator('[data-trial="how.often"]')).to_have_value("4")
    desk.press("Enter")
    # From 100 % back to 0 % it jumps: the turn before ends just before.
    assert [round(f) for f in frames(desk, "hills", "opacity")] == [0, 10, 10, 20, 20, 30, 30, 40]


def test_keys_go_onto_another_property_with_the_numbers_that_are_shown(desk):
    desk.select("ferry")
    desk.bead("ferry", "rotation", 0).click()
    desk.bead("ferry", "rotation", 1).click(modifiers=["Shift"])
    desk.settle()
    copy(desk)
    desk.select("hills")
    desk.press("u")
    onto = desk.tab.locator('[data-trial="onto_property"]')
    onto.select_option("opacity")
    expect(desk.tab.locator("[data-trial-told]")).to_contain_text("40 ° became 40 %")
    onto.select_option("skew_x")
    expect(desk.tab.locator("#lane-hills-skew_x .bead")).to_have_count(2)
    desk.press("Enter")
    desk.until(lambda: len(desk.track("hills", "skew_x").key_times) == 2)


def test_easing_alone_is_pasted_on_other_keys(desk):
    copy_title(desk)
    desk.select("mist")
    desk.bead("mist", "opacity", 0).click()
    desk.bead("mist", "opacity", 1).click(modifiers=["Shift"])
    desk.settle()
    desk.press("Shift+u")
    desk.until(lambda: desk.track("mist", "opacity").keys[0].leaving is not None)
    shape = desk.track("title", "scale").keys[0].leaving
    assert desk.track("mist", "opacity").keys[0].leaving.reach == shape.reach


def test_keys_go_between_projects_and_windows_as_text(desk):
    text = copy_title(desk)
    other = desk.served.shop.projects.open("quillhaven").project
    made = desk.served.shop.projects.create(other.changed(name="Copy"), "second")
    there = Workbench(desk.tab, desk.served, f"/projects/{made}")
    there.tab.evaluate("text => navigator.clipboard.writeText(text)", text)
    there.select("hills")
    there.press("Control+v")

    def arrived():
        scene = there.served.shop.projects.open("second").project.scene("crossing")
        return len(scene.layer("hills").track("scale").keys) == 3

    there.until(arrived)


@pytest.mark.parametrize(
    "text",
    ["https://quillhaven.example/timetable", "", 'deft-arc-keys {"lanes": []}', "Gull / rotation: 0f 5° · soon 9°"],
)
def test_what_is_no_keys_is_told_and_nothing_is_changed(desk, text):
    before = desk.served.shop.projects.open("quillhaven").revision
    desk.select("hills")
    desk.tab.evaluate("text => navigator.clipboard.writeText(text)", text)
    desk.press("u")
    told = desk.tab.locator("#notices")
    expect(told).to_contain_text("clipboard") if text else expect(desk.tab.locator("#trial")).to_be_hidden()
    assert desk.served.shop.projects.open("quillhaven").revision == before
    desk.tab.troubles.clear()


def test_a_typed_line_is_pasted_as_keys_of_the_curve_in_the_pair(desk):
    desk.select("ferry")
    desk.bead("ferry", "rotation", 0).click()
    desk.settle()
    desk.tab.evaluate("navigator.clipboard.writeText('0f 0° · 5f 9° · 10f 0°')")
    desk.go(20)
    desk.press("Control+v")
    desk.until(lambda: {20, 25, 30} <= set(frames(desk, "ferry", "rotation")))


def test_where_the_browser_keeps_its_clipboard_copied_keys_still_go_to_another_window(bench):
    # Not allowed: what is copied is kept for windows of this browser.
    bench.select("title")
    bench.press("Control+a")
    bench.press("Control+c")
    expect(bench.tab.locator("#hint")).to_contain_text("copied")
    bench.select("hills")
    bench.press("u")
    expect(bench.tab.locator("#trial")).to_contain_text("Paste 5 keys")


def test_what_is_tried_lives_with_another_window_and_stays_where_it_is_refused(desk):
    from deftarc.core.edit.layers import DescribeLayers

    def elsewhere(**told):
        projects = desk.served.shop.projects
        edit = DescribeLayers(scene="crossing", layers=("mist",), **told)
        desk.served.shop.commit("quillhaven", projects.open("quillhaven").revision, edit)
        desk.settle()

    copy_title(desk)
    desk.select("mist")
    desk.press("u")
    bar = desk.tab.locator("#trial")
    expect(bar).to_be_visible()
    elsewhere(name="Fog")
    expect(desk.tab.locator("#lane-mist-scale .bead")).to_have_count(3)
    elsewhere(locked=True)
    expect(bar).to_contain_text("Fog is locked")
    desk.press("Enter")
    expect(desk.tab.locator("#notices")).to_contain_text("Fog is locked")
    expect(bar).to_be_visible()
    desk.tab.locator(".notice-offer", has_text="Unlock Fog").click()
    desk.settle()
    desk.press("Enter")
    desk.until(lambda: len(desk.track("mist", "scale").key_times) == 3)
    desk.tab.troubles.clear()


def test_another_scene_drops_what_is_tried(desk):
    copy_title(desk)
    desk.select("hills")
    desk.press("u")
    expect(desk.tab.locator("#trial")).to_be_visible()
    desk.tab.evaluate("document.dispatchEvent(new CustomEvent('deftarc:scene', { detail: 'buoy' }))")
    expect(desk.tab.locator("#trial")).to_be_hidden()
    assert desk.tab.evaluate("window.deftarc.state.tentative") is None
