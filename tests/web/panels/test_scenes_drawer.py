"""The list of scenes that can be shown: whether each is a loop is told of it as it is now, with all that it shows."""

from deftarc.app.workshop import Workshop
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.edit import EDIT
from tests.scenes import at, layer, numbers, project, scene, side
from tests.web.simulated_page import SimulatedPage


def test_a_scene_is_a_loop_no_more_when_what_it_shows_is_none(tmp_path):
    soft = {"arriving": side(0.5, 0), "leaving": side(0.5, 0)}
    swing = numbers((0, 0, soft), (50, 20, soft), (100, 0, soft))
    bell = scene(layer("Bell", rotation=swing), frames=100).changed(id="belfry", name="Belfry")
    shown = SceneShown(scene="belfry", width=640, height=360, goes_on="repeat")
    dock = scene(layer("Inlet", shown), frames=100).changed(id="dock", name="Dock")
    made = project(layer("Mast"))
    shop = Workshop.at(tmp_path)
    shop.projects.create(made.changed(scenes=(*made.scenes, bell, dock)), "p")
    page = SimulatedPage(shop, "p", "crossing", drawer="scenes")
    page.look(fresh=True)
    assert page.fragments["drawer-body"].count(", a loop") == 2
    edit = {"kind": "move_keys", "scene": "belfry", "lift": 30,
            "keys": [{"layer": "bell", "property": "rotation", "time": at(100)}]}  # fmt: skip
    shop.projects.commit("p", shop.projects.open("p").revision, EDIT.validate_python(edit))
    page.look()
    assert page.fragments["drawer-body"].count(", a loop") == 0
