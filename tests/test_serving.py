"""The server as a process: one to a folder, ended in time, killed at any moment, told where it cannot serve."""

import json
import os
import signal
import sqlite3
import subprocess
import sys
import threading
import time
from contextlib import suppress
from pathlib import Path

import pytest
from typer.testing import CliRunner
from websockets.sync.client import connect

from deftarc.cli import app as cli
from deftarc.core.base import limits
from tests.hostile.svgs import TEXTS, whole
from tests.serving import Server

SLOW = whole(TEXTS["universal rules"])
RECT = {"kind": "rectangle", "width": 9, "height": 9}


@pytest.fixture
def server(tmp_path):
    made = Server(tmp_path / "data").ready()
    yield made
    if made.process.poll() is None:
        made.kill()


def made_project(server):
    """A project with one layer: its id, its scene's and its layer's."""
    _, told = server.ask("POST", "/api/projects", {"name": "Ferry"})
    name = told["id"]
    _, document = server.ask("GET", f"/api/projects/{name}/document")
    scene = document["scenes"][0]["id"]
    edit = {"kind": "add_layer", "scene": scene, "id": "gull", "name": "Gull", "artwork": RECT}
    status, _ = server.ask("POST", f"/api/projects/{name}/edits", {"revision": 1, "edit": edit})
    assert status == 200
    return name, scene


def make_long(server, name, scene):
    """A scene whose movie takes longer than any test."""
    told = {
        "revision": 2,
        "name": "Long",
        "width": 1920,
        "height": 1080,
        "rate": "25",
        "length": "9000",
        "background": "none",
    }
    assert server.ask("PUT", f"/api/projects/{name}/scenes/{scene}", told)[0] == 200


def turned(scene, value):
    return {"kind": "set_value", "scene": scene, "layer": "gull", "property": "rotation", "value": value, "time": 0}


def test_a_second_server_on_a_folder_is_refused_and_told_of_the_first(server):
    second = Server(server.folder)
    assert second.process.wait(30) == 1
    told = second.process.stderr.read()
    assert f"process {server.process.pid}" in told
    assert f":{server.port}/" in told
    assert "Traceback" not in told
    assert server.ask("GET", "/api/projects")[0] == 200


def test_the_command_line_beside_a_server_takes_a_project_in_and_out_and_tells_nothing_of_its_renders(server, tmp_path):
    name, scene = made_project(server)
    make_long(server, name, scene)
    _, job = server.ask("POST", f"/api/projects/{name}/renders", {"scene": scene, "kind": "mp4"})
    file = tmp_path / "a.deftarc"
    for command in (["export", name, str(file)], ["import", str(file)]):
        done = subprocess.run(
            [sys.executable, "-m", "deftarc.cli", *command, "--data", str(server.folder)],
            capture_output=True,
            text=True,
        )
        assert done.returncode == 0, done.stderr
    assert server.ask("GET", f"/api/renders/{job['id']}")[1]["state"] in ("waiting", "running")
    assert len(server.ask("GET", "/api/projects")[1]) == 2


def test_a_server_ends_in_time_whatever_it_is_doing(server):
    name, scene = made_project(server)
    # A page that stays, a file that takes long to read, a movie that takes long to make.
    make_long(server, name, scene)
    assert server.ask("POST", f"/api/projects/{name}/renders", {"scene": scene, "kind": "mp4"})[0] == 202
    reading = threading.Thread(target=lambda: uploaded(server, name, scene), daemon=True)
    with connect(f"ws://127.0.0.1:{server.port}/live/{name}") as page:
        page.send(json.dumps({"scene": scene}))
        page.recv()
        reading.start()
        time.sleep(0.7)
        assert server.end(within=15) < 8
    reading.join(10)
    assert "Traceback" not in server.process.stderr.read()


def uploaded(server, name, scene):
    try:
        return server.upload(f"/api/projects/{name}/scenes/{scene}/files", "a.svg", SLOW, {"revision": 1})
    except OSError:
        return None


def test_a_file_whose_sender_leaves_is_read_no_further(server):
    name, scene = made_project(server)
    address, small = f"/api/projects/{name}/scenes/{scene}/files", whole('<rect width="9" height="9"/>')
    # How long a file takes on this machine, as busy as it is, with a reading process that has to be started for it:
    # the one that was asked to read and is gone is found to be gone by the first.
    for each in readers_of(server):
        os.kill(each, signal.SIGKILL)
    server.upload(address, "gone.svg", small, {"revision": 2})
    begun = time.monotonic()
    status, told = server.upload(address, "a.svg", small, {"revision": 2})
    assert status == 201
    cold = time.monotonic() - begun
    for _ in range(4):
        with pytest.raises(OSError):
            server.upload(f"/api/projects/{name}/scenes/{scene}/files", "a.svg", SLOW, {"revision": 1}, timeout=0.4)
    # Were they read to their ends, two at a time, this one would wait for all of them.
    begun = time.monotonic()
    status, _ = server.upload(address, "b.svg", small, {"revision": told["revision"]})
    assert status == 201
    assert time.monotonic() - begun < cold + 1.2 * limits.READ_SECONDS


def readers_of(server):
    """The reading processes of a server."""
    own = str(server.process.pid)
    told = [each for each in Path("/proc").iterdir() if each.name.isdigit()]
    rows = []
    for each in told:
        with suppress(OSError):
            if (each / "stat").read_text().rpartition(")")[2].split()[1] == own:
                rows.append((int(each.name), (each / "cmdline").read_bytes()))
    return [pid for pid, words in rows if b"reading_process" in words]


def test_what_was_acknowledged_is_there_after_a_kill_and_an_edit_sent_again_is_not_made_twice(tmp_path):
    folder = tmp_path / "data"
    server = Server(folder).ready()
    name, scene = made_project(server)
    revision = acknowledged = 2
    for round_ in range(2):
        for _ in range(round_ + 2):
            status, told = server.ask(
                "POST",
                f"/api/projects/{name}/edits",
                {"revision": revision, "edit": turned(scene, revision), "edit_id": f"edit-{revision:06}"},
            )
            assert status == 200
            revision = acknowledged = told["revision"]
        server.kill()
        server = Server(folder, port=server.port).ready()
        assert server.ask("GET", f"/api/projects/{name}")[1]["revision"] == acknowledged
        # As a page whose answer was lost in the kill would.
        again = {"revision": revision - 1, "edit": turned(scene, revision - 1), "edit_id": f"edit-{revision - 1:06}"}
        status, told = server.ask("POST", f"/api/projects/{name}/edits", again)
        assert (status, told["repeated"], told["revision"]) == (200, True, acknowledged)
    server.kill()


def test_renders_go_on_after_a_kill_with_what_was_made_of_them(tmp_path):
    folder = tmp_path / "data"
    server = Server(folder).ready()
    name, scene = made_project(server)
    make_long(server, name, scene)
    jobs = [
        server.ask("POST", f"/api/projects/{name}/renders", {"scene": scene, "kind": "mp4"})[1]["id"] for _ in range(3)
    ]
    first = folder / "renders" / jobs[0]
    for _ in range(600):
        if (first / "00000.made").exists():
            break
        time.sleep(0.05)
    # One at a time: the others wait.
    assert not any(list((folder / "renders" / job).glob("*.made*")) for job in jobs[1:])
    server.kill()
    time.sleep(1)
    made = {path.name: path.stat().st_ino for path in first.glob("*.made")}
    assert "00000.made" in made
    server = Server(folder, port=server.port).ready()
    for _ in range(600):
        told = [server.ask("GET", f"/api/renders/{job}")[1] for job in jobs]
        if len(list(first.glob("*.made"))) > len(made):
            break
        time.sleep(0.05)
    assert {path.name: path.stat().st_ino for path in first.glob("*.made") if path.name in made} == made
    assert {each["state"] for each in told} <= {"waiting", "running"}
    assert server.ask("POST", f"/api/renders/{jobs[0]}/stop")[1]["state"] == "stopped"
    server.kill()


@pytest.mark.parametrize(
    ("data", "words"), [("a file", "is a file"), ("a file/b", "cannot be made"), ("/proc/none", "cannot be made")]
)
@pytest.mark.parametrize("command", [["serve", "--port", "0"], ["export", "p", "a.deftarc"]])
def test_a_folder_that_cannot_be_one_is_told_in_a_sentence(tmp_path, command, data, words):
    (tmp_path / "a file").write_text("x")
    done = CliRunner().invoke(cli, [*command, "--data", str(tmp_path / data)])
    assert done.exit_code == 1
    assert words in done.stderr


def test_a_folder_with_what_is_no_database_is_told_in_a_sentence(tmp_path):
    (tmp_path / "deftarc.sqlite").write_bytes(b"no database " * 900)
    done = subprocess.run(
        [sys.executable, "-m", "deftarc.cli", "serve", "--data", str(tmp_path), "--port", "0"],
        capture_output=True,
        text=True,
    )
    assert done.returncode == 1
    assert "is damaged" in done.stderr
    assert "Traceback" not in done.stderr


def test_a_folder_of_a_later_version_is_refused_with_both_numbers_and_left_as_it_is(tmp_path):
    server = Server(tmp_path / "data").ready()
    server.kill()
    database = sqlite3.connect(tmp_path / "data" / "deftarc.sqlite")
    database.execute("UPDATE alembic_version SET version_num = '0999'")
    database.commit()
    database.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    database.close()
    before = (tmp_path / "data" / "deftarc.sqlite").read_bytes()
    for command in (["serve", "--port", "0"], ["queue"]):
        done = subprocess.run(
            [sys.executable, "-m", "deftarc.cli", *command, "--data", str(tmp_path / "data")],
            capture_output=True,
            text=True,
        )
        assert done.returncode == 1
        assert "its tables are number 0999, and this version knows them up to 0007" in done.stderr
        assert "Traceback" not in done.stderr
    assert (tmp_path / "data" / "deftarc.sqlite").read_bytes() == before


def test_a_render_that_meets_a_full_disk_fails_with_its_reason_and_leaves_nothing(tmp_path):
    file = tmp_path / "a.deftarc"
    file.write_text('{"name": "a", "scenes": [{"name": "s", "frames": 2}]}')
    full = Path("/dev/full")
    if not full.exists():
        pytest.skip("This system has no full device")
    out = tmp_path / "out.mp4"
    # The half file goes to a device without room, as it would to a disk.
    out.with_name("out.mp4.part").symlink_to(full)
    done = subprocess.run(
        [sys.executable, "-m", "deftarc.cli", "render", str(file), "--out", str(out)], capture_output=True, text=True
    )
    assert done.returncode == 1
    assert "No space left" in done.stderr
    assert not out.exists()
    assert not out.with_name("out.mp4.part").is_symlink()


def test_others_reach_a_server_by_the_names_it_was_given_and_with_its_token(tmp_path):
    refused = Server(tmp_path / "a", "--host", "0.0.0.0", env={"DEFTARC_TOKEN": "bell-and-chime"})
    assert refused.process.wait(30) == 1
    assert "at least 20 letters" in refused.process.stderr.read()
    server = Server(
        tmp_path / "b",
        "--host",
        "0.0.0.0",
        "--name",
        "studio.quillhaven.example",
        env={"DEFTARC_TOKEN": "bell-and-chime-of-the-harbour"},
    ).ready()
    host = {"host": "studio.quillhaven.example:8321"}
    assert server.ask("GET", "/api/projects", headers=host)[0] == 403
    assert server.ask("GET", "/api/projects", headers={"host": "elsewhere.example"})[0] == 403
    request = server.ask("GET", "/api/projects?token=wrong", headers=host)
    assert request[0] == 403
    server.kill()
