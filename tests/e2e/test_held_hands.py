"""What is done while a hand is on, with Shift or Ctrl held before a press, to all keys, and in the order of clicks."""

import pytest
from playwright.sync_api import expect

from tests.e2e.pairing import PairHand

AT = 29_400_000


def px_a_frame(bench):
    return bench.tab.evaluate("(f => f.width / (f.end - f.start))(window.deftarc.state.axis)") * AT


def steps(bench):
    return bench.tab.evaluate("window.deftarc.state.history.steps")


def chosen(bench):
    return bench.tab.evaluate(
        "window.deftarc.state.keys.map(({ layer, property, time }) => `${layer} ${property} ${time}`)"
    )


def all_of(bench, *layers, scene="crossing"):
    made = bench.served.document().scene(scene)
    return {
        f"{name} {each} {time}" for name in layers for each in made.layer(name).keyed
        for time in made.layer(name).track(each).key_times
    }  # fmt: skip


# -- All means all ------------------------------------------------------------------------------------------------------


def test_all_keys_are_all_keys_whatever_the_axis_and_the_list_show(bench):
    bench.tab.locator('[data-select="gull"]').click()
    bench.tab.locator('[data-select="title"]').click(modifiers=["Control"])
    bench.settle()
    # Zoomed in until few keys show, folded, and scrolled away.
    ruler = bench.tab.locator("#ruler").bounding_box()
    bench.tab.mouse.move(ruler["x"] + 400, ruler["y"] + 8)
    for _ in range(6):
        bench.tab.mouse.wheel(0, -300)
    bench.settle()
    bench.press("Control+a")
    wanted = all_of(bench, "gull", "title")
    assert set(chosen(bench)) == wanted
    assert bench.tab.locator("#lanes .bead").count() < len(wanted)
    expect(bench.tab.locator("#hint")).to_contain_text(f"{len(wanted)} keys of 2 layers selected")
    assert set(bench.state["layers"]) == {"gull", "title"}


def test_a_selected_layer_without_keys_stays_selected_and_with_none_all_layers_are_meant(bench):
    made = bench.served.document().scene("crossing")
    bare = next(layer.id for layer in made.layers if not layer.keyed)
    bench.select("gull")
    bench.row(bare).click(modifiers=["Control"])
    bench.settle()
    bench.press("Control+a")
    assert set(bench.state["layers"]) == {"gull", bare}
    assert set(chosen(bench)) == all_of(bench, "gull")
    bench.press("Escape", "Escape", "Control+a")
    assert set(chosen(bench)) == all_of(bench, *(layer.id for layer in made.layers))


def test_keys_at_the_playhead_are_those_that_show_there_folded_or_out_of_view(bench):
    bench.press("Escape")
    made = bench.served.document().scene("crossing")
    bench.tab.keyboard.press("Shift+End")
    frame = made.layer("gull").track("position").key_times[1] // AT
    bench.go(frame)
    bench.press("Escape", "Escape", "k")
    there = {
        name for name in all_of(bench, *(layer.id for layer in made.layers)) if int(name.split()[-1]) == frame * AT
    }
    assert set(chosen(bench)) == there


# -- Undo while a hand is on --------------------------------------------------------------------------------------------


def test_undo_under_a_hand_puts_back_the_drag_and_nothing_before_it(bench):
    bench.select("gull")
    bench.go(20)
    bench.type("opacity", "80")
    before, count = bench.served.document(), steps(bench)
    x, y = bench.middle(bench.bead("gull", "rotation", 1))
    bench.drag((x, y), (x + 8 * px_a_frame(bench), y), release=False)
    # Other strokes do nothing meanwhile: neither the playhead, nor the selection, nor the document.
    held = chosen(bench)
    bench.press("Home", "Delete", "Control+a", "Control+d", ".")
    assert bench.state["frame"] == 20
    assert chosen(bench) == held
    bench.press("Control+z")
    bench.tab.mouse.move(x + 40, y)
    bench.tab.mouse.up()
    bench.settle()
    assert bench.served.document() == before
    assert steps(bench) == count
    bench.press("Control+z")
    assert bench.served.document() != before


def grips(bench):
    """Where each kind of drag begins and ends, by name."""
    lane = bench.middle(bench.bead("gull", "rotation", 1))
    span = bench.tab.locator('#layer-gull [data-span="move"]').bounding_box()
    picture = bench.client(620, 430)
    well = bench.tab.locator('.well[data-property="rotation"] .grip').bounding_box()
    return {
        "a key": (lane, (lane[0] + 60, lane[1])),
        "a span": ((span["x"] + 30, span["y"] + 6), (span["x"] + 90, span["y"] + 6)),
        "a layer": (picture, (picture[0] + 50, picture[1] + 20)),
        "a number": ((well["x"] + 4, well["y"] + 6), (well["x"] + 60, well["y"] + 6)),
    }


@pytest.mark.parametrize("what", ["a key", "a span", "a layer", "a number"])
def test_each_kind_of_drag_is_put_back_by_undo(bench, what):
    bench.select("gull")
    bench.type("opacity", "80")
    bench.go(40)
    before = bench.served.document()
    start, end = grips(bench)[what]
    bench.drag(start, end, release=False)
    assert bench.tab.evaluate("window.deftarc.state.tentative !== null")
    bench.press("Control+z")
    assert bench.tab.evaluate("window.deftarc.state.tentative") is None
    bench.tab.mouse.up()
    bench.settle()
    assert bench.served.document() == before


def test_let_go_and_undone_at_once_it_is_the_drag_that_is_undone(bench):
    bench.select("gull")
    bench.type("opacity", "80")
    before = bench.served.document()
    x, y = bench.middle(bench.bead("gull", "rotation", 1))
    bench.drag((x, y), (x + 8 * px_a_frame(bench), y), release=False)
    bench.tab.mouse.up()
    bench.tab.keyboard.press("Control+z")
    bench.settle()
    assert bench.served.document() == before


def test_what_is_tried_in_place_is_dropped_by_undo(bench):
    bench.select("gull")
    bench.type("opacity", "80")
    bench.row("title").click(modifiers=["Control"])
    bench.settle()
    before = bench.served.document()
    bench.press("z")
    expect(bench.tab.locator("#trial")).to_be_visible()
    bench.tab.locator("#trial b").click()
    bench.press("Control+z")
    expect(bench.tab.locator("#trial")).to_be_hidden()
    assert bench.served.document() == before


def test_undo_takes_back_the_pens_last_point(bench):
    bench.select("gull")
    bench.tab.locator('[data-tool="pen"]').first.click()
    before = bench.served.document()
    for x, y in ((300, 300), (500, 300), (500, 600)):
        bench.tab.mouse.click(*bench.client(x, y))
    bench.press("Control+z")
    bench.tab.mouse.click(*bench.client(700, 500))
    bench.press("Enter")
    made = bench.served.document().scene("crossing")
    (path,) = [layer for layer in made.layers if layer.id not in before.scene("crossing").by_id]
    assert len(path.artwork.contours[0].points) == 3


# -- Shift or Ctrl held before the press --------------------------------------------------------------------------------


@pytest.mark.parametrize("key", ["Shift", "Control"])
def test_held_before_the_press_a_drag_moves_what_is_selected_and_a_click_takes_it_out(bench, key):
    bench.select("gull")
    bench.bead("gull", "rotation", 0).click()
    bench.bead("gull", "rotation", 1).click(modifiers=["Control"])
    bench.settle()
    times = bench.track("gull", "rotation").key_times
    x, y = bench.middle(bench.bead("gull", "rotation", 1))
    bench.tab.keyboard.down(key)
    bench.drag((x, y), (x + 6 * px_a_frame(bench), y))
    bench.tab.keyboard.up(key)
    now = bench.track("gull", "rotation").key_times
    by = now[0] - times[0]
    assert by > 2 * AT
    assert now == [times[0] + by, times[1] + by, times[2]]
    assert len(chosen(bench)) == 2
    bench.bead("gull", "rotation", 1).click(modifiers=[key])
    bench.settle()
    assert chosen(bench) == [f"gull rotation {now[0]}"]


def test_so_it_is_in_the_pair(bench):
    bench.select("gull")
    PairHand(bench)
    bench.bead("gull", "rotation", 1).click()
    bench.settle()
    time = bench.track("gull", "rotation").key_times[1]
    bead = bench.tab.locator(f'#pair .bead[data-property="rotation"][data-time="{time}"]:not(.in-speed)')
    x, y = bench.middle(bead)
    bench.tab.keyboard.down("Shift")
    bench.drag((x, y), (x + 6 * px_a_frame(bench), y))
    bench.tab.keyboard.up("Shift")
    assert bench.track("gull", "rotation").key_times[1] > time + 2 * AT


def test_so_it_is_on_the_picture_and_for_rows(bench):
    bench.select("gull")
    bench.row("title").click(modifiers=["Control"])
    bench.settle()
    bench.go(68)
    before = bench.served.document().scene("crossing")
    x, y = bench.client(*before.layer("gull").track("position").value_at(68 * AT))
    bench.tab.keyboard.down("Control")
    bench.drag((x, y), (x + 30, y + 10))
    bench.tab.keyboard.up("Control")
    made = bench.served.document().scene("crossing")
    assert made.layer("title") != before.layer("title")
    assert made.layer("gull") != before.layer("gull")
    assert set(bench.state["layers"]) == {"gull", "title"}
    # A row pressed with Ctrl is dragged with what is selected.
    assert [layer.id for layer in made.layers][:4] == ["gull", "line", "title", "mist"]
    from_, to = bench.row("line").bounding_box(), bench.row("mist").bounding_box()
    bench.tab.keyboard.down("Control")
    bench.drag((from_["x"] + 10, from_["y"] + 6), (to["x"] + 10, to["y"] + to["height"] - 1), steps=8)
    bench.tab.keyboard.up("Control")
    after = [layer.id for layer in bench.served.document().scene("crossing").layers]
    assert after[:4] == ["mist", "gull", "line", "title"]


def test_so_it_is_for_markers_and_for_points_of_an_outline(bench):
    for frame in (20, 60):
        bench.go(frame)
        bench.press("Escape", "'")
    marks = bench.tab.locator("#marks .pennant")
    marks.nth(0).click()
    marks.nth(1).click(modifiers=["Control"])
    bench.settle()
    x, y = bench.middle(marks.nth(1))
    bench.tab.keyboard.down("Shift")
    bench.drag((x, y), (x + 5 * px_a_frame(bench), y))
    bench.tab.keyboard.up("Shift")
    times = sorted(mark.time // AT for mark in bench.served.document().scene("crossing").markers)
    assert times[-2:] == [25, 65]


# -- The order of clicks ------------------------------------------------------------------------------------------------


def test_the_order_is_that_of_clicks_and_of_the_list_for_those_taken_at_once(bench):
    for name in ("title", "gull", "line"):
        bench.row(name).click(modifiers=["Control"])
    bench.settle()
    clicked = "window.deftarc.state.clicked"
    assert bench.tab.evaluate(clicked)[-3:] == ["title", "gull", "line"]
    order = bench.tab.evaluate("window.deftarc.state.order")
    bench.select(order[3])
    bench.row(order[0]).click(modifiers=["Shift"])
    bench.settle()
    assert bench.tab.evaluate(clicked) == [order[3], *order[:3]]
