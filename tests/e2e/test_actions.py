"""The table of actions, found by typing, and what the toys of each kind do on the page."""

import os
import sys

import pytest
from playwright.sync_api import expect

from deftarc.web.actions import ACTIONS, add
from deftarc.web.actions.action import Action
from tests.e2e.conftest import Workbench
from tests.serving import Server


def test_every_action_of_the_table_is_done_by_a_script_and_every_stroke_has_one_owner(bench):
    done = bench.tab.evaluate("async () => (await import('/static/js/actions.js')).allActions().map((each) => each.id)")
    assert sorted(done) == sorted(ACTIONS)
    strokes = [stroke for action in ACTIONS.values() for stroke in action.strokes]
    assert len(set(strokes)) == len(strokes)
    with pytest.raises(ValueError, match="Ctrl D is the stroke of duplicate and of again"):
        add(Action("again", "Again", "Layers", ("Ctrl+d",)))
    with pytest.raises(ValueError, match="two actions named duplicate"):
        add(Action("duplicate", "Again", "Layers"))


def test_an_action_is_found_by_words_with_its_stroke_and_done_by_enter(bench):
    bench.press("c")
    dialog = bench.tab.locator("#actions-dialog")
    field = dialog.get_by_role("combobox")
    expect(field).to_be_focused()
    field.fill("dupl")
    first = dialog.get_by_role("option").first
    expect(first).to_contain_text("Duplicate")
    # Nothing is selected: some of it cannot be done now, and Enter does nothing.
    layer = dialog.locator("#action-duplicate")
    expect(layer).to_have_attribute("aria-disabled", "true")
    expect(layer.locator("kbd")).to_have_text("Ctrl D")
    field.fill("linked copy")
    field.press("Enter")
    expect(dialog).to_be_visible()
    field.press("Escape")
    expect(dialog).not_to_be_visible()
    bench.select("sun")
    before = len(bench.state and bench.served.document().scenes[0].layers)
    bench.press("c")
    field.fill("dupl laye")
    expect(dialog.locator("#action-duplicate")).to_have_attribute("aria-disabled", "false")
    # By arrows to it, whatever stands before it.
    while dialog.locator("[aria-selected=true]").get_attribute("id") != "action-duplicate":
        field.press("ArrowDown")
    field.press("Enter")
    bench.settle()
    assert len(bench.served.document().scenes[0].layers) == before + 1
    bench.press("c")
    field.fill("zzz")
    expect(dialog).to_contain_text("Nothing is called that.")
    field.press("Escape")


def test_a_blur_and_a_shadow_are_added_keyed_dragged_and_taken_off(bench):
    """From figures to lanes to picture: as a person would, with mouse and keyboard, and back by undo."""

    def layer():
        return bench.served.document().scene("crossing").layer("sun")

    bench.select("sun")
    bench.tab.locator("[data-page=look]").click()
    bench.tab.locator("[data-effect-add=blur]").click()
    bench.settle()
    [blur] = layer().effects
    name = blur.properties[0]
    bench.go(10)
    bench.tab.locator(f'[data-row="{name}"] .state').click()
    bench.settle()
    bench.go(40)
    bench.press("!")
    bench.type(name, 30)
    bench.press("!")
    assert [key.value for key in layer().tracks[name].keys] == [8, 30]
    expect(bench.tab.locator(f'#lanes .bead[data-property="{name}"]')).to_have_count(2)
    shown = "(frame) => { const e = window.deftarc.state.items.get('sun').effects[0].values.radius; return e.numbers[frame]; }"
    assert bench.tab.evaluate(shown, 10) == 8
    assert 8 < bench.tab.evaluate(shown, 25) < 30
    # Dragged by its grip it shows live, and Escape puts it back.
    grip = bench.well(name).locator("..").locator(".grip")
    x, y = bench.middle(grip)
    bench.tab.mouse.move(x, y)
    bench.tab.mouse.down()
    bench.tab.mouse.move(x + 40, y, steps=4)
    bench.settle()
    assert bench.tab.evaluate(shown, 40) > 30
    bench.tab.keyboard.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    assert bench.tab.evaluate(shown, 40) == 30
    bench.tab.locator("[data-effect-add=shadow]").click()
    bench.settle()
    assert [each.kind for each in layer().effects] == ["blur", "shadow"]
    bench.tab.get_by_role("button", name="Shadow earlier").click()
    bench.settle()
    assert [each.kind for each in layer().effects] == ["shadow", "blur"]
    bench.tab.get_by_role("button", name="Blur", exact=True).first.click()
    bench.settle()
    assert not layer().effects[1].on
    bench.tab.get_by_role("button", name="Take Blur off").click()
    bench.settle()
    assert [each.kind for each in layer().effects] == ["shadow"]
    assert name not in layer().tracks
    bench.press("Control+z", "Control+z")
    assert layer().effects[1].on
    bench.open("/projects/quillhaven")
    assert [each.kind for each in layer().effects] == ["shadow", "blur"]


def test_a_group_is_painted_as_one_and_its_opacity_is_that_of_all_of_it(bench):
    before = bench.tab.locator("#picture").screenshot()
    bench.select("ferry")
    bench.press("Control+g")
    group = bench.state["layers"][0]
    assert bench.tab.evaluate("window.deftarc.state.roots") is None
    bench.tab.locator("[data-menu=layer]").click()
    bench.tab.get_by_role("menuitem", name="Paint it as one").click()
    bench.settle()
    assert bench.served.document().scene("crossing").layer(group).as_one
    assert group in bench.tab.evaluate("window.deftarc.state.roots")
    assert bench.tab.evaluate("(id) => window.deftarc.state.items.get(id).children", group) == ["ferry", "flag"]
    bench.type("opacity", 30)
    assert bench.tab.evaluate("(id) => window.deftarc.state.items.get(id).numbers[6]", group) == pytest.approx(0.3)
    assert bench.tab.evaluate("window.deftarc.state.items.get('ferry').numbers[6]") == 1
    bench.tab.locator("[data-page=look]").click()
    bench.tab.locator("[data-blend]").select_option("multiply")
    bench.settle()
    assert bench.served.document().scene("crossing").layer(group).blend == "multiply"
    bench.press("Control+z", "Control+z", "Control+z", "Control+z", "Escape", "Escape")
    bench.settle()
    assert bench.tab.evaluate("window.deftarc.state.roots") is None
    assert len(before) > 0


def test_the_toys_of_each_kind_work_on_the_page(tab, tmp_path):
    server = Server(tmp_path, "--demo", env={"DEFTARC_MORE": "tests.toys", "PYTHONPATH": os.pathsep.join(sys.path)})
    try:
        server.ready()
        address = f"http://127.0.0.1:{server.port}"

        class Remote:
            @staticmethod
            def at(path):
                return f"{address}{path}"

        bench = Workbench(tab, Remote)
        layers = bench.tab.evaluate("window.deftarc.state.order.length")
        expect(bench.tab.locator("body")).to_have_attribute("data-census", str(layers))
        bench.tab.get_by_role("button", name="Add", exact=True).click()
        bench.tab.locator('#add-menu [data-add="flower"]').click()
        expect(bench.tab.locator("body")).to_have_attribute("data-census", str(layers + 1))
        bench.settle()
        bench.tab.locator("[data-page=look]").click()
        bench.tab.locator("[data-effect-add=haze]").click()
        bench.settle()
        expect(bench.well("petals")).to_have_value("6")
        bench.type("petals", 9)
        # The action: in the menu, by its stroke, and found by typing.
        scale = "window.deftarc.state.items.get(window.deftarc.state.layers[0]).numbers[0]"
        bench.press("Control+Shift+w")
        assert bench.tab.evaluate(scale) == pytest.approx(1.1)
        bench.tab.locator("[data-menu=layer]").click()
        bench.tab.get_by_role("menuitem", name="Water it").click()
        bench.settle()
        assert bench.tab.evaluate(scale) == pytest.approx(1.21)
        bench.press("c")
        bench.tab.get_by_role("combobox", name="Which action").fill("water")
        bench.tab.keyboard.press("Enter")
        bench.settle()
        assert bench.tab.evaluate(scale) == pytest.approx(1.331)
        bench.tab.locator("#render").click()
        bench.tab.locator("#render-dialog .kind", has_text="Frame count (TXT)").click()
        bench.tab.locator("#deliver-form[data-output='count']").wait_for()
        bench.tab.get_by_role("button", name="Deliver it").click()
        bench.tab.get_by_role("link", name="Save").first.wait_for()
        tab.goto("about:blank")
    finally:
        server.end()


def do(bench, words):
    """Finds an action by typing and does the one that fits best."""
    bench.press("c")
    bench.tab.get_by_role("combobox", name="Which action").fill(words)
    bench.tab.keyboard.press("Enter")
    bench.settle()


def test_what_menus_views_and_the_path_offer_is_found_by_typing_too(bench):
    def layer(name="gull"):
        return bench.served.document().scene("crossing").layer(name)

    bench.select("gull")
    before = layer().position
    do(bench, "turn the path round")
    assert layer().position.points[0].spot == pytest.approx(before.points[-1].spot)
    bench.press("Control+z")
    assert layer().position == before
    do(bench, "close the motion path")
    assert layer().position.closed
    bench.press("Control+z")
    assert not layer().position.closed
    do(bench, "tag pine")
    assert layer().tag == "pine"
    bench.select("sun")
    do(bench, "align frame left")
    assert layer("sun").position.loose.value[0] == pytest.approx(layer("sun").artwork.width / 2)
    do(bench, "snap grid")
    assert bench.tab.evaluate("JSON.parse(localStorage.getItem('deftarc.liked')).snapGrid") is True
    bench.press("c")
    bench.tab.get_by_role("combobox", name="Which action").fill("snap grid")
    expect(bench.tab.locator("#action-snap-grid")).to_contain_text("on")
    # One beside it that needs more than is selected says so, and Enter does nothing.
    bench.tab.get_by_role("combobox", name="Which action").fill("align one another left")
    expect(bench.tab.locator("#action-align-left")).to_have_attribute("aria-disabled", "true")
    bench.press("Escape")
    do(bench, "times as seconds")
    expect(bench.tab.locator("#unit")).to_have_text("s")
    do(bench, "half speed")
    expect(bench.tab.locator("#speed-told")).to_have_text("½×")
    do(bench, "record path")
    expect(bench.tab.locator("#stage")).to_have_attribute("data-hand", "record")
    layers = len(bench.served.document().scene("crossing").layers)
    do(bench, "add ellipse")
    bench.until(lambda: len(bench.served.document().scene("crossing").layers) == layers + 1)
