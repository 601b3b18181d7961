"""How large the body of a request may be: declared where its route is, and counted as it comes in."""

import asyncio
from collections.abc import Awaitable, Callable, Iterable, MutableMapping
from contextlib import suppress
from typing import Any, TypeVar

from starlette.exceptions import HTTPException
from starlette.routing import Match, Route, Router

from deftarc.core.base import limits

Scope = MutableMapping[str, Any]
Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Endpoint = TypeVar("Endpoint", bound=Callable[..., Any])

#: Room for what goes with a file: the form's other fields, and what parts them.
BESIDE = 64 * 1024
#: Seconds in which something more of a body has to come.
PATIENCE = 10.0
#: Of a body that is refused so much is still taken, and for so many seconds, so that its sender reads why: whoever is
#: cut off while sending sees a broken connection and no sentence.
DRAINED, DRAINING = 1 << 30, 60.0
_MOST = "most_bytes"


def takes(most: int) -> Callable[[Endpoint], Endpoint]:
    """Declares that a route takes a file of so many bytes; any other takes no more than an edit."""

    def declared(endpoint: Endpoint) -> Endpoint:
        setattr(endpoint, _MOST, most)
        return endpoint

    return declared


def file_of(endpoint: Any) -> int:
    """The bytes of the file that a route takes; 0 where it takes none."""
    return int(getattr(endpoint, _MOST, 0))


def taking_files(routers: Iterable[Router]) -> list[Route]:
    """Those routes that take a file."""
    return [
        route for router in routers for route in router.routes if isinstance(route, Route) and file_of(route.endpoint)
    ]


def _file_at(scope: Scope) -> int:
    for route in scope["app"].state.taking_files:
        if route.matches(scope)[0] == Match.FULL:
            return file_of(route.endpoint)
    return 0


def fits(size: int, scope: Scope) -> bool:
    """Whether a body of so many bytes is taken at this address. Which that is is looked up only for what is large."""
    return size <= limits.MAX_EDIT_BYTES or size <= max(_file_at(scope) + BESIDE, limits.MAX_EDIT_BYTES)


def too_large(scope: Scope) -> str:
    most = _file_at(scope) or limits.MAX_EDIT_BYTES
    return f"This is larger than the {most // 2**20} MiB that are taken here. Nothing was changed."


class TooLarge(HTTPException):
    """A body went on beyond what its address takes."""


class Stalled(HTTPException):
    """A body did not go on."""


def counted(receive: Receive, scope: Scope) -> Receive:
    """A body as it comes in: one that goes on beyond what is taken here is refused once its sender has said all, and
    one that stops half-way is given up.
    """
    taken, ended = 0, False

    async def count() -> Message:
        nonlocal taken, ended
        if ended:
            # Nothing more is sent: what comes is that the sender leaves, whenever that is.
            return await receive()
        try:
            message = await asyncio.wait_for(receive(), PATIENCE)
        except TimeoutError:
            ended = True
            raise Stalled(408, f"Nothing more of this request came for {PATIENCE:g} s. Send it again.") from None
        if message["type"] == "http.request":
            ended = not message.get("more_body", False)
            taken += len(message.get("body", b""))
            if not fits(taken, scope):
                if not ended:
                    await drained(receive)
                    ended = True
                raise TooLarge(413, too_large(scope))
        return message

    return count


async def drained(receive: Receive) -> None:
    """Lets a sender say the rest of what is refused, within reason."""
    taken = 0
    with suppress(TimeoutError):
        async with asyncio.timeout(DRAINING):
            while taken < DRAINED:
                message = await asyncio.wait_for(receive(), PATIENCE)
                taken += len(message.get("body", b""))
                if message["type"] != "http.request" or not message.get("more_body", False):
                    return
