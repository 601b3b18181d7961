"""How things look while they move, at its heaviest: played, dragged, and as a movie against the same encoder."""

import tempfile
from pathlib import Path

from playwright.sync_api import sync_playwright
from tests.large import heavy_scene
from tests.running import Served, chromium

from benchmarks.movie import against_encoder
from benchmarks.page import drag_row, play_row
from deftarc.core.document import Project
from deftarc.core.evaluate import evaluate, frame_times


def main() -> None:
    scene = heavy_scene()
    alive = sum(len(leaf.dots.at(0)) for leaf in evaluate(scene, frame_times(scene)[:1]).leaves if leaf.dots)
    what = f"100 layers, 20 masked, 10 blurred, 5 matted, {alive:,} particles"
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        served = Served(Path(folder), demo=False)
        served.shop.projects.create(Project(name="Heavy", scenes=(scene,)), "heavy")
        # At twice the rate, so that it tells what there is beyond the thirty frames that are asked for.
        faster = scene.changed(frames=600, rate=scene.rate.changed(numerator=60))
        served.shop.projects.create(Project(name="Faster", scenes=(faster,)), "faster")
        browser = chromium(play)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        drag_row(page, served.at(""), "heavy", what, 50)
        play_row(page, served.at(""), "faster", what, 30)
        browser.close()
        served.stop()
    heavy = heavy_scene(30).changed(width=1920, height=1080)
    against_encoder("movie of that at 1920 × 1080", heavy, None, runs=3)


if __name__ == "__main__":
    main()
