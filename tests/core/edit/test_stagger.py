"""Layers and lanes begun one after the other, in any order, by a step, a total or end to start."""

import itertools

import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.edit import EDIT, apply
from deftarc.core.edit.stagger import remembered
from tests.scenes import at, layer, numbers, positions, project

PLACES = {"a": (300, 10), "b": (100, 40), "c": (200, 20), "d": (400, 30)}


def rows():
    return project(*(layer(n.upper(), rotation=numbers((5, 0), (5 + 10 + k, 9)), position=positions(value=PLACES[n]))
                     for k, n in enumerate("abcd")))  # fmt: skip


def starts(**fields):
    before = rows()
    told = {"kind": "stagger", "scene": "crossing", "layers": list("dcba"), "far": at(4), **fields}
    scene = apply(before, EDIT.validate_python(told)).scene("crossing")
    return [scene.layer(n).track("rotation").key_times[0] // at(1) for n in "abcd"]


@pytest.mark.parametrize(
    ("fields", "told"),
    [({}, [5, 9, 13, 17]),
     ({"order": "reversed"}, [17, 13, 9, 5]),
     ({"order": "middle"}, [13, 5, 9, 17]),
     ({"order": "ends"}, [5, 13, 17, 9]),
     ({"order": "across"}, [13, 5, 9, 17]),
     ({"order": "down"}, [5, 17, 9, 13]),
     ({"by": "total", "far": at(30)}, [5, 15, 25, 35]),
     ({"by": "end", "far": 0}, [5, 15, 26, 38]),
     ({"by": "end", "far": -at(3)}, [5, 12, 20, 29]),
     ({"far": -at(2)}, [5, 3, 1, -1]),
     ({"by": "total", "far": at(30), "ease": "slow-stop", "strength": 100}, None)],
)  # fmt: skip
def test_layers_begin_one_after_the_other(fields, told):
    made = starts(**fields)
    if told is not None:
        assert made == told
        return
    # Ever closer together.
    gaps = [b - a for a, b in itertools.pairwise(made)]
    assert gaps == sorted(gaps, reverse=True)
    assert made[-1] - made[0] == 30


def test_a_seed_shuffles_always_the_same_way():
    assert starts(order="shuffled", seed=3) == starts(order="shuffled", seed=3)
    assert len({tuple(starts(order="shuffled", seed=n)) for n in range(9)}) > 3


def test_lanes_are_staggered_alone_and_spans_go_along_where_they_are_to():
    both = layer("A", rotation=numbers((0, 0), (10, 9)), opacity=numbers((0, 0), (10, 1)))
    lanes = [{"layer": "a", "property": name} for name in ("opacity", "rotation")]
    told = {"kind": "stagger", "scene": "crossing", "far": at(3)}
    after = apply(project(both), EDIT.validate_python({**told, "lanes": lanes})).scene("crossing").layer("a")
    assert (after.track("rotation").key_times[0], after.track("opacity").key_times[0]) == (0, at(3))
    spans = project(layer("A", rotation=numbers((0, 0))), layer("B", rotation=numbers((0, 0))).changed(end=at(40)))
    after = apply(spans, EDIT.validate_python({**told, "layers": ["a", "b"], "spans": True})).scene("crossing")
    assert (after.layer("b").start, after.layer("b").end) == (at(3), at(43))
    assert after.layer("b").track("rotation").key_times == [at(3)]


def test_one_thing_alone_is_not_staggered():
    with pytest.raises(Refusal, match="two layers or lanes"):
        starts(layers=["a"])


def again(made):
    return list(remembered(made.scene("crossing")))


def test_a_stagger_is_changed_with_what_it_was_made_with_until_something_is_moved_by_hand():
    told = {"kind": "stagger", "scene": "crossing", "layers": list("abcd"), "far": -at(2), "order": "middle"}
    made = apply(rows(), EDIT.validate_python(told))
    (edit,) = again(made)
    assert (edit.far, edit.order, edit.begins) == (-at(2), "middle", at(5))
    # Changed it begins where it began, whatever began first meanwhile.
    other = apply(made, edit.changed(far=at(4), order="listed"))
    assert [other.scene("crossing").layer(n).track("rotation").key_times[0] // at(1) for n in "abcd"] == [5, 9, 13, 17]
    assert [each.far for each in again(other)] == [at(4)]
    # It stays through other edits, and ends with one that moves a layer of it.
    turned = apply(
        other,
        EDIT.validate_python(
            {"kind": "turn_layers", "scene": "crossing", "layers": ["a"], "degrees": 9, "time": at(40), "keying": True}
        ),
    )
    assert len(again(turned)) == 1
    moved = apply(
        other, EDIT.validate_python({"kind": "move_spans", "scene": "crossing", "layers": ["b"], "by": at(1)})
    )
    assert again(moved) == []
    gone = apply(other, EDIT.validate_python({"kind": "delete_layers", "scene": "crossing", "layers": ["b"]}))
    assert again(gone) == []
