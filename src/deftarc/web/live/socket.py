"""The live loop: one WebSocket a page. A look comes in as JSON, a packed answer goes out, in two parts under a hand."""

import asyncio
import contextlib
import logging
import re
from collections.abc import Callable
from dataclasses import dataclass, field
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
#: So many looks of all pages are worked out at once: each takes a processor, and whoever asks for a page waits for one.
AT_WORK = 2
#: Says that a look of this number is no longer waited for.
_STOP = re.compile(r'\{"stop":(\d{1,15})\}')
#: Longer it is none.
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
    news: asyncio.Queue[int] = asyncio.Queue()
    heard = shop.listeners.setdefault(project_id, set())
    listener = news.put_nowait
    heard.add(listener)
    answers = _Answers(socket, project_id, Looking(shop, project_id))
    beside = [asyncio.create_task(_tell(socket, news)), asyncio.create_task(answers.go())]
    try:
        while (told := await socket.receive())["type"] == "websocket.receive":
            message = told.get("text") or told.get("bytes") or ""
            stop = _STOP.fullmatch(message) if isinstance(message, str) and len(message) < SHORT else None
            if stop is None:
                answers.ask(message)
            else:
                # For the one that is being answered just now.
                answers.looking.stopped = int(stop[1])
    except (WebSocketDisconnect, RuntimeError):
        pass
    finally:
        heard.discard(listener)
        for task in beside:
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task


@dataclass
class _Answers:
    """Looks answered one after the other."""

    socket: WebSocket
    project_id: str
    looking: Looking
    same: SameKeys = field(default_factory=SameKeys)
    #: The newest that was asked while another one is in work: a page asks for one at a time, and whoever asks for more
    #: is answered the last of them.
    newest: str | bytes | None = None
    asked: asyncio.Event = field(default_factory=asyncio.Event)

    def ask(self, message: str | bytes) -> None:
        self.newest = message
        self.asked.set()

    async def go(self) -> None:
        """Goes on until it is cancelled, or nobody is there any more."""
        with contextlib.suppress(WebSocketDisconnect, RuntimeError):
            try:
                while True:
                    await self.asked.wait()
                    self.asked.clear()
                    message, self.newest = self.newest, None
                    if message is not None:
                        await self._answer(message)
            except (WebSocketDisconnect, RuntimeError):
                raise
            except Exception:
                # The page connects again, and asks for all anew.
                log.exception("answering looks at %s", self.project_id)
                await self.socket.close(1011)

    async def _answer(self, message: str | bytes) -> None:
        self.socket.app.state.tidying.stir()
        small = len(message) < SMALL
        look = _read(message, self.same) if small else await run_in_threadpool(_read, message, self.same)
        if isinstance(look, bytes):
            await self.socket.send_bytes(look)
            return
        run = _here if self.looking.at_once(look) else partial(_in_turn, self.socket.app.state.looks)
        making: Callable[[], Any] | None = partial(self.looking.begin, look)
        while making is not None:
            try:
                made = await run(making)
            except Exception as error:
                # Whatever it was, the page goes on: it asks for all anew when it next looks.
                log.exception("a look at %s", self.project_id)
                self.looking = Looking(self.looking.shop, self.project_id)
                said = str(error) if isinstance(error, Refusal) else "This cannot be shown. Undo the last step."
                made = pack({"n": look.n, "refused": said}, [])
            answer, making = made if isinstance(made, tuple) else (made, None)
            await self.socket.send_bytes(answer)


async def _in_turn(turns: asyncio.Semaphore, call: Callable[..., Any], *given: Any) -> Any:
    """Runs what takes its time in another thread, once it is its turn: those that came first go first."""
    async with turns:
        return await run_in_threadpool(call, *given)


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
