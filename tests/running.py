"""A real server on a port of its own and Chromium: for the e2e tests, the benchmarks and the screenshots."""

import asyncio
import os
import socket
import tempfile
import threading
import time
from functools import cache
from pathlib import Path

import uvicorn

from deftarc.demo import install
from deftarc.web.guard import LOOPBACK
from deftarc.web.server import create_app, over, serving_of

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--font-render-hinting=none",
    "--force-color-profile=srgb",
]


def chromium(play):
    """Debian's Chromium, headless."""
    return play.chromium.launch(executable_path=os.environ.get("CHROMIUM", "/usr/bin/chromium"), args=FLAGS)


#: The name by which a test client speaks to an application.
TESTED = frozenset(("testserver",))


@cache
def _built(hosts):
    return create_app(Path(tempfile.mkdtemp()), hosts=hosts)


def fresh_app(folder, hosts=LOOPBACK):
    """An application over that folder: the one this process has built already, whose routes need not be read again.

    One test at a time has it.
    """
    made = _built(hosts)
    made.dependency_overrides.clear()
    over(made, folder)
    return made


#: A page without anything, at a port of all tests.
NOTHING = "/-/nothing"


class Port:
    """A server on one port for as long as a worker runs, and what answers on it: one application after the other.

    So a browser keeps what never changes, the page's scripts and faces, from test to test.
    """

    def __init__(self):
        with socket.socket() as found:
            found.bind(("127.0.0.1", 0))
            self.number = found.getsockname()[1]
        self.app = None
        self.server = uvicorn.Server(
            serving_of(self.answer, port=self.number, interface="asgi3", lifespan="off", log_level="critical")
        )
        self.thread = threading.Thread(target=lambda: asyncio.run(self._serve()), daemon=True)
        self.thread.start()
        while not self.server.started:
            time.sleep(0.02)

    async def _serve(self):
        self.loop = asyncio.get_running_loop()
        await self.server.serve()

    async def answer(self, scope, receive, send):
        if scope["type"] == "http" and scope["path"] == NOTHING:
            await send({"type": "http.response.start", "status": 200, "headers": [(b"content-type", b"text/html")]})
            await send({"type": "http.response.body", "body": b"<!doctype html>"})
        else:
            await self.app(scope, receive, send)

    def run(self, coroutine):
        return asyncio.run_coroutine_threadsafe(coroutine, self.loop).result(20)


class OnPort:
    """An application on a folder of its own that answers on a port others have used before."""

    def __init__(self, port, folder, demo=True):
        self.on, self.port, self.folder = port, port.number, folder
        self.app = fresh_app(folder)
        self.shop = self.app.state.workshop
        if demo:
            install(self.shop.projects, self.shop.assets)
        self._life = self.app.router.lifespan_context(self.app)
        port.run(self._life.__aenter__())
        port.app = self.app

    def stop(self):
        self.on.run(self._life.__aexit__(None, None, None))

    def at(self, path):
        return f"http://127.0.0.1:{self.port}{path}"

    def document(self, project="quillhaven"):
        return self.shop.projects.open(project).project


class Served:
    """A running server that can be stopped and started again on the same folder and port."""

    def __init__(self, folder, demo=True):
        with socket.socket() as found:
            found.bind(("127.0.0.1", 0))
            self.port = found.getsockname()[1]
        self.folder, self.demo = folder, demo
        self.start()

    def start(self):
        self.app = create_app(self.folder)
        self.shop = self.app.state.workshop
        if self.demo:
            install(self.shop.projects, self.shop.assets)
        self.server = uvicorn.Server(
            serving_of(self.app, port=self.port, log_level="critical", timeout_graceful_shutdown=1)
        )
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        while not self.server.started:
            time.sleep(0.02)

    def stop(self):
        self.server.should_exit = True
        self.thread.join(10)

    def at(self, path):
        return f"http://127.0.0.1:{self.port}{path}"

    def document(self, project="quillhaven"):
        return self.shop.projects.open(project).project
