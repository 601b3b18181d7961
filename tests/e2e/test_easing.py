"""Eases, joints, typed speeds, settles and bounces, one's own eases and try-outs, as a person has them."""

import numpy as np
import pytest
from playwright.sync_api import expect

from deftarc.core.changes.settle_bounce import crafts_in
from deftarc.core.changes.sides import speed_of
from tests.e2e.pairing import PairHand, time_of


@pytest.fixture
def pair(bench):
    bench.select("ferry")
    bench.tab.locator('[data-curve="ferry rotation"] [data-curve-main]').click()
    bench.settle()
    return PairHand(bench)


def swing(bench):
    return bench.track("ferry", "rotation")


def put(bench, data, text):
    """Types into a field of the figures, as it is left with Enter."""
    field = bench.tab.locator(f"#figures {data}")
    field.fill(str(text))
    field.press("Enter")
    bench.settle()


def slide(bench, selector, value):
    bench.tab.locator(selector).evaluate(
        "(s, v) => { s.value = v; s.dispatchEvent(new Event('input', { bubbles: true })); s.dispatchEvent(new Event('change', { bubbles: true })); }",
        value,
    )
    bench.settle()


def test_speeds_and_reaches_are_typed_with_sums_and_frames(bench, pair):
    pair.press_bead("rotation", 1)
    put(bench, '[data-side-speed="leaving"]', "-3")
    assert speed_of(swing(bench), 1, "leaving") == pytest.approx(-3)
    put(bench, '[data-side-speed="leaving"]', "*=.5")
    assert speed_of(swing(bench), 1, "leaving") == pytest.approx(-1.5)
    put(bench, '[data-side-reach="leaving"]', "9f")
    track = swing(bench)
    assert track.keys[1].leaving.reach == pytest.approx(0.25)
    assert speed_of(track, 1, "leaving") == pytest.approx(-1.5)
    put(bench, '[data-side-reach="leaving"]', "60")
    assert swing(bench).keys[1].leaving.reach == pytest.approx(0.6)
    # What is wrong is said, changes nothing, and the field shows what is.
    bench.tab.troubles.clear()
    put(bench, '[data-side-reach="leaving"]', "140")
    expect(bench.tab.locator("#notices")).to_contain_text("between 0 and 100")
    expect(bench.tab.locator('[data-side-reach="leaving"]')).to_have_value("60%")
    bench.tab.troubles.clear()


def test_a_speed_that_throws_the_value_past_its_key_is_marked_and_a_harmless_reach_offered(bench, pair):
    pair.press_bead("rotation", 1)
    put(bench, '[data-side-speed="leaving"]', "8")
    marks = bench.tab.locator("#pair .past").all_text_contents()
    assert any("past the key" in words for words in marks)
    put(bench, '[data-side-speed="leaving"]', "-12")
    offer = bench.tab.locator('[data-harmless="leaving"]')
    expect(offer).to_contain_text("keeps it")
    offer.click()
    bench.settle()
    assert speed_of(swing(bench), 1, "leaving") == pytest.approx(-12)
    expect(bench.tab.locator("#pair .past")).to_have_count(0)


def test_what_goes_past_is_kept_within_by_one_key_and_a_whole_curve_by_a_switch(bench, pair):
    pair.press_bead("rotation", 1)
    put(bench, '[data-side-speed="leaving"]', "-12")
    bench.press("w")
    low = swing(bench).curve.at(np.linspace(0, time_of(143), 900)).min()
    assert low >= -1.2 - 1e-6
    bench.press("Control+z")
    pair.press_bead("rotation", 1)
    bench.tab.mouse.click(pair.x(120), pair.y(1.35), button="right")
    bench.tab.get_by_role("menuitem", name="Keep this whole curve within its keys").click()
    bench.settle()
    assert swing(bench).within
    # The handle stays what it was; only the curve is shorter.
    assert speed_of(swing(bench), 1, "leaving") == pytest.approx(-12)
    assert swing(bench).curve.at(np.linspace(0, time_of(143), 900)).min() >= -1.2 - 1e-6


def test_joints_go_round_and_automatic_ones_have_numbers(bench, pair):
    pair.press_bead("rotation", 1)
    bench.press("j", "j")
    key = swing(bench).keys[1]
    assert key.joint == "automatic"
    expect(bench.tab.locator("#pair .bead.auto")).to_have_count(1)
    put(bench, '[data-auto="tension"]', "-50")
    put(bench, '[data-auto="bias"]', "20")
    bench.tab.locator('[data-auto="free"]').check()
    bench.settle()
    how = swing(bench).keys[1].automatic
    assert (how.tension, how.bias, how.free) == (-0.5, 0.2, True)
    # A handle of an automatic joint that is dragged is taken over as it stood.
    speed = speed_of(swing(bench), 1, "arriving")
    pair.drag(pair.handle(time_of(36), "leaving"), by=(0, 20))
    key = swing(bench).keys[1]
    assert key.joint == "smooth"
    assert speed_of(swing(bench), 1, "arriving") != speed
    bench.press("l")
    assert swing(bench).keys[1].leaving is None


def test_every_named_ease_is_a_click_and_its_strength_is_live(bench, pair):
    bench.tab.mouse.click(pair.x(18), pair.y(0))
    bench.settle()
    bench.tab.locator('[data-ease="overshoot"]').click()
    bench.settle()
    curve = swing(bench).curve
    inside = curve.at(np.linspace(0, time_of(36), 2000))
    assert inside.max() == pytest.approx(1.2 + 0.1 * 2.4, abs=1e-3)
    expect(bench.tab.locator("#pair .past").first).to_contain_text("past")
    slider = bench.tab.locator("[data-strength]")
    before = bench.tab.locator("#pair .one .value").first.get_attribute("d")
    slider.evaluate("s => { s.value = 100; s.dispatchEvent(new Event('input', { bubbles: true })); }")
    bench.settle()
    assert bench.tab.locator("#pair .one .value").first.get_attribute("d") != before
    assert swing(bench).curve.at(np.linspace(0, time_of(36), 2000)).max() == pytest.approx(1.44, abs=1e-3)
    slider.evaluate("s => s.dispatchEvent(new Event('change', { bubbles: true }))")
    bench.settle()
    assert swing(bench).curve.at(np.linspace(0, time_of(36), 2000)).max() == pytest.approx(1.2 + 1.0 * 2.4, abs=1e-3)
    expect(bench.tab.locator(".ease.on")).to_have_text("Overshoot")
    bench.tab.locator('[data-ease="wind-up"]').click()
    bench.settle()
    assert swing(bench).curve.at(np.linspace(0, time_of(36), 2000)).min() < -1.2
    expect(bench.tab.locator(".ease.on")).to_have_text("Wind-up")


def test_steps_of_n_with_their_jumps(bench, pair):
    bench.tab.mouse.click(pair.x(18), pair.y(0))
    bench.settle()
    bench.tab.locator('[data-ease="steps"]').click()
    bench.settle()
    put(bench, "[data-steps]", 3)
    bench.tab.locator("[data-jump]").select_option("none")
    bench.settle()
    values = swing(bench).curve.at([time_of(f) for f in (0, 11, 12, 23, 24, 35)])
    assert values == pytest.approx([-1.2, -1.2, 0, 0, 1.2, 1.2])
    expect(bench.tab.locator("#lane-ferry-rotation .jumps")).to_have_count(1)
    expect(bench.tab.locator(".key-figures")).to_contain_text("3 steps in 36 frames")


def test_an_ease_on_one_side_and_a_run_as_one(bench, pair):
    bench.tab.mouse.click(pair.x(18), pair.y(0))
    bench.settle()
    bench.tab.locator('[data-ease-on="arriving"]').click()
    bench.tab.locator('[data-ease="straight"]').click()
    bench.settle()
    keys = swing(bench).keys
    assert (keys[0].leaving is None, keys[1].arriving is None) == (False, True)
    bench.tab.locator('[data-ease-on="both"]').click()
    # The gull's way is passed in one sweep from its first key to its third.
    bench.select("gull")
    first, second, third = (bench.middle(bench.bead("gull", "position", n)) for n in range(3))
    bench.tab.mouse.click(*first)
    bench.tab.keyboard.down("Control")
    bench.tab.mouse.click(*second)
    bench.tab.mouse.click(*third)
    bench.tab.keyboard.up("Control")
    bench.settle()
    bench.tab.locator("[data-ease-as-one]").click()
    bench.tab.locator('[data-ease="slow-ends"]').click()
    bench.settle()
    track = bench.track("gull", "position")
    curve = track.curve
    half = (time_of(8) + time_of(62)) / 2
    assert curve.at([half])[0] == pytest.approx((curve.measures[0] + curve.measures[2]) / 2, abs=0.1)
    assert len(bench.state["keys"]) == 3
    bench.tab.locator("[data-ease-as-one]").click()


def test_an_ease_of_ones_own_is_kept_laid_elsewhere_and_forgotten(bench, pair):
    pair.press_bead("rotation", 1)
    put(bench, '[data-side-speed="leaving"]', "-7")
    bench.tab.mouse.click(pair.x(54), pair.y(float(swing(bench).curve.at([time_of(54)])[0])))
    bench.settle()
    for item, name in (("Keep this ease in the project…", "Lean"), ("Keep this ease for all projects…", "Sway")):
        bench.tab.locator("[data-do=ease-menu]").click()
        bench.tab.get_by_role("menuitem", name=item).click()
        bench.tab.locator("#ask-dialog input").fill(name)
        bench.tab.keyboard.press("Enter")
        bench.settle()
    tiles = bench.tab.locator("[data-own-ease]")
    assert [tile.get_attribute("data-name") for tile in tiles.all()] == ["Lean", "Sway"]
    kept = swing(bench).keys[1].leaving
    # On another motion it has the same shape in that one's size.
    bench.select("gull")
    bench.tab.mouse.click(*bench.middle(bench.bead("gull", "scale", 0)))
    bench.settle()
    bench.tab.locator('[data-own-ease][data-name="Sway"]').click()
    bench.settle()
    laid = bench.track("gull", "scale").keys[0].leaving
    assert laid.reach == pytest.approx(kept.reach)
    assert laid.rise / -0.16 == pytest.approx(kept.rise / -2.4)
    for name in ("Lean", "Sway"):
        bench.tab.locator(f'[data-own-ease][data-name="{name}"]').click(button="right")
        bench.tab.get_by_role("menuitem", name=f"Forget {name}").click()
        bench.settle()
    expect(bench.tab.locator("[data-own-ease]")).to_have_count(0)


def test_css_text_is_laid_and_copied(bench, pair):
    bench.tab.context.grant_permissions(["clipboard-read", "clipboard-write"])
    bench.tab.mouse.click(pair.x(18), pair.y(0))
    bench.settle()
    bench.tab.evaluate("navigator.clipboard.writeText('cubic-bezier(0.2, 0, 0, 1)')")
    bench.tab.locator("[data-do=ease-menu]").click()
    bench.tab.get_by_role("menuitem", name="Lay an ease from CSS text…").click()
    expect(bench.tab.locator("#ask-dialog input")).to_have_value("cubic-bezier(0.2, 0, 0, 1)")
    bench.tab.keyboard.press("Enter")
    bench.settle()
    assert swing(bench).keys[0].leaving.reach == 0.2
    assert bench.tab.locator(".strength").text_content().strip().startswith("By hand")
    bench.tab.locator("[data-do=ease-menu]").click()
    bench.tab.get_by_role("menuitem", name="Copy this ease as CSS").click()
    bench.settle()
    bench.tab.wait_for_function("async () => (await navigator.clipboard.readText()) === 'cubic-bezier(0.2, 0, 0, 1)'")
    bench.tab.locator("[data-do=ease-menu]").click()
    bench.tab.get_by_role("menuitem", name="Lay an ease from CSS text…").click()
    bench.tab.locator("#ask-dialog input").fill("linear(0, 1.1 40%, 0.9 70%, 1)")
    bench.tab.keyboard.press("Enter")
    bench.settle()
    assert len(swing(bench).keys) == 7
    assert swing(bench).keys[1].value == pytest.approx(-1.2 + 1.1 * 2.4)


def test_css_text_that_is_none_is_refused_with_how_to_write_it(bench, pair):
    bench.tab.mouse.click(pair.x(18), pair.y(0))
    bench.settle()
    before = swing(bench)
    bench.tab.locator("[data-do=ease-menu]").click()
    bench.tab.get_by_role("menuitem", name="Lay an ease from CSS text…").click()
    bench.tab.locator("#ask-dialog input").fill("springy")
    bench.tab.keyboard.press("Enter")
    bench.settle()
    expect(bench.tab.locator("#notices")).to_contain_text("is no CSS easing function")
    assert swing(bench) == before
    bench.tab.troubles.clear()


def test_a_settle_between_two_keys_and_its_numbers_changed_until_a_hand_changes_a_key(bench, pair):
    bench.tab.mouse.click(pair.x(18), pair.y(0))
    bench.settle()
    bench.tab.locator('[data-craft="settle"]').click()
    bench.settle()
    assert len(swing(bench).keys) == 8
    assert swing(bench).keys[1].value == pytest.approx(1.2 + 0.2 * 2.4)
    put(bench, '[data-craft-number="far"]', "35")
    put(bench, '[data-craft-number="often"]', "2")
    put(bench, '[data-craft-number="soon"]', "1")
    track = swing(bench)
    assert track.keys[1].value == pytest.approx(1.2 + 0.35 * 2.4)
    assert track.keys[3].time == time_of(24)
    assert len(crafts_in(track)) == 1
    pair.drag(pair.bead("rotation", 1), by=(0, 25))
    assert crafts_in(swing(bench)) == []
    pair.press_bead("rotation", 1)
    expect(bench.tab.locator("[data-craft-number]")).to_have_count(0)


def test_a_settle_at_the_playhead_stirs_what_has_no_keys_yet(bench):
    bench.select("line")
    bench.go("30")
    bench.tab.locator('.figure[data-row="rotation"] .label').click(button="right")
    bench.tab.get_by_role("menuitem", name="Settle at the playhead…").click()
    bench.tab.locator("#ask-dialog input").fill("-12")
    bench.tab.keyboard.press("Enter")
    bench.settle()
    track = bench.track("line", "rotation")
    assert track.key_times[0] == time_of(30)
    assert [key.value for key in track.keys][:2] == [0, pytest.approx(-12)]
    assert track.keys[-1].value == 0
    put(bench, '[data-craft-number="far"]', "20")
    assert bench.track("line", "rotation").keys[1].value == pytest.approx(20)


def test_a_bounce_at_the_playhead_drops_a_position_and_gravity_is_typed(bench):
    bench.select("line")
    bench.go("60")
    bench.tab.locator('.figure[data-row="position"] [data-key]').click()
    bench.settle()
    bench.tab.locator('#lanes .bead[data-layer="line"][data-property="position"]').first.click(force=True)
    bench.settle()
    bench.tab.locator("#lane-line-position .bead").first.click(button="right", force=True)
    bench.tab.get_by_role("menuitem", name="Bounce…").click()
    bench.tab.locator("#ask-dialog input").fill("240")
    bench.tab.keyboard.press("Enter")
    bench.settle()
    track = bench.track("line", "position")
    assert track.spots == ((100, 276), (100, 516))
    assert len(track.keys) == 8
    put(bench, '[data-craft-number="gravity"]', "2000")
    fall = np.sqrt(2 * 240 / 2000)
    track = bench.track("line", "position")
    assert track.key_times[1] - track.key_times[0] == pytest.approx(fall * 705_600_000, rel=1e-6)
    put(bench, '[data-craft-number="keeps"]', "70")
    peak = bench.track("line", "position").value_at(bench.track("line", "position").key_times[2])
    assert peak[1] == pytest.approx(516 - 240 * 0.49, abs=0.01)


def test_try_outs_play_the_real_layer_under_each_ease_and_one_is_picked(bench, pair):
    bench.tab.mouse.click(pair.x(18), pair.y(0))
    bench.settle()
    bench.press("t")
    tries = bench.tab.locator("#tryouts-dialog .try")
    tries.nth(8).wait_for()
    names = [tile.text_content() for tile in tries.all()]
    assert names == [
        "As it is",
        "Straight",
        "Slow start",
        "Slow stop",
        "Slow ends",
        "Overshoot",
        "Wind-up",
        "Steps of 6",
        "Settle",
    ]

    def picture(n):
        return (
            tries.nth(n)
            .locator("canvas")
            .evaluate(
                "c => { const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data; let s = 0; for (let i = 0; i < d.length; i += 4) s = (s * 31 + d[i] + 3 * d[i + 1]) % 1e9; return s; }"
            )
        )

    # They play, and not all alike.
    bench.until(lambda: len({picture(n) for n in (1, 2, 3)}) == 3)
    dot = tries.nth(2).locator("circle")
    was = dot.get_attribute("cx")
    expect(dot).not_to_have_attribute("cx", was)
    before = swing(bench)
    slide(bench, "[data-try-strength]", 90)
    assert swing(bench) == before
    tries.nth(3).click()
    bench.settle()
    assert bench.served.shop.projects.open("quillhaven").undo == "Slow stop on 2 keys of Ferry"
    assert swing(bench).keys[1].arriving.reach == pytest.approx(0.42 + 0.58 * 0.8)


def test_try_outs_are_left_with_escape_and_need_keys(bench):
    bench.select("ferry")
    bench.press("t")
    expect(bench.tab.locator("#notices")).to_contain_text("Select the keys")
    expect(bench.tab.locator("#tryouts-dialog")).to_be_hidden()
    PairHand(bench).press_bead("position", 0)
    bench.press("t")
    bench.tab.locator("#tryouts-dialog .try").first.wait_for()
    bench.press("Escape")
    expect(bench.tab.locator("#tryouts-dialog")).to_be_hidden()
