"""What cannot be read is shown as that, and takes nothing else with it."""

import errno
import tempfile
import time
import zipfile
from io import BytesIO
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import select

from deftarc.store.jobs import JobStore, NewJob
from deftarc.store.parts import text_of
from deftarc.store.room import walk
from deftarc.store.tables import PartRow, StepRow
from deftarc.web.server import create_app
from tests.client import document_of
from tests.running import TESTED
from tests.scenes import gull, layer, project
from tests.troubles import full_disk, read_only

HTML = {"accept": "text/html"}


def spoiled(folder, app, which):
    """The folder opened anew after a part of project p's newest state was overwritten."""
    sessions = app.state.workshop.sessions
    with sessions.begin() as session:
        newest = session.scalars(select(StepRow).where(StepRow.project == "p").order_by(StepRow.number.desc())).first()
        older = session.get(StepRow, ("p", newest.number - 1))
        names = reached(session, newest.root) - reached(session, older.root)
        wanted = next(name for name in names if which in text(session, name))
        session.get(PartRow, wanted).body = b"\0nothing"
    again = create_app(folder, hosts=TESTED)
    return TestClient(again)


def text(session, name):
    return text_of(session.get(PartRow, name).body, name).decode()


def reached(session, root):
    return walk(session, [root]).parts


@pytest.fixture
def spoil(tmp_path, app, client, edit):
    app.state.workshop.projects.create(project(layer("Buoy")), "other")
    for value in (5, 6):
        assert edit("set_value", layer="gull", property="skew_x", value=value, time=0).status_code == 200
    return lambda which: spoiled(tmp_path, app, which)


@pytest.mark.parametrize(("which", "opens"), [('"scenes":', False), ('"layers":', False), ('"skew_x"', True)])
def test_a_damaged_project_is_shown_as_such_exported_taken_back_and_removed(spoil, which, opens):
    with spoil(which) as client:
        page = client.get("/", headers=HTML)
        assert page.status_code == 200
        assert "Last whole state" in page.text
        assert 'href="/projects/other"' in page.text
        assert client.get("/api/projects/other").status_code == 200
        assert client.get("/projects/p", headers=HTML).status_code == (200 if opens else 400)
        if not opens:
            told = client.get("/api/projects/p").json()["detail"]
            assert "damaged" in told
            assert "exported as it lies" in told
        lies = client.get("/api/projects/p/file?as_it_lies=true")
        assert lies.status_code == 200
        with zipfile.ZipFile(BytesIO(lies.content)) as archive:
            assert "lost.txt" in archive.namelist()
        assert client.post("/projects/p/back").status_code == 200
        document = document_of(client)
        assert document["scenes"][0]["layers"][0]["tracks"]["skew_x"]["value"] == 5
        assert "Last whole state" not in client.get("/", headers=HTML).text
        # The step that is damaged can still be asked for, and says so.
        revision = client.get("/api/projects/p").json()["revision"]
        assert client.post("/api/projects/p/redo", json={"revision": revision}).status_code in (200, 400)


def test_a_damaged_project_can_be_deleted_and_removed_for_good(spoil):
    with spoil('"scenes":') as client:
        assert client.post("/projects/p/delete").status_code == 200
        assert client.post("/projects/p/remove").status_code == 200
        assert [each["id"] for each in client.get("/api/projects").json()] == ["other"]
        assert client.get("/parts/deleted").status_code == 200


def test_a_full_disk_is_a_sentence_with_its_own_code_and_nothing_is_half_written(app, client, edit):
    with full_disk(app.state.workshop.sessions):
        for n in range(300):
            answer = edit("set_value", layer="gull", property="skew_x", value=n / 9 + 0.1, time=0)
            if answer.status_code != 200:
                break
        assert answer.status_code == 507
        assert "is full" in answer.json()["detail"]
        assert client.post("/api/projects", json={"name": "x" * 100}).status_code in (201, 507)
    assert edit("set_value", layer="gull", property="skew_x", value=1, time=0).status_code == 200


def test_a_folder_that_may_not_be_written_can_still_be_looked_at_and_exported(app, client, edit):
    with read_only(app.state.workshop.sessions):
        answer = edit("set_value", layer="gull", property="skew_x", value=3, time=0)
        assert answer.status_code == 503
        assert "can only be read" in answer.json()["detail"]
        assert client.get("/", headers=HTML).status_code == 200
        assert client.get("/api/projects/p/file").status_code == 200
    assert client.get("/api/projects/p").json()["revision"] == 1


def test_uploads_that_meet_a_full_disk_say_so(app, client, monkeypatch):
    def full(*_given, **_told):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(tempfile, "mkstemp", full)
    answer = client.post(
        "/api/projects/p/scenes/crossing/files", files={"file": ("a.svg", b"<svg/>")}, data={"revision": "1"}
    )
    assert answer.status_code == 507
    assert "is full" in answer.json()["detail"]


def test_a_damaged_database_offers_what_can_be_read(app, client):
    app.state.workshop.sessions.damage = "row 7 missing from an index"
    page = client.get("/", headers=HTML)
    assert "database is damaged" in page.text
    assert "row 7 missing" in page.text
    assert client.get("/api/projects/p/file").status_code == 200
    answer = client.post("/api/projects/p/edits", json={"revision": 1, "edit": {"kind": "rename_project", "name": "a"}})
    assert answer.status_code == 503
    assert "nothing is written" in answer.json()["detail"]


def test_deleted_projects_are_told_with_their_room_and_can_be_removed_for_good(app, client):
    assert client.post("/projects/p/delete").status_code == 200
    listed = client.get("/parts/deleted").text
    assert "Remove for good" in listed
    assert " kB" in listed
    assert client.post("/api/projects/p/remove").status_code == 204
    assert client.get("/parts/deleted").text.count("<li>") == 0
    assert client.post("/room").status_code == 200


def test_renders_wait_for_as_many_as_settings_say(app, client):
    assert client.post("/settings", data={"renders_at_once": "3"}).status_code == 200
    assert app.state.workshop.settings.all().renders_at_once == 3
    for told in ("0", "9", "many", "", "1.5", "٣"):
        answer = client.post("/settings", data={"renders_at_once": told})
        assert answer.status_code == 400
        assert "renders" in answer.json()["detail"]
    assert app.state.workshop.settings.all().renders_at_once == 3


def test_a_deleted_projects_renders_are_gone_with_it_and_come_back_with_it(app, client):
    job = client.post("/api/projects/p/renders", json={"scene": "crossing", "kind": "png"}).json()["id"]
    for _ in range(400):
        if client.get(f"/api/renders/{job}").json()["state"] == "done":
            break
        time.sleep(0.05)
    file = app.state.workshop.renders.folder / f"{job}.png"
    assert file.is_file()
    client.post("/projects/p/delete")
    assert client.get(f"/api/renders/{job}/file").status_code == 404
    client.post("/projects/p/restore")
    assert client.get(f"/api/renders/{job}/file").status_code == 200
    client.post("/projects/p/delete")
    client.post("/projects/p/remove")
    assert not file.exists()


def test_what_is_exported_is_taken_in_again(app, client):
    app.state.workshop.projects.create(project(gull(), layer("Ferry")), "q")
    data = client.get("/api/projects/q/file").content
    made = client.post("/api/projects/import", files={"file": ("a.deftarc", data)})
    assert made.status_code == 201
    assert document_of(client, made.json()["id"]) == document_of(client, "q")


def test_a_render_that_meets_a_full_disk_ends_as_failed_with_its_reason(app, client, monkeypatch):
    shop = app.state.workshop
    if not Path("/dev/full").exists():
        pytest.skip("This system has no full device")
    monkeypatch.setattr(shop.jobs, "new_name", lambda: "full")
    shop.renders.folder.mkdir()
    # Where the half file would grow there is no room, as on a full disk.
    (shop.renders.folder / "full.mp4.part").symlink_to("/dev/full")
    wanted = {"scene": "crossing", "kind": "mp4", "options": {"scale": 0.1}}
    assert client.post("/api/projects/p/renders", json=wanted).status_code == 202
    for _ in range(400):
        told = client.get("/api/renders/full").json()
        if told["state"] not in ("waiting", "running"):
            break
        time.sleep(0.05)
    assert told["state"] == "failed"
    assert "is full" in told["message"]
    assert not (shop.renders.folder / "full.mp4").exists()
    # What was made of it is kept, and it goes on from there.
    assert client.post("/api/renders/full/go").json()["state"] == "waiting"
    for _ in range(400):
        told = client.get("/api/renders/full").json()
        if told["state"] not in ("waiting", "running"):
            break
        time.sleep(0.05)
    assert told["state"] == "done"
    assert [each.name for each in shop.renders.folder.iterdir()] == ["full.mp4"]


def test_the_end_of_a_render_is_told_although_it_cannot_be_written_and_written_when_it_can(app):
    jobs = app.state.workshop.jobs
    jobs.create("a", NewJob("p", "Crossing", "crossing", "mp4", {}, 1, ".mp4"), 10)
    with read_only(app.state.workshop.sessions):
        jobs.change("a", state="failed", message="There was no room.")
        assert (jobs.get("a").state, jobs.get("a").message) == ("failed", "There was no room.")
        assert JobStore(jobs.sessions).get("a").state == "waiting"
    jobs.change("a", done=1)
    assert JobStore(jobs.sessions).get("a").state == "failed"
