"""Numbers as people type them."""

import pytest

from deftarc.core.base.arithmetic import evaluate_number
from deftarc.core.base.errors import Refusal


@pytest.mark.parametrize(
    ("told", "now", "meant"),
    [
        ("120", 0, 120),
        ("-4.5", 0, -4.5),
        ("−4,5", 0, -4.5),
        ("960/2", 0, 480),
        ("(1920 - 80) * 0.25", 0, 460),
        ("+=40", 100, 140),
        ("-= 40", 100, 60),
        ("*=1.5", 100, 150),
        ("/=4", 100, 25),
        ("*=-1", 12, -12),
        ("+=10*2", 5, 25),
        ("50 %", 0, 50),
        ("1.25turn", 0, 450),
        ("90deg + 0.5turn", 0, 270),
        ("12 px", 0, 12),
        ("1e2", 0, 100),
    ],
)
def test_sums_and_changes_mean_a_number(told, now, meant):
    assert evaluate_number(told, now) == pytest.approx(meant)


@pytest.mark.parametrize(
    "told",
    ["", "plenty", "1+", "2**9", "__import__('os')", "1/0", "9" * 300, "nan", "inf", "1e999", "True"],
)
def test_what_is_no_number_is_refused_with_what_could_be_typed(told):
    with pytest.raises(Refusal):
        evaluate_number(told, 1.0)
