"""Scenes in scenes in the workbench: made of layers, shown from the list, entered and left, their clocks set."""

import base64
from io import BytesIO

import numpy as np
from PIL import Image
from playwright.sync_api import expect

#: The pixels within the frame: what lies outside of it shows faintly at work, and not where a scene is shown.
PICTURE = """(() => {
  const { state, toClient } = window.deftarc, canvas = document.getElementById("picture");
  const box = canvas.getBoundingClientRect(), ratio = canvas.width / box.width;
  const [a, b] = [toClient(0, 0), toClient(state.scene.width, state.scene.height)];
  const at = [a.x - box.x, a.y - box.y, b.x - a.x, b.y - a.y].map((n) => Math.round(n * ratio));
  const [left, top, width, height] = [at[0] + 1, at[1] + 1, at[2] - 2, at[3] - 2];
  const part = Object.assign(document.createElement("canvas"), { width, height });
  part.getContext("2d").drawImage(canvas, -left, -top);
  return part.toDataURL("image/png").split(",")[1];
})()"""


def alike(one, other):
    """Whether two pictures are one to the eye: the browser rounds the edges of what it clips a little otherwise."""
    first, second = (
        np.asarray(Image.open(BytesIO(base64.b64decode(each))).convert("RGB"), int) for each in (one, other)
    )
    return first.shape == second.shape and np.abs(first - second).max() <= 16


def make(bench):
    """The buoy's first two layers, its sea and the buoy with all that is in it, as a scene of their own."""
    bench.open("/projects/quillhaven?scene=buoy")
    bench.go(30)
    for name in ("sea", "float"):
        bench.tab.locator(f'[data-select="{name}"]').click(modifiers=["Control"] if name == "float" else [])
    bench.settle()
    bench.press("Escape")
    before = bench.tab.evaluate(PICTURE)
    for name in ("sea", "float"):
        bench.tab.locator(f'[data-select="{name}"]').click(modifiers=["Control"] if name == "float" else [])
    bench.press("Shift+X")
    field = bench.tab.locator("#ask-dialog input")
    field.fill("Bell at sea")
    field.press("Enter")
    bench.settle()
    return before


def scene(bench, name):
    return next(each for each in bench.served.document().scenes if each.name == name)


def shown_one(bench):
    """The one layer of the buoy's scene that shows another."""
    (found,) = [layer for layer in scene(bench, "Buoy").layers if layer.artwork.kind == "scene"]
    return found


def test_a_scene_made_of_layers_shows_the_same_picture_and_is_entered_and_left(bench):
    before = make(bench)
    assert shown_one(bench).name == "Bell at sea"
    bench.press("Escape")
    assert alike(bench.tab.evaluate(PICTURE), before)
    # A click on what it shows takes it, a double click goes in, to the frame that is seen.
    hull = bench.tab.evaluate("(() => { const at = window.deftarc.toClient(540, 700); return [at.x, at.y]; })()")
    bench.tab.mouse.dblclick(*hull)
    expect(bench.tab.locator("#trail")).to_contain_text("Buoy")
    bench.settle()
    assert bench.tab.evaluate("window.deftarc.state.scene.name") == "Bell at sea"
    assert bench.tab.evaluate("window.deftarc.state.frame") == 30
    # What lies around is seen faintly: with it off the picture is another.
    bench.until(lambda: bench.tab.evaluate("performance.getEntriesByType('resource').some((e) => /around/.test(e.name))"))  # fmt: skip
    bench.tab.wait_for_timeout(400)
    seen = bench.tab.evaluate(PICTURE)
    bench.press("c")
    bench.tab.keyboard.type("around this one, faintly")
    bench.tab.keyboard.press("Enter")
    bench.settle()
    assert not alike(bench.tab.evaluate(PICTURE), seen)
    # Work inside shows outside.
    bench.select("sea")
    bench.press("ArrowUp")
    bench.press("Control+Shift+Enter")
    assert bench.tab.evaluate("window.deftarc.state.scene.name") == "Buoy"
    expect(bench.tab.locator("#trail .crumb")).to_have_count(0)
    assert len(bench.tab.evaluate("window.deftarc.state.layers")) == 1
    bench.press("Escape")
    assert not alike(bench.tab.evaluate(PICTURE), before)


def test_its_clock_is_set_and_a_reload_stays_inside(bench):
    make(bench)
    start = bench.tab.locator('[data-shown="begins"]')
    start.fill("12")
    start.press("Enter")
    bench.settle()
    rate = bench.tab.locator('[data-shown="rate"]')
    rate.fill("-50")
    rate.press("Enter")
    bench.settle()
    bench.tab.locator('[data-shown="goes_on"]').select_option("alternate")
    bench.settle()
    plays = bench.tab.locator('[data-shown="plays"]')
    plays.fill("3")
    plays.press("Enter")
    bench.settle()
    art = shown_one(bench).artwork
    assert (art.begins // 29_400_000, art.rate, art.goes_on, art.plays) == (12, -0.5, "alternate", 3)
    rate.fill("fast")
    rate.press("Enter")
    expect(bench.tab.locator("#notices")).to_contain_text("is no rate")
    bench.press("Control+Enter")
    expect(bench.tab.locator("#trail")).to_contain_text("Buoy")
    bench.tab.reload()
    bench.settle()
    expect(bench.tab.locator("#trail")).to_contain_text("Buoy")
    bench.tab.locator("#trail .crumb").click()
    bench.settle()
    assert bench.tab.evaluate("window.deftarc.state.scene.name") == "Buoy"


def test_one_scene_is_shown_again_and_again_from_the_list(bench):
    bench.open("/projects/quillhaven?scene=card")
    bench.go(20)
    bench.tab.get_by_role("button", name="Add", exact=True).click()
    bench.tab.locator('#add-menu [data-do="show-scene"]').click()
    bench.settle()
    row = bench.tab.locator("#drawer li", has_text="Buoy")
    row.get_by_role("button", name="Show it throughout").click()
    bench.settle()
    # The list has done its work, and what was made is selected.
    expect(bench.tab.locator("#drawer")).to_be_hidden()
    (made,) = bench.state["layers"]
    assert scene(bench, "Timetable card").layer(made).name == "Buoy"
    assert not scene(bench, "Timetable card").layer(made).artwork.ground
    bench.tab.locator('[data-shown="ground"]').check()
    bench.settle()
    assert scene(bench, "Timetable card").layer(made).artwork.ground
    bench.press("c")
    bench.tab.keyboard.type("show a scene")
    bench.tab.keyboard.press("Enter")
    bench.settle()
    row.get_by_role("button", name="From the playhead").click()
    bench.settle()
    shown = [layer for layer in scene(bench, "Timetable card").layers if layer.artwork.kind == "scene"]
    assert [layer.name for layer in shown[:2]] == ["Buoy 2", "Buoy"]
    assert shown[0].start == 20 * 23_520_000
    # The card cannot be shown in what it shows.
    bench.tab.keyboard.press("Escape")
    bench.open("/projects/quillhaven?scene=buoy")
    bench.press("c")
    bench.tab.keyboard.type("show a scene")
    bench.tab.keyboard.press("Enter")
    bench.settle()
    expect(bench.tab.locator("#drawer li", has_text="Timetable card")).to_contain_text("it shows this one")
    # One that is shown is not deleted, and says by what.
    bench.press("c")
    bench.tab.keyboard.type("delete this scene")
    bench.tab.keyboard.press("Enter")
    expect(bench.tab.locator("#notices")).to_contain_text("Buoy is shown in Timetable card")
    bench.tab.troubles.clear()


def test_one_menu_is_open_at_a_time(bench):
    add = bench.tab.get_by_role("button", name="Add", exact=True)
    add.click()
    expect(bench.tab.locator("#add-menu")).to_be_visible()
    bench.tab.locator(".row-line.layer").first.click(button="right")
    expect(bench.tab.locator("#menu")).to_be_visible()
    expect(bench.tab.locator("#add-menu")).to_be_hidden()
    add.press("Enter")
    expect(bench.tab.locator("#add-menu")).to_be_visible()
    expect(bench.tab.locator("#menu")).to_be_hidden()
