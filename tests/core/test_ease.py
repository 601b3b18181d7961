"""Named eases: made from a strength, and recognised again."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from deftarc.core.ease import EASES, recognise, sides
from deftarc.core.errors import Refusal
from tests.scenes import side


def test_strength_moves_the_handle_from_straight_through_the_keyword_to_level():
    ease = EASES["slow-ends"]
    assert sides(ease, 0, 10) == (None, None)
    assert sides(ease, 50, 10)[0] == side(0.42, 0)
    assert sides(ease, 100, 10)[1] == side(1, 0)
    leaving, _ = sides(ease, 25, 12)
    assert leaving.reach == pytest.approx((1 / 3 + 0.42) / 2)
    assert leaving.rise == pytest.approx(2)


@given(st.sampled_from([e for e in EASES.values() if e.has_strength]), st.floats(1, 100), st.floats(-500, 500))
def test_an_ease_is_recognised_with_its_strength(ease, strength, change):
    found = recognise(*sides(ease, strength, change), False, change)
    assert found is not None
    assert found[0] == ease.id
    assert found[1] == pytest.approx(strength, abs=1e-3)


def test_what_fits_none_is_by_hand():
    assert recognise(side(0.3, 4), side(0.2, 1), False, 10) is None
    assert recognise(None, None, True, 10) == ("hold", 50)


def test_a_strength_beyond_the_scale_is_refused():
    with pytest.raises(Refusal, match="0 to 100"):
        sides(EASES["slow-start"], 101, 1)
