"""The sheet in which a scene is delivered: where it goes, as what, what arrives of it; and the queue of renders."""

import io
import zipfile

import pytest
from PIL import Image
from playwright.sync_api import expect

from deftarc.core.edit.layers import DescribeLayers
from deftarc.core.edit.scenes import ChangeScene

pytestmark = pytest.mark.e2e


@pytest.fixture
def small(bench):
    """The Pennant, small, so that what is made of it is soon made."""
    shop = bench.served.shop
    pennant = ChangeScene(scene="pennant", width=120, height=121, fit="scale")
    shop.commit("quillhaven", shop.projects.open("quillhaven").revision, pennant)
    bench.open("/projects/quillhaven?scene=pennant")
    return bench


def sheet(bench):
    bench.tab.get_by_role("button", name="Render").click()
    expect(bench.tab.locator("#deliver-told figure")).to_be_visible()
    return bench.tab.locator("#render-dialog")


def choose(bench, label):
    kind = bench.tab.locator("#render-dialog .kind", has_text=label)
    kind.click()
    # The form of its options is there once it says so.
    bench.tab.locator(f"#deliver-form[data-output='{kind.locator('input').get_attribute('value')}']").wait_for()
    expect(bench.tab.locator("#render-dialog .kind:has(:checked)")).to_contain_text(label)
    expect(bench.tab.locator("#deliver-told figure")).to_be_visible()


def done(bench, count=1):
    bench.tab.wait_for_function(f"() => document.querySelectorAll('.job.done').length === {count}", timeout=60_000)


def deliver(bench, count=1):
    bench.tab.get_by_role("button", name="Deliver it").click()
    done(bench, count)


def saved(bench, kind):
    with bench.tab.expect_download() as waiting:
        bench.tab.locator(".job", has_text=kind).first.get_by_role("link", name="Save").click()
    with open(waiting.value.path(), "rb") as file:
        return waiting.value.suggested_filename, file.read()


def plays(bench):
    """Whether what is shown of it plays, or is there at all where it is a picture."""
    return bench.tab.wait_for_function(
        """() => { const shown = document.querySelector(".deliver-picture > *");
            return !shown ? false : shown.tagName === "IFRAME" ? true : shown.dataset.plays ? shown.querySelector("svg path, svg image") : shown.tagName === "VIDEO" ? shown.currentTime > 0 && shown.videoWidth : shown.naturalWidth; }""",
        timeout=30_000,
    )


#: What is said of an output that is no pictures.
SAID = {
    **dict.fromkeys(("SVG", "HTML", "JSON", "LOTTIE"), "with their eases"), "CSV": "numbers that move",
    "DEFTARC": "with every key",
}  # fmt: skip


@pytest.mark.parametrize(
    ("label", "kind", "head"),
    [("Movie (MP4)", "MP4", b"ftyp"), ("lies over others", "WEBM", b"\x1aE\xdf\xa3"), ("few colours", "GIF", b"GIF89a"),
     ("all colours", "APNG", b"PNG"), ("PNG in a ZIP", "ZIP", b"PK"), ("This frame (PNG)", "PNG", b"PNG"),
     ("This frame (WebP)", "WEBP", b"RIFF"), ("Drawing that moves", "SVG", b"<svg"), ("CSS keyframes", "HTML", b"<!doctype"),
     ("Lottie (JSON)", "JSON", b'{"v"'), ("Lottie, zipped", "LOTTIE", b"PK"), ("Numbers at every frame", "CSV", b"frame,"),
     ("Project file", "DEFTARC", b"PK")],
)  # fmt: skip
def test_each_output_is_shown_measured_made_and_saved(small, label, kind, head):
    small.go(50)
    sheet(small)
    choose(small, label)
    plays(small)
    expect(small.tab.locator("#deliver-told figcaption")).to_contain_text("about ", timeout=30_000)
    expect(small.tab.locator("#deliver-told .arrives")).to_contain_text(SAID.get(kind, "as you see"))
    deliver(small)
    name, data = saved(small, kind)
    assert head in data[:12]
    assert name.lower().endswith(kind.lower())
    if kind == "PNG":
        assert name.endswith("frame-50.png")


def test_where_it_goes_chooses_as_what_and_how_and_is_shown_where_it_is_what_was_chosen(small):
    dialog = sheet(small)
    for to, kind, field, value in (
        ("A message", "GIF", "dither", "scattered"), ("A large screen", "MP4", "quality", "high"),
        ("Another program", "ZIP", "pattern", "#"), ("An app", "JSON", "rest", "pictures"),
    ):  # fmt: skip
        dialog.get_by_role("button", name=to).click()
        expect(dialog.locator(".kind:has(:checked)")).to_contain_text(kind)
        expect(dialog.locator(f"[name={field}]")).to_have_value(value)
        expect(dialog.get_by_role("button", name=to)).to_have_attribute("aria-pressed", "true")
        expect(dialog.get_by_role("button", name=to)).to_be_focused()


def test_it_begins_as_it_was_used_last_in_this_project_and_remembers_each_output(small):
    dialog = sheet(small)
    choose(small, "few colours")
    dialog.locator("[name=scale]").fill("50")
    dialog.locator("[name=dither]").select_option("none")
    expect(small.tab.locator("#deliver-told figcaption")).to_contain_text("60 × 60 px")
    deliver(small)
    _, data = saved(small, "GIF")
    assert Image.open(io.BytesIO(data)).size == (60, 60)
    small.press("Escape")
    small.open("/projects/quillhaven?scene=buoy")
    dialog = sheet(small)
    expect(dialog.locator(".kind:has(:checked)")).to_contain_text("GIF")
    expect(dialog.locator("[name=scale]")).to_have_value("50")
    expect(dialog.locator("[name=dither]")).to_have_value("none")
    choose(small, "Movie (MP4)")
    expect(dialog.locator("[name=scale]")).to_have_value("100")
    choose(small, "few colours")
    expect(dialog.locator("[name=scale]")).to_have_value("50")


def test_what_arrives_changed_or_stays_here_is_said_before_it_is_made(small):
    shop = small.served.shop
    shop.commit("quillhaven", shop.projects.open("quillhaven").revision,
                ChangeScene(scene="pennant", background="none"))  # fmt: skip
    shop.commit("quillhaven", shop.projects.open("quillhaven").revision,
                DescribeLayers(scene="pennant", layers=(shop.projects.open("quillhaven").project.scene("pennant").layers[0].id,), hidden=True))  # fmt: skip
    sheet(small)
    choose(small, "Movie (MP4)")
    told = small.tab.locator("#deliver-told")
    expect(told.locator(".changed")).to_contain_text("it is 120 × 122 px, its last row twice")
    expect(told.locator(".changed")).to_contain_text("what is clear lies on #ffffff")
    expect(told.locator(".left")).to_contain_text("Hidden: “")
    choose(small, "few colours")
    expect(told.locator(".changed")).to_contain_text("256 colours")


def test_what_it_says_is_of_the_scene_as_it_is_by_then(small):
    shop = small.served.shop
    sheet(small)
    told = small.tab.locator("#deliver-told")
    expect(told.get_by_text("Hidden: “")).to_have_count(0)
    first = shop.projects.open("quillhaven").project.scene("pennant").layers[0]
    # As another window would.
    hidden = DescribeLayers(scene="pennant", layers=(first.id,), hidden=True)
    shop.commit("quillhaven", shop.projects.open("quillhaven").revision, hidden)
    expect(told.locator(".left")).to_contain_text(f"Hidden: “{first.name}")


def test_what_cannot_be_is_said_in_the_sheet_and_nothing_is_made(small):
    dialog = sheet(small)
    dialog.locator("[name=scale]").fill("a lot")
    expect(dialog.locator("#deliver-told .sentence")).to_contain_text("Size: “a lot” is no number")
    dialog.locator("[name=scale]").fill("1000")
    expect(dialog.locator("#deliver-told .sentence")).to_contain_text("less than or equal to 4")
    small.tab.get_by_role("button", name="Deliver it").click()
    expect(dialog.locator("#deliver-queue")).to_contain_text("less than or equal to 4")
    assert not small.served.shop.jobs.of_project("quillhaven")
    dialog.locator("[name=scale]").fill("100")
    expect(small.tab.locator("#deliver-told figure")).to_be_visible()
    deliver(small)


def test_the_play_range_is_what_is_delivered_where_there_is_one(small):
    dialog = sheet(small)
    expect(dialog.locator("[name=part]")).to_have_count(0)
    small.press("Escape")
    small.go(10)
    small.press("[")
    small.go(24)
    small.press("]")
    dialog = sheet(small)
    expect(dialog.locator("[name=part]")).to_have_value("range")
    first, last = small.tab.evaluate("window.deftarc.state.scene.range")
    expect(small.tab.locator("#deliver-told figcaption")).to_contain_text(f"{last - first} frames")
    choose(small, "PNG in a ZIP")
    deliver(small)
    _, data = saved(small, "ZIP")
    names = zipfile.ZipFile(io.BytesIO(data)).namelist()
    assert names == [f"{n:04d}.png" for n in range(first, last)]
    dialog.locator("[name=part]").select_option("all")
    deliver(small, 2)
    assert small.served.shop.jobs.of_project("quillhaven")[0].total == 100


def test_all_of_it_goes_with_keys_alone(small):
    small.tab.get_by_role("button", name="Render").press("Enter")
    expect(small.tab.locator("#deliver-told figure")).to_be_visible()
    small.tab.locator("#render-dialog input[name=output]:checked").focus()
    small.press("ArrowDown")
    expect(small.tab.locator(".kind:has(:checked)")).to_contain_text("WebM")
    expect(small.tab.locator("input[name=output]:checked")).to_be_focused()
    expect(small.tab.locator("#deliver-told figure")).to_be_visible()
    small.tab.locator("[name=scale]").focus()
    small.press("Enter")
    done(small)
    small.press("Escape")
    expect(small.tab.locator("#render-dialog")).to_be_hidden()


def test_renders_are_paused_gone_on_with_put_first_stopped_and_made_again(small):
    shop = small.served.shop
    shop.renders.close()
    dialog = sheet(small)
    for _ in range(3):
        small.tab.get_by_role("button", name="Deliver it").click()
        small.tab.wait_for_timeout(200)
    jobs = dialog.locator(".job")
    expect(jobs).to_have_count(3)
    first, second, third = shop.jobs.in_order()
    dialog.locator(f"[data-job='{third}']").get_by_role("button", name="First").click()
    expect(jobs.first).to_have_attribute("data-job", third)
    dialog.locator(f"[data-job='{second}']").get_by_role("button", name="Pause").click()
    expect(dialog.locator(f"[data-job='{second}']")).to_contain_text("paused")
    dialog.locator(f"[data-job='{first}']").get_by_role("button", name="Stop").click()
    expect(dialog.locator(f"[data-job='{first}']")).to_contain_text("Stopped before it was finished")
    dialog.locator(f"[data-job='{first}']").get_by_role("button", name="Again").click()
    expect(jobs).to_have_count(4)
    shop.renders.open()
    done(small, 2)
    expect(dialog.locator(f"[data-job='{second}']")).to_contain_text("paused")
    dialog.locator(f"[data-job='{second}']").get_by_role("button", name="Go on").click()
    done(small, 3)
