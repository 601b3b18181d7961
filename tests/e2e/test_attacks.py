"""Two attacks that once ran, through a project file that is brought in and opened; the policy that stops their kind; and
that scripts which run beside the page still load."""

import pytest
from playwright.sync_api import expect
from starlette.routing import Mount
from starlette.staticfiles import StaticFiles

from deftarc.core.document import Project
from deftarc.core.document.marker import Marker
from deftarc.core.document.ties import Anchor, Tie
from tests.e2e.conftest import Workbench
from tests.scenes import at, gull, layer, project

#: A frame that loads our own scripts, and one of their attributes that asks for something.
FRAME = '<iframe srcdoc="<script src=/static/vendor/htmx/htmx.min.js></script><div hx-post={} hx-trigger=load></div>">'
ATTACKS = {"delete": "/projects/victim/delete", "settings": "/settings?workers=64"}


def attack(of):
    """A project whose marker has the attack as its name, tied to a layer, so that the name stands in the tie's title."""
    made = project(gull(), layer("Ferry"))
    scene = made.scenes[0]
    words = FRAME.format(ATTACKS[of])[:120]
    tie = Tie(id="t", what=Anchor(layer="gull", of="start"), to=Anchor(of="marker", id="m"))
    scene = scene.changed(markers=(Marker(id="m", name=words, time=at(5)),), ties=(tie,))
    return made.with_scene(scene).changed(name=words)


@pytest.fixture
def victim(served):
    served.shop.projects.create(project(layer("Ferry")).changed(name="Victim"), "victim")
    return served.shop


@pytest.mark.parametrize("of", ATTACKS)
def test_a_project_file_that_once_ran_its_authors_requests_is_opened_and_does_nothing(
    tab, served, victim, tmp_path, of
):
    path = tmp_path / "shared.deftarc"
    path.write_text(attack(of).model_dump_json(exclude_defaults=True))
    asked = []
    tab.on("request", lambda request: asked.append((request.method, request.url)))
    tab.goto(served.at("/"))
    tab.set_input_files("#import", str(path))
    tab.wait_for_url("**/projects/*")
    bench = Workbench(tab, served, tab.url.removeprefix(served.at("")))
    bench.select("gull")
    bench.press("Shift+W")
    bench.press("Shift+P")
    tab.wait_for_timeout(300)
    assert tab.locator("iframe").count() == 0
    assert [url for method, url in asked if method == "POST" and not url.endswith("/import")] == []
    assert victim.projects.open("victim").project.name == "Victim"
    assert victim.settings.told().workers != 64


def test_what_a_script_makes_of_a_string_loads_nothing_and_runs_nothing(tab, served, victim):
    bench = Workbench(tab, served)
    told = tab.evaluate(
        """async () => {
          const told = [];
          const place = document.createElement("div");
          document.body.append(place);
          for (const text of ["<iframe srcdoc=x></iframe>", "<script>window.evil = 1</script>", "<base href=//x>",
                              "<SCRIPT src=/static/vendor/htmx/htmx.min.js></SCRIPT>", "<object data=x>"]) {
            try { place.innerHTML = text; told.push(text); } catch { /* refused */ }
          }
          place.innerHTML = "<img src=/nothing.png onerror='window.evil = 1'>";
          const script = document.createElement("script");
          try { script.src = "/static/vendor/htmx/htmx.min.js"; document.body.append(script); } catch { /* refused */ }
          const frame = document.createElement("iframe");
          frame.src = "/";
          document.body.append(frame);
          await new Promise((done) => setTimeout(done, 300));
          told.push(...(window.evil ? ["it ran"] : []));
          place.remove();
          frame.remove();
          return told;
        }"""
    )
    assert told == []
    bench.until(lambda: any("frame-src" in each for each in tab.troubles))
    tab.wait_for_timeout(200)
    tab.troubles.clear()


PROCESSOR = """
registerProcessor("pulse", class extends AudioWorkletProcessor {
  process(_inputs, outputs) { for (const row of outputs[0]) row.fill(0.25); return false; }
});
"""


@pytest.fixture
def pulse(served, tmp_path):
    """A worklet that lies where ours lie, and the same elsewhere."""
    (tmp_path / "worklets").mkdir()
    (tmp_path / "worklets" / "pulse.js").write_text(PROCESSOR)
    routes = served.app.router.routes
    made = [
        Mount(path, StaticFiles(directory=tmp_path / "worklets")) for path in ("/static/worklets", "/static/elsewhere")
    ]
    routes[:0] = made
    yield
    del routes[: len(made)]


def test_an_audio_worklet_of_ours_loads_and_no_other_address_is_one(tab, served, pulse):
    Workbench(tab, served)
    told = tab.evaluate(
        """async () => {
          const audio = new OfflineAudioContext(1, 128, 8000);
          const refused = await audio.audioWorklet.addModule("/static/elsewhere/pulse.js").then(() => "", (e) => e.name);
          await audio.audioWorklet.addModule("/static/worklets/pulse.js");
          new AudioWorkletNode(audio, "pulse").connect(audio.destination);
          const made = await audio.startRendering();
          return [refused, made.getChannelData(0)[64]];
        }"""
    )
    assert told == ["AbortError", 0.25]
    tab.wait_for_timeout(200)
    tab.troubles.clear()


def test_a_frame_that_has_no_token_changes_nothing_though_it_is_of_the_same_origin(tab, served, victim):
    Workbench(tab, served)
    codes = tab.evaluate(
        """async () => Promise.all(["/projects/victim/delete", "/room", "/settings", "/log-out-everywhere"].map(
          async (path) => (await fetch(path, { method: "POST", body: new URLSearchParams({ a: 1 }) })).status))"""
    )
    assert codes == [403] * 4
    assert victim.projects.open("victim")
    tab.troubles.clear()


def test_a_page_of_another_origin_cannot_send_a_form(tab, served, victim, context):
    page = context.new_page()
    page.goto("data:text/html,<form method=post action='" + served.at("/projects/victim/delete") + "'><button>")
    with page.expect_response("**/delete") as answered:
        page.click("button")
    assert answered.value.status == 403
    page.close()
    assert victim.projects.open("victim")


def test_long_names_and_turned_ones_stay_in_their_own_place(tab, served):
    turned = "\u202e" + "gnihton " * 12
    served.shop.projects.create(Project(name=turned[:100], scenes=project(layer("Ferry")).scenes), "turned")
    bench = Workbench(tab, served, "/projects/turned")
    tab.evaluate(
        "async (text) => (await import('/static/js/notice.js')).say(text)", "a" * 300 + ".deftarc is no project."
    )
    close = tab.locator("#notices .notice button[aria-label=Close]")
    expect(close).to_be_in_viewport()
    box = close.bounding_box()
    assert box["x"] + box["width"] <= 1280
    assert tab.locator("#project-name").evaluate("(each) => getComputedStyle(each).unicodeBidi") == "isolate"
    close.click()
    assert bench.state["revision"] >= 1
