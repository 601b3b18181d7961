"""Keys by the dozen, finding one's way in the lanes, and playing."""

import pytest
from playwright.sync_api import expect

FRAME = 29_400_000


def at(frame):
    return frame * FRAME


def px_a_frame(bench):
    return bench.tab.evaluate("(f => f.width / (f.end - f.start))(window.deftarc.state.axis)") * FRAME


def test_colours_stroke_widths_and_outlines_are_keyed(bench):
    bench.select("sun")
    bench.tab.locator("[data-page=look]").click()
    bench.settle()
    bench.tab.locator('[data-key="fill"]').click()
    bench.settle()
    bench.go(24)
    bench.press("!")
    bench.tab.locator('[data-colour="fill"]').fill("#1f5c6b")
    bench.settle()
    assert bench.track("sun", "fill").key_times == [0, at(24)]
    expect(bench.tab.locator("#lane-sun-fill .bead")).to_have_count(2)
    expect(bench.tab.locator("#lane-sun-fill .swatch")).to_have_count(2)
    bench.bead("sun", "fill", 0).click()
    bench.settle()
    bench.tab.get_by_role("button", name="Slow ends").click()
    bench.settle()
    assert bench.track("sun", "fill").keys[0].leaving.reach == 0.42
    painted = bench.tab.evaluate("window.deftarc.state.items.get('sun').look.fill.rows")
    assert painted == 144


def test_what_keying_changes_keyed_is_listed_and_taken_back_at_once(bench):
    bench.select("ferry")
    before = bench.track("ferry", "rotation")
    bench.go(60)
    bench.press("!")
    bench.type("rotation", "9")
    bench.type("opacity", "50")
    expect(bench.tab.locator("#keyed-count")).to_have_text(" · 2")
    bench.tab.locator("#keyed-open").click()
    expect(bench.tab.locator(".keyed-list")).to_contain_text("Ferry · Rotation · 0:02:12")
    bench.tab.get_by_role("button", name="Take all of these back").click()
    bench.tab.wait_for_function("() => window.deftarc.state.history.undo?.startsWith('Take back')")
    bench.settle()
    assert bench.track("ferry", "rotation").key_times == before.key_times
    assert not bench.track("ferry", "opacity").keys
    bench.press("Escape", "Control+z")
    assert bench.track("ferry", "opacity").key_times == [at(60)]


def test_a_key_is_put_in_the_upper_curve_at_time_and_value_and_typed(bench):
    bench.tab.locator('[data-focus="rotation"]').first.click()
    bench.settle()
    pair = bench.tab.evaluate("window.deftarc.state.pair.value")
    svg = bench.tab.locator("svg.pair").bounding_box()
    x = svg["x"] + bench.tab.evaluate(
        "t => { const a = window.deftarc.state.axis; return (t - a.start) / (a.end - a.start) * a.width; }", at(90)
    )
    y = svg["y"] + pair["top"] + 20
    bench.tab.mouse.dblclick(x, y)
    bench.settle()
    told = bench.track("gull", "rotation")
    assert at(90) in told.key_times
    value = pair["low"] + (1 - 20 / pair["height"]) * (pair["high"] - pair["low"])
    assert told.value_at(at(90)) == pytest.approx(value, abs=1)
    bench.bead("gull", "rotation", 2).click()
    bench.settle()
    bench.tab.locator("[data-key-value]").fill("-=5")
    bench.tab.locator("[data-key-value]").press("Enter")
    bench.settle()
    assert bench.track("gull", "rotation").value_at(at(90)) == pytest.approx(value - 5, abs=1)
    bench.tab.locator("[data-key-time]").fill("-10")
    bench.tab.locator("[data-key-time]").press("Enter")
    bench.settle()
    assert bench.track("gull", "rotation").key_times[0] == at(-10)


def test_keys_snap_to_other_keys_and_the_playhead_with_a_line_that_says_so(bench):
    bench.go(50)
    bench.bead("mist", "opacity", 1).click()
    bench.settle()
    x, y = bench.middle(bench.bead("mist", "opacity", 1))
    step = px_a_frame(bench)
    bench.drag((x, y), (x - 60 * step + 5, y), steps=8, release=False)
    expect(bench.tab.locator("#snap-line span")).to_contain_text("the playhead")
    bench.tab.mouse.up()
    bench.settle()
    assert bench.track("mist", "opacity").key_times[1] == at(50)
    bench.press("ArrowRight")
    assert bench.track("mist", "opacity").key_times[1] == at(51)


def test_motion_is_cleared_and_the_end_kept_while_the_start_is_defined(bench):
    bench.select("gull")
    bench.go(20)
    shown = bench.shown("rotation")
    bench.tab.locator('[data-row="rotation"]').click(button="right")
    bench.tab.get_by_role("menuitem", name="Clear its motion").click()
    bench.settle()
    assert bench.track("gull", "rotation").keys == ()
    assert bench.shown("rotation") == pytest.approx(shown, abs=0.1)
    bench.tab.locator('[data-row="rotation"]').click(button="right")
    bench.tab.get_by_role("menuitem", name="Keep as the end pose").click()
    bench.tab.locator("#ask-dialog input").fill("40")
    bench.tab.locator("#ask-dialog input").press("Enter")
    bench.tab.wait_for_function("() => window.deftarc.state.history.undo?.startsWith('Keep the look')")
    bench.settle()
    assert bench.track("gull", "rotation").key_times == [at(20), at(40)]


def test_lanes_are_filtered_found_opened_and_folded(bench):
    rows = bench.tab.locator("#lanes .row-line")
    total = rows.count()
    bench.press("/")
    bench.tab.keyboard.type("opac")
    bench.settle()
    assert all(
        "pacity" in words or "lane" in words
        for words in bench.tab.locator("#lanes .lane .lane-name").all_text_contents()
    )
    expect(bench.tab.locator("#lanes .lane")).to_have_count(3)
    bench.tab.locator("#find").press("Escape")
    bench.settle()
    bench.select("sun")
    bench.tab.locator("#lanes-open").click()
    bench.tab.locator('[data-filter="selected"]').click()
    bench.settle()
    expect(rows).to_have_count(2)
    bench.tab.locator('[data-filter="selected"]').click()
    bench.tab.locator('#lanes-menu [data-do="fold-all"]').click()
    bench.settle()
    expect(rows).to_have_count(11)
    bench.tab.locator('[data-lane-height="46"]').click()
    bench.press("Escape")
    bench.select("gull")
    bench.press("d")
    assert bench.tab.locator("#lane-gull-position").bounding_box()["height"] == pytest.approx(46, abs=1)
    bench.tab.reload()
    bench.tab.wait_for_function("() => window.deftarc?.state.revision > 0")
    bench.settle()
    assert bench.tab.locator("#lane-gull-position").bounding_box()["height"] == pytest.approx(46, abs=1)
    assert rows.count() <= total


def test_an_unkeyed_lane_is_opened_and_keyed_by_a_double_click(bench):
    bench.select("sun")
    bench.tab.locator('[data-open="rotation"]').click()
    bench.settle()
    lane = bench.tab.locator("#lane-sun-rotation")
    expect(lane).to_contain_text("no keys yet")
    lane.scroll_into_view_if_needed()
    bench.settle()
    box = lane.locator("svg").bounding_box()
    bench.tab.mouse.dblclick(box["x"] + 200, box["y"] + 12)
    bench.settle()
    assert len(bench.track("sun", "rotation").keys) == 1
    bench.press("k")
    bench.press("Control+a")
    assert len(bench.state["keys"]) == 3


def test_only_rows_in_view_are_on_the_page_with_many_layers(bench):
    from deftarc.core.document import Project
    from tests.large import large_scene

    bench.served.shop.projects.create(Project(name="Large", scenes=(large_scene(),)), "large")
    bench.open("/projects/large")
    assert bench.tab.locator("#lanes .row-line").count() < 60
    bench.tab.evaluate("document.getElementById('lanes-scroll').scrollTop = 3000")
    bench.settle()
    bench.tab.locator("#layer-l115").wait_for()
    bench.tab.locator('[data-select="l115"]').click()
    bench.settle()
    bench.press("PageDown", "d")
    expect(bench.tab.locator("#lane-l116-position")).to_have_count(1)


def test_the_play_range_is_set_by_keys_and_by_drag_and_is_what_plays(bench):
    bench.go(30)
    bench.press("[")
    bench.go(40)
    bench.press("]")
    assert bench.served.document().scene("crossing").play_range == (at(30), at(40))
    expect(bench.tab.locator("#when-about")).to_contain_text("range 0:01:06–0:01:15")
    seen = bench.tab.evaluate(
        """() => new Promise((done) => { const seen = new Set(); const { state } = window.deftarc;
        document.getElementById('play').click(); const end = performance.now() + 1500;
        const look = () => { seen.add(state.frame); if (performance.now() < end) requestAnimationFrame(look); else { document.getElementById('play').click(); done([...seen]); } };
        requestAnimationFrame(look); })"""
    )
    assert min(seen) >= 30
    assert max(seen) <= 39
    assert len(seen) > 2
    end = bench.middle(bench.tab.locator('[data-range="end"]'))
    bench.drag(end, (end[0] + 20 * px_a_frame(bench), end[1]))
    assert bench.served.document().scene("crossing").play_range[1] == pytest.approx(at(60), abs=at(1))
    bench.press("|")
    assert bench.served.document().scene("crossing").play_range is None


def test_playing_at_half_speed_without_loop_stops_on_the_last_frame(bench):
    bench.press("o", "End", ",", ",", ",")
    bench.tab.locator("#speed-told").click()
    bench.tab.locator('[data-speed="0.5"]').click()
    bench.press(" ")
    bench.tab.wait_for_function("() => !window.deftarc.state.playing", timeout=8000)
    assert bench.state["frame"] == 143
    expect(bench.tab.locator("#speed-told")).to_have_text("½×")


@pytest.mark.parametrize("unit", ["frames", "seconds", "drop"])
def test_one_unit_of_time_everywhere_as_chosen_at_the_clock(bench, unit):
    from deftarc.core.base.time import RATES, FrameRate, frame_digits, skips, told_frame

    bench.tab.locator("#unit").click()
    bench.tab.locator(f'[data-unit="{unit}"]').click()
    bench.settle()
    if unit == "drop":
        expect(bench.tab.get_by_text("exists for 29.97 and 59.94")).to_be_visible()
        frames = [0, 29, 1799, 1800, 3597, 3598, 3599, 3600, 17981, 17982, 35999, 36000, 107892, -5]
        for rate in (RATES["29.97"], RATES["59.94"], FrameRate(numerator=120, denominator=1)):
            told = {"nominal": rate.nominal, "rate": rate.per_second, "digits": frame_digits(rate),
                    "skips": skips(rate)._asdict() if rate.drops else None}  # fmt: skip
            bench.tab.evaluate(
                "(told) => { Object.assign(window.deftarc.state.scene, told); window.deftarc.like('unit', 'drop'); }",
                told,
            )
            theirs = bench.tab.evaluate("frames => frames.map((f) => window.deftarc.toldFrame(f))", frames)
            assert theirs == [told_frame(frame, rate, "drop") for frame in frames]
        return
    bench.go(36)
    words = {"frames": "36", "seconds": "1.50 s"}[unit]
    expect(bench.tab.locator("#clock")).to_have_value(words)
    assert bench.tab.locator(".playhead-flag").text_content() == words
    bench.bead("gull", "position", 1).click()
    bench.settle()
    expect(bench.tab.locator("[data-key-time]")).to_have_value({"frames": "40", "seconds": "1.67 s"}[unit])


def test_every_command_is_listed_on_the_keyboard_sheet(bench):
    bench.press("?")
    sheet = bench.tab.locator("#keys-dialog")
    for words in ("end pose", "play range", "isolate", "group", "linked copy"):
        expect(sheet.get_by_text(words).first).to_be_visible()


def test_a_deleted_key_leaves_the_curve_as_it_was_and_alt_lets_it_go(bench):
    before = bench.track("gull", "rotation")
    bench.tab.locator('[data-focus="rotation"]').first.click()
    bench.select("gull")
    bench.go(30)
    bench.tab.locator('[data-key="rotation"]').click()
    bench.settle()
    keyed = bench.track("gull", "rotation")
    assert at(30) in keyed.key_times
    bench.press("Delete")
    after = bench.track("gull", "rotation")
    assert after.key_times == before.key_times
    for frame in range(0, 100):
        assert after.value_at(at(frame)) == pytest.approx(before.value_at(at(frame)), abs=1e-4)
    bench.press("Control+z")
    bench.bead("gull", "rotation", keyed.key_times.index(at(30))).click()
    bench.settle()
    bench.press("Alt+Delete")
    free = bench.track("gull", "rotation")
    assert free.key_times == before.key_times
    assert any(abs(free.value_at(at(frame)) - before.value_at(at(frame))) > 0.01 for frame in range(100))


def test_a_key_here_is_of_what_moves_out_of_view_too_and_of_the_outline_that_is_edited(bench):
    bench.select("gull")
    bench.tab.locator('#layer-gull [data-fold="gull"]').click()
    bench.settle()
    bench.go(33)
    bench.press("+")
    made = bench.served.document().scene("crossing").layer("gull")
    assert set(made.keyed) == {"position", "scale", "rotation"}
    assert all(at(33) in made.track(name).key_times for name in made.keyed)
    bench.tab.locator('[data-select="gull"]').click()
    bench.tab.locator('[data-tool="pen"]').first.click()
    for x, y in ((300, 300), (500, 300), (500, 600)):
        bench.tab.mouse.click(*bench.client(x, y))
    bench.press("Enter")
    (path,) = bench.state["layers"]
    bench.press("p", "+")
    assert bench.served.document().scene("crossing").layer(path).keyed == ("outline",)
