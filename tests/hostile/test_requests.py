"""Numbers, letters, headers and messages out of every range: a 4xx with a sentence, and the server goes on."""

import asyncio
import copy
import json
from urllib.parse import quote

import pytest
from fastapi.testclient import TestClient
from starlette.testclient import WebSocketDenialResponse

from deftarc.formats.wire import unpack
from deftarc.web.guard import COOKIE
from deftarc.web.live.page import Looking
from deftarc.web.server import create_app, served_names
from tests.every_edit import EDITS, WITHOUT_SCENE, harbour
from tests.scenes import at

BESIDE = [1e300, -1e300, 10_000_001, 2**63, -(2**63) - 1, 10**400, "many", "", None, [], {}, 1.5, -1, 5e-324, True]
HALF = "\\ud800"


@pytest.fixture
def harbour_client(app, client):
    app.state.workshop.projects.create(harbour(), "h")
    return client


def places(told, path=()):
    """Every place in some fields that holds a number or a word."""
    if isinstance(told, dict):
        for key, value in told.items():
            yield from places(value, (*path, key))
    elif isinstance(told, list | tuple):
        for key, value in enumerate(told):
            yield from places(value, (*path, key))
    else:
        yield path


def replaced(told, path, value):
    made = json.loads(json.dumps(told))
    inner = made
    for key in path[:-1]:
        inner = inner[key]
    inner[path[-1]] = value
    return made


def posted(client, edit, revision=None):
    told = client.get("/api/projects/h").json()["revision"] if revision is None else revision
    return client.post("/api/projects/h/edits", content=json.dumps({"revision": told, "edit": edit}),
                       headers={"content-type": "application/json"})  # fmt: skip


def test_any_number_or_word_of_any_edit_out_of_range_is_refused_in_a_sentence_or_held(harbour_client):
    tried = 0
    for n, (kind, fields, _) in enumerate(EDITS):
        edit = {
            "kind": kind,
            **({"scene": "crossing"} if kind not in WITHOUT_SCENE else {}),
            **copy.deepcopy(fields),
        }
        for m, path in enumerate(places(edit)):
            for value in BESIDE[(n + m) % 8 :: 8]:
                answer = posted(harbour_client, replaced(edit, path, value))
                assert answer.status_code < 500, (kind, path, value)
                if answer.status_code >= 400:
                    assert len(answer.json()["detail"]) > 10
                else:
                    harbour_client.post("/api/projects/h/undo", json={"revision": answer.json()["revision"]})
                tried += 1
    assert tried > 600
    assert harbour_client.get("/api/projects/h/document").status_code == 200


def test_half_a_letter_is_no_letter_wherever_it_stands(harbour_client):
    for kind, fields, _ in EDITS:
        edit = {"kind": kind, "scene": "crossing", **fields}
        for path in places(edit):
            body = json.dumps({"revision": 1, "edit": replaced(edit, path, "HALF")}).replace("HALF", HALF)
            answer = harbour_client.post(
                "/api/projects/h/edits", content=body, headers={"content-type": "application/json"}
            )
            assert answer.status_code == 422, (kind, path)
            assert answer.json()["detail"]


@pytest.mark.parametrize("path", ["/api/projects", "/api/projects/p/name", "/api/projects/p/undo", "/api/eases", "/api/projects/p/ease-text",
                                  "/api/projects/p/try-outs", "/api/projects/p/renders", "/api/projects/p/scenes", "/api/projects/p/scenes/crossing/align"])  # fmt: skip
@pytest.mark.parametrize("body", [f'{{"name": "{HALF}"}}'.encode(), b"\xff\xfe{}", b'{"revision": ' + b"9" * 9_000 + b"}", b"[" * 9_000, b'{"revision": NaN}',
                                  b'{"revision": 1, "edit": {"kind": "rename_project", "name": "' + HALF.encode() + b'"}}', b"\0", b'"a"', b"1"])  # fmt: skip
def test_bodies_that_say_nothing_are_refused(client, path, body):
    method = client.put if path.endswith("/name") else client.post
    answer = method(path, content=body, headers={"content-type": "application/json"})
    assert 400 <= answer.status_code < 500
    assert answer.json()["detail"]


@pytest.mark.parametrize(
    "told", ["%00", "%ff", "%ed%a0%80", "%2e%2e%2f", "a" * 5_000, "%f0%9f%90%a6", "..", "%5c", "p%00"]
)
def test_odd_addresses_are_answered(client, told):
    for path in (f"/api/projects/{told}", f"/projects/{told}", f"/api/assets/{told}", f"/api/renders/{told}", f"/api/projects/p/scenes/{told}/frames",
                 f"/api/projects/p/scenes/crossing/moment?text={told}", f"/projects/p/parts/{told}", f"/static/{told}", f"/projects/p?scene={told}",
                 f"/parts/projects?gone={told}", f"/api/projects/p/scenes/crossing/frames?first={told}"):  # fmt: skip
        assert client.get(path).status_code < 500, path
    assert client.delete(f"/api/eases/{told}").status_code < 500
    assert (
        client.post("/projects", data={"name": told, "length": told, "width": told, "preset": told}).status_code < 500
    )
    assert client.post("/settings", data={"renders_at_once": told}).status_code < 500


@pytest.mark.parametrize("headers", [
    {"origin": "http://[::1"}, {"origin": "null"}, {"origin": "http://testserver.example"}, {"origin": "\xff\xfe"}, {"origin": "http://testserver:99999999"},
    {"origin": "javascript:alert(1)"}, {"origin": ""}, {"host": ""}, {"host": "[::1"}, {"host": "testserver.example"}, {"host": "a" * 5_000}, {"host": "\xff"},
    {"cookie": "\xff=\xfe; ;;; =; a=\"\\"}, {"content-type": "application/json; charset=wave"}, {"content-type": "multipart/form-data"},
    {"content-type": "multipart/form-data; boundary=" + "b" * 9_000}, {"content-length": "-1"}, {"content-length": "9" * 40}, {"content-length": "1_0"},
    {"accept": "\xff" * 900}, {"accept-language": "," * 900}, {"range": "bytes=9-1"}, {"if-modified-since": "\xff"}, {"content-encoding": "gzip"},
])  # fmt: skip
def test_odd_headers_are_answered_with_a_sentence_and_the_same_headers(app, headers):
    status, out, body = asyncio.run(asked(app, "POST", "/api/projects/p/undo", b'{"revision": 1}', headers))
    assert status < 500
    assert "content-security-policy" in out
    assert out["cross-origin-resource-policy"] == "same-origin"
    assert out["x-content-type-options"] == "nosniff"
    if status >= 400:
        assert json.loads(body)["detail"]


async def asked(app, method, path, body, headers, query=b"", scheme="http"):
    """A request past any client's own idea of what may be asked."""
    told = {"host": "testserver", "content-type": "application/json", **headers}
    scope = {"type": "http", "asgi": {"version": "3.0"}, "http_version": "1.1", "method": method, "path": path, "raw_path": path.encode(), "scheme": scheme,
             "query_string": query, "root_path": "", "client": ("127.0.0.1", 9), "server": ("testserver", 80),
             "headers": [(name.encode(), value.encode("latin-1")) for name, value in told.items()]}  # fmt: skip
    sent, waiting = [], [{"type": "http.request", "body": body, "more_body": False}]

    async def receive():
        return waiting.pop(0) if waiting else {"type": "http.disconnect"}

    async def send(message):
        sent.append(message)

    await app(scope, receive, send)
    out = {name.decode(): value.decode("latin-1") for name, value in sent[0]["headers"]}
    return sent[0]["status"], out, b"".join(each.get("body", b"") for each in sent[1:])


@pytest.mark.parametrize(
    ("path", "most"), [("/api/projects/p/edits", 4 * 2**20), ("/api/projects/p/fonts", 12 * 2**20)]
)
def test_a_body_is_stopped_where_it_is_too_long_whatever_it_says_of_its_length(app, path, most):
    status, _, body = asyncio.run(asked(app, "POST", path, b"", {"content-length": str(most + 200_000)}))
    assert status == 413
    assert "MiB" in json.loads(body)["detail"]
    kind = {"content-type": "multipart/form-data; boundary=b"} if path.endswith("fonts") else {}
    status, _, body = asyncio.run(asked(app, "POST", path, b"-" * (most + 200_000), kind))
    assert status == 413
    assert "MiB" in json.loads(body)["detail"]


MESSAGES = ["", "{", "null", "[]", "1", '"a"', "NaN", "[" * 9_000, '{"scene": 1}', '{"scene": "crossing", "frame": 1e400}', f'{{"scene": "{HALF}"}}', '{"n": "x"}',
            '{"n": 1e999, "scene": "crossing"}', '{"scene": "none"}', '{"scene": "crossing", "layers": ["none"]}', '{"scene": "crossing", "frame": 9007199254740993}',
            '{"scene": "crossing", "axis": {"start": 1, "end": 1, "width": 500}}', '{"scene": "crossing", "axis": {"start": -1e300, "end": 1e300, "width": 500}}',
            '{"scene": "crossing", "axis": {"start": 0, "end": 5e-324, "width": 20}}', '{"scene": "crossing", "axis": {"start": 5, "end": 1, "width": 500}}',
            '{"scene": "crossing", "frame": -2147483649}', '{"scene": "crossing", "keys": [{"layer": "gull", "property": "wing", "time": 1}]}',
            '{"scene": "crossing", "keys": [{"layer": "gull", "property": "rotation", "time": 99}]}', '{"scene": "crossing", "focus": {"layer": "none", "property": "rotation"}}',
            '{"scene": "crossing", "focus": {"layer": "gull", "property": "wing"}}', '{"scene": "crossing", "path": true, "layers": ["gull"], "path_points": [99, -1]}',
            '{"scene": "crossing", "window": {"top": 1e7, "height": 20000}}', '{"scene": "crossing", "keying_since": 99999999999}', '{"scene": "crossing", "reveal": "none"}',
            '{"scene": "crossing", "opened": [{"layer": "none", "property": "x"}]}', '{"scene": "crossing", "pair": {"value": [0, 5e-324]}}',
            '{"scene": "crossing", "pair": {"shown": [{"layer": "gull", "property": "none"}], "alone": {"layer": "a", "property": "b"}}}',
            '{"scene": "crossing", "snap": {"tolerance": 1e12, "grabbed": 99999999999999999}, "edit": {"kind": "move_layers", "scene": "crossing", "layers": ["gull"], "dx": 9e6, "dy": 1, "time": 0}}',
            '{"scene": "crossing", "edit": {"kind": "move_keys", "scene": "crossing", "keys": [], "by": 1}}', '{"scene": "crossing", "edit": {"kind": "wave"}}']  # fmt: skip


def test_the_socket_answers_every_bad_message_and_lives(client):
    with client.websocket_connect("/live/p") as socket:
        for message in [*MESSAGES, *(each.encode() for each in MESSAGES[:6]), b"\xff\xfe\0"]:
            if isinstance(message, bytes):
                socket.send_bytes(message)
            else:
                socket.send_text(message)
            head, _ = unpack(socket.receive_bytes())
            if "refused" in head:
                assert len(head["refused"]) > 10, message
        axis = {"start": 0, "end": at(100), "width": 500}
        socket.send_text(json.dumps({"n": 7, "scene": "crossing", "axis": axis, "fresh": True}))
        head, _ = unpack(socket.receive_bytes())
        assert head["n"] == 7
        assert head["layers"]["order"]


def test_a_token_is_taken_from_an_address_once_and_kept_in_none(tmp_path):
    app = create_app(tmp_path, token="Glocke-und-Möwe-am-Kai", hosts=frozenset({"10.0.0.5"}))
    given = quote("Glocke-und-Möwe-am-Kai")

    def get(path, query, **headers):
        return asyncio.run(asked(app, "GET", path, b"", {"host": "10.0.0.5", **headers}, query.encode()))

    status, out, _ = get("/projects/a", f"token={given}&scene=b")
    assert status == 303
    assert out["location"] == "/projects/a?scene=b"
    assert out["cache-control"] == "no-store"
    assert given not in out["set-cookie"]
    assert "Glocke" not in out["set-cookie"]
    assert "httponly" in out["set-cookie"].lower()
    cookie = out["set-cookie"].partition(";")[0]
    assert get("/", "", cookie=cookie)[0] == 200
    # Two strokes, or strokes the other way, would name another machine.
    for path in ("//quillhaven.example/", "/\\quillhaven.example/", "///quillhaven.example", "/%2fquillhaven.example"):
        assert get(path, f"token={given}")[1]["location"].startswith("/")
        assert not get(path, f"token={given}")[1]["location"].startswith(("//", "/\\"))
    for query in (
        "token=",
        "token=%ff",
        "token=%ed%a0%80",
        "token=" + "a" * 9_000,
        "token=M%C3%B6we",
        "&".join(["token=a"] * 500),
        "token",
    ):
        assert get("/", query)[0] in (403, 429)
    for told in ("", "\xff", f"{COOKIE}=", f"{COOKIE}=\xff\xfe", f"{COOKIE}={given}", ";;=;" * 900):
        assert get("/", "", cookie=told)[0] == 403
    assert (
        asyncio.run(asked(app, "POST", "/api/projects", b"{}", {"host": "10.0.0.5"}, f"token={given}".encode()))[0]
        == 403
    )


def test_what_a_server_is_called_is_what_it_was_told():
    assert served_names("127.0.0.1", ()) == {"127.0.0.1", "localhost", "::1"}
    assert served_names("10.0.0.5", ()) == {"10.0.0.5"}
    assert "studio.quillhaven.example" in served_names("0.0.0.0", ("studio.quillhaven.example",))
    assert "10.0.0.9" not in served_names("0.0.0.0", ("studio.quillhaven.example",))


def test_a_page_may_speak_to_its_own_server_only(tmp_path):
    app = create_app(tmp_path, hosts=frozenset({"10.0.0.5", "::1"}))
    with TestClient(app, base_url="http://10.0.0.5:8321") as client:
        policy = client.get("/").headers["content-security-policy"]
    assert "connect-src 'self' ws://10.0.0.5:8321 wss://10.0.0.5:8321;" in policy
    assert " ws: " not in policy
    with TestClient(app, base_url="http://[::1]:8321") as client:
        assert client.get("/").status_code == 200


def test_every_answer_has_the_same_headers_refusals_and_mistakes_of_our_own_too(app, monkeypatch):
    monkeypatch.setattr(app.state.workshop.projects, "summaries", lambda *_given, **_told: 1 / 0)
    wanted = (
        "content-security-policy",
        "x-content-type-options",
        "referrer-policy",
        "x-frame-options",
        "cross-origin-resource-policy",
    )
    with TestClient(app, raise_server_exceptions=False) as client:
        answers = {
            path: client.get(path, headers=headers)
            for path, headers in (
                ("/api/projects", {}), ("/api/projects/none", {}), ("/none", {}), ("/static/mark.svg", {}), ("/static/none", {}), ("/openapi.json", {}),
                ("/projects/p", {}), ("/docs", {}), ("/favicon.ico", {}), ("/api/projects/p", {"host": "elsewhere.example"}),
            )
        }  # fmt: skip
    assert answers["/api/projects"].status_code == 500
    assert "nobody foresaw" in answers["/api/projects"].json()["detail"]
    for path, answer in answers.items():
        for name in wanted:
            assert len(answer.headers.get_list(name)) == 1, (path, name)


def test_a_socket_from_elsewhere_is_refused_with_a_sentence(client):
    with (
        pytest.raises(WebSocketDenialResponse) as refused,
        client.websocket_connect("/live/p", headers={"origin": "http://quillhaven.example"}),
    ):
        pass
    assert refused.value.status_code == 403
    assert "another site" in refused.value.json()["detail"]
    assert refused.value.headers["cross-origin-resource-policy"] == "same-origin"


@pytest.mark.parametrize("error", [RuntimeError, RecursionError, ZeroDivisionError, MemoryError])
def test_the_socket_lives_through_a_look_that_goes_wrong_in_a_way_nobody_foresaw(client, monkeypatch, error):
    def wrong(*_given):
        raise error("a wave")

    look = json.dumps({"n": 3, "scene": "crossing", "axis": {"start": 0, "end": at(100), "width": 500}, "fresh": True})
    with client.websocket_connect("/live/p") as socket:
        with monkeypatch.context() as during:
            during.setattr(Looking, "begin", wrong)
            socket.send_text(look)
            head, _ = unpack(socket.receive_bytes())
            assert (head["n"], "cannot be shown" in head["refused"]) == (3, True)
        socket.send_text(look)
        head, _ = unpack(socket.receive_bytes())
        assert head["layers"]["order"]
