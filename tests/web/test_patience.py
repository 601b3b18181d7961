"""Connections that say half a request end; those that said all of it stay as long as whoever opened them."""

import json
import socket
import time

import pytest
from websockets.sync.client import connect

from deftarc.web import patience
from tests.running import Served


@pytest.fixture
def served(tmp_path, monkeypatch):
    monkeypatch.setattr(patience, "HEAD", 0.3)
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
        with socket.create_connection(("127.0.0.1", served.port), 5) as line:
            line.settimeout(4 * patience.HEAD)
            line.sendall(said[:40])
            time.sleep(patience.HEAD / 3)
            line.sendall(said[40:])
            if not stays:
                assert line.recv(1000) == b""
                continue
            assert line.recv(1000).startswith(b"HTTP/1.1 101")
            with pytest.raises(TimeoutError):
                assert line.recv(1000) != b""


def test_a_second_request_over_one_connection_has_as_long_as_the_first(served):
    ask = f"GET /api/projects HTTP/1.1\r\nHost: 127.0.0.1:{served.port}\r\n\r\n".encode()
    with socket.create_connection(("127.0.0.1", served.port), 5) as line:
        line.settimeout(10)
        for _ in range(2):
            line.sendall(ask)
            assert line.recv(65_536).startswith(b"HTTP/1.1 200")
            time.sleep(2 * patience.HEAD)
        line.sendall(ask[:-2])
        assert line.recv(1000) == b""
