"""A hand in the lanes that moves many keys: told once, shown what lies under it, and all that follows when it rests."""

import threading
import time

import pytest

from deftarc.core.document import Project
from deftarc.core.edit import EDIT
from deftarc.formats.wire import unpack
from deftarc.web.live import brief as brief_room
from deftarc.web.live.page import Looking
from deftarc.web.live.same_keys import SameKeys
from deftarc.web.look import Look
from tests.large import large_scene


def keys_of(scene, layers):
    return [
        {"layer": layer.id, "property": name, "time": time}
        for layer in scene.layers[:layers]
        for name in layer.keyed
        for time in layer.track(name).key_times
    ]


class Hand:
    """Somebody who stretches all keys of some layers of twenty; the first and the last of them are unfolded."""

    def __init__(self, shop, layers=20):
        self.scene = large_scene(20)
        shop.projects.create(Project(name="Many", scenes=(self.scene,)), "many")
        self.looking, self.keys, self.number = Looking(shop, "many"), keys_of(self.scene, layers), 0
        self.asked = {
            "scene": "large", "keys": self.keys, "layers": [], "window": {"top": 0, "height": 200},
            "axis": {"start": 0, "end": self.scene.length, "width": 500},
            "folded": [layer.id for layer in self.scene.layers[1:-1]],
        }  # fmt: skip

    def look(self, longer=None, brief=True, **more):
        self.number += 1
        edit = longer and {"kind": "stretch_keys", "scene": "large", "keys": self.keys, "about": 0, "longer": longer}
        asked = {**self.asked, "n": self.number, "edit": edit, "brief": brief and edit is not None, **more}
        answer, rest = self.looking.begin(Look.model_validate({"snap": {"tolerance": 0}, **asked}))
        assert rest is None
        return unpack(answer)[0]


@pytest.fixture
def hand(app):
    made = Hand(app.state.workshop)
    made.look(fresh=True)
    return made


def test_under_it_are_the_rows_in_view_and_when_all_keys_come_to_stand(hand, monkeypatch):
    applied = []
    whole = brief_room.apply
    monkeypatch.setattr(brief_room, "apply", lambda project, edit: applied.append(edit) or whole(project, edit))
    head = hand.look(0.5)
    assert head["brief"] is True
    assert {"table", "pair", "layers", "history"}.isdisjoint(head)
    assert head["fragments"] == {}
    told = head["lanes"]["html"]
    assert {"layer-l1", "lane-l0-rotation"} <= set(told)
    assert "lane-l19-opacity" not in told, "which is beyond the view"
    # Only what is seen was worked out; when all of them stand is told all the same.
    assert {(ref.layer, ref.property) for ref in applied[0].keys} == {("l0", x) for x in hand.scene.layers[0].keyed}
    assert len(head["moved"]) == len(hand.keys) == 500
    times = dict(zip([key["time"] for key in hand.keys], head["moved"], strict=True))
    last = max(times)
    assert times[0] == 0
    assert times[last] == pytest.approx(last / 2, abs=hand.scene.rate.flicks)
    assert head["snapped"]["told"]["longer"] == pytest.approx(0.5, abs=0.01)
    assert "keys" not in head["snapped"]["edit"], "which the page knows"


def test_folded_rows_show_where_their_keys_go(hand):
    before = hand.look(0.5)["lanes"]["html"]["layer-l1"]
    after = hand.look(0.75)["lanes"]["html"]["layer-l1"]
    assert 'class="summary-dots selected"' in before
    assert before != after
    assert "lanes" not in hand.look(0.75), "as nothing in them moved"


def test_when_it_rests_it_is_shown_all(hand):
    hand.look(0.5)
    head = hand.look(0.5, brief=False)
    assert "brief" not in head
    assert {item["layer"] for item in head["table"]["items"]} == {layer.id for layer in hand.scene.layers}
    assert 'data-summary="' in head["lanes"]["html"]["layer-l1"]
    assert "<title>" in head["lanes"]["html"]["lane-l0-rotation"]
    assert len(head["moved"]) == 500


def test_few_keys_of_a_quick_scene_have_all_at_each_move(app):
    hand = Hand(app.state.workshop, layers=2)
    hand.look(fresh=True)
    head = hand.look(0.5)
    assert "brief" not in head
    assert head["table"]["items"]


def test_few_lanes_come_with_the_picture_where_all_that_follows_takes_long(app, monkeypatch):
    monkeypatch.setattr(brief_room, "PATIENT", -1.0)
    hand = Hand(app.state.workshop, layers=2)
    hand.look(fresh=True)
    assert "brief" not in hand.look(0.5), "as nobody knows yet how long it takes"
    head = hand.look(0.6)
    assert head["brief"] is True
    assert {item["layer"] for item in head["table"]["items"]} == {"l0", "l1"}
    assert {"pair", "history"}.isdisjoint(head)


def test_keys_that_push_all_others_are_worked_out_as_a_whole(hand):
    third = hand.keys[2]["time"]
    some = [key for key in hand.keys if key["time"] <= third]
    edit = {"kind": "move_keys", "scene": "large", "keys": some, "by": hand.scene.rate.flicks, "push": "scene"}
    head = hand.look(1.0, edit=edit)
    assert head["brief"] is True
    assert {item["layer"] for item in head["table"]["items"]} == {layer.id for layer in hand.scene.layers}


def test_what_cannot_be_is_said_in_a_sentence(hand):
    head = hand.look(1.0, edit={"kind": "stretch_keys", "scene": "large", "keys": [*hand.keys, {**hand.keys[0], "time": 7}],
                                "about": 0, "longer": 2})  # fmt: skip
    assert "There is no key" in head["refused"]
    assert hand.look(0.5)["brief"] is True


@pytest.mark.parametrize("chances", [0, 1])
def test_a_look_the_hand_has_left_is_not_made_to_its_end(hand, chances):
    hand.look(0.5)
    went = []
    hand.looking._cut = lambda look: len(went) >= chances or went.append(look)
    assert hand.look(0.5, brief=False) == {"n": hand.number, "stopped": True}
    del hand.looking._cut
    assert hand.look(0.5, brief=False)["table"]["items"], "of which the page had been told nothing"


def test_or_without_the_pair_which_comes_with_the_next(hand):
    hand.asked["focus"] = {"layer": "l0", "property": "rotation"}
    hand.asked["layers"] = ["l0"]
    hand.look()
    went = []
    hand.looking._cut = lambda look: len(went) >= 2 or went.append(look)
    head = hand.look(0.5, brief=False)
    del hand.looking._cut
    assert head["cut"] is True
    assert {"pair", "good"}.isdisjoint(head)
    assert head["table"]["items"]
    assert "pair-curves" in hand.look(0.5, brief=False)["fragments"]


def test_what_nobody_waits_for_is_known_by_its_number(hand):
    hand.looking.stopped = 10
    assert "stopped" in hand.look(0.5, brief=False, n=10)
    assert "stopped" not in hand.look(0.5, brief=False, n=11)
    assert "stopped" not in hand.look(n=10), "which shows what is, and not what is tried"


def test_keys_are_told_once_on_the_wire(client):
    def answer(**asked):
        socket.send_json({"scene": "crossing", **asked})
        return unpack(socket.receive_bytes())[0]

    keys = [{"layer": "gull", "property": "rotation", "time": 0}]
    move = {"kind": "move_keys", "scene": "crossing", "keys": keys, "by": 28_224_000 * 5}
    with client.websocket_connect("/live/p") as socket:
        told = answer(n=1, keys=keys, edit=move)
        again = answer(n=2, keys=None, edit={**move, "keys": None})
        assert again["moved"] == told["moved"] == [28_224_000 * 5]
        # What was refused is told anew; told as the same it would be what came before.
        assert "refused" in answer(n=3, keys=[{"layer": 5}], edit=None)
        assert "refused" in answer(n=4, keys=None, edit={**move, "keys": None, "by": "far"})
        assert answer(n=5, keys=keys, edit=move)["moved"] == told["moved"]
    with client.websocket_connect("/live/p") as socket:
        assert "refused" in answer(n=1, keys=None, edit={**move, "keys": None})


def test_the_same_keys_are_the_same_rows():
    same = SameKeys()
    keys = [{"layer": "gull", "property": "rotation", "time": time} for time in (0, 5)]

    def look(**told):
        same.fill(told)
        return same.shared(Look.model_validate({"scene": "crossing", **told}))

    edit = {"kind": "delete_keys", "scene": "crossing"}
    one = look(keys=list(keys), edit={**edit, "keys": list(keys)})
    other = look(keys=None, edit={**edit, "keys": None})
    assert one.keys is other.keys is one.edit.keys is other.edit.keys
    third = look(keys=None, edit={**edit, "keys": keys[:1]})
    assert third.keys is one.keys
    assert third.edit.keys == one.keys[:1]


def test_a_look_is_stopped_while_it_is_being_made(client, monkeypatch):
    """Told on the same socket on which the answer is awaited."""
    begun = threading.Event()

    def frames(self, scene):
        begun.set()
        for _ in range(1_000):
            if self.stopped == 2:
                return
            time.sleep(0.01)

    keys = [{"layer": "gull", "property": "rotation", "time": 0}]
    move = {"kind": "move_keys", "scene": "crossing", "keys": keys, "by": 28_224_000 * 5}
    with client.websocket_connect("/live/p") as socket:
        socket.send_json({"scene": "crossing", "n": 1})
        unpack(socket.receive_bytes())
        with monkeypatch.context() as patch:
            patch.setattr(Looking, "_frames", frames)
            socket.send_json({"scene": "crossing", "n": 2, "edit": move})
            assert begun.wait(10)
            socket.send_text('{"stop":2}')
            assert unpack(socket.receive_bytes())[0] == {"n": 2, "stopped": True}
        socket.send_json({"scene": "crossing", "n": 3, "edit": move})
        assert unpack(socket.receive_bytes())[0]["table"]["items"]


def test_what_is_dropped_where_it_was_tried_is_worked_out_once(hand, app):
    store = app.state.workshop.projects
    before = store.open("many").project
    hand.look(0.5)
    hand.look(0.5, brief=False)
    tried = hand.looking.sent_head
    edit = {"kind": "stretch_keys", "scene": "large", "keys": hand.keys, "about": 0, "longer": 0.5}
    made = store.commit("many", 1, EDIT.validate_python(edit)).project
    assert made.scenes[0] is tried
    assert made is not before
    # All that the page shows of it stays; dropped elsewhere it is another document.
    assert hand.look()["table"]["items"] == []
    other = store.commit("many", 2, EDIT.validate_python({**edit, "keys": hand.keys[:2], "longer": 2.0})).project
    assert other.scenes[0] is not tried


def test_of_a_drag_that_snaps_the_edit_is_told_whole_but_for_keys_the_page_has(client):
    """A span alone once took its keys along when it was dropped: that it leaves them had been left out."""
    with client.websocket_connect("/live/p") as socket:
        for number, keys in enumerate((False, True)):
            edit = {"kind": "move_spans", "scene": "crossing", "layers": ["gull"], "by": 28_224_000 * 9, "keys": keys}
            look = {"n": number, "scene": "crossing", "edit": edit, "snap": {"tolerance": 0}, "brief": True}
            socket.send_json(look)
            assert unpack(socket.receive_bytes())[0]["snapped"]["edit"] == edit
