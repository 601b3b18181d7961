"""A real server on a port of its own, and Chromium in front of it. Any console error fails the test."""

import itertools

import pytest
from playwright.sync_api import expect, sync_playwright

from deftarc.app.readers import shared
from tests.running import NOTHING, OnPort, Port, Served, chromium

# A busy machine may take its time; what never comes still fails.
expect.set_options(timeout=15_000)


def pytest_collection_modifyitems(items):
    for item in items:
        if "/e2e/" in str(item.path):
            item.add_marker(pytest.mark.e2e)


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as play:
        made = chromium(play)
        yield made
        made.close()


@pytest.fixture(scope="session")
def port():
    shared().warm()
    return Port()


@pytest.fixture
def served(port, tmp_path):
    """The application on a folder of its own with the demo in it."""
    made = OnPort(port, tmp_path)
    yield made
    made.stop()


@pytest.fixture
def alone(tmp_path):
    """As ``served``, on a port of its own: it can be stopped and started again."""
    made = Served(tmp_path)
    yield made
    made.stop()


@pytest.fixture(scope="session")
def context(browser):
    """One browser profile for all tests of a worker: what it has read of the page's scripts it need not read again."""
    return browser.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True, color_scheme="light")


NUMBERS = itertools.count(1)
#: Once in each test, before any script of the page.
FORGET = """(() => {
  if (!location.protocol.startsWith("http")) return;
  const test = document.cookie.match(/\\btest=(\\d+)/)?.[1];
  if (sessionStorage.test !== test) { sessionStorage.clear(); sessionStorage.test = test; }
})()"""


class Kept:
    """One tab for all tests of a worker: a new one would start a process and read all scripts anew."""

    def __init__(self, context, port):
        self.context, self.port, self.page = context, port, None

    def forgetful(self):
        """The tab as a fresh one: as large as all, with nothing stored, allowed or waylaid."""
        if self.page is None or self.page.is_closed():
            self.page = self.context.new_page()
            self.chrome = self.context.new_cdp_session(self.page)
            # What a tab remembers for itself can be forgotten only by a page of that origin.
            self.page.add_init_script(FORGET)
        page, at = self.page, f"http://127.0.0.1:{self.port.number}"
        page.unroute_all(behavior="ignoreErrors")
        page.set_viewport_size({"width": 1280, "height": 800})
        self.context.clear_permissions()
        kinds = "cookies,local_storage,indexeddb"
        self.chrome.send("Storage.clearDataForOrigin", {"origin": at, "storageTypes": kinds})
        self.context.add_cookies([{"name": "test", "value": str(next(NUMBERS)), "url": at}])
        return page


@pytest.fixture(scope="session")
def kept(context, port):
    return Kept(context, port)


def leave(page, served):
    """The page goes before its server does, to an empty one of the same origin: a tab that leaves for elsewhere changes
    its process, and the next page would read all scripts anew."""
    empty = served.at(NOTHING)
    if page.url != empty:
        page.goto(empty)


class Troubles(list):
    """What a page's console calls an error. It tells of a refused request some time after the page has its answer, on a
    busy machine as late as in the next test: those that were refused before ``clear`` are forgiven whenever they come,
    and of more than were refused to this page the rest is of one before it.
    """

    REFUSED = "Failed to load resource: the server responded"

    refused = told = forgiven = 0

    def clear(self):
        super().clear()
        self.forgiven = self.refused

    def answered(self, response):
        self.refused += response.status >= 400

    def said(self, message):
        if message.type != "error":
            return
        if message.text.startswith(self.REFUSED):
            self.told += 1
            if self.told <= self.forgiven:
                return
        self.append(message.text)

    def own(self):
        """Those of this page."""
        late = max(0, self.told - self.refused)
        of_requests = [text for text in self if text.startswith(self.REFUSED)]
        return [text for text in self if text not in of_requests] + of_requests[late:]


@pytest.fixture
def tab(kept, served):
    """A page that remembers nothing; whatever its console calls an error fails the test at its end."""
    page = kept.forgetful()
    troubles = Troubles()
    heard = {
        "console": troubles.said,
        "response": troubles.answered,
        "pageerror": lambda error: troubles.append(str(error)),
    }
    for event, hear in heard.items():
        page.on(event, hear)
    page.troubles = troubles
    yield page
    for _ in range(40):
        if page.is_closed() or troubles.told >= troubles.refused:
            break
        page.wait_for_timeout(25)
    for each in kept.context.pages:
        if each is not page:
            each.close()
    if not page.is_closed():
        leave(page, served)
    for event, hear in heard.items():
        page.remove_listener(event, hear)
    assert not troubles.own(), troubles


class Workbench:
    """The workbench in a tab, spoken to as a person would: mouse, keys, and what is shown."""

    def __init__(self, tab, served, path="/projects/quillhaven"):
        self.tab, self.served = tab, served
        self.open(path)

    def open(self, path):
        self.tab.goto(self.served.at(path))
        self.tab.wait_for_function(
            "() => window.deftarc && window.deftarc.state.revision > 0 && window.deftarc.state.order"
        )
        self.settle()

    def settle(self):
        self.tab.evaluate("() => new Promise(r => requestAnimationFrame(() => requestAnimationFrame(r)))")
        self.tab.evaluate("window.deftarc.settled()")
        self.tab.evaluate("() => new Promise(r => requestAnimationFrame(r))")

    def row(self, layer):
        """A layer's row in the list, which draws those in view only: scrolled to where it is not."""
        found = self.tab.locator(f'[data-select="{layer}"]')
        top = 0
        while not found.count() and self.tab.evaluate(
            "top => { const list = document.getElementById('lanes-scroll'); list.scrollTop = top;"
            " return top < list.scrollHeight; }", top
        ):  # fmt: skip
            self.settle()
            top += 200
        return found

    def select(self, layer):
        self.row(layer).click()
        self.settle()

    def go(self, told):
        clock = self.tab.locator("#clock")
        clock.fill(str(told))
        clock.press("Enter")
        self.settle()

    def press(self, *keys):
        for key in keys:
            self.tab.keyboard.press(key)
        self.settle()

    def client(self, x, y):
        """Scene px to page px."""
        at = self.tab.evaluate("([x, y]) => window.deftarc.toClient(x, y)", [x, y])
        return at["x"], at["y"]

    def drag(self, start, end, steps=5, release=True, hold=()):
        mouse = self.tab.mouse
        mouse.move(*start)
        mouse.down()
        for key in hold:
            self.tab.keyboard.down(key)
        mouse.move(*end, steps=steps)
        self.settle()
        if release:
            mouse.up()
            self.settle()
        for key in hold:
            self.tab.keyboard.up(key)

    def well(self, name, component=0):
        return self.tab.locator(f'.well[data-property="{name}"][data-component="{component}"] input')

    def shown(self, name, component=0):
        return float(self.well(name, component).input_value().rstrip("%° "))

    def type(self, name, text, component=0):
        well = self.well(name, component)
        well.fill(str(text))
        well.press("Enter")
        self.settle()

    def bead(self, layer, name, index):
        return self.tab.locator(f'#lanes .bead[data-layer="{layer}"][data-property="{name}"]').nth(index)

    def until(self, call):
        """Waits for what no locator can say. What a locator can say is awaited by ``expect``."""
        for _ in range(300):
            if call():
                return
            self.tab.wait_for_timeout(50)
        raise AssertionError("It never came about")

    def middle(self, locator):
        """The middle of what a hand would take. Handles are drawn anew with each answer, so one may be gone meanwhile."""
        for _ in range(40):
            hit = locator.locator(".hit")
            box = (hit if hit.count() else locator).bounding_box()
            if box is not None:
                return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
            self.tab.wait_for_timeout(50)
        raise AssertionError(f"{locator} never came into view")

    def track(self, layer, name, scene="crossing"):
        return self.served.document().scene(scene).layer(layer).track(name)

    @property
    def state(self):
        return self.tab.evaluate(
            "(({ revision, frame, layers, keys, playing, keying }) => ({ revision, frame, layers, keys, playing, keying }))(window.deftarc.state)"
        )


@pytest.fixture
def bench(tab, served):
    yield Workbench(tab, served)
    # The page leaves before its server does: a lost connection is an error only where a test means it.
    leave(tab, served)
