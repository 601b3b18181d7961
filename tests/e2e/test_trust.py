"""What the page promises: a number being typed is nobody else's, an edit is made once, trouble is told where it is."""

import pytest
from playwright.sync_api import expect

from deftarc.core.edit import EDIT
from tests.troubles import full_disk


def elsewhere(bench, **fields):
    """An edit that another window makes."""
    shop = bench.served.shop
    opened = shop.projects.open("quillhaven")
    shop.commit("quillhaven", opened.revision, EDIT.validate_python({"scene": "crossing", **fields}))


def another(bench, layer, name, told):
    elsewhere(bench, kind="set_value", layer=layer, property=name, told=told, time=0)


def steps(bench):
    return bench.served.shop.projects.open("quillhaven").cursor


@pytest.mark.parametrize("field", ["well", "key time", "key value"])
def test_a_number_being_typed_stays_as_typed_while_another_window_edits(bench, field):
    bench.select("ferry")
    bench.bead("ferry", "position", 0).click()
    bench.settle()
    input_ = {
        "well": bench.well("rotation"), "key time": bench.tab.locator("[data-key-time]"),
        "key value": bench.tab.locator("[data-key-value]").first,
    }[field]  # fmt: skip
    input_.click()
    was = input_.input_value()
    bench.tab.keyboard.press("ControlOrMeta+a")
    bench.tab.keyboard.type("7")
    before = steps(bench)
    # The same layer's other number, so that the figures are drawn anew.
    another(bench, "ferry", "skew_x", "3")
    bench.until(lambda: bench.shown("skew_x") == 3)
    assert input_.input_value() == "7"
    assert steps(bench) == before + 1
    bench.tab.keyboard.type("5")
    assert input_.input_value() == "75"
    bench.press("Enter")
    assert steps(bench) == before + 2
    assert input_.input_value() != was


def test_a_number_being_typed_goes_unmade_with_its_layer(bench):
    bench.select("ferry")
    bench.well("rotation").click()
    bench.tab.keyboard.type("7")
    before = steps(bench)
    elsewhere(bench, kind="delete_layers", layers=["ferry"])
    expect(bench.well("rotation")).to_have_count(0)
    bench.settle()
    assert steps(bench) == before + 1


def test_a_hand_that_goes_elsewhere_does_not_keep_what_was_half_typed(bench):
    bench.select("ferry")
    was = bench.well("rotation").input_value()
    before = steps(bench)
    bench.well("rotation").click()
    bench.tab.keyboard.type("33")
    bench.tab.locator("#clock").click()
    bench.settle()
    assert bench.well("rotation").input_value() == was
    assert steps(bench) == before
    bench.well("rotation").click()
    bench.tab.keyboard.type("33")
    bench.press("Tab")
    assert steps(bench) == before + 1
    assert bench.shown("rotation") == 33


def test_an_edit_whose_answer_was_lost_is_made_once(bench):
    bench.select("ferry")
    before = steps(bench)
    lost = []

    def lose(route):
        # It arrives and is made; what comes back never does.
        if not lost:
            lost.append(route.fetch())
            route.abort()
        else:
            route.continue_()

    bench.tab.route("**/edits", lose)
    bench.well("rotation").fill("12")
    bench.well("rotation").press("Enter")
    bench.until(lambda: lost and steps(bench) == before + 1)
    bench.settle()
    assert bench.shown("rotation") == 12
    assert steps(bench) == before + 1
    bench.tab.troubles[:] = [each for each in bench.tab.troubles if "ERR_FAILED" not in each]


def test_a_full_disk_is_a_sentence_and_all_goes_on_when_there_is_room(bench):
    bench.select("ferry")
    # As a disk without room: the database may grow by no page. What is left on its last pages is soon used up.
    with full_disk(bench.served.shop.sessions):
        for told in range(60):
            before = steps(bench)
            bench.type("rotation", str(100 + told))
            if steps(bench) == before:
                break
        expect(bench.tab.locator("#notices")).to_contain_text("is full")
    bench.type("rotation", "13")
    assert bench.shown("rotation") == 13
    assert steps(bench) == before + 1
    bench.tab.troubles[:] = [each for each in bench.tab.troubles if "507" not in each]
