"""The first job in the workbench, with the real mouse and keyboard, read back from the database."""

import re

import pytest
from playwright.sync_api import expect

from tests.e2e.conftest import Workbench

CROSSING_FRAME = 29_400_000  # flicks at 24 frames a second

LOGO = """<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 200"><style>.c{fill:#b23a26}</style>
<defs><linearGradient id="g"><stop stop-color="#fff"/><stop offset="1" stop-color="#1f5c6b"/></linearGradient></defs>
<g transform="translate(100 100)"><circle class="c" r="90"/><rect x="-40" y="-40" width="80" height="80" fill="url(#g)"/></g>
<text>Q</text></svg>"""


def at(frame):
    return frame * CROSSING_FRAME


def test_a_layer_is_picked_on_the_picture_and_dragged(bench):
    bench.tab.mouse.click(*bench.client(420, 860))
    bench.settle()
    assert bench.state["layers"] == ["ferry"]
    x, y = bench.shown("position"), bench.shown("position", 1)
    bench.drag(bench.client(420, 860), bench.client(520, 810), hold=["Alt"])
    assert bench.track("ferry", "position").spots[0] == pytest.approx((x + 100, y - 50), abs=4)
    assert bench.shown("position") == pytest.approx(x + 100, abs=4)


def test_shift_keeps_a_drag_straight_and_escape_puts_it_back(bench):
    bench.select("ferry")
    before = bench.track("ferry", "position")
    bench.drag(bench.client(420, 860), bench.client(600, 800), release=False)
    assert bench.shown("position") > 500
    bench.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    assert bench.shown("position") == 420
    assert bench.track("ferry", "position") == before
    bench.drag(bench.client(420, 860), bench.client(600, 800), hold=["Shift", "Alt"])
    x, y = bench.track("ferry", "position").spots[0]
    assert x > 560
    assert y == 836


def test_scale_and_turn_by_handles(bench):
    bench.select("sun")
    bench.drag(
        bench.middle(bench.tab.locator("#overlay [data-axes='1 1']").nth(2)), bench.client(1540 + 300, 1010 + 300)
    )
    assert bench.track("sun", "scale").value == pytest.approx(2, abs=0.08)
    knob = bench.middle(bench.tab.locator("#overlay .knob"))
    centre = bench.client(1540, 1010)
    bench.drag(knob, (centre[0] + 120, centre[1] + 3), hold=["Shift"])
    assert bench.track("sun", "rotation").value == 90


def test_numbers_are_typed_dragged_stepped_and_refused(bench):
    bench.select("sun")
    bench.type("rotation", "37.5")
    assert bench.track("sun", "rotation").value == 37.5
    bench.type("rotation", "plenty")
    expect(bench.tab.get_by_text("is no number")).to_be_visible()
    bench.tab.troubles.clear()  # the console reports the 400 itself
    assert bench.track("sun", "rotation").value == 37.5
    bench.well("rotation").press("ArrowUp")
    bench.settle()
    assert bench.track("sun", "rotation").value == 38
    grip = bench.tab.locator('.well[data-property="opacity"] .grip')
    x, y = bench.middle(grip)
    bench.drag((x, y), (x - 40, y))
    assert bench.track("sun", "opacity").value == pytest.approx(0.8)


def test_keying_changes_off_leaves_a_loose_value_and_on_makes_a_key(bench):
    bench.select("ferry")
    bench.go(60)
    keys = len(bench.track("ferry", "rotation").keys)
    bench.type("rotation", "9")
    assert bench.track("ferry", "rotation").loose.value == 9
    assert len(bench.track("ferry", "rotation").keys) == keys
    expect(bench.tab.locator('.state.loose[data-key="rotation"]')).to_have_count(1)
    bench.go(61)
    assert bench.shown("rotation") < 2
    bench.tab.locator("#keying").click()
    expect(bench.tab.locator("#keying-flag")).to_be_visible()
    bench.type("rotation", "5")
    assert len(bench.track("ferry", "rotation").keys) == keys + 1
    assert bench.track("ferry", "rotation").value_at(at(61)) == 5
    bench.tab.reload()
    bench.settle()
    assert bench.state["keying"] is False


def test_one_property_or_all_is_keyed(bench):
    bench.select("sun")
    bench.go("1:00")
    bench.tab.locator('.state[data-key="opacity"]').click()
    bench.settle()
    assert bench.track("sun", "opacity").key_times == [at(24)]
    bench.press("+")
    assert bench.track("sun", "position").key_times == [0, at(24), at(96)]
    assert bench.track("sun", "rotation").key_times == []
    bench.tab.get_by_role("button", name="Key all").click()
    bench.settle()
    assert bench.track("sun", "rotation").key_times == [at(24)]
    assert at(24) in bench.track("sun", "position").key_times
    expect(bench.tab.locator('.figure[data-state="here"]')).to_have_count(6)


def test_beads_are_dragged_in_time_together_and_put_back(bench):
    bench.select("gull")
    bench.bead("gull", "rotation", 1).click()
    bench.tab.keyboard.down("Control")
    bench.bead("gull", "scale", 0).click()
    bench.tab.keyboard.up("Control")
    bench.settle()
    assert len(bench.state["keys"]) == 2
    x, y = bench.middle(bench.bead("gull", "scale", 0))
    px = bench.tab.evaluate("(f => f.width / (f.end - f.start))(window.deftarc.state.axis)") * CROSSING_FRAME
    bench.drag((x, y), (x + 5 * px, y), release=False)
    assert bench.track("gull", "scale").key_times[0] == at(74)
    bench.tab.mouse.up()
    bench.settle()
    assert bench.track("gull", "scale").key_times == [at(79), at(96)]
    assert bench.track("gull", "rotation").key_times == [at(8), at(67), at(118)]
    assert sorted(key["time"] for key in bench.state["keys"]) == [at(67), at(79)]
    x, y = bench.middle(bench.bead("gull", "scale", 0))
    bench.drag((x, y), (x + 60, y), release=False)
    bench.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    assert bench.track("gull", "scale").key_times == [at(79), at(96)]
    assert bench.middle(bench.bead("gull", "scale", 0)) == pytest.approx((x, y), abs=1)


def test_keys_are_marqueed_nudged_and_deleted_and_the_motion_undone(bench):
    bench.select("gull")
    first, last = bench.middle(bench.bead("gull", "position", 0)), bench.middle(bench.bead("gull", "scale", 1))
    bench.drag((first[0] - 14, first[1] - 9), (first[0] + 14, last[1] + 9))
    assert {(k["property"], k["time"]) for k in bench.state["keys"]} == {("position", at(8)), ("rotation", at(8))}
    bench.press("ArrowRight", "Shift+ArrowRight")
    assert bench.track("gull", "position").key_times[0] == at(19)
    bench.press("Delete")
    assert len(bench.track("gull", "position").keys) == 4
    # Strokes one after the other are one step.
    bench.press("Control+z", "Control+z")
    assert bench.track("gull", "position").key_times[0] == at(8)
    bench.press("Control+Shift+z")
    assert bench.track("gull", "position").key_times[0] == at(19)


def test_a_double_click_on_a_lane_keys_without_changing_the_motion(bench):
    bench.select("gull")
    before = bench.track("gull", "position").value_at(at(25))
    x, y = bench.middle(bench.bead("gull", "position", 0))
    bench.tab.mouse.dblclick(x + 70, y)
    bench.settle()
    after = bench.track("gull", "position")
    assert len(after.keys) == 6
    assert after.value_at(at(25)) == pytest.approx(before)


def test_eases_and_strength_shape_the_selected_segment_live(bench):
    bench.bead("mist", "opacity", 0).click()
    bench.settle()
    bench.tab.get_by_role("button", name="Slow ends").click()
    bench.settle()
    assert bench.track("mist", "opacity").keys[0].leaving.reach == 0.42
    slider = bench.tab.locator("[data-strength]")
    box = slider.bounding_box()
    bench.drag((box["x"] + box["width"] / 2, box["y"] + box["height"] / 2), (box["x"] + box["width"] - 2, box["y"] + 8))
    assert bench.track("mist", "opacity").keys[0].leaving.reach == pytest.approx(1, abs=0.02)
    bench.tab.get_by_role("button", name="Hold").click()
    bench.settle()
    assert bench.track("mist", "opacity").keys[0].hold
    bench.tab.get_by_role("button", name="Straight").click()
    bench.settle()
    assert bench.track("mist", "opacity").keys[0].leaving is None


def test_a_logo_comes_in_by_button_and_by_dropping(bench, tmp_path):
    (tmp_path / "Line mark.svg").write_text(LOGO)
    with bench.tab.expect_file_chooser() as waiting:
        bench.tab.get_by_role("button", name="Add").click()
        bench.tab.locator('#add-menu [data-add="file"]').click()
    waiting.value.set_files(str(tmp_path / "Line mark.svg"))
    bench.tab.locator("#notices").get_by_text("Not shown: text").wait_for()
    bench.settle()
    assert bench.served.document().scenes[0].layers[0].name == "Line mark"
    x, y = bench.client(300, 500)
    drop = "([text, x, y]) => { const t = new DataTransfer(); t.items.add(new File([text], 'dropped.svg', {type: 'image/svg+xml'})); document.getElementById('stage').dispatchEvent(new DragEvent('drop', {dataTransfer: t, clientX: x, clientY: y, bubbles: true, cancelable: true})); }"
    bench.tab.evaluate(drop, [LOGO.replace("<text>Q</text>", ""), x, y])
    bench.tab.locator(".layer-name", has_text="dropped").wait_for()
    bench.settle()
    assert bench.served.document().scenes[0].layers[0].position.value == pytest.approx((300, 500), abs=4)
    bench.tab.evaluate(drop, ["<svg><script/></svg>", x, y])
    bench.tab.get_by_text("script").first.wait_for()
    bench.tab.troubles.clear()  # the console reports the 400 itself


def test_text_and_shapes_are_added_changed_duplicated_and_deleted(bench):
    bench.tab.get_by_role("button", name="Add").click()
    bench.tab.locator('#add-menu [data-add="text"]').click()
    bench.tab.get_by_label("Words").last.fill("Lantern Isle")
    bench.tab.get_by_role("button", name="Add it").click()
    bench.tab.locator(".layer-name", has_text="Lantern Isle").wait_for()
    bench.settle()
    words = bench.tab.locator("#words")
    words.fill("Lantern\nIsle")
    words.press("Enter")
    bench.settle()
    assert bench.served.document().scenes[0].layers[0].artwork.text == "Lantern\nIsle"
    bench.press("Control+d")
    assert [x.name for x in bench.served.document().scenes[0].layers[:2]] == ["Lantern Isle 2", "Lantern Isle"]
    bench.press("Delete")
    assert bench.served.document().scenes[0].layers[0].name == "Lantern Isle"
    bench.tab.get_by_role("button", name="Add").click()
    bench.tab.locator('#add-menu [data-add="ellipse"]').click()
    bench.tab.locator(".layer-name", has_text="Ellipse").wait_for()


def test_layers_are_renamed_hidden_locked_and_folded(bench):
    bench.row("sun").dblclick()
    bench.tab.locator("#lanes").get_by_label("Name", exact=True).fill("Morning sun")
    bench.press("Enter")
    layer = lambda name: bench.served.document().scenes[0].layer(name)  # noqa: E731
    assert layer("sun").name == "Morning sun"
    head = bench.tab.locator("#layer-sun")
    head.hover()
    head.get_by_title("Hide Morning sun").click()
    bench.settle()
    assert layer("sun").hidden
    head.hover()
    head.get_by_title("Lock Morning sun").click()
    bench.settle()
    assert layer("sun").locked
    beads = bench.tab.locator('#lanes .bead[data-layer="sun"]')
    expect(beads).to_have_count(2)
    head.get_by_title("Fold what is in Morning sun").click()
    bench.settle()
    expect(beads).to_have_count(0)
    expect(head.locator(".summary")).to_have_count(2)


def test_playing_pausing_looping_scrubbing_stepping(bench):
    bench.press(" ")
    bench.tab.wait_for_function("() => window.deftarc.state.frame > 6")
    bench.press(" ")
    stopped = bench.state["frame"]
    assert not bench.state["playing"]
    bench.press(".", ".", ",")
    assert bench.state["frame"] == stopped + 1
    bench.press("End", ".")
    assert bench.state["frame"] == 143
    bench.press(" ")
    bench.tab.wait_for_function("() => window.deftarc.state.frame < 20")
    bench.press(" ", "Home")
    ruler = bench.tab.locator("#ruler").bounding_box()
    bench.drag((ruler["x"] + 60, ruler["y"] + 20), (ruler["x"] + ruler["width"] / 2, ruler["y"] + 20))
    assert 66 <= bench.state["frame"] <= 78
    bench.select("gull")
    bench.press("Home", "Shift+Period")
    assert bench.state["frame"] == 8


def test_typed_times_go_there_or_say_why_not(bench):
    bench.go("0:02:12")
    assert bench.state["frame"] == 60
    bench.go("2.5s")
    assert bench.state["frame"] == 60
    bench.go("999")
    expect(bench.tab.get_by_text("lies beyond")).to_be_visible()
    assert bench.state["frame"] == 60
    bench.tab.troubles.clear()  # the console reports the 400 itself


def test_undo_goes_on_after_the_server_was_stopped_and_started(tab, alone):
    bench = Workbench(tab, alone)
    bench.select("sun")
    bench.type("rotation", 11)
    bench.type("rotation", 22)
    bench.served.stop()
    bench.served.start()
    bench.tab.wait_for_function("() => document.getElementById('saved').textContent.includes('saved')")
    bench.settle()
    bench.press("Escape", "Control+z")
    assert bench.track("sun", "rotation").value == 11
    bench.tab.locator("#redo").click()
    bench.settle()
    assert bench.track("sun", "rotation").value == 22
    tab.goto("about:blank")
    tab.troubles.clear()  # the lost connection is reported by the console


def test_another_windows_change_arrives_and_neither_is_lost(bench, browser):
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    other = Workbench(context.new_page(), bench.served)
    other.select("sun")
    bench.select("ferry")
    other.type("rotation", 45)
    bench.tab.wait_for_function("() => window.deftarc.state.history.undo === 'Rotation of Sun'")
    bench.type("opacity", 50)
    assert bench.track("sun", "rotation").value == 45
    assert bench.track("ferry", "opacity").value == 0.5
    context.close()


def test_the_playhead_readings_say_value_and_speed(bench):
    bench.select("gull")
    bench.go(24)
    value = bench.tab.locator(".value-reading text").text_content()
    speed = bench.tab.locator(".speed-reading text").text_content()
    track = bench.track("gull", "position")
    assert float(re.sub(r"[^\d.]", "", value)) == pytest.approx(float(track.curve.at([at(24)])[0]), abs=1)
    assert float(re.sub(r"[^\d.]", "", speed)) == pytest.approx(float(track.curve.speed([at(24)])[0]), abs=1)


def test_nothing_is_cut_off_at_the_sizes_people_have(bench):
    for size in ((1280, 800), (1920, 1080)):
        bench.tab.set_viewport_size({"width": size[0], "height": size[1]})
        bench.select("gull")
        wide = bench.tab.evaluate("document.documentElement.scrollWidth")
        assert wide <= size[0]
        bar = bench.tab.locator(".bar")
        assert bar.evaluate("b => b.scrollWidth <= b.clientWidth")
        assert bench.tab.locator("#figures").evaluate("f => f.scrollWidth <= f.clientWidth")
        assert bench.tab.locator("svg.pair").evaluate("s => Math.abs(s.clientWidth - s.parentElement.clientWidth) <= 1")
