"""Python's own tidying waits until no hand does."""

import gc

from fastapi.testclient import TestClient

from deftarc.web.server import create_app
from deftarc.web.tidying import HELD, REST, Tidying
from tests.running import TESTED


def test_all_is_collected_once_after_each_stretch_of_work_and_never_in_it():
    now, done = [0.0], []
    tidying = Tidying(lambda: now[0], lambda: done.append(now[0]))
    assert not tidying.tidy()
    for _ in range(40):
        tidying.stir()
        now[0] += REST * 0.9
        assert not tidying.tidy()
    now[0] += REST
    assert tidying.tidy()
    assert len(done) == 1
    now[0] += 10 * REST
    assert not tidying.tidy()
    tidying.stir()
    now[0] += REST
    assert tidying.tidy()
    assert len(done) == 2


def test_a_running_server_holds_full_collections_back_and_a_look_counts_as_work(tmp_path):
    before = gc.get_threshold()
    app = create_app(tmp_path, hosts=TESTED)
    with TestClient(app) as client:
        assert gc.get_threshold() == HELD
        client.post("/api/projects", json={"name": "Ferry"})
        project = app.state.workshop.projects.summaries()[0].id
        with client.websocket_connect(f"/live/{project}") as live:
            assert app.state.tidying.stirred is None
            live.send_json({"n": 1, "scene": "", "frame": 0})
            live.receive_bytes()
            assert app.state.tidying.stirred is not None
    assert gc.get_threshold() == before
