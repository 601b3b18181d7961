"""The live loop: one WebSocket a page. A look comes in as JSON, a packed answer goes out, in two parts under a hand."""

import asyncio
import contextlib
import json
from collections.abc import Callable
from typing import Any

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import ValidationError
from starlette.concurrency import run_in_threadpool

from deftarc.core import limits
from deftarc.core.edit import sentence
from deftarc.core.errors import Refusal
from deftarc.core.wire import pack
from deftarc.web.look import Look
from deftarc.web.looking import Looking
from deftarc.web.workshop import Workshop

router = APIRouter()
#: A message of fewer characters is read where it arrives.
SMALL = 65_536


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
    looking = Looking(shop, project_id)
    news: asyncio.Queue[int] = asyncio.Queue()
    heard = shop.listeners.setdefault(project_id, set())
    listener = news.put_nowait
    heard.add(listener)
    teller = asyncio.create_task(_tell(socket, news))
    try:
        while True:
            message = await socket.receive_text()
            socket.app.state.tidying.stir()
            look = _read(message) if len(message) < SMALL else await run_in_threadpool(_read, message)
            if isinstance(look, bytes):
                await socket.send_bytes(look)
                continue
            run = _here if looking.at_once(look) else run_in_threadpool
            first, rest = await run(looking.begin, look)
            await socket.send_bytes(first)
            if rest is not None:
                await socket.send_bytes(await run(rest))
    except (WebSocketDisconnect, RuntimeError):
        pass
    finally:
        heard.discard(listener)
        teller.cancel()
        with contextlib.suppress(asyncio.CancelledError):
            await teller


async def _here(call: Callable[..., Any], *given: Any) -> Any:
    """Runs what takes no time to speak of without handing it to another thread: there and back a hand would wait for
    a processor twice, and while it drags all of them are busy.
    """
    return call(*given)


def _read(message: str) -> Look | bytes:
    """The look a message asks for; or why it is none, packed as the answer."""
    number = 0
    try:
        if len(message) > limits.MAX_EDIT_BYTES:
            raise Refusal("That is too much to look at in one go.")
        data = json.loads(message)
        number = data.get("n", 0) if isinstance(data, dict) else 0
        return Look.model_validate(data)
    except ValidationError as error:
        return pack({"n": number, "refused": sentence(error) + "."}, [])
    except (ValueError, RecursionError) as error:
        told = str(error) if isinstance(error, Refusal) else "That message is no JSON."
        return pack({"n": number, "refused": told}, [])


async def _tell(socket: WebSocket, news: asyncio.Queue[int]) -> None:
    while True:
        revision = await news.get()
        with contextlib.suppress(RuntimeError, WebSocketDisconnect):
            await socket.send_bytes(pack({"changed": revision}, []))
