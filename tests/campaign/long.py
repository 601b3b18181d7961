"""One page in Chromium that is worked in for hours: thousands of edits, hundreds of drags, and what it keeps of them."""

import random
from dataclasses import dataclass
from pathlib import Path

from playwright.sync_api import TimeoutError, sync_playwright

from tests.e2e.conftest import Workbench
from tests.running import chromium


def memory(pid):
    """MB that a process takes now."""
    try:
        rows = dict(line.split(":", 1) for line in Path(f"/proc/{pid}/status").read_text().splitlines() if ":" in line)
        return int(rows["VmRSS"].split()[0]) / 1024
    except (OSError, KeyError):
        return 0.0


@dataclass
class Held:
    """What the page's scripts hold after a collection, in MB; nodes and listeners of its document; MB of the server."""

    edits: int
    heap: float
    nodes: int
    listeners: int
    server: float

    def __str__(self):
        return f"{self.heap:.1f} MB, {self.nodes:,} nodes, {self.listeners:,} listeners; server {self.server:.0f} MB"


class Shown:
    """A server elsewhere, as the workbench asks for one."""

    def __init__(self, port):
        self.port = port

    def at(self, path):
        return f"http://127.0.0.1:{self.port}{path}"


def typed(field, told):
    field.fill(str(told))
    field.press("Enter")


def over(server, edits=2_000, drags=300, looks=5):
    """Edits of many kinds by keys and fields, drags on the picture, undo among them; what is held at each look."""
    dice, held = random.Random(4), []
    with sync_playwright() as play:
        browser = chromium(play)
        tab = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        troubles, missed = [], 0
        tab.on("pageerror", lambda error: troubles.append(str(error)))
        chrome = tab.context.new_cdp_session(tab)
        chrome.send("Performance.enable")
        bench = Workbench(tab, Shown(server.port))

        def look(made):
            chrome.send("HeapProfiler.collectGarbage")
            told = {each["name"]: each["value"] for each in chrome.send("Performance.getMetrics")["metrics"]}
            held.append(Held(made, told["JSHeapUsedSize"] / 2**20, int(told["Nodes"]), int(told["JSEventListeners"]),
                             memory(server.process.pid)))  # fmt: skip

        names = [each["id"] for each in tab.evaluate("window.deftarc.state.order.map(id => ({ id }))")][:8]
        apart = max(1, edits // drags)
        for made in range(edits + 1):
            if made % max(1, edits // looks) == 0 or made == edits // 20:
                look(made)
            if made % 20 == 0:
                # The list draws what is in view: it is looked through from its top, when nothing is to come any more.
                bench.settle()
                tab.evaluate("document.getElementById('lanes-scroll').scrollTop = 0")
                bench.settle()
                # Where its row does not come, the layer of before is gone on with; how often that was is said.
                try:
                    bench.row(dice.choice(names)).click(timeout=3_000)
                except TimeoutError:
                    missed += 1
            if made % apart == 0 and drags:
                at = tab.locator("#picture").bounding_box()
                x, y = (at[k] + at[size] * dice.uniform(0.3, 0.7) for k, size in (("x", "width"), ("y", "height")))
                bench.drag((x, y), (x + dice.randint(-40, 40), y + dice.randint(-40, 40)))
            what = dice.random()
            if what < 0.4:
                tab.keyboard.press(dice.choice(["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"]))
            elif what < 0.55:
                typed(tab.locator("#clock"), dice.randint(0, 90))
            elif what < 0.9:
                name, most = dice.choice([("opacity", 100), ("rotation", 90)])
                if bench.well(name).count():
                    typed(bench.well(name), dice.randint(5, most))
            elif bench.well("opacity").count():
                # Its own edit taken back, and no more: what the demo was made with lies in other scenes.
                typed(bench.well("opacity"), dice.randint(5, 100))
                bench.press("Control+z", *(["Control+Shift+z"] if dice.random() < 0.5 else []))
            if made % 10 == 0:
                # As a hand rests: what waits is saved.
                bench.settle()
        bench.settle()
        look(edits)
        if missed:
            troubles.append(f"{missed} times a row did not come into view")
        browser.close()
    return held, troubles
