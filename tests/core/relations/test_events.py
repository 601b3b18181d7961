"""Contacts, peaks and stops, found on generated motions of which it is known where they are."""

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.base.time import FLICKS
from deftarc.core.curves.beyond import Beyond
from deftarc.core.evaluate import Asker
from deftarc.core.evaluate.events import events_of
from tests.scenes import EASED, at, layer, numbers, scene, side

FRAME = at(1)


def of(motion, seconds, kind, least=0.5):
    found = events_of(motion, 0, round(seconds * FLICKS), FRAME, least)
    return [each for each in found if each.kind == kind]


def bounces(height, gravity, keeps, count, speed_x, rest, start):
    """A ball let go at a time, that goes sideways throughout: its motion, its contacts and their speeds, its peaks."""
    fall = np.sqrt(2 * height / gravity)
    contacts, speeds, peaks = [start + fall], [gravity * fall], []
    for _ in range(count - 1):
        up = speeds[-1] * keeps
        peaks.append(contacts[-1] + up / gravity)
        contacts.append(contacts[-1] + 2 * up / gravity)
        speeds.append(up)

    def motion(times):
        t = times / FLICKS
        y = np.where(t < start, 0.0, 0.5 * gravity * (t - start) ** 2)
        for n, (contact, speed) in enumerate(zip(contacts, speeds, strict=True)):
            up = 0.0 if rest and n == count - 1 else speed * keeps
            y = np.where(t >= contact, height - up * (t - contact) + 0.5 * gravity * (t - contact) ** 2, y)
        if rest:
            y = np.where(t >= contacts[-1], height, y)
        return np.stack([speed_x * t, y], axis=1)

    return motion, contacts, speeds, peaks


@settings(max_examples=200, deadline=None)
@given(
    height=st.floats(40, 900), gravity=st.floats(600, 8000), keeps=st.floats(0.35, 0.9), count=st.integers(1, 6),
    speed_x=st.floats(-600, 600), rest=st.booleans(), start=st.floats(0, 0.5),
)  # fmt: skip
def test_all_contacts_are_found_within_half_a_frame_and_sized_by_their_speed(
    height, gravity, keeps, count, speed_x, rest, start
):
    motion, contacts, speeds, peaks = bounces(height, gravity, keeps, count, speed_x, rest, start)
    # Nearer to each other than a quarter of a frame they are one to the eye.
    apart = 1 + int(np.argmin([*(np.diff(contacts) > 0.0085), False]))
    seen = [s for s in speeds[:apart] if s > 3e-3 * np.hypot(max(speeds), speed_x) and s > 2]
    last = contacts[len(seen) - 1]
    end = last + 0.02
    found = [each for each in of(motion, end, "contact") if each.time < (last + 0.002) * FLICKS]
    assert len(found) == len(seen)
    for event, time, speed in zip(found, contacts, seen, strict=False):
        assert abs(event.time - time * FLICKS) < FRAME / 2
        assert event.strength == pytest.approx(speed / speeds[0], rel=0.01)
    tops = [t for t, s in zip(peaks, speeds[1:], strict=False) if s * s / 2 / gravity > 2.2 and t < last]
    turned = [each.time / FLICKS for each in of(motion, end, "peak") if each.time < last * FLICKS]
    assert all(min(abs(t - each) for each in turned) < 1 / 60 for t in tops)
    assert all(min(abs(t - each) for each in peaks) < 1 / 60 for t in turned)


@settings(max_examples=200)
@given(
    freqs=st.lists(st.floats(0.1, 4), min_size=2, max_size=5), sizes=st.lists(st.floats(5, 400), min_size=5, max_size=5),
    phases=st.lists(st.floats(0, 6), min_size=5, max_size=5),
)  # fmt: skip
def test_none_is_invented_on_smooth_motion(freqs, sizes, phases):
    def motion(times):
        t = times / FLICKS
        waves = [a * np.sin(2 * np.pi * f * t + p) for f, a, p in zip(freqs, sizes, phases, strict=False)]
        return np.stack([sum(waves[::2]), sum(waves[1::2])], axis=1)

    assert not of(motion, 4, "contact")
    assert not of(motion, 4, "stop")


@settings(max_examples=200, deadline=None)
@given(
    values=st.lists(st.floats(-500, 500), min_size=3, max_size=7), gaps=st.lists(st.integers(3, 30), min_size=6, max_size=6),
    reaches=st.lists(st.floats(0.05, 0.9), min_size=7, max_size=7),
)  # fmt: skip
def test_none_is_invented_where_keys_have_slow_ends(values, gaps, reaches):
    times = list(itertools.accumulate([0, *gaps]))
    keys = [
        (t, v, {"arriving": side(r, 0.0), "leaving": side(r, 0.0)})
        for t, v, r in zip(times, values, reaches, strict=False)
    ]
    track = numbers(*keys)

    assert not of(sampled(track), times[len(values) - 1] / 30 + 0.2, "contact")


def sampled(track):
    ask = Asker(scene(layer("Bob", rotation=track)))
    return lambda moments: ask.values(ask.scene.layers[0], "rotation", moments)


def test_peaks_stops_and_what_is_none():
    sway = numbers((0, 0, EASED[0]), (20, 60, EASED[0] | EASED[1]), (40, -30, EASED[0] | EASED[1]), (60, 0, EASED[1]))
    peaks = of(sampled(sway), 3, "peak")
    assert [each.time for each in peaks] == pytest.approx([at(20), at(40)], abs=at(1) / 4)
    assert [round(each.strength, 4) for each in peaks] == [round(60 / 90, 4), 1.0]
    assert [each.way for each in peaks] == [(1.0,), (-1.0,)]
    (stop,) = of(sampled(sway), 3, "stop")
    assert stop.time == pytest.approx(at(60), abs=at(1) / 2)
    assert not of(sampled(sway), 3, "contact")
    # A launch hits nothing, a hold is a cut, and both stand still or not as they do.
    assert not of(sampled(numbers((10, 0), (30, 0), (50, 90))), 1.6, "contact")
    held = numbers((0, 0, {"hold": True}), (10, 90, {"hold": True}), (20, 20, {"hold": True}))
    assert not of(sampled(held), 3, "contact")
    assert not of(sampled(held), 3, "peak")
    # What runs into its last key hits it, and stops there.
    hit = numbers((0, 0), (30, 90))
    assert [each.time for each in of(sampled(hit), 2, "contact")] == pytest.approx([at(30)], abs=at(1) / 100)
    assert [each.time for each in of(sampled(hit), 2, "stop")] == pytest.approx([at(30)], abs=at(1) / 2)
    assert not events_of(sampled(numbers((0, 5), (30, 5))), 0, at(60), FRAME, 0.5)


def test_cycles_hit_again_and_again():
    track = numbers((0, 0), (10, 50), (20, 0)).changed(after=Beyond(how="repeat"))
    found = events_of(sampled(track), 0, at(60), FRAME, 0.5)
    assert [round(each.time / at(1), 3) for each in found] == [10, 20, 30, 40, 50]
    assert {each.kind for each in found} == {"contact"}
