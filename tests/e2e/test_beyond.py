"""What goes on before and after keys: chosen, counted and dragged in the workbench, and as Chromium animates it."""

import itertools

import numpy as np
import pytest
from playwright.sync_api import expect

from deftarc.core.curves.beyond import Beyond
from deftarc.core.edit import apply
from deftarc.core.edit.beyond import SetPhase
from deftarc.core.edit.keys import Lane
from tests.running import NOTHING
from tests.scenes import at, layer, numbers, project, side

AT = 29_400_000
LANE = '[data-layer="title"][data-property="scale"]'

SAMPLES = """([keyframes, timing, moments]) => {
  const box = document.body.appendChild(document.createElement("div"));
  const run = box.animate(keyframes, { fill: "both", ...timing });
  run.pause();
  const out = moments.map((ms) => { run.currentTime = ms; return new DOMMatrix(getComputedStyle(box).transform).m41; });
  run.cancel();
  box.remove();
  return out;
}"""


@pytest.fixture
def blank(tab, served):
    """An empty page, for the browser's own animations."""
    tab.goto(served.at(NOTHING))
    return tab


CASES = list(itertools.product((1, 1.5, 2, 2.25, 3.75, None), ("normal", "alternate")))


def test_repeats_and_counts_are_those_of_web_animations(blank):
    for count, direction in CASES:
        off = off_from_chromium(blank, count, direction)
        assert off < 0.02, (count, direction, off)


def off_from_chromium(tab, count, direction):
    """The greatest difference, in px of a hundred, over 120 frames."""
    # One key of a CSS keyword's shape, one straight way, at 40 ms a frame.
    track = numbers((0, 0, {"leaving": side(0.42, 0.0)}), (10, 100, {"arriving": side(0.42, 0.0)}), (25, 40))
    track = track.changed(after=Beyond(how="alternate" if direction == "alternate" else "repeat", count=count))
    keyframes = [
        {"transform": "translateX(0px)", "offset": 0, "easing": "ease-in-out"},
        {"transform": "translateX(100px)", "offset": 0.4, "easing": "linear"},
        {"transform": "translateX(40px)", "offset": 1},
    ]
    frames = np.arange(0, 120, 0.7)
    timing = {"duration": 1000, "iterations": count or 1e6, "direction": direction}
    seen = tab.evaluate(SAMPLES, [keyframes, timing, [float(f) * 40 for f in frames]])
    mine = track.motion(np.array([at(f) for f in frames], float))[:, 0]
    return np.abs(mine - seen).max()


def test_a_phase_is_where_an_iteration_starts(blank):
    for phase in (0.1, 0.35, 0.8):
        assert phase_off(blank, phase) < 0.02, phase


def phase_off(tab, phase):
    track = numbers((0, 0), (10, 100), (25, 0)).changed(after=Beyond(how="repeat"))
    keyframes = [{"transform": f"translateX({x}px)", "offset": o} for x, o in ((0, 0), (100, 0.4), (0, 1))]
    frames = np.arange(0, 90, 0.7)
    timing = {"duration": 1000, "iterations": 1e6, "iterationStart": phase}
    seen = tab.evaluate(SAMPLES, [keyframes, timing, [float(f) * 40 for f in frames]])
    before = project(layer("Bob", rotation=track))
    edit = SetPhase(scene="crossing", lanes=(Lane(layer="bob", property="rotation"),), phase=phase)
    made = apply(before, edit).scene("crossing").layer("bob").track("rotation")
    mine = made.motion(np.array([at(f) for f in frames], float))[:, 0]
    return np.abs(mine - seen).max()


@pytest.fixture
def last(bench):
    """The last key of the lettering's scale selected: keys at 18, 34 and 44."""
    bench.select("title")
    bench.bead("title", "scale", 2).click()
    bench.settle()
    return bench


def after(bench, layer="title", name="scale"):
    return bench.track(layer, name).after


def test_what_comes_after_the_last_key_is_chosen_and_counted_where_the_key_is(last):
    last.tab.locator('[data-beyond="after"]').select_option("alternate")
    last.settle()
    assert after(last).how == "alternate"
    expect(last.tab.locator(f"#lanes .turn-grip{LANE} text")).to_have_text("∞")
    field = last.tab.locator('[data-beyond-count="after"]')
    field.fill("2.5")
    field.press("Enter")
    last.settle()
    assert after(last).count == 2.5
    expect(last.tab.locator(f"#lanes .turn-grip{LANE} text")).to_have_text("×2.5")
    assert last.tab.locator("#pair .value.beyond").count() > 0
    # The figures tell what shows: at 70, on the way back.
    last.go(44 + 26)
    assert last.shown("scale") == pytest.approx(88, abs=0.1)
    last.press("Control+z", "Control+z")
    assert after(last) is None


def test_the_end_of_a_count_is_dragged_live_to_for_ever_past_the_edge_and_put_back(last):
    last.tab.locator('[data-beyond="after"]').select_option("repeat")
    last.settle()
    grip = last.tab.locator(f"#lanes .turn-grip{LANE} rect")
    box = grip.bounding_box()
    frame = last.tab.evaluate(f"(({{axis}}) => {AT} / (axis.end - axis.start) * axis.width)(window.deftarc.state)")
    x0 = last.middle(last.bead("title", "scale", 2))[0]
    start = (box["x"] + 4, box["y"] + 9)
    last.drag(start, (x0 + 2 * 26 * frame, start[1]), release=False)
    expect(last.tab.locator("#hint")).to_contain_text("3 times in all")
    expect(last.tab.locator(f"#lanes .turn-grip{LANE} text")).to_have_text("×3")
    assert after(last).count is None
    last.press("Escape")
    last.tab.mouse.up()
    last.settle()
    expect(last.tab.locator(f"#lanes .turn-grip{LANE} text")).to_have_text("∞")
    last.drag(start, (x0 + 26 * frame, start[1]))
    assert after(last).count == 2
    box = grip.bounding_box()
    last.drag((box["x"] + 4, box["y"] + 9), (1278, box["y"] + 9))
    assert after(last).count is None


def test_a_stroke_repeats_the_lane_on_both_sides_and_again_holds_it(last):
    last.press("Shift+o")
    track = last.track("title", "scale")
    assert (track.before.how, track.after.how) == ("repeat", "repeat")
    expect(last.tab.locator(f"#lanes .turn-grip{LANE}")).to_have_count(2)
    last.press("Shift+o")
    track = last.track("title", "scale")
    assert (track.before, track.after) == (None, None)


def ask(bench, words, text):
    bench.press("c")
    field = bench.tab.locator("dialog[open] input").first
    field.fill(words)
    field.press("Enter")
    bench.settle()
    if text is not None:
        typed = bench.tab.locator("#ask-dialog input")
        typed.fill(text)
        typed.press("Enter")
        bench.settle()


def test_rest_phase_part_and_made_into_keys_by_their_names(last):
    ask(last, "After its keys: rest", "150%")
    assert after(last).value == (1.5,)
    last.go(60)
    assert last.shown("scale") == 150
    ask(last, "Repeat for ever, before and after", None)
    last.bead("title", "scale", 1).click()
    last.settle()
    ask(last, "Repeat only from this key on", None)
    assert after(last).part == 34 * AT
    # It holds, and then all of it repeats again.
    last.press("Shift+o", "Shift+o")
    last.bead("title", "scale", 0).click()
    last.settle()
    ask(last, "Where in its cycle it begins", "50")
    assert last.track("title", "scale").key_times[0] % (26 * AT) == -13 * AT % (26 * AT)
    before = [last.track("title", "scale").value_at(f * AT) for f in range(0, 140, 3)]
    ask(last, "Make keys of what goes on", None)
    made = last.track("title", "scale")
    assert not made.lasts
    assert [made.value_at(f * AT) for f in range(0, 140, 3)] == pytest.approx(before, abs=1e-6)


def test_a_colour_that_cannot_add_up_says_so(bench):
    bench.open("/projects/quillhaven?scene=buoy")
    bench.tab.evaluate("document.dispatchEvent(new CustomEvent('deftarc:scene', { detail: 'buoy' }))")
    bench.settle()
    bench.select("lamp")
    bench.bead("lamp", "fill", 0).click()
    bench.settle()
    ask(bench, "After its keys: accumulate", None)
    expect(bench.tab.locator("#notices")).to_contain_text("cannot add up")
    bench.tab.troubles.clear()
