"""The start page in Chromium: projects made, renamed, copied, deleted and brought back."""

import json

import pytest
from playwright.sync_api import expect

from deftarc.core.edit import EDIT
from deftarc.store.tables import PartRow
from tests.e2e.conftest import Workbench
from tests.e2e.playing import apart, painted
from tests.rendering import made
from tests.scenes import gull, project


@pytest.fixture
def start(tab, served):
    tab.goto(served.at("/"))
    return tab


def names(tab):
    return [field.input_value() for field in tab.locator(".card-project .name").all()]


def test_a_project_is_made_to_measure_and_opens(start, served):
    start.get_by_label("Name", exact=True).fill("Lantern buoy")
    start.get_by_text("Free size").click()
    start.get_by_label("Width").fill("800")
    start.get_by_label("Height").fill("450")
    start.get_by_label("Frame rate").select_option("29.97")
    start.get_by_label("Length").fill("0:02:00")
    start.get_by_role("button", name="Make it").click()
    start.wait_for_url("**/projects/*")
    start.wait_for_function("() => window.deftarc?.state.revision > 0")
    made = next(p for p in served.shop.projects.summaries() if p.name == "Lantern buoy")
    scene = served.document(made.id).scenes[0]
    assert (scene.width, scene.height, scene.frames, scene.rate.denominator) == (800, 450, 60, 1001)
    expect(start.locator("#stage-empty")).to_be_visible()


def test_what_cannot_be_made_is_said_and_nothing_typed_is_lost(start, served):
    start.get_by_label("Name", exact=True).fill("Lantern buoy")
    start.get_by_label("Length").fill("soon")
    start.get_by_role("button", name="Make it").click()
    start.get_by_text("is no time").wait_for()
    assert start.get_by_label("Name", exact=True).input_value() == "Lantern buoy"
    assert len(served.shop.projects.summaries()) == 1


def test_renamed_copied_deleted_and_brought_back(start):
    start.get_by_label("Name of Quillhaven summer").fill("Quillhaven autumn")
    start.keyboard.press("Enter")
    start.get_by_label("Name of Quillhaven autumn").wait_for()
    start.get_by_role("button", name="Duplicate").click()
    start.get_by_label("Name of Quillhaven autumn copy").wait_for()
    start.locator(".card-project", has=start.get_by_label("Name of Quillhaven autumn", exact=True)).get_by_role(
        "button", name="Delete"
    ).click()
    start.get_by_text("was deleted").wait_for()
    assert names(start) == ["Quillhaven autumn copy"]
    start.get_by_role("button", name="Bring it back").click()
    start.locator(".card-project").nth(1).wait_for()
    assert sorted(names(start)) == ["Quillhaven autumn", "Quillhaven autumn copy"]


def test_a_saved_project_file_opens_again(start, served, tmp_path):
    with start.expect_download() as waiting:
        start.get_by_title("Save Quillhaven summer as a project file").click()
    saved = tmp_path / "quillhaven.deftarc"
    waiting.value.save_as(saved)
    start.set_input_files("#import", str(saved))
    start.wait_for_url("**/projects/*")
    start.wait_for_function("() => window.deftarc?.state.revision > 0")
    assert len(served.shop.projects.summaries()) == 2


def test_a_drawing_that_was_delivered_opens_as_the_scene_it_was(start, served, tmp_path):
    job = served.shop.deliverable("quillhaven", "bell")
    path = made(job.scene, tmp_path / "bell.svg", job=job)
    start.set_input_files("#import", str(path))
    start.wait_for_url("**/projects/*")
    start.wait_for_function("() => window.deftarc?.state.items.size > 0")
    back = served.shop.projects.open(start.url.partition("?")[0].rpartition("/")[2]).project
    assert back.scenes == (job.scene,)


def test_an_animation_opens_and_what_it_leaves_out_is_said_first(start, served, tmp_path):
    job = served.shop.deliverable("quillhaven", "pennant")
    told = json.loads(made(job.scene, tmp_path / "a.json", job=job).read_text())
    told["layers"][0]["ef"] = [{"ty": 29}]
    (tmp_path / "a.json").write_text(json.dumps(told))
    start.set_input_files("#import", str(tmp_path / "a.json"))
    start.get_by_text("Effects are left out.").wait_for()
    start.get_by_role("button", name="Open it").click()
    start.wait_for_url("**/projects/*")
    start.wait_for_function("() => window.deftarc?.state.items.size > 0")
    name = start.url.partition("?")[0].rpartition("/")[2]
    back = served.shop.deliverable(name, served.shop.projects.open(name).project.scenes[0].id)
    for frame in (0, 40, 99):
        assert apart(painted(job, frame, 0.25), painted(back, frame, 0.25))[0] < 0.5


def test_a_file_that_is_no_project_is_refused_with_a_sentence(start, served, tmp_path):
    (tmp_path / "half.deftarc").write_bytes(served.shop.export("quillhaven")[:3000])
    start.set_input_files("#import", str(tmp_path / "half.deftarc"))
    start.get_by_text("damaged or cut short").wait_for()
    start.troubles.clear()  # the console reports the 400 itself
    assert len(served.shop.projects.summaries()) == 1


def test_a_way_back_from_the_workbench(tab, served):
    bench = Workbench(tab, served)
    tab.get_by_title("All projects").click()
    tab.get_by_text("6 scenes").wait_for()
    assert bench.served is served


def test_a_deleted_project_tells_its_room_and_is_removed_for_good_when_asked(tab, served):
    served.shop.projects.create(project(gull()).changed(name="Old sketches"), "old")
    served.shop.projects.delete("old")
    tab.goto(served.at("/"))
    tab.get_by_text("Deleted projects (1)").click()
    row = tab.locator(".deleted li", has_text="Old sketches")
    expect(row).to_contain_text("kB")
    # Asked once more; saying no leaves it.
    tab.once("dialog", lambda asked: asked.dismiss())
    row.get_by_role("button", name="Remove for good").click()
    expect(row).to_be_visible()
    tab.once("dialog", lambda asked: asked.accept())
    row.get_by_role("button", name="Remove for good").click()
    expect(tab.locator(".deleted")).to_have_count(0)
    assert served.shop.projects.summaries(deleted=True) == []
    tab.get_by_role("button", name="Give room back").click()
    expect(tab.locator(".folder .kept").first).to_contain_text("came back")


def test_a_damaged_project_is_told_apart_and_taken_back_with_one_press(tab, served):
    shop = served.shop
    shop.projects.create(project(gull()).changed(name="Lantern Isle"), "isle")
    shop.commit("isle", 1, EDIT.validate_python({"kind": "rename_project", "name": "Lantern Isle, lost"}))
    with shop.sessions.begin() as session:
        session.get(PartRow, shop.projects.root_of("isle")[1]).body = b"nothing"
    shop.projects.forget_open()
    tab.goto(served.at("/"))
    card = tab.locator('[data-project="isle"]')
    expect(card).to_contain_text("damaged")
    expect(tab.locator('[data-project="quillhaven"]').get_by_role("link", name="Open", exact=True)).to_be_visible()
    with tab.expect_download() as saved:
        card.get_by_role("link", name="As it lies").click()
    assert saved.value.suggested_filename.endswith("as-it-lies.deftarc")
    card.get_by_role("button", name="Last whole state").click()
    expect(card).not_to_contain_text("damaged")
    card.get_by_role("link", name="Open", exact=True).click()
    tab.wait_for_function("() => window.deftarc && window.deftarc.state.revision > 0")
    tab.goto("about:blank")


def test_how_many_renders_run_at_once_is_kept(tab, served):
    tab.goto(served.at("/"))
    field = tab.get_by_label("Renders at once")
    field.fill("3")
    field.press("Enter")
    expect(tab.locator(".settings .kept")).to_contain_text("3 renders")
    tab.reload()
    expect(tab.get_by_label("Renders at once")).to_have_value("3")
