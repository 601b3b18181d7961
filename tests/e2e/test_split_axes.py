"""A position whose axes go each for itself: two numbers, two lanes, its way and dots, and a menu for each number."""

from playwright.sync_api import expect

from deftarc.core.edit.samples import SplitAxes


def split(bench, layer):
    shop = bench.served.shop
    revision = shop.projects.open("quillhaven").revision
    shop.commit("quillhaven", revision, SplitAxes(scene="crossing", layer=layer, split=True))
    bench.open("/projects/quillhaven")
    bench.select(layer)


def test_without_keys_it_shows_two_numbers_and_two_lanes(bench):
    split(bench, "title")
    for name in ("position_x", "position_y"):
        expect(bench.well(name)).to_be_visible()
        expect(bench.tab.locator(f"#lane-title-{name}")).to_be_visible()


def test_what_its_menu_offers_on_y_acts_on_y(bench):
    split(bench, "title")
    bench.go(20)
    bench.tab.locator('#figures .well[data-property="position_y"]').click(button="right")
    bench.tab.get_by_role("menuitem", name="Set a key here").click()
    bench.settle()
    assert bench.track("title", "position_y").keys
    assert not bench.track("title", "position_x").keys


def test_it_keeps_its_way_and_dots_on_the_picture(bench):
    bench.select("gull")
    dots = bench.tab.locator("#overlay .path-dots:not(.other)")
    before = dots.first.get_attribute("d")
    split(bench, "gull")
    expect(bench.tab.locator("#overlay .path-line.trail")).to_have_count(1)
    assert dots.first.get_attribute("d") == before
    # Of another selected layer, too.
    bench.row("mist").click(modifiers=["Control"])
    bench.settle()
    expect(bench.tab.locator("#overlay .path-line.trail.other")).to_have_count(1)


def test_a_tolerance_being_tried_goes_with_what_it_is_about(bench):
    bench.select("gull")
    bench.tab.locator('#figures .well[data-property="position"]').first.click(button="right")
    bench.tab.get_by_role("menuitem", name="Split into x and y…").click()
    expect(bench.tab.locator("#tolerance")).to_be_visible()
    bench.select("title")
    expect(bench.tab.locator("#tolerance")).to_be_hidden()
    assert not bench.served.document().scene("crossing").layer("gull").axes_split
    bench.select("gull")
    bench.tab.locator('#figures .well[data-property="position"]').first.click(button="right")
    bench.tab.get_by_role("menuitem", name="Split into x and y…").click()
    bench.settle()
    bench.press("Enter")
    bench.until(lambda: bench.served.document().scene("crossing").layer("gull").axes_split)
