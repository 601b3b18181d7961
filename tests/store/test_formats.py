"""Every format ever written is read: by file and out of a store, and shows what it showed when it was written."""

import json
import zipfile
from base64 import b64decode
from io import BytesIO
from pathlib import Path

import numpy as np
import orjson
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Project, upgrade
from deftarc.formats.archive import document_by_layers, read_document, read_project, write_project
from deftarc.formats.materials import Materials
from deftarc.store.parts import PartIndex, text_of
from deftarc.store.reading_parts import Reading, is_stand_in
from tests.everything import pictured
from tests.scenes import gull, project

GOLDEN = Path(__file__).parents[1] / "golden"
FORMATS = sorted({path.name.split(".")[0] for path in GOLDEN.iterdir()})


def parts_of(name):
    told = json.loads((GOLDEN / f"{name}.parts.json").read_text())
    return told["root"], {hash: b64decode(body) for hash, body in told["parts"].items()}


def test_there_is_a_golden_file_of_each_format():
    assert [f"format-{n}" for n in range(1, upgrade.FORMAT + 1)] == FORMATS


@pytest.mark.parametrize("name", FORMATS)
def test_a_file_of_each_format_shows_what_it_showed(name):
    file = read_project((GOLDEN / f"{name}.deftarc").read_bytes())
    shown = pictured(file.project, Materials(file.read_asset).shaper.form)
    told = json.loads((GOLDEN / f"{name}.pictured.json").read_text())
    assert shown.keys() == told.keys()
    for scene, layers in told.items():
        assert shown[scene].keys() == layers.keys()
        for layer, rows in layers.items():
            assert np.allclose(shown[scene][layer], rows, rtol=1e-5, atol=1e-5), (scene, layer)


@pytest.mark.parametrize("name", FORMATS)
def test_a_store_of_each_format_opens_and_is_written_on_as_it_is_now(name):
    root, parts = parts_of(name)
    index = PartIndex()
    opened = Reading(index, parts.__getitem__).project(root)
    assert not any(is_stand_in(layer) for scene in opened.scenes for layer in scene.layers)
    assert opened == read_project((GOLDEN / f"{name}.deftarc").read_bytes()).project
    # Changed and written, it lies beside what it shares with the old one, and reads back the same.
    scene = opened.scenes[0]
    long, drawn = scene.layer("long"), scene.layer("drawn")
    changed = scene.with_layer(long.changed(name="Longer")).with_layer(drawn.changed(name="Drawn anew"))
    after = opened.with_scene(changed).changed(name="On")
    written = index.write(after)
    for body_name, body in written.bodies.items():
        assert orjson.loads(text_of(body, body_name))["format"] == upgrade.FORMAT
    assert Reading(PartIndex(), {**parts, **written.bodies}.__getitem__).project(written.root) == after


def test_every_part_and_file_says_its_format():
    _, parts = parts_of(FORMATS[-1])
    told = [orjson.loads(text_of(body, name)) for name, body in parts.items()]
    assert {each["format"] for each in told} == {upgrade.FORMAT}
    with zipfile.ZipFile(BytesIO(write_project(project(gull()), None, {}))) as archive:
        assert json.loads(archive.read("project.json"))["format"] == upgrade.FORMAT
    assert json.loads(project(gull()).model_dump_json(exclude_defaults=True))["format"] == upgrade.FORMAT


def test_axes_linked_by_area_had_the_area_one_before_format_6():
    told = {"name": "A", "artwork": {"kind": "carrier"}, "scale_link": "area", "scale_ratio": 2.5}
    assert upgrade.upgraded_layer(dict(told), 5).get("scale_ratio") is None
    assert upgrade.upgraded_layer(dict(told), 6)["scale_ratio"] == 2.5
    assert upgrade.upgraded_layer({**told, "scale_link": "linked"}, 3)["scale_ratio"] == 2.5
    taken = {"layer": "a", "scale_link": "area", "scale_ratio": 2.5, "tracks": {}}
    scene = {"name": "S", "layers": [], "takes": [{"layers": ["a"], "takes": [{"layers": [taken]}]}]}
    made = upgrade.upgraded_project({"format": 5, "name": "P", "scenes": [scene]})
    assert "scale_ratio" not in made["scenes"][0]["takes"][0]["takes"][0]["layers"][0]


def test_what_a_later_version_wrote_is_refused_by_name():
    later = json.dumps({"format": upgrade.FORMAT + 1, "name": "Later", "scenes": []}).encode()
    for read in (read_document, lambda data: document_by_layers(data, lambda layer: None)):
        with pytest.raises(Refusal, match="later Deft Arc"):
            read(later)
        with pytest.raises(Refusal, match="no format"):
            read(b'{"format": true, "name": "x", "scenes": []}')


def test_a_step_brings_each_kind_of_thing_up_wherever_it_lies(monkeypatch):
    """With a step for everything, a file, its layers one by one and a store all come to the same document."""
    seen = []

    def step(what):
        def run(data):
            seen.append(what)
            if what == "layer":
                data["name"] = data["name"] + "!"
            if what == "keys" and data and "value" in data[0] and not isinstance(data[0]["value"], list):
                data[0]["value"] += 1
            if what == "artwork" and data["kind"] == "rectangle":
                data["width"] = data["width"] * 2
            return data

        return run

    for what in ("project", "scene", "layer", "artwork", "track", "keys", "points", "names"):
        monkeypatch.setitem(upgrade.STEPS, (what, 1), step(what))
    data = (GOLDEN / "format-1.deftarc").read_bytes()
    read = read_project(data).project
    assert {"project", "scene", "layer", "artwork", "track", "keys", "points"} <= set(seen)
    root, parts = parts_of("format-1")
    kept = Reading(PartIndex(), parts.__getitem__).project(root)
    assert "names" in seen
    # A stretch is brought up by itself, so a step of whole rows says no more than one of each of its stretches.
    assert [layer.name for scene in read.scenes for layer in scene.layers] == [
        layer.name for scene in kept.scenes for layer in scene.layers
    ]
    assert all(layer.name.endswith("!") for scene in kept.scenes for layer in scene.layers)
    assert [layer.artwork for scene in read.scenes for layer in scene.layers] == [
        layer.artwork for scene in kept.scenes for layer in scene.layers
    ]
    assert isinstance(kept, Project)
