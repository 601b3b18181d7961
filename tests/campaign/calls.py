"""The whole API called with whatever its schema allows and forbids, on ids that are there."""

import json
from dataclasses import dataclass, field
from io import BytesIO

import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image
from schemathesis.generation.modes import GenerationMode

from deftarc.core.document.artwork import Picture
from deftarc.formats.read import Asset
from deftarc.store.jobs import NewJob
from deftarc.web.server import create_app
from tests.every_edit import EDITS, harbour
from tests.running import TESTED
from tests.scenes import layer


@dataclass
class Calls:
    made: int = 0
    codes: dict = field(default_factory=dict)
    broken: list = field(default_factory=list)


class Called:
    """An application with a project of everything, and the ids by which it can be asked for."""

    def __init__(self, folder):
        self.app = create_app(folder, hosts=TESTED)
        shop = self.app.state.workshop
        out = BytesIO()
        Image.new("RGB", (8, 6), "#b23a26").save(out, "PNG")
        asset = Asset(out.getvalue(), "image/png")
        shop.assets.put([asset])
        made = harbour()
        made = made.with_scene(
            made.scenes[0].changed(
                layers=(*made.scenes[0].layers, layer("Sign", Picture(asset=asset.hash, width=8, height=6)))
            )
        )
        shop.projects.create(made, "p")
        job = shop.jobs.new_name()
        shop.jobs.create(job, NewJob("p", "Crossing", "crossing", "png", {}, 1, ".png"), 1)
        shop.jobs.change(job, state="done")
        self.ids = {
            "project_id": ["p"], "scene_id": ["crossing"], "layer_id": [each.id for each in made.scenes[0].layers], "job_id": [job],
            "name": [asset.hash], "index": [0, 1, 99], "part": ["scene", "shelf"],
        }  # fmt: skip
        # No call may start a movie: that is another campaign.
        shop.renders.close()
        self.client = TestClient(self.app, raise_server_exceptions=False)
        self.told = Calls()

    def operations(self):
        schema = schemathesis.openapi.from_asgi("/openapi.json", self.app)
        return [found.ok() for found in schema.get_all_operations()]

    def on(self, operation, times):
        """So many calls of one operation; half of the ids are real, and half of the revisions the newest."""

        @settings(max_examples=times, deadline=None, suppress_health_check=list(HealthCheck), database=None)
        @given(
            st.one_of(*(operation.as_strategy(generation_mode=mode) for mode in GenerationMode)), st.integers(0, 999)
        )
        def run(case, dice):
            for name in case.path_parameters or {}:
                if name in self.ids and dice % 8:
                    case.path_parameters[name] = self.ids[name][dice % len(self.ids[name])]
            if isinstance(case.body, dict) and "revision" in case.body and dice % 4:
                case.body["revision"] = self.revision()
            if isinstance(case.body, dict) and "edit" in case.body and dice % 3 == 0:
                kind, fields, _ = EDITS[dice % len(EDITS)]
                case.body["edit"] = {"kind": kind, "scene": "crossing", **fields}
            answer = case.call()
            self.told.made += 1
            self.told.codes[answer.status_code] = self.told.codes.get(answer.status_code, 0) + 1
            if answer.status_code >= 500:
                self.told.broken.append((operation.method, operation.path, answer.status_code, str(case.body)[:300]))
            if operation.path.endswith("{project_id}") and operation.method == "delete":
                self.client.post("/api/projects/p/restore")

        run()

    def revision(self):
        told = self.client.get("/api/projects/p")
        return json.loads(told.content).get("revision", 1)


def over(folder, calls):
    """At least so many calls over all operations; what came of them."""
    called = Called(folder)
    # The last call may remove what the others need.
    operations = sorted(called.operations(), key=lambda each: each.path.endswith("/remove"))
    each = -(-calls // len(operations))
    while called.told.made < calls:
        for operation in operations:
            called.on(operation, each)
            if operation.path.endswith("/remove"):
                break
    return called.told
