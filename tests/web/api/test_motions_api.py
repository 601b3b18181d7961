"""Saved motions over HTTP: proposed, kept for all projects, exported, taken in again, and pictured on real layers."""

import numpy as np
import pytest

from deftarc.core.words.shipped_motions import shipped
from deftarc.formats.motions import read_motions, write_motions
from deftarc.formats.wire import read_table, unpack
from deftarc.web.server import create_app
from tests.scenes import at

P = "/api/projects/p"
HERE = f"{P}/scenes/crossing"
KEYS = [{"layer": "gull", "property": "position", "time": time} for time in (at(0), at(50))]


def proposed(client, **asked):
    return client.post(f"{HERE}/motion", json={"name": "Cross", "keys": KEYS, **asked})


def test_a_selection_is_proposed_with_its_size_and_the_numbers_it_could_ask_for(client, edit):
    told = proposed(client).json()
    assert [(dial["label"], unit) for dial, unit in zip(told["dials"], told["units"], strict=True)] == [
        ("How far", "px"), ("How long", "s"), ("How many", ""), ("Turned by", "°")]  # fmt: skip
    assert len(told["motion"]["sizes"]) == 1
    assert told["motion"]["sizes"][0] > 1
    # Nothing is changed by it, and what follows others is told to be left out.
    before = client.get(P).json()["revision"]
    edit("link_lanes", lanes=[{"layer": "ferry", "property": "rotation"}], to={"layer": "gull", "what": "rotation"})
    told = proposed(client, keys=[], layers=["gull", "ferry"]).json()
    assert told["left_out"] == ["Rotation of Ferry follows another motion: make keys of it first."]
    assert {lane["property"] for lane in told["motion"]["clip"]["lanes"]} >= {"position", "rotation"}
    assert client.get(P).json()["revision"] == before + 1


def test_nothing_selected_or_keys_that_are_gone_are_a_sentence(client):
    assert "Select keys, or layers that move" in proposed(client, keys=[]).json()["detail"]
    gone = [{"layer": "gull", "property": "position", "time": at(7)}]
    assert "Select keys" in proposed(client, keys=gone).json()["detail"]
    assert proposed(client, keys=[], layers=["none"]).status_code == 404


def test_kept_for_all_projects_over_a_restart_renamed_and_forgotten(client, tmp_path):
    motion = proposed(client).json()["motion"]
    assert client.post("/api/motions", json={"motion": motion}).status_code == 200
    assert [each.name for each in create_app(tmp_path).state.workshop.motions.all()] == ["Cross"]
    renamed = {"motion": {**motion, "name": "Over"}, "was": "Cross"}
    assert client.post("/api/motions", json=renamed).status_code == 200
    # Another one of its name is lost only where that is meant.
    fresh = client.post("/api/motions", json={"motion": {**motion, "name": "Over"}, "fresh": True})
    assert fresh.json()["detail"] == "There is a “Over” already for all projects. Change the name of one first."
    told = client.get("/api/motions").json()
    assert [each["name"] for each in told["everywhere"]] == ["Over"]
    assert len(told["shipped"]) == len(shipped())
    assert client.post("/api/motions", json=renamed).status_code == 404
    assert client.delete("/api/motions/Over").json()["everywhere"] == []
    assert client.delete("/api/motions/Over").status_code == 404


def test_a_file_goes_out_and_comes_in_and_what_is_here_already_stays(client):
    motion = proposed(client).json()["motion"]
    assert "no motions of your own" in client.get("/api/motions/file").json()["detail"]
    client.post("/api/motions", json={"motion": motion})
    kept = {"kind": "keep_motion", "motion": {**motion, "name": "Here"}}
    client.post(f"{P}/edits", json={"revision": client.get(P).json()["revision"], "edit": kept})
    assert [each["name"] for each in client.get(f"{P}/motions").json()] == ["Here"]
    every = client.get("/api/motions/file", params={"project": "p"})
    assert "Saved motions.deftarc-motions" in every.headers["content-disposition"]
    assert [each.name for each in read_motions(every.content)] == ["Cross", "Here"]
    one = client.get("/api/motions/file", params={"where": "shipped", "name": "Bell swings out"})
    assert [each.name for each in read_motions(one.content)] == ["Bell swings out"]
    assert client.get("/api/motions/file", params={"where": "shipped", "name": "None"}).status_code == 404
    # Taken in: one that is the same is known, another one of its name gets a number.
    cross = read_motions(every.content)[0]
    file = write_motions([cross, shipped()[2]])
    told = client.post("/api/motions/file", files={"file": ("a.deftarc-motions", file)}).json()
    assert told == {"names": ["Bell swings out"], "known": 1}
    other = write_motions([cross.changed(about="Another")])
    told = client.post("/api/motions/file", files={"file": ("a.deftarc-motions", other)}).json()
    assert told == {"names": ["Cross 2"], "known": 0}
    cut = client.post("/api/motions/file", files={"file": ("a.deftarc-motions", file[: len(file) // 2])})
    assert cut.status_code == 400
    assert "cut short" in cut.json()["detail"]
    assert len(client.get("/api/motions").json()["everywhere"]) == 3


def test_a_file_is_taken_into_a_project_as_one_step(client):
    motion = proposed(client).json()["motion"]
    client.post("/api/motions", json={"motion": motion})
    file = write_motions([*read_motions(client.get("/api/motions/file").content), shipped()[2]])
    sent = {"revision": client.get(P).json()["revision"], "edit_id": "import-of-two"}
    for _ in range(2):
        # Sent again it is made once.
        told = client.post(f"{P}/motions/file", files={"file": ("a.deftarc-motions", file)}, data=sent)
        assert told.status_code == 200, told.text
        assert (told.json()["names"], told.json()["known"]) == (["Cross", "Bell swings out"], 0)
    assert [each["name"] for each in client.get(f"{P}/motions").json()] == ["Cross", "Bell swings out"]
    assert client.get(P).json()["undo"] == "Import 2 motions"
    again = {"revision": client.get(P).json()["revision"]}
    told = client.post(f"{P}/motions/file", files={"file": ("a.deftarc-motions", file)}, data=again).json()
    assert (told["names"], told["known"]) == ([], 2)
    assert client.get(P).json()["revision"] == again["revision"]
    cut = client.post(f"{P}/motions/file", files={"file": ("a.deftarc-motions", file[:99])}, data=again)
    assert cut.status_code == 400


def pictured(client, names, layers=("gull",), where="shipped", time=0):
    motions = [{"where": where, "name": name} for name in names]
    asked = {"scene": "crossing", "layers": layers, "time": time, "motions": motions}
    return client.post(f"{P}/motion-pictures", json=asked)


def test_each_is_pictured_on_the_real_layer_as_its_edit_would_move_it(client, edit):
    head, rest = unpack(pictured(client, ["Bell swings out"]).content)
    told = head["candidates"][0]
    assert told["missed"] == ""
    rows = read_table(told["table"], rest)["gull"]
    first = told["table"]["first"]
    assert len(rows) == told["count"] == told["table"]["count"]
    made = edit(told["edit"].pop("kind"), **{name: each for name, each in told["edit"].items() if name != "scene"})
    assert made.status_code == 200, made.json()
    document = client.get(P).json()
    assert document["revision"] > 1
    angles = np.rad2deg(np.arctan2(rows[:, 1], rows[:, 0]))
    # Its furthest swing, 22 degrees at its fourth frame of 24 a second, from where the gull is turned then.
    assert angles[: -first + 1].max() < angles.max()
    assert np.ptp(angles) > 30


def test_what_cannot_be_laid_says_why_and_no_layer_is_a_pennant(client):
    head, _ = unpack(pictured(client, ["Tug and tow", "Beacon blinks"]).content)
    assert "moves 2 layers" in head["candidates"][0]["refused"]
    assert "edit" in head["candidates"][1]
    head, rest = unpack(pictured(client, ["Tug and tow"], layers=[]).content)
    told = head["candidates"][0]
    assert "edit" not in told
    assert set(read_table(told["table"], rest)) == {"pennant0", "pennant1"}
    assert head["pennant"]["nodes"]
    head, _ = unpack(pictured(client, ["Bob on the swell"], layers=[]).content)
    assert head["candidates"][0]["loops"]


def test_a_motion_past_the_scenes_end_is_seen_all_the_same(client, edit):
    dot = {"kind": "ellipse", "width": 9, "height": 9}
    assert edit("add_layer", id="dot", name="Dot", artwork=dot).status_code == 200
    head, _ = unpack(pictured(client, ["Bell swings out"], layers=["dot"], time=at(124)).content)
    told = head["candidates"][0]
    items = {item["layer"]: item for item in told["table"]["items"]}
    assert items["dot"]["shows"] == [0, told["table"]["count"]]


@pytest.mark.parametrize(
    ("change", "why"),
    [({"name": ""}, "at least 1"), ({"clip": {"lanes": []}}, "at least 1"), ({"rest": "middle"}, "first"),
     ({"dials": [{"id": "a", "kind": "far", "label": "F", "value": 1, "low": 2, "high": 3}]}, "is at first between")],
)  # fmt: skip
def test_what_is_no_motion_is_not_kept(client, change, why):
    motion = {**proposed(client).json()["motion"], **change}
    answer = client.post("/api/motions", json={"motion": motion})
    assert answer.status_code == 422
    assert why in answer.json()["detail"]
    assert client.get("/api/motions").json()["everywhere"] == []


def test_the_numbers_of_one_that_is_saved_and_those_it_could_ask_for(client):
    told = proposed(client).json()
    motion = {**told["motion"], "dials": told["dials"][:1]}
    answer = client.post("/api/motions/numbers", json={"motion": motion}).json()
    assert [(each["dial"]["label"], each["on"]) for each in answer] == [
        ("How far", True), ("How long", False), ("How many", False), ("Turned by", False)]  # fmt: skip
    assert len({each["dial"]["id"] for each in answer}) == 4
