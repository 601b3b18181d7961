"""The one way in for JSON, from a body or the socket: UTF-8 and nothing else, numbers that are some, not too deep."""

import json
from collections.abc import Callable, Coroutine
from typing import Any, TypeVar

import orjson
from fastapi import Request, Response
from fastapi.routing import APIRoute

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal

NO_JSON = "This is no JSON in UTF-8 that can be read here."


def read_json(data: bytes | str) -> Any:
    """What a text says; Refusal where it is too long or no JSON. Lone halves of letters, NaN and endless nesting are
    none.
    """
    if len(data) > limits.MAX_EDIT_BYTES:
        raise Refusal("That is too much in one go.")
    try:
        return orjson.loads(data)
    except (orjson.JSONDecodeError, UnicodeEncodeError, RecursionError):
        raise Refusal(NO_JSON) from None


_HEAVY = "takes_long"
Endpoint = TypeVar("Endpoint", bound=Callable[..., Any])


def heavy(endpoint: Endpoint) -> Endpoint:
    """Declares that a route may take a processor for long: such are worked out one after the other, in the order in
    which they came, so that all else is answered meanwhile.
    """
    setattr(endpoint, _HEAVY, True)
    return endpoint


class StrictRequest(Request):
    async def json(self) -> Any:
        try:
            return read_json(await self.body())
        except Refusal as refusal:
            raise json.JSONDecodeError(str(refusal), "", 0) from None


class StrictRoute(APIRoute):
    """A route whose body is read by the strict reader."""

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        handler = super().get_route_handler()

        async def strict(request: Request) -> Response:
            read = StrictRequest(request.scope, request.receive, request._send)
            if not getattr(self.endpoint, _HEAVY, False):
                return await handler(read)
            async with request.app.state.heavy:
                return await handler(read)

        return strict
