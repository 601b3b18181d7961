"""Projects on disk: history, restarts, staleness, and how much an edit costs."""

import os

import pytest
from sqlalchemy import text

from deftarc.core.base.errors import Refusal, UnknownThing
from deftarc.core.document import Project, Rectangle, Scene
from deftarc.core.edit import EDIT
from deftarc.core.edit.add import AddLayer
from deftarc.formats.read import Asset
from deftarc.store.assets import AssetStore
from deftarc.store.database import open_database
from deftarc.store.jobs import JobStore, NewJob
from deftarc.store.projects import ProjectStore, Stale
from tests.scenes import at, layer, numbers, project


def store(folder):
    return ProjectStore(open_database(folder))


def add(name):
    return AddLayer(scene="crossing", id=name, name=name, artwork=Rectangle(width=9, height=9))


def names(opened):
    return [each.name for each in opened.project.scenes[0].layers]


@pytest.fixture
def filled(tmp_path):
    made = store(tmp_path)
    made.create(project(), "p")
    for revision, name in enumerate(("gull", "ferry", "sun"), 1):
        made.commit("p", revision, add(name))
    return made


def test_undo_and_redo_go_all_the_way_and_back_also_after_a_restart(filled, tmp_path):
    opened = filled.open("p")
    for _ in range(3):
        opened = filled.undo("p", opened.revision)
    assert names(opened) == []
    with pytest.raises(Refusal, match="nothing to undo"):
        filled.undo("p", opened.revision)
    again = store(tmp_path)
    opened = again.open("p")
    assert (opened.undo, opened.redo) == (None, "Add gull")
    for _ in range(3):
        opened = again.redo("p", opened.revision)
    assert names(opened) == ["sun", "ferry", "gull"]
    with pytest.raises(Refusal, match="nothing to redo"):
        again.redo("p", opened.revision)


def test_a_new_edit_after_undo_takes_the_place_of_what_was_undone(filled):
    opened = filled.undo("p", 4)
    opened = filled.commit("p", opened.revision, add("buoy"))
    assert names(opened) == ["buoy", "ferry", "gull"]
    assert (opened.undo, opened.redo) == ("Add buoy", None)
    assert [step.label for step in filled.history("p")] == ["Begin", "Add gull", "Add ferry", "Add buoy"]


def named(layer, name):
    return EDIT.validate_python({"kind": "describe_layers", "scene": "crossing", "layers": [layer], "name": name})


def test_an_edit_of_what_was_changed_since_is_refused_with_what_changed(filled):
    opened = filled.commit("p", 4, named("gull", "Bird"))
    filled.commit("p", opened.revision, named("ferry", "Boat"))
    with pytest.raises(Stale) as told:
        filled.commit("p", 4, named("gull", "Swan"))
    assert told.value.revision == 6
    assert told.value.changes == ["Rename gull to Bird", "Rename ferry to Boat"]
    with pytest.raises(Stale):
        filled.commit("p", 4, EDIT.validate_python({"kind": "delete_layers", "scene": "crossing", "layers": ["ferry"]}))
    assert {layer.name for layer in filled.open("p").project.scenes[0].layers} == {"Bird", "Boat", "sun"}


def test_an_edit_of_what_was_not_changed_since_goes_on_top(filled):
    filled.commit("p", 4, named("gull", "Bird"))
    filled.commit("p", 5, named("ferry", "Boat"))
    opened = filled.commit("p", 4, named("sun", "Moon"))
    assert opened.revision == 7
    assert {layer.name for layer in opened.project.scenes[0].layers} == {"Bird", "Boat", "Moon"}
    assert filled.commit("p", 5, add("late")).revision == 8
    # Undone one by one, the newest first, as if they had come in turn.
    names_ = [filled.undo("p", revision).project.scenes[0].layers[-1].name for revision in (8, 9, 10)]
    assert names_[-1] in ("Bird", "gull")
    assert filled.open("p").undo == "Rename gull to Bird"
    # After an undo, too.
    assert filled.commit("p", 8, add("buoy")).revision == 12


def test_a_revision_nobody_has_any_more_is_stale(filled):
    with pytest.raises(Stale):
        filled.commit("p", 3, EDIT.validate_python({"kind": "delete_layers", "scene": "crossing", "layers": ["sun"]}))
    with pytest.raises(Stale):
        filled.commit("p", 99, add("late"))
    with pytest.raises(Stale):
        ProjectStore(filled.sessions).commit("p", 2, add("late"))


def test_an_edit_that_comes_to_nothing_makes_no_step_and_says_so(filled):
    for edit in (
        named("gull", "gull"),
        EDIT.validate_python(
            {
                "kind": "move_layers",
                "scene": "crossing",
                "layers": ["gull"],
                "dx": 0,
                "dy": 0,
                "time": 0,
                "keying": False,
            }
        ),
        EDIT.validate_python({"kind": "set_guides", "scene": "crossing", "guides": []}),
    ):
        opened = filled.commit("p", 4, edit)
        assert opened.unchanged
        assert opened.revision == 4
    assert len(filled.history("p")) == 4


def test_so_many_steps_are_undone_and_redone_in_one_go_as_there_are(filled):
    opened = filled.undo("p", 4, count=2)
    assert names(opened) == ["gull"]
    assert opened.stepped == "2 steps, the last of them Add ferry"
    opened = filled.undo("p", opened.revision, count=500)
    assert names(opened) == []
    assert opened.stepped == "Add gull"
    opened = filled.redo("p", opened.revision, count=500)
    assert names(opened) == ["sun", "ferry", "gull"]
    assert opened.stepped == "3 steps, the last of them Add sun"


def test_a_refused_edit_changes_nothing(filled):
    with pytest.raises(Refusal):
        filled.commit("p", 4, add("gull"))
    assert filled.open("p").revision == 4
    assert len(filled.history("p")) == 4


def test_every_document_read_back_equals_what_was_written(filled, tmp_path):
    moved = EDIT.validate_python(
        {"kind": "set_value", "scene": "crossing", "layer": "sun", "property": "position", "component": 1, "value": -3.25,
         "time": at(7), "keying": True}
    )  # fmt: skip
    opened = filled.commit("p", 4, moved)
    assert store(tmp_path).open("p").project == opened.project


def test_two_servers_on_one_folder_see_each_others_edits(filled, tmp_path):
    other = store(tmp_path)
    other.commit("p", 4, add("buoy"))
    assert names(filled.open("p"))[0] == "buoy"
    with pytest.raises(Stale):
        filled.commit("p", 4, add("late"))


def test_deleting_has_a_way_back_and_copies_go_their_own_way(filled):
    copy = filled.duplicate("p")
    filled.delete("p")
    assert [s.name for s in filled.summaries()] == ["Quillhaven copy"]
    with pytest.raises(UnknownThing):
        filled.open("p")
    filled.restore("p")
    filled.rename(copy, "Autumn")
    assert {s.name for s in filled.summaries()} == {"Quillhaven", "Autumn"}
    assert filled.open("p").project.name == "Quillhaven"


def test_the_database_is_safe(filled):
    with filled.sessions() as session:
        assert session.execute(text("PRAGMA journal_mode")).scalar() == "wal"
        assert session.execute(text("PRAGMA synchronous")).scalar() == 2
        assert session.execute(text("PRAGMA foreign_keys")).scalar() == 1


def test_an_edit_in_a_large_project_writes_little(tmp_path):
    lanes = {
        name: numbers(*((5 * n, n % 7) for n in range(5)))
        for name in ("rotation", "scale", "opacity", "skew_x", "skew_y")
    }
    many = tuple(layer(f"L{n}", **lanes).changed(id=f"l{n}") for n in range(200))
    made = store(tmp_path)
    made.create(Project(name="Large", scenes=(Scene(id="crossing", name="Crossing", layers=many),)), "p")

    def size():
        with made.sessions() as session:
            session.execute(text("PRAGMA wal_checkpoint(TRUNCATE)"))
        return os.path.getsize(tmp_path / "deftarc.sqlite")

    before = size()
    for revision in range(1, 21):
        edit = {
            "kind": "set_value",
            "scene": "crossing",
            "layer": f"l{revision}",
            "property": "rotation",
            "value": revision,
            "time": 0,
        }
        made.commit("p", revision, EDIT.validate_python(edit))
    assert (size() - before) / 20 < 16 * 1024


def test_assets_are_kept_by_their_hash(tmp_path):
    assets = AssetStore(open_database(tmp_path))
    gull = Asset(b"gull", "image/png")
    assets.put([gull, gull])
    assert assets.read(gull.hash) == b"gull"
    assert assets.missing([gull.hash, "0" * 64]) == {"0" * 64}
    with pytest.raises(UnknownThing):
        assets.read("0" * 64)


def test_renders_that_a_stop_cut_off_are_known_to_the_next_server_in_their_order(filled):
    jobs = JobStore(filled.sessions)
    for name in "abc":
        jobs.create(name, NewJob("p", "Crossing", "crossing", "mp4", {}, 1, ".mp4"), 10)
    jobs.change("a", state="running", done=3)
    jobs.change("b", state="done")
    jobs.put_first("c")
    # The command line opens the same folder, and says nothing of another process's renders.
    assert JobStore(filled.sessions).get("a").state == "running"
    assert [row.id for row in JobStore(filled.sessions).left_over()] == ["c", "a"]
    assert jobs.files() == {"b.mp4"}
