"""At which frames of the scene keys show whose time a clock tells; what is brought to such a frame shows there."""

import numpy as np
import pytest

from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.artwork import Carrier
from deftarc.core.edit import apply
from deftarc.core.edit.clocks import FreezeClock
from deftarc.core.edit.markers import KeysToMarkers, SetMarkers
from deftarc.core.evaluate.clocks import clocks_of, inner_times, key_frames, shown_at
from tests.scenes import at, layer, numbers, project, scene

GO_ON = {"before": Beyond(how="continue"), "after": Beyond(how="continue")}


HALF = numbers((0, 0), (100, 2)).changed(**GO_ON)
BACK = numbers((0, 4), (100, 0)).changed(**GO_ON)
FROZEN = numbers((0, 0), (40, 1.6, {"hold": True}), (60, 1.6), (100, 3.2)).changed(**GO_ON)
AGAIN = numbers((0, 0), (20, 0.8)).changed(after=Beyond(how="repeat"))


@pytest.mark.parametrize(
    ("told", "frames"),
    [
        (HALF, [20, 60]),
        (BACK, [70, 90]),
        (FROZEN, [10, 30]),
        (AGAIN, [10, 30, 50, 70, 90]),
    ],
)
def test_a_key_shows_where_the_clock_passes_its_time(told, frames):
    swing = layer("Swing", rotation=numbers((10, 0), (30, 40)), clock=told)
    made = scene(swing)
    found = set(key_frames(made, made.layer("swing")))
    # The clock's own keys lie in the scene's time.
    assert found == {*frames, *(time // at(1) for time in told.key_times)}


def test_what_is_rested_on_shows_from_where_the_clock_gets_there_and_what_is_leapt_over_never():
    swing = layer("Swing", rotation=numbers((40, 0), (50, 9)), clock=FROZEN)
    every = np.arange(100)
    told = clocks_of(scene(swing), swing)
    numbers_, frames = shown_at(told, np.array([at(40), at(50)]), every, at(1))
    assert list(zip(numbers_.tolist(), frames.tolist(), strict=True)) == [(0, 40), (1, 70)]
    leaps = layer("Swing", rotation=numbers((30, 0)), clock=numbers((0, 0, {"hold": True}), (20, 2), (60, 3.6)))
    assert shown_at(clocks_of(scene(leaps), leaps), np.array([at(30)]), every, at(1))[1].tolist() == []


def test_a_groups_clock_tells_where_its_members_keys_show():
    crew = layer("Crew", Carrier(group=True), clock=HALF)
    swing = layer("Swing", rotation=numbers((10, 0), (30, 40))).changed(parent="crew")
    made = scene(crew, swing)
    assert key_frames(made, made.layer("swing")) == [20, 60]


def test_keys_brought_to_markers_show_there():
    swing = layer("Swing", rotation=numbers((10, 0), (30, 40)), clock=HALF)
    made = apply(project(swing), SetMarkers(scene="crossing", markers=({"id": "m", "time": at(64)},)))
    keys = [{"layer": "swing", "property": "rotation", "time": at(30)}]
    made = apply(made, KeysToMarkers(scene="crossing", keys=keys)).scene("crossing")
    assert made.layer("swing").track("rotation").key_times == [at(10), at(32)]
    assert 64 in key_frames(made, made.layer("swing"))


def test_a_clock_in_another_one_is_frozen_where_that_shows_it_for_as_long_as_is_seen():
    crew = layer("Crew", Carrier(group=True), clock=HALF)
    swing = layer("Swing", rotation=numbers((0, 0), (50, 500))).changed(parent="crew")
    made = apply(project(crew, swing), FreezeClock(scene="crossing", layers=("swing",), time=at(30), length=at(20)))
    made = made.scene("crossing")
    told = inner_times(clocks_of(made, made.layer("swing")), np.arange(0, 100, 10) * float(at(1))) / at(1)
    assert told.tolist() == pytest.approx([0, 5, 10, 15, 15, 15, 20, 25, 30, 35])
