"""Where two documents differ, and the nearest frame at which it shows."""

import pytest

from deftarc.core.arrange.difference import difference, nearest_frame
from deftarc.core.arrange.family import needed_for, seen_with
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document.artwork import Carrier, Particles, Rectangle
from deftarc.core.document.matte import Matte
from deftarc.core.edit import EDIT, apply
from tests.looks import effect
from tests.scenes import at, gull, layer, numbers, project, scene


@pytest.fixture
def harbour():
    mast = layer("Mast", Carrier(), rotation=numbers((0, 0), (20, 40), (80, 40)))
    return project(gull(), layer("Flag").changed(parent="mast"), mast, layer("Late").changed(start=at(70)))


def made(project, kind, **fields):
    return apply(project, EDIT.validate_python({"kind": kind, "scene": "crossing", **fields}))


def test_a_moved_key_is_found_with_its_lane(harbour):
    key = {"layer": "mast", "property": "rotation", "time": at(20)}
    after = made(harbour, "move_keys", keys=[key], by=at(4))
    told = difference(harbour, after)
    assert told.layers == ("mast",)
    assert told.keys == (KeyRef(layer="mast", property="rotation", time=at(24)),)


def test_the_frame_is_where_what_is_carried_looks_otherwise(harbour):
    key = {"layer": "mast", "property": "rotation", "time": at(20)}
    after = made(harbour, "move_keys", keys=[key], by=at(4))
    told = difference(harbour, after)
    # Between 0 and the later of the two places it turns otherwise; what a carrier shows is what it carries.
    assert nearest_frame(told, 90) == 23
    assert nearest_frame(told, 0) == 1
    assert nearest_frame(told, 10) == 10


def test_a_layer_that_shows_late_is_gone_to_where_it_shows(harbour):
    after = made(harbour, "change_artwork", layer="late", change={"width": 30})
    # How it looks at rest is no matter of time.
    assert nearest_frame(difference(harbour, after), 5) is None
    after = made(harbour, "move_layers", layers=["late"], dx=30, dy=0, time=at(80))
    assert nearest_frame(difference(harbour, after), 5) == 70


def test_a_value_that_is_loose_is_gone_to(harbour):
    after = made(harbour, "set_value", layer="gull", property="rotation", told="3", time=at(33))
    assert nearest_frame(difference(harbour, after), 5) == 33


def test_scenes_added_and_taken_away_are_places_too(harbour):
    second = scene(layer("Buoy")).changed(id="buoy", name="Buoy")
    both = harbour.changed(scenes=(*harbour.scenes, second))
    assert difference(harbour, both, "crossing").after.id == "buoy"
    assert difference(both, harbour, "buoy").after.id == "crossing"
    assert difference(both, both.changed(name="Other")) is None


def test_the_scene_one_is_in_is_preferred_where_several_changed(harbour):
    second = scene(layer("Buoy")).changed(id="buoy", name="Buoy")
    both = harbour.changed(scenes=(*harbour.scenes, second))
    after = both.changed(scenes=tuple(each.changed(grid=60.0) for each in both.scenes))
    assert difference(both, after, "buoy").after.id == "buoy"
    assert difference(both, after).after.id == "crossing"


@pytest.fixture
def isle():
    """A sea that shows through a hidden moon, one that shows through a group, sparks where the moon is."""
    return project(
        layer("Sea", opacity=numbers((0, 1), (20, 0.5))).changed(matte=Matte(layer="moon")),
        layer("Bay").changed(matte=Matte(layer="pools")),
        layer("Moon", Rectangle(width=40, height=40)).changed(hidden=True),
        layer("Glints", Particles(burst_rate=30, emits="place", source="moon", shaped="star")),
        layer("Star"),
        layer("Pools", Carrier(group=True, as_one=True)),
        layer("Pool").changed(parent="pools"),
    )


CHANGED = {
    "what shows through": ("sea", {"matte": Matte(layer="moon", inverted=True)}),
    "what it shows through, hidden": ("moon", {"effects": (effect("blur"),)}),
    "a member of a group that is shown through": ("pool", {"effects": (effect("blur"),)}),
    "how particles look": (
        "glints",
        {"artwork": Particles(emits="place", source="moon", shaped="star", burst_rate=20)},
    ),
    "what shapes them": ("star", {"blend": "multiply"}),
}


@pytest.mark.parametrize("what", CHANGED)
def test_what_mattes_and_bursts_hang_on_is_gone_to_as_well(isle, what):
    name, fields = CHANGED[what]
    here = isle.scenes[0]
    told = difference(isle, isle.with_scene(here.with_layer(here.layer(name).changed(**fields))))
    assert told.layers == (name,)
    assert nearest_frame(told, 7) == 7


def test_a_part_of_a_scene_has_all_that_it_is_drawn_with(isle):
    here = isle.scenes[0]
    assert needed_for(here, ["sea"]) == {"sea", "moon"}
    assert needed_for(here, ["bay"]) == {"bay", "pools", "pool"}
    assert needed_for(here, ["glints"]) == {"glints", "moon", "star"}
    assert seen_with(here, ["moon"]) == {"moon", "sea", "glints"}
    assert seen_with(here, ["pool"]) == {"pool", "bay"}
