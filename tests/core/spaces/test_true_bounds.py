"""What is told to be off by at most so much is, at every time and at any rate: splits, combinations, reductions."""

import re
from contextlib import suppress

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.deviation import greatest, motion_of
from deftarc.core.curves.sides import Steps
from deftarc.core.document.keys import NumberKey, PathKey
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.edit import EDIT, apply
from deftarc.core.spaces.points import point_at
from tests.scenes import at, layer, numbers, project, side

DICE = np.random.default_rng(26)


def swing_between_samples():
    """A way through far points within a few frames, with keys between them: what quarter frames step over."""
    rows = [point_at((300 * k, 400 * (k % 2)), 0.5) for k in range(6)]
    keys = (
        PathKey(time=at(10), at=0.0), PathKey(time=at(10.06), at=3.0, leaving=side(0.2, 300)),
        PathKey(time=at(10.9), at=5.0),
    )  # fmt: skip
    return PathTrack(value=(0, 0), points=tuple(rows), keys=keys)


def stepped(jump):
    rows = [point_at((0, 0), 0.5), point_at((100, 80), 0.5), point_at((240, 0), 0.5)]
    keys = (
        PathKey(time=0, at=0.0), PathKey(time=at(10), at=1.0, steps=Steps(count=3, jump=jump)),
        PathKey(time=at(21.3), at=2.0),
    )  # fmt: skip
    return PathTrack(value=(0, 0), points=tuple(rows), keys=keys)


def off_at_random(one, other, first, last):
    """The greatest distance of two motions at twenty thousand times that nobody chose."""
    times = np.concatenate(
        [DICE.uniform(first, last, 20_000).round(), np.arange(first, last, max(1, (last - first) // 4_000))]
    )
    return float(np.sqrt(((one(times) - other(times)) ** 2).sum(axis=1)).max())


def moved(made):
    """A layer's spots over time, whichever way its position is kept."""
    if not made.axes_split:
        return made.position.positions
    x, y = motion_of(made.number("position_x")), motion_of(made.number("position_y"))
    return lambda times: np.concatenate([x(times), y(times)], axis=1)


def told(edit, before, after):
    note = edit.notes(before, after)[0].text
    found = re.search(r"at most ([\d.e+-]+)", note)
    return float(found[1]) if found else 0.0


def split_and_check(track, tolerance, rate):
    before = project(layer("Arc", position=track), rate=rate)
    edit = EDIT.validate_python({"kind": "split_axes", "scene": "crossing", "layer": "arc", "split": True, "tolerance": tolerance})  # fmt: skip
    after = apply(before, edit)
    one, other = (p.scene("crossing").layer("arc") for p in (before, after))
    times = track.key_times
    off = off_at_random(moved(one), moved(other), times[0], times[-1])
    assert off <= tolerance
    assert off <= told(edit, before, after) + 1e-6
    return after


@pytest.mark.parametrize("rate", [1, 24, 60])
@pytest.mark.parametrize("tolerance", [0.1, 2.0])
def test_a_split_stays_within_its_tolerance_between_quarter_frames_too(rate, tolerance):
    from deftarc.core.base.time import FrameRate

    after = split_and_check(swing_between_samples(), tolerance, FrameRate(numerator=rate))
    back = EDIT.validate_python({"kind": "split_axes", "scene": "crossing", "layer": "arc", "split": False, "tolerance": tolerance})  # fmt: skip
    again = apply(after, back)
    one, other = (p.scene("crossing").layer("arc") for p in (after, again))
    off = off_at_random(moved(one), moved(other), at(10), at(10.9))
    assert off <= tolerance
    assert off <= told(back, after, again) + 1e-6


@pytest.mark.parametrize("jump", ["start", "end", "none", "both"])
def test_steps_along_a_bent_way_are_split_with_all_their_jumps(jump):
    split_and_check(stepped(jump), 0.2, project().scenes[0].rate)


SIDES = st.none() | st.builds(side, st.floats(0.02, 1.0), st.floats(-300, 300))


@st.composite
def paths(draw):
    count = draw(st.integers(2, 5))
    rows = [
        point_at((draw(st.floats(-800, 800)), draw(st.floats(-800, 800))), draw(st.floats(0, 1))) for _ in range(count)
    ]
    frames = np.cumsum([draw(st.floats(0.02, 9)) for _ in range(count)])
    keys = [PathKey(time=at(float(frame)), at=float(k), leaving=draw(SIDES), arriving=draw(SIDES)) for k, frame in enumerate(frames)]  # fmt: skip
    return PathTrack(value=(0, 0), points=tuple(rows), keys=tuple(keys))


@given(paths(), st.sampled_from([0.2, 1.0, 20.0]))
@settings(max_examples=12, deadline=None)
def test_any_way_is_split_within_what_is_told(track, tolerance):
    with suppress(Refusal):
        split_and_check(track, tolerance, project().scenes[0].rate)


@st.composite
def jittered(draw):
    count = draw(st.integers(8, 30))
    frames = np.cumsum([draw(st.floats(0.05, 3)) for _ in range(count)])
    return NumberTrack(value=0.0, keys=tuple(
        NumberKey(time=at(float(f)), value=draw(st.floats(-50, 50)), leaving=draw(SIDES), arriving=draw(SIDES))
        for f in frames
    ))  # fmt: skip


@given(jittered(), st.sampled_from([5.0, 40.0, 120.0]))
@settings(max_examples=12, deadline=None)
def test_a_reduction_stays_within_what_is_told(track, tolerance):
    before = project(layer("Swing", rotation=track))
    keys = [{"layer": "swing", "property": "rotation", "time": time} for time in track.key_times]
    edit = EDIT.validate_python({"kind": "reduce_keys", "scene": "crossing", "keys": keys, "tolerance": tolerance})
    try:
        after = apply(before, edit)
    except Refusal:
        return
    one, other = (motion_of(p.scene("crossing").layer("swing").number("rotation")) for p in (before, after))
    off = off_at_random(one, other, track.key_times[0], track.key_times[-1])
    assert off <= tolerance
    assert off <= told(edit, before, after) + 1e-6


def test_the_greatest_distance_is_found_between_looks():
    # A spike a thousandth of the way wide, between two straight lines.
    one = motion_of(numbers((0, 0), (100, 0)))
    other = motion_of(numbers((0, 0), (37.01, 0), (37.05, 9), (37.09, 0), (100, 0)))
    knots = [at(f) for f in (0, 37.01, 37.05, 37.09, 100)]
    off, peaks = greatest(one, other, knots)
    assert off == pytest.approx(9)
    assert min(abs(peaks - at(37.05))) <= 1
