"""How large a request may be, said where its route is; who sends too much reads why, who sends half is given up."""

import asyncio
import json
import socket
import time

import pytest

from deftarc.core.base import limits
from deftarc.web import bodies
from deftarc.web.bodies import BESIDE, file_of, fits
from tests.serving import Server

DECLARED = {
    "/api/projects/import": limits.MAX_ARCHIVE_BYTES,
    "/api/motions/file": limits.MAX_MOTIONS_BYTES,
    "/api/projects/p/motions/file": limits.MAX_MOTIONS_BYTES,
    "/api/projects/p/fonts": limits.MAX_FONT_BYTES,
    "/api/projects/p/scenes/crossing/files": limits.MAX_UPLOAD_BYTES,
    "/api/projects/p/scenes/crossing/again": limits.MAX_UPLOAD_BYTES,
    "/api/projects/p/scenes/crossing/layers/gull/mask-file": limits.MAX_SVG_BYTES,
    "/api/projects/p/scenes/crossing/layers/gull/path-file": limits.MAX_SVG_BYTES,
    "/api/projects/p/scenes/crossing/layers/gull/samples": limits.MAX_CSV_BYTES,
}


@pytest.mark.parametrize("path", DECLARED)
def test_an_address_takes_the_file_that_its_route_has_declared(app, path):
    scope = {"type": "http", "method": "POST", "path": path, "app": app}
    assert fits(DECLARED[path] + BESIDE, scope)
    assert not fits(DECLARED[path] + BESIDE + 1, scope)
    assert not fits(limits.MAX_EDIT_BYTES + 1, {**scope, "path": "/api/projects/p/edits"})
    assert not fits(limits.MAX_EDIT_BYTES + 1, {**scope, "path": path + "/more"})


def test_every_route_that_takes_a_file_has_declared_how_large(app):
    assert sorted(file_of(route.endpoint) for route in app.state.taking_files) == sorted(DECLARED.values())


@pytest.fixture(scope="module")
def server(tmp_path_factory):
    made = Server(tmp_path_factory.mktemp("data")).ready()
    yield made
    made.kill()


def spoken(server, head, pieces=(), wait=30):
    """What is answered to a request that is said in pieces."""
    with socket.create_connection(("127.0.0.1", server.port), 5) as line:
        line.settimeout(wait)
        line.sendall(head)
        for piece in pieces:
            line.sendall(piece)
        answer = b""
        while data := line.recv(65_536):
            answer += data
            if b"\r\n\r\n" in answer and b"}" in answer:
                break
        return answer


def test_who_sends_too_much_is_heard_to_the_end_and_reads_why(server):
    head = (
        f"POST /api/projects HTTP/1.1\r\nHost: 127.0.0.1:{server.port}\r\nContent-Type: application/json\r\n"
        f"Content-Length: {24 << 20}\r\n\r\n"
    ).encode()
    answer = spoken(server, head, [b" " * (1 << 20)] * 24)
    assert answer.startswith(b"HTTP/1.1 413")
    assert b"larger than the 4 MiB" in answer
    chunked = head.replace(f"Content-Length: {24 << 20}".encode(), b"Transfer-Encoding: chunked")
    piece = b"%x\r\n" % (1 << 20) + b" " * (1 << 20) + b"\r\n"
    answer = spoken(server, chunked, [piece] * 8 + [b"0\r\n\r\n"])
    assert answer.startswith(b"HTTP/1.1 413")


def test_a_head_that_is_said_half_is_given_up_and_others_are_answered_meanwhile(server):
    half = socket.create_connection(("127.0.0.1", server.port), 5)
    half.settimeout(30)
    half.sendall(b"GET / HTTP/1.1\r\nHost: 127")
    begun = time.monotonic()
    assert server.ask("GET", "/api/projects")[0] == 200
    assert half.recv(10) == b""
    assert 5 < time.monotonic() - begun < 25
    half.close()


def test_a_body_that_stops_half_way_is_refused_in_a_sentence(app, monkeypatch):
    monkeypatch.setattr(bodies, "PATIENCE", 0.2)
    said = []

    async def ask():
        async def receive():
            if not said:
                said.append(1)
                return {"type": "http.request", "body": b'{"name":', "more_body": True}
            await asyncio.sleep(30)

        out = []

        async def send(message):
            out.append(message)

        scope = {
            "type": "http", "method": "POST", "path": "/api/projects", "raw_path": b"/api/projects", "scheme": "http",
            "query_string": b"", "headers": [(b"host", b"testserver"), (b"content-type", b"application/json")],
            "client": ("127.0.0.1", 1), "server": ("127.0.0.1", 2), "http_version": "1.1", "extensions": {},
        }  # fmt: skip
        await app(scope, receive, send)
        return out

    status, body = asyncio.run(ask())[:2]
    assert status["status"] == 408
    assert "Send it again" in json.loads(body["body"])["detail"]
