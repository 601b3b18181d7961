"""Animations in the workbench: brought into a scene, moved and run as one, and brought in again with what was done."""

import json

import pytest
from playwright.sync_api import expect

from deftarc.core.edit.layers import DescribeLayers
from tests.animations import box, buoy, told


@pytest.fixture
def came(bench, tmp_path):
    """Brings a buoy in by the menu; answers its file."""
    file = tmp_path / "buoy.json"
    file.write_bytes(told(buoy()))
    bench.tab.get_by_role("button", name="Add").first.click()
    with bench.tab.expect_file_chooser() as chooser:
        bench.tab.locator('.dropdown-item[data-add="file"]').click()
    chooser.value.set_files(str(file))
    bench.tab.get_by_text("came in as a scene").wait_for()
    bench.settle()
    return file


def scene(bench, place=-1):
    return bench.served.document().scenes[place]


def shown(bench):
    return bench.served.document().scene("crossing").layers[0]


def again(bench, file, how):
    with bench.tab.expect_file_chooser() as chooser:
        how()
    chooser.value.set_files(str(file))
    bench.tab.get_by_text("came in again").last.wait_for()
    bench.settle()


def find(bench, words):
    bench.press("c")
    bench.tab.keyboard.type(words)
    bench.tab.keyboard.press("Enter")


def test_it_is_moved_scaled_and_run_as_one_and_entered(bench, came):
    layer = shown(bench)
    assert (layer.name, layer.artwork.kind) == ("buoy", "scene")
    assert bench.state["layers"] == [layer.id]
    x, y = layer.tracks["position"].value
    bench.drag(bench.client(x, y), bench.client(x + 200, y - 100))
    bench.type("scale", "50")
    bench.tab.locator('[data-shown="rate"]').fill("200")
    bench.press("Enter")
    bench.settle()
    layer = shown(bench)
    assert layer.tracks["position"].value == pytest.approx((x + 200, y - 100), abs=30)
    assert (layer.tracks["scale"].value, layer.artwork.rate) == (0.5, 2.0)
    bench.tab.get_by_role("button", name="Work inside it").click()
    expect(bench.tab.locator("#trail")).to_contain_text("Crossing")
    bench.settle()
    assert bench.tab.evaluate("window.deftarc.state.scene.name") == "Buoy"


def test_after_the_file_changed_it_comes_again_and_what_was_done_is_kept(bench, came):
    bench.tab.get_by_role("button", name="Work inside it").click()
    bench.settle()
    body = next(each for each in scene(bench).layers if each.name == "Buoy")
    bench.select(body.id)
    bench.tab.locator("[data-page=look]").click()
    bench.settle()
    bench.type("stroke_width", "15")
    flag = box("Flag", [50, 30], [0.1, 0.5, 0.4], 3, [60, -60], parent=2)
    came.write_bytes(told(buoy(turns=45, above=(flag,))))
    # Inside it, the scene that is worked in is meant; by the keyboard.
    again(bench, came, lambda: find(bench, "Bring its file in again"))
    now = {each.name: each for each in scene(bench).layers}
    assert list(now) == ["Flag", "Lamp", "Buoy"]
    assert now["Buoy"].artwork.stroke_width == 15
    assert max(key.value for key in now["Buoy"].tracks["rotation"].keys) == 45
    expect(bench.tab.get_by_text("Flag", exact=True).first).to_be_visible()
    bench.press("Control+z")
    bench.settle()
    assert [each.name for each in scene(bench).layers] == ["Lamp", "Buoy"]
    assert scene(bench).layers[1].artwork.stroke_width == 15
    bench.press("Control+Shift+z")
    bench.tab.reload()
    bench.settle()
    assert [each.name for each in scene(bench).layers] == ["Flag", "Lamp", "Buoy"]


def test_what_both_changed_is_said_and_can_be_as_the_file_has_it(bench, came):
    body = next(each for each in scene(bench).layers if each.name == "Buoy")
    bench.tab.get_by_role("button", name="Work inside it").click()
    bench.settle()
    bench.select(body.id)
    bench.type("position", "150")
    bench.press("Control+Shift+Enter")
    bench.settle()
    came.write_bytes(told(buoy(at=(60, 220))))
    # Around it, the layer that shows it is selected; its figures have a button.
    again(bench, came, lambda: bench.tab.get_by_role("button", name="Again…").click())
    bench.tab.get_by_text("kept as it is here: position of Buoy").wait_for()
    place = lambda: next(each for each in scene(bench).layers if each.name == "Buoy").tracks["position"].value  # noqa: E731
    assert place() == (150, 220)
    bench.tab.get_by_role("button", name="Take the file's").click()
    bench.until(lambda: place() == (60, 220))


def test_another_window_shows_it_at_once_and_a_locked_layer_is_left(bench, came, context):
    body = next(each for each in scene(bench).layers if each.name == "Buoy")
    shop = bench.served.shop
    lock = DescribeLayers(scene=scene(bench).id, layers=(body.id,), locked=True)
    shop.commit("quillhaven", shop.projects.open("quillhaven").revision, lock)
    bench.settle()
    other = context.new_page()
    other.goto(bench.tab.url.partition("?")[0] + f"?scene={scene(bench).id}")
    other.wait_for_function("() => window.deftarc?.state.items.size > 0")
    came.write_bytes(told(buoy(turns=45, above=(box("Flag", [50, 30], [0.1, 0.5, 0.4], 3, [60, -60]),))))
    again(bench, came, lambda: bench.tab.get_by_role("button", name="Again…").click())
    bench.tab.get_by_text("Buoy is locked, and was left as it is").wait_for()
    other.wait_for_function("() => [...window.deftarc.state.info.values()].some((each) => each.name === 'Flag')")
    now = {each.name: each for each in scene(bench).layers}
    assert max(key.value for key in now["Buoy"].tracks["rotation"].keys) == 20


def test_dropped_it_stands_where_it_was_dropped_and_what_is_not_carried_is_said(bench):
    told_ = json.dumps(buoy(above=(box("Mist", [9, 9], [1, 1, 1], 9, [0, 0], ef=[{}]),)))
    at = bench.client(600, 400)
    bench.tab.evaluate(
        """([text, x, y]) => {
          const data = new DataTransfer();
          data.items.add(new File([text], "mist.json", { type: "application/json" }));
          const told = { dataTransfer: data, clientX: x, clientY: y, bubbles: true, cancelable: true };
          document.getElementById("stage").dispatchEvent(new DragEvent("drop", told));
        }""",
        [told_, *at],
    )
    bench.tab.get_by_text("Effects are left out.").wait_for()
    bench.settle()
    assert shown(bench).tracks["position"].value == pytest.approx((600, 400), abs=8)
    bench.tab.locator("#file").set_input_files({"name": "a.json", "mimeType": "application/json", "buffer": b"{}"})
    bench.tab.get_by_text("it has no layers").wait_for()
    bench.tab.troubles.clear()  # the console reports the 400 itself


def test_a_layer_of_no_file_has_nothing_to_bring_again(bench):
    bench.select("gull")
    bench.press("c")
    bench.tab.keyboard.type("Bring its file in again")
    expect(bench.tab.locator('[data-action="bring-again"]')).to_have_attribute("aria-disabled", "true")
