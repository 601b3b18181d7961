"""Named eases: made from a strength, and recognised again."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.curves.sides import Steps
from deftarc.core.document.eases import EASES, recognise, sides
from deftarc.core.document.keys import KeyBase
from tests.scenes import at, numbers, side


def key(**fields):
    return KeyBase(time=0, **fields)


def test_strength_moves_the_handle_from_straight_through_the_keyword_to_level():
    ease = EASES["slow-ends"]
    assert sides(ease, 0, 10) == (None, None)
    assert sides(ease, 50, 10)[0] == side(0.42, 0)
    assert sides(ease, 100, 10)[1] == side(1, 0)
    leaving, _ = sides(ease, 25, 12)
    assert leaving.reach == pytest.approx((1 / 3 + 0.42) / 2)
    assert leaving.rise == pytest.approx(2)


# A subnormal change has hardly a digit left to tell a strength by.
CHANGES = st.floats(-500, 500, allow_subnormal=False)


@given(st.sampled_from([e for e in EASES.values() if e.has_strength]), st.floats(1, 100), CHANGES)
def test_an_ease_is_recognised_with_its_strength(ease, strength, change):
    leaving, arriving = sides(ease, strength, change)
    found = recognise(key(leaving=leaving), key(arriving=arriving), change)
    if change == 0 and ease.past:
        # Past nothing there is nothing to tell by.
        return
    assert found is not None
    assert found.ease == ease.id
    assert found.strength == pytest.approx(strength, abs=1e-3)


def test_what_fits_none_is_by_hand():
    assert recognise(key(leaving=side(0.3, 4)), key(arriving=side(0.2, 1)), 10) is None
    assert recognise(key(hold=True), key(), 10).ease == "hold"
    assert recognise(key(steps=Steps(count=7)), key(), 10).steps.count == 7
    assert recognise(key(joint="automatic"), key(), 10) is None


@pytest.mark.parametrize(("strength", "past"), [(1, 0.002), (25, 0.05), (50, 0.1), (75, 0.55), (100, 1.0)])
def test_overshoot_goes_past_by_what_its_strength_says(strength, past):
    leaving, arriving = sides(EASES["overshoot"], strength, 80)
    curve = numbers((0, 10, {"leaving": leaving}), (25, 90, {"arriving": arriving})).curve
    dense = curve.at(np.linspace(at(0), at(25), 20_001))
    assert dense.max() - 90 == pytest.approx(past * 80, rel=1e-4)
    [(_, peak)] = curve.extremes()
    assert peak == pytest.approx(90 + past * 80, abs=1e-6)


def test_wind_up_is_overshoot_turned_round():
    leaving, arriving = sides(EASES["wind-up"], 50, 80)
    assert (arriving, leaving) == sides(EASES["overshoot"], 50, 80)


def test_a_strength_beyond_the_scale_is_refused():
    with pytest.raises(Refusal, match="0 to 100"):
        sides(EASES["slow-start"], 101, 1)
