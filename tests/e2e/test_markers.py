"""Markers in the workbench: tapped while it plays, dragged, named, stepped through, listed; keys snap and go to them."""

import pytest
from playwright.sync_api import expect

AT = 29_400_000


def marks(bench, layer=None):
    scene = bench.served.document().scene("crossing")
    return [(m.time / AT, m.name) for m in (scene.markers if layer is None else scene.layer(layer).markers)]


def step(bench):
    """Px of a frame."""
    return bench.tab.evaluate(f"(({{axis}}) => {AT} / (axis.end - axis.start) * axis.width)(window.deftarc.state)")


def pennant(bench, nth):
    return bench.middle(bench.tab.locator("#marks .pennant").nth(nth))


def test_markers_are_tapped_while_it_plays_and_undone_one_by_one(bench):
    bench.press(" ")
    for _ in range(3):
        bench.tab.wait_for_timeout(130)
        bench.tab.keyboard.press("'")
    bench.press(" ")
    bench.until(lambda: len(marks(bench)) == 3)
    frames = [frame for frame, _ in marks(bench)]
    assert all(frame == int(frame) for frame in frames)
    assert frames[0] < frames[1] < frames[2] <= bench.state["frame"]
    bench.press("Control+z", "Control+z")
    assert [frame for frame, _ in marks(bench)] == frames[:1]


def test_a_marker_is_dragged_live_snaps_is_named_deleted_and_put_back(bench):
    bench.go(48)
    bench.press("'")
    bench.go(10)
    frame = step(bench)
    x, y = pennant(bench, 0)
    # Near a key of the gull at 62 it is drawn there; Escape puts it back.
    bench.drag((x, y), (x + 14 * frame + 4, y), release=False)
    assert bench.middle(bench.tab.locator("#marks .pennant"))[0] == pytest.approx(x + 14 * frame, abs=1.5)
    bench.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    assert marks(bench) == [(48, "")]
    bench.drag((x, y), (x + 14 * frame + 4, y))
    assert marks(bench) == [(62, "")]
    # A click goes there, a double click names it.
    bench.tab.mouse.click(*pennant(bench, 0))
    bench.settle()
    assert bench.state["frame"] == 62
    bench.tab.mouse.dblclick(*pennant(bench, 0))
    dialog = bench.tab.locator("#ask-dialog input")
    dialog.fill("Lantern")
    dialog.press("Enter")
    bench.settle()
    expect(bench.tab.locator("#marks .pennant text")).to_have_text("Lantern")
    bench.press("Delete")
    assert marks(bench) == []
    bench.press("Control+z")
    assert marks(bench) == [(62, "Lantern")]


def test_keys_snap_to_markers_go_to_the_nearest_and_a_layer_takes_its_own_along(bench):
    bench.go(51)
    bench.press("'")
    bench.select("gull")
    bench.go(70)
    bench.press('"')
    frame = step(bench)
    x, y = bench.middle(bench.bead("gull", "rotation", 1))
    bench.drag((x, y), (x - 11 * frame + 4, y), release=False)
    expect(bench.tab.locator("#snap-line")).to_contain_text("a marker")
    bench.tab.mouse.up()
    bench.settle()
    assert [time / AT for time in bench.track("gull", "rotation").key_times] == [8, 51, 118]
    # All three rotation keys: the first and last stay, nearer ones are there.
    bench.bead("gull", "scale", 0).click()
    bench.settle()
    bench.press("Shift+J")
    assert [time / AT for time in bench.track("gull", "scale").key_times] == [70, 96]
    # The layer moved in time takes its marker with it.
    span = bench.tab.locator('#layer-gull [data-span="move"]').bounding_box()
    start = (span["x"] + 60, span["y"] + span["height"] / 2)
    bench.drag(start, (start[0] + 5 * frame, start[1]), hold=("Alt",))
    assert marks(bench, "gull") == [(75, "")]


def test_the_list_makes_a_row_from_a_tempo_types_plays_between_and_steps(bench):
    bench.press("Shift+P")
    drawer = bench.tab.locator("#drawer")
    drawer.locator("[name=tempo]").fill("90")
    drawer.locator("[name=beats]").fill("3")
    drawer.get_by_text("Mark from here").click()
    bench.settle()
    assert marks(bench)[:4] == [(0, "1"), (16, ""), (32, ""), (48, "2")]
    name = drawer.locator('[data-marker-field="name"]').nth(1)
    name.fill("Oars")
    name.press("Enter")
    bench.settle()
    when = drawer.locator('[data-marker-field="time"]').nth(1)
    when.fill("0:00:20")
    when.press("Enter")
    bench.settle()
    assert marks(bench)[1] == (20, "Oars")
    drawer.locator('[data-marker-field="tag"]').nth(1).select_option("pine")
    bench.settle()
    drawer.get_by_text("Play", exact=True).nth(1).click()
    bench.settle()
    assert bench.served.document().scene("crossing").play_range == (20 * AT, 32 * AT)
    assert bench.state["playing"]
    bench.tab.locator("#drawer-body .go-mark").nth(3).click()
    bench.settle()
    bench.press(" ")
    bench.press("Shift+P", "Control+.")
    assert bench.served.document().scene("crossing").markers[1].tag == "pine"
    bench.go(50)
    bench.press("Control+,", "Control+,")
    assert bench.state["frame"] == 32
    # After a reload, and in another window, they stand there still.
    other = bench.tab.context.new_page()
    other.goto(bench.tab.url)
    expect(other.locator("#marks .pennant")).to_have_count(9)
    bench.press("'")
    expect(bench.tab.locator("#notices")).to_contain_text("stands at this frame already")
    bench.tab.troubles.clear()
    bench.go(40)
    bench.press("'")
    expect(other.locator("#marks .pennant")).to_have_count(10)
