"""Edits as data: what they do to a project, what they leave alone, what they refuse."""

import numpy as np
import pytest
from pydantic import ValidationError

from deftarc.core.base.errors import Refusal, UnknownThing
from deftarc.core.document.find import find_layer, find_scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.edit import EDIT, apply
from deftarc.core.evaluate import evaluate, pose
from tests.scenes import at, gull, layer, numbers, positions, project


def made(kind, **fields):
    return EDIT.validate_python({"kind": kind, "scene": "crossing", **fields})


def after(before, kind, **fields):
    return apply(before, made(kind, **fields))


def gull_of(p):
    return p.scene("crossing").layer("gull")


def key(name, frame, layer_id="gull"):
    return {"layer": layer_id, "property": name, "time": at(frame)}


def test_adding_puts_the_layer_on_top_in_the_middle():
    p = after(project(gull()), "add_layer", name="Sun", artwork={"kind": "ellipse", "width": 9, "height": 9}, id="sun")
    first = p.scene("crossing").layers[0]
    assert (first.id, first.position.value) == ("sun", (320, 180))


def test_edits_share_what_they_do_not_touch():
    before = project(gull(), layer("Ferry"))
    p = after(before, "set_value", layer="gull", property="rotation", value=9, time=0)
    assert p.scene("crossing").layer("ferry") is before.scene("crossing").layer("ferry")


def test_dragging_moves_by_scene_px_and_shift_keeps_to_one_axis():
    p = after(project(layer("Gull")), "move_layers", layers=["gull"], time=0, dx=30, dy=-4, constrain=True)
    assert gull_of(p).position.value == (30, 0)


def test_dragging_while_keying_makes_the_key_at_the_playhead():
    p = after(project(gull()), "move_layers", layers=["gull"], time=at(25), dx=10, dy=0, keying=True)
    assert gull_of(p).position.key_times == [0, at(25), at(50)]
    assert gull_of(p).position.value_at(at(25)) == pytest.approx((160, 200))


def test_turning_adds_degrees_over_several_turns_and_shift_steps_by_fifteen():
    p = after(project(layer("Gull")), "turn_layers", layers=["gull"], time=0, degrees=731)
    assert gull_of(p).number("rotation").value == 731
    p = after(p, "turn_layers", layers=["gull"], time=0, degrees=3, constrain=True)
    assert gull_of(p).number("rotation").value == 735


def test_a_corner_follows_the_hand_in_proportion_when_the_axes_are_linked():
    turned = layer("Gull", position=positions(value=(100, 100)), rotation=numbers(value=90))
    p = after(project(turned), "scale_layers", layers=["gull"], time=0, start=(130, 150), to=(160, 200))
    assert gull_of(p).number("scale").value == pytest.approx(2)


def test_free_axes_scale_each_on_its_own_and_shift_keeps_the_proportion():
    free = layer("Gull", scale_x=numbers(value=1), scale_y=numbers(value=1))
    p = after(project(free), "scale_layers", layers=["gull"], time=0, start=(50, 30), to=(100, 15))
    assert pose(gull_of(p), 0)["scale_x"] == (2,)
    assert pose(gull_of(p), 0)["scale_y"] == (0.5,)
    p = after(project(free), "scale_layers", layers=["gull"], time=0, start=(50, 30), to=(100, 60), constrain=True)
    assert pose(gull_of(p), 0)["scale_y"] == (2,)
    p = after(project(free), "scale_layers", layers=["gull"], time=0, start=(50, 0), to=(75, 40), axes=(1, 0))
    assert pose(gull_of(p), 0)["scale_x"] == (1.5,)
    assert pose(gull_of(p), 0)["scale_y"] == (1,)


def test_unlinking_the_axes_keeps_the_motion():
    before = project(layer("Gull", scale=numbers((0, 1), (20, 3))).changed(scale_ratio=0.5))
    p = after(before, "link_scale", layer="gull", link="free", time=0)
    times = [at(f) for f in range(0, 25)]
    assert np.allclose(
        evaluate(p.scenes[0], times).leaves[0].matrix, evaluate(before.scenes[0], times).leaves[0].matrix
    )
    again = after(p, "link_scale", layer="gull", link="linked", time=at(10))
    assert np.allclose(evaluate(again.scenes[0], times).leaves[0].matrix, evaluate(p.scenes[0], times).leaves[0].matrix)


def test_moving_the_pivot_leaves_the_picture_where_it_is():
    turned = layer(
        "Gull",
        position=positions((0, (0, 0)), (20, (100, 0))),
        rotation=numbers((0, 0), (20, 90)),
        scale=numbers(value=2),
    )
    before = project(turned)
    p = after(before, "set_value", layer="gull", property="pivot_x", value=25, time=at(10))
    here = [at(10)]
    assert np.allclose(evaluate(p.scenes[0], here).leaves[0].matrix, evaluate(before.scenes[0], here).leaves[0].matrix)
    assert gull_of(p).position.key_times == [0, at(20)]
    assert not np.allclose(
        evaluate(p.scenes[0], [at(20)]).leaves[0].matrix, evaluate(before.scenes[0], [at(20)]).leaves[0].matrix
    )


def test_key_all_keys_everything_that_makes_up_the_transform():
    p = after(project(layer("Gull")), "set_keys", layers=["gull"], time=at(5))
    plain = {n for n in gull_of(p).properties if not PROPERTIES[n].artwork}
    # What a path does to a layer is keyed with the rest only where it does it.
    assert set(gull_of(p).keyed) == plain - {"along", "lean"}
    p = after(project(layer("Gull")), "set_keys", layers=["gull"], time=at(5), moving=True)
    assert set(gull_of(p).keyed) == {"position", "scale", "rotation", "opacity"}
    turning = after(project(layer("Gull", along=numbers(value=1.0))), "set_keys", layers=["gull"], time=at(5))
    assert set(gull_of(turning).keyed) == plain - {"lean"}


def test_keys_move_together_and_stay_selected_under_their_new_times():
    edit = made("move_keys", keys=[key("position", 50), key("rotation", 40)], by=at(10))
    p = apply(project(gull()), edit)
    assert gull_of(p).position.key_times == [0, at(60)]
    assert gull_of(p).track("rotation").key_times == [0, at(50)]
    assert [ref.time for ref in edit.selects(project(gull()), p)] == [at(60), at(50)]


def test_an_ease_takes_the_way_between_selected_keys_else_the_way_after_one():
    p = after(project(gull()), "ease_keys", keys=[key("rotation", 0)], ease="slow-ends", strength=100)
    assert gull_of(p).track("rotation").keys[0].leaving.reach == 1
    p = after(p, "ease_keys", keys=[key("rotation", 40)], ease="hold")
    assert gull_of(p).track("rotation").keys[0].hold


def test_one_key_alone_cannot_be_eased():
    with pytest.raises(Refusal, match="second key"):
        after(
            project(layer("Gull", rotation=numbers((3, 1)))), "ease_keys", keys=[key("rotation", 3)], ease="slow-ends"
        )


def test_loose_values_are_keyed_by_set_keys_and_let_go_on_request():
    p = after(project(gull()), "set_value", layer="gull", property="rotation", value=11, time=at(20))
    assert after(p, "clear_loose", layers=["gull"]).scene("crossing").layer("gull").track("rotation").loose is None
    p = after(p, "set_keys", layers=["gull"], properties=["rotation"], time=at(20))
    assert gull_of(p).track("rotation").value_at(at(20)) == 11
    assert gull_of(p).track("rotation").loose is None


def test_duplicates_lie_above_with_a_name_and_an_id_of_their_own():
    p = after(project(gull()), "duplicate_layers", layers=["gull"], ids=["copy"])
    assert [(x.id, x.name) for x in p.scenes[0].layers] == [("copy", "Gull 2"), ("gull", "Gull")]
    assert p.scenes[0].layer("copy").tracks == gull_of(p).tracks


@pytest.mark.parametrize(
    ("kind", "fields", "error"),
    [
        ("set_value", {"layer": "nobody", "property": "rotation", "value": 1, "time": 0}, UnknownThing),
        ("set_value", {"layer": "gull", "property": "colour", "value": 1, "time": 0}, Refusal),
        ("set_value", {"layer": "gull", "property": "scale_x", "value": 1, "time": 0}, Refusal),
        ("set_value", {"layer": "gull", "property": "rotation", "value": 1, "time": 0, "component": 1}, Refusal),
        ("delete_keys", {"keys": [key("rotation", 33)]}, UnknownThing),
        ("move_keys", {"keys": [key("rotation", 40)], "by": 24 * 3600 * 705_600_000}, Refusal),
        ("ease_keys", {"keys": [key("rotation", 0)], "ease": "wobble"}, Refusal),
        ("change_artwork", {"layer": "gull", "change": {"text": "hello"}}, Refusal),
        ("set_value", {"layer": "gull", "property": "rotation", "time": 0}, Refusal),
        ("set_value", {"layer": "gull", "property": "rotation", "told": "plenty", "time": 0}, Refusal),
        ("delete_scene", {}, Refusal),
    ],
)
def test_what_cannot_be_is_refused_with_a_sentence(kind, fields, error):
    before = project(gull())
    with pytest.raises(error) as told:
        after(before, kind, **fields)
    assert str(told.value).endswith(".")
    assert len(str(told.value)) > 20


@pytest.mark.parametrize("value", [float("nan"), float("inf"), 1e300, "many"])
def test_a_number_that_is_no_number_never_becomes_an_edit(value):
    with pytest.raises(ValidationError):
        made("set_value", layer="gull", property="rotation", value=value, time=0)


def test_scenes_and_layers_are_found_by_name_or_id():
    p = project(gull())
    assert find_layer(find_scene(p, "crossing"), "GULL").id == "gull"
    with pytest.raises(Refusal, match="It has: Gull"):
        find_layer(p.scenes[0], "whale")
    with pytest.raises(Refusal, match="There are: Crossing"):
        find_scene(p, "Harbour")
