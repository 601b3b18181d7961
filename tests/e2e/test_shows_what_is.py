"""A page that lived through edits paints what a fresh one paints, and every scene of the demo plays."""

import pytest

from deftarc.web.live.page import Looking
from tests.e2e.conftest import Workbench

PICTURE = "document.getElementById('picture').toDataURL()"


@pytest.fixture
def beside(browser, served):
    """A second window on the same scene, frame and view, just opened; its picture."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, color_scheme="light")
    # However often it is opened, it remembers nothing.
    context.add_init_script("location.protocol.startsWith('http') && (sessionStorage.clear(), localStorage.clear())")
    page = context.new_page()

    def picture(bench):
        told = bench.tab.evaluate(
            "(({ scene, frame, layers }) => ({ scene: scene.id, frame, layers }))(window.deftarc.state)"
        )
        other = Workbench(page, served, f"/projects/quillhaven?scene={told['scene']}")
        for layer in told["layers"]:
            other.select(layer)
        other.go(bench.tab.locator("#clock").input_value())
        shown = other.tab.evaluate(PICTURE)
        page.goto("about:blank")
        return shown

    yield picture
    context.close()


def scene(bench, name):
    bench.tab.locator("#scene").select_option(label=name)
    bench.settle()


def drag_buoy(bench):
    bench.select("float")
    bench.drag(bench.client(540, 700), bench.client(640, 640), hold=["Alt"])


def type_mast(bench):
    bench.select("mast")
    bench.go(30)
    bench.tab.locator("#keying").click()
    bench.type("rotation", "40")
    bench.tab.locator("#keying").click()


def hide_group(bench):
    for _ in range(2):
        bench.tab.locator("#layer-float").hover()
        bench.tab.locator("#layer-float [data-toggle=hidden]").click()
        bench.settle()


def let_go(bench):
    bench.select("lamp")
    bench.tab.locator("[data-parent]").focus()
    bench.tab.locator("[data-parent]").select_option(label="Bottle")
    bench.settle()


def move_key(bench):
    bench.select("float")
    bench.bead("float", "rotation", 1).click()
    bench.press("Shift+ArrowRight")


def back(bench):
    bench.press("Control+z", "Control+z")


@pytest.mark.parametrize("patience", [-1.0, 60.0], ids=["picture ahead", "as one"])
def test_a_page_that_lived_through_edits_paints_what_a_fresh_one_paints(bench, beside, patience, monkeypatch):
    monkeypatch.setattr(Looking, "patience", patience)
    scene(bench, "Buoy")
    for act in (drag_buoy, type_mast, hide_group, move_key, let_go, drag_buoy, back):
        act(bench)
        assert bench.tab.evaluate(PICTURE) == beside(bench), act.__name__


def test_what_was_kept_of_other_frames_leaves_no_trace(bench, beside):
    scene(bench, "Lantern Isle")
    for frame in (40, 41, 42, 70):
        bench.go(frame)
    assert bench.tab.evaluate(PICTURE) == beside(bench)
    bench.tab.locator("#play").click()
    bench.tab.wait_for_function("() => window.deftarc.stats.painted > 12")
    bench.tab.locator("#play").click()
    bench.settle()
    assert bench.tab.evaluate(PICTURE) == beside(bench)


ROWS = """() => [...document.querySelectorAll("#lanes .row-line, #marks .pennant, #tie-lines .tie")].map((row) => [
  row.id || row.dataset.mark || "tie", Math.round(row.getBoundingClientRect().y),
  ...[...row.querySelectorAll(".bead, .pennant, .take-ghost")].map((each) => each.dataset.time || each.dataset.mark),
].join(" ")).sort()"""


def begin_take(bench):
    bench.press("Shift+N")
    bench.go(30)
    bench.type("rotation", "40")


def show_other_take(bench):
    bench.press("Shift+A")


def mark_both(bench):
    bench.press("'", '"')


def give_clock(bench):
    bench.press("Shift+G")


def key_under_it(bench):
    bench.bead("mast", "clock", 1).click()
    bench.press("Alt+ArrowLeft")
    type_mast(bench)


def scrolled(bench):
    return bench.tab.evaluate("document.getElementById('lanes-scroll').scrollTop")


@pytest.mark.parametrize("window", ["second", "reloaded"])
def test_markers_takes_and_clocks_of_what_is_carried_show_in_another_window_as_here(bench, served, window):
    scene(bench, "Buoy")
    bench.select("mast")
    path = f"/projects/quillhaven?scene={bench.tab.evaluate('window.deftarc.state.scene.id')}"
    page = bench.tab.context.new_page()
    other = Workbench(page, served, path)
    other.select("mast")
    before = bench.tab.evaluate(ROWS)
    for act in (mark_both, begin_take, show_other_take, give_clock, key_under_it, back):
        bench.tab.bring_to_front()
        act(bench)
        here = bench.tab.evaluate(ROWS)
        page.bring_to_front()
        if window == "reloaded":
            other.open(path)
            other.select("mast")
        other.go(bench.tab.locator("#clock").input_value())
        # The list draws what is in view: both are to look at the same stretch of it.
        other.tab.evaluate("top => { document.getElementById('lanes-scroll').scrollTop = top; }", scrolled(bench))
        other.until(lambda here=here: other.tab.evaluate(ROWS) == here)
        assert other.tab.evaluate(PICTURE) == bench.tab.evaluate(PICTURE), act.__name__
    assert here != before
    page.close()


def test_while_a_carrier_is_dragged_what_it_carries_goes_along(bench):
    scene(bench, "Buoy")
    bench.select("mast")
    row = "layer => [...window.deftarc.state.items.get(layer).numbers.slice(0, 6)]"
    before = bench.tab.evaluate(row, "lamp")
    well = bench.tab.locator('.well[data-property="rotation"] .grip')
    x, y = bench.middle(well)
    bench.drag((x, y), (x + 60, y), release=False)
    assert bench.tab.evaluate(row, "lamp") != before
    bench.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    assert bench.tab.evaluate(row, "lamp") == before


@pytest.mark.parametrize("name", ["Crossing", "Timetable card", "Pennant", "Buoy"])
def test_every_scene_of_the_demo_plays(bench, name):
    scene(bench, name)
    first = bench.tab.evaluate(PICTURE)
    bench.press(" ")
    bench.tab.wait_for_function("() => window.deftarc.stats.painted > 12")
    bench.press(" ")
    assert bench.tab.evaluate(PICTURE) != first
    for item in bench.tab.evaluate(
        "[...window.deftarc.state.items.values()].map(i => [...i.numbers].every(Number.isFinite))"
    ):
        assert item


def test_the_demo_has_one_of_each_thing(served):
    scenes = served.document().scenes
    layers = [layer for each in scenes for layer in each.layers]
    assert any(layer.parent for layer in layers)
    assert any(layer.group for layer in layers)
    assert any(layer.axes_split for layer in layers)
    assert any(not layer.axes_split and layer.position.closed for layer in layers)
    assert any("fill" in layer.keyed for layer in layers)
    assert any("outline" in layer.keyed for layer in layers)
    assert any(getattr(layer.artwork, "font", "").startswith("own-") for layer in layers)
