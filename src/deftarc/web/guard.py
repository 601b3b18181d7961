"""What every request passes, in this order: its host, its origin, a token where not on loopback, how large it is.

The same headers go out with every answer, refusals among them.
"""

import hashlib
import hmac
from collections.abc import Awaitable, Callable, MutableMapping
from typing import Any
from urllib.parse import parse_qsl, quote, urlencode, urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.exceptions import HTTPException
from starlette.requests import cookie_parser
from starlette.responses import JSONResponse, RedirectResponse, Response

from deftarc.core.base import limits

Scope = MutableMapping[str, Any]
Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]

LOOPBACK = frozenset(("127.0.0.1", "localhost", "::1"))
#: Addresses that stand for every one a machine has.
EVERYWHERE = frozenset(("0.0.0.0", "::", ""))
COOKIE = "deftarc_session"
#: The API's documentation page is FastAPI's own, with inline script; it shows nothing of a project's.
HEADERS = {
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "x-frame-options": "DENY",
    "cross-origin-resource-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
}
#: What the end of an address that takes files allows its body; any other takes no more than an edit.
BODIES = {
    "/import": limits.MAX_ARCHIVE_BYTES, "/files": limits.MAX_UPLOAD_BYTES, "/again": limits.MAX_UPLOAD_BYTES,
    "/fonts": limits.MAX_FONT_BYTES,
    "/path-file": limits.MAX_SVG_BYTES, "/samples": limits.MAX_CSV_BYTES,
}  # fmt: skip
#: Room for what goes with a file: the form's other fields, and what parts them.
BESIDE = 64 * 1024


def policy(host: str) -> str:
    """The content security policy of an answer to a host that was let in."""
    return (
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; font-src 'self'; "
        "media-src 'self'; frame-src 'self'; "
        f"connect-src 'self' ws://{host} wss://{host}; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
    )


class Guard:
    """ASGI middleware. ``token`` None means loopback only; ``hosts`` are the names this server is reached by."""

    def __init__(self, app: Any, token: str | None = None, hosts: frozenset[str] = LOOPBACK) -> None:
        self.app = app
        self.token = token.encode() if token is not None else None
        self.hosts = frozenset(host.lower().strip("[]") for host in hosts)
        # What a browser keeps is not the token: who sees it cannot let others in.
        self.session = hmac.new(self.token, b"deftarc session", hashlib.sha256).hexdigest() if self.token else ""

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        host = headers.get("host", "")
        known = len(headers.getlist("host")) == 1 and _name(host) in self.hosts

        async def with_headers(message: Message) -> None:
            if message["type"] in ("http.response.start", "websocket.http.response.start"):
                out = MutableHeaders(scope=message)
                for name, value in {**HEADERS, "content-security-policy": policy(host if known else "")}.items():
                    out.setdefault(name, value)
            await send(message)

        refusal, code = self._refusal(scope, headers, known)
        if refusal is not None:
            if scope["type"] == "websocket" and "websocket.http.response" not in scope.get("extensions", {}):
                await send({"type": "websocket.close", "code": 4403, "reason": refusal[:120]})
            else:
                await JSONResponse({"detail": refusal}, code)(scope, receive, with_headers)
            return
        if scope["type"] == "http" and self._gives_token(scope):
            await self._let_in(scope)(scope, receive, with_headers)
            return
        if scope["type"] == "http":
            receive = _counted(receive, _most(scope["path"]))
        await self.app(scope, receive, with_headers)

    def _refusal(self, scope: Scope, headers: Headers, known: bool) -> tuple[str | None, int]:
        """Why a request is not let in, and the code that says so."""
        if not known:
            return "This address is not one Deft Arc answers to.", 403
        changing = scope["type"] == "websocket" or scope.get("method") not in ("GET", "HEAD", "OPTIONS")
        if changing and not _same_origin(headers.getlist("origin"), headers["host"]):
            return "This request comes from another site, and was not carried out.", 403
        if self.token is not None and not self._gives_token(scope):
            cookie = cookie_parser(headers.get("cookie", "")).get(COOKIE, "")
            if not hmac.compare_digest(cookie.encode("utf-8", "surrogatepass"), self.session.encode()):
                return "Open Deft Arc with its token: add ?token=… to the address once.", 403
        if scope["type"] == "http":
            told = headers.get("content-length", "0")
            if not (told.isascii() and told.isdigit()):
                return "The length of this request is no number.", 400
            if len(told) > 15 or int(told) > _most(scope["path"]):
                return _too_large(scope["path"]), 413
        return None, 200

    def _gives_token(self, scope: Scope) -> bool:
        """Whether an address that is opened carries the token; it is taken from nowhere else."""
        if self.token is None or scope["type"] != "http" or scope.get("method") not in ("GET", "HEAD"):
            return False
        given = [value for name, value in _query(scope) if name == "token"]
        return any(hmac.compare_digest(value.encode("utf-8", "surrogateescape"), self.token) for value in given)

    def _let_in(self, scope: Scope) -> Response:
        """Sends on to the same address without the token, which no address keeps, with a cookie in its place."""
        rest = urlencode([(name, value) for name, value in _query(scope) if name != "token"], errors="replace")
        # Never more than one stroke at the front: two would be another machine's name.
        path = "/" + quote(scope["path"].encode("utf-8", "surrogateescape")).lstrip("/\\")
        answer = RedirectResponse(f"{path}?{rest}" if rest else path, 303, {"Cache-Control": "no-store"})
        answer.headers["referrer-policy"] = "no-referrer"
        answer.set_cookie(COOKIE, self.session, httponly=True, samesite="strict", secure=scope["scheme"] == "https")
        return answer


def _query(scope: Scope) -> list[tuple[str, str]]:
    told = scope.get("query_string", b"").decode("latin-1")
    try:
        return parse_qsl(told, keep_blank_values=True, errors="surrogateescape", max_num_fields=100)
    except ValueError:
        return []


def _same_origin(origins: list[str], host: str) -> bool:
    """Whether a page that changes something is one of ours; what is no page at all says no origin."""
    if not origins:
        return True
    try:
        return len(origins) == 1 and urlsplit(origins[0]).netloc == host
    except ValueError:
        return False


def _name(host: str) -> str:
    """A host header's name without its port."""
    if host.startswith("["):
        return host[1:].partition("]")[0].lower()
    return host.partition(":")[0].lower()


def _most(path: str) -> int:
    end = "/" + path.rpartition("/")[2]
    return BODIES[end] + BESIDE if end in BODIES else limits.MAX_EDIT_BYTES


def _too_large(path: str) -> str:
    return f"This is larger than the {_most(path) // 2**20} MiB that are taken here. Nothing was changed."


class TooLarge(HTTPException):
    """A body went on beyond what its address takes."""


def _counted(receive: Receive, most: int) -> Receive:
    """Counts a body as it comes in: what says nothing of its length is stopped where it is too long."""
    taken = 0

    async def counted() -> Message:
        nonlocal taken
        message = await receive()
        if message["type"] == "http.request":
            taken += len(message.get("body", b""))
            if taken > most:
                raise TooLarge(413, f"This is larger than the {most // 2**20} MiB that are taken here.")
        return message

    return counted
