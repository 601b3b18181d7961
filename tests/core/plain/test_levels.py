"""What moves layers, as plain lanes: put together they are the matrices that evaluation gives."""

import numpy as np
import pytest

from deftarc.core.base.matrices import compose
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.artwork import Carrier
from deftarc.core.document.links import Later, Link, LinkSource
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.core.plain.levels import Levels
from tests.core.plain.test_lanes import shown
from tests.scenes import at, layer, numbers, positions, scene


def placed(levels, times):
    """The matrices of levels over one another, as a player makes them of their keys."""
    out = np.broadcast_to(np.eye(3), (len(times), 3, 3))
    for level in levels:
        position, scale = (
            np.concatenate([shown(each, times) for each in level.split[name]], axis=1)
            if level.split and name in level.split else shown(lane, times)
            for name, lane in (("position", level.position), ("scale", level.scale))
        )  # fmt: skip
        if level.travel is not None:
            position = walked(level.travel, times)
        out = out @ compose(
            position, shown(level.rotation, times)[:, 0], scale, shown(level.skew, times), shown(level.pivot, times)
        )
    return out


def walked(travel, times):
    """Positions at distances along spans, measured finely."""
    u = np.linspace(0, 1, 4001)[:, None, None]
    p = travel.spans
    dots = (1 - u) ** 3 * p[:, 0] + 3 * u * (1 - u) ** 2 * p[:, 1] + 3 * u**2 * (1 - u) * p[:, 2] + u**3 * p[:, 3]
    line = dots.transpose(1, 0, 2).reshape(-1, 2)
    along = np.concatenate(([0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))))
    distance = shown(travel.distance, times)[:, 0]
    return np.stack([np.interp(distance, along, line[:, k]) for k in (0, 1)], axis=1)


WIND = positions((0, (100, 100)), (10, (300, 100)), (20, (300, 300)))


def ways():
    """Scenes in which something is moved in each of the ways there are."""
    ship = layer("Ship", position=WIND, rotation=numbers((0, 0), (20, 200)))
    yield "keys", scene(ship, frames=31)
    yield "split", scene(layer("Ship", position_x=numbers((0, 0), (9, 50)), position_y=numbers((3, 5), (20, 90))), frames=31)  # fmt: skip
    yield "free", scene(layer("Ship", scale_x=numbers((0, 1), (9, 2)), scale_y=numbers((3, 1), (20, 0.4))), frames=31)  # fmt: skip
    yield "area", scene(layer("Ship", scale=numbers((0, 1), (20, 1.7))).changed(scale_link="area"), frames=31)
    yield "linked", scene(layer("Ship", scale=numbers((0, 1), (20, 1.7))).changed(scale_ratio=0.5), frames=31)
    yield "skewed", scene(layer("Ship", skew_x=numbers((0, 0), (20, 30)), skew_y=numbers((5, 0), (12, -20)), pivot_x=numbers((0, 0), (20, 40))), frames=31)  # fmt: skip
    yield (
        "carried",
        scene(layer("Gull", position=positions((0, (10, 0)), (30, (90, 40)))).changed(parent="ship"), ship, frames=31),
    )
    yield (
        "later",
        scene(
            layer("Gull", position=positions(value=(30, 0))).changed(
                parent="ship", later=Later(position=at(4), rotation=at(4), scale=at(4))
            ),
            ship,
            frames=31,
        ),
    )
    yield "following", scene(
        layer("Gull", position=positions(value=(5, 5))).changed(links={"rotation": Link(source=LinkSource(layer="ship", what="rotation"))}), ship, frames=31,
    )  # fmt: skip
    yield "along", scene(layer("Ship", position=WIND, along=numbers(value=1)), frames=31)
    yield "stretched", scene(layer("Ship", position=WIND, stretch=numbers(value=0.5)), frames=31)
    clocked = layer("Fleet", Carrier(group=True), clock=numbers((0, 0), (15, 1.2), (30, 0.4)))
    yield "clocked", scene(clocked, ship.changed(parent="fleet"), frames=31)
    yield "growing", scene(layer("Ship", scale=numbers((0, 0.2), (20, 3)).changed(evenly=True)), frames=31)
    yield "stepping", scene(layer("Ship", rotation=numbers((0, 0, {"hold": True}), (20, 90))), frames=31)


WAYS = dict(ways())


@pytest.mark.parametrize("name", WAYS)
def test_levels_put_together_are_where_a_layer_is(name):
    made = WAYS[name]
    times = frame_times(made)
    table = evaluate(made, times)
    levels = Levels(made, times, 500.0)
    for each in made.layers:
        told = placed(levels.over(each), times.astype(np.float64))
        truth = np.broadcast_to(table.worlds[each.id], told.shape)
        corners = np.array([[0, 0, 1], [250, 0, 1], [0, 250, 1]]).T
        assert np.abs(told @ corners - truth @ corners).max() < 0.12, each.id


@pytest.mark.parametrize("name", ["keys", "split", "free", "linked", "carried", "stepping"])
def test_what_is_keys_and_nothing_else_leaves_with_its_own_keys(name):
    made = WAYS[name]
    levels = Levels(made, frame_times(made), 500.0)
    for each in made.layers:
        assert all(level.baked == 0 for level in levels.over(each))
        count = sum(len(track.keys) for track in each.tracks.values())
        told = levels.of(each)
        split = [lane for pair in (told.split or {}).values() for lane in pair]
        kept = [lane for lane in told.lanes if lane.moves and lane.exact] + split
        assert sum(len(lane.times) for lane in kept) == count


def test_a_loop_that_turns_back_in_a_hold_shows_the_same_at_each_frame():
    swing = numbers((2, 10), (8, 50, {"hold": True}), (11, 90)).changed(after=Beyond(how="alternate"))
    made = scene(layer("Ship", position=WIND, rotation=swing), frames=31)
    times = frame_times(made)
    (level,) = Levels(made, times, 500.0).over(made.layers[0])
    truth = evaluate(made, times).worlds["ship"]
    assert np.abs(placed((level,), times.astype(np.float64)) - truth).max() < 0.12
    # At the moment it turns it is where it turns, and nowhere else a frame on either side.
    assert level.rotation.at(times[10:13].astype(np.float64))[:, 0].tolist() == [50, 90, 50]


def test_what_follows_or_is_led_by_a_clock_leaves_as_samples():
    for name in ("later", "following", "clocked", "stretched"):
        made = WAYS[name]
        levels = Levels(made, frame_times(made), 500.0)
        assert any(level.baked for each in made.layers for level in levels.over(each)), name
