"""What every request passes, in this order: its host, its origin, how large it is, a login where not on loopback, and
where it changes something, the token of the page that asks.

The same headers go out with every answer, refusals among them. Each refusal is one line of the log.
"""

import hmac
import logging
import re
from collections.abc import Awaitable, Callable
from html import escape
from typing import Any, NamedTuple
from urllib.parse import parse_qsl, quote, urlencode, urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import cookie_parser
from starlette.responses import HTMLResponse, JSONResponse, RedirectResponse, Response

from deftarc.app.logins import Logins
from deftarc.web.bodies import Message, Receive, Scope, counted, drained, fits, too_large
from deftarc.web.entry import Brake, page_token
from deftarc.web.policy import HEADERS, nonce, policy

log = logging.getLogger(__name__)
Send = Callable[[Message], Awaitable[None]]

LOOPBACK = frozenset(("127.0.0.1", "localhost", "::1"))
#: Addresses that stand for every one a machine has.
EVERYWHERE = frozenset(("0.0.0.0", "::", ""))
COOKIE = "deftarc_session"
#: The header in which a page shows its token.
PAGE = "x-deftarc-page"
#: What only browsers send, and always where a page changes something: without any of these it is a program.
BROWSERS = ("origin", "referer", "cookie", "sec-fetch-site", "sec-fetch-mode", "sec-fetch-dest")
_HOST = re.compile(r"(?:\[([0-9a-f:.]{2,45})\]|([a-z0-9](?:[a-z0-9._-]{0,252})))(?::(\d{1,5}))?", re.IGNORECASE)


class Refusing(NamedTuple):
    """Why a request is not let in, the code that says so, and what goes with it."""

    why: str
    code: int
    headers: dict[str, str] = {}  # noqa: RUF012  (never changed)


class Guard:
    """ASGI middleware. ``token`` None means loopback only; ``hosts`` are the names this server is reached by."""

    def __init__(self, app: Any, token: str | None = None, hosts: frozenset[str] = LOOPBACK) -> None:
        self.app = app
        self.token = token.encode() if token is not None else None
        self.hosts = frozenset(host.lower().strip("[]") for host in hosts)
        self.brake = Brake()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        host = headers.get("host", "")
        known = len(headers.getlist("host")) == 1 and _name(host) in self.hosts
        scope["deftarc.nonce"] = number = nonce()
        scope["deftarc.session"] = kept = self._kept(headers)
        scope["deftarc.guarded"] = self.token is not None

        async def with_headers(message: Message) -> None:
            if message["type"] in ("http.response.start", "websocket.http.response.start"):
                out = MutableHeaders(scope=message)
                allowed = policy(host.lower() if known else "", scope["path"], number)
                for name, value in {**HEADERS, "content-security-policy": allowed}.items():
                    out.setdefault(name, value)
                if self.token is not None:
                    out["cache-control"] = "no-store"
            await send(message)

        refusing = self._refusing(scope, headers, known, kept)
        if refusing is not None:
            _noted(scope, refusing)
            await self._refuse(refusing, scope, receive, with_headers, headers)
        elif scope["type"] == "http" and self._gives_token(scope):
            await self._let_in(scope)(scope, receive, with_headers)
        elif scope["type"] == "http":
            await self.app(scope, counted(receive, scope), with_headers)
        else:
            await self.app(scope, *self._while_logged_in(scope, receive, with_headers, kept))

    async def _refuse(self, refusing: Refusing, scope: Scope, receive: Receive, send: Send, headers: Headers) -> None:
        if scope["type"] == "websocket":
            if "websocket.http.response" not in scope.get("extensions", {}):
                await send({"type": "websocket.close", "code": 4403, "reason": refusing.why[:120]})
                return
        elif refusing.code == 413:
            await drained(receive)
        people = "text/html" in headers.get("accept", "") and not scope["path"].startswith("/api")
        answer: Response = JSONResponse({"detail": refusing.why}, refusing.code, refusing.headers)
        if people and scope["type"] == "http":
            answer = HTMLResponse(_page(refusing.why), refusing.code, refusing.headers)
        await answer(scope, receive, send)

    def _refusing(self, scope: Scope, headers: Headers, known: bool, kept: str) -> Refusing | None:
        """Why a request is not let in; None where it is."""
        if not known:
            return Refusing("This address is not one Deft Arc answers to.", 403)
        changing = scope["type"] == "websocket" or scope.get("method") not in ("GET", "HEAD", "OPTIONS")
        if changing and not _same_origin(headers.getlist("origin"), headers["host"]):
            return Refusing("This request comes from another site, and was not carried out.", 403)
        if scope["type"] == "http":
            told = headers.get("content-length", "0")
            if not (told.isascii() and told.isdigit()):
                return Refusing("The length of this request is no number.", 400)
            if len(told) > 15 or not fits(int(told), scope):
                return Refusing(too_large(scope), 413)
        if self.token is not None and (out := self._outside(scope, kept)) is not None:
            return out
        if changing and scope["type"] == "http" and not self._of_a_page(scope, headers, kept):
            return Refusing("This request comes of no page of Deft Arc. Load the page again, and try once more.", 403)
        return None

    def _outside(self, scope: Scope, kept: str) -> Refusing | None:
        """Why whoever asks is not let in where a token is asked for."""
        address = str((scope.get("client") or ("?",))[0])
        given = _given(scope)
        if given:
            wait = self.brake.wait(address)
            if wait:
                why = f"Too many wrong tokens were tried. Wait {wait} s, then try again."
                return Refusing(why, 429, {"Retry-After": str(wait)})
            if self._gives_token(scope):
                return None
            self.brake.failed(address)
            return Refusing("This is not its token.", 403)
        if self._logins(scope).known(kept):
            return None
        return Refusing("This server asks for its token: open its address with ?token=… once.", 403)

    def _of_a_page(self, scope: Scope, headers: Headers, kept: str) -> bool:
        """Whether a request that changes something shows the token of its page; a program, which has none, says nothing
        that only browsers say.
        """
        shown = headers.get(PAGE, "")
        if not shown and not any(name in headers for name in BROWSERS):
            return True
        wanted = page_token(scope["app"].state.workshop.page_secret, kept)
        return hmac.compare_digest(shown.encode("utf-8", "surrogatepass"), wanted.encode())

    def _while_logged_in(self, scope: Scope, receive: Receive, send: Send, kept: str) -> tuple[Receive, Send]:
        """What a socket hears and says, for as long as its login lasts."""
        if self.token is None:
            return receive, send
        logins = self._logins(scope)
        ended = False

        async def end() -> None:
            nonlocal ended
            if not ended:
                ended = True
                await send({"type": "websocket.close", "code": 4403, "reason": "This login has ended."})

        async def heard() -> Message:
            message = await receive()
            if message["type"] == "websocket.receive" and not logins.known(kept):
                await end()
                return {"type": "websocket.disconnect", "code": 4403}
            return message

        async def said(message: Message) -> None:
            if message["type"] == "websocket.send" and not logins.lasts(kept):
                await end()
            elif not ended:
                await send(message)

        return heard, said

    def _logins(self, scope: Scope) -> Logins:
        found: Logins = scope["app"].state.workshop.logins
        return found

    def _kept(self, headers: Headers) -> str:
        """What a browser keeps of its login."""
        return cookie_parser(headers.get("cookie", "")).get(COOKIE, "") if self.token is not None else ""

    def _gives_token(self, scope: Scope) -> bool:
        """Whether an address that is opened carries the token; it is taken from nowhere else."""
        token = self.token
        if token is None:
            return False
        return any(hmac.compare_digest(value.encode("utf-8", "surrogateescape"), token) for value in _given(scope))

    def _let_in(self, scope: Scope) -> Response:
        """Sends on to the same address without the token, which no address keeps, with a cookie in its place."""
        rest = urlencode([(name, value) for name, value in _query(scope) if name != "token"], errors="replace")
        # Never more than one stroke at the front: two would be another machine's name.
        path = "/" + quote(scope["path"].encode("utf-8", "surrogateescape")).lstrip("/\\")
        answer = RedirectResponse(f"{path}?{rest}" if rest else path, 303, {"Cache-Control": "no-store"})
        answer.headers["referrer-policy"] = "no-referrer"
        kept = self._logins(scope).begin()
        answer.set_cookie(COOKIE, kept, httponly=True, samesite="strict", secure=scope["scheme"] == "https")
        return answer


def _page(why: str) -> str:
    return f"<!doctype html><html lang=en><meta charset=utf-8><title>Deft Arc</title><p>{escape(why)}</p></html>"


def _noted(scope: Scope, refusing: Refusing) -> None:
    """One line of the log: what was asked for, by whom, and why not. Never a query, in which a token may be."""
    method = scope.get("method", "socket")
    path = quote(scope["path"].encode("utf-8", "surrogateescape"))[:200]
    address = (scope.get("client") or ("?",))[0]
    log.warning("refused %s %s from %s: %s %s", method, path, address, refusing.code, refusing.why)


def _query(scope: Scope) -> list[tuple[str, str]]:
    told = scope.get("query_string", b"").decode("latin-1")
    try:
        return parse_qsl(told, keep_blank_values=True, errors="surrogateescape", max_num_fields=100)
    except ValueError:
        return []


def _given(scope: Scope) -> list[str]:
    """The tokens that an address carries which is opened."""
    if scope["type"] != "http" or scope.get("method") not in ("GET", "HEAD"):
        return []
    return [value for name, value in _query(scope) if name == "token"]


def _same_origin(origins: list[str], host: str) -> bool:
    """Whether a page that changes something is one of ours; what is no page at all says no origin."""
    if not origins:
        return True
    try:
        return len(origins) == 1 and urlsplit(origins[0]).netloc.lower() == host.lower()
    except ValueError:
        return False


def _name(host: str) -> str:
    """A host header's name without its port; empty where it is not a name and a port to its last sign."""
    found = _HOST.fullmatch(host)
    if found is None or int(found[3] or 0) > 65_535:
        return ""
    return (found[1] or found[2]).lower()
