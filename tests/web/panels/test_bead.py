"""Beads while a hand drags many: few paths, the same shapes, whole again once it lets go."""

import re

import pytest

from deftarc.app.workshop import Workshop
from deftarc.core.document import Project
from deftarc.web.panels.bead import TOGETHER, Bead, bare
from tests.scenes import EASED, at, layer, numbers, scene
from tests.web.simulated_page import SimulatedPage

MANY = [(k, 5.0 * (k % 7), {**EASED[0], **EASED[1]}) for k in range(0, 90, 3)]


def beads(*kinds, mark=""):
    return [Bead(10.0 * n, 20.0, n, *kind, mark=mark) for n, kind in enumerate(kinds)]


def paths(html):
    return re.findall(r'<path class="([^"]*)" d="([^"]*)"', html)


def test_bare_beads_that_look_alike_and_lie_together_are_one_path():
    html = bare(beads(*[("curve", "curve")] * (TOGETHER + 3)), set(), 6)
    assert [(name, d.count("M")) for name, d in paths(html)] == [("disc", TOGETHER), ("disc", 3)]
    assert 'stroke-width="13.6"' in html


def test_bare_beads_keep_their_halves_and_marks_and_tell_the_selected_apart():
    html = bare(beads(("none", "curve"), ("straight", "none"), ("none", "none"), ("curve", "curve")), {1}, 6)
    rest, selected = html.split('<g class="bead bare selected">')
    assert [name for name, _ in paths(rest)] == ["disc", "half curve", "half lone"]
    assert [name for name, _ in paths(selected)] == ["half straight"]
    marked = paths(bare(beads(("curve", "curve"), mark="auto"), set(), 6))
    assert [name for name, _ in marked] == ["disc", "mark-auto"]


@pytest.fixture
def page(tmp_path):
    made = scene(layer("Sign", rotation=numbers(*MANY)), layer("Bell", scale_x=numbers(*MANY)))
    shop = Workshop.at(tmp_path)
    shop.projects.create(Project(name="Quay", scenes=(made,)), "quay")
    return SimulatedPage(shop, "quay", made.id, layers=[made.layers[0].id])


def test_lanes_drawn_bare_under_a_drag_are_whole_again_when_it_ends(page):
    """Also those of other layers, which only the time axis drew anew while the hand held on."""
    sign = page.asked["layers"][0]
    key = {"layer": sign, "property": "rotation", "time": at(30)}
    page.asked["keys"] = [key]
    page.look(fresh=True)
    bell = next(name for name in page.rows if name.endswith("scale_x"))
    assert 'class="hit"' in page.rows[bell]
    page.asked["axis"] = {**page.asked["axis"], "end": at(80)}
    page.look({"kind": "move_keys", "scene": page.asked["scene"], "keys": [key], "by": at(1)})
    assert 'class="hit"' not in page.rows[bell]
    assert "bare" in page.rows[bell]
    page.look()
    assert all("bare" not in row for row in page.rows.values())
    assert 'class="hit"' in page.rows[bell]


def test_a_few_keys_stay_whole_under_the_hand(page):
    key = {"layer": page.asked["layers"][0], "property": "rotation", "time": at(30)}
    page.asked.update(keys=[key], axis={**page.asked["axis"], "start": at(20), "end": at(50)})
    page.look(fresh=True)
    page.look({"kind": "move_keys", "scene": page.asked["scene"], "keys": [key], "by": at(1)})
    lane = next(html for name, html in page.rows.items() if name.endswith("rotation"))
    assert 'class="hit"' in lane
    assert "bare" not in lane
