"""Outlines as they are written: read whole, or refused in a sentence."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.spaces.outline import Outline


@pytest.mark.parametrize(
    "data",
    ["M", "Z", "M1 2 3", "M-e5 1", "M--1 2", "M1 2 L1", "M1e999 2", "MNaN 1", "M1 2Q3 4 5 6", "M 1 2 ⅓ 4", "1 2"],
)
def test_what_is_no_outline_is_refused_in_a_sentence(data):
    with pytest.raises(Refusal, match="An outline"):
        Outline.parse(data)


def test_numbers_are_read_with_their_powers():
    assert Outline.parse("M1E2 -.5e-1L3,4Z").points.tolist() == [[100, -0.05], [3, 4]]


@given(st.text(alphabet="MLCZ0123456789.eE-+, \nx⅓", max_size=40))
def test_any_text_is_an_outline_or_a_sentence(data):
    try:
        made = Outline.parse(data)
    except Refusal:
        return
    again = Outline.parse(made.data())
    assert again.verbs == made.verbs
    assert again.points == pytest.approx(made.points, rel=1e-7)
