"""Who carries whom: parents, groups, opacity handed on; and the picture that stays."""

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.document.artwork import Carrier
from deftarc.core.edit import EDIT, apply
from deftarc.core.evaluate import evaluate
from tests.scenes import EASED, at, layer, numbers, positions, project

TURNED = {"rotation": numbers(value=30), "position": positions(value=(200, 100)), "skew_x": numbers(value=12)}


def edit(before, kind, /, **fields):
    return apply(before, EDIT.validate_python({"kind": kind, "scene": "crossing", **fields}))


def world(p, name, time=0):
    return evaluate(p.scenes[0], [time]).worlds[name][0]


def family():
    mast = layer("Mast", Carrier(), scale=numbers((0, 1), (40, 2)), **TURNED)
    boom = layer("Boom", Carrier(), rotation=numbers((0, 0), (40, 90)), position=positions(value=(50, -20)))
    flag = layer(
        "Flag",
        position=positions((0, (0, 0), EASED[0]), (40, (100, 60), EASED[1])),
        rotation=numbers(value=10),
        scale=numbers(value=1.5),
    )
    return project(flag, boom, mast)


def rigged():
    """The flag on the boom, the boom on the mast."""
    return edit(
        edit(family(), "set_parent", layers=["flag"], parent="boom", time=0),
        "set_parent",
        layers=["boom"],
        parent="mast",
        time=0,
    )


def test_a_carried_layer_goes_where_its_carriers_go():
    p = rigged()
    own = np.linalg.inv(world(p, "boom", at(33))) @ world(p, "flag", at(33))
    alone = evaluate(p.scenes[0].changed(layers=tuple(x.changed(parent=None) for x in p.scenes[0].layers)), [at(33)])
    assert np.allclose(own, alone.worlds["flag"][0])


@pytest.mark.parametrize("frame", [0, 17, 40])
def test_reparenting_keeps_the_picture_at_the_current_frame_and_adds_no_key(frame):
    before = family()
    for parent in ("boom", "mast"):
        after = edit(before, "set_parent", layers=["flag"], parent=parent, time=at(frame))
        assert np.allclose(world(after, "flag", at(frame)), world(before, "flag", at(frame)), atol=1e-6)
        flag = after.scenes[0].layer("flag")
        assert flag.position.key_times == [0, at(40)]
        assert flag.track("rotation").key_times == []
        freed = edit(after, "set_parent", layers=["flag"], parent=None, time=at(frame))
        assert np.allclose(world(freed, "flag", at(frame)), world(before, "flag", at(frame)), atol=1e-6)


def test_under_a_carrier_at_rest_the_whole_motion_stays():
    still = project(layer("Mast", Carrier(), **TURNED, scale=numbers(value=2)), family().scenes[0].layer("flag"))
    after = edit(still, "set_parent", layers=["flag"], parent="mast", time=at(11))
    for frame in (0, 9, 25, 40):
        assert np.allclose(world(after, "flag", at(frame)), world(still, "flag", at(frame)), atol=1e-6)


def test_a_ring_is_refused_by_name():
    p = rigged()
    with pytest.raises(Refusal, match=r"Mast → Flag|Flag → Boom|Boom → Mast"):
        edit(p, "set_parent", layers=["mast"], parent="flag", time=0)
    with pytest.raises(Refusal, match="cannot carry itself"):
        edit(p, "set_parent", layers=["mast"], parent="mast", time=0)


def test_opacity_goes_on_only_if_asked():
    p = edit(
        project(layer("Flag", opacity=numbers(value=0.5)), layer("Mast", Carrier(), opacity=numbers(value=0.4))),
        "set_parent",
        layers=["flag"],
        parent="mast",
        time=0,
    )
    assert evaluate(p.scenes[0], [0]).leaf("flag").opacity == pytest.approx([0.5])
    p = edit(p, "describe_layers", layers=["mast"], hands_opacity=True)
    assert evaluate(p.scenes[0], [0]).leaf("flag").opacity == pytest.approx([0.2])


def test_hands_move_turn_and_scale_in_the_picture_however_deep_the_parents_are():
    p = edit(family(), "set_parent", layers=["flag"], parent="mast", time=at(20))
    before = world(p, "flag", at(20))
    moved = world(edit(p, "move_layers", layers=["flag"], time=at(20), dx=30, dy=-12, keying=True), "flag", at(20))
    assert moved[:2, 2] - before[:2, 2] == pytest.approx([30, -12])
    pivot = before[:2, 2]
    start = pivot + [40, 10]
    to = pivot + [80, 20]
    scaled = world(
        edit(p, "scale_layers", layers=["flag"], time=at(20), start=start.tolist(), to=to.tolist()), "flag", at(20)
    )
    assert np.allclose(scaled[:2, :2], 2 * before[:2, :2])


def test_what_another_selected_layer_carries_is_moved_once():
    p = edit(family(), "set_parent", layers=["flag"], parent="mast", time=0)
    after = edit(p, "move_layers", layers=["mast", "flag"], time=0, dx=10, dy=0)
    assert world(after, "flag")[0, 2] - world(p, "flag")[0, 2] == pytest.approx(10)


def test_grouping_moves_nothing_and_ungrouping_gives_it_back():
    p = project(
        layer("A", position=positions(value=(10, 20)), rotation=numbers(value=40)),
        layer("Ground"),
        layer("B", position=positions(value=(90, 60))),
    )
    grouped = edit(p, "group_layers", layers=["a", "b"], id="g", time=0)
    assert [x.id for x in grouped.scenes[0].layers] == ["g", "a", "b", "ground"]
    assert grouped.scenes[0].layer("g").position.value == (50, 40)
    for name in ("a", "b"):
        assert np.allclose(world(grouped, name), world(p, name))
    moved = edit(grouped, "move_layers", layers=["g"], time=0, dx=5, dy=5)
    assert world(moved, "a")[:2, 2] == pytest.approx([15, 25])
    back = edit(moved, "ungroup", layers=["g"], time=0)
    assert [x.id for x in back.scenes[0].layers] == ["a", "b", "ground"]
    assert np.allclose(world(back, "a"), world(moved, "a"))


def test_a_hidden_group_hides_what_is_in_it():
    p = edit(project(layer("A"), layer("B")), "group_layers", layers=["a"], id="g", time=0)
    p = edit(p, "describe_layers", layers=["g"], hidden=True)
    assert evaluate(p.scenes[0], [0]).leaf("a").shows == (0, 0)
    assert evaluate(p.scenes[0], [0]).leaf("b").shows == (0, 1)


def test_deleting_a_carrier_leaves_what_it_carried_in_place_and_a_group_takes_all_along():
    p = edit(family(), "set_parent", layers=["flag"], parent="mast", time=0)
    after = edit(p, "delete_layers", layers=["mast"], time=at(20))
    assert np.allclose(world(after, "flag", at(20)), world(p, "flag", at(20)), atol=1e-6)
    grouped = edit(p, "group_layers", layers=["flag"], id="g", time=0)
    gone = edit(grouped, "delete_layers", layers=["g"])
    assert [x.id for x in gone.scenes[0].layers] == ["boom", "mast"]
    assert [kept.name for kept in gone.shelf] == ["Flag"]


def test_a_copied_family_points_inside_the_copy():
    p = edit(family(), "set_parent", layers=["flag"], parent="mast", time=0)
    after = edit(p, "duplicate_layers", layers=["flag", "mast"], ids=["f2", "m2"])
    assert after.scenes[0].layer("f2").parent == "m2"
    alone = edit(p, "duplicate_layers", layers=["flag"], ids=["f3"])
    assert alone.scenes[0].layer("f3").parent == "mast"


def test_reordering_into_a_group_and_out_keeps_the_picture():
    p = edit(
        project(layer("A"), layer("B", position=positions(value=(70, 30))), layer("C")),
        "group_layers",
        layers=["a"],
        id="g",
        time=0,
    )
    p = edit(p, "move_layers", layers=["g"], time=0, dx=40, dy=0)
    inside = edit(p, "order_layers", layers=["b"], before="c", regroup=True, group="g", time=0)
    assert inside.scenes[0].layer("b").parent == "g"
    assert np.allclose(world(inside, "b"), world(p, "b"))
    out = edit(inside, "order_layers", layers=["b"], before=None, regroup=True, group=None, time=0)
    assert out.scenes[0].layer("b").parent is None
    assert [x.id for x in out.scenes[0].layers] == ["g", "a", "c", "b"]


def test_linked_copies_follow_each_others_artwork_and_keep_their_motion():
    p = edit(project(layer("A", rotation=numbers(value=5))), "duplicate_layers", layers=["a"], ids=["b"], linked=True)
    p = edit(p, "set_value", layer="b", property="rotation", value=80, time=0)
    p = edit(p, "change_artwork", layer="b", change={"fill": "#123456"})
    scene = p.scenes[0]
    assert (scene.layer("a").artwork.fill, scene.layer("b").artwork.fill) == ("#123456", "#123456")
    assert scene.layer("a").track("rotation").value == 5
    p = edit(edit(p, "unlink", layers=["b"]), "change_artwork", layer="a", change={"fill": "#654321"})
    assert p.scenes[0].layer("b").artwork.fill == "#123456"


def test_a_group_is_copied_as_one_block_with_its_members_inside():
    p = edit(project(layer("A"), layer("B"), layer("C")), "group_layers", layers=["a", "b"], id="g", time=0)
    rows = edit(p, "duplicate_layers", layers=["g"], ids=["g2"]).scenes[0].layers
    assert [x.name for x in rows] == ["Group 2", "A 2", "B 2", "Group", "A", "B", "C"]
    assert [x.parent for x in rows[:6]] == [None, "g2", "g2", None, "g", "g"]
    with pytest.raises(Refusal, match="id of its own"):
        edit(p, "duplicate_layers", layers=["g"], ids=["c"])


def test_a_layer_that_keeps_its_area_is_carried_by_what_is_scaled_and_looks_as_before():
    squash = layer("Ball", scale=numbers((0, 1), (10, 1.5))).changed(scale_link="area", scale_ratio=0.7)
    big = layer("Mast", scale=numbers(value=2.0))
    before = project(squash, big)
    after = edit(before, "set_parent", layers=["ball"], parent="mast", time=0)
    times = np.arange(0, 20) * at(1)
    one, other = (evaluate(each.scenes[0], times).worlds["ball"] for each in (before, after))
    assert other == pytest.approx(one, abs=1e-9)
