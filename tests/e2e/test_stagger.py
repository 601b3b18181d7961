"""Layers staggered in the lanes, tried before they are kept."""

import pytest
from playwright.sync_api import expect

FRAME = 23_520_000  # flicks a frame in Timetable card


@pytest.fixture
def card(bench):
    bench.tab.evaluate("document.dispatchEvent(new CustomEvent('deftarc:scene', { detail: 'card' }))")
    bench.settle()
    bench.select("row1")
    for name in ("row2", "row3"):
        bench.tab.locator(f'[data-select="{name}"]').click(modifiers=["Control"])
    bench.settle()
    return bench


def starts(bench):
    return [bench.track(f"row{n}", "position", "card").key_times[0] // FRAME for n in (1, 2, 3)]


def test_rows_of_times_are_staggered_live_with_choices_and_kept_by_enter(card):
    assert starts(card) == [18, 24, 30]
    card.press("z")
    bar = card.tab.locator("#trial")
    expect(bar).to_contain_text("Stagger 3 layers")
    bar.locator('[data-trial="far"]').fill("10")
    card.settle()
    bar.locator('[data-trial="order"]').select_option("reversed")
    card.settle()
    assert starts(card) == [18, 24, 30]
    # The list is from the top: Times 3, 2, 1; reversed, Times 1 begins.
    first = int(card.bead("row1", "position", 0).get_attribute("data-time"))
    third = int(card.bead("row3", "position", 0).get_attribute("data-time"))
    assert (first // FRAME, third // FRAME) == (18, 38)
    card.press("Enter")
    assert starts(card) == [18, 28, 38]
    # Again, it is what it was made with, and can be changed.
    card.press("z")
    expect(bar.locator('[data-trial="far"]')).to_have_value("10")
    expect(bar.locator('[data-trial="order"]')).to_have_value("reversed")
    bar.locator('[data-trial="far"]').fill("3")
    card.settle()
    card.press("Enter")
    assert starts(card) == [18, 21, 24]
    card.press("Control+z", "Control+z")
    assert starts(card) == [18, 24, 30]


def test_a_negative_step_a_total_and_escape(card):
    card.press("z")
    bar = card.tab.locator("#trial")
    bar.locator('[data-trial="by"]').select_option("end")
    card.settle()
    # Each stays for some eighty frames before it leaves again; as they were made, from the bottom up.
    expect(bar.locator('[data-trial="order"]')).to_have_value("reversed")
    bar.locator('[data-trial="far"]').fill("-70")
    card.settle()
    ends = [int(card.bead(f"row{n}", "position", 3).get_attribute("data-time")) // FRAME for n in (1, 2)]
    begins = [int(card.bead(f"row{n}", "position", 0).get_attribute("data-time")) // FRAME for n in (2, 3)]
    assert [b - e for b, e in zip(begins, ends, strict=True)] == [-70, -70]
    card.press("Escape")
    expect(bar).to_be_hidden()
    assert starts(card) == [18, 24, 30]


def test_one_layer_alone_says_what_is_missing(card):
    card.select("row1")
    card.press("z")
    expect(card.tab.locator("#notices")).to_contain_text("Select two layers")
