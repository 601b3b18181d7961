"""Who is let in: pages that came from here, and beyond loopback whoever has shown the token."""

import hashlib
import hmac
import re
import time

import pytest
from starlette.testclient import TestClient
from starlette.websockets import WebSocketDisconnect

from deftarc.core.document import Project, Scene
from deftarc.web import delivery, pages
from deftarc.web.api import clips, eases, layers, motions, paths, projects, renders, scenes, within
from deftarc.web.entry import Brake
from deftarc.web.server import create_app, ready


def test_requests_of_other_sites_are_not_carried_out(client):
    answer = client.post("/api/projects/p/undo", json={"revision": 1}, headers={"origin": "http://quillhaven.example"})
    assert answer.status_code == 403
    assert client.get("/", headers={"host": "quillhaven.example"}).status_code == 403
    own = {"origin": "http://testserver", "x-deftarc-page": page_token_of(client)}
    assert client.post("/api/projects/p/duplicate", headers=own).status_code == 201


def page_token_of(client):
    """The token that a page of this server was given."""
    return re.search(r'name="deftarc-page" content="([0-9a-f]{64})"', client.get("/").text)[1]


@pytest.mark.parametrize(
    "said",
    [
        {"origin": "http://testserver"},
        {"sec-fetch-site": "same-origin"},
        {"referer": "http://testserver/"},
        {"cookie": "a=b"},
        {"origin": "http://testserver", "x-deftarc-page": "1"},
        {"x-deftarc-page": "0" * 64},
        {"origin": "http://testserver", "x-deftarc-page": "\xff"},
    ],
)
@pytest.mark.parametrize(
    ("method", "path"),
    [
        ("POST", "/settings"), ("POST", "/room"), ("POST", "/projects"), ("POST", "/projects/p/delete"),
        ("POST", "/projects/p/remove"), ("POST", "/api/projects/import"), ("DELETE", "/api/projects/p"),
        ("PUT", "/api/projects/p/name"), ("POST", "/log-out-everywhere"), ("DELETE", "/api/motions/any"),
    ],
)  # fmt: skip
def test_what_a_browser_sends_without_the_token_of_its_page_changes_nothing(client, said, method, path):
    before = client.get("/api/projects").json()
    answer = client.request(
        method, path, headers=[(name.encode(), value.encode("latin-1")) for name, value in said.items()]
    )
    assert answer.status_code == 403
    assert "comes of no page" in answer.json()["detail"]
    assert client.get("/api/projects").json() == before


def test_nothing_that_changes_anything_is_reached_by_opening_an_address(app):
    changing = [route for route in routes_of(app) if route.methods & {"POST", "PUT", "DELETE", "PATCH"}]
    assert len(changing) > 40
    assert not [route.path for route in changing if route.methods & {"GET", "HEAD"}]
    words = ("delete", "remove", "undo", "redo", "settings", "purge", "restore", "rename", "log-out")
    reading = [route.path for route in routes_of(app) if route.methods & {"GET"}]
    assert not [path for path in reading if path.rpartition("/")[2] in words]


def routes_of(app):
    modules = (projects, scenes, layers, paths, eases, motions, renders, clips, within, pages, delivery)
    return [route for module in modules for route in module.router.routes]


def test_beyond_loopback_a_token_is_needed(tmp_path):
    app = create_app(tmp_path, token="bell-and-chime-of-the-harbour", hosts=frozenset({"10.0.0.5", "[::5]"}))
    with TestClient(app, base_url="http://10.0.0.5") as outside:
        assert outside.get("/").status_code == 403
        assert outside.get("/?token=wrong").status_code == 403
        assert outside.get("/?token=bell-and-chime-of-the-harbour").status_code == 200
        assert outside.get("/api/projects").status_code == 200
        assert outside.get("/static/css/app.css").headers["cache-control"] == "no-store"


LONG = "bell-and-chime-of-the-harbour"


def logged_in(app, address="http://10.0.0.5"):
    client = TestClient(app, base_url=address)
    assert client.get(f"/?token={LONG}").status_code == 200
    return client


def test_a_login_ends_when_it_is_not_used_and_when_everybody_is_logged_out(tmp_path, monkeypatch):
    app = create_app(tmp_path, token=LONG, hosts=frozenset({"10.0.0.5"}))
    logins, now = app.state.workshop.logins, [time.time()]
    logins.clock = lambda: now[0]
    one, other = logged_in(app), logged_in(app)
    assert one.cookies["deftarc_session"] != other.cookies["deftarc_session"]
    now[0] += 11 * 3600
    assert one.get("/").status_code == 200
    now[0] += 2 * 3600
    assert one.get("/").status_code == 200
    assert other.get("/").status_code == 403
    token = page_token_of(one)
    # What one page shows is of no use to another browser.
    late = logged_in(app)
    assert late.post("/log-out-everywhere", headers={"x-deftarc-page": token}).status_code == 403
    assert one.post("/log-out-everywhere", headers={"x-deftarc-page": token}).status_code == 200
    assert {each.get("/").status_code for each in (one, other, late)} == {403}
    # Nor is it of use to a server that starts anew.
    again = create_app(tmp_path, token=LONG, hosts=frozenset({"10.0.0.5"}))
    assert TestClient(again, base_url="http://10.0.0.5", cookies=dict(one.cookies)).get("/").status_code == 403


def test_a_login_outlives_the_server_and_cannot_be_made_from_the_token(tmp_path):
    made = create_app(tmp_path, token=LONG, hosts=frozenset({"10.0.0.5"}))
    kept = dict(logged_in(made).cookies)
    again = create_app(tmp_path, token=LONG, hosts=frozenset({"10.0.0.5"}))
    assert TestClient(again, base_url="http://10.0.0.5", cookies=kept).get("/").status_code == 200
    for guess in (
        LONG,
        hashlib.sha256(LONG.encode()).hexdigest(),
        hmac.new(LONG.encode(), b"deftarc session", "sha256").hexdigest(),
    ):
        client = TestClient(again, base_url="http://10.0.0.5", cookies={"deftarc_session": guess})
        assert client.get("/").status_code == 403
    assert kept["deftarc_session"].encode() not in (tmp_path / "deftarc.sqlite").read_bytes()


def test_a_live_socket_ends_with_its_login(tmp_path):
    app = create_app(tmp_path, token=LONG, hosts=frozenset({"10.0.0.5"}))
    with logged_in(app) as client:
        app.state.workshop.projects.create(Project(name="Ferry", scenes=(Scene(name="Crossing"),)), "p")
        kept = f"deftarc_session={client.cookies['deftarc_session']}"
        said = {"host": "10.0.0.5", "origin": "http://10.0.0.5", "cookie": kept}
        with client.websocket_connect("/live/p", headers=said) as socket:
            socket.send_json({"n": 1, "scene": "none"})
            socket.receive_bytes()
            app.state.workshop.logins.end_all()
            socket.send_json({"n": 2, "scene": "none"})
            with pytest.raises(WebSocketDisconnect):
                heard_to_the_end(socket)


def heard_to_the_end(socket):
    while True:
        socket.receive_bytes()


def test_whoever_guesses_tokens_has_to_wait_and_so_do_all_together(tmp_path):
    app = create_app(tmp_path, token=LONG, hosts=frozenset({"10.0.0.5"}))
    with TestClient(app, base_url="http://10.0.0.5") as client:
        kept = logged_in(app)
        codes = [client.get(f"/?token=guess{n}").status_code for n in range(8)]
        assert codes == [403] * 5 + [429] * 3
        answer = client.get(f"/?token={LONG}")
        assert answer.status_code == 429
        assert 0 < int(answer.headers["retry-after"]) <= 60
        assert "Too many wrong tokens" in answer.json()["detail"]
        # Who is in already is not kept out.
        assert kept.get("/").status_code == 200


def test_tries_come_back_with_time_and_are_counted_by_address_and_of_all(tmp_path):
    now = [0.0]
    brake = Brake(lambda: now[0])
    for _ in range(5):
        assert brake.wait("10.0.0.9") == 0
        brake.failed("10.0.0.9")
    assert brake.wait("10.0.0.9") == 60
    assert brake.wait("10.0.0.8") == 0
    now[0] += 60
    assert brake.wait("10.0.0.9") == 0
    for n in range(100):
        brake.failed(f"10.0.{n}.1")
    assert brake.wait("10.1.0.1") > 0
    now[0] += 3600
    assert brake.wait("10.1.0.1") == 0


def test_each_refusal_is_one_line_of_the_log_without_a_token(tmp_path, caplog):
    app = create_app(tmp_path, token=LONG, hosts=frozenset({"10.0.0.5"}))
    with TestClient(app, base_url="http://10.0.0.5") as client:
        client.get(f"/projects/a%0a?token={LONG}x")
        client.get("/", headers={"host": "quillhaven.example"})
        client.get(f"/?token={LONG}")
        client.post("/settings", headers={"origin": "http://quillhaven.example"})
    lines = [record.getMessage() for record in caplog.records if record.name == "deftarc.web.guard"]
    assert len(lines) == 3
    assert [line.split(": ")[1][:3] for line in lines] == ["403", "403", "403"]
    assert not [line for line in lines if LONG in line or "\n" in line]


@pytest.mark.parametrize(
    "host",
    ["testserver:", "testserver:80:90", "testserver:8x", "testserver/", "testserver:99999", "a@testserver", "testserver .",
     "test_server", "testserver#", "[testserver]", ""],
)  # fmt: skip
def test_a_host_is_read_to_its_last_sign(client, host):
    assert client.get("/", headers={"host": host}).status_code == 403


def test_a_server_that_starts_has_worked_its_routes_out_before_the_first_request(tmp_path, monkeypatch):
    made = create_app(tmp_path, hosts=frozenset(("testserver",)))
    ready(made)
    late = []
    monkeypatch.setattr("fastapi.routing.get_dependant", lambda **route: late.append(route))
    with TestClient(made) as client:
        assert client.get("/", headers={"accept": "text/html"}).status_code == 200
        assert client.get("/api/projects").status_code == 200
    assert late == []
