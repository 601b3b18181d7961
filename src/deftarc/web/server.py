"""The application put together, and run."""

import asyncio
import gc
import secrets
import socket
import sys
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress
from pathlib import Path
from typing import Any

import uvicorn
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import HTMLResponse, JSONResponse
from fastapi.staticfiles import StaticFiles
from pydantic import ValidationError
from starlette.exceptions import HTTPException

from deftarc import __version__
from deftarc.app.queue.farm import FarmAt
from deftarc.app.readers import Readers, shared
from deftarc.app.settings import Settings, begin_logging
from deftarc.app.workshop import Workshop
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, UnknownThing
from deftarc.core.document.soundness import in_words
from deftarc.core.edit import Locked
from deftarc.fonts.faces import FILES
from deftarc.store.database import make_folder
from deftarc.store.folder_lock import FolderLock
from deftarc.store.projects import Stale
from deftarc.store.trouble import StoreTrouble, trouble_of
from deftarc.web import delivery, pages
from deftarc.web.api import clips, eases, layers, motions, paths, projects, renders, scenes, within
from deftarc.web.api.models import Refused
from deftarc.web.bodies import taking_files
from deftarc.web.context import HERE, lock_offer, templates
from deftarc.web.entry import LEAST_TOKEN
from deftarc.web.guard import EVERYWHERE, LOOPBACK, Guard
from deftarc.web.live import socket as live
from deftarc.web.patience import Patient
from deftarc.web.policy import HEADERS, policy
from deftarc.web.served import more_folders
from deftarc.web.tidying import Tidying


def create_app(
    folder: Path,
    token: str | None = None,
    hosts: frozenset[str] = LOOPBACK,
    readers: Readers | None = None,
    farm: FarmAt | None = None,
) -> FastAPI:
    """The web application over one data folder. Readers that are brought along end with it."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.workshop.loop = asyncio.get_running_loop()
        app.state.workshop.renders.open()
        tidying = asyncio.create_task(app.state.tidying.go())
        # Begun at once, so that it has something to put back however soon it ends.
        await asyncio.sleep(0)
        yield
        tidying.cancel()
        with suppress(asyncio.CancelledError):
            await tidying
        app.state.workshop.renders.close()
        if readers is not None:
            readers.close()

    app = FastAPI(
        title="Deft Arc",
        version=__version__,
        description="The JSON API that the workbench itself uses. Every refusal is a sentence in `detail`.",
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        responses={code: {"model": Refused} for code in (400, 403, 404, 409, 422)},
    )
    app.state.readers = readers or shared()
    over(app, folder, farm)
    app.add_middleware(Guard, token=token, hosts=hosts)
    app.mount("/static/fonts", StaticFiles(directory=str(FILES)), name="fonts")
    for name, folder in more_folders().items():
        app.mount(f"/static/more/{name}", StaticFiles(directory=folder), name=f"more {name}")
    app.mount("/static", StaticFiles(directory=HERE / "static"), name="static")
    rooms = (projects, scenes, layers, paths, eases, motions, renders, clips, within, pages, delivery, live)
    for room in rooms:
        app.include_router(room.router)
    app.state.taking_files = taking_files(room.router for room in rooms)
    app.add_exception_handler(Refusal, _refused)
    app.add_exception_handler(RequestValidationError, _invalid)
    app.add_exception_handler(HTTPException, _http)
    app.add_exception_handler(ValidationError, _unsound)
    app.add_exception_handler(OSError, _disk)
    app.add_exception_handler(Exception, _unforeseen)
    return app


def _answer(request: Request, code: int, detail: str, **more: Any) -> JSONResponse | HTMLResponse:
    """JSON to programs, a page to people who followed a link."""
    if not request.url.path.startswith("/api") and "text/html" in request.headers.get("accept", ""):
        page = templates.get_template("refused.html").render(request=request, detail=detail)
        return HTMLResponse(page, code)
    return JSONResponse({"detail": detail, **more}, code)


def over(app: FastAPI, folder: Path, farm: FarmAt | None = None) -> None:
    """The application, before its life begins, over that data folder."""
    if before := getattr(app.state, "workshop", None):
        before.renders.close()
    app.state.workshop = Workshop.at(folder, farm)
    app.state.workshop.begin()
    app.state.tidying = Tidying(rest=app.state.workshop.rest)
    app.state.looks = asyncio.Semaphore(live.AT_WORK)
    app.state.heavy = asyncio.Semaphore(HEAVY_AT_ONCE)


#: What the machine refuses is no mistake of who asked.
TROUBLES = {"full": 507, "busy": 503, "readonly": 503, "damaged": 503, "lost": 503}


async def _refused(request: Request, error: Exception) -> JSONResponse | HTMLResponse:
    if isinstance(error, StoreTrouble):
        return _answer(request, TROUBLES[error.kind], str(error))
    if isinstance(error, Stale):
        return _answer(request, 409, str(error), revision=error.revision, changes=error.changes)
    if isinstance(error, Locked):
        return _answer(request, 400, str(error), **lock_offer(error))
    return _answer(request, 404 if isinstance(error, UnknownThing) else 400, str(error))


async def _invalid(request: Request, error: Exception) -> JSONResponse | HTMLResponse:
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    where = " › ".join(str(part) for part in first["loc"][1:] if not str(part).startswith("function"))
    told = str(first["msg"]).removeprefix("Value error, ")
    return _answer(request, 422, f"{where}: {told}." if where else f"{told}.")


async def _unsound(request: Request, error: Exception) -> JSONResponse | HTMLResponse:
    """What was asked for would be something that no document can hold."""
    assert isinstance(error, ValidationError)
    return _answer(request, 400, str(in_words(error)))


async def _disk(request: Request, error: Exception) -> JSONResponse | HTMLResponse:
    """A file that could not be written or read: the machine's trouble, told as what it is."""
    assert isinstance(error, OSError)
    told = trouble_of(error, request.app.state.workshop.folder)
    if told is None:
        raise error
    return await _refused(request, told)


async def _unforeseen(request: Request, error: Exception) -> JSONResponse | HTMLResponse:
    """A mistake of ours, which the log has whole. It is answered outside of the guard, and so with its headers here."""
    answer = _answer(request, 500, "This went wrong in a way nobody foresaw. Nothing was changed; try it another way.")
    answer.headers.update({**HEADERS, "content-security-policy": policy("")})
    return answer


async def _http(request: Request, error: Exception) -> JSONResponse | HTMLResponse:
    assert isinstance(error, HTTPException)
    told = {404: "There is nothing at this address.", 405: "That cannot be done at this address."}
    return _answer(request, error.status_code, told.get(error.status_code, str(error.detail)))


#: Requests that take a processor for long are worked out so many at once.
HEAVY_AT_ONCE = 1
#: Seconds after which a thread lets others on, the one that answers everybody among them.
TURN = 0.001
#: Seconds that open requests and pages are given to end when the server is told to.
SHUTDOWN = 2


def address(host: str, port: int) -> str:
    return f"http://[{host}]:{port}/" if ":" in host else f"http://{host}:{port}/"


def run(told: Settings, demo: bool) -> None:
    """Serves until stopped. Other addresses than loopback need a token; ``names`` are what others reach it by."""
    begin_logging(told.log_level)
    folder, port, names, host = told.data, told.port, told.names, told.host.strip("[]")
    beyond = host not in LOOPBACK or bool(names)
    if beyond and told.token and len(told.token) < LEAST_TOKEN:
        raise Refusal(
            f"DEFTARC_TOKEN is too short: a token has at least {LEAST_TOKEN} letters. Without one, one is made for you."
        )
    # One that is made holds until the server ends, is shown once, and is written nowhere.
    token = (told.token or secrets.token_urlsafe(24)) if beyond else None
    make_folder(folder)
    lock = FolderLock(folder)
    lock.take(address(host, port))
    try:
        readers = Readers()
        app = create_app(folder, token, served_names(host, names), readers, told.farm_at())
        _serve(app, readers, host, port, demo, str(token) if beyond and not told.token else "")
    finally:
        lock.free()


def served_names(host: str, names: tuple[str, ...]) -> frozenset[str]:
    """The host names that are answered: those given, and what the address itself is called."""
    if host in EVERYWHERE:
        return frozenset({socket.gethostname(), *LOOPBACK, *names})
    return frozenset({*(LOOPBACK if host in LOOPBACK else {host}), *names})


def _serve(app: FastAPI, readers: Readers, host: str, port: int, demo: bool, made: str) -> None:
    folder = app.state.workshop.folder
    readers.warm()
    damage = app.state.workshop.sessions.damage
    if damage:
        told = (
            f"deftarc: the database in {folder} is damaged ({damage}). What can be read is offered on the start page."
        )
        print(told, file=sys.stderr, flush=True)
    if demo and not damage:
        from deftarc.demo import install

        install(app.state.workshop.projects, app.state.workshop.assets)
    sys.setswitchinterval(TURN)
    ready(app)
    # What is here now stays: looking through it again and again would find nothing.
    gc.collect()
    gc.freeze()
    print(f"Deft Arc is at {address(host, port)} (projects in {folder})", flush=True)
    if made:
        print(f"Its token, shown only now: {made}", flush=True)
    config = serving_of(app, host=host, port=port, log_level="warning", timeout_graceful_shutdown=SHUTDOWN)
    Serving(config, readers).run()


def serving_of(app: Any, **more: Any) -> uvicorn.Config:
    """How an application is served, by tests as by ``serve``: its protocols and their limits."""
    return uvicorn.Config(app, ws_max_size=limits.MAX_EDIT_BYTES, ws_per_message_deflate=False, http=Patient, **more)


def ready(app: FastAPI) -> None:
    """Lets every route work out what it takes, which it otherwise does while the first request waits: half a second."""
    for route in app.routes:
        route.matches({"type": "http", "method": "GET", "path": "/", "root_path": "", "headers": []})


class Serving(uvicorn.Server):
    """A server that first ends what would keep it: files being read, whose senders are told so."""

    def __init__(self, config: uvicorn.Config, readers: Readers) -> None:
        super().__init__(config)
        self.readers = readers

    async def shutdown(self, sockets: "list[socket.socket] | None" = None) -> None:
        self.readers.close()
        await super().shutdown(sockets)
