"""Which rows the list has, and which of them a page is sent."""

import itertools

import pytest

from deftarc.core.document.artwork import Carrier
from deftarc.core.edit import EDIT, apply
from deftarc.web.look import Filters, Focus, Window
from deftarc.web.panels.list.rows import HEAD, MARGIN, in_view, rows_of_list, window_for
from tests.scenes import gull, layer, numbers, project


def harbour():
    """A group of two, a carrier with a member of its own, and a layer without keys."""
    p = project(gull(), layer("Sign", rotation=numbers((0, 0), (5, 9))), layer("Mast", Carrier()), layer("Sea"))
    edit = EDIT.validate_python(
        {"kind": "group_layers", "scene": "crossing", "layers": ["gull", "sign"], "id": "g", "name": "Birds", "time": 0}
    )
    return apply(p, edit).scenes[0]


def listed(scene, folded=(), opened=(), height=27, **filters):
    return rows_of_list(scene, set(folded), tuple(opened), set(), Filters(**filters), height)


def names(rows):
    return [row.id.partition("-")[2] for row in rows]


def test_each_layer_has_a_row_and_each_keyed_property_a_lane_under_it():
    rows = listed(harbour())
    assert names(rows) == [
        "g",
        "gull",
        "gull-position",
        "gull-rotation",
        "gull-opacity",
        "sign",
        "sign-rotation",
        "mast",
        "sea",
    ]
    assert [row.depth for row in rows] == [0, 1, 1, 1, 1, 1, 1, 0, 0]


def test_rows_stand_one_under_the_other():
    rows = listed(harbour(), height=46)
    assert [b.top - a.top for a, b in itertools.pairwise(rows)] == [a.height for a in rows[:-1]]
    assert {row.height for row in rows} == {HEAD, 46}


def test_folding_a_layer_hides_its_lanes_and_folding_a_group_all_that_is_in_it():
    assert "gull-position" not in names(listed(harbour(), folded=["gull"]))
    assert names(listed(harbour(), folded=["g"])) == ["g", "mast", "sea"]


@pytest.mark.parametrize(
    ("filters", "left"),
    [
        ({"keyed": True}, ["g", "gull", "gull-position", "gull-rotation", "gull-opacity", "sign", "sign-rotation"]),
        ({"text": "rot"}, ["gull", "gull-rotation", "sign", "sign-rotation"]),
        ({"text": "sign"}, ["sign", "sign-rotation"]),
        ({"text": "GULL opac"}, ["gull", "gull-opacity"]),
        ({"text": "whale"}, []),
    ],
)
def test_the_list_is_narrowed_by_keys_and_by_name(filters, left):
    assert names(listed(harbour(), **filters)) == left


def test_what_is_looked_for_is_found_in_folded_groups_too():
    assert names(listed(harbour(), folded=["g", "gull"], text="rotation gull")) == ["gull", "gull-rotation"]


def test_only_what_is_selected_is_listed_if_wished():
    rows = rows_of_list(harbour(), set(), (), {"sea", "sign"}, Filters(selected=True), 27)
    assert names(rows) == ["sign", "sign-rotation", "sea"]


def test_an_opened_lane_shows_though_nothing_in_it_is_keyed():
    rows = listed(harbour(), opened=[Focus(layer="sea", property="skew_x"), Focus(layer="sea", property="whale")])
    assert names(rows)[-2:] == ["sea", "sea-skew_x"]


def test_rows_in_view_come_with_some_beyond():
    many = project(*(layer(f"L{n}") for n in range(400))).scenes[0]
    rows = listed(many)
    seen = in_view(rows, Window(top=5000, height=270))
    assert len(seen) == pytest.approx((270 + 2 * MARGIN) / HEAD, abs=2)
    assert seen[0].top < 5000 - MARGIN + HEAD
    assert in_view(rows, Window(top=0, height=270))[0].layer.id == "l0"


def test_a_layer_out_of_view_moves_the_window_and_one_in_view_does_not():
    rows = listed(project(*(layer(f"L{n}") for n in range(400))).scenes[0])
    window, moved = window_for(rows, Window(top=0, height=270), "l300")
    assert moved
    assert window.top < 300 * HEAD < window.top + 270
    assert window_for(rows, window, "l300") == (window, False)
    assert window_for(rows, window, "nobody") == (window, False)
    up, moved = window_for(rows, window, "l5")
    assert (up.top, moved) == (5 * HEAD, True)
    last, _ = window_for(rows, Window(top=0, height=270), "l399")
    assert last.top == 400 * HEAD - 270
