"""What promises not to change the motion does not: keys put anywhere, points at a seam, times set, axes unlinked."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.deviation import motion_of
from deftarc.core.changes.insert import insert_key
from deftarc.core.curves.sides import Automatic, Steps
from deftarc.core.document.artwork import Carrier
from deftarc.core.document.keys import NumberKey, PathKey
from deftarc.core.document.track import ColourTrack, NumberTrack, PathTrack
from deftarc.core.edit import EDIT, apply
from deftarc.core.evaluate import evaluate
from deftarc.core.spaces.points import point_at
from tests.scenes import at, layer, numbers, positions, project, side

TIMES = np.arange(at(-4), at(50), at(1) // 7)


def unmoved(one, other, within=1e-6):
    off = np.abs(motion_of(one)(TIMES.astype(float)) - motion_of(other)(TIMES.astype(float))).max()
    assert off < within, off


def overshot(first, last):
    keys = (
        {"time": 0, "value": first, "leaving": side(0.3, 1.6)},
        {"time": at(20), "value": last, "arriving": side(0.3, 0.0)},
    )
    return ColourTrack(value=first, keys=keys)


@pytest.mark.parametrize("frame", [3, 9, 11, 15, 19])
@pytest.mark.parametrize(
    ("first", "last"), [((0.9, 0.1, 0.1, 1.0), (0.1, 0.2, 0.9, 1.0)), ((1, 1, 1, 0.0), (0, 0.5, 0.2, 1.0)), ((0, 0, 0, 1.0), (1, 1, 1, 1.0))]
)  # fmt: skip
def test_a_colour_key_in_an_overshoot_changes_no_colour(first, last, frame):
    track = overshot(first, last)
    made = insert_key(track, at(frame))
    assert len(made.keys) == 3
    # What can be shown is what is compared: half of one of 255 steps of a channel would be seen by nobody.
    unmoved(track, made, 2e-3)


@pytest.mark.parametrize("frame", [-3, 45])
@pytest.mark.parametrize("tension", [-0.5, 0.0, 0.5])
def test_a_key_beyond_an_automatic_end_changes_nothing(frame, tension):
    auto = {"joint": "automatic", "automatic": Automatic(tension=tension)}
    track = numbers((0, 0, auto), (12, 60, auto), (40, 90, auto))
    unmoved(track, insert_key(track, at(frame)))


@pytest.mark.parametrize("frame", [-3, 45])
@pytest.mark.parametrize("rounded", [None, 0.5])
def test_a_key_beyond_a_path_whose_end_has_handles_changes_nothing(frame, rounded):
    rows = [point_at((0, 0), 0.5), point_at((100, 80), 0.5), point_at((240, 0), 0.5)]
    for ends in (rows, [rows[0].changed(joint="smooth", arriving=(-30.0, 9.0), leaving=(30.0, -9.0)), rows[1], rows[2].changed(joint="smooth", arriving=(-40.0, 30.0), leaving=(40.0, -30.0))]):  # fmt: skip
        track = PathTrack(value=(0, 0), points=tuple(ends), rounded=rounded, keys=(PathKey(time=0, at=0.0), PathKey(time=at(40), at=2.0)))  # fmt: skip
        unmoved(track, insert_key(track, at(frame)), 1e-3)


@pytest.mark.parametrize("jump", ["start", "end", "none", "both"])
def test_times_set_within_steps_change_nothing_or_are_refused(jump):
    rows = [point_at((0, 0)), point_at((100, 0)), point_at((150, 0)), point_at((300, 0))]
    track = PathTrack(value=(0, 0), points=tuple(rows), keys=(PathKey(time=0, at=0.0, steps=Steps(count=3, jump=jump)), PathKey(time=at(30), at=3.0)))  # fmt: skip
    before = project(layer("Arc", position=track))
    try:
        after = apply(before, EDIT.validate_python({"kind": "set_points", "scene": "crossing", "layer": "arc"}))
    except Refusal as refusal:
        assert "jumps past" in str(refusal)  # noqa: PT017
        return
    unmoved(track, after.scene("crossing").layer("arc").position, 1e-3)


SIDES = st.none() | st.builds(side, st.floats(0.02, 1.0), st.floats(-300, 300))


@given(st.lists(st.tuples(st.floats(-90, 90), SIDES, SIDES), min_size=2, max_size=5), st.integers(-3, 45))
@settings(max_examples=150, deadline=None)
def test_a_key_put_into_a_curve_kept_within_its_keys_changes_nothing(told, frame):
    keys = tuple(
        NumberKey(time=at(9 * k), value=value, arriving=one, leaving=other)
        for k, (value, one, other) in enumerate(told)
    )
    track = NumberTrack(value=0.0, keys=keys, within=True)
    unmoved(track, insert_key(track, at(frame)), 1e-5)


def closed_ring(joint="automatic"):
    spots = [(0, 0), (100, -60), (220, 10), (90, 120), (0, 0)]
    rows = tuple(point_at(spot, 0.6) for spot in spots)
    keys = (PathKey(time=0, at=0.0), PathKey(time=at(15), at=2.0), PathKey(time=at(40), at=4.0))
    return PathTrack(value=(0, 0), points=rows, keys=keys, closed=True)


@pytest.mark.parametrize("span", [0, 1, 2, 3])
@pytest.mark.parametrize("u", [0.1, 0.5, 0.9])
def test_a_point_added_beside_the_seam_of_a_closed_path_changes_nothing(span, u):
    before = project(layer("Ring", position=closed_ring()))
    edit = EDIT.validate_python({"kind": "add_path_point", "scene": "crossing", "layer": "ring", "span": span, "u": u})
    after = apply(before, edit).scene("crossing").layer("ring").position
    assert len(after.points) == 6
    unmoved(closed_ring(), after, 1e-2)


@pytest.mark.parametrize("frame", [1, 14, 16, 39])
def test_a_key_put_beside_the_seam_of_a_closed_path_changes_nothing(frame):
    unmoved(closed_ring(), insert_key(closed_ring(), at(frame)), 1e-2)


def test_unlinking_a_mirrored_even_growth_keeps_its_size():
    grown = numbers((0, 0.2, {"leaving": side(0.5, 0.1)}), (20, 3.0), (40, 0.5)).changed(evenly=True)
    before = project(layer("Sign", scale=grown).changed(scale_ratio=-0.8))
    edit = EDIT.validate_python({"kind": "link_scale", "scene": "crossing", "layer": "sign", "link": "free", "time": 0})
    after = apply(before, edit)
    times = [at(f / 7) for f in range(280)]
    one, other = (evaluate(p.scene("crossing"), times).leaf("sign").matrix for p in (before, after))
    assert np.abs(one - other).max() < 6e-4


MATRICES = {
    "uneven": {"scale_x": numbers(value=2.0), "scale_y": numbers(value=0.5)},
    "skewed": {"skew_x": numbers(value=30.0), "rotation": numbers(value=20.0)},
}


@pytest.mark.parametrize("how", MATRICES)
@pytest.mark.parametrize("back", [False, True])
def test_a_way_carried_into_an_uneven_space_stays_where_it_was_everywhere(how, back):
    """Under a carrier at rest: bent, with a floating point, with a segment that runs back, and a pace key."""
    rows = [point_at((0, 0), 0.6), point_at((100, 80), 0.6), point_at((240, 0), 0.6)]
    keys = [PathKey(time=0, at=0.0, leaving=side(0.4, 20.0)), PathKey(time=at(25), at=2.0)]
    if back:
        keys.append(PathKey(time=at(40), at=0.4, pace=True, arriving=side(0.5, -40.0)))
    track = PathTrack(value=(0, 0), points=tuple(rows), keys=tuple(keys))
    mast = layer("Mast", Carrier(), position=positions(value=(50, 20)), **MATRICES[how])
    before = project(layer("Flag", position=track), mast)
    edit = EDIT.validate_python({"kind": "set_parent", "scene": "crossing", "layers": ["flag"], "parent": "mast", "time": at(10)})  # fmt: skip
    after = apply(before, edit)
    times = [at(f / 5) for f in range(210)]
    one, other = (evaluate(p.scene("crossing"), times).leaf("flag").matrix for p in (before, after))
    assert np.abs(one[:, :2, 2] - other[:, :2, 2]).max() <= 0.1
    now = times.index(at(10))
    picture = np.abs(one[min(now, len(one) - 1)] - other[min(now, len(other) - 1)]).max()
    assert picture < 0.1
    notes = edit.notes(before, after)
    assert not notes or "keyed anew" in notes[0].text
