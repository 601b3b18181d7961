"""Makes docs/screenshots/ anew from the demo data: `make screenshots`."""

import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright
from tests.running import Served, chromium

OUT = Path(__file__).parents[1] / "docs" / "screenshots"


def settle(page: Page) -> None:
    page.wait_for_function(
        "() => window.deftarc && window.deftarc.state.items !== undefined && window.deftarc.state.revision > 0"
    )
    page.wait_for_timeout(250)
    page.evaluate("window.deftarc.settled()")
    page.wait_for_timeout(150)


def go(page: Page, told: str) -> None:
    page.locator("#clock").fill(told)
    page.keyboard.press("Enter")
    settle(page)


def key(page: Page, layer: str, name: str, index: int) -> None:
    page.locator(f'#lanes .bead[data-layer="{layer}"][data-property="{name}"]').nth(index).click()
    settle(page)


def views(page: Page, url: str) -> None:
    def shot(name: str) -> None:
        page.mouse.move(640, 790)
        page.screenshot(path=OUT / f"{name}.png")

    page.goto(url)
    page.wait_for_timeout(500)
    shot("start")
    page.goto(f"{url}/projects/quillhaven")
    settle(page)
    key(page, "gull", "position", 3)
    go(page, "0:03:14")
    shot("workbench")
    page.goto(f"{url}/projects/quillhaven?scene=card")
    settle(page)
    key(page, "sign", "scale", 1)
    page.keyboard.press("!")
    go(page, "0:00:14")
    shot("keying-portrait")
    page.locator("#render").click()
    page.locator("[data-render=png]").click()
    page.locator(".job.done").first.wait_for(timeout=30_000)
    shot("render")
    page.keyboard.press("Escape")
    page.evaluate("localStorage.setItem('deftarc.theme', 'night')")
    page.goto(f"{url}/projects/quillhaven?scene=pennant")
    settle(page)
    key(page, "logo", "rotation", 0)
    go(page, "0:00:10")
    shot("night")
    page.evaluate("localStorage.setItem('deftarc.theme', 'light')")
    made = page.request.post(f"{url}/api/projects", data={"name": "Buoy", "preset": "square"}).json()["id"]
    page.goto(f"{url}/projects/{made}")
    settle(page)
    shot("empty")
    page.set_viewport_size({"width": 1920, "height": 1080})
    page.goto(f"{url}/projects/quillhaven")
    settle(page)
    key(page, "title", "scale", 1)
    go(page, "0:01:07")
    shot("workbench-1920")


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
