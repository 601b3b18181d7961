"""Connections that say half a request end; those that said all of it stay as long as whoever opened them."""

import json
import socket
import time
from http.client import HTTPConnection

import pytest
from websockets.sync.client import connect

from deftarc.web import patience
from tests.running import Served


@pytest.fixture
def served(tmp_path, monkeypatch):
    monkeypatch.setattr(patience, "HEAD", 1.0)
    made = Served(tmp_path / "data")
    yield made
    made.stop()


def test_a_socket_stays_open_however_long_it_is_silent(served):
    with connect(f"ws://127.0.0.1:{served.port}/live/quillhaven") as live:
        for _ in range(3):
            live.send(json.dumps({"scene": "crossing"}))
            live.recv(5)
            time.sleep(3 * patience.HEAD)
        assert live.ping().wait(5)


def test_a_socket_whose_head_came_in_pieces_stays_and_one_whose_head_ends_half_way_does_not(served):
    head = (
        f"GET /live/quillhaven HTTP/1.1\r\nHost: 127.0.0.1:{served.port}\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n"
        "Sec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\nSec-WebSocket-Version: 13\r\n\r\n"
    ).encode()
    for said, stays in ((head, True), (head[:-2], False)):
        with socket.create_connection(("127.0.0.1", served.port), 10) as line:
            line.sendall(said[:40])
            time.sleep(patience.HEAD / 3)
            line.sendall(said[40:])
            if not stays:
                assert line.recv(1000) == b""
                continue
            # What a server says in one piece may arrive in several.
            answer = b""
            while not answer.endswith(b"\r\n\r\n"):
                answer += line.recv(1)
            assert answer.startswith(b"HTTP/1.1 101")
            line.settimeout(4 * patience.HEAD)
            with pytest.raises(TimeoutError):
                line.recv(1000)


def test_a_second_request_over_one_connection_has_as_long_as_the_first(served):
    line = HTTPConnection("127.0.0.1", served.port, timeout=10)
    for _ in range(2):
        line.request("GET", "/api/projects")
        kept = line.sock
        with line.getresponse() as answer:
            assert answer.status == 200
            assert json.loads(answer.read())[0]["id"] == "quillhaven"
        time.sleep(2 * patience.HEAD)
        assert line.sock is kept
    line.sock.sendall(b"GET /api/projects HTTP/1.1\r\nHost: 127.0.0.1\r\n")
    assert line.sock.recv(1000) == b""
    line.close()
