"""What comes later than its carrier, and tails of such."""

import itertools

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.document.links import Later
from deftarc.core.edit import apply
from deftarc.core.edit.later import CarryLater, ChainLayers, LayRelations
from deftarc.core.edit.transform import MoveLayers
from deftarc.core.evaluate import evaluate, frame_times
from tests.scenes import at, floated, layer, numbers, positions, project, scene


def swinging(**more):
    return layer(
        "Mast", position=floated(), rotation=numbers((0, 0), (60, 400)), scale=numbers((0, 1), (60, 2)), **more
    )


def test_what_comes_later_is_where_its_carrier_took_it_before():
    flag = layer("Flag", position=positions(value=(40, 5)), rotation=numbers((0, 0), (80, -30))).changed(parent="mast")
    late = flag.changed(later=Later(position=at(6), rotation=at(6), scale=at(6)))
    times = frame_times(scene())[6:]
    mast = evaluate(scene(swinging()), times - at(6)).worlds["mast"]
    own = evaluate(scene(flag.changed(parent=None)), times).worlds["flag"]
    assert evaluate(scene(late, swinging()), times).worlds["flag"] == pytest.approx(mast @ own, abs=1e-9)


def test_place_turn_and_size_come_each_at_their_own_time():
    flag = layer("Flag").changed(parent="mast")
    mast = swinging(pivot_x=numbers(value=12.0), skew_x=numbers(value=10.0))
    times = np.array([30]) * at(1)

    def matrix(frame):
        return evaluate(scene(mast), [at(frame)]).worlds["mast"][0]

    late = flag.changed(later=Later(position=at(4), rotation=at(9), scale=at(2)))
    world = evaluate(scene(late, mast), times).worlds["flag"][0]
    assert world @ [12, 0, 1] == pytest.approx(matrix(26) @ [12, 0, 1])
    assert np.arctan2(world[1, 0], world[0, 0]) == pytest.approx(np.arctan2(matrix(21)[1, 0], matrix(21)[0, 0]))
    assert np.linalg.det(world) == pytest.approx(np.linalg.det(matrix(28)))
    # With one lag for all, taken apart and put together it is the same.
    even = Later(position=at(5), rotation=at(5), scale=at(5))
    nearly = Later(position=at(5), rotation=at(5), scale=at(5) + 1)
    one, other = (evaluate(scene(flag.changed(later=each), mast), times).worlds["flag"][0] for each in (even, nearly))
    assert one == pytest.approx(other, abs=1e-5)


def test_a_tail_is_one_step_and_each_comes_later_than_the_one_before():
    parts = [layer(f"Part {n}", position=positions(value=(30 * n, 0))) for n in range(4)]
    before = project(*parts, frames=120)
    head = parts[0].changed(tracks={"position": floated(), "rotation": numbers((0, 0), (60, 90))})
    before = before.with_scene(before.scenes[0].with_layer(head))
    names = tuple(part.id for part in parts)
    made = apply(before, ChainLayers(scene="crossing", layers=names, lag=at(3), time=0))
    here = made.scenes[0]
    assert [here.layer(name).parent for name in names] == [None, *names[:3]]
    at_start, now = (evaluate(p.scenes[0], [0]).worlds for p in (before, made))
    for name in names:
        assert now[name] == pytest.approx(at_start[name])
    # Where nothing moved yet each stays; later each is where the one before would have carried it three frames ago.
    times = frame_times(here)[20:]
    for carrier, name in itertools.pairwise(names):
        was, world = evaluate(here, times - at(3)).worlds[carrier], evaluate(here, times).worlds[name]
        own = np.linalg.inv(evaluate(here, [0]).worlds[carrier][0]) @ evaluate(here, [0]).worlds[name][0]
        assert world == pytest.approx(was @ own, abs=1e-9)
    # What was carried already, even the other way round, is chained anew.
    again = apply(made, ChainLayers(scene="crossing", layers=names[::-1], lag=at(1), time=at(9)))
    assert again.scenes[0].layer(names[0]).parent == names[1]


def test_a_hand_moves_what_comes_later_by_what_it_moved():
    flag = layer("Flag", position=positions(value=(40, 5))).changed(
        parent="mast", later=Later(position=at(6), rotation=at(2), scale=0)
    )
    before = project(flag, swinging())
    moved = apply(before, MoveLayers(scene="crossing", layers=("flag",), dx=30, dy=-7, time=at(31)))
    one, other = (evaluate(p.scenes[0], [at(31)]).worlds["flag"][0, :2, 2] for p in (before, moved))
    assert other - one == pytest.approx([30, -7])


def test_it_is_set_for_several_each_later_and_taken_away_again():
    flags = [layer(f"Flag {n}").changed(parent="mast") for n in range(3)]
    before = project(*flags, swinging())
    names = tuple(flag.id for flag in flags)
    made = apply(before, CarryLater(scene="crossing", layers=names, all=at(2), step=at(1)))
    assert [made.scenes[0].layer(name).later.rotation for name in names] == [at(2), at(3), at(4)]
    turned = apply(made, CarryLater(scene="crossing", layers=names[:1], rotation=0))
    assert turned.scenes[0].layer(names[0]).later == Later(position=at(2), rotation=0, scale=at(2))
    assert apply(made, CarryLater(scene="crossing", layers=names, all=0)).scenes[0] == before.scenes[0]
    with pytest.raises(Refusal, match="Nothing carries Mast"):
        apply(before, CarryLater(scene="crossing", layers=("mast",), all=at(2)))


@pytest.mark.parametrize("later", [Later(position=at(6), rotation=at(6), scale=at(6)), Later(rotation=at(12))])
def test_made_into_keys_it_moves_as_it_did(later):
    flag = layer("Flag", position=positions(value=(40, 5))).changed(parent="mast", later=later)
    before = project(flag, swinging())
    made = apply(before, LayRelations(scene="crossing", layers=("flag",), what="later"))
    flag = made.scenes[0].layer("flag")
    assert flag.later is None
    times = np.linspace(0, at(99), 300).round().astype(int)
    one, other = (evaluate(p.scenes[0], times).worlds["flag"] for p in (before, made))
    corners = np.array([[-50, -30, 1], [50, 30, 1], [50, -30, 1]])
    assert np.abs((one - other) @ corners.T).max() < 0.4
    assert sum(len(track.keys) for track in flag.tracks.values()) < 260


def test_a_chain_of_a_hundred_and_fifty_lags_is_refused_in_a_sentence():
    layers = [swinging()]
    for n in range(150):
        above = layers[-1].id
        layers.append(
            layer(f"Part {n}").changed(parent=above, later=Later(position=at(1), rotation=at(1), scale=at(1)))
        )
    with pytest.raises(ValueError, match="too many lags"):
        scene(*layers)
    shorter = scene(*layers[:60])
    assert len(evaluate(shorter, frame_times(shorter)[::10]).leaves) == 60
