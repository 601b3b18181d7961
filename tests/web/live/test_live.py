"""The live loop: looks in, only what changed out; tentative edits leave no trace."""

import numpy as np
import pytest

from deftarc.formats.wire import unpack
from deftarc.web.live.page import Looking
from deftarc.web.look import Look
from tests.scenes import at


def turn(value, **more):
    return {
        "kind": "set_value",
        "scene": "crossing",
        "layer": "ferry",
        "property": "rotation",
        "value": value,
        "time": 0,
        **more,
    }


def test_the_first_look_brings_everything(page):
    head, rest = page()
    assert head["layers"]["order"] == ["gull", "ferry"]
    assert {item["layer"] for item in head["table"]["items"]} == {"gull", "ferry"}
    assert set(head["fragments"]) == {"ruler", "pair", "figures", "figures-key", "figures-segment", "seam-sign"}
    assert set(head["lanes"]["html"]) >= {"layer-gull", "lane-gull-position", "layer-ferry"}
    assert sum(item["rows"] for item in head["table"]["items"]) * 28 == len(rest)


def test_the_second_look_brings_only_what_changed(page):
    page()
    head, rest = page(n=2)
    assert (head["n"], head["table"]["items"], head["fragments"], rest) == (2, [], {}, b"")
    assert "lanes" not in head


def test_a_tentative_edit_shows_and_is_gone_with_the_next_look(page, client):
    page(layers=["ferry"])
    head, rest = page(layers=["ferry"], edit=turn(90))
    [item] = head["table"]["items"]
    rows = np.frombuffer(rest[: item["rows"] * 28], "<f4").reshape(-1, 7)
    assert rows[0, :2] == pytest.approx([0, 1], abs=1e-6)
    # The panel stays while it is dragged; its numbers go by frame, and the page fills them in.
    assert "figures" not in head["fragments"]
    assert {"name": "rotation", "rows": 1, "wide": 1} in head["columns"]
    assert client.get("/api/projects/p").json()["revision"] == 1
    head, rest = page(layers=["ferry"])
    assert np.frombuffer(rest[:28], "<f4")[:2] == pytest.approx([1, 0])


def test_under_a_hand_on_the_picture_the_picture_goes_ahead(page, monkeypatch):
    monkeypatch.setattr(Looking, "patience", -1.0)
    seen = {"layers": ["gull"], "focus": {"layer": "gull", "property": "position"}}
    page(**seen)
    move = {"kind": "move_layers", "scene": "crossing", "layers": ["gull"], "dx": 40, "dy": 9, "time": 0}
    whole, numbers = page(**seen, edit=move)
    page(**seen)
    first, picture = page(**seen, edit=move, ahead=True, n=7)
    rest, others = unpack(page.socket.receive_bytes())
    assert (first["n"], first["ahead"], rest["n"], rest["rest"]) == (7, True, 7, True)
    assert (first["table"], first["paths"]) == (whole["table"], whole["paths"])
    assert {each["name"] for each in first["columns"]} >= {"position", "spot"}
    assert [*first["columns"], *rest["columns"]] == whole["columns"]
    assert picture + others == numbers
    assert first["fragments"] == {}
    assert rest["fragments"].keys() == whole["fragments"].keys() >= {"pair-curves"}
    assert {"table", "paths", "layers"}.isdisjoint(rest)
    assert {"pair", "axis", "stops", "good"}.isdisjoint(first)


def test_what_is_refused_while_the_picture_goes_ahead_is_said_once(page, monkeypatch):
    monkeypatch.setattr(Looking, "patience", -1.0)
    page(layers=["gull"])
    gone = {"kind": "move_layers", "scene": "crossing", "layers": ["nobody"], "dx": 4, "dy": 9, "time": 0}
    head, _ = page(layers=["gull"], edit=gone, ahead=True, n=5)
    assert head["refused"]
    assert "ahead" not in head
    head, _ = page(layers=["gull"], n=6)
    assert (head["n"], "refused" in head) == (6, False)


def test_a_drag_keeps_the_scale_of_the_graphs(page):
    focus = {"focus": {"layer": "gull", "property": "rotation"}, "layers": ["gull"]}
    before, _ = page(**focus)
    edit = {
        "kind": "set_value",
        "scene": "crossing",
        "layer": "gull",
        "property": "rotation",
        "value": 900,
        "time": at(40),
    }
    during, _ = page(**focus, edit=edit)
    assert during["pair"]["value"] == before["pair"]["value"]
    # Its frame stays; only what is in it is drawn anew.
    assert "pair" not in during["fragments"]
    assert during["fragments"]["pair-curves"] != before["fragments"]["pair-curves"]


def test_numbers_by_frame_come_for_what_is_selected(page):
    head, rest = page(layers=["gull"])
    columns = {c["name"]: c for c in head["columns"]}
    assert columns["position"]["rows"] == 100
    assert columns["pair"] == {"name": "pair", "rows": 100, "wide": 2}
    numbers = np.frombuffer(rest[-100 * 8 :], "<f4").reshape(100, 2)
    assert numbers[25, 0] == pytest.approx(250, abs=1e-3)
    spot = head["paths"][0]["keys"][1]
    assert (spot["time"], spot["x"], spot["y"]) == (at(50), 300, 400)


def test_a_light_look_brings_the_figures_of_the_frame_alone(page):
    page(layers=["gull"], frame=20)
    head, _ = page(layers=["gull"], frame=25, light=True)
    assert (head["fragments"], "table" in head) == ({}, False)
    # At a key the panel says so.
    head, _ = page(layers=["gull"], frame=50, light=True)
    assert set(head["fragments"]) == {"figures", "figures-key", "figures-segment"}
    assert 'value="300"' in head["fragments"]["figures"]
    assert 'data-state="here"' in head["fragments"]["figures"]


def test_what_was_changed_but_not_keyed_shows_at_its_frame_only(page, edit):
    edit("set_value", layer="gull", property="rotation", value=7, time=at(20))
    head, _ = page(layers=["gull"], frame=20)
    assert head["still"]["items"][0]["layer"] == "gull"
    assert "changed but not keyed" in head["fragments"]["figures"]
    head, _ = page(layers=["gull"], frame=21, light=True)
    assert "still" not in head


def test_another_windows_edit_is_told(page, edit):
    page()
    edit("describe_layers", layers=["gull"], name="Tern")
    assert unpack(page.socket.receive_bytes())[0] == {"changed": 2}
    head, _ = page()
    assert head["layers"]["changed"][0]["name"] == "Tern"
    assert head["history"] == {"undo": "Rename Gull to Tern", "redo": None, "steps": 1}


@pytest.mark.parametrize(
    "message",
    [
        "",
        "{",
        "[]",
        '{"scene": 5}',
        '{"scene": "crossing", "n": 3, "edit": {"kind": "x"}}',
        "[" * 5000,
    ],
)
def test_what_is_no_look_is_answered_with_a_sentence(page, message):
    page.socket.send_text(message)
    head, _ = unpack(page.socket.receive_bytes())
    assert head["refused"]
    assert page()[0]["revision"] == 1


def test_a_page_whose_scene_is_gone_is_given_one_that_there_is(page):
    head, _ = page(scene="none", layers=["gull"])
    assert head["gone"] == "The scene this page showed is gone. This is Crossing."
    assert head["scene"]["id"] == "crossing"


def test_a_refused_tentative_edit_leaves_the_page_as_it_was(page):
    page()
    head, rest = page(edit=turn(5, property="wing"))
    assert "wing" in head["refused"]
    assert rest == b""


def test_a_project_that_is_not_there_says_so(client):
    with client.websocket_connect("/live/none") as socket:
        assert unpack(socket.receive_bytes())[0]["gone"]


def test_a_drag_snaps_and_tells_the_edit_that_is_kept(page):
    page(layers=["ferry"])
    move = {"kind": "move_layers", "scene": "crossing", "layers": ["ferry"], "time": 0, "dx": 317, "dy": 0}
    snap = {"tolerance": 8, "frame": True}
    head, _ = page(layers=["ferry"], edit=move, snap=snap)
    assert head["snapped"]["edit"]["dx"] == 320
    assert head["snapped"]["told"]["lines"][0]["what"] == "middle of the frame"
    free, _ = page(layers=["ferry"], edit=move, snap={"tolerance": 0, "frame": True})
    assert free["snapped"]["edit"]["dx"] == 317


def test_a_key_snaps_to_another_and_else_to_whole_frames(page):
    key = {"layer": "gull", "property": "rotation", "time": at(40)}
    move = {"kind": "move_keys", "scene": "crossing", "keys": [key], "by": at(9) + 12345}
    head, _ = page(layers=["gull"], edit=move, snap={"tolerance": at(2), "grabbed": at(40)})
    assert head["snapped"]["edit"]["by"] == at(10)
    assert "a key of Gull" in head["snapped"]["told"]["what"]
    assert head["selects"] == [{**key, "time": at(50)}]
    head, _ = page(layers=["gull"], edit=move, snap={"tolerance": 0, "grabbed": at(40)})
    assert head["snapped"]["edit"]["by"] == at(9)


def test_only_rows_in_view_are_sent_and_a_revealed_one_scrolls_there(page, edit):
    for n in range(80):
        edit("duplicate_layers", layers=["ferry"], ids=[f"copy{n}"])
    head, _ = page(window={"top": 0, "height": 200})
    assert len(head["lanes"]["rows"]) < 25
    assert head["lanes"]["height"] > 80 * 27
    head, _ = page(window={"top": 0, "height": 200}, reveal="ferry")
    assert head["lanes"]["scroll"] > 1500
    assert "layer-ferry" in head["lanes"]["html"]
    head, _ = page(filters={"text": "gull rot"})
    assert [row[0] for row in head["lanes"]["rows"]] == ["layer-gull", "lane-gull-rotation"]


def test_a_keyed_outline_comes_in_blocks_that_the_head_tells(page, edit):
    edit("set_value", layer="ferry", property="width", value=100, time=0, keying=True)
    edit("set_value", layer="ferry", property="width", value=300, time=at(50), keying=True)
    head, _ = page(fresh=True)
    [item] = [each for each in head["table"]["items"] if each["layer"] == "ferry"]
    assert item["outline"]["verbs"] == "MLLLZ"
    assert item["outline"]["wide"] == 8
    assert [block["name"] for block in item["look"]] == ["bounds"]


def test_only_what_was_quick_before_is_answered_where_it_arrives(client):
    looking = Looking(client.app.state.workshop, "p")
    asked = {"scene": "crossing", "layers": ("ferry",)}

    def look(**more):
        return Look.model_validate({**asked, **more})

    turned = {"kind": "turn_layers", "scene": "crossing", "layers": ["ferry"], "degrees": 5, "time": 0}
    move, other = look(edit=turn(20)), look(edit=turned)
    assert not looking.at_once(move)
    looking.answer(look())
    # What shows the page anew may take any time, and so may what was never done.
    assert not looking.at_once(look())
    assert not looking.at_once(move)
    looking.answer(move)
    assert looking.at_once(move)
    assert not looking.at_once(other)
    looking.took = 1.0
    assert not looking.at_once(move)
    looking.answer(move)
    looking.answer(look(edit=turn(20, layer="nobody")))
    assert not looking.at_once(move)
    looking.answer(look(light=True))
    assert looking.at_once(look(light=True))
    assert not looking.at_once(look(light=True, fresh=True))
