"""Makes docs/screenshots/ anew from the demo data: `make screenshots`."""

import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Locator, Page, sync_playwright
from tests.running import Served, chromium

OUT = Path(__file__).parents[1] / "docs" / "screenshots"


def settle(page: Page) -> None:
    page.wait_for_function(
        "() => window.deftarc && window.deftarc.state.items !== undefined && window.deftarc.state.revision > 0"
    )
    page.wait_for_timeout(250)
    page.evaluate("window.deftarc.settled()")
    page.wait_for_timeout(150)


def row(page: Page, layer: str) -> Locator:
    """A layer's row in the list, scrolled to: only what is in view is drawn."""
    found = page.locator(f'[data-select="{layer}"]')
    for top in range(0, 2_000, 200):
        if found.count():
            break
        page.evaluate("(top) => { document.getElementById('lanes-scroll').scrollTop = top; }", top)
        settle(page)
    return found


def go(page: Page, told: str) -> None:
    page.locator("#clock").fill(told)
    page.keyboard.press("Enter")
    settle(page)


def key(page: Page, layer: str, name: str, index: int) -> None:
    page.locator(f'#lanes .bead[data-layer="{layer}"][data-property="{name}"]').nth(index).click()
    settle(page)


def at(page: Page, x: float, y: float) -> tuple[float, float]:
    """Scene px to page px."""
    found = page.evaluate("([x, y]) => window.deftarc.toClient(x, y)", [x, y])
    return found["x"], found["y"]


def drag(page: Page, start: tuple[float, float], end: tuple[float, float], up: bool = True) -> None:
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*end, steps=8)
    settle(page)
    if up:
        page.mouse.up()
        settle(page)


def copied(page: Page, url: str) -> str:
    """A copy of the demo opened, so that the other pictures stay the demo's: its id."""
    made: str = page.request.post(f"{url}/api/projects/quillhaven/duplicate").json()["id"]
    page.goto(f"{url}/projects/{made}")
    settle(page)
    return made


def daily(page: Page, url: str, shot: Callable[[str], None]) -> None:
    """Drawing, words, snapping, settings: on a copy of the demo, so that the other pictures stay the demo's."""
    made = copied(page, url)
    page.keyboard.press("n")
    page.mouse.click(*at(page, 300, 640))
    drag(page, at(page, 620, 430), at(page, 740, 400))
    drag(page, at(page, 1080, 520), at(page, 1180, 600))
    page.mouse.click(*at(page, 1420, 480))
    page.keyboard.press("Enter")
    settle(page)
    page.keyboard.press("p")
    settle(page)
    page.mouse.click(*at(page, 620, 430))
    settle(page)
    for key_pressed in ("Escape", "Escape", "Delete"):
        page.keyboard.press(key_pressed)
        settle(page)
    go(page, "0:03:00")
    page.mouse.dblclick(*at(page, 300, 160))
    page.locator(".text-editor").wait_for()
    page.locator(".text-editor").fill("Quillhaven\nFerry")
    settle(page)
    page.keyboard.press("Escape")
    page.keyboard.press("Home")
    page.keyboard.press("r")
    stage = page.locator("#stage").bounding_box()
    assert stage is not None
    drag(page, (stage["x"] + 8, stage["y"] + 120), at(page, 960, 500))
    row(page, "ferry").click()
    settle(page)
    drag(page, at(page, 420, 860), at(page, 846, 700), up=False)
    page.screenshot(path=OUT / "snapping.png")
    page.keyboard.press("Escape")
    page.mouse.up()
    page.keyboard.press("r")
    page.request.delete(f"{url}/api/projects/{made}")


def again(page: Page, url: str, shot: Callable[[str], None]) -> None:
    """Keys copied, staggered and going on, on a copy of the demo."""
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    made = copied(page, url)
    row(page, "title").click()
    page.keyboard.press("Control+a")
    settle(page)
    page.keyboard.press("Control+c")
    page.locator("#hint").get_by_text("copied").wait_for()
    row(page, "mist").click()
    settle(page)
    go(page, "0:01:00")
    page.keyboard.press("u")
    page.locator("#trial").wait_for()
    settle(page)
    page.locator('[data-trial="how.often"]').fill("3")
    settle(page)
    page.locator("#trial").get_by_role("button", name="there and back").click()
    settle(page)
    shot("paste")
    page.keyboard.press("Escape")
    key(page, "gull", "rotation", 2)
    page.keyboard.press("Escape")
    key(page, "title", "scale", 2)
    page.locator('[data-beyond="after"]').select_option("alternate")
    settle(page)
    page.locator('[data-beyond-count="after"]').fill("3.5")
    page.locator('[data-beyond-count="after"]').press("Enter")
    settle(page)
    go(page, "0:03:00")
    page.evaluate("document.dispatchEvent(new CustomEvent('deftarc:scene', { detail: 'card' }))")
    settle(page)
    row(page, "row1").click()
    for name in ("row2", "row3"):
        page.locator(f'[data-select="{name}"]').click(modifiers=["Control"])
    settle(page)
    go(page, "0:01:02")
    page.keyboard.press("z")
    settle(page)
    page.locator('[data-trial="far"]').fill("12")
    settle(page)
    page.locator('[data-trial="order"]').select_option("reversed")
    settle(page)
    page.keyboard.press("Escape")
    page.request.delete(f"{url}/api/projects/{made}")


def otherwise(page: Page, url: str, shot: Callable[[str], None]) -> None:
    """The seam of a loop, takes, the history: on a copy of the demo."""
    made = copied(page, url)
    page.keyboard.press("Shift+E")
    page.wait_for_timeout(600)
    settle(page)
    shot("seam")
    page.keyboard.press("Escape")
    row(page, "gull").click()
    settle(page)
    page.keyboard.press("Shift+N")
    settle(page)
    bead = page.locator('#lanes .bead[data-layer="gull"][data-property="position"]').nth(1)
    box = bead.locator(".hit").bounding_box()
    assert box is not None
    spot = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    drag(page, spot, (spot[0] + 36, spot[1]))
    page.locator("[data-ease=slow-ends]").first.click()
    row(page, "gull").click()
    settle(page)
    go(page, "0:02:02")
    page.keyboard.press("Shift+D")
    page.wait_for_timeout(600)
    settle(page)
    page.locator("#notices button").first.click()
    shot("takes")
    page.keyboard.press("Shift+D")
    for _ in range(2):
        page.keyboard.press("Control+z")
        settle(page)
    row(page, "title").click()
    settle(page)
    page.keyboard.press("Shift+O")
    settle(page)
    page.keyboard.press("Shift+H")
    settle(page)
    page.locator("#drawer summary").first.click()
    page.locator("[data-name-state]").first.click()
    page.locator("#ask-dialog input").fill("Lettering goes on")
    page.keyboard.press("Enter")
    settle(page)
    shot("history")
    page.keyboard.press("Escape")
    page.request.delete(f"{url}/api/projects/{made}")


def pair(page: Page, url: str, shot: Callable[[str], None]) -> None:
    """The pair at work, on a copy of the demo."""
    made = copied(page, url)
    row(page, "ferry").click()
    settle(page)
    page.locator('[data-curve="ferry rotation"] [data-curve-main]').click()
    settle(page)
    click(page, '#pair .one[data-property="rotation"] .bead:not(.in-speed)', 2)
    page.keyboard.press("j")
    settle(page)
    page.locator('[data-side-speed="leaving"]').fill("2.2")
    page.keyboard.press("Enter")
    settle(page)
    go(page, "0:01:20")
    page.mouse.move(1010, 190)
    settle(page)
    page.keyboard.press("Control+z")
    page.keyboard.press("Escape")
    row(page, "gull").click()
    settle(page)
    for lane in ("rotation", "scale"):
        page.locator(f'[data-curve="gull {lane}"] [data-curve-show]').click()
        settle(page)
    frame = page.locator("svg.pair").bounding_box()
    assert frame is not None
    drag(page, (frame["x"] + 260, frame["y"] + 12), (frame["x"] + 444, frame["y"] + 150))
    shot("pair-curves")
    page.locator('[data-curve="gull rotation"] [data-curve-show]').click()
    page.locator('[data-curve="gull scale"] [data-curve-show]').click()
    settle(page)
    page.keyboard.press("Escape")
    row(page, "gull").click()
    settle(page)
    click(page, '#pair .one[data-property="position"] .bead:not(.in-speed)', 3)
    page.locator('[data-craft="settle"]').click()
    page.get_by_role("menuitem", name="between the two keys").click()
    settle(page)
    page.keyboard.press("Control+z")
    settle(page)
    page.keyboard.press("a")
    settle(page)
    click(page, '#pair .one[data-property="position"] .bead:not(.in-speed)', 3)
    page.keyboard.press("t")
    page.locator("#tryouts-dialog .try").nth(8).wait_for()
    page.wait_for_timeout(1150)
    page.screenshot(path=OUT / "try-outs.png")
    page.keyboard.press("Escape")
    page.request.delete(f"{url}/api/projects/{made}")


def paths(page: Page, url: str, shot: Callable[[str], None]) -> None:
    """The motion path under the hand, on a copy of the demo."""
    made = copied(page, url)
    key(page, "gull", "position", 2)
    page.keyboard.press("Delete")
    row(page, "gull").click()
    page.keyboard.press("e")
    settle(page)
    page.locator("[data-path-joint=automatic]").click()
    settle(page)
    key(page, "gull", "position", 1)
    page.locator("[data-roundness]").fill("80")
    page.locator("[data-roundness]").dispatch_event("change")
    settle(page)
    page.keyboard.press("h")
    go(page, "0:03:22")
    shot("path-bent")
    page.keyboard.press("h")
    page.request.delete(f"{url}/api/projects/{made}")


def click(page: Page, what: str, index: int) -> None:
    box = page.locator(what).nth(index).locator(".hit").bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    settle(page)


def answers(page: Page, url: str, shot: Callable[[str], None]) -> None:
    """What follows, what reacts, and a scene in a scene: as the demo has them."""
    page.goto(f"{url}/projects/quillhaven?scene=crossing")
    settle(page)
    row(page, "title").click()
    settle(page)
    go(page, "0:04:00")
    page.keyboard.press("Shift+Q")
    page.locator("#drawer [data-drawer-find]").fill("rotation")
    settle(page)
    page.locator("#drawer [data-follow-edit]", has_text="Rotation of Gull").focus()
    settle(page)
    page.screenshot(path=OUT / "link.png")
    page.keyboard.press("Escape")
    go(page, "0:01:06")
    row(page, "flag").click()
    page.keyboard.press("Control+Shift+L")
    page.locator(".motion-tile.known").nth(4).wait_for()
    page.locator(".motion-tile", has_text="Rope snaps").hover()
    settle(page)
    # The pictures play; they are taken as they are a moment on.
    page.wait_for_timeout(700)
    page.screenshot(path=OUT / "library.png")
    page.keyboard.press("Escape")
    page.goto(f"{url}/projects/quillhaven?scene=buoy")
    settle(page)
    go(page, "0:01:12")
    for layer in ("drop", "ring"):
        page.locator(f'[data-select="{layer}"]').click(modifiers=[] if layer == "drop" else ["Control"])
        settle(page)
    page.locator('[data-page="relations"]').click()
    settle(page)
    page.locator("#figures [data-react-row]").first.scroll_into_view_if_needed()
    shot("reactions")
    page.locator('[data-page="motion"]').click()
    page.goto(f"{url}/projects/quillhaven?scene=card")
    settle(page)
    row(page, "bell2").click()
    settle(page)
    page.keyboard.press("Control+Enter")
    settle(page)
    row(page, "clapper").click()
    go(page, "0:00:20")
    shot("within")


def folds(page: Page, *wanted: str) -> None:
    """Only some sections of the page Look open."""
    page.locator('[data-page="look"]').click()
    settle(page)
    for fold in page.locator("#figures details.look-fold").all():
        if (fold.get_attribute("open") is not None) != (fold.get_attribute("data-fold") in wanted):
            fold.locator("summary").click()
            settle(page)


def looks(page: Page, url: str, shot: Callable[[str], None]) -> None:
    """Masks, effects, gradients, bursts and motion blur, by night."""
    page.goto(f"{url}/projects/quillhaven?scene=lantern")
    settle(page)
    go(page, "0:02:12")
    row(page, "moon").click()
    settle(page)
    page.mouse.move(*at(page, 1560, 260))
    for _ in range(3):
        page.mouse.wheel(0, -240)
        settle(page)
    folds(page, "masks")
    page.locator("#figures [data-mask-points]").first.click()
    settle(page)
    page.locator("#figures [data-mask-row]").first.scroll_into_view_if_needed()
    shot("masks")
    page.keyboard.press("Escape")
    page.keyboard.press("0")
    row(page, "ripple").click()
    settle(page)
    folds(page, "effects")
    page.locator("#figures [data-effect-row]").first.scroll_into_view_if_needed()
    shot("effects")
    row(page, "splash").click()
    page.locator('[data-select="ring"]').click(modifiers=["Control"])
    row(page, "splash").click()
    settle(page)
    go(page, "0:03:06")
    page.locator('[data-page="look"]').click()
    settle(page)
    shot("bursts")
    page.locator('[data-page="motion"]').click()
    row(page, "stone").click()
    settle(page)
    go(page, "0:02:17")
    page.mouse.move(*at(page, 330, 800))
    for _ in range(3):
        page.mouse.wheel(0, -240)
        settle(page)
    # Nothing lies over what is blurred.
    page.keyboard.press("Escape")
    page.wait_for_timeout(600)
    page.locator("#view-open").click()
    settle(page)
    page.screenshot(path=OUT / "motion-blur.png")
    page.keyboard.press("Escape")
    page.keyboard.press("0")


def delivery(page: Page, url: str) -> None:
    """The sheet with a scene that a format can say only in part, and the queue: on a copy of the demo."""
    made = copied(page, url)
    soft = {"kind": "blur", "id": "e2", "ways": "along"}
    for layer, effect in (("sun", {"kind": "crop", "id": "e1", "bottom": 0.3}), ("mist", soft)):
        revision = page.request.get(f"{url}/api/projects/{made}").json()["revision"]
        edit = {"kind": "add_effect", "scene": "crossing", "layers": [layer], "effect": effect}
        page.request.post(f"{url}/api/projects/{made}/edits", data={"revision": revision, "edit": edit})
    for scene, kind, options in (("pennant", "gif", {"scale": 0.2}), ("bell", "svg", {}), ("card", "mp4", {})):
        told = {"scene": scene, "kind": kind, "options": options}
        job = page.request.post(f"{url}/api/projects/{made}/renders", data=told).json()["id"]
    page.request.post(f"{url}/api/renders/{job}/pause")
    page.locator("#render").click()
    page.locator(".kind", has_text="Lottie (JSON)").click()
    page.wait_for_function("() => document.querySelectorAll('.job.done').length > 1", timeout=120_000)
    page.wait_for_function(
        "() => document.querySelector('#deliver-size')?.textContent.startsWith('about')", timeout=120_000
    )
    page.wait_for_function("() => document.querySelector('.deliver-picture svg')", timeout=120_000)
    page.wait_for_timeout(1_500)
    page.screenshot(path=OUT / "deliver.png")


def views(page: Page, url: str) -> None:
    def shot(name: str) -> None:
        page.mouse.move(640, 790)
        page.screenshot(path=OUT / f"{name}.png")

    page.goto(url)
    page.wait_for_timeout(500)
    page.wait_for_function("() => [...document.images].every((each) => each.complete)")
    shot("start")
    page.goto(f"{url}/projects/quillhaven")
    settle(page)
    key(page, "gull", "position", 3)
    go(page, "0:03:14")
    shot("workbench")
    page.goto(f"{url}/projects/quillhaven?scene=card")
    settle(page)
    go(page, "0:00:14")
    looks(page, url, shot)
    daily(page, url, shot)
    pair(page, url, shot)
    paths(page, url, shot)
    again(page, url, shot)
    otherwise(page, url, shot)
    answers(page, url, shot)
    delivery(page, url)


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        served = Served(Path(folder))
        browser = chromium(play)
        views(browser.new_page(viewport={"width": 1280, "height": 800}, color_scheme="light"), served.at(""))
        browser.close()
        served.stop()


if __name__ == "__main__":
    main()
