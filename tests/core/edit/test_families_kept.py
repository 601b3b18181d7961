"""Who carries whom stays when layers are grouped, or put into a group."""

import numpy as np
import pytest

from deftarc.core.document import Carrier
from deftarc.core.edit import EDIT, apply
from deftarc.core.evaluate import evaluate, frame_times
from tests.scenes import layer, numbers, positions, project


def edit(doc, kind, **fields):
    return apply(doc, EDIT.validate_python({"kind": kind, "scene": "crossing", **fields}))


def tree():
    """A stem that turns and goes, leaves on it, a drop on one of them, and a box of its own."""
    stem = layer("Stem", rotation=numbers((0, 0), (40, 120)), position=positions((0, (100, 100)), (40, (300, 160))))
    leaves = [layer(f"Leaf{n}", rotation=numbers((n, 0), (30, 40))).changed(parent="stem") for n in range(3)]
    drop = layer("Drop", position=positions((0, (5, 5)), (20, (9, 60)))).changed(parent="leaf1")
    return project(stem, *leaves, drop, layer("Box", Carrier(group=True)))


def worlds(doc):
    made = doc.scene("crossing")
    rows = evaluate(made, frame_times(made, 0, 60)).worlds
    return {name: np.broadcast_to(rows[name], (60, 3, 3)) for name in ("stem", "leaf0", "leaf1", "leaf2", "drop")}


def parents(doc):
    return {each.id: each.parent for each in doc.scene("crossing").layers}


def ids(doc):
    return [each.id for each in doc.scene("crossing").layers if each.id != "box"]


WITHIN = {"leaf0": "stem", "leaf1": "stem", "leaf2": "stem", "drop": "leaf1"}


@pytest.mark.parametrize("chosen", [None, ("stem", "drop"), ("leaf0", "stem"), ("stem",)])
def test_a_group_keeps_who_carries_whom_and_every_frame(chosen):
    before = tree()
    made = edit(before, "group_layers", layers=list(chosen or ids(before)), id="crew", name="Crew", time=0)
    assert parents(made)["stem"] == "crew"
    assert {name: parents(made)[name] for name in WITHIN} == WITHIN
    for name, rows in worlds(before).items():
        assert np.allclose(worlds(made)[name], rows, atol=1e-6), name


def test_so_does_what_is_put_into_one_and_moved_within_it():
    before = tree()
    made = edit(before, "order_layers", layers=ids(before), group="box", regroup=True, time=0)
    assert parents(made)["stem"] == "box"
    assert {name: parents(made)[name] for name in WITHIN} == WITHIN
    again = edit(made, "order_layers", layers=["leaf2"], before="leaf0", group="box", regroup=True, time=0)
    assert parents(again)["leaf2"] == "stem"
    for name, rows in worlds(before).items():
        assert np.allclose(worlds(again)[name], rows, atol=1e-6), name


def test_those_that_nobody_else_carries_come_apart_as_ever():
    before = tree()
    made = edit(before, "group_layers", layers=["leaf0", "leaf2"], id="crew", name="Crew", time=0)
    assert parents(made)["leaf0"] == parents(made)["leaf2"] == "crew"
    assert parents(made)["crew"] == "stem"
