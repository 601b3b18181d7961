"""Values typed and dragged, on one layer or many, in whose axes; the pivot; keys typed, cleared, worked backwards."""

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.document.artwork import Carrier
from deftarc.core.edit import EDIT, apply
from deftarc.core.evaluate import evaluate, pose
from tests.scenes import EASED, at, gull, layer, numbers, positions, project


def edit(p, kind, /, **fields):
    return apply(p, EDIT.validate_python({"kind": kind, "scene": "crossing", **fields}))


def value(p, name, prop, time=0):
    return pose(p.scenes[0].layer(name), time, (prop,))[prop]


def world(p, name, time):
    return evaluate(p.scenes[0], [time]).worlds[name][0]


def three():
    return project(
        layer("A", rotation=numbers(value=10)), layer("B", rotation=numbers(value=-20)), layer("C", Carrier())
    )


def test_a_typed_change_goes_from_each_layers_own_value():
    p = edit(three(), "set_value", layer="a", others=["b", "c"], property="rotation", told="+=5", time=0)
    assert [value(p, name, "rotation") for name in "abc"] == [(15,), (-15,), (5,)]
    p = edit(p, "set_value", layer="a", others=["b"], property="rotation", told="45", time=0)
    assert [value(p, name, "rotation") for name in "abc"] == [(45,), (45,), (5,)]
    p = edit(p, "set_value", layer="a", others=["b"], property="opacity", told="*=0.5", time=0)
    assert value(p, "b", "opacity") == (0.5,)


def test_layers_without_the_property_are_left_alone():
    p = edit(three(), "set_value", layer="a", others=["c"], property="stroke_width", told="9", time=0)
    assert p.scenes[0].layer("a").artwork.stroke_width == 9


def test_an_artworks_number_lives_in_its_field_until_it_is_keyed():
    p = edit(three(), "set_value", layer="a", property="radius", told="12", time=0)
    assert p.scenes[0].layer("a").artwork.radius == 12
    assert "radius" not in p.scenes[0].layer("a").tracks
    keyed = edit(p, "set_keys", layers=["a"], properties=["radius"], time=0)
    keyed = edit(keyed, "set_value", layer="a", property="radius", told="30", time=at(10), keying=True)
    assert value(keyed, "a", "radius", at(5)) == (21,)
    cleared = edit(keyed, "clear_motion", layers=["a"], properties=["radius"], time=at(5))
    assert cleared.scenes[0].layer("a").artwork.radius == pytest.approx(21)
    assert "radius" not in cleared.scenes[0].layer("a").tracks


def test_colours_are_set_keyed_and_told_apart_from_numbers():
    p = edit(three(), "set_value", layer="a", property="fill", colour="#102030", time=0)
    assert p.scenes[0].layer("a").artwork.fill == "#102030"
    p = edit(p, "set_value", layer="a", property="stroke", colour="#ffffff", time=at(4), keying=True)
    assert p.scenes[0].layer("a").track("stroke").key_times == [at(4)]
    for fields in ({"told": "5"}, {"value": 5}):
        with pytest.raises(Refusal):
            edit(p, "set_value", layer="a", property="fill", time=0, **fields)
    with pytest.raises(Refusal):
        edit(p, "set_value", layer="a", property="rotation", colour="#102030", time=0)


@pytest.mark.parametrize("axes", ["own", "parent", "scene"])
def test_positions_are_read_and_set_in_whose_axes_one_likes(axes):
    carrier = layer("Mast", Carrier(), position=positions(value=(100, 50)), rotation=numbers(value=90))
    p = project(
        layer("Flag", position=positions(value=(30, 0)), rotation=numbers(value=30)).changed(parent="mast"), carrier
    )
    before = world(p, "flag", 0)[:2, 2]
    assert before == pytest.approx([100, 80])
    after = edit(p, "set_value", layer="flag", property="position", component=0, told="+=10", time=0, axes=axes)
    step = world(after, "flag", 0)[:2, 2] - before
    way = {"own": np.deg2rad(120), "parent": np.deg2rad(90), "scene": 0.0}[axes]
    assert step == pytest.approx([10 * np.cos(way), 10 * np.sin(way)], abs=1e-9)


def test_the_pivot_moves_and_the_picture_stays_however_keyed_turned_scaled_and_carried():
    mast = layer("Mast", Carrier(), rotation=numbers((0, 0), (50, 70)), scale=numbers(value=1.7))
    flag = layer(
        "Flag", position=positions((0, (0, 0), EASED[0]), (50, (300, 100), EASED[1])), rotation=numbers((0, 5), (50, 95)),
        scale_x=numbers((0, 1), (50, 2)), scale_y=numbers(value=0.5), skew_x=numbers(value=9), pivot_x=numbers((0, 4), (50, 9)),
    ).changed(parent="mast")  # fmt: skip
    p = project(flag, mast)
    for time in (0, at(23), at(50)):
        before = world(p, "flag", time)
        moved = edit(p, "move_pivot", layers=["flag"], time=time, own=[25, -11])
        assert np.allclose(world(moved, "flag", time), before)
        assert value(moved, "flag", "pivot_x", time) == pytest.approx((25,))
        assert moved.scenes[0].layer("flag").position.key_times == [0, at(50)]
        to = (before @ [7, 8, 1])[:2]
        dropped = edit(p, "move_pivot", layers=["flag"], time=time, to=to.tolist())
        assert value(dropped, "flag", "pivot_y", time) == pytest.approx((8,))
        typed = edit(p, "set_value", layer="flag", property="pivot_x", told="50", time=time, keying=True)
        assert np.allclose(world(typed, "flag", time), before)


def test_pivots_of_several_layers_move_and_axes_unlink_in_one_edit():
    p = project(layer("A"), layer("B", rotation=numbers(value=90)))
    moved = edit(p, "move_pivot", layers=["a", "b"], time=0, each=[[5, 0], [0, 9]])
    assert (value(moved, "a", "pivot_x"), value(moved, "b", "pivot_y")) == ((5,), (9,))
    assert np.allclose(world(moved, "b", 0), world(p, "b", 0))
    free = edit(p, "link_scale", layer="a", others=["b"], link="free", time=0)
    assert [x.scale_link for x in free.scenes[0].layers] == ["free", "free"]
    with pytest.raises(Refusal, match="for each layer"):
        edit(p, "move_pivot", layers=["a", "b"], time=0, each=[[5, 0]])


def test_scale_axes_linked_by_area_keep_it_and_unlink_at_their_keys():
    p = edit(project(layer("A", scale=numbers((0, 1), (10, 2)))), "link_scale", layer="a", link="area", time=0)
    for frame in (0, 4, 10):
        sx, sy = value(p, "a", "scale", at(frame))
        assert sx * sy == pytest.approx(1)
    free = edit(p, "link_scale", layer="a", link="free", time=0)
    assert value(free, "a", "scale_y", at(10)) == (0.5,)
    assert edit(p, "link_scale", layer="a", link="linked", time=0).scenes[0].layer("a").scale_ratio == 1


def test_the_present_look_becomes_the_end_and_the_start_is_free_to_change():
    p = edit(three(), "work_backwards", layers=["a"], properties=["rotation"], time=0, end=at(20))
    assert p.scenes[0].layer("a").track("rotation").key_times == [0, at(20)]
    p = edit(p, "set_value", layer="a", property="rotation", told="-90", time=0)
    assert value(p, "a", "rotation", at(20)) == (10,)
    assert value(p, "a", "rotation", at(10)) == (-40,)
    with pytest.raises(Refusal, match="after the start"):
        edit(three(), "work_backwards", layers=["a"], time=at(5), end=at(5))
    with pytest.raises(Refusal, match="between"):
        edit(project(gull()), "work_backwards", layers=["gull"], properties=["rotation"], time=at(10), end=at(60))


def test_a_key_is_put_at_the_pointers_time_and_value_or_on_the_curve():
    p = project(gull())
    on = edit(p, "put_key", layer="gull", property="rotation", time=at(10))
    assert value(on, "gull", "rotation", at(30)) == pytest.approx(value(p, "gull", "rotation", at(30)))
    off = edit(p, "put_key", layer="gull", property="rotation", time=at(10), value=77)
    assert value(off, "gull", "rotation", at(10)) == (77,)
    typed = edit(off, "type_key", layer="gull", property="rotation", time=at(10), told="+=3")
    assert value(typed, "gull", "rotation", at(10)) == (80,)
    with pytest.raises(Refusal):
        edit(off, "type_key", layer="gull", property="rotation", time=at(11), told="5")


def test_keys_lie_before_the_scenes_start_and_act_there():
    p = edit(project(gull()), "set_keys", layers=["gull"], properties=["rotation"], time=-at(10))
    p = edit(p, "set_value", layer="gull", property="rotation", value=-50, time=-at(10), keying=True)
    assert value(p, "gull", "rotation", -at(5)) == (-25,)


def test_one_layers_numbers_are_given_to_others():
    p = edit(three(), "set_value", layer="a", property="position", component=0, told="64", time=0)
    p = edit(p, "copy_numbers", source="a", layers=["b", "c"], time=0)
    assert value(p, "b", "rotation") == (10,)
    assert value(p, "c", "position") == (64, 0)


def test_keys_are_set_on_lanes_and_on_all_of_a_kind():
    p = edit(
        three(),
        "set_keys",
        lanes=[{"layer": "a", "property": "rotation"}, {"layer": "b", "property": "fill"}],
        time=at(3),
    )
    assert (p.scenes[0].layer("a").keyed, p.scenes[0].layer("b").keyed) == (("rotation",), ("fill",))
    p = edit(three(), "set_keys", layers=["a", "c"], properties=["radius"], time=0)
    assert (p.scenes[0].layer("a").keyed, p.scenes[0].layer("c").keyed) == (("radius",), ())
    with pytest.raises(Refusal):
        edit(three(), "set_keys", time=0)


def test_what_moves_or_was_changed_is_keyed_here_and_not_skew_and_pivot():
    made = project(layer("A", rotation=numbers((0, 0), (20, 90)), clock=numbers((0, 0), (25, 1))))
    made = edit(made, "set_value", layer="a", property="opacity", told="40", time=at(10))
    made = edit(made, "set_value", layer="a", property="rotation", told="5", time=at(10))
    keyed = edit(made, "set_keys", layers=["a"], moving=True, time=at(10)).scene("crossing").layer("a")
    assert at(10) in keyed.track("rotation").key_times
    assert keyed.track("rotation").value_at(at(10)) == 5
    assert keyed.track("clock").key_times == [0, at(25)]
    assert not keyed.track("skew_x").keys
    assert not keyed.track("pivot_x").keys


def test_an_end_pose_is_of_what_moves():
    made = edit(
        project(layer("A", rotation=numbers((0, 0), (5, 90)))), "work_backwards", layers=["a"], time=at(10), end=at(30)
    )
    assert made.scene("crossing").layer("a").keyed == ("rotation",)
