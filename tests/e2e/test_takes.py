"""Takes in the workbench: begun, laid over what shows, switched while it plays, copied from, deleted and brought back."""

import pytest
from playwright.sync_api import expect

AT = 29_400_000


def frames(bench, name="position"):
    return [time / AT for time in bench.track("gull", name).key_times]


def drag_key(bench, name, index, by):
    x, y = bench.middle(bench.bead("gull", name, index))
    step = bench.tab.evaluate(f"(({{axis}}) => {AT} / (axis.end - axis.start) * axis.width)(window.deftarc.state)")
    bench.drag((x, y), (x + by * step, y), hold=("Alt",))


def picture(bench):
    return bench.tab.evaluate("document.getElementById('picture').toDataURL()")


@pytest.fixture
def gull(bench):
    """The gull with two takes: in the second, which shows, its way begins ten frames later."""
    bench.select("gull")
    bench.press("Shift+N")
    drag_key(bench, "position", 0, 10)
    assert frames(bench)[0] == 18
    return bench


def test_a_take_is_laid_over_the_picture_the_lanes_and_the_curves_and_follows_the_playhead(gull):
    chip = gull.tab.locator("#takes")
    expect(chip).to_have_text("Take 2 · 2 of 2")
    gull.go(24)
    plain = picture(gull)
    gull.press("Shift+D")
    gull.until(lambda: picture(gull) != plain)
    laid = picture(gull)
    lane = gull.tab.locator("#lane-gull-position .take-ghost")
    expect(lane).to_have_count(1)
    expect(gull.tab.locator("#lane-gull-rotation .take-ghost")).to_have_count(0)
    expect(gull.tab.locator("#pair .take-ghost")).to_have_count(2)
    # After both have arrived they are one: the ghost lies under what shows.
    gull.go(62)
    gull.press("Shift+D")
    expect(lane).to_have_count(0)
    gull.go(24)
    assert picture(gull) == plain != laid
    # What shows while a key is dragged is this take; the ghost stays where it was.
    gull.press("Shift+D")
    before = lane.get_attribute("d")
    x, y = gull.middle(gull.bead("gull", "position", 0))
    gull.drag((x, y), (x + 20, y), release=False)
    assert lane.get_attribute("d") == before
    gull.press("Escape")
    gull.tab.mouse.up()


def test_takes_are_switched_while_it_plays_and_after_undo_and_a_reload(gull):
    gull.press(" ")
    gull.press("Shift+A")
    assert gull.state["playing"]
    assert frames(gull)[0] == 8
    expect(gull.tab.locator("#takes")).to_have_text("Take 1 · 1 of 2")
    gull.press("Shift+A")
    assert gull.state["playing"]
    assert frames(gull)[0] == 18
    gull.press(" ", "Control+z")
    assert frames(gull)[0] == 8
    gull.open("/projects/quillhaven")
    gull.select("gull")
    expect(gull.tab.locator("#takes")).to_have_text("Take 1 · 1 of 2")
    gull.press("Shift+A")
    assert frames(gull)[0] == 18


def test_the_list_names_tells_what_differs_copies_deletes_and_brings_back(gull):
    gull.press("Shift+C")
    drawer = gull.tab.locator("#drawer")
    name = drawer.locator("[data-take-name]").nth(0)
    name.fill("Calm")
    name.press("Enter")
    gull.settle()
    drawer.get_by_text("Lay over").click()
    gull.settle()
    rows = drawer.locator("li", has=gull.tab.locator(".row-go"))
    expect(rows).to_have_count(1)
    expect(rows).to_contain_text("Position of Gull other times")
    # Given to the other, it has it from now on; undone, and taken over here.
    rows.get_by_text("Give it").click()
    gull.settle()
    expect(drawer).to_contain_text("Calm has nothing otherwise")
    gull.press("Control+z")
    rows.get_by_text("Take it over").click()
    gull.settle()
    assert frames(gull)[0] == 8
    drawer.locator("li[data-take]").nth(0).get_by_title("Delete it").click()
    gull.settle()
    expect(drawer).to_contain_text("Begin another take")
    expect(gull.tab.locator("#takes")).to_be_hidden()
    gull.tab.locator("#notices").get_by_text("Bring it back").click()
    gull.settle()
    takes = gull.served.document().scene("crossing").takes[0].takes
    assert sorted(take.name for take in takes) == ["Calm", "Take 2"]
    drawer.get_by_role("button", name="Show", exact=True).click()
    gull.settle()
    assert frames(gull)[0] == 8
