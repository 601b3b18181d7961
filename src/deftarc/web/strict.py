"""The one way in for JSON, from a body or the socket: UTF-8 and nothing else, numbers that are some, not too deep."""

import json
from collections.abc import Callable, Coroutine
from typing import Any

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
            return await handler(StrictRequest(request.scope, request.receive, request._send))

        return strict
