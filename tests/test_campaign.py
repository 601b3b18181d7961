"""A little of each part of the campaign: what ``make campaign`` does for an hour holds for a minute too."""

import pytest
from fastapi.testclient import TestClient

from deftarc.web.server import create_app
from tests.campaign import busy, calls, kills, mixed
from tests.prepared_edits import all_prepared
from tests.running import TESTED
from tests.scenes import at, gull, layer, numbers, project
from tests.serving import Server
from tests.web.live.test_page_shows_what_is import quay
from tests.wild_edits import Wild


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.filterwarnings("ignore::RuntimeWarning")
def test_whatever_is_accepted_reopens_draws_comes_back_and_is_undone_exactly(tmp_path, seed):
    wild = Wild(tmp_path, all_prepared() if seed % 2 else quay(), seed)
    for n in range(40):
        wild.step(look=n % 10 == 9)
    wild.back_to_the_beginning()
    assert wild.accepted > 8
    assert wild.refused > 5


def test_what_was_acknowledged_survives_kills_at_any_moment(tmp_path):
    came = kills.over(tmp_path, {"edits": 1, "uploads": 1, "imports": 1, "renders": 1})
    assert (came.lost, came.twice, came.broken) == (0, 0, [])
    assert came.kills == 4


def test_a_folder_whose_first_start_or_migration_was_killed_starts(tmp_path):
    assert kills.first_starts(tmp_path, 8) == []


def test_no_request_the_schema_allows_or_forbids_is_a_server_error(tmp_path):
    came = calls.over(tmp_path, 215)
    assert came.broken == []
    assert came.codes.get(200, 0) > 20
    assert came.codes.get(422, 0) > 10


def test_a_rotation_lifted_beyond_what_is_held_is_refused_and_locks_nothing(tmp_path):
    app = create_app(tmp_path, hosts=TESTED)
    app.state.workshop.projects.create(project(gull(), layer("Swing", rotation=numbers((0, 0), (10, 40)))), "p")
    lift = {"kind": "move_keys", "scene": "crossing", "by": 0, "lift": 9e6,
            "keys": [{"layer": "swing", "property": "rotation", "time": at(10)}]}  # fmt: skip
    with TestClient(app) as client:
        codes = [
            client.post("/api/projects/p/edits", json={"revision": n + 1, "edit": lift}).status_code for n in range(3)
        ]
        refused = client.post("/api/projects/p/edits", json={"revision": 2, "edit": lift})
    assert codes[0] == 200
    assert set(codes[1:]) == {400, 409}
    assert "Swing: Rotation" in refused.json()["detail"]
    assert "10,000,000" in refused.json()["detail"]
    # The folder opened by another server: the project, undo, export, deletion and the start page.
    with TestClient(create_app(tmp_path, hosts=TESTED)) as client:
        assert client.get("/").status_code == 200
        assert client.get("/api/projects/p/file").status_code == 200
        assert client.post("/api/projects/p/undo", json={"revision": 2}).status_code == 200
        assert client.delete("/api/projects/p").status_code == 204


def test_clients_on_different_layers_are_all_served_at_the_first_try(tmp_path):
    server = Server(tmp_path / "data").ready()
    try:
        project = busy.brought_in(server.port, busy.project_file(12, 5, 200))
        came = busy.on_different_layers(server.port, project, 12, 6)
        assert (came.first, came.other) == (72, 0)
        took, came = busy.heaviest(server.port, project)
        assert {status for _, status in took.values()} == {200}, took
        assert came.waited
    finally:
        server.kill()


def test_clients_that_do_anything_at_once_break_nothing(tmp_path):
    server = Server(tmp_path / "data").ready()
    try:
        came, projects = mixed.over(server.port, 6, clients=3)
        before = [server.ask("GET", f"/api/projects/{each}/document") for each in projects]
        server.kill()
        server = Server(tmp_path / "data").ready()
        assert [server.ask("GET", f"/api/projects/{each}/document") for each in projects] == before
    finally:
        server.kill()
    assert came.broken == []
    assert came.codes[200] > 10
    assert sum(came.accepted.values()) > 5
