"""The folder: opened whole or not at all, by one server at a time, whatever the disk says."""

import os
import signal
import sqlite3
import subprocess
import sys
import time

import pytest
from sqlalchemy import select, text

from deftarc.core.base.errors import Refusal
from deftarc.core.edit import EDIT
from deftarc.store.assets import AssetStore
from deftarc.store.database import check_database, open_database
from deftarc.store.folder_lock import FolderLock
from deftarc.store.projects import DamagedProject, ProjectStore
from deftarc.store.room import Room
from deftarc.store.tables import EditIdRow, PartRow, ProjectRow, StepRow
from deftarc.store.trouble import StoreTrouble
from tests.scenes import at, gull, layer, numbers, project
from tests.troubles import full_disk, read_only


def turn(value):
    return EDIT.validate_python(
        {"kind": "set_value", "scene": "crossing", "layer": "gull", "property": "skew_x", "value": value, "time": 0}
    )


@pytest.fixture
def store(tmp_path):
    made = ProjectStore(open_database(tmp_path))
    made.create(project(gull(), layer("Ferry", rotation=numbers(*((k, k % 7) for k in range(600))))), "p")
    return made


def filled(store):
    """Edits until nothing more fits into a file that may not grow; returns the refusal."""
    for n in range(400):
        try:
            store.commit("p", store.open("p").revision, turn(n / 10 + 0.1))
        except StoreTrouble as trouble:
            return trouble
    raise AssertionError("It all fitted")


def test_tables_left_without_their_number_by_a_kill_are_taken_up(tmp_path):
    """As earlier versions left them: the tables were there at once, the number that says so came later."""
    open_database(tmp_path).close()
    with sqlite3.connect(tmp_path / "deftarc.sqlite") as old:
        old.execute("DELETE FROM alembic_version")
    again = ProjectStore(open_database(tmp_path))
    again.create(project(gull()), "p")
    assert again.open("p").project == project(gull())


def test_a_step_of_the_tables_that_breaks_leaves_nothing_of_itself(tmp_path, monkeypatch):
    from alembic import op

    real = op.create_index

    def breaks(*given, **told):
        real(*given, **told)
        raise KeyboardInterrupt

    monkeypatch.setattr(op, "create_index", breaks)
    with pytest.raises(KeyboardInterrupt):
        open_database(tmp_path)
    monkeypatch.undo()
    with sqlite3.connect(tmp_path / "deftarc.sqlite") as left:
        assert left.execute("SELECT count(*) FROM sqlite_master").fetchone() == (0,)
    ProjectStore(open_database(tmp_path)).create(project(gull()), "p")


BEGIN = "import sys; from pathlib import Path; from deftarc.store.database import open_database; print('ready', flush=True); sys.stdin.readline(); open_database(Path(sys.argv[1]))"


def test_a_kill_while_a_folder_is_begun_leaves_one_that_begins(tmp_path):
    for n in range(8):
        folder = tmp_path / str(n)
        begun = subprocess.Popen(
            [sys.executable, "-c", BEGIN, str(folder)], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        )
        begun.stdout.readline()
        begun.stdin.write("\n")
        begun.stdin.flush()
        time.sleep(0.006 * n)
        begun.send_signal(signal.SIGKILL)
        begun.wait()
        ProjectStore(open_database(folder)).create(project(gull()), "p")


def test_one_folder_has_one_server_and_the_second_is_told_which(tmp_path):
    first = FolderLock(tmp_path)
    first.take("http://127.0.0.1:8321/")
    with pytest.raises(Refusal, match=rf"process {os.getpid()}, at http://127.0.0.1:8321/"):
        FolderLock(tmp_path).take("http://127.0.0.1:8322/")
    first.free()
    FolderLock(tmp_path).take("http://127.0.0.1:8322/")


HOLD = "import sys, time; from pathlib import Path; from deftarc.store.folder_lock import FolderLock; lock = FolderLock(Path(sys.argv[1])); lock.take('http://a/'); print('held', flush=True); time.sleep(60)"


def test_a_killed_server_holds_no_folder(tmp_path):
    holds = subprocess.Popen([sys.executable, "-c", HOLD, str(tmp_path)], stdout=subprocess.PIPE, text=True)
    assert holds.stdout.readline() == "held\n"
    with pytest.raises(Refusal, match=str(holds.pid)):
        FolderLock(tmp_path).take("http://b/")
    holds.kill()
    holds.wait()
    FolderLock(tmp_path).take("http://b/")


def test_two_processes_that_write_take_turns_and_lose_nothing(tmp_path, store):
    """The command line beside a server: what one read in order to write, the other cannot have changed meanwhile."""
    other = ProjectStore(open_database(tmp_path))
    kept = 0
    for n in range(40):
        writer = (store, other)[n % 2]
        writer.commit("p", writer.open("p").revision, turn(n + 1))
        kept += 1
    assert store.open("p").cursor == other.open("p").cursor == kept


def test_a_full_disk_refuses_in_a_sentence_and_all_goes_on_when_there_is_room(store):
    with full_disk(store.sessions):
        trouble = filled(store)
    assert "is full" in str(trouble)
    assert "Nothing was changed" in str(trouble)
    before = store.open("p")
    made = store.commit("p", before.revision, turn(42))
    assert made.revision == before.revision + 1
    # What the full disk refused was not taken for stored: the state is read back whole.
    assert ProjectStore(store.sessions).open("p").project == made.project


def test_a_folder_that_may_not_be_written_says_so(store):
    with read_only(store.sessions), pytest.raises(StoreTrouble, match="can only be read"):
        store.commit("p", 1, turn(1))
    assert store.open("p").revision == 1
    store.commit("p", 1, turn(1))


def test_a_folder_that_is_a_file_or_cannot_be_made_says_so(tmp_path):
    (tmp_path / "a").write_text("a file")
    with pytest.raises(Refusal, match="is a file"):
        open_database(tmp_path / "a")
    with pytest.raises(Refusal, match="cannot be made"):
        open_database(tmp_path / "a" / "b")


def test_what_is_no_database_says_so(tmp_path):
    (tmp_path / "deftarc.sqlite").write_bytes(b"a log of the ferry" * 900)
    with pytest.raises(StoreTrouble, match="is damaged"):
        open_database(tmp_path)


def test_a_damaged_database_is_known_before_anything_is_written(tmp_path, store):
    for n in range(60):
        store.commit("p", n + 1, turn(n + 0.5))
    store.sessions.compact()
    with store.sessions() as session:
        pages = (
            session.execute(text("SELECT pageno FROM dbstat WHERE name = 'parts' AND pagetype = 'leaf'"))
            .scalars()
            .all()
        )
    store.sessions.close()
    file = tmp_path / "deftarc.sqlite"
    data = bytearray(file.read_bytes())
    page = 4096
    # Of what projects are made of, and not of what lists them: most of it can still be read.
    for number in pages[1::3]:
        data[(number - 1) * page : (number - 1) * page + 200] = os.urandom(200)
    file.write_bytes(data)
    sessions = open_database(tmp_path)
    assert check_database(sessions)
    again = ProjectStore(sessions)
    with pytest.raises(StoreTrouble, match="nothing is written to it"):
        again.commit("p", 61, turn(9))
    assert [each.id for each in again.summaries()] == ["p"]


def test_a_sound_database_is_found_sound(store):
    assert check_database(store.sessions) == ""


def spoil(store, kind):
    """Overwrites the parts that make the newest state, but not the ones before: a root, a scene or a layer."""
    with store.sessions.begin() as session:
        newest = session.scalars(select(StepRow).order_by(StepRow.number.desc())).first()
        older = session.get(StepRow, ("p", newest.number - 1))
        assert newest.root != older.root
        name = newest.root
        if kind == "missing":
            session.connection().exec_driver_sql("PRAGMA defer_foreign_keys=1")
        row = session.get(PartRow, name)
        row.body = b"\0" * 40
    return ProjectStore(store.sessions)


def test_a_project_that_cannot_be_read_is_told_apart_goes_back_and_can_be_removed(store):
    store.create(project(gull()), "other")
    store.commit("p", 1, turn(5))
    store.commit("p", 2, turn(6))
    again = spoil(store, "root")
    with pytest.raises(DamagedProject, match="damaged"):
        again.open("p")
    assert again.open("other").project == project(gull())
    back = again.back_to_sound("p")
    assert back.cursor == 1
    assert back.project.scenes[0].layer("gull").track("skew_x").value == 5
    assert again.open("p").project == back.project
    assert {each.id for each in again.summaries()} == {"p", "other"}
    again.delete("p")
    assert [each.id for each in again.summaries()] == ["other"]


def test_an_edit_with_an_id_is_made_once(store):
    first = store.commit("p", 1, turn(5), "abcdefgh")
    again = store.commit("p", 1, turn(5), "abcdefgh")
    assert (first.repeated, again.repeated) == (False, True)
    assert again.revision == first.revision == 2
    # Also when others have worked on since, and after it was undone: it was made, and is not made again.
    store.commit("p", 2, turn(6), "ijklmnop")
    store.undo("p", 3, "undoundo")
    assert store.undo("p", 3, "undoundo").revision == 4
    store.undo("p", 4)
    assert store.commit("p", 1, turn(5), "abcdefgh").revision == 5
    assert store.open("p").cursor == 0
    with store.sessions() as session:
        assert len(session.scalars(select(EditIdRow)).all()) == 3


def test_what_became_of_an_edit_is_told_again_while_nothing_came_after_it(store):
    edit = EDIT.validate_python(
        {"kind": "put_key", "scene": "crossing", "layer": "gull", "property": "rotation", "time": at(7), "value": 12}
    )
    first = store.commit("p", 1, edit, "abcdefgh")
    again = store.commit("p", 1, edit, "abcdefgh")
    assert again.selects == first.selects
    assert [note.text for note in again.notes] == [note.text for note in first.notes]


def room(store, tmp_path, now=time.time):
    from deftarc.store.jobs import JobStore

    return Room(store.sessions, store, AssetStore(store.sessions), JobStore(store.sessions), tmp_path / "renders", now)


def test_removing_a_project_for_good_gives_its_room_back(store, tmp_path):
    many = numbers(*((k, k * 1.37 % 90) for k in range(4_000)))
    store.create(project(layer("Buoy", rotation=many)), "big")
    store.sessions.compact()
    before = (tmp_path / "deftarc.sqlite").stat().st_size
    rooms = room(store, tmp_path)
    with pytest.raises(Refusal, match="not deleted"):
        rooms.remove("big")
    store.delete("big")
    told = rooms.of_deleted()["big"]
    assert told > 8_000
    rooms.remove("big")
    after = (tmp_path / "deftarc.sqlite").stat().st_size
    assert before - after > told / 2
    assert store.open("p").project
    store.commit("p", 1, turn(3))
    with store.sessions() as session:
        assert session.get(ProjectRow, "big") is None
    assert ProjectStore(store.sessions).open("p").project == store.open("p").project


def test_what_was_deleted_thirty_days_ago_goes_and_what_was_yesterday_stays(store, tmp_path):
    now = time.time()
    for name, days in (("old", 31), ("young", 29)):
        store.create(project(gull()), name)
        store.now = lambda days=days: now - days * 86_400
        store.delete(name)
    assert room(store, tmp_path).purge() == 1
    assert [each.id for each in store.summaries(deleted=True)] == ["young"]
    store.restore("young")
    assert store.open("young").project == project(gull())


def test_no_part_is_taken_away_while_one_cannot_be_read(store, tmp_path):
    store.commit("p", 1, turn(5))
    again = spoil(store, "root")
    with store.sessions() as session:
        before = len(session.scalars(select(PartRow.hash)).all())
    room(again, tmp_path).sweep()
    with store.sessions() as session:
        assert len(session.scalars(select(PartRow.hash)).all()) == before


def test_an_edit_of_a_long_lane_writes_little_however_long_it_is(tmp_path):
    many = numbers(*((k, k * 1.37 % 90) for k in range(6_000)))
    store = ProjectStore(open_database(tmp_path))
    store.create(project(gull(), layer("Buoy", rotation=many)), "p")
    with store.sessions() as session:
        before = set(session.scalars(select(PartRow.hash)))
    edit = {
        "kind": "put_key",
        "scene": "crossing",
        "layer": "buoy",
        "property": "rotation",
        "time": at(3000.5),
        "value": 9,
    }
    store.commit("p", 1, EDIT.validate_python(edit))
    with store.sessions() as session:
        written = [row.body for row in session.scalars(select(PartRow)) if row.hash not in before]
    assert sum(map(len, written)) < 6_000
    assert ProjectStore(store.sessions).open("p").project == store.open("p").project
