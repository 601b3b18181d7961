"""Eases over HTTP: kept for all projects over a restart, told as CSS, and tried out without changing anything."""

import json

import pytest

from deftarc.formats.wire import read_table, unpack
from deftarc.web.server import create_app
from tests.client import document_of
from tests.scenes import at

P = "/api/projects/p"
POSITION = [{"layer": "gull", "property": "position", "time": time} for time in (at(0), at(50))]


def test_an_ease_is_kept_for_all_projects_over_a_restart_and_forgotten(client, tmp_path):
    told = {"name": "Lean", "project": "p", "scene": "crossing", "keys": POSITION}
    assert client.post("/api/eases", json=told).status_code == 200
    assert client.post("/api/eases", json={"name": "Quick", "text": "cubic-bezier(0.2, 0, 0, 1)"}).status_code == 200
    again = create_app(tmp_path).state.workshop.eases.all()
    assert [ease.name for ease in again] == ["Lean", "Quick"]
    assert again[0].knots[0].leaving.reach == pytest.approx(0.42)
    replaced = client.post("/api/eases", json={"name": "Lean", "text": "steps(3)"})
    assert replaced.json()["knots"][0]["steps"]["count"] == 3
    assert [ease["name"] for ease in client.delete("/api/eases/Lean").json()] == ["Quick"]
    assert client.delete("/api/eases/Lean").status_code == 404


@pytest.mark.parametrize(
    ("body", "why"),
    [
        ({"name": "A", "text": "nonsense"}, "no CSS easing"),
        ({"name": "A"}, "There is no project"),
        ({"name": "A", "project": "p", "scene": "crossing"}, "Select the two keys"),
        ({"name": "", "text": "ease"}, "at least 1"),
        ({"name": "A", "project": "p", "scene": "crossing", "keys": [{"layer": "gull", "property": "opacity", "time": 7}]}, "There is no key"),
    ],
)  # fmt: skip
def test_what_is_no_ease_is_not_kept(client, body, why):
    answer = client.post("/api/eases", json=body)
    assert 400 <= answer.status_code < 500
    assert why in answer.json()["detail"]
    assert client.get("/api/eases").json() == []


def test_the_shape_of_a_selection_is_told_as_css(client, edit):
    told = client.post(f"{P}/ease-text", json={"scene": "crossing", "keys": POSITION})
    assert told.json() == {"text": "cubic-bezier(0.42, 0, 0.58, 1)"}
    edit("ease_keys", keys=POSITION, ease="steps", steps={"count": 5, "jump": "both"})
    told = client.post(f"{P}/ease-text", json={"scene": "crossing", "keys": POSITION})
    assert told.json() == {"text": "steps(5, jump-both)"}


def try_outs(client, candidates, keys=POSITION):
    return client.post(f"{P}/try-outs", json={"scene": "crossing", "keys": keys, "candidates": candidates})


def eased(name):
    return {"kind": "ease_keys", "scene": "crossing", "keys": POSITION, "ease": name}


def test_candidates_are_worked_out_over_the_time_of_the_keys_and_nothing_is_changed(client):
    before = client.get(P).json()
    answer = try_outs(client, [{"label": "As it is"}, {"label": "Straight", "edit": eased("straight")}])
    head, rest = unpack(answer.content)
    # 50 frames, and 0.3 s of rest, which is eight frames, on both sides.
    assert (head["first"], head["count"], head["rate"]) == (-8, 67, 25)
    now, straight = head["candidates"]
    rows = read_table(now["table"], rest)["gull"]
    size = sum(entry["rows"] * 28 for entry in now["table"]["items"])
    look = sum(4 * b["rows"] * b["wide"] for e in now["table"]["items"] for b in e.get("look", []))
    other = read_table(straight["table"], rest[size + look :])["gull"]
    # A quarter on, slow ends lag behind: 12.9 % of the way against a quarter of it.
    assert rows[8 + 12, 4] < other[8 + 12, 4]
    assert other[8 + 25, 4] == pytest.approx(150, abs=1e-3)
    assert len(straight["curve"]["ys"]) == 67
    assert straight["bounds"][0] < 0 < straight["bounds"][2]
    assert client.get(P).json() == before


def test_a_candidate_that_cannot_be_made_says_why_among_the_others(client):
    bad = {"kind": "lay_ease", "scene": "crossing", "keys": POSITION, "text": "springy"}
    head, _ = unpack(try_outs(client, [{"label": "Mine", "edit": bad}, {"label": "As it is"}]).content)
    assert "no CSS easing" in head["candidates"][0]["refused"]
    assert "table" in head["candidates"][1]


@pytest.mark.parametrize(
    ("candidates", "keys", "why"),
    [
        ([], POSITION, "at least 1"),
        ([{"label": "x"}] * 30, POSITION, "at most 24"),
        ([{"label": "x"}], [], "Select the keys"),
        ([{"label": "x"}], [{"layer": "gull", "property": "position", "time": 5}], "is gone"),
        ([{"label": "x"}], [{"layer": "nobody", "property": "position", "time": 5}], "no layer"),
    ],
)
def test_try_outs_that_make_no_sense_are_refused(client, candidates, keys, why):
    answer = try_outs(client, candidates, keys)
    assert 400 <= answer.status_code < 500
    assert why in answer.json()["detail"]


def test_an_own_ease_goes_with_its_project_into_a_file_and_back(client, edit):
    edit("keep_ease", name="Lean", keys=POSITION)
    document = document_of(client)
    assert document["eases"][0]["name"] == "Lean"
    file = client.get(f"{P}/file").content
    made = client.post("/api/projects/import", files={"file": ("a.deftarc", file)})
    again = document_of(client, made.json()["id"])
    assert json.dumps(again["eases"]) == json.dumps(document["eases"])


def test_what_a_settle_was_made_from_is_kept_and_typed_anew(client, edit):
    edit("make_craft", keys=POSITION, craft={"kind": "settle", "often": 2})
    keys = [{"layer": "gull", "property": "position", "time": at(0)}]
    assert edit("type_craft", keys=keys, field="far", told="+=15").status_code == 200
    track = next(x for x in document_of(client)["scenes"][0]["layers"] if x["id"] == "gull")["tracks"]
    assert track["position"]["crafts"][0]["far"] == pytest.approx(0.35)
    assert track["position"]["keys"][1]["past"] == pytest.approx(0.35 * 500)
    wrong = edit("type_craft", keys=keys, field="gravity", told="9")
    assert wrong.status_code == 400
    assert "has no gravity" in wrong.json()["detail"]
    edit("move_keys", keys=[{"layer": "gull", "property": "position", "time": at(50)}], by=at(3))
    gone = edit("type_craft", keys=keys, field="far", told="10")
    assert "changed by hand" in gone.json()["detail"]


@pytest.mark.parametrize(
    ("kind", "fields", "why"),
    [
        ("shape_side", {"layer": "gull", "property": "rotation", "time": at(40), "side": "leaving", "rise": 3}, "leaves the last"),
        ("shape_side", {"layer": "gull", "property": "opacity", "time": 0, "side": "leaving", "rise": 3}, "in steps"),
        ("shape_side", {"layer": "gull", "property": "rotation", "time": 9, "side": "leaving"}, "no key at this time"),
        ("type_side", {"keys": POSITION[:1], "side": "leaving", "speed": "quick"}, "is no number"),
        ("type_side", {"keys": POSITION[:1], "side": "leaving"}, "Type a speed or a reach"),
        ("set_curve", {"lanes": [{"layer": "gull", "property": "rotation"}]}, "Say what the curve"),
        ("set_curve", {"lanes": [{"layer": "gull", "property": "rotation"}], "evenly": True}, "has no growth"),
        ("release_keys", {"keys": [{"layer": "gull", "property": "rotation", "time": 0}]}, "Only a key of a position"),
        ("choose_joint", {"keys": POSITION, "joint": "automatic", "automatic": {"tension": 3}}, "less than or equal to 1"),
        ("ease_keys", {"keys": POSITION, "ease": "steps", "steps": {"count": 1, "jump": "none"}}, "two at least"),
        ("make_craft", {"craft": {"kind": "settle"}}, "Say where it begins"),
        ("make_craft", {"craft": {"kind": "bounce", "keeps": 2}, "keys": POSITION}, "less than 1"),
        ("make_craft", {"craft": {"kind": "settle"}, "layer": "gull", "property": "fill", "time": 0}, "cannot swing"),
        ("forget_ease", {"name": "None"}, "no ease"),
    ],
)  # fmt: skip
def test_edits_of_shape_that_cannot_be_say_why_and_change_nothing(client, edit, kind, fields, why):
    body = {"kind": kind, **({} if kind == "forget_ease" else {"scene": "crossing"}), **fields}
    revision = client.get(P).json()["revision"]
    answer = client.post(f"{P}/edits", json={"revision": revision, "edit": body})
    assert 400 <= answer.status_code < 500
    assert why in answer.json()["detail"]
    assert client.get(P).json()["revision"] == revision
