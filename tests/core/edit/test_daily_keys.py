"""Keys under daily hands: what is locked stays, no key eats another unasked, keys between frames are met and mended."""

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document.artwork import Carrier
from deftarc.core.edit import EDIT, Locked, apply
from deftarc.core.evaluate import evaluate, frame_times
from tests.scenes import at, gull, layer, numbers, positions, project, side


def edit(kind, **fields):
    return EDIT.validate_python({"kind": kind, "scene": "crossing", **fields})


def key(frame, layer="swing", name="rotation"):
    return {"layer": layer, "property": name, "time": at(frame)}


@pytest.fixture
def swing():
    return project(layer("Swing", rotation=numbers((0, 0), (10, 40), (12, 60), (30, 90))), gull())


def times(made, name="rotation", of="swing"):
    return [round(time / at(1), 6) for time in made.scene("crossing").layer(of).track(name).key_times]


LOCKED = [
    ("set_value", {"layer": "swing", "property": "rotation", "told": "9", "time": 0}),
    ("move_keys", {"keys": [key(10)], "by": at(3)}),
    ("delete_keys", {"keys": [key(10)]}),
    ("delete_layers", {"layers": ["gull", "swing"]}),
    ("order_layers", {"layers": ["swing"], "before": None}),
    ("move_layers", {"layers": ["gull", "swing"], "dx": 4, "dy": 0, "time": 0}),
    ("change_artwork", {"layer": "swing", "change": {"fill": "#112233"}}),
    ("set_parent", {"layers": ["swing"], "parent": "gull", "time": 0}),
    ("trim_span", {"layers": ["swing"], "end": at(40)}),
    ("ease_keys", {"keys": [key(0), key(10)], "ease": "slow-ends"}),
    ("copy_numbers", {"source": "gull", "layers": ["swing"], "time": 0}),
]


@pytest.mark.parametrize(("kind", "fields"), LOCKED)
def test_what_is_locked_stays_as_it_is_and_the_refusal_offers_to_unlock(swing, kind, fields):
    locked = apply(swing, edit("describe_layers", layers=["swing"], locked=True))
    with pytest.raises(Locked, match="Swing is locked") as refused:
        apply(locked, edit(kind, **fields))
    assert refused.value.offer == "Unlock Swing"
    again = apply(locked, refused.value.unlock)
    assert apply(again, edit(kind, **fields)) != again


def test_a_locked_group_locks_what_is_in_it(swing):
    made = apply(swing, edit("group_layers", layers=["swing"], id="crew", name="Crew", time=0))
    made = apply(made, edit("describe_layers", layers=["crew"], locked=True))
    with pytest.raises(Locked, match="Swing is in Crew, which is locked") as refused:
        apply(made, edit("move_keys", keys=[key(10)], by=at(2)))
    assert refused.value.unlock.layers == ("crew",)
    # Beside it all goes on, and the scene's own settings with all that is in it.
    apply(made, edit("move_layers", layers=["gull"], dx=3, dy=3, time=0))
    assert apply(made, edit("change_scene", frames=50, stretch=True)) != made


def test_a_key_moved_onto_another_stands_beside_it(swing):
    move = edit("move_keys", keys=[key(0)], by=at(10))
    made = apply(swing, move)
    assert times(made) == [9, 10, 12, 30]
    assert move.selects(swing, made) == [KeyRef(layer="swing", property="rotation", time=at(9))]
    # A nudge against a neighbour passes it: back where it was would be no move.
    made = apply(swing, edit("move_keys", keys=[key(12)], by=at(-2)))
    assert times(made) == [0, 10, 11, 30]
    beside = project(layer("Swing", rotation=numbers((10, 40), (11, 60), (12, 70))))
    assert times(apply(beside, edit("move_keys", keys=[key(10)], by=at(1)))) == [11, 12, 13]


def test_a_key_replaces_another_when_the_drop_says_so(swing):
    made = apply(swing, edit("move_keys", keys=[key(0)], by=at(10), onto="replace"))
    assert times(made) == [10, 12, 30]
    assert made.scene("crossing").layer("swing").number("rotation").keys[0].value == 0


def test_several_keys_keep_their_distances_beside_what_stays(swing):
    made = apply(swing, edit("move_keys", keys=[key(10), key(12)], by=at(18)))
    # 28 and 30: the second would land on a key, so both stop a frame before.
    assert times(made) == [0, 27, 29, 30]


def test_stretched_keys_come_to_stand_side_by_side(swing):
    move = edit("stretch_keys", keys=[key(10), key(12)], about=0, longer=0.1)
    made = apply(swing, move)
    assert len(times(made)) == 4
    assert times(made)[1] < times(made)[2]
    assert all(time == round(time) for time in times(made))
    made = apply(swing, edit("stretch_keys", keys=[key(10), key(12)], about=0, longer=2.5))
    # 25 and 30 become 25 and the free frame beside 30.
    assert times(made) == [0, 25, 29, 30]


@pytest.fixture
def between():
    return project(
        layer("Swing", rotation=numbers((0, 0), (10.3, 40), (30, 90)), position=positions((0, (0, 0)), (9.8, (90, 0))))
    )


def test_a_key_within_half_a_frame_is_that_frames_key(between):
    made = apply(between, edit("set_value", layer="swing", property="rotation", told="55", time=at(10), keying=True))
    assert times(made) == [0, 10.3, 30]
    assert made.scene("crossing").layer("swing").number("rotation").keys[1].value == 55
    made = apply(between, edit("set_keys", layers=["swing"], properties=["rotation"], time=at(10)))
    assert times(made) == [0, 10.3, 30]
    made = apply(between, edit("move_layers", layers=["swing"], dx=5, dy=5, time=at(10), keying=True))
    assert times(made, "position") == [0, 9.8]
    made = apply(between, edit("put_key", layer="swing", property="rotation", time=at(10), value=12))
    assert times(made) == [0, 10.3, 30]
    made = apply(between, edit("set_keys", layers=["swing"], properties=["rotation"], time=at(11)))
    assert times(made) == [0, 10.3, 11, 30]


def test_keys_are_put_on_frames_and_the_deviation_is_told(between):
    put = edit("keys_on_frames", keys=[key(10.3)])
    made = apply(between, put)
    assert times(made) == [0, 10, 30]
    told = put.notes(between, made)[0].text
    # Half-way the slope is 40/10.3 a frame before, 50/19.7 after: 0.3 of a frame is at most 0.3 · 40/10.3 ≈ 1.165.
    assert "at most 1.17 °" in told or "at most 1.16 °" in told
    with pytest.raises(Refusal, match="whole frames already"):
        apply(made, edit("keys_on_frames", keys=[key(10)]))


def test_a_bounce_tells_of_its_keys_between_frames_and_offers_to_put_them_on_frames():
    swing = project(layer("Swing", rotation=numbers((0, 0), (23, 90))))
    bounce = edit("make_craft", keys=[key(0), key(23)], craft={"kind": "bounce"})
    made = apply(swing, bounce)
    [note] = bounce.notes(swing, made)
    assert "between frames" in note.text
    assert note.offer == "Put on frames"
    mended = apply(made, note.edit)
    assert all(time == round(time) for time in times(mended))
    assert len(times(mended)) == len(times(made))


def test_setting_times_offers_to_put_them_on_frames():
    from tests.scenes import floated

    arc = project(layer("Arc", position=floated()))
    put = edit("set_points", layer="arc")
    made = apply(arc, put)
    assert put.notes(arc, made)[0].offer == "Put on frames"


def test_numbers_typed_for_several_keys_change_all_of_them(swing):
    others = [key(12), key(30), key(40, "gull")]
    made = apply(swing, edit("type_key", **key(10), told="25", others=others))
    track = made.scene("crossing").layer("swing").number("rotation")
    assert [k.value for k in track.keys] == [0, 25, 25, 25]
    assert made.scene("crossing").layer("gull").number("rotation").keys[1].value == 25
    made = apply(swing, edit("type_key", **key(10), told="+=5", others=others))
    assert [k.value for k in made.scene("crossing").layer("swing").number("rotation").keys] == [0, 45, 65, 95]
    # What has no such number is left alone.
    made = apply(swing, edit("type_key", **key(10), told="25", others=[key(50, "gull", "position")]))
    assert made.scene("crossing").layer("gull") == swing.scene("crossing").layer("gull")


@pytest.mark.parametrize("share", [0.1, 0.35, 0.5, 0.8])
def test_a_curve_dragged_goes_on_lying_under_the_hand(share):
    bent = numbers((0, 0, {"leaving": side(0.3, 10)}), (20, 100, {"arriving": side(0.6, 40)}))
    before = project(layer("Swing", rotation=bent))
    made = apply(before, edit("bend_segment", **{**key(0), "share": share, "lift": 30}))
    one, other = (p.scene("crossing").layer("swing").number("rotation") for p in (before, made))
    moment = share * at(20)
    assert other.value_at(moment) - one.value_at(moment) == pytest.approx(30, abs=1e-6)
    assert [k.value for k in other.keys] == [0, 100]
    if share in (0.35, 0.5):
        return
    near, far = (1, 0) if share > 0.5 else (0, 1)
    lifts = [abs(other.keys[0].leaving.rise - 10), abs(other.keys[1].arriving.rise - 40)]
    assert lifts[near] >= lifts[far] - 1e-9


def test_a_segment_that_goes_in_steps_has_nothing_to_bend():
    held = project(layer("Swing", rotation=numbers((0, 0, {"hold": True}), (20, 100))))
    with pytest.raises(Refusal, match="steps"):
        apply(held, edit("bend_segment", **{**key(0), "share": 0.5, "lift": 30}))


def corners(made, name):
    """A layer's corners in scene px at frame 0."""
    scene = made.scene("crossing")
    matrix = evaluate(scene, frame_times(scene)).leaf(name).matrix[0]
    return (matrix @ np.array([[-50, -30, 1], [50, 30, 1]]).T).T[:, :2]


@pytest.mark.parametrize("parent", [None, "mast"])
def test_several_layers_scale_by_the_same_factors_about_one_pivot(parent):
    mast = layer("Mast", Carrier(), position=positions(value=(40, 10)), rotation=numbers(value=30))
    layers = [layer("One", position=positions(value=(100, 100))), layer("Two", position=positions(value=(300, 180)))]
    before = project(*(each.changed(parent=parent) for each in layers), mast)
    pivot = np.mean(corners(before, "one"), axis=0)
    start, to = pivot + (40, 40), pivot + (60, 60)
    made = apply(before, edit("scale_layers", layers=["one", "two"], start=list(start), to=list(to), time=0))
    for name in ("one", "two"):
        assert corners(made, name) == pytest.approx(pivot + 1.5 * (corners(before, name) - pivot), abs=1e-6)
