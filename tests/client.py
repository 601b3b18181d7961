"""A client on an application of its own, with one small project."""

import json

import pytest
from fastapi.testclient import TestClient

from deftarc.core.document import Project
from deftarc.formats.wire import unpack
from tests.running import TESTED, fresh_app
from tests.scenes import at, gull, layer, project


@pytest.fixture
def app(tmp_path):
    made = fresh_app(tmp_path, TESTED)
    made.state.workshop.projects.create(project(gull(), layer("Ferry")), "p")
    return made


@pytest.fixture
def client(app):
    with TestClient(app, raise_server_exceptions=True) as made:
        yield made


@pytest.fixture
def edit(client):
    """Posts an edit on the newest revision."""

    def make(kind, revision=None, **fields):
        at = client.get("/api/projects/p").json()["revision"] if revision is None else revision
        body = {"revision": at, "edit": {"kind": kind, "scene": "crossing", **fields}}
        return client.post("/api/projects/p/edits", json=body)

    return make


@pytest.fixture
def page(client):
    """A page's end of the socket: call it with what it looks at."""
    with client.websocket_connect("/live/p") as socket:

        def look(**fields):
            socket.send_text(
                json.dumps({"scene": "crossing", "axis": {"start": 0, "end": at(100), "width": 500}, **fields})
            )
            while "changed" in (got := unpack(socket.receive_bytes()))[0]:
                pass
            return got

        look.socket = socket
        yield look


def document_of(client, project="p"):
    """A project's document with all that goes without saying said."""
    return Project.model_validate(client.get(f"/api/projects/{project}/document").json()).model_dump(mode="json")
