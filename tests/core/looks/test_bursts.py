"""Rings and particles against the formulas of docs/maths.md: when each is born, where, and what becomes of it."""

import numpy as np
import pytest

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.artwork import Carrier, Ellipse, Particles, Rings
from deftarc.core.edit import apply
from deftarc.core.edit.bursts import BurstAt, ChangeBursts
from deftarc.core.edit.move_keys import MoveKeys
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.core.spaces.chance import chance
from deftarc.core.spaces.flight import thrown
from tests.core.spaces.test_colour import colours
from tests.scenes import at, layer, numbers, positions, project, scene

SPARKS = Particles(
    burst_rate=0, burst_count=40, burst_direction=-90, burst_spread=60, burst_speed=300, burst_varied=0.5, burst_gravity=500,
    burst_drag=1.5, burst_life=0.8, burst_size=10, burst_size_end=2, burst_spin=90, seed=5,
)  # fmt: skip


def dots(*layers, frames=50, name=None, **fields):
    made = scene(*layers, frames=frames, **fields)
    leaf = evaluate(made, frame_times(made)).by_name[name or layers[0].id]
    return leaf.dots


def test_each_key_is_a_burst_as_strong_as_its_value_and_each_particle_a_formula_of_its_birth():
    found = dots(layer("Sparks", SPARKS, burst=numbers((5, 1), (30, 0.5))))
    counts = found.counts
    assert counts[4] == 0
    assert counts[5] == 40
    # Twenty frames a life of 0.8 s: the last moment of it is no more.
    assert counts[24] == 40
    assert counts[25] == 0
    assert counts[30] == 20
    told = np.abs(np.array([at(5)])).astype(np.uint64) // np.uint64(1000)
    number = np.uint64(2**32) * (told + np.uint64(1)) + np.arange(40).astype(np.uint64)
    way = np.radians(-90 + (chance(5, number, 0) - 0.5) * 60)
    speed = 300 * (1 + 0.5 * (2 * chance(5, number, 1) - 1))
    age = 10 / 25
    run = (1 - np.exp(-1.5 * age)) / 1.5
    x, y = speed * np.cos(way) * run, speed * np.sin(way) * run + 500 / 1.5 * (age - run)
    rows = found.at(15)
    assert rows[:, 0] == pytest.approx(x)
    assert rows[:, 1] == pytest.approx(y)
    assert rows[:, 2] == pytest.approx(np.full(40, 10 - 8 * age / 0.8))
    assert rows[:, 3] == pytest.approx(360 * chance(5, number, 3) + 90 * age)
    # As strong as half is half as many, half as fast.
    assert np.hypot(*(found.at(31)[:, :2]).T).max() < np.hypot(*(found.at(6)[:, :2]).T).max() * 0.6


@pytest.mark.parametrize("drag", [0.0, 1e-6, 0.4, 6.0])
def test_the_closed_form_is_what_small_steps_come_to(drag):
    spot, speed, step = np.zeros(2), np.array([200.0, -300.0]), 1e-4
    for _ in range(10_000):
        # The midpoint rule.
        half = speed + (np.array([0, 400.0]) - drag * speed) * step / 2
        spot = spot + half * step
        speed = speed + (np.array([0, 400.0]) - drag * half) * step
    x, y = thrown(*(np.array([n]) for n in (1.0, 200.0, -300.0, 400.0, drag)))
    assert (x[0], y[0]) == pytest.approx(tuple(spot), abs=1e-3)


def test_any_frame_is_the_same_in_any_order_and_alone():
    sparks = layer(
        "Sparks",
        SPARKS.changed(burst_rate=30.0),
        burst=numbers((5, 1)),
        position=positions((0, (0, 0)), (40, (300, 0))),
    )
    whole = dots(sparks)
    made = scene(sparks, frames=50)
    for frame in (37, 12, 49, 0):
        alone = evaluate(made, frame_times(made, frame, 1)).leaves[0].dots
        assert alone.at(0) == pytest.approx(whole.at(frame))
    other = dots(sparks.changed(artwork=SPARKS.changed(burst_rate=30.0, seed=6)))
    assert not np.allclose(other.at(20)[:10], whole.at(20)[:10])


def test_a_rate_adds_up_to_births_evenly_or_as_it_is_keyed():
    steady = layer("Stream", SPARKS.changed(burst_rate=10.0, burst_life=100.0))
    assert dots(steady).counts[[0, 24, 25, 49]].tolist() == [1, 10, 11, 20]
    rising = layer("Stream", SPARKS.changed(burst_life=100.0), burst_rate=numbers((0, 0), (50, 40)))
    counts = dots(rising, frames=51).counts
    # The rate's integral: 10 t² after t seconds.
    assert counts[50] == 40
    assert counts[25] == 10
    hidden = layer("Stream", steady.artwork).changed(start=at(20), end=at(30))
    assert dots(hidden).counts[[19, 20, 49]].tolist() == [0, 1, 5]


def test_what_repeats_is_the_same_a_turn_later_and_begins_ahead():
    stream = SPARKS.changed(burst_rate=12.0, repeats=1.0, ahead=2.0, burst_life=0.7)
    found = dots(layer("Stream", stream), frames=60)
    for frame in (0, 7, 24):
        assert found.at(frame) == pytest.approx(found.at(frame + 25))
    assert len(found.at(0)) > 5


def test_what_was_born_keeps_the_numbers_and_the_place_of_its_birth():
    ball = layer("Ball", Ellipse(width=20, height=20), position=positions((0, (0, 0)), (50, (500, 0)))).changed(
        parent="mast"
    )
    mast = layer("Mast", Carrier(), position=positions(value=(40, 30)), rotation=numbers(value=90))
    sparks = SPARKS.changed(
        emits="place", source="ball", burst_speed=0.0, burst_gravity=0.0, burst_life=3.0, burst_off_y=7.0
    )
    made = layer(
        "Sparks",
        sparks,
        burst=numbers((10, 1), (20, 1)),
        burst_size=numbers((0, 0), (50, 100)),
        position=positions(value=(100, 100)),
    )
    rows = dots(made, ball, mast).at(30)
    assert rows[0, :2] == pytest.approx([40 - 100, 30 + 100 - 100 + 7])
    assert rows[-1, :2] == pytest.approx([40 - 100, 30 + 200 - 100 + 7])
    assert sorted({round(each, 6) for each in rows[:, 2]}) == [
        pytest.approx(2 + 18 * (1 - 20 / 75), abs=12),
        pytest.approx(2 + 38, abs=14),
    ]


def test_particles_lie_on_a_line_or_on_anothers_outline():
    wide = dots(
        layer(
            "Line",
            SPARKS.changed(emits="line", burst_wide=200.0, burst_speed=0.0, burst_gravity=0.0),
            burst=numbers((0, 1)),
        )
    )
    x, y = wide.at(0)[:, :2].T
    assert (x >= -100).all()
    assert (x <= 100).all()
    assert np.ptp(x) > 120
    assert not y.any()
    disc = layer("Disc", Ellipse(width=100, height=100), position=positions(value=(50, 0)))
    on = SPARKS.changed(emits="outline", source="disc", burst_speed=0.0, burst_gravity=0.0)
    rows = dots(layer("On", on, burst=numbers((0, 1))), disc).at(0)
    assert np.hypot(rows[:, 0] - 50, rows[:, 1]) == pytest.approx(np.full(40, 50), abs=0.02)


def test_rings_spread_by_their_ease_and_fade_over_the_last_of_their_life():
    rings = Rings(
        ring_radius=10,
        ring_radius_end=110,
        ring_width=8,
        ring_width_end=2,
        burst_life=1.0,
        burst_fade=0.5,
        ease="straight",
        burst_colour="#ff0000",
        burst_colour_end="#ff0000",
    )
    found = dots(layer("Rings", rings, burst=numbers((0, 1), (10, 0.5))))
    assert found.at(5)[0, 2:4] == pytest.approx([30, 6.8])
    assert found.at(15)[:, 2] == pytest.approx([70, 15])
    assert found.at(20)[0, 8] == pytest.approx(0.4)
    with pytest.raises(ValueError, match="no ease"):
        Rings(ease="bouncy")


def test_a_lane_of_bursts_goes_on_as_any_does():
    track = numbers((0, 1), (5, 0.5), (10, 1))
    counts = dots(layer("Rings", Rings(burst_life=0.04), burst=track.changed(after=Beyond(how="repeat")))).counts
    assert np.flatnonzero(counts).tolist() == [0, 5, 10, 15, 20, 25, 30, 35, 40, 45]
    few = track.changed(after=Beyond(how="repeat", count=2))
    assert np.flatnonzero(dots(layer("Rings", Rings(burst_life=0.04), burst=few)).counts).tolist() == [
        0,
        5,
        10,
        15,
        20,
    ]
    clocked = layer("Rings", Rings(burst_life=0.4), burst=numbers((10, 1)), clock=numbers((0, 0), (50, 4)))
    # Twice as fast: born at half the time, and gone after half the life.
    assert np.flatnonzero(dots(clocked).counts).tolist() == [5, 6, 7, 8, 9]


def falling():
    ball = layer("Ball", Ellipse(width=40, height=40), position=positions(
        (0, (100, 0), {"leaving": {"reach": 0.5, "rise": 0}}), (10, (100, 200), {"arriving": {"reach": 0.1, "rise": 90}}),
        (20, (100, 100)), (28, (100, 200)), (34, (100, 170)), (40, (100, 200))))  # fmt: skip
    return project(ball, layer("Rings", Rings()), layer("Sparks", SPARKS))


def test_a_burst_at_each_contact_where_it_is_as_hard_as_it_hits_follows_what_it_answers():
    made = apply(falling(), BurstAt(scene="crossing", layers=("rings", "sparks"), to="ball"))
    here = made.scenes[0]
    keys = here.layer("rings").tracks["burst"].keys
    assert [key.time for key in keys] == [key.time for key in here.layer("sparks").tracks["burst"].keys]
    assert at(10) in [key.time for key in keys]
    values = [key.value for key in keys]
    assert max(values) == 1
    assert min(values) < 0.8
    table = evaluate(here, frame_times(here))
    assert table.by_name["rings"].dots.at(12)[0, :2] == pytest.approx([100, 200])
    refs = [{"layer": "ball", "property": "position", "time": at(frame)} for frame in (0, 10, 20, 28, 34, 40)]
    later = apply(made, MoveKeys(scene="crossing", keys=refs, by=at(3)))
    assert [key.time for key in later.scenes[0].layer("rings").tracks["burst"].keys] == [
        key.time + at(3) for key in keys
    ]
    with pytest.raises(Refusal, match="no rings or particles"):
        apply(made, BurstAt(scene="crossing", layers=("ball",), to="rings"))
    still = project(layer("Rings", Rings()), layer("Rock"))
    with pytest.raises(Refusal, match="no contacts"):
        apply(still, BurstAt(scene="crossing", layers=("rings",), to="rock"))


def test_a_source_that_goes_leaves_bursts_where_the_layer_is_and_choices_are_checked():
    made = apply(
        falling(), ChangeBursts(scene="crossing", layers=("sparks",), change={"source": "ball", "emits": "place"})
    )
    gone = made.with_scene(made.scenes[0].changed(layers=tuple(x for x in made.scenes[0].layers if x.id != "ball")))
    sparks = gone.scenes[0].layer("sparks").with_track("burst", numbers((0, 1)))
    assert dots(sparks).at(0)[0, :2].tolist() == [0, 0]
    for change, words in (({"source": "nobody"}, "nobody"), ({"sides": 99}, "12"), ({"seed": -1}, "0")):
        with pytest.raises(Refusal, match=words):
            apply(made, ChangeBursts(scene="crossing", layers=("sparks",), change=change))


def test_particles_show_the_artwork_of_a_layer_of_any_scene_which_comes_along_hidden():
    made = falling()
    other = scene(layer("Leaf", Ellipse(width=30, height=9)), layer("Mast", Carrier())).changed(id="quay", name="Quay")
    made = made.changed(scenes=(*made.scenes, other))

    def shaped(**change):
        return apply(made, ChangeBursts(scene="crossing", layers=("sparks",), change=change))

    found = shaped(shaped="leaf", of="quay", comes_as="came").scenes[0]
    assert found.layer("sparks").artwork.shaped == "came"
    assert (found.layers[-1].id, found.layers[-1].name, found.layers[-1].hidden) == ("came", "Leaf", True)
    assert found.layers[-1].artwork == other.layer("leaf").artwork
    assert shaped(shaped="ball", of="crossing").scenes[0].layer("sparks").artwork.shaped == "ball"
    for change, words in (
        ({"shaped": "mast", "of": "quay"}, "no artwork"),
        ({"shaped": "nobody", "of": "quay"}, "nobody"),
        ({"shaped": "leaf", "of": "nowhere"}, "nowhere"),
    ):
        with pytest.raises(Refusal, match=words):
            shaped(**change)


def test_of_a_flood_those_born_last_are_seen(monkeypatch):
    monkeypatch.setattr(limits, "MAX_DOTS", 300)
    endless = SPARKS.changed(burst_rate=5000.0, burst_life=600.0, burst_gravity=0.0, burst_speed=1.0, ahead=60.0)
    many = dots(layer("Sparks", endless), frames=50)
    assert many.counts.tolist() == [300] * 50
    rows = many.at(20)
    assert len(rows) == 300
    # Within the last moments of its life nothing fades yet: what is seen has just been born.
    assert np.hypot(rows[:, 0], rows[:, 1]).max() < 1


def test_a_long_scene_costs_what_is_born_and_shows_them_to_its_end():
    snow = SPARKS.changed(burst_rate=400.0, burst_life=2.0, ahead=2.0, burst_gravity=0.0)
    whole = dots(layer("Snow", snow), frames=7500)
    assert whole.counts[[0, 4000, 7499]] == pytest.approx([800] * 3, abs=1)
    first, last = whole.window(7000, 10_000)
    assert first <= 7000 < last
    starts, rows = whole.between(first, last)
    assert 8_000 < len(rows) <= 10_000
    at = starts[7000 - first]
    assert rows[at : starts[7001 - first]] == pytest.approx(whole.at(7000))
    assert whole.window(7499, 0) == (7499, 7500)
    assert whole.taken(np.array([7000, 3, 7000])).at(2) == pytest.approx(whole.at(7000))


def test_where_nothing_is_born_there_is_nothing():
    assert not dots(layer("Sparks", SPARKS)).counts.any()
    empty = dots(layer("Rings", Rings(source="ball", emits="place")), layer("Ball"))
    assert not any(empty.bounds(0))
    faded = dots(layer("Rings", Rings(), burst=numbers((0, 1)), burst_colour=colours((0, "#ff0000"), (9, "#0000ff"))))
    assert faded.at(0)[0, 5:].tolist() == pytest.approx([1, 0, 0, 1])
    assert FLICKS
