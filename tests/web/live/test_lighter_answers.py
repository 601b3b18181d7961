"""What a drag does not change is not sent again: columns, the panel of numbers, the frame of the pair, rows."""

import pytest

from deftarc.formats.wire import unpack
from tests.scenes import at


@pytest.fixture
def page(client):
    with client.websocket_connect("/live/p") as socket:
        count = 0

        def look(**asked):
            nonlocal count
            count += 1
            socket.send_json({"n": count, "scene": "crossing", "layers": ["gull"], **asked})
            return unpack(socket.receive_bytes())[0]

        look()
        yield look


def turned(value):
    return {"kind": "set_value", "scene": "crossing", "layer": "gull", "property": "rotation", "value": value, "time": at(40)}  # fmt: skip


def names(head):
    return [column["name"] for column in head["columns"]]


def test_only_columns_that_changed_come_and_all_good_ones_are_named(page):
    page(edit=turned(100))
    head = page(edit=turned(200))
    # The pair shows the position, which does not move; of its numbers only the turned one is new.
    assert names(head) == ["rotation"]
    assert {"position", "opacity", "pair", "spot"} <= set(head["good"])
    back = page()
    assert names(back) == ["rotation"]


def test_a_new_selection_brings_its_own_columns_and_lets_the_others_go(page):
    head = page(layers=["ferry"])
    assert "pair" not in head["good"]
    assert {"position", "spot", "carried"} <= set(head["good"])
    again = page(layers=["gull"])
    assert "pair" in names(again)


def test_the_panel_comes_again_when_more_than_its_numbers_changed(page):
    page(edit=turned(100), frame=40)
    assert "figures" not in page(edit=turned(200), frame=40)["fragments"]
    # A turn and more is told beside the number: that is another panel.
    assert "turns" in page(edit=turned(760), frame=40)["fragments"]["figures"]


def test_the_selected_keys_figures_follow_a_drag_without_the_panel(page):
    keys = [{"layer": "gull", "property": "rotation", "time": 0}]
    edit = {"kind": "shape_side", "scene": "crossing", "layer": "gull", "property": "rotation", "time": 0, "side": "leaving"}  # fmt: skip
    page(keys=keys)
    head = page(keys=keys, edit={**edit, "reach": 0.4, "speed": 80})
    assert set(head["fragments"]) >= {"figures-key"}
    assert "figures" not in head["fragments"]
    assert 'value="80"' in head["fragments"]["figures-key"]
    after = page(keys=keys, edit={**edit, "reach": 0.4, "speed": 81})
    assert 'value="81"' in after["fragments"]["figures-key"]


def test_rows_stay_where_they_are_while_a_key_is_dragged(page):
    keys = [{"layer": "gull", "property": "rotation", "time": at(40)}]
    head = page(keys=keys, edit={"kind": "move_keys", "scene": "crossing", "keys": keys, "by": at(3)})
    assert set(head["lanes"]["html"]) <= {"lane-gull-rotation", "layer-gull"}
    added = page(
        edit={"kind": "set_keys", "scene": "crossing", "layers": ["gull"], "properties": ["skew_x"], "time": 0}
    )
    assert any(row[0] == "lane-gull-skew_x" for row in added["lanes"]["rows"])
    assert not any(row[0] == "lane-gull-skew_x" for row in page()["lanes"]["rows"])


def test_keys_of_a_path_keep_their_words_while_a_tolerance_is_tried(page):
    """Then no hand holds anything, and whoever points at a key is told its time; while one drags nobody points."""

    def told(**asked):
        return [key["told"] for key in page(**asked)["paths"][0]["keys"]]

    whole = told()
    assert len(whole) == 2
    assert all(whole)
    samples = {"kind": "lay_samples", "scene": "crossing", "layer": "gull", "property": "position", "tolerance": 0.5,
               "times": [0, at(25), at(50)], "values": [[0, 0], [150, 250], [300, 400]]}  # fmt: skip
    assert all(told(edit=samples))
    bent = {"kind": "bend_path", "scene": "crossing", "layer": "gull", "points": [1], "dx": 5, "dy": 0, "time": 0}
    assert told(edit=bent) == ["", ""]
    assert told() == whole
