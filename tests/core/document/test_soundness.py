"""What an edit made is read back where it is new: field by field where keys are many, not at all where only times are."""

import math

import pytest

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import RETIMED, each_with
from deftarc.core.changes.keys import move_keys
from deftarc.core.changes.rebuild import rebuilt
from deftarc.core.curves.sides import Side
from deftarc.core.document import soundness
from deftarc.core.document.keys import PathKey
from deftarc.core.document.soundness import refuse_unsound
from tests.scenes import at, layer, numbers, positions, project, side


@pytest.fixture
def before():
    return project(layer(rotation=numbers((0, 0), (10, 90), (20, 45)), position=positions((0, (0, 0)), (30, (9, 9)))))


def with_track(whole, name, track):
    scene = whole.scenes[0]
    return whole.with_scene(scene.with_layer(scene.layers[0].with_track(name, track)))


def rotation(whole):
    return whole.scenes[0].layers[0].track("rotation")


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"time": limits.FURTHEST + 1}, "beyond"),
        ({"value": math.nan}, "no number"),
        ({"value": 1e9}, "beyond 10,000,000"),
        ({"joint": "knot"}, "joint"),
        ({"leaving": Side.model_construct(reach=0.3, rise=math.inf)}, "no number"),
        ({"id": "No id"}, "id"),
    ],
)
def test_what_could_not_be_read_back_of_one_key_among_many_is_refused_by_its_lane(before, fields, words):
    keys = rotation(before).keys
    # The last one, so that times still rise; among others that are new by themselves and sound.
    fresh = [*(key.changed(value=key.value + 1) for key in keys[:-1]), keys[-1].changed(**fields)]
    made = with_track(before, "rotation", rotation(before).changed(keys=tuple(fresh)))
    with pytest.raises(Refusal, match=words) as told:
        refuse_unsound(before, made)
    assert "Gull" in str(told.value)


def test_only_what_is_new_is_read(before, monkeypatch):
    read = []
    whole = soundness._columns

    class Counting:
        def __init__(self, adapter):
            self.adapter = adapter

        def dump_json(self, values):
            read.extend(values)
            return self.adapter.dump_json(values)

        def validate_json(self, text):
            return self.adapter.validate_json(text)

    monkeypatch.setattr(soundness, "_columns", lambda kind: {n: Counting(a) for n, a in whole(kind).items()})
    keys = [key.changed(value=key.value + 1) for key in rotation(before).keys]
    refuse_unsound(before, with_track(before, "rotation", rotation(before).changed(keys=tuple(keys))))
    assert read == [1.0, 91.0, 46.0]


def test_of_keys_that_only_moved_nothing_is_read_but_when_they_are(before, monkeypatch):
    monkeypatch.setattr(soundness, "_columns", lambda kind: pytest.fail("their fields were read"))
    made = move_keys(rotation(before), {0: at(2), at(10): at(12)})
    refuse_unsound(before, with_track(before, "rotation", made))
    far = move_keys(rotation(before), {at(20): limits.FURTHEST + 1})
    assert far.__dict__[RETIMED]() is rotation(before)
    monkeypatch.undo()
    with pytest.raises(Refusal, match="Gull: Rotation would go beyond"):
        refuse_unsound(before, with_track(before, "rotation", far))


def test_what_was_changed_before_it_moved_is_read(before):
    """Moving says nothing of what it was given."""
    wrong = rotation(before).changed(keys=each_with(rotation(before).keys, "value", (0.0, math.nan, 1.0)))
    with pytest.raises(Refusal):
        refuse_unsound(before, with_track(before, "rotation", move_keys(wrong, {0: at(2)})))


def test_smooth_joints_that_move_are_mended_and_read(before):
    keys = rotation(before).keys
    middle = keys[1].changed(joint="smooth", arriving=side(0.3, 9), leaving=side(0.3, -4))
    smooth = rebuilt(rotation(before), [keys[0], middle, keys[2]])
    whole = with_track(before, "rotation", smooth)
    made = move_keys(smooth, {at(20): at(40)})
    assert made.keys[1].leaving != middle.leaving
    assert RETIMED not in made.__dict__
    refuse_unsound(whole, with_track(whole, "rotation", made))


def test_a_track_made_of_other_keys_says_what_is_wrong_with_them_together(before):
    keys = rotation(before).keys
    even = rebuilt(rotation(before), [key.changed(value=key.value + 1) for key in keys]).changed(evenly=True)
    with pytest.raises(Refusal, match="above nought at all its keys"):
        rebuilt(even, [*even.keys[:-1], even.keys[-1].changed(value=-1.0)])
    with pytest.raises(Refusal, match="rising times"):
        rebuilt(rotation(before), keys[::-1])
    with pytest.raises(Refusal, match="keys of its own kind"):
        rebuilt(rotation(before), [*keys, PathKey(time=at(30), at=0)])
    with pytest.raises(Refusal, match="at most 20,000 keys"):
        rebuilt(rotation(before), [keys[0].changed(time=n) for n in range(20_001)])
    with pytest.raises(Refusal, match="time would run back"):
        rebuilt(rotation(before), [keys[0].changed(leaving=side(1.2, 0)), keys[1].changed(arriving=side(1.2, 0))])


def test_things_with_one_other_field_share_all_else_and_stay_where_it_is_the_same(before):
    keys = rotation(before).keys
    made = each_with(keys, "time", (0, 7, 9))
    assert made[0] is keys[0]
    assert [key.time for key in made] == [0, 7, 9]
    assert made[1] == keys[1].changed(time=7)
    assert made[1].model_dump() == keys[1].changed(time=7).model_dump()
    assert keys[1].time == at(10)


def test_a_closed_path_takes_its_points_from_any_row_of_them_once():
    ring = positions((0, (0, 0)), (10, (9, 0)), (20, (9, 9)), (30, (0, 0))).changed(closed=True)
    made = rebuilt(ring, ring.keys, (point for point in ring.points))
    assert (made.points, made.closed) == (ring.points, True)
