"""The live loop: one WebSocket a page. A look comes in as JSON, a packed answer goes out, in two parts under a hand."""

import asyncio
import contextlib
import logging
import re
from collections.abc import Callable
from functools import partial
from typing import Any

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import ValidationError
from starlette.concurrency import run_in_threadpool

from deftarc.app.workshop import Workshop
from deftarc.core.base.errors import Refusal
from deftarc.core.edit import sentence
from deftarc.formats.wire import pack
from deftarc.web.live.page import Looking
from deftarc.web.live.same_keys import SameKeys
from deftarc.web.look import Look
from deftarc.web.strict import read_json

log = logging.getLogger(__name__)
router = APIRouter()
#: A message of fewer characters is read where it arrives.
SMALL = 65_536
#: So many looks may lie waiting; a page asks for one at a time.
MOST_ASKED = 8
#: Says that a look of this number is no longer waited for.
_STOP = re.compile(r'\{"stop":(\d{1,15})\}')
SHORT = 40


@router.websocket("/live/{project_id}")
async def live(socket: WebSocket, project_id: str) -> None:
    """Answers looks one after the other, and tells of changes made elsewhere."""
    shop: Workshop = socket.app.state.workshop
    await socket.accept()
    try:
        await run_in_threadpool(shop.projects.open, project_id)
    except Refusal as refusal:
        await socket.send_bytes(pack({"refused": str(refusal), "gone": True}, []))
        await socket.close()
        return
    looking, same = Looking(shop, project_id), SameKeys()
    news: asyncio.Queue[int] = asyncio.Queue()
    heard = shop.listeners.setdefault(project_id, set())
    listener = news.put_nowait
    heard.add(listener)
    asked: asyncio.Queue[str | bytes | None] = asyncio.Queue(MOST_ASKED)
    beside = [asyncio.create_task(_tell(socket, news)), asyncio.create_task(_hear(socket, asked, lambda: looking))]
    try:
        while (message := await asked.get()) is not None:
            socket.app.state.tidying.stir()
            small = len(message) < SMALL
            look = _read(message, same) if small else await run_in_threadpool(_read, message, same)
            if isinstance(look, bytes):
                await socket.send_bytes(look)
                continue
            run = _here if looking.at_once(look) else run_in_threadpool
            making: Callable[[], Any] | None = partial(looking.begin, look)
            while making is not None:
                try:
                    made = await run(making)
                except Exception as error:
                    # Whatever it was, the page goes on: it asks for all anew when it next looks.
                    log.exception("a look at %s", project_id)
                    looking = Looking(shop, project_id)
                    said = str(error) if isinstance(error, Refusal) else "This cannot be shown. Undo the last step."
                    made = pack({"n": look.n, "refused": said}, [])
                answer, making = made if isinstance(made, tuple) else (made, None)
                await socket.send_bytes(answer)
    except (WebSocketDisconnect, RuntimeError):
        pass
    finally:
        heard.discard(listener)
        for task in beside:
            task.cancel()
        await asyncio.gather(*beside, return_exceptions=True)


async def _hear(socket: WebSocket, asked: asyncio.Queue[str | bytes | None], looking: Callable[[], Looking]) -> None:
    """Lays looks that come in ready to be answered in turn; what stops one is for the one that is being answered."""
    with contextlib.suppress(RuntimeError, WebSocketDisconnect):
        while (told := await socket.receive())["type"] == "websocket.receive":
            message = told.get("text") or told.get("bytes") or ""
            stop = _STOP.fullmatch(message) if isinstance(message, str) and len(message) < SHORT else None
            if stop is not None:
                looking().stopped = int(stop[1])
            else:
                await asked.put(message)
    await asked.put(None)


async def _here(call: Callable[..., Any], *given: Any) -> Any:
    """Runs what takes no time to speak of without handing it to another thread: there and back a hand would wait for
    a processor twice, and while it drags all of them are busy.
    """
    return call(*given)


def _read(message: str | bytes, same: SameKeys) -> Look | bytes:
    """The look a message asks for; or why it is none, packed as the answer."""
    number = 0
    try:
        data = read_json(message)
        told = data.get("n", 0) if isinstance(data, dict) else 0
        number = told if isinstance(told, int) else 0
        if isinstance(data, dict):
            same.fill(data)
        return same.shared(Look.model_validate(data))
    except ValidationError as error:
        return pack({"n": number, "refused": sentence(error) + "."}, [])
    except Refusal as refusal:
        return pack({"n": number, "refused": str(refusal)}, [])


async def _tell(socket: WebSocket, news: asyncio.Queue[int]) -> None:
    while True:
        revision = await news.get()
        with contextlib.suppress(RuntimeError, WebSocketDisconnect):
            await socket.send_bytes(pack({"changed": revision}, []))
