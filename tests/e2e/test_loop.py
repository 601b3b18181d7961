"""The seam of a loop in the workbench: its sign on the ruler, its list, and what closes it."""

import pytest
from playwright.sync_api import expect

from deftarc.core.edit.beyond import SetBeyond
from deftarc.core.edit.keys import Lane
from tests.e2e.conftest import Workbench, leave

SIGN = "#seam-sign .seam"


@pytest.fixture
def buoy(tab, served):
    made = Workbench(tab, served)
    made.tab.locator("#scene").select_option("pennant")
    made.settle()
    yield made
    leave(tab, served)


def lane(bench, layer, name):
    return bench.track(layer, name, "pennant")


def test_the_list_tells_the_worst_first_goes_to_it_and_closes_it_from_the_keyboard(buoy):
    expect(buoy.tab.locator(f"{SIGN}.open")).to_have_count(1)
    buoy.press("Shift+E")
    rows = buoy.tab.locator("#drawer .drawer-rows li")
    expect(rows).to_have_count(13)
    expect(rows.nth(0)).to_contain_text("Position of Bead 320 px")
    expect(rows.nth(1)).to_contain_text("Rotation of Line logo 160°")
    # Its two pictures are painted: the logo turns in between.
    painted = "(name) => document.querySelector(`[data-seam-picture=${name}]`).toDataURL()"
    buoy.until(lambda: buoy.tab.evaluate(painted, "start") != buoy.tab.evaluate(painted, "end"))
    # The first row has focus, three strokes down is the second: Enter goes there, with the key at the start selected and
    # the last frame shown.
    expect(rows.nth(0).locator("button").first).to_be_focused()
    buoy.press("ArrowDown", "ArrowDown", "ArrowDown", "Enter")
    assert (buoy.state["frame"], buoy.state["layers"]) == (99, ["logo"])
    assert [key["time"] for key in buoy.state["keys"]] == [0]
    rows.nth(1).get_by_text("Close", exact=True).click()
    buoy.settle()
    logo = lane(buoy, "logo", "rotation")
    assert logo.keys[-1].value % 360 == logo.keys[0].value % 360
    assert logo.curve.speed([logo.key_times[-1] - 1.0])[0] == pytest.approx(logo.curve.speed([0.0])[0], rel=1e-3)
    expect(rows).to_have_count(12)
    # All that is left, and the loop is perfect: said on the ruler and in the list; Escape shuts it, undo opens it again.
    buoy.tab.locator("#drawer").get_by_text("Close all").click()
    buoy.settle()
    expect(buoy.tab.locator(f"{SIGN}.perfect")).to_have_count(1)
    expect(buoy.tab.locator("#drawer-title")).to_have_text("The seam: a perfect loop")
    buoy.tab.locator("#drawer button").first.focus()
    buoy.press("Escape")
    expect(buoy.tab.locator("#drawer")).to_be_hidden()
    buoy.press("Control+z")
    expect(buoy.tab.locator(f"{SIGN}.open")).to_have_count(1)


def test_the_sign_follows_a_drag_and_the_list_opens_from_it(buoy):
    buoy.tab.locator(f"{SIGN} .hit").click()
    buoy.settle()
    expect(buoy.tab.locator("#drawer-title")).to_contain_text("does not close")
    buoy.press("Shift+E")
    expect(buoy.tab.locator("#drawer")).to_be_hidden()
    # The end of what loops, dragged to where nothing has moved yet.
    before = buoy.tab.locator(SIGN).get_attribute("data-x")
    end = buoy.tab.locator('#ruler [data-range="end"]').bounding_box()
    start = (end["x"] + 6, end["y"] + 7)
    buoy.drag(start, (start[0] - 200, start[1]), release=False)
    assert float(buoy.tab.locator(SIGN).get_attribute("data-x")) < float(before) - 150
    buoy.press("Escape")
    buoy.tab.mouse.up()
    buoy.settle()
    assert buoy.tab.locator(SIGN).get_attribute("data-x") == before


def test_a_turn_of_its_own_and_the_length_of_all_cycles_are_offered(buoy):
    buoy.select("logo")
    for name, how in (("rotation", "repeat"), ("scale", "alternate")):
        shop = buoy.served.shop
        edit = SetBeyond(scene="pennant", lanes=(Lane(layer="logo", property=name),), how=how)
        shop.commit("quillhaven", shop.projects.open("quillhaven").revision, edit)
    buoy.press("Shift+E")
    drawer = buoy.tab.locator("#drawer")
    # 26 frames of turning, twice 22 of growing: 572.
    expect(drawer).to_contain_text("every 0:22:22 (572 frames)")
    expect(drawer).to_contain_text("Turns of their own that do not meet")
    drawer.get_by_text("Close its turn").first.click()
    buoy.settle()
    logo = lane(buoy, "logo", "rotation")
    assert logo.keys[0].value % 360 == pytest.approx(logo.keys[-1].value % 360)
    drawer.get_by_text("Fit the loop to that").click()
    buoy.settle()
    assert buoy.served.document().scene("pennant").frames == 572
