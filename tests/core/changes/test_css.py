"""Eases as CSS text, both ways."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.css import easing_text, parse_easing
from deftarc.core.changes.ease import taken, with_shape
from deftarc.core.curves.knots import Knot
from deftarc.core.curves.sides import Side, Steps
from tests.scenes import at, numbers

reach = st.floats(0, 1)
rise = st.floats(-3, 3)


@given(reach, rise, reach, rise)
def test_a_cubic_bezier_is_read_as_it_is_written(x1, y1, x2, y2):
    text = f"cubic-bezier({x1:.4f}, {y1:.4f}, {x2:.4f}, {y2:.4f})"
    first, last = parse_easing(text)
    assert first.leaving.reach == pytest.approx(x1, abs=1e-4)
    assert 1 - last.arriving.rise == pytest.approx(y2, abs=1e-4)
    again = parse_easing(easing_text([first, last]))
    assert again[0].leaving.rise == pytest.approx(first.leaving.rise, abs=1e-4)


@pytest.mark.parametrize(
    ("told", "written"),
    [
        ("linear", "linear"),
        ("EASE-IN", "cubic-bezier(0.42, 0, 1, 1)"),
        ("animation-timing-function: ease-out;", "cubic-bezier(0, 0, 0.58, 1)"),
        ("step-start", "steps(1, jump-start)"),
        ("steps(5)", "steps(5)"),
        ("steps( 3 , jump-both )", "steps(3, jump-both)"),
        ("linear(0, 1)", "linear"),
        ("linear(0, 0.2 50%, 1)", "linear(0 0%, 0.2 50%, 1 100%)"),
        # The standard's rules: missing places are spread evenly, none falls back.
        ("linear(0, .1, .2, 1)", "linear(0 0%, 0.1 33.333333%, 0.2 66.666667%, 1 100%)"),
        ("linear(0, 0.5 60%, 0.7 20%, 1)", "linear(0 0%, 0.5 60%, 0.7 60%, 1 100%)"),
        ("linear(0, 0.5 25% 75%, 1)", "linear(0 0%, 0.5 25%, 0.5 75%, 1 100%)"),
    ],
)
def test_the_standards_forms_are_read(told, written):
    assert easing_text(parse_easing(told)) == written


@pytest.mark.parametrize(
    ("told", "why"),
    [
        ("", "no CSS easing function"),
        ("bouncy", "no CSS easing function"),
        ("cubic-bezier(0.1, 0.2, 0.3)", "four numbers, not 3"),
        ("cubic-bezier(1.2, 0, 0, 1)", "between 0 and 1"),
        ("cubic-bezier(a, 0, 0, 1)", "is no number"),
        ("cubic-bezier(0, nan, 0, 1)", "is no number"),
        ("steps(0)", "whole number"),
        ("steps(2.5)", "whole number"),
        ("steps(1, jump-none)", "from 2"),
        ("steps(3, sideways)", "jump-start"),
        ("linear(0)", "stops here, not 1"),
        ("linear(0.5, 1)", "begins with 0"),
        ("linear(0, 1 2 3, 1)", "no stop"),
        ("spline(1)", "no easing function"),
    ],
)
def test_what_is_no_ease_is_refused_with_how_to_write_one(told, why):
    with pytest.raises(Refusal, match=why):
        parse_easing(told)


def test_a_bent_run_is_told_as_linear_to_a_thousandth():
    run = numbers(
        (0, 0, {"leaving": Side(reach=0.4, rise=0)}), (10, 120, {"arriving": Side(reach=0.4, rise=0)}), (30, 100)
    )
    text = easing_text(taken(run, 0, 2))
    back = with_shape(numbers((0, 0), (30, 100)), 0, parse_easing(text))
    times = np.linspace(at(0), at(30), 1001)
    assert np.abs(back.curve.at(times) - run.curve.at(times)).max() < 100 * 0.0012
    assert 6 < text.count(",") < 60


def test_steps_inside_a_run_become_jumps():
    run = [Knot(x=0, y=0, steps=Steps(count=2)), Knot(x=0.5, y=0.6), Knot(x=1, y=1)]
    assert easing_text(run) == "linear(0 0%, 0 25%, 0.3 25%, 0.3 50%, 0.6 50%, 1 100%)"


def test_a_run_that_changes_nothing_has_no_ease():
    with pytest.raises(Refusal, match="one value"):
        taken(numbers((0, 5), (10, 9), (20, 5)), 0, 2)
