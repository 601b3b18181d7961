"""What a daily hand does next: Enter and Escape, Shift, locks, keys on keys, curves bent, rows marked."""

import re

import pytest
from playwright.sync_api import expect

from deftarc.core.edit.layers import DescribeLayers
from deftarc.core.edit.spans import MoveSpans
from tests.e2e.pairing import PairHand

AT = 29_400_000  # flicks a frame in Crossing


@pytest.fixture
def pair(bench):
    bench.select("gull")
    return PairHand(bench)


def keys_of(bench, layer="gull", name="rotation"):
    return [time // AT for time in bench.track(layer, name).key_times]


def commit(bench, edit):
    projects = bench.served.shop.projects
    bench.served.shop.commit("quillhaven", projects.open("quillhaven").revision, edit)
    bench.settle()


def focus(bench):
    return bench.tab.evaluate("document.activeElement.tagName")


def tool(bench):
    return bench.tab.evaluate("window.deftarc.state.tool")


def test_after_enter_in_any_field_strokes_are_the_workbenchs_again(bench, pair):
    bench.go(20)
    bench.type("rotation", "12")
    bench.press("End")
    assert bench.state["frame"] == 143
    bench.bead("gull", "rotation", 1).click()
    bench.settle()
    for field in ("[data-key-time]", "[data-key-value]", "[data-side-speed=leaving]", "[data-span-start]"):
        bench.tab.locator(field).first.focus()
        bench.tab.locator(field).first.press("Enter")
        bench.settle()
        assert focus(bench) == "BODY", field
    bench.press("Home")
    assert bench.state["frame"] == 0
    bench.press(".")
    assert bench.state["frame"] == 1


def test_after_a_colour_and_a_list_strokes_are_the_workbenchs_again(bench):
    bench.select("sun")
    bench.tab.get_by_role("button", name="Look", exact=True).click()
    bench.settle()
    colour = bench.tab.locator('[data-colour="fill"]')
    colour.click()
    colour.evaluate("f => { f.value = '#224466'; f.dispatchEvent(new Event('change', { bubbles: true })); }")
    bench.settle()
    bench.press(".")
    assert bench.state["frame"] == 1
    assert bench.served.document().scenes[0].layer("sun").artwork.fill == "#224466"


def test_tab_goes_on_in_the_table_of_segments_while_it_is_drawn_anew(bench, pair):
    bench.press("y")
    first = bench.tab.locator("[data-segment]").nth(0)
    first.click()
    first.fill("20")
    bench.tab.keyboard.press("Tab")
    bench.settle()
    assert bench.tab.evaluate("document.activeElement.dataset.id") == "segment-2"
    bench.tab.keyboard.press("Control+a")
    bench.tab.keyboard.type("11")
    bench.tab.keyboard.press("Enter")
    bench.settle()
    times = keys_of(bench, "gull", "position")
    assert (times[1] - times[0], times[2] - times[1]) == (20, 11)
    assert focus(bench) == "BODY"


def test_enter_in_a_dialog_does_what_its_main_button_says(bench):
    bench.tab.get_by_role("button", name="The scene", exact=True).click()
    bench.tab.get_by_role("button", name="Settings of this scene…").click()
    bench.tab.locator("#part-dialog [name=name]").fill("Morning")
    bench.tab.locator("#part-dialog [name=name]").press("Enter")
    expect(bench.tab.locator("#scene option:checked")).to_have_text("Morning")
    bench.tab.get_by_role("button", name="Add", exact=True).click()
    bench.tab.get_by_role("button", name="Text…").first.click()
    bench.tab.locator("#text-dialog textarea").fill("Bell")
    bench.tab.keyboard.press("Enter")
    expect(bench.tab.locator("#text-dialog")).to_be_hidden()
    bench.settle()
    assert bench.served.document().scenes[0].layers[0].artwork.text == "Bell"
    bench.tab.get_by_role("button", name="The scene", exact=True).click()
    bench.tab.get_by_role("button", name="New scene…").click()
    bench.tab.locator("#part-dialog [name=name]").fill("Regatta")
    bench.tab.locator("#part-dialog [name=name]").press("Enter")
    expect(bench.tab.locator("#scene option:checked")).to_have_text("Regatta")


def test_escape_in_words_keeps_them_and_a_second_one_drops_them(bench):
    text = lambda: bench.served.document().scenes[0].layer("line").artwork.text  # noqa: E731
    before = text()
    bench.go(60)
    bench.select("line")
    for escapes, shown in ((1, "every hour"), (2, before)):
        bench.tab.mouse.dblclick(*bench.client(300, 264))
        editor = bench.tab.locator(".text-editor")
        editor.fill("every hour")
        for _ in range(escapes):
            bench.tab.keyboard.press("Escape")
        bench.settle()
        expect(editor).to_have_count(0)
        assert text() == shown
        if escapes == 1:
            bench.press("Control+z")


def test_the_path_of_a_locked_layer_says_so_and_nothing_beneath_it_is_taken(bench):
    commit(bench, DescribeLayers(scene="crossing", layers=("gull",), locked=True))
    bench.select("gull")
    bench.press("e")
    before = bench.served.document()
    point = bench.middle(bench.tab.locator("#overlay .path-key[data-path-key]").nth(1))
    bench.drag(point, (point[0] + 30, point[1] - 20))
    notice = bench.tab.locator(".notice", has_text="Gull is locked")
    expect(notice).to_be_visible()
    assert bench.served.document() == before
    bench.tab.troubles.clear()  # the console reports the 400 itself
    notice.get_by_role("button", name="Unlock Gull").click()
    bench.settle()
    bench.drag(point, (point[0] + 30, point[1] - 20))
    assert bench.track("gull", "position").points != before.scenes[0].layer("gull").position.points
    assert bench.state["layers"] == ["gull"]


def test_what_is_locked_says_so_and_can_be_unlocked_there(bench, pair):
    commit(bench, DescribeLayers(scene="crossing", layers=("gull",), locked=True))
    before = keys_of(bench)
    bench.bead("gull", "rotation", 1).click()
    bench.press("ArrowRight")
    assert keys_of(bench) == before
    notice = bench.tab.locator(".notice", has_text="Gull is locked")
    expect(notice).to_be_visible()
    bench.tab.troubles.clear()  # the console reports the 400 itself
    notice.get_by_role("button", name="Unlock Gull").click()
    bench.settle()
    bench.press("ArrowRight")
    assert keys_of(bench) != before


def test_a_number_refused_by_a_lock_is_put_back_and_the_strokes_are_the_workbenchs(bench, pair):
    """There is nothing in it to mend: left in the field, the next Delete would empty it and type that."""
    commit(bench, DescribeLayers(scene="crossing", layers=("gull",), locked=True))
    shown = bench.well("rotation").input_value()
    bench.type("rotation", "33")
    expect(bench.tab.locator(".notice", has_text="Gull is locked")).to_be_visible()
    assert bench.well("rotation").input_value() == shown
    bench.press("Delete")
    assert bench.well("rotation").input_value() == shown
    assert focus(bench) == "BODY"
    bench.tab.troubles.clear()  # the console reports the 400s itself


def test_a_refusal_is_told_until_something_else_is_done(bench, pair):
    commit(bench, DescribeLayers(scene="crossing", layers=("gull",), locked=True))
    bench.press("ArrowRight")
    notice = bench.tab.locator(".notice", has_text="Gull is locked")
    expect(notice).to_be_visible()
    bench.tab.locator("#layer-gull").hover()
    bench.tab.locator("#layer-gull [data-toggle=locked]").click()
    expect(notice).to_have_count(0)
    bench.tab.troubles.clear()  # the console reports the 400 itself


def test_a_double_click_selects_the_key_it_makes_and_only_it(bench, pair):
    bench.bead("gull", "rotation", 0).click()
    bench.settle()
    row = bench.tab.locator("#lane-gull-rotation svg").bounding_box()
    bench.tab.mouse.dblclick(pair.x(30), row["y"] + row["height"] / 2)
    bench.settle()
    assert 30 in keys_of(bench)
    assert [(key["property"], key["time"] // AT) for key in bench.state["keys"]] == [("rotation", 30)]


def test_shift_adds_on_the_picture_as_in_lists_and_escape_takes_one_thing_back(bench):
    bench.tab.mouse.click(*bench.client(420, 860))
    bench.settle()
    bench.tab.keyboard.down("Shift")
    bench.tab.mouse.click(*bench.client(180, 760))
    bench.tab.keyboard.up("Shift")
    bench.settle()
    assert set(bench.state["layers"]) == {"ferry", "gull"}
    bench.row("ferry").scroll_into_view_if_needed()
    bench.settle()
    bench.bead("ferry", "rotation", 1).click()
    bench.press("e")
    assert (len(bench.state["keys"]), tool(bench)) == (1, "path")
    bench.press("Escape")
    assert (bench.state["keys"], tool(bench)) == ([], "path")
    bench.press("Escape")
    assert (tool(bench), len(bench.state["layers"])) == ("move", 1)
    bench.press("Escape")
    assert bench.state["layers"] == []


def test_a_key_dropped_on_another_stands_beside_it_or_with_ctrl_replaces_it_and_says_so(bench, pair):
    assert keys_of(bench) == [8, 62, 118]
    start = bench.middle(bench.bead("gull", "rotation", 0))
    y = start[1]
    bench.drag(start, (pair.x(62), y), release=False)
    expect(bench.tab.locator("#hint")).to_contain_text("beside a key of Gull")
    bench.tab.mouse.up()
    bench.settle()
    assert keys_of(bench) == [61, 62, 118]
    bench.press("Control+z")
    start = bench.middle(bench.bead("gull", "rotation", 0))
    bench.drag(start, (pair.x(62), y), release=False)
    bench.tab.keyboard.down("Control")
    bench.tab.mouse.move(pair.x(62) + 1, y)
    bench.settle()
    expect(bench.tab.locator("#snap-line")).to_contain_text("replaces a key of Gull")
    bench.tab.mouse.up()
    bench.tab.keyboard.up("Control")
    bench.settle()
    assert keys_of(bench) == [62, 118]


def test_what_is_told_of_a_snapped_drag_is_what_is_shown(bench, pair):
    start = bench.middle(bench.bead("gull", "rotation", 1))
    bench.drag(start, (start[0] + 17, start[1]), release=False)
    by = bench.tab.evaluate("window.deftarc.state.snapped.edit.by") / AT
    told = re.search(r"by (-?[\d.]+) frame", bench.tab.locator("#hint").inner_text())
    assert float(told[1]) == by
    bench.tab.mouse.up()
    bench.settle()
    assert keys_of(bench)[1] == 62 + by


def test_what_is_told_of_stretched_keys_is_where_they_stand(bench, pair):
    bench.bead("gull", "rotation", 1).click()
    bench.bead("gull", "rotation", 2).click(modifiers=["Control"])
    bench.settle()
    around = bench.tab.locator(".key-box .around").bounding_box()
    start = (around["x"] + around["width"], around["y"] + around["height"] / 2)
    bench.drag(start, (start[0] - 37, start[1]), release=False)
    told = re.search(r"over (\d+) frames, ([\d.]+) %", bench.tab.locator("#hint").inner_text())
    bench.tab.mouse.up()
    bench.settle()
    times = keys_of(bench)
    assert times[2] < 118
    assert times[2] - times[1] == int(told[1])
    assert float(told[2]) == pytest.approx(100 * int(told[1]) / (118 - 62), abs=0.1)


def test_the_chip_of_what_goes_past_follows_the_strength_while_it_is_dragged(bench, pair):
    pair.press_bead("position", 0)
    bench.tab.locator('[data-ease="overshoot"]').click()
    bench.settle()
    chip = bench.tab.locator(".segment .harmless")
    before = chip.text_content()
    slider = bench.tab.locator("[data-strength]")
    slider.focus()
    slider.evaluate("s => { s.value = 90; s.dispatchEvent(new Event('input', { bubbles: true })); }")
    bench.settle()
    assert chip.text_content() != before
    # At 100 it goes past by the whole of its change.
    slider.evaluate(
        "s => { s.value = 100; s.dispatchEvent(new Event('input', { bubbles: true })); s.dispatchEvent(new Event('change', { bubbles: true })); }"
    )
    bench.settle()
    lengths = bench.track("gull", "position").measures()
    assert float(chip.text_content().split()[0]) == pytest.approx(lengths[1] - lengths[0], rel=0.01)


def test_a_curve_dragged_between_two_keys_is_bent_and_escape_puts_it_back(bench, pair):
    bench.tab.locator('[data-focus="rotation"]').first.click()
    bench.settle()
    before = bench.track("gull", "rotation")
    x, y = pair.x(35), pair.y(before.value_at(35 * AT))
    bench.drag((x, y), (x, y - 30), release=False)
    assert bench.track("gull", "rotation") == before
    bench.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    bench.drag((x, y), (x, y - 30))
    made = bench.track("gull", "rotation")
    assert made.key_times == before.key_times
    assert made.value_at(35 * AT) > before.value_at(35 * AT) + 1


def test_a_number_typed_for_several_keys_changes_them_all(bench, pair):
    bench.bead("gull", "rotation", 1).click()
    bench.bead("gull", "rotation", 2).click(modifiers=["Control"])
    bench.settle()
    field = bench.tab.locator("[data-key-value]").first
    field.fill("+=5")
    field.press("Enter")
    bench.settle()
    assert [key.value for key in bench.track("gull", "rotation").keys] == [-16, 9, 15]


def test_in_move_the_bead_of_the_selected_path_is_taken_and_with_alt_the_layer(bench):
    bench.select("gull")
    bench.go(20)
    spot = bench.client(620, 430)
    bench.tab.mouse.move(*spot)
    expect(bench.tab.locator("#hint")).to_contain_text("takes the layer instead")
    before = bench.track("gull", "position")
    bench.drag(spot, (spot[0] + 20, spot[1] - 12))
    made = bench.track("gull", "position")
    assert made.key_times == before.key_times
    assert made.points[1].spot != before.points[1].spot
    assert made.points[0] == before.points[0]


def test_the_bar_of_the_path_does_not_rescale_the_picture(bench):
    bench.select("gull")
    before = bench.tab.evaluate("window.deftarc.viewOf()")
    bench.press("e")
    expect(bench.tab.locator("#path-bar")).to_be_visible()
    assert bench.tab.evaluate("window.deftarc.viewOf()") == before
    bench.tab.locator('[data-path-joint="automatic"]').click()
    bench.settle()
    number = bench.tab.locator("[data-roundness-number]")
    number.fill("80")
    number.press("Enter")
    bench.settle()
    assert {point.roundness for point in bench.track("gull", "position").points} == {0.8}


def test_numbers_of_what_is_selected_never_hide(bench):
    bench.select("sun")
    bench.tab.get_by_role("button", name="Look", exact=True).click()
    bench.settle()
    # A picture has a look, and no paints; what only carries others has none at all, and shows how it moves.
    bench.select("mist")
    expect(bench.tab.locator("[data-effect-add=blur]")).to_be_visible()
    bench.tab.get_by_role("button", name="Add", exact=True).click()
    bench.tab.locator('#add-menu [data-add="carrier"]').click()
    bench.settle()
    expect(bench.well("rotation")).to_be_visible()


def test_a_layer_past_the_end_is_marked_and_brought_back(bench):
    commit(bench, MoveSpans(scene="crossing", layers=("line",), by=200 * AT))
    mark = bench.tab.locator("#layer-line [data-back]")
    expect(mark).to_be_visible()
    # A click opens what can be done; it does nothing by itself.
    before = bench.served.document()
    mark.click()
    assert bench.served.document() == before
    bench.tab.get_by_role("menuitem", name="Bring it back into the scene").click()
    bench.settle()
    expect(bench.tab.locator("#layer-line [data-back]")).to_have_count(0)
    layer = bench.served.document().scenes[0].layer("line")
    assert layer.start < 144 * AT


def test_rows_say_who_carries_them_and_names_can_have_more_room(bench):
    bench.tab.locator("#scene").select_option(label="Buoy")
    bench.settle()
    expect(bench.tab.locator("#layer-lamp .carried")).to_have_text("on Mast")
    name = bench.tab.locator(".ruler-row .gutter")
    before = name.bounding_box()["width"]
    x, y = bench.middle(bench.tab.locator("#divide-names"))
    bench.drag((x, y), (x + 60, y))
    assert name.bounding_box()["width"] == pytest.approx(before + 60, abs=3)


def test_a_bead_tells_its_time_and_its_value_and_the_clock_takes_frames(bench, pair):
    bench.bead("gull", "rotation", 1).hover()
    expect(bench.tab.locator("#hint")).to_contain_text("0:02:14: 4°")
    bench.go("48f")
    assert bench.state["frame"] == 48
    pair.press_bead("position", 0)
    expect(bench.tab.locator(".segment .about")).to_contain_text("top")


def test_copies_have_names_of_their_own(bench):
    bench.select("gull")
    bench.press("Control+d", "Control+d")
    names = [layer.name for layer in bench.served.document().scenes[0].layers]
    assert len(set(names)) == len(names)


def test_points_of_an_outline_are_caught_by_a_box(bench):
    bench.tab.locator("#scene").select_option(label="Buoy")
    bench.settle()
    bench.select("sea")
    bench.press("p")
    bench.drag(bench.client(60, 560), bench.client(900, 900))
    assert bench.tab.evaluate("window.deftarc.state.points.length") >= 2


def test_the_keyboard_sheet_opens_at_its_top(bench):
    bench.press("?")
    assert bench.tab.locator("#keys-dialog").evaluate("d => d.scrollTop") == 0
    expect(bench.tab.locator("#keys-dialog")).to_contain_text("Open the keyed lanes of what is selected")


def test_the_eases_are_all_in_view_with_several_keys_selected(bench, pair):
    for n in (1, 2, 3):
        bench.bead("gull", "position", n).click(modifiers=["Shift"] if n > 1 else [])
        bench.settle()
    expect(bench.tab.locator(".key-name")).to_contain_text("key 4 +2")
    over = bench.tab.evaluate("(({ scrollHeight, clientHeight }) => scrollHeight - clientHeight)(figures)")
    assert over <= 0


def test_what_is_pressed_is_there_still_when_it_is_let_go_whatever_is_drawn_meanwhile(bench, pair):
    mouse = bench.tab.mouse
    bench.row("ferry").scroll_into_view_if_needed()
    mouse.move(*bench.middle(bench.row("ferry")))
    mouse.down()
    # Another window renames it: its row is drawn anew under the hand.
    commit(bench, DescribeLayers(scene="crossing", layers=("ferry",), name="Ferryboat"))
    expect(bench.tab.locator('[data-select="ferry"]')).to_have_text("Ferryboat")
    mouse.up()
    bench.settle()
    assert bench.state["layers"] == ["ferry"]
    bench.select("gull")
    name = bench.tab.locator('#pair [data-curve="gull rotation"] [data-curve-main]')
    mouse.move(*bench.middle(name))
    mouse.down()
    commit(bench, DescribeLayers(scene="crossing", layers=("gull",), name="Tern"))
    mouse.up()
    bench.settle()
    assert bench.tab.evaluate("window.deftarc.state.pair.property") == "rotation"


HOLD = """() => {
  const real = window.fetch;
  window.held = [];
  window.fetch = (path, ...more) => String(path).endsWith("/edits") && !window.letting
    ? new Promise((done) => window.held.push(() => done(real(path, ...more))))
    : real(path, ...more);
  window.letGo = () => { window.letting = true; for (const go of window.held.splice(0)) go(); };
}"""


def test_a_drag_begun_while_an_edit_is_still_being_saved_keeps_what_it_snaps_to(bench):
    bench.select("ferry")
    bench.tab.evaluate(HOLD)
    bench.tab.keyboard.press("ArrowRight")
    bench.tab.wait_for_function("() => window.held.length === 1")
    x, y = bench.middle(bench.bead("ferry", "rotation", 1))
    mouse = bench.tab.mouse
    mouse.move(x, y)
    mouse.down()
    mouse.move(x + 20, y, steps=3)
    bench.tab.evaluate("window.letGo()")
    bench.settle()
    told = bench.tab.evaluate(
        "(({tentative, snapAsked}) => [tentative?.kind, snapAsked?.tolerance])(window.deftarc.state)"
    )
    assert told[0] == "move_keys"
    assert told[1] > 0
    mouse.up()
    bench.settle()
    assert keys_of(bench, "ferry")[1] != keys_of(bench, "ferry")[0] + 36
