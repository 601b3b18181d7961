"""What every request passes: host and origin checked, a token where not on loopback, headers set."""

import hmac
from collections.abc import Awaitable, Callable, MutableMapping
from http.cookies import SimpleCookie
from typing import Any
from urllib.parse import parse_qs, urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import JSONResponse, RedirectResponse

Scope = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[MutableMapping[str, Any]]]
Send = Callable[[MutableMapping[str, Any]], Awaitable[None]]

LOOPBACK = {"127.0.0.1", "localhost", "::1", "testserver"}
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; font-src 'self'; "
    "connect-src 'self' ws: wss:; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)
#: The API's documentation page is FastAPI's own, with inline script; it shows nothing of a project's.
HEADERS = {
    "content-security-policy": POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "x-frame-options": "DENY",
}


class Guard:
    """ASGI middleware. ``token`` None means loopback only."""

    def __init__(self, app: Any, token: str | None = None, hosts: frozenset[str] = frozenset()) -> None:
        self.app = app
        self.token = token
        self.hosts = LOOPBACK | hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        refusal = self._refusal(scope, headers)
        if refusal is not None:
            if scope["type"] == "websocket":
                await send({"type": "websocket.close", "code": 4403, "reason": refusal})
            else:
                await JSONResponse({"detail": refusal}, 403)(scope, receive, send)
            return
        if self.token is not None and self._gives_token(scope):
            response = RedirectResponse(scope["path"])
            response.set_cookie("deftarc_token", self.token, httponly=True, samesite="strict")
            await response(scope, receive, send)
            return

        async def with_headers(message: MutableMapping[str, Any]) -> None:
            if message["type"] == "http.response.start":
                out = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    out.setdefault(name, value)
            await send(message)

        await self.app(scope, receive, with_headers)

    def _refusal(self, scope: Scope, headers: Headers) -> str | None:
        host = _name(headers.get("host", ""))
        if host not in self.hosts:
            return "This address is not one Deft Arc answers to."
        origin = headers.get("origin")
        changing = scope["type"] == "websocket" or scope.get("method") not in ("GET", "HEAD", "OPTIONS")
        if changing and origin is not None and urlsplit(origin).netloc != headers.get("host", ""):
            return "This request comes from another site, and was not carried out."
        if self.token is not None and not self._gives_token(scope):
            cookie = SimpleCookie(headers.get("cookie", "")).get("deftarc_token")
            if cookie is None or not hmac.compare_digest(cookie.value, self.token):
                return "Open Deft Arc with its token: add ?token=… to the address once."
        return None

    def _gives_token(self, scope: Scope) -> bool:
        given = parse_qs(scope.get("query_string", b"").decode("latin-1")).get("token", [""])[0]
        return self.token is not None and hmac.compare_digest(given, self.token)


def _name(host: str) -> str:
    if host.startswith("["):
        return host[1:].partition("]")[0]
    return host.partition(":")[0].lower()
