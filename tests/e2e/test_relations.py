"""Relations in the workbench: a lane let follow another from the list, by dropping it, or for several at once; how it
does changed; stretch, tails, and what becomes of it all.
"""

import math

import pytest
from playwright.sync_api import expect

AT = 29_400_000


def links(bench, name):
    return bench.served.document().scene("crossing").layer(name).links


def told(bench, name, lane="rotation"):
    """A lane's value at the playhead, as its name has it beside it."""
    return float(bench.tab.locator(f"#lane-{name}-{lane} output").inner_text().replace("−", "-"))


def turned(bench, name, frame):
    """Degrees a layer is turned by in the picture at a frame."""
    a, b = bench.tab.evaluate(
        "([name, frame]) => Array.from(window.deftarc.state.items.get(name).numbers.slice(7 * frame, 7 * frame + 2))",
        [name, frame],
    )
    return math.degrees(math.atan2(b, a))


def lane_drag(bench, lane, to, release=True, hold=()):
    """A lane's name dragged onto another row."""
    start = bench.tab.locator(f"#{lane} .gutter").bounding_box()
    end = bench.tab.locator(f"#{to} .gutter").bounding_box()
    a, b = ((box["x"] + 30, box["y"] + box["height"] / 2) for box in (start, end))
    bench.drag(a, b, release=release, hold=hold)


def test_what_to_follow_is_found_by_words_tried_and_taken(bench):
    bench.select("title")
    bench.press("Shift+Q")
    field = bench.tab.locator("#drawer [data-drawer-find]")
    expect(field).to_be_focused()
    expect(bench.tab.locator("#drawer-title")).to_have_text("Rotation of Lettering follows…")
    bench.tab.keyboard.type("rotation gull")
    bench.settle()
    row = bench.tab.locator("#drawer [data-follow-edit]")
    expect(row).to_have_count(1)
    # Pointed at, it is tried: the picture turns, and nothing is kept yet.
    row.hover()
    bench.settle()
    assert bench.shown("rotation") == -16
    assert not links(bench, "title")
    field.press("Enter")
    bench.settle()
    assert links(bench, "title")["rotation"].source.layer == "gull"
    # It is shown as what it is: in its lane, in the pair, and on its page of the figures.
    lane = bench.tab.locator("#lane-title-rotation .follows")
    expect(lane).to_contain_text("Rotation of Gull")
    expect(bench.tab.locator("#pair .pair-gutter")).to_contain_text("Lettering follows Rotation of Gull")
    expect(bench.tab.locator("path.value.followed")).to_have_count(1)
    expect(bench.tab.locator("[data-follow-row=rotation]")).to_contain_text("Rotation of Gull")
    # The source moved, it moves along while the hand drags.
    was = turned(bench, "title", 62)
    bead = bench.middle(bench.bead("gull", "rotation", 1))
    bench.drag(bead, (bead[0] + 40, bead[1]), release=False)
    assert turned(bench, "title", 62) == pytest.approx(turned(bench, "gull", 62))
    assert turned(bench, "title", 62) != pytest.approx(was)
    bench.tab.keyboard.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    assert turned(bench, "title", 62) == pytest.approx(was)
    # A click on the name goes to what it follows.
    lane.click()
    bench.settle()
    assert bench.tab.evaluate("window.deftarc.state.layers[0]") == "gull"
    bench.press("Control+z")
    assert not links(bench, "title")


def test_its_numbers_are_typed_and_dragged_and_it_is_made_into_keys(bench):
    bench.select("line")
    bench.press("Shift+Q")
    bench.tab.keyboard.type("rotation gull")
    bench.settle()
    bench.tab.keyboard.press("Enter")
    bench.settle()
    bench.go(62)
    assert told(bench, "line") == 4
    row = bench.tab.locator("[data-follow-row=rotation]")
    row.locator("[data-follow-do=opposite]").click()
    bench.settle()
    assert told(bench, "line") == -4
    lag = row.locator("[data-follow-lag]")
    lag.fill("54")
    lag.press("Enter")
    bench.settle()
    assert links(bench, "line")["rotation"].lag == 54 * AT
    assert told(bench, "line") == 16
    offset = row.locator('[data-follow-field="offset"] input')
    offset.fill("+=5")
    offset.press("Enter")
    bench.settle()
    assert told(bench, "line") == 21
    grip = bench.middle(row.locator('[data-follow-field="factor"] .grip'))
    bench.drag(grip, (grip[0] + 50, grip[1]), release=False)
    assert told(bench, "line") == pytest.approx(21 - 0.5 * 16)
    bench.tab.mouse.up()
    bench.settle()
    # By two ranges: as the gull goes from -16 to 10, this goes from 0 to 90, and no further.
    row.locator("[data-follow-do=ranged]").click()
    bench.settle()
    for field, component, text in (("over", 0, "-16"), ("over", 1, "10"), ("onto", 0, "0"), ("onto", 1, "90")):
        well = row.locator(f'[data-follow-field="{field}"][data-component="{component}"] input')
        well.fill(text)
        well.press("Enter")
        bench.settle()
    row.locator("[data-follow-do=held]").click()
    bench.settle()
    assert told(bench, "line") == pytest.approx(0, abs=0.01)
    made = links(bench, "line")["rotation"]
    assert (made.over, made.held) == ((-16.0, 10.0), True)
    row.locator("[data-follow-do=keys]").click()
    bench.settle()
    assert not links(bench, "line")
    assert len(bench.track("line", "rotation").keys) > 1
    assert told(bench, "line") == pytest.approx(0, abs=0.06)


def test_a_lane_dropped_on_another_follows_it_and_with_alt_its_opposite(bench):
    bench.select("mist")
    bench.go(40)
    before = bench.shown("position")
    lane_drag(bench, "lane-mist-position", "lane-gull-rotation", release=False)
    # Tried while the hand is there; put back it never was.
    expect(bench.tab.locator("#hint")).to_contain_text("Let Position follow Gull")
    bench.tab.keyboard.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    assert not links(bench, "mist")
    lane_drag(bench, "lane-mist-position", "lane-gull-position")
    bench.settle()
    assert links(bench, "mist")["position"].source.layer == "gull"
    assert bench.shown("position") == before
    # Its own path lies where that puts it: its keys are taken hold of there.
    expect(bench.tab.locator("#overlay .path-key").first).to_be_visible()
    lane_drag(bench, "lane-mist-opacity", "layer-gull", hold=("Alt",))
    bench.settle()
    assert links(bench, "mist")["opacity"].factor == -1
    assert links(bench, "mist")["opacity"].source.what == "opacity"


def test_the_same_later_a_tail_and_carried_later_are_one_step_each(bench):
    bench.select("gull")
    for name in ("title", "line"):
        bench.tab.locator(f'[data-select="{name}"]').click(modifiers=["Control"])
    bench.settle()
    # What was selected first leads, whichever shows in the figures.
    assert bench.tab.evaluate("window.deftarc.state.layers[0]") == "line"
    bench.press("Shift+Z")
    # Tried at once, and typed in the bar; each comes as much later than the one before.
    field = bench.tab.locator("#trial [data-trial='lag']")
    expect(field).to_be_focused()
    assert not links(bench, "title")
    field.fill("6")
    bench.settle()
    field.press("Enter")
    bench.settle()
    assert [links(bench, name)["rotation"].lag // AT for name in ("title", "line")] == [6, 12]
    bench.press("Control+z")
    assert not links(bench, "title")
    bench.press("c")
    bench.tab.keyboard.type("a tail")
    bench.tab.keyboard.press("Enter")
    expect(field).to_be_focused()
    field.fill("4")
    bench.settle()
    field.press("Enter")
    bench.settle()
    scene = bench.served.document().scene("crossing")
    carried = {name: scene.layer(name).parent for name in ("title", "line")}
    assert carried == {"title": "gull", "line": "title"}
    assert all(scene.layer(name).later.position == 4 * AT for name in carried)
    # Told apart on the page of relations: the turn comes on its own.
    bench.select("title")
    bench.tab.locator('[data-page="relations"]').click()
    bench.settle()
    bench.tab.locator("[data-later-apart]").click()
    bench.settle()
    turn = bench.tab.locator('[data-later="rotation"]')
    turn.fill("9")
    turn.press("Enter")
    bench.settle()
    later = bench.served.document().scene("crossing").layer("title").later
    assert (later.position, later.rotation) == (4 * AT, 9 * AT)


def test_it_stretches_along_its_way_and_its_numbers_are_keyed(bench):
    bench.select("gull")
    bench.go(100)
    row = "Array.from(window.deftarc.state.items.get('gull').numbers.slice(700, 704))"
    before = bench.tab.evaluate(row)
    bench.tab.locator('[data-page="relations"]').click()
    bench.tab.locator('#figures [data-do="stretch-with-speed"]').click()
    bench.settle()
    after = bench.tab.evaluate(row)
    area = lambda m: m[0] * m[3] - m[1] * m[2]  # noqa: E731
    assert after != before
    assert area(after) == pytest.approx(area(before), rel=1e-5)
    bench.tab.locator("#keying").click()
    bench.type("stretch", "60")
    bench.tab.locator("#keying").click()
    assert bench.track("gull", "stretch").keys[0].value == 0.6
    bench.tab.locator('#figures [data-do="stretch-with-speed"]').click()
    bench.settle()
    assert bench.tab.evaluate(row) == before


def test_what_it_followed_deleted_it_has_keys_and_it_is_said(bench):
    bench.select("title")
    bench.press("Shift+Q")
    bench.tab.keyboard.type("rotation gull")
    bench.settle()
    bench.tab.keyboard.press("Enter")
    bench.settle()
    bench.go(62)
    shown = told(bench, "title")
    bench.select("gull")
    bench.press("Delete")
    expect(bench.tab.locator("#notices")).to_contain_text(
        "Rotation of Lettering followed Rotation of Gull, which is gone"
    )
    bench.select("title")
    assert told(bench, "title") == pytest.approx(shown, abs=0.06)
    bench.press("Control+z")
    assert links(bench, "title")


def test_a_circle_cannot_be_chosen_and_says_why(bench):
    bench.select("title")
    bench.press("Shift+Q")
    bench.tab.keyboard.type("rotation gull")
    bench.settle()
    bench.tab.keyboard.press("Enter")
    bench.settle()
    bench.select("gull")
    bench.tab.locator("#lane-gull-rotation .gutter").click()
    bench.press("Shift+Q")
    bench.tab.keyboard.type("rotation lettering")
    bench.settle()
    row = bench.tab.locator("#drawer [data-follow-edit]")
    expect(row).to_be_disabled()
    expect(row).to_have_attribute("title", "These would drive each other in a circle: Rotation of Gull → Rotation of "
                                  "Lettering → Rotation of Gull. Let one of them follow something else.")  # fmt: skip
