"""What is said to be saved is saved: strokes that are held are one step, what waits is counted, asked about and kept."""

import json
import threading

import pytest
from playwright.sync_api import expect

from tests.e2e.conftest import Workbench
from tests.e2e.test_trust import steps


def saved(bench):
    return bench.tab.locator("#saved").inner_text()


def held_down(bench, key, times):
    """A key that repeats until it comes up: on a busy machine presses may come so late that each is a step of its own."""
    for _ in range(times):
        bench.tab.keyboard.down(key)
    bench.tab.keyboard.up(key)
    bench.settle()


class Slow:
    """The way to the server, on which edits are held until they are let through."""

    def __init__(self, tab):
        self.tab, self.held, self.asked, self.open = tab, [], [], False
        tab.route("**/edits", self._edit)
        tab.route("**/undo", self._edit)
        tab.route("**/redo", self._edit)

    def _edit(self, route):
        self.asked.append((route.request.url.rpartition("/")[2], json.loads(route.request.post_data)))
        if self.open:
            route.continue_()
        else:
            self.held.append(route)

    def let_through(self):
        self.open = True
        for route in self.held:
            route.continue_()
        self.held.clear()


@pytest.fixture
def slow(bench):
    return Slow(bench.tab)


def kept_in_browser(bench):
    told = bench.tab.evaluate(
        "() => Object.entries(localStorage).filter(([name]) => name.startsWith('deftarc.waits.'))"
        ".flatMap(([, value]) => JSON.parse(value))"
    )
    return [each["json"]["edit"] for each in told]


def place(bench, layer="ferry"):
    return bench.tab.evaluate("(id) => window.deftarc.state.columns && window.deftarc.state.items.get(id) && 1", layer)


@pytest.mark.parametrize("held", [False, True])
def test_presses_in_a_row_and_a_key_held_down_are_one_step_shown_at_once(bench, held):
    bench.select("ferry")
    before, was = steps(bench), bench.shown("position")
    for _ in range(30):
        bench.tab.keyboard.down("ArrowRight") if held else bench.tab.keyboard.press("ArrowRight")
    bench.tab.keyboard.up("ArrowRight")
    # Before anything of it is a step.
    bench.until(lambda: bench.shown("position") == was + 30)
    bench.settle()
    assert bench.shown("position") == was + 30
    assert steps(bench) == before + 1
    bench.press("ControlOrMeta+z")
    assert bench.shown("position") == was
    assert steps(bench) == before


def test_a_key_that_is_still_down_is_one_step_however_late_it_is_repeated(bench):
    bench.select("ferry")
    before, was = steps(bench), bench.shown("position")
    for _ in range(3):
        bench.tab.keyboard.down("ArrowRight")
        bench.tab.wait_for_timeout(500)
    assert steps(bench) == before
    bench.tab.keyboard.up("ArrowRight")
    bench.until(lambda: steps(bench) == before + 1)
    bench.settle()
    assert bench.shown("position") == was + 3
    assert steps(bench) == before + 1


@pytest.mark.parametrize("end", ["Meta", "blur"])
def test_an_arrow_whose_coming_up_is_not_heard_does_not_keep_its_step_waiting(bench, end):
    bench.select("ferry")
    before, was = steps(bench), bench.shown("position")
    # As where the window loses the keyboard, or a system keeps the end of a key to itself.
    bench.tab.evaluate(
        "window.addEventListener('keyup', (event) => {"
        " if (event.key === 'ArrowRight') event.stopImmediatePropagation(); }, true)"
    )
    bench.tab.keyboard.press("ArrowRight")
    bench.tab.wait_for_timeout(800)
    assert steps(bench) == before
    if end == "Meta":
        bench.tab.keyboard.press("Meta")
    else:
        bench.tab.evaluate("window.dispatchEvent(new Event('blur'))")
    bench.until(lambda: steps(bench) == before + 1)
    bench.settle()
    assert bench.shown("position") == was + 1
    assert "wait" not in saved(bench)


def test_strokes_both_ways_add_up_and_none_of_them_is_no_step(bench):
    bench.select("ferry")
    before, was = steps(bench), bench.shown("position")
    for stroke in ("ArrowRight", "ArrowRight", "ArrowLeft", "ArrowDown", "ArrowUp"):
        bench.tab.keyboard.press(stroke)
    bench.settle()
    assert (bench.shown("position"), steps(bench)) == (was + 1, before + 1)
    for stroke in ("ArrowRight", "ArrowLeft"):
        bench.tab.keyboard.press(stroke)
    bench.settle()
    assert (bench.shown("position"), steps(bench)) == (was + 1, before + 1)
    expect(bench.tab.locator("#hint")).to_have_text("Nothing was changed: it is so already.")


def test_keys_points_and_numbers_that_are_nudged_are_one_step_each(bench):
    bench.select("ferry")
    bench.bead("ferry", "position", 1).click()
    bench.settle()
    before = steps(bench)
    times = [key.time for key in bench.track("ferry", "position").keys]
    held_down(bench, "ArrowRight", 4)
    now = [key.time for key in bench.track("ferry", "position").keys]
    flicks = bench.tab.evaluate("window.deftarc.state.scene.flicks")
    assert sum(now) - sum(times) == 4 * flicks
    assert steps(bench) == before + 1
    # What is selected is the key where it stands now.
    held_down(bench, "ArrowLeft", 2)
    assert sum(key.time for key in bench.track("ferry", "position").keys) - sum(times) == 2 * flicks
    assert steps(bench) == before + 2
    was = bench.shown("rotation")
    bench.well("rotation").click()
    held_down(bench, "ArrowUp", 5)
    step = float(bench.tab.locator('#figures .well[data-property="rotation"]').first.get_attribute("data-step"))
    assert bench.shown("rotation") == pytest.approx(was + 5 * step)
    assert steps(bench) == before + 3


def test_what_is_done_next_begins_from_where_the_strokes_have_come_to(bench):
    bench.select("ferry")
    before, was = steps(bench), bench.shown("position")
    bench.tab.keyboard.press("ArrowRight")
    bench.tab.keyboard.press("ArrowRight")
    bench.type("rotation", "33")
    assert steps(bench) == before + 2
    assert bench.shown("position") == was + 2
    bench.tab.locator("#where-about").click()
    bench.tab.keyboard.press("ArrowRight")
    bench.press("ControlOrMeta+z")
    assert (bench.shown("position"), steps(bench)) == (was + 2, before + 2)


def test_it_says_saved_only_while_nothing_waits_and_with_how_many(bench, slow):
    bench.select("ferry")
    assert "saved" in saved(bench).lower()
    bench.tab.keyboard.press("ArrowRight")
    assert saved(bench) == "Saving… 1 change waits"
    bench.tab.keyboard.press("+")
    bench.until(lambda: slow.held)
    bench.tab.keyboard.press("ControlOrMeta+d")
    bench.until(lambda: saved(bench) == "Saving… 3 changes wait")
    slow.let_through()
    bench.settle()
    assert saved(bench).startswith("All ")


def test_edits_that_wait_and_go_together_are_sent_as_one(bench, slow):
    bench.select("ferry")
    bench.tab.keyboard.press("+")
    bench.until(lambda: slow.held)
    before, was = steps(bench), bench.served.document().scene("crossing").layer("ferry")
    for n in range(5):
        bench.tab.evaluate(
            "async (dx) => { const { commit } = await import('/static/js/link.js'); const { state } = window.deftarc;"
            " commit({ kind: 'move_layers', scene: state.scene.id, layers: ['ferry'], time: 0, keying: false, dx, dy: 1 }); }",
            n,
        )
    slow.let_through()
    bench.settle()
    assert [told["edit"].get("dx") for name, told in slow.asked if name == "edits"][1:] == [10]
    assert bench.served.document().scene("crossing").layer("ferry") != was
    assert steps(bench) <= before + 2


def test_undo_and_redo_that_are_held_go_as_far_as_they_were_pressed_in_one_request(bench, slow):
    slow.open = True
    bench.select("ferry")
    for _ in range(6):
        bench.press("ArrowRight")
    before = steps(bench)
    slow.asked.clear()
    slow.open = False
    for _ in range(6):
        bench.tab.keyboard.press("ControlOrMeta+z")
    bench.tab.keyboard.press("ControlOrMeta+Shift+z")
    bench.until(lambda: slow.held)
    slow.let_through()
    bench.settle()
    assert [(name, told["count"]) for name, told in slow.asked] == [("undo", 1), ("undo", 4)]
    assert steps(bench) == before - 5
    bench.press("ControlOrMeta+Shift+z")
    assert steps(bench) == before - 4


def test_a_page_that_is_left_while_something_waits_asks_and_what_waited_is_there_when_it_comes_again(alone, context):
    tab = context.new_page()
    bench = Workbench(tab, alone)
    slow = Slow(tab)
    bench.tab.locator("#lanes").click(position={"x": 5, "y": 5})
    bench.select("ferry")
    was, before = bench.shown("position"), steps(bench)
    for _ in range(3):
        tab.keyboard.press("ArrowRight")
    bench.until(lambda: slow.held)
    tab.keyboard.press("ArrowDown")
    tab.keyboard.press("ControlOrMeta+d")
    assert next(each["kind"] for each in kept_in_browser(bench)) == "move_layers"
    asked = threading.Event()

    def dialog(told):
        asked.set()
        assert told.type == "beforeunload"
        told.accept()

    tab.on("dialog", dialog)
    tab.close(run_before_unload=True)
    bench.tab = context.new_page()
    bench.tab.wait_for_timeout(300)
    assert asked.is_set()
    again = Workbench(bench.tab, alone)
    again.until(lambda: steps(again) >= before + 3)
    again.settle()
    again.select("ferry")
    assert again.shown("position") == was + 3
    expect(again.tab.locator("#notices")).to_contain_text("saved now")
    made = steps(again)
    assert made == before + 3
    # Once: nothing is left of it for a page that comes later.
    assert kept_in_browser(again) == []
    again.tab.reload()
    again.settle()
    assert steps(again) == made
    again.tab.close()


def test_what_another_window_that_is_open_holds_is_left_to_it(bench, slow, context):
    bench.select("ferry")
    bench.tab.keyboard.press("ArrowRight")
    bench.until(lambda: slow.held)
    before = steps(bench)
    other = Workbench(context.new_page(), bench.served)
    other.settle()
    assert steps(bench) == before
    slow.let_through()
    bench.settle()
    assert steps(bench) == before + 1
    other.tab.close()


def test_nothing_is_asked_of_who_leaves_when_all_is_saved(bench):
    bench.select("ferry")
    bench.press("ArrowRight")
    told = []
    bench.tab.on("dialog", lambda dialog: (told.append(dialog), dialog.accept()))
    bench.tab.reload()
    bench.settle()
    assert told == []


def test_a_page_that_still_looks_for_what_others_left_has_nothing_to_ask(served, context):
    tab = context.new_page()
    tab.add_init_script("navigator.locks.query = () => new Promise((done) => { window.answer = done; });")
    tab.goto(served.at("/projects/quillhaven"))
    tab.wait_for_function("() => window.answer && window.deftarc.state.revision > 0")
    assert "wait" not in tab.locator("#saved").inner_text()
    leaving = "() => dispatchEvent(new Event('beforeunload', { cancelable: true }))"
    assert tab.evaluate(leaving)
    # What is done meanwhile waits until that is known, and is asked about.
    bench = Workbench.__new__(Workbench)
    bench.tab, bench.served = tab, served
    bench.row("ferry").click()
    tab.keyboard.press("ControlOrMeta+d")
    bench.until(lambda: "1 change waits" in saved(bench))
    assert not tab.evaluate(leaving)
    tab.evaluate("window.answer({ held: [] })")
    bench.settle()
    assert tab.evaluate(leaving)
    assert "wait" not in saved(bench)
    tab.close()


def test_an_edit_that_takes_long_says_how_far_it_is_can_be_stopped_and_is_forgotten_with_its_answer(bench, slow):
    tab, asked, late = bench.tab, [], []

    def answer(route):
        if late:
            late.append(route)
        else:
            route.fulfill(json={"share": 0.42})

    tab.route("**/edits/*/progress", answer)
    tab.route("**/edits/*/stop", lambda route: asked.append(route.request.url) or route.fulfill(status=204))
    bench.select("ferry")
    well = bench.well("opacity")
    well.fill("41")
    well.press("Enter")
    line = tab.locator("#working")
    expect(line).to_contain_text("Working… 42 %")
    line.get_by_role("button", name="Stop").click()
    bench.until(lambda: asked)
    assert asked[0].split("/edits/")[1].removesuffix("/stop")
    # What was asked about it is answered only after the edit itself was: it says nothing any more.
    late.append(None)
    bench.until(lambda: len(late) > 1)
    slow.let_through()
    expect(line).to_be_hidden()
    for route in late[1:]:
        route.fulfill(json={"share": 0.9})
    bench.settle()
    expect(line).to_be_hidden()
    expect(tab.locator("#saved")).to_contain_text("saved")
