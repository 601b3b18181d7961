"""An edit that is stopped while it is worked out changes nothing; one that is saved stays."""

import pytest

from deftarc.app.workshop import Workshop
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Project
from deftarc.core.edit import EDIT
from deftarc.store.parts import PartIndex
from tests.large import large_scene

LAYERS = [f"l{n}" for n in range(6)]


@pytest.fixture
def shop(tmp_path):
    made = Workshop.at(tmp_path)
    made.projects.create(Project(name="Large", scenes=(large_scene(6, 5),)), "p")
    return made


GROUP = EDIT.validate_python({"kind": "group_layers", "scene": "large", "layers": LAYERS, "time": 0, "id": "g"})


def grouped(shop, name):
    with shop.working(name):
        return shop.commit("p", shop.projects.open("p").revision, GROUP, name)


def test_stopped_while_what_would_be_saved_is_written_it_changes_nothing(shop, monkeypatch):
    before, write = shop.projects.open("p"), PartIndex.write

    def stopped(self, project):
        written = write(self, project)
        shop.works["once"].stopped = True
        return written

    with monkeypatch.context() as patch:
        patch.setattr(PartIndex, "write", stopped)
        with pytest.raises(Refusal, match=r"It was stopped\. Nothing was changed\."):
            grouped(shop, "once")
    assert not shop.works
    assert shop.projects.open("p").project == before.project
    assert Workshop.at(shop.folder).projects.open("p").revision == before.revision
    # Made again, it is made.
    assert grouped(shop, "again").project.scene("large").layer("g")


def test_stopped_on_top_of_anothers_edit_it_is_no_conflict(shop):
    revision = shop.projects.open("p").revision
    guides = {"kind": "set_guides", "scene": "large", "guides": [{"axis": "x", "at": 4}]}
    shop.commit("p", revision, EDIT.validate_python(guides))

    def on_the_earlier_revision():
        with shop.working("late"):
            shop.works["late"].stopped = True
            shop.commit("p", revision, GROUP, "late")

    with pytest.raises(Refusal, match="It was stopped"):
        on_the_earlier_revision()
    assert all(each.id != "g" for each in shop.projects.open("p").project.scene("large").layers)


def test_a_request_says_how_far_it_is_and_stops_what_is_under_way(client, app):
    shop = app.state.workshop
    with shop.working("mine"):
        shop.works["mine"].share = 0.25
        assert client.get("/api/projects/p/edits/mine/progress").json() == {"share": 0.25}
        assert client.post("/api/projects/p/edits/mine/stop").status_code == 204
        assert shop.works["mine"].stopped
    # What is over is not there to be stopped, and has nothing to say.
    assert client.get("/api/projects/p/edits/mine/progress").json() == {"share": 0.0}
    assert client.post("/api/projects/p/edits/mine/stop").status_code == 204
