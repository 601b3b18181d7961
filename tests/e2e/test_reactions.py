"""Reactions in the workbench: what a motion does answered by a lane, its numbers changed, left as keys, and followed."""

import pytest
from playwright.sync_api import expect

from deftarc.core.edit.samples import SplitAxes
from deftarc.core.edit.spans import MoveSpans
from tests.e2e.conftest import Workbench
from tests.e2e.test_hands import commit

FRAME = 29_400_000


@pytest.fixture
def buoy(bench):
    bench.tab.locator("#scene").select_option(label="Buoy")
    bench.settle()
    return bench


def layer(bench, name):
    return bench.served.document().scene("buoy").layer(name)


def frames(bench, name, lane):
    return [round(time / FRAME, 1) for time in layer(bench, name).track(lane).key_times]


def test_a_motion_is_answered_changed_and_followed(buoy):
    buoy.select("moon")
    buoy.press("Control+Shift+A")
    expect(buoy.tab.locator("#drawer-title")).to_have_text("Rotation of Moon answers…")
    buoy.tab.keyboard.type("drop")
    buoy.settle()
    choice = buoy.tab.locator("#drawer [data-react-edit]", has_text="1 contact").first
    buoy.go(32)
    choice.hover()
    buoy.settle()
    # Tried: the picture shows it, and nothing is kept.
    assert buoy.shown("rotation") == 15
    assert not layer(buoy, "moon").reactions
    choice.click()
    buoy.settle()
    assert frames(buoy, "moon", "rotation") == [30, 32, 42]
    expect(buoy.tab.locator("#lane-moon-rotation .answers")).to_contain_text("contacts of Position of Drop")
    figures = buoy.tab.locator("#figures [data-react-row=rotation]")
    by = figures.locator("[data-react-field=amount]")
    by.fill("*=2")
    by.press("Enter")
    buoy.settle()
    assert layer(buoy, "moon").track("rotation").value_at(32 * FRAME) == 30
    rings = figures.locator("[data-react-field=rings]")
    rings.fill("3")
    rings.press("Enter")
    buoy.settle()
    assert len(frames(buoy, "moon", "rotation")) == 6
    # One of them is left out, and answered again.
    pulse = figures.locator("[data-react-turn]")
    expect(pulse).to_have_text("30f")
    pulse.click()
    buoy.settle()
    assert frames(buoy, "moon", "rotation") == []
    pulse.click()
    buoy.settle()
    # As its motion comes later, so does what answers it; in a fresh page it is all the same.
    commit(buoy, MoveSpans(scene="buoy", layers=("drop",), by=5 * FRAME))
    expect(buoy.tab.locator("#figures [data-react-turn]")).to_have_text("35f")
    assert frames(buoy, "moon", "rotation")[:2] == [35, 37]
    buoy.tab.reload()
    buoy.tab.wait_for_function("() => window.deftarc && window.deftarc.state.order")
    buoy.settle()
    assert frames(buoy, "moon", "rotation")[:2] == [35, 37]


def test_it_is_left_as_keys_ended_and_let_go_by_a_hand(buoy):
    buoy.select("ring")
    buoy.tab.locator('[data-page="relations"]').click()
    buoy.settle()
    before = layer(buoy, "ring").tracks
    row = buoy.tab.locator("#figures [data-react-row=scale]")
    row.locator("[data-react-do=keys]").click()
    buoy.settle()
    assert list(layer(buoy, "ring").reactions) == ["opacity"]
    assert layer(buoy, "ring").tracks == before
    buoy.press("Control+z")
    assert sorted(layer(buoy, "ring").reactions) == ["opacity", "scale"]
    row.locator("[data-react-do=end]").click()
    buoy.settle()
    assert not layer(buoy, "ring").track("scale").keys
    buoy.press("Control+z")
    # A key moved by hand: it is nothing but keys from then on, and that is said.
    bead = buoy.tab.locator("#lane-ring-opacity .bead").nth(1)
    x, y = buoy.middle(bead)
    buoy.drag((x, y), (x + 60, y))
    expect(buoy.tab.locator("#notices, .notice").first).to_contain_text("answers nothing any more")
    assert list(layer(buoy, "ring").reactions) == ["scale"]


def test_squash_at_contacts_and_marks_in_lane_and_path(buoy):
    buoy.select("drop")
    expect(buoy.tab.locator("#lane-drop-position .events .contact")).to_have_count(1)
    expect(buoy.tab.locator("#overlay .event.contact")).to_have_count(1)
    buoy.tab.locator('[data-page="relations"]').click()
    buoy.settle()
    buoy.tab.locator("#figures [data-do=squash]").click()
    buoy.settle()
    drop = layer(buoy, "drop")
    assert drop.scale_link == "area"
    assert drop.number("pivot_y").value == pytest.approx(11)
    assert frames(buoy, "drop", "scale") == [29, 30, 35]
    assert drop.track("scale").value_at(30 * FRAME) == pytest.approx(1.35)
    buoy.press("Control+z")
    assert layer(buoy, "drop").scale_link == "linked"


def test_what_cannot_answer_says_so_and_an_empty_scene_teaches(buoy):
    buoy.select("drop")
    buoy.press("Control+Shift+A")
    expect(buoy.tab.locator("#drawer-title")).to_have_text("Rotation of Drop answers…")
    buoy.press("Escape")
    buoy.tab.locator("#scene").select_option(label="Bell")
    buoy.settle()
    buoy.select("rim")
    buoy.press("Control+Shift+A")
    buoy.tab.keyboard.type("nothing of the kind")
    buoy.settle()
    expect(buoy.tab.locator("#drawer")).to_contain_text("Nothing that moves is called that.")


def test_several_answer_together_and_another_window_sees_it_live(buoy):
    buoy.select("moon")
    buoy.row("ring").click(modifiers=["Control"])
    buoy.settle()
    page = buoy.tab.context.new_page()
    other = Workbench(page, buoy.served, "/projects/quillhaven?scene=buoy")
    buoy.tab.bring_to_front()
    buoy.press("Control+Shift+A")
    expect(buoy.tab.locator("#drawer-title")).to_have_text("Rotation of 2 layers answers…")
    buoy.tab.keyboard.type("drop")
    buoy.settle()
    buoy.tab.keyboard.press("Enter")
    buoy.settle()
    assert frames(buoy, "moon", "rotation") == frames(buoy, "ring", "rotation") == [30, 32, 42]
    # The drop is split, and falls between frames: both go along, and the other window shows what this one does.
    commit(buoy, SplitAxes(scene="buoy", layer="drop", split=True))
    commit(buoy, MoveSpans(scene="buoy", layers=("drop",), by=FRAME // 2))
    assert frames(buoy, "moon", "rotation") == [30.5, 32.5, 42.5]
    page.bring_to_front()
    for each in (other, buoy):
        each.go(32)
    other.until(lambda: drawn(other) == drawn(buoy))
    assert abs(drawn(other)[1]) > 0.05
    page.close()
    buoy.tab.bring_to_front()
    buoy.press("Control+z")
    buoy.press("Control+z")
    assert frames(buoy, "moon", "rotation") == [30, 32, 42]


def drawn(bench):
    """The moon's matrix at frame 32 in what a window has been sent."""
    return bench.tab.evaluate("[...window.deftarc.state.items.get('moon').numbers.slice(7 * 32, 7 * 32 + 6)]")


def test_a_line_is_struck_and_the_points_that_are_selected_go(buoy):
    buoy.tab.get_by_role("button", name="Add", exact=True).click()
    buoy.tab.locator("#add-menu [data-add=line]").click()
    buoy.settle()
    buoy.drag(buoy.client(150, 640), buoy.client(420, 640))
    line = buoy.state["layers"][0]
    buoy.go(32)
    buoy.press("Control+Shift+A")
    expect(buoy.tab.locator("#drawer-title")).to_have_text("Outline of Line answers…")
    buoy.press("Enter")
    track = layer(buoy, line).track("outline")
    assert len(track.keys) == 8
    # The middle of the line is bent down by the full amount two frames after the hit.
    bent = track.at(32 * FRAME)
    assert bent[5] == pytest.approx(40 * 4 / 3, rel=1e-3)
    # One point alone goes, the way it is told: to the right.
    buoy.press("p")
    buoy.tab.locator("#overlay .outline-point, #overlay [data-point]").last.click()
    buoy.settle()
    row = buoy.tab.locator("#figures [data-react-row=outline]")
    row.locator("[data-react-do=points]").click()
    buoy.settle()
    row.locator("[data-react-do=aimed]").click()
    buoy.settle()
    way = row.locator("[data-react-field=way]")
    way.fill("0")
    way.press("Enter")
    buoy.settle()
    expect(row.locator("[data-react-do=points]")).to_have_text("1 point")
    rest, bent = (layer(buoy, line).track("outline").at(frame * FRAME) for frame in (0, 32))
    moved = [b - a for a, b in zip(rest, bent, strict=True)]
    assert sorted(round(each, 3) for each in moved)[-1] == 40
    assert sum(abs(each) > 1e-6 for each in moved) == 1


def lets_moon_answer(buoy, label):
    """One of the moon's properties, open in the figures, answers what the list has first."""
    buoy.tab.locator("#figures .label").get_by_text(label, exact=True).click()
    buoy.settle()
    buoy.press("Control+Shift+A")
    expect(buoy.tab.locator("#drawer-title")).to_have_text(f"{label} of Moon answers…")
    buoy.press("Enter")


def test_a_position_jolts_where_it_is_hit(buoy):
    buoy.select("moon")
    lets_moon_answer(buoy, "Position")
    path = layer(buoy, "moon").track("position")
    down = path.at(32 * FRAME)[1] - path.at(0)[1]
    assert down == pytest.approx(40, abs=0.01)
    assert path.at(60 * FRAME) == pytest.approx(path.at(0))


def test_a_colour_flashes_and_its_peak_is_chosen(buoy):
    buoy.select("moon")
    buoy.tab.locator('[data-page="look"]').click()
    buoy.settle()
    lets_moon_answer(buoy, "Fill")
    fill = layer(buoy, "moon").track("fill")
    assert fill.at(31 * FRAME) == pytest.approx((1, 1, 1, 1), abs=1e-3)
    assert fill.at(60 * FRAME) == pytest.approx(fill.at(0), abs=1e-6)
    buoy.tab.locator("#figures [data-react-colour]").fill("#ff0000")
    buoy.settle()
    assert layer(buoy, "moon").track("fill").at(31 * FRAME) == pytest.approx((1, 0, 0, 1), abs=1e-3)
    buoy.press("Control+z", "Control+z")
    assert not layer(buoy, "moon").reactions
