"""Easing text keeps what it promises: exact for one curve, to a thousandth for a run; and what is no number is none."""

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.base.arithmetic import evaluate_number, plain_number
from deftarc.core.base.errors import Refusal
from deftarc.core.changes.css import easing_text, parse_easing
from deftarc.core.changes.ease import with_shape
from deftarc.core.curves.knots import Knot
from deftarc.core.curves.sides import Side
from tests.scenes import at, numbers

TIMES = np.linspace(0, at(25), 3001)


def drawn(knots):
    return with_shape(numbers((0, 0), (25, 1)), 0, list(knots)).curve.at(TIMES)


@given(st.tuples(st.floats(0, 1), st.floats(-2, 3), st.floats(0, 1), st.floats(-2, 3)))
@settings(max_examples=80, deadline=None)
def test_one_curve_is_written_exactly(p):
    knots = [Knot(x=0, y=0, leaving=Side(reach=p[0], rise=p[1])), Knot(x=1, y=1, arriving=Side(reach=1 - p[2], rise=1 - p[3]))]  # fmt: skip
    again = parse_easing(easing_text(knots))
    for one, other in ((knots[0].leaving, again[0].leaving), (knots[1].arriving, again[1].arriving)):
        assert (one.reach, one.rise) == pytest.approx((other.reach, other.rise), abs=2e-9)


@given(st.lists(st.tuples(st.floats(0.02, 0.98), st.floats(-1, 2), st.floats(0.05, 1), st.floats(-0.6, 0.6)), min_size=1, max_size=3, unique_by=lambda row: round(row[0], 2)))  # fmt: skip
@settings(max_examples=40, deadline=None)
def test_a_run_is_written_to_a_thousandth(rows):
    rows = sorted(rows)
    inner = [Knot(x=x, y=y, leaving=Side(reach=r, rise=q), arriving=Side(reach=r, rise=-q)) for x, y, r, q in rows]
    knots = [Knot(x=0, y=0), *inner, Knot(x=1, y=1)]
    if any(b.x - a.x < 1e-3 for a, b in itertools.pairwise(knots)):
        return
    again = parse_easing(easing_text(knots))
    assert np.abs(drawn(knots) - drawn(again)).max() <= 1e-3 + 1e-6


@pytest.mark.parametrize("told", ["1_0", "1_000.5", "nan", "inf", "infinity", "0x10", "١", "1e", "", "--1", "1 2"])
def test_what_is_no_number_is_none(told):
    with pytest.raises(ValueError, match="no number"):
        plain_number(told)
    if told != "--1":  # a sum may say minus minus one
        with pytest.raises(Refusal):
            evaluate_number(told, 1.0)
    with pytest.raises(Refusal):
        parse_easing(f"cubic-bezier({told}, 0, 1, 1)")


def test_a_run_that_stands_upright_for_a_moment_is_written_to_a_thousandth_too():
    """Two reaches of 1 make a curve that rises without end in its middle."""
    upright = [Knot(x=0, y=0), Knot(x=0.5, y=0, leaving=Side(reach=1, rise=0)), Knot(x=1, y=1, arriving=Side(reach=1, rise=0))]  # fmt: skip
    again = parse_easing(easing_text(upright))
    assert np.abs(drawn(upright) - drawn(again)).max() <= 1e-3 + 1e-6
