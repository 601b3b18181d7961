"""Undo goes to where the change was; scenes change on the page; a page loaded again is where it was."""

import json

from playwright.sync_api import expect

AT = 29_400_000  # flicks a frame in Crossing


def place(bench):
    return bench.tab.evaluate(
        """(({ scene, frame, layers, keys, tool }) => ({ scene: scene.id, frame, layers, keys, tool }))(window.deftarc.state)"""
    )


def scene(bench, name):
    bench.tab.locator("#scene").select_option(label=name)
    bench.settle()


def test_undoing_a_new_scene_leaves_no_page_without_one(bench):
    bench.tab.get_by_role("button", name="The scene", exact=True).click()
    bench.tab.get_by_role("button", name="New scene…").click()
    bench.tab.locator("#part-dialog [name=name]").fill("Regatta")
    bench.tab.get_by_role("button", name="Make it").click()
    expect(bench.tab.locator("#scene option:checked")).to_have_text("Regatta")
    bench.settle()
    made = place(bench)["scene"]
    bench.press("Control+z")
    expect(bench.tab.get_by_text("Undone: Add the scene Regatta")).to_be_visible()
    assert place(bench)["scene"] != made
    expect(bench.tab.locator("#scene option")).to_have_count(6)
    assert len(bench.tab.evaluate("window.deftarc.state.order")) > 0
    bench.press("Control+Shift+z")
    assert place(bench)["scene"] == made
    expect(bench.tab.locator("#scene option:checked")).to_have_text("Regatta")


def test_undo_goes_to_another_scene_and_to_the_frame_and_says_so(bench):
    bench.select("gull")
    bench.go(100)
    bench.bead("gull", "rotation", 1).click()
    bench.press("Delete")
    scene(bench, "Buoy")
    assert place(bench)["scene"] == "buoy"
    bench.press("Control+z")
    expect(bench.tab.get_by_text("Undone: Delete a key of Gull, in Crossing")).to_be_visible()
    told = place(bench)
    assert (told["scene"], told["layers"]) == ("crossing", ["gull"])
    assert [key["property"] for key in told["keys"]] == ["rotation"]
    # Where the two motions differ is gone to, not where one happened to be.
    assert told["frame"] < 100


def test_scenes_changed_while_an_answer_is_on_its_way_never_have_two_looks_under_way(bench):
    """Two would take each other's answers for their own, and show the scene that was left."""
    bench.tab.evaluate("""() => {
        const send = WebSocket.prototype.send;
        const heard = new WeakSet();
        window.underWay = { now: 0, most: 0, asked: 0 };
        WebSocket.prototype.send = function (told) {
            if (!heard.has(this)) {
                heard.add(this);
                // Told after the page's own hearing of the same message, in which it may have asked again.
                const hear = this.onmessage;
                this.onmessage = (event) => { window.underWay.now -= 1; hear(event); };
            }
            window.underWay.now += 1;
            window.underWay.asked += 1;
            window.underWay.most = Math.max(window.underWay.most, window.underWay.now);
            send.call(this, told);
        };
    }""")
    for name in ("Buoy", "Crossing", "Buoy"):
        bench.tab.evaluate(
            """async (name) => {
                const scene = document.getElementById("scene");
                const go = () => scene.dispatchEvent(new Event("change", { bubbles: true }));
                window.deftarc.look({ fresh: true });
                scene.value = [...scene.options].find((option) => option.textContent.trim() === name).value;
                go();
                window.deftarc.look();
            }""",
            name,
        )
        bench.settle()
        assert place(bench)["scene"] == name.lower()
    told = bench.tab.evaluate("window.underWay")
    assert told["asked"] >= 6
    assert (told["most"], told["now"]) == (1, 0)


def test_back_in_a_scene_before_an_answer_about_it_came_that_answer_is_put_nowhere(bench):
    """What was asked of the scene before it was left is answered by what is new since: the page has forgotten the rest."""
    bench.select("gull")
    bench.tab.evaluate(
        """async () => {
          const { showScene } = await import("/static/js/holding.js");
          const { look } = await import("/static/js/link.js");
          const { state } = await import("/static/js/state.js");
          window.seen = [];
          document.addEventListener("deftarc:painted", () =>
            window.seen.push([state.order.length, Object.entries(state.columns).filter(([, column]) => !column)]));
          const here = state.scene.id;
          look();
          showScene("card");
          showScene(here);
        }"""
    )
    bench.settle()
    bench.tab.wait_for_function("window.seen.length > 0")
    seen = bench.tab.evaluate("window.seen")
    assert all(rows > 0 and missing == [] for rows, missing in seen), seen
    assert place(bench)["layers"] == ["gull"]


def test_undo_keeps_the_selection_of_what_still_exists(bench):
    bench.select("gull")
    bench.bead("gull", "rotation", 0).click()
    bench.settle()
    kept = place(bench)["keys"]
    bench.press("ArrowRight")
    moved = place(bench)["keys"]
    assert moved != kept
    bench.press("Control+z")
    assert place(bench)["keys"] == kept
    assert place(bench)["layers"] == ["gull"]
    bench.press("Control+d")
    copy = place(bench)["layers"]
    bench.tab.locator('[data-select="gull"]').click(modifiers=["Control"])
    bench.settle()
    bench.press("Control+z")
    assert place(bench)["layers"] == ["gull"]
    assert copy[0] not in bench.tab.evaluate("window.deftarc.state.order")


def test_each_scene_is_as_it_was_left_and_a_reload_changes_nothing(bench):
    bench.select("gull")
    bench.go(40)
    bench.press("e")
    bench.tab.mouse.move(*bench.client(900, 500))
    bench.tab.mouse.wheel(0, -300)
    bench.settle()
    zoomed = bench.tab.evaluate("window.deftarc.viewOf()")
    assert not zoomed["fit"]
    bench.bead("gull", "position", 1).click()
    bench.settle()
    before = place(bench)
    axis = bench.tab.evaluate("window.deftarc.state.axis")
    bench.tab.reload()
    bench.tab.wait_for_function("() => window.deftarc?.state.order.length > 0")
    bench.settle()
    assert place(bench) == before
    assert bench.tab.evaluate("window.deftarc.state.axis") == axis
    again = bench.tab.evaluate("window.deftarc.viewOf()")
    assert json.dumps(again, sort_keys=True) == json.dumps(zoomed, sort_keys=True)
    scene(bench, "Buoy")
    assert place(bench)["frame"] == 0
    scene(bench, "Crossing")
    assert (place(bench)["frame"], place(bench)["layers"]) == (40, ["gull"])


def test_a_scene_deleted_in_another_window_is_left(bench):
    scene(bench, "Buoy")
    projects = bench.served.shop.projects
    from deftarc.core.edit.scenes import DeleteScene

    bench.served.shop.commit("quillhaven", projects.open("quillhaven").revision, DeleteScene(scene="buoy"))
    expect(bench.tab.get_by_text("The scene this page showed is gone")).to_be_visible()
    bench.settle()
    assert place(bench)["scene"] == "crossing"
    bench.select("gull")
    bench.type("rotation", "12")
