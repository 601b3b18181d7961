"""Copies in a row and round a point: where they are, when they go, and that they share what they are made of."""

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document import Carrier
from deftarc.core.document.links import Link, LinkSource
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.edit import apply
from deftarc.core.edit.beyond import phase_of
from deftarc.core.edit.copies import CopiesOf, placed
from deftarc.core.evaluate import evaluate
from tests.scenes import at, layer, numbers, positions, project


def leaf(**more):
    return layer("Leaf", position=PathTrack(value=(0.0, -90.0)), **more).changed(parent="stem")


def stem():
    return layer("Stem", artwork=Carrier(group=True), position=PathTrack(value=(300.0, 200.0)))


def copied(doc, layers, **fields):
    return apply(doc, CopiesOf(scene="crossing", layers=layers, **fields)).scenes[0]


def worlds(here, frame=0):
    return {name: rows[0] for name, rows in evaluate(here, np.array([at(frame)])).worlds.items()}


def test_a_set_goes_evenly_round_the_pivot_of_its_carrier():
    here = copied(project(stem(), leaf()), ("stem",), often=20)
    names = [each.name for each in here.layers if each.name.startswith("Leaf")]
    assert len(names) == len(set(names)) == 20
    there = worlds(here)
    leaves = np.array([there[each.id] for each in here.layers if each.name.startswith("Leaf")])
    spots = leaves[:, :2, 2] - (300, 200)
    assert np.allclose(np.hypot(*spots.T), 90)
    angles = np.sort(np.rad2deg(np.arctan2(spots[:, 1], spots[:, 0])) % 360)
    assert np.allclose(np.diff(angles), 18)
    # All of one artwork.
    assert len({each.link for each in here.layers if each.name.startswith("Leaf")}) == 1
    # In the list as one reads, the first on top.
    stems = [each.id for each in here.layers if each.group]
    turns = [here.layer(each).track("rotation").at(0)[0] % 360 for each in stems]
    assert np.allclose(turns, np.arange(20) * 18)


def test_a_row_goes_on_by_as_much_and_later_with_whole_paths():
    here = copied(project(layer("Gull", position=positions((0, (10, 20)), (30, (80, 20))))), ("gull",), often=4, round=False,
                  dx=5, dy=40, later=at(6), linked=False)  # fmt: skip
    tracks = [each.track("position") for each in here.layers]
    assert [track.key_times[0] // at(1) for track in tracks] == [0, 6, 12, 18]
    assert [track.points[0].spot for track in tracks] == [(10 + 5 * k, 20 + 40 * k) for k in range(4)]
    assert [track.points[-1].spot for track in tracks] == [(80 + 5 * k, 20 + 40 * k) for k in range(4)]
    assert {each.link for each in here.layers} == {None}


def test_turned_and_moved_each_is_where_the_matrix_says():
    here = copied(project(layer("Sign", position=PathTrack(value=(50.0, 60.0)), rotation=NumberTrack(value=7))), ("sign",),
                  often=5, round=False, turn=30, dx=10, dy=-4, centre=(0, 0))  # fmt: skip
    first = worlds(here)["sign"]
    for k, each in enumerate(here.layers):
        assert np.allclose(worlds(here)[each.id], placed((0, 0), 30 * k, 10 * k, -4 * k) @ first)


def test_what_repeats_is_out_of_step_and_plays_from_the_start():
    sway = numbers((0, 0), (20, 9), (40, 0)).changed(after=Beyond(how="repeat"))
    here = copied(project(layer("Leaf", rotation=sway)), ("leaf",), often=4, round=False, dx=20, phase=0.25)
    tracks = [each.track("rotation") for each in here.layers]
    assert [phase_of(track, 0) for track in tracks] == pytest.approx([0, 0.25, 0.5, 0.75])
    assert all(track.key_times[0] <= 0 for track in tracks)


def test_what_is_carried_and_selected_goes_along_once():
    here = copied(project(stem(), leaf()), ("leaf", "stem"), often=3)
    assert len(here.layers) == 6
    inner = copied(project(stem(), leaf()), ("leaf",), often=3, centre=(300, 200))
    spots = np.array([worlds(inner)[each.id][:2, 2] for each in inner.layers if each.name.startswith("Leaf")])
    assert np.allclose(np.hypot(*(spots - (300, 200)).T), 90)
    assert all(each.parent == "stem" for each in inner.layers if each.name.startswith("Leaf"))


def test_more_than_a_scene_holds_and_carriers_of_no_size_are_refused():
    doc = project(stem(), leaf())
    crowd = project(*(layer(f"Mote {n}") for n in range(30)))
    with pytest.raises(Refusal, match=r"1,?000 layers"):
        copied(crowd, tuple(f"mote{n}" for n in range(30)), often=60)
    flat = doc.with_scene(doc.scenes[0].with_layer(stem().changed(tracks={"scale": NumberTrack(value=0)})))
    with pytest.raises(Refusal, match="scaled to nothing"):
        copied(flat, ("leaf",), often=3)


def test_what_follows_another_is_placed_as_it_is_seen_and_goes_on_following():
    lead = layer("Lead", position=positions((0, (0, 0)), (90, (180, 0))), rotation=numbers((0, 0), (90, 45)))
    links = {
        "position": Link(source=LinkSource(layer="lead", what="position"), offset=(0.0, 50.0), lag=at(4)),
        "rotation": Link(source=LinkSource(layer="lead", what="rotation"), factor=2.0),
    }
    here = copied(project(lead, layer("Tow").changed(links=links)), ("tow",), often=3, round=False, turn=90, dx=7,
                  centre=(0, 0), time=at(40))  # fmt: skip
    for k, each in enumerate([each for each in here.layers if each.links]):
        assert np.allclose(worlds(here, 40)[each.id], placed((0, 0), 90 * k, 7 * k, 0) @ worlds(here, 40)["tow"])
        # It goes on as what it follows does, from there.
        gone = worlds(here, 70)[each.id][:2, 2] - worlds(here, 40)[each.id][:2, 2]
        assert np.allclose(gone, (60, 0))


def test_a_group_with_a_carrier_in_it_is_copied_whole_and_once():
    mast = layer("Mast", position=PathTrack(value=(0.0, -40.0))).changed(parent="stem")
    lamp = layer("Lamp", position=PathTrack(value=(0.0, -20.0))).changed(parent="mast")
    inner = layer("Inner", artwork=Carrier(group=True)).changed(parent="stem")
    mote = layer("Mote").changed(parent="inner")
    here = copied(project(stem(), mast, lamp, inner, mote), ("stem",), often=3)
    assert len(here.layers) == 15
    for name in ("Lamp", "Mote"):
        for each in here.layers:
            if each.name.startswith(name):
                root = here.ancestors(each)[-1]
                assert root.name.startswith("Stem")
                assert root.name.removeprefix("Stem") == each.name.removeprefix(name)
    # Each block stands together, above what it is a copy of.
    assert [each.name.split()[0] for each in here.layers] == ["Stem", "Mast", "Lamp", "Inner", "Mote"] * 3


def test_what_is_carried_comes_along_in_each_copy():
    twig = layer("Twig", position=PathTrack(value=(300.0, 200.0)))
    bud = layer("Bud", position=PathTrack(value=(0.0, -40.0))).changed(parent="leaf")
    made = project(twig, layer("Leaf", position=PathTrack(value=(0.0, -90.0))).changed(parent="twig"), bud)
    here = copied(made, ("twig",), often=3, linked=False)
    assert len(here.layers) == 9
    twigs = [each for each in here.layers if each.name.startswith("Twig")]
    there = worlds(here)
    for k, each in enumerate(twigs):
        (leaf_,) = [other for other in here.layers if other.parent == each.id]
        (bud_,) = [other for other in here.layers if other.parent == leaf_.id]
        assert np.allclose(there[leaf_.id], placed((300, 200), 120 * k, 0, 0) @ there["leaf"])
        assert np.allclose(there[bud_.id], placed((300, 200), 120 * k, 0, 0) @ there["bud"])
