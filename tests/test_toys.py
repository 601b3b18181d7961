"""A toy of each kind, added through the registers alone, in a process of its own: seen by schema, core, painter, API."""

import json
import os
import subprocess
import sys

SEEN = """
import io, json, sys
from fastapi.testclient import TestClient
from deftarc.core.document import Project
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.edit import EDIT, apply
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.formats.archive import read_document
from deftarc.paint.output import OUTPUTS, output_for
from deftarc.web.live.page import Looking
from deftarc.web.look import Look
from deftarc.formats.wire import unpack
from deftarc.web.server import create_app
from tests.running import TESTED
from tests.scenes import at, gull, numbers, project

folder = sys.argv[1]
app = create_app(__import__("pathlib").Path(folder), hosts=TESTED)
shop = app.state.workshop
shop.projects.create(project(gull()), "p")
out = {}
schema = json.dumps(Project.model_json_schema())
out["schema"] = all(word in schema for word in ("Flower", "Haze"))
with TestClient(app) as client:
    told = client.get("/openapi.json").text
    out["api"] = all(word in told for word in ("Water", "Flower", "Haze"))
    first = client.get("/api/artworks/flower?side=200").json()
    edits = [
        {"kind": "add_layer", "scene": "crossing", "id": "rose", "name": "Rose", "artwork": first["artwork"]},
        {"kind": "add_effect", "scene": "crossing", "layers": ["rose"], "effect": {"kind": "haze", "id": "h"}},
        {"kind": "set_value", "scene": "crossing", "layer": "rose", "property": "petals", "told": "9", "time": 0, "keying": True},
        {"kind": "set_value", "scene": "crossing", "layer": "rose", "property": "effect/h/haze_amount", "told": "3", "time": 0, "keying": True},
        {"kind": "set_value", "scene": "crossing", "layer": "rose", "property": "effect/h/haze_amount", "told": "30", "time": at(20), "keying": True},
        {"kind": "water", "scene": "crossing", "layers": ["rose"]},
    ]
    for edit in edits:
        revision = client.get("/api/projects/p").json()["revision"]
        answer = client.post("/api/projects/p/edits", json={"revision": revision, "edit": edit})
        assert answer.status_code == 200, answer.text
    page = client.get("/projects/p").text + client.get("/projects/p/deliver?scene=crossing").text
    out["page"] = all(word in page for word in ('data-add="flower"', 'value="count"', "/static/more/tests.toys/toys.js", "Ctrl Shift W"))
    out["script"] = client.get("/static/more/tests.toys/toys.js").status_code
doc = shop.projects.open("p").project
out["history"] = shop.projects.open("p").undo
rose = doc.scene("crossing").layer("rose")
out["scale"] = rose.number("scale").value
table = evaluate(doc.scene("crossing"), frame_times(doc.scene("crossing")))
leaf = table.leaf("rose")
out["haze"] = [float(leaf.effects[0].values["amount"][k, 0]) for k in (0, 10, 20)]
out["verbs"] = leaf.outline.verbs[0].count("C")
head, _ = unpack(Looking(shop, "p").answer(Look(scene="crossing", layers=("rose",), page="look", fresh=True)))
out["lanes"] = [label for label in ("Petals", "Haze") if any(label in html for html in head["lanes"]["html"].values())]
out["figures"] = [word for word in ("Petals", "Haze", "Amount") if word in head["fragments"]["figures"]]
out["census"] = head["census"]
again = read_document(doc.model_dump_json(exclude_defaults=True).encode())
out["comes back"] = again == doc
out["outputs"] = [each.id for each in OUTPUTS.values()]
print(json.dumps(out))
"""


def test_a_toy_of_each_kind_is_added_through_the_registers_alone(tmp_path):
    run = subprocess.run(
        [sys.executable, "-c", SEEN, str(tmp_path)],
        env={**os.environ, "DEFTARC_MORE": "tests.toys", "PYTHONPATH": os.pathsep.join(sys.path)},
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert run.returncode == 0, run.stderr[-3000:]
    seen = json.loads(run.stdout)
    assert seen["schema"]
    assert seen["api"]
    assert seen["page"]
    assert seen["script"] == 200
    assert seen["history"] == "Water Rose"
    assert round(seen["scale"], 6) == 1.1
    assert seen["haze"][0] == 3
    assert seen["haze"][2] == 30
    assert 3 < seen["haze"][1] < 30
    assert seen["verbs"] == 18
    assert seen["lanes"] == ["Petals", "Haze"]
    assert seen["figures"] == ["Petals", "Haze", "Amount"]
    assert seen["census"] == 2
    assert seen["comes back"]
    assert seen["outputs"][:2] == ["mp4", "webm"]
    assert "count" in seen["outputs"]


def test_without_them_nothing_of_the_toys_is_there(tmp_path):
    from deftarc.core.document.artwork import ARTWORKS
    from deftarc.core.edit import EDITS

    assert "flower" not in ARTWORKS
    assert "water" not in EDITS
