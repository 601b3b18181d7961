"""Handles in the value curve: where they are drawn, and where they truly are."""

import pytest

from deftarc.core.curves.sides import Side
from deftarc.web.panels.axis import TimeAxis, ValueAxis
from deftarc.web.panels.pair.handles import handles
from tests.scenes import at, numbers


def drawn(low, high):
    track = numbers((0, 0, {"leaving": Side(reach=0.4, rise=300)}), (20, 10))
    times = TimeAxis(0, at(20), 400)
    return handles(track, track.curve, [(0, "leaving")], times, ValueAxis(low, high, 10, 200))[0]


def test_a_handle_beyond_the_view_is_drawn_at_its_edge_and_tells_where_it_is():
    """A hand that takes it at the edge keeps its distance from the true end, so nothing jumps."""
    held = drawn(0, 10)
    assert held.held
    assert held.y == 6
    assert held.true_y == pytest.approx(10 + 200 * (1 - 300 / 10), abs=0.1)


def test_a_handle_in_view_is_where_it_is_drawn():
    free = drawn(-50, 400)
    assert not free.held
    assert free.y == free.true_y == pytest.approx(10 + 200 * (1 - 350 / 450), abs=0.1)
