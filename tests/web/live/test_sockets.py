"""Sockets: one look in work and the newest waiting; those that are refused or whose project is gone leave quietly."""

import threading

import pytest
from starlette.websockets import WebSocketDisconnect

from deftarc.formats.wire import unpack
from deftarc.web.live.page import Looking


def test_of_many_looks_that_wait_the_newest_is_answered(client, monkeypatch):
    begun, go = threading.Event(), threading.Event()
    begin = Looking.begin

    def slow(self, look):
        if look.n == 1:
            begun.set()
            go.wait(10)
        return begin(self, look)

    monkeypatch.setattr(Looking, "begin", slow)
    with client.websocket_connect("/live/p") as socket:
        socket.send_json({"scene": "crossing", "n": 1})
        assert begun.wait(10)
        for n in range(2, 102):
            socket.send_json({"scene": "crossing", "n": n})
        # They are all heard before the first is answered.
        client.get("/api/projects")
        go.set()
        assert unpack(socket.receive_bytes())[0]["n"] == 1
        assert unpack(socket.receive_bytes())[0]["n"] == 101


def test_forty_pages_that_ask_keep_nobody_waiting_for_more_than_two_of_them(client, monkeypatch):
    working, most, lock = [0], [0], threading.Lock()
    begin = Looking.begin

    def counted(self, look):
        with lock:
            working[0] += 1
            most[0] = max(most[0], working[0])
        try:
            return begin(self, look)
        finally:
            with lock:
                working[0] -= 1

    monkeypatch.setattr(Looking, "begin", counted)
    sockets = [client.websocket_connect("/live/p") for _ in range(12)]
    opened = [each.__enter__() for each in sockets]
    for each in opened:
        each.send_json({"scene": "crossing", "n": 1})
    assert client.get("/api/projects").status_code == 200
    for each in opened:
        assert unpack(each.receive_bytes())[0]["n"] == 1
    for each in sockets:
        each.__exit__(None, None, None)
    assert most[0] <= 2


def test_a_socket_to_a_project_that_is_gone_says_so_and_leaves_nothing_in_the_log(client, caplog):
    with client.websocket_connect("/live/p") as socket:
        socket.send_json({"scene": "crossing", "n": 1})
        socket.receive_bytes()
        assert client.delete("/api/projects/p").status_code == 204
        socket.send_json({"scene": "crossing", "n": 2})
        assert "refused" in unpack(socket.receive_bytes())[0]
    with client.websocket_connect("/live/p") as socket:
        assert unpack(socket.receive_bytes())[0]["gone"]
        with pytest.raises(WebSocketDisconnect):
            socket.receive_bytes()
    assert not [record for record in caplog.records if record.exc_info]
