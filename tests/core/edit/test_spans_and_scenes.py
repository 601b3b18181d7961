"""When layers show, and what a scene's settings do: spans, inserts, overwrites, sizes, rates, lengths."""

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.retime import keys_outside
from deftarc.core.edit import EDIT, apply
from deftarc.core.evaluate import evaluate
from tests.scenes import at, gull, layer, numbers, positions, project

DOT = {"kind": "ellipse", "width": 10, "height": 10}


def edit(p, kind, /, **fields):
    return apply(p, EDIT.validate_python({"kind": kind, "scene": "crossing", **fields}))


def spans(p):
    return {x.name: (x.start, x.end) for x in p.scenes[0].layers}


def spanned(name, start, end, **tracks):
    return layer(name, **tracks).changed(start=at(start), end=None if end is None else at(end))


def test_a_span_moves_with_its_keys_or_alone():
    p = project(spanned("Gull", 10, 40, rotation=numbers((10, 0), (30, 90))))
    together = edit(p, "move_spans", layers=["gull"], by=at(5)).scenes[0].layer("gull")
    assert (together.start, together.end, together.track("rotation").key_times) == (at(15), at(45), [at(15), at(35)])
    alone = edit(p, "move_spans", layers=["gull"], by=at(5), keys=False).scenes[0].layer("gull")
    assert (alone.start, alone.track("rotation").key_times) == (at(15), [at(10), at(30)])


def test_an_open_end_closes_at_the_scenes_end_when_the_start_moves():
    p = edit(project(spanned("Gull", 0, None)), "move_spans", layers=["gull"], by=at(20))
    assert spans(p) == {"Gull": (at(20), at(120))}


def test_ends_are_trimmed_and_never_cross():
    p = project(spanned("Gull", 10, 40))
    assert spans(edit(p, "trim_span", layers=["gull"], start=at(12)))["Gull"] == (at(12), at(40))
    assert spans(edit(p, "trim_span", layers=["gull"], end=at(90)))["Gull"] == (at(10), at(90))
    with pytest.raises(Refusal, match="end before it starts"):
        edit(p, "trim_span", layers=["gull"], end=at(10))


def test_several_spans_get_one_length_with_keys_in_proportion():
    p = project(spanned("A", 0, 40, opacity=numbers((0, 0), (20, 1))), spanned("B", 10, 20))
    after = edit(p, "set_span_length", layers=["a", "b"], length=at(80), keys=True)
    assert spans(after) == {"A": (0, at(80)), "B": (at(10), at(90))}
    assert after.scenes[0].layer("a").track("opacity").key_times == [0, at(40)]
    plain = edit(p, "set_span_length", layers=["a"], length=at(80))
    assert plain.scenes[0].layer("a").track("opacity").key_times == [0, at(20)]


def test_keys_outside_a_span_are_known_and_covered_by_one_edit():
    p = project(spanned("Gull", 10, 20, rotation=numbers((2, 0), (15, 5), (30, 90))))
    assert keys_outside(p.scenes[0].layers[0], at(100)) == [at(2), at(30)]
    after = edit(p, "cover_keys", layers=["gull"])
    assert spans(after)["Gull"] == (at(2), at(31))
    assert keys_outside(after.scenes[0].layers[0], at(100)) == []


def test_a_layer_is_added_on_top_by_insert_and_by_overwrite():
    p = project(
        spanned("Later", 40, 90, rotation=numbers((40, 0), (60, 9))),
        spanned("Ground", 0, None),
        spanned("Early", 0, 30),
    )
    new = {"name": "New", "artwork": DOT, "id": "new", "time": at(20)}
    top = edit(p, "add_layer", place="on_top", **new, length=at(30))
    assert spans(top)["New"] == (at(20), at(50))
    assert spans(top)["Later"] == (at(40), at(90))
    pushed = edit(p, "add_layer", place="insert", **new, length=at(30))
    assert spans(pushed) == {
        "New": (at(20), at(50)),
        "Later": (at(70), at(120)),
        "Ground": (0, None),
        "Early": (0, at(30)),
    }
    assert pushed.scenes[0].layer("later").track("rotation").key_times == [at(70), at(90)]
    over = edit(p, "add_layer", place="overwrite", **new, length=at(30), among=["early", "later", "ground"])
    assert spans(over)["Early"] == (0, at(20))
    assert spans(over)["Later"] == (at(50), at(90))
    assert spans(over)["Ground"] == (0, at(20))
    assert spans(over)["Ground 2"] == (at(50), None)
    covered = edit(p, "add_layer", place="overwrite", **{**new, "time": 0}, length=at(35), among=["early"])
    assert "Early" not in spans(covered)
    assert covered.shelf[0].name == "Early"
    with pytest.raises(Refusal, match="needs a length"):
        edit(p, "add_layer", place="insert", **new)


def test_what_an_insert_pushes_out_is_told_with_one_edit_that_brings_it_back():
    p = project(spanned("Later", 40, 90))
    told = EDIT.validate_python(
        {
            "kind": "add_layer",
            "scene": "crossing",
            "name": "New",
            "artwork": DOT,
            "place": "insert",
            "time": 0,
            "length": at(30),
        }
    )
    after = apply(p, told)
    [note] = told.notes(p, after)
    assert "Later" in note.text
    assert apply(after, note.edit).scenes[0].frames == 120


def test_a_new_size_keeps_centres_or_scales():
    p = project(layer("A", position=positions((0, (100, 80)), (40, (300, 80)))), layer("B").changed(parent="a"))
    fields = {"width": 1280, "height": 720}
    kept = edit(p, "change_scene", **fields)
    assert kept.scenes[0].layer("a").position.spots[0] == (100, 80)
    centred = edit(p, "change_scene", **fields, fit="centre")
    assert centred.scenes[0].layer("a").position.spots[0] == (420, 260)
    scaled = edit(p, "change_scene", **fields, fit="scale").scenes[0]
    assert scaled.layer("a").position.spots == ((200, 160), (600, 160))
    assert scaled.layer("a").track("scale").value == 2
    assert scaled.layer("b").track("scale").value == 1


def test_a_new_rate_keeps_seconds_and_a_new_length_stretches_if_asked():
    p = project(gull())
    faster = edit(p, "change_scene", rate={"numerator": 50, "denominator": 1}).scenes[0]
    assert (faster.frames, faster.length) == (200, p.scenes[0].length)
    assert faster.layers[0].position.key_times == p.scenes[0].layers[0].position.key_times
    longer = edit(p, "change_scene", frames=200, stretch=True).scenes[0]
    assert longer.layers[0].position.key_times == [0, at(100)]
    assert edit(p, "change_scene", frames=200).scenes[0].layers[0].position.key_times == [0, at(50)]
    assert edit(p, "change_scene", frames=100) is p


def test_the_play_range_is_half_open_and_whole_is_none():
    p = edit(project(gull()), "set_play_range", start=at(10), end=at(30))
    assert p.scenes[0].play_range == (at(10), at(30))
    assert edit(p, "set_play_range", start=at(50)).scenes[0].play_range == (at(50), at(100))
    assert edit(p, "set_play_range").scenes[0].play_range is None
    assert edit(p, "set_play_range", start=0, end=at(100)).scenes[0].play_range is None


def test_scenes_are_duplicated_with_their_own_names_and_guides_are_locked():
    p = edit(edit(project(gull()), "duplicate_scene", id="two"), "duplicate_scene", id="three")
    assert [s.name for s in p.scenes] == ["Crossing", "Crossing copy 2", "Crossing copy"]
    p = edit(p, "set_guides", guides=[{"axis": "x", "at": 40}], locked=True)
    with pytest.raises(Refusal, match="locked"):
        edit(p, "set_guides", guides=[])


def test_reference_layers_show_at_work_and_are_not_delivered():
    from deftarc.core.evaluate import delivered

    p = edit(project(gull(), layer("Sketch")), "describe_layers", layers=["sketch"], reference=True)
    scene = p.scenes[0]
    assert evaluate(scene, [0]).leaf("sketch").shows == (0, 1)
    assert evaluate(delivered(scene), [0]).leaf("sketch").shows == (0, 0)


def test_the_shelf_keeps_deleted_artwork_once_and_can_be_cleared():
    p = edit(project(layer("A"), layer("B"), layer("C")), "delete_layers", layers=["a", "b"])
    assert [kept.name for kept in p.shelf] == ["A"]
    p = edit(p, "replace_artwork", layer="c", artwork=DOT)
    assert p.scenes[0].layer("c").artwork.kind == "ellipse"
    assert apply(p, EDIT.validate_python({"kind": "forget_shelf", "index": 0})).shelf == ()


def test_replacing_artwork_keeps_the_motion_that_it_still_has():
    p = project(
        layer("A", rotation=numbers((0, 0), (9, 9)), width=numbers((0, 10), (9, 90)), radius=numbers((0, 1), (9, 2)))
    )
    after = edit(p, "replace_artwork", layer="a", artwork=DOT).scenes[0].layer("a")
    assert after.keyed == ("rotation", "width")
    assert np.isfinite(
        evaluate(edit(p, "replace_artwork", layer="a", artwork=DOT).scenes[0], [at(4)]).leaves[0].look["bounds"]
    ).all()
