"""Layers of a scene shown in another leave with their own keys, in the time of that, wherever it runs evenly."""

import numpy as np
import pytest

from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.artwork import Carrier
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.core.plain.pieces import Heap, Piece, Pieces
from tests.core.plain.test_levels import placed
from tests.scenes import at, layer, numbers, positions, scene

WIND = positions((0, (100, 100)), (10, (300, 100)), (20, (300, 300)))


def harbour(*more, frames=31):
    ship = layer("Ship", Carrier(), position=WIND, rotation=numbers((0, 0), (20, 200)))
    gull = layer("Gull", position=positions(value=(9, 40)), opacity=numbers((0, 0), (20, 1)))
    return scene(gull.changed(parent="ship"), ship, *more, frames=frames).changed(id="harbour", name="Harbour")


def shown(**art):
    told = {"width": 640, "height": 360, **art}
    return layer("In", SceneShown(scene="harbour", **told), position=WIND, rotation=numbers((0, 0), (30, -40)))


def pieces_of(outer, *inner):
    """The one thing an outer scene shows, and what is in it, by name; the frames' times."""
    scenes = {each.id: each for each in inner}
    times = frame_times(outer)
    table = evaluate(outer, times, scenes=scenes)
    (root,) = [Pieces(outer, table, 200.0, scenes.get).of(each) for each in table.roots]
    found = {}

    def walk(thing):
        branch = thing.leaf if isinstance(thing, Piece) else thing.group
        found[branch.layer] = thing
        for each in thing.children if isinstance(thing, Heap) else ():
            walk(each)

    walk(root)
    return found, times.astype(float)


def lies(found, name, outer, times):
    """Whether a thing in another's px lies where evaluation has it, at the frames where it shows."""
    branch = found[name].leaf
    first, last = branch.shows
    over = [found[each] for each in found if name.startswith(each) and each != name]
    chain = tuple(level for each in over for level in each.levels) + found[name].levels
    told = np.broadcast_to(branch.matrix, (len(times), 3, 3))[first:last]
    return np.abs(placed(chain, times[first:last]) - told)[:, :2].max() < 0.3


def test_a_layer_of_a_shown_scene_has_its_own_keys_in_the_time_outside():
    outer = scene(shown(begins=at(2), rate=0.5).changed(start=at(4), end=at(40)), frames=50)
    found, times = pieces_of(outer, harbour())
    gull = found["in/gull"]
    _home, ship, own = gull.levels
    assert ship.rotation.exact
    # 0 and 20 within are two frames before its begin, and 36 after it, at half its pace.
    assert ship.rotation.times.tolist() == [at(0), at(40)]
    assert ship.baked == own.baked == 0
    assert gull.opacity.exact
    assert gull.opacity.times.tolist() == [at(0), at(40)]
    assert lies(found, "in/gull", outer, times)


def test_so_has_one_of_a_scene_within_that():
    inner = harbour()
    between = scene(layer("Deep", SceneShown(scene="harbour", width=640, height=360, begins=at(3)), scale=numbers((0, 1), (30, 0.5))).changed(start=at(5)),
                    frames=60).changed(id="between", name="Between")  # fmt: skip
    outer = scene(layer("In", SceneShown(scene="between", width=640, height=360, rate=2.0), position=WIND), frames=25)
    found, times = pieces_of(outer, inner, between)
    gull = found["in/deep/gull"]
    assert gull.levels[1].rotation.exact
    assert gull.levels[1].rotation.times.tolist() == [at(1), at(11)]
    assert lies(found, "in/deep/gull", outer, times)
    assert found["in/deep"].levels[1].scale.exact


@pytest.mark.parametrize(
    ("how", "frames"),
    [
        ({"goes_on": "repeat"}, 80), ({"goes_on": "alternate"}, 80), ({"rate": -1.0, "begins": at(30)}, 20),
        ({"begins": at(-9), "goes_on": "hold"}, 60), ({"rate": 0.0, "begins": at(9)}, 20),
    ],
    ids=["repeats", "there and back", "backwards", "held at both ends", "stands"],
)  # fmt: skip
def test_however_it_goes_it_lies_where_it_is(how, frames):
    turning = numbers((0, 0), (7, 40)).changed(after=Beyond(how="alternate"), before=Beyond(how="repeat"))
    outer = scene(shown(**how), frames=frames)
    found, times = pieces_of(outer, harbour(layer("Float", rotation=turning, position=WIND)))
    for name in ("in/gull", "in/float"):
        assert lies(found, name, outer, times), name


def test_with_a_clock_of_its_own_or_over_it_it_is_samples():
    for outer in (
        scene(shown().changed(tracks={**shown().tracks, "clock": numbers((0, 0), (30, 1))}), frames=31),
        scene(
            shown().changed(parent="fleet"),
            layer("Fleet", Carrier(group=True), clock=numbers((0, 0), (30, 1))),
            frames=31,
        ),
    ):
        found, times = pieces_of(outer, harbour())
        assert len(found["in/gull"].levels) == 1
        assert lies(found, "in/gull", outer, times)


def test_held_at_its_end_what_moves_beyond_it_is_samples_and_what_rests_by_then_is_not():
    late = layer("Late", rotation=numbers((0, 0), (50, 90)), position=positions(value=(30, 30)))
    outer = scene(shown(), frames=60)
    found, times = pieces_of(outer, harbour(late))
    assert len(found["in/late"].levels) == 1
    assert found["in/gull"].levels[1].rotation.exact
    for name in ("in/gull", "in/late"):
        assert lies(found, name, outer, times)
