"""Bad input gets a sentence, changes nothing, and is never a 5xx."""

import re

import pytest

DEEP = '{"revision":1,"edit":' + "[" * 3000 + "]" * 3000 + "}"


def unchanged(client):
    return client.get("/api/projects/p").json()["revision"] == 1


#: Each number keeps its limit; what is drawn of them does not.
FAR_OUT = {"kind": "free", "contours": [{"points": [[0, 0, 0, 0, 0, 0], [-9e6, 0, -9e6, 0, 0, 0]]}]}
FAR_WORDS = {"kind": "text", "text": "m" * 2000, "size": 5000, "letter_spacing": 10}


@pytest.mark.parametrize(
    ("fields", "code"),
    [
        ({"kind": "set_value", "layer": "gull", "property": "rotation", "value": "many", "time": 0}, 422),
        ({"kind": "set_value", "layer": "gull", "property": "rotation", "value": 1e99, "time": 0}, 422),
        ({"kind": "set_value", "layer": "gull", "property": "rotation", "value": 1, "time": 0.5}, 422),
        ({"kind": "set_value", "layer": "gull", "property": "rotation", "value": 1, "time": 10**20}, 422),
        ({"kind": "set_value", "layer": "whale", "property": "rotation", "value": 1, "time": 0}, 404),
        ({"kind": "set_value", "layer": "gull", "property": "wing", "value": 1, "time": 0}, 400),
        ({"kind": "wave"}, 422),
        ({"kind": "delete_layers", "layers": []}, 422),
        ({"kind": "add_layer", "name": "T", "artwork": {"kind": "text", "text": "x" * 100_000}}, 422),
        ({"kind": "add_layer", "name": "T", "artwork": {"kind": "text", "text": "x", "font": "comic"}}, 404),
        (
            {
                "kind": "add_layer",
                "name": "T",
                "artwork": {"kind": "picture", "asset": "0" * 64, "width": 1, "height": 1},
            },
            400,
        ),
        ({"kind": "add_layer", "name": "", "artwork": {"kind": "ellipse", "width": 1, "height": 1}}, 422),
        ({"kind": "add_layer", "name": "T", "artwork": {"kind": "ellipse", "width": -1, "height": 1}}, 422),
        ({"kind": "move_keys", "keys": [{"layer": "gull", "property": "rotation", "time": 7}], "by": 1}, 404),
        ({"kind": "change_artwork", "layer": "gull", "change": {"width": -5}}, 400),
        ({"kind": "set_value", "layer": "gull", "property": "rotation", "told": "1/0", "time": 0}, 400),
        ({"kind": "set_value", "layer": "gull", "property": "fill", "value": 3, "time": 0}, 400),
        ({"kind": "set_parent", "layers": ["gull"], "parent": "gull", "time": 0}, 400),
        ({"kind": "set_parent", "layers": ["gull"], "parent": "whale", "time": 0}, 404),
        ({"kind": "set_span_length", "layers": ["gull"], "length": 0}, 422),
        ({"kind": "trim_span", "layers": ["gull"], "end": 0}, 400),
        ({"kind": "drag_points", "layer": "gull", "points": [0], "dx": 1, "dy": 1}, 400),
        ({"kind": "bend_path", "layer": "ferry", "points": [0], "dx": 1, "dy": 1, "time": 0}, 400),
        ({"kind": "bend_path", "layer": "gull", "points": [7], "dx": 1, "dy": 1, "time": 0}, 400),
        ({"kind": "bend_path", "layer": "gull", "points": [0], "dx": 1e9, "dy": 1, "time": 0}, 422),
        ({"kind": "join_path", "layer": "gull", "points": [0], "joint": "round"}, 422),
        ({"kind": "add_path_point", "layer": "gull", "span": 4}, 400),
        ({"kind": "spread_points", "layer": "gull", "first": 1, "last": 0, "count": 3}, 400),
        ({"kind": "close_path", "layer": "gull", "closed": True}, 400),
        ({"kind": "float_keys", "keys": [{"layer": "gull", "property": "position", "time": 0}]}, 400),
        ({"kind": "float_keys", "keys": [{"layer": "gull", "property": "rotation", "time": 0}]}, 400),
        ({"kind": "set_points", "layer": "gull"}, 400),
        ({"kind": "slide_key", "layer": "gull", "key": 5, "to": [0, 0], "time": 0}, 404),
        ({"kind": "time_segment", "layer": "gull", "property": "rotation", "time": 0, "told": "0"}, 400),
        ({"kind": "time_segment", "layer": "gull", "property": "rotation", "time": 0, "told": "9999999"}, 400),
        ({"kind": "time_segment", "layer": "gull", "property": "rotation", "time": 3, "told": "9"}, 404),
        ({"kind": "take_path", "layer": "ferry", "points": [[0, 0, 0, 0, 0, 0]], "time": 0, "end": 9}, 422),
        (
            {"kind": "lay_samples", "layer": "gull", "property": "fill", "times": [0], "values": [[1]], "tolerance": 1},
            400,
        ),
        (
            {
                "kind": "lay_samples",
                "layer": "gull",
                "property": "rotation",
                "times": [0, 0],
                "values": [[1], [2]],
                "tolerance": 1,
            },
            400,
        ),
        (
            {
                "kind": "lay_samples",
                "layer": "gull",
                "property": "rotation",
                "times": [0],
                "values": [[1]],
                "tolerance": 0,
            },
            422,
        ),
        ({"kind": "reduce_keys", "keys": [{"layer": "gull", "property": "rotation", "time": 0}], "tolerance": 1}, 400),
        ({"kind": "split_axes", "layer": "gull", "split": False}, 400),
        ({"kind": "even_pace", "layer": "ferry"}, 400),
        ({"kind": "change_scene", "width": 1}, 422),
        ({"kind": "change_scene", "rate": {"numerator": 7, "denominator": 11}}, 422),
        ({"kind": "ungroup", "layers": ["gull"], "time": 0}, 400),
        ({"kind": "move_pivot", "layers": ["gull"], "time": 0}, 400),
        ({"kind": "add_layer", "name": "T", "artwork": {"kind": "star", "spikes": 1}}, 422),
        ({"kind": "add_layer", "name": "T", "artwork": {"kind": "free", "contours": []}}, 422),
        ({"kind": "add_layer", "name": "T", "artwork": FAR_OUT}, 400),
        ({"kind": "add_layer", "name": "T", "artwork": FAR_WORDS}, 400),
        ({"kind": "replace_artwork", "layer": "ferry", "artwork": FAR_OUT}, 400),
        ({"kind": "take_apart", "layer": "ferry", "parts": [{"name": "T", "artwork": FAR_OUT}]}, 400),
    ],
)
def test_an_edit_that_cannot_be_is_refused(client, edit, fields, code):
    answer = edit(fields.pop("kind"), **fields)
    assert answer.status_code == code
    assert len(answer.json()["detail"]) > 10
    assert unchanged(client)


@pytest.mark.parametrize(
    "body",
    ["", "{", "null", "[]", '{"revision":1}', '{"revision":1,"edit":{"kind":"rename_project","name":NaN}}', DEEP],
)
def test_a_body_that_is_no_edit_is_refused(client, body):
    answer = client.post("/api/projects/p/edits", content=body, headers={"content-type": "application/json"})
    assert 400 <= answer.status_code < 500
    assert unchanged(client)


def test_a_stale_revision_says_what_changed(client, edit):
    edit("set_value", layer="gull", property="skew_x", value=4, time=0)
    answer = edit("set_value", revision=1, layer="gull", property="skew_x", value=5, time=0)
    assert answer.status_code == 409
    assert answer.json()["changes"] == ["Skew x of Gull"]
    assert answer.json()["revision"] == 2


@pytest.mark.parametrize("name", ["a.svg", "a.png"])
@pytest.mark.parametrize("data", [b"", b"nothing", b"<svg><script/></svg>", b"\x89PNG\r\n\x1a\n", b"\xff" * 500])
def test_files_that_are_no_pictures_are_refused(client, name, data):
    answer = client.post("/api/projects/p/scenes/crossing/files", files={"file": (name, data)}, data={"revision": "1"})
    assert answer.status_code in (400, 422)
    assert answer.json()["detail"]
    assert unchanged(client)


@pytest.mark.parametrize(
    "told",
    [
        {"preset": "imax"}, {"preset": "free"}, {"preset": "free", "width": 1, "height": 9}, {"preset": "free", "width": 99999, "height": 9},
        {"rate": "7"}, {"length": "soon"}, {"length": "0"}, {"length": "999999s"}, {"name": "x" * 300}, {"background": "red"},
    ],
)  # fmt: skip
def test_projects_that_cannot_be_are_not_made(client, told):
    answer = client.post("/api/projects", json=told)
    assert answer.status_code in (400, 422)
    assert len(client.get("/api/projects").json()) == 1


@pytest.mark.parametrize(
    "path", ["/api/projects/none", "/api/projects/p/scenes/none/frames", "/api/assets/" + "0" * 64, "/api/renders/none",
             "/projects/none", "/nothing", "/api/projects/p/scenes/crossing/layers/none/drawing", "/parts/none"]
)  # fmt: skip
def test_unknown_things_are_404_with_a_sentence(client, path):
    answer = client.get(path)
    assert answer.status_code == 404
    assert answer.json()["detail"]


def test_people_get_a_page_instead_of_json(client):
    answer = client.get("/projects/none", headers={"accept": "text/html"})
    assert answer.status_code == 404
    assert "Back to all projects" in answer.text


def test_pages_allow_no_inline_script_and_nothing_from_outside(client):
    policy = client.get("/").headers["content-security-policy"]
    told = dict(each.strip().partition(" ")[::2] for each in policy.split(";"))
    assert re.fullmatch(r"'nonce-[\w-]{24}' testserver/static/worklets/", told["script-src"])
    assert told["worker-src"] == "testserver/static/worklets/"
    wanted = ("default-src", "frame-src", "child-src", "script-src-attr", "base-uri", "frame-ancestors")
    assert {told[name] for name in wanted} == {"'none'"}
    assert told["form-action"] == told["style-src"] == "'self'"
    assert told["require-trusted-types-for"] == "'script'"
    assert told["trusted-types"] == "default"
    assert "unsafe" not in policy


def test_each_answer_names_its_own_scripts_and_no_others(client):
    first, second = client.get("/"), client.get("/")
    numbers = [re.search(r"'nonce-([\w-]+)'", each.headers["content-security-policy"])[1] for each in (first, second)]
    assert numbers[0] != numbers[1]
    for answer, number in zip((first, second), numbers, strict=True):
        assert set(re.findall(r'nonce="([^"]*)"', answer.text)) == {number}
        assert len(re.findall("<script", answer.text)) == answer.text.count("nonce=")


def test_only_the_workbench_frames_and_only_what_its_own_project_delivers(client):
    policy = client.get("/projects/p").headers["content-security-policy"]
    assert "frame-src testserver/projects/p/deliver/picture;" in policy
    for path in ("/projects/none;script-src *", "/projects/p/deliver", "/api/projects/p", "/projects/%0a"):
        told = client.get(path).headers["content-security-policy"]
        assert "frame-src 'none';" in told
        assert "script-src *" not in told


@pytest.mark.parametrize("where", ["path-file", "samples"])
@pytest.mark.parametrize("data", [b"", b"nothing", b"<svg><script/></svg>", b"\xff\xfe\x00" * 30, b"a,b\n1,2\n"])
def test_files_that_are_no_paths_or_samples_are_refused(client, where, data):
    fields = {"time": "0", "end": "29400000", "property": "rotation"}
    answer = client.post(
        f"/api/projects/p/scenes/crossing/layers/gull/{where}", files={"file": ("a", data)}, data=fields
    )
    assert answer.status_code in (400, 422)
    assert len(answer.json()["detail"]) > 10
    assert unchanged(client)
