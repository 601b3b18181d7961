"""Names and words are shown, never run: a project all of whose texts are markup, opened, gone through, and delivered."""

import json
from dataclasses import replace

import pytest
from playwright.sync_api import expect

from deftarc.core.changes.css import parse_easing
from deftarc.core.curves.knots import OwnEase
from deftarc.formats.origins import with_origin
from tests.e2e.conftest import Workbench
from tests.everything import everything
from tests.markup import SORTS, marked_up, texts_of
from tests.rendering import made
from tests.web.live.test_page_shows_what_is import quay

#: What a text must not have become.
ARISEN = """() => {
  const wrong = [...document.querySelectorAll("*")].filter((each) =>
    each.localName.includes("evil") || each.matches("[onerror], [onload], [onmouseover], [data-evil]," +
      "iframe:not([sandbox]), [hx-post*=evil], [href^='javascript'], script:not([nonce]):not([type='application/json'])"));
  return [...wrong.map((each) => each.outerHTML.slice(0, 300)), ...(window.evil ? ["it ran"] : [])];
}"""


@pytest.fixture(scope="module")
def evil(tmp_path_factory):
    """The project as a file, with how many texts of it are markup by the field they stand in."""
    from deftarc.app.workshop import Workshop
    from deftarc.demo import install

    shop = Workshop.at(tmp_path_factory.mktemp("made"))
    install(shop.projects, shop.assets)
    demo = shop.projects.open("quillhaven").project
    project = everything(quay(), demo).changed(fonts=demo.fonts)
    first, *rest = project.scenes
    few = tuple(layer for layer in first.layers if not layer.name.startswith("Mote"))
    came, kept = with_origin((rest[0],), SORTS[0][:60])
    shop.assets.put([kept])
    project = marked_up(project.changed(scenes=(first.changed(layers=few), *came, *rest[1:])))
    shop.projects.create(project, "evil")
    path = tmp_path_factory.mktemp("file") / f"{SORTS[4][:40].replace('/', '-')}.deftarc"
    path.write_bytes(shop.export("evil"))
    return project, path


def test_the_project_has_markup_of_every_sort_in_every_kind_of_text(evil):
    texts = [(at, text) for at, text in texts_of(evil[0]) if "evil" in text or "<" in text]
    kinds = {at for at, _ in texts}
    for at in (
        ".name", ".scenes.name", ".scenes.layers.name", ".scenes.layers.masks.name", ".scenes.layers.artwork.text",
        ".scenes.markers.name", ".scenes.layers.markers.name", ".scenes.takes.takes.name", ".motions.name",
        ".motions.about", ".motions.dials.label", ".shelf.name", ".fonts.label", ".scenes.origin.file",
    ):  # fmt: skip
        assert at in kinds or at.endswith("file"), at
    assert all(any(sort[:12] in text for _, text in texts) for sort in SORTS)


class Watched:
    """A page whose every request is written down, and on which nothing may arise of a text."""

    def __init__(self, tab, served):
        self.tab, self.served, self.asked = tab, served, []
        tab.on("request", self._heard)

    def _heard(self, request):
        self.asked.append((request.method, request.url))

    def check(self, where):
        assert self.tab.evaluate(ARISEN) == [], where
        own = self.served.at("")
        elsewhere = [url for _, url in self.asked if not url.startswith((own, "data:", "blob:", "about:"))]
        assert elsewhere == [], where
        assert [url for _, url in self.asked if "evil" in url.partition("?")[0]] == [], where
        assert [url for method, url in self.asked if method != "GET" and url.endswith("/delete")] == [], where

    def end(self):
        self.tab.remove_listener("request", self._heard)


@pytest.fixture
def watched(tab, served):
    made = Watched(tab, served)
    yield made
    made.end()


@pytest.fixture
def opened(watched, evil):
    """The workbench with the project, brought in as anybody would."""
    watched.tab.goto(watched.served.at("/"))
    watched.tab.set_input_files("#import", str(evil[1]))
    watched.tab.wait_for_url("**/projects/*")
    name = watched.tab.url.partition("?")[0].rpartition("/")[2]
    return Workbench(watched.tab, watched.served, f"/projects/{name}"), name


def test_the_start_page_with_its_cards_its_deleted_ones_and_its_notices(watched, opened, evil):
    _, name = opened
    shop, tab = watched.served.shop, watched.tab
    tab.goto(watched.served.at("/"))
    expect(tab.locator(".card-project")).to_have_count(2)
    watched.check("the cards")
    card = tab.locator(f'.card-project[data-project="{name}"]')
    card.get_by_role("button", name="Duplicate").click()
    expect(tab.locator(".card-project")).to_have_count(3)
    watched.check("a copy")
    field = card.locator(".name")
    field.fill(SORTS[1])
    field.press("Enter")
    tab.wait_for_timeout(200)
    watched.check("a new name")
    shop.delete(name)
    tab.goto(watched.served.at(f"/parts/projects?gone={name}"))
    assert tab.evaluate(ARISEN) == []
    tab.goto(watched.served.at("/"))
    tab.get_by_text("Deleted projects").click()
    tab.locator(".deleted li").first.wait_for()
    watched.check("the deleted ones")
    tab.goto(watched.served.at("/projects/<nothing-x>"))
    watched.check("a refused address")
    watched.tab.troubles.clear()


#: Actions that leave the page or open the system's own windows.
ELSEWHERE = {"bring-font", "replace-artwork", "add-file", "bring-again", "path-file", "samples-file", "mask-file"}


def test_every_scene_list_figure_drawer_menu_and_action(watched, opened):
    bench, name = opened
    tab, shop = watched.tab, watched.served.shop
    actions = tab.evaluate("async () => (await import('/static/js/actions.js')).allActions().map((each) => each.id)")
    project = shop.projects.open(name).project
    for scene in project.scenes:
        tab.evaluate("async (id) => (await import('/static/js/holding.js')).showScene(id)", scene.id)
        bench.settle()
        watched.check(f"scene {scene.id}")
        wanted = {each.artwork.kind: each.id for each in scene.layers}
        for layer in wanted.values():
            tab.evaluate("async (id) => (await import('/static/js/holding.js')).select([id])", layer)
            for page in ("motion", "look", "relations"):
                tab.evaluate(
                    "async (page) => { const s = await import('/static/js/state.js'); s.like('page', page);"
                    " (await import('/static/js/link.js')).look(); }", page,
                )  # fmt: skip
                bench.settle()
                watched.check(f"figures {page} of {layer}")
    first = project.scenes[0]
    tab.evaluate("async (id) => (await import('/static/js/holding.js')).showScene(id)", first.id)
    ids = [each.id for each in first.layers if each.tracks and any(t.keys for t in each.tracks.values())][:2]
    for action in actions:
        if action in ELSEWHERE or any(word in action for word in ("file", "font", "samples")):
            continue
        tab.evaluate("async (ids) => (await import('/static/js/holding.js')).select(ids)", ids)
        tab.evaluate(
            "async (id) => { const { actOrSay } = await import('/static/js/actions.js'); try { actOrSay(id); } catch {} }",
            action,
        )
        tab.wait_for_timeout(30)
        watched.check(f"action {action}")
        tab.evaluate("() => { for (const each of document.querySelectorAll('dialog[open]')) each.close(); }")
        tab.keyboard.press("Escape")
        tab.keyboard.press("Escape")
        if not tab.evaluate("(scene) => window.deftarc.state.scene.id === scene", first.id):
            tab.evaluate("async (id) => (await import('/static/js/holding.js')).showScene(id)", first.id)
    bench.settle()
    watched.check("after all")
    tab.troubles.clear()


def test_what_is_pointed_at_pressed_with_the_other_button_and_renamed(watched, opened):
    bench, _name = opened
    tab = watched.tab
    bench.press("Escape")
    rows = tab.locator("#lanes .head")
    for n in range(min(rows.count(), 5)):
        rows.nth(n).hover()
        rows.nth(n).click(button="right")
        tab.wait_for_timeout(50)
        watched.check(f"the menu of row {n}")
        tab.keyboard.press("Escape")
    for at in ("#marks .pennant", "#tie-lines .tie .hit", "#lanes .bead", "#lanes .summary", "#picture"):
        found = tab.locator(at)
        if found.count():
            found.first.hover(force=True)
            found.first.click(button="right", force=True)
            tab.wait_for_timeout(50)
            watched.check(at)
            tab.keyboard.press("Escape")
    row = tab.locator("#lanes .head [data-select]").first
    row.dblclick()
    field = tab.locator("#lanes .rename")
    field.fill(SORTS[2])
    field.press("Enter")
    bench.settle()
    watched.check("renamed")
    bench.press("ControlOrMeta+z")
    watched.check("undone")
    bench.press("Shift+H")
    expect(tab.locator("#drawer")).to_be_visible()
    watched.check("the history")
    # A refusal that repeats what was typed, and one that repeats a name.
    tab.locator("#clock").fill(SORTS[1])
    tab.locator("#clock").press("Enter")
    tab.locator("#notices .notice").first.wait_for()
    watched.check("a notice")
    tab.locator("#find").fill("<evil-x>")
    bench.settle()
    watched.check("what is found")
    tab.troubles.clear()


def test_motions_and_eases_kept_for_all_and_the_sheet_of_deliver(watched, opened):
    bench, name = opened
    tab, shop = watched.tab, watched.served.shop
    motion = shop.projects.open(name).project.motions[0]
    shop.motions.keep(motion)
    shop.eases.keep(OwnEase(name=SORTS[5][:60], knots=tuple(parse_easing("ease-in"))))
    bench.press("ControlOrMeta+Shift+L")
    expect(tab.locator("#drawer")).to_be_visible()
    watched.check("the library")
    bench.press("Escape")
    tab.locator("#render").click()
    tab.locator("#deliver-told li").first.wait_for()
    watched.check("the sheet")
    for output in ("svg", "html", "lottie", "png"):
        choice = tab.locator(f'#deliver-form input[name=output][value="{output}"]')
        if choice.count():
            choice.check(force=True)
            tab.locator("#deliver-told li").first.wait_for()
            tab.wait_for_timeout(150)
            assert tab.evaluate(ARISEN) == []
    tab.get_by_role("button", name="Deliver it").click()
    tab.locator("#renders .job").first.wait_for()
    watched.check("the queue")


@pytest.mark.parametrize("suffix", ["svg", "html", "json"])
def test_what_goes_out_runs_nothing_where_it_is_opened_alone(context, evil, served, tmp_path, suffix):
    project, path = evil
    page = context.new_page()
    asked = []
    page.on("request", lambda request: asked.append(request.url))
    name = served.shop.take(read(path))
    for scene in project.scenes[:4]:
        job = served.shop.deliverable(name, scene.id)
        # All its names and texts are in it however short it is.
        layers = tuple(each.changed(start=0, end=None) for each in job.scene.layers)
        job = replace(job, scene=job.scene.changed(frames=6, play_range=None, layers=layers))
        file = made(job.scene, tmp_path / f"{scene.id}.{suffix}", job=job)
        if suffix == "json":
            # Opened as what it is, and as a browser would show it that takes it for text.
            json.loads(file.read_text())
            file = file.rename(file.with_suffix(".json.txt"))
        asked.clear()
        page.goto(file.as_uri())
        page.wait_for_timeout(150)
        if suffix != "json":
            assert page.evaluate(ARISEN) == []
        assert asked == [file.as_uri()]
    page.close()


def read(path):
    from deftarc.formats.archive import read_project

    return read_project(path.read_bytes())
