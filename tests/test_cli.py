"""The command line on a project file, as a pipeline would use it."""

import json

import numpy as np
import pytest
from PIL import Image
from typer.testing import CliRunner

from deftarc.app.workshop import Workshop
from deftarc.cli import app, open_file
from deftarc.core.edit.scenes import ChangeScene, SetPlayRange
from deftarc.demo import DEMO_ID, install
from tests.animations import box, buoy, told

run = CliRunner()


def exported(tmp_path_factory, *edits):
    """The demo as a project file, after edits."""
    folder = tmp_path_factory.mktemp("data")
    shop = Workshop.at(folder)
    install(shop.projects, shop.assets)
    for edit in edits:
        shop.commit(DEMO_ID, shop.projects.open(DEMO_ID).revision, edit)
    target = folder / "demo.deftarc"
    done = run.invoke(app, ["export", DEMO_ID, str(target), "--data", str(folder)])
    assert done.exit_code == 0, done.output
    return target


@pytest.fixture(scope="module")
def file(tmp_path_factory):
    return exported(tmp_path_factory)


@pytest.fixture(scope="module")
def small(tmp_path_factory):
    """With a short and small Pennant: what is rendered of it is soon made."""
    pennant = {"width": 270, "height": 270, "fit": "scale", "frames": 30, "stretch": True}
    return exported(tmp_path_factory, ChangeScene(scene="pennant", **pennant))


def refused(*words):
    done = run.invoke(app, [str(word) for word in words])
    assert done.exit_code == 1, done.output
    return done.stderr


def test_sample_prints_a_motion_as_csv(file):
    done = run.invoke(
        app,
        ["sample", str(file), "--scene", "Crossing", "--layer", "Gull", "--property", "position", "--frames", "8-40"],
    )
    rows = done.stdout.splitlines()
    assert rows[0] == "frame,seconds,x,y,speed"
    assert rows[1].startswith("8,0.333333333,180,760,0")
    assert len(rows) == 34


def test_render_makes_a_picture_a_movie_and_a_folder(small, tmp_path):
    still = ["render", str(small), "--scene", "Pennant", "--out", str(tmp_path / "a.png"), "--frame", "20"]
    assert run.invoke(app, still).exit_code == 0
    assert np.array(Image.open(tmp_path / "a.png")).std() > 10
    folder = tmp_path / "frames"
    assert run.invoke(app, ["render", str(small), "--scene", "Pennant", "--out", str(folder)]).exit_code == 0
    assert len(list(folder.iterdir())) == 30
    done = run.invoke(app, ["render", str(small), "-s", "Pennant", "-o", str(tmp_path / "a.mp4"), "--progress"])
    assert done.stdout.splitlines()[-1] == "30 30"
    assert (tmp_path / "a.mp4").stat().st_size > 2_000


def test_render_takes_the_play_range_and_not_its_first_frame_twice(tmp_path_factory, tmp_path):
    short = {"width": 64, "height": 64, "fit": "scale", "frames": 30, "stretch": True}
    looped = exported(
        tmp_path_factory,
        ChangeScene(scene="pennant", **short),
        SetPlayRange(scene="pennant", start=0, end=12 * 28_224_000),
    )
    folder = tmp_path / "loop"
    words = ["render", str(looped), "-s", "Pennant", "-o", str(folder), "--set", "part=range"]
    assert run.invoke(app, words).exit_code == 0
    assert sorted(each.name for each in folder.iterdir()) == [f"{n:04d}.png" for n in range(12)]


def test_keys_are_printed_as_a_line_and_given_by_one(file, tmp_path):
    of = ["--scene", "Crossing", "--layer", "Gull", "--property", "rotation"]
    line = run.invoke(app, ["keys", str(file), *of]).stdout.strip()
    assert line.startswith("8f -16° slow ends · ")
    made = tmp_path / "made.deftarc"
    given = run.invoke(app, ["set", str(file), "0f 0° slow ends · 40f 90°", *of, "--out", str(made)])
    assert given.exit_code == 0, given.output
    assert run.invoke(app, ["keys", str(made), *of]).stdout.strip() == "0f 0° slow ends · 40f 90°"
    # Into the file itself, and back to just what it was.
    assert run.invoke(app, ["set", str(made), "-", *of], input=line).exit_code == 0
    assert run.invoke(app, ["keys", str(made), *of]).stdout.strip() == line
    wrong = refused("set", file, "0f 0° · 40f fast", *of)
    assert wrong.splitlines()[1] == " " * 12 + "^^^^"
    assert "no value" in wrong


def test_import_gives_back_what_export_wrote(file, tmp_path):
    name = run.invoke(app, ["import", str(file), "--data", str(tmp_path)]).stdout.strip()
    again = tmp_path / "again.deftarc"
    run.invoke(app, ["export", name, str(again), "--data", str(tmp_path)])
    assert again.read_bytes() == file.read_bytes()


def test_schema_is_json_schema():
    schema = json.loads(run.invoke(app, ["schema"]).stdout)
    assert schema["title"] == "Project"
    assert "$defs" in schema


def test_an_animation_is_rendered_sampled_and_taken_in_as_a_project_is(tmp_path):
    file = tmp_path / "buoy.json"
    file.write_bytes(told(buoy(above=(box("Mist", [9, 9], [1, 1, 1], 9, [0, 0], ef=[{}]),))))
    done = run.invoke(app, ["render", str(file), "-o", str(tmp_path / "buoy.png"), "--frame", "12"])
    assert done.exit_code == 0, done.output
    assert "Effects are left out." in done.stderr
    assert Image.open(tmp_path / "buoy.png").size == (400, 320)
    sampled = run.invoke(app, ["sample", str(file), "-l", "Buoy", "-p", "rotation", "--frames", "25"])
    assert sampled.stdout.splitlines()[1].split(",")[2] == "20"
    keyed = ["set", str(file), "0f 0° · 50f 90°", "-l", "Lamp", "-p", "rotation"]
    assert "Say where with --out" in run.invoke(app, keyed).stderr
    done = run.invoke(app, [*keyed, "--out", str(tmp_path / "b.deftarc")])
    assert done.exit_code == 0, done.output
    assert len(open_file(tmp_path / "b.deftarc").project.scenes[0].layers[1].tracks["rotation"].keys) == 2
    folder = str(tmp_path / "data")
    taken = run.invoke(app, ["import", str(file), "--data", folder])
    assert taken.exit_code == 0, taken.output
    (tmp_path / "half.json").write_bytes(file.read_bytes()[:90])
    done = run.invoke(app, ["render", str(tmp_path / "half.json"), "-o", str(tmp_path / "x.png")])
    assert done.exit_code == 1
    assert "no JSON" in done.stderr


def test_what_cannot_be_is_said_in_a_sentence(file, tmp_path):
    assert "no layer “whale”" in refused("sample", file, "-l", "whale", "-p", "position")
    assert "no property" in refused("sample", file, "-l", "Gull", "-p", "colour")
    assert "0 to 143" in refused("sample", file, "-l", "Gull", "-p", "position", "--frames", "0-144")
    assert "no range" in refused("sample", file, "-l", "Gull", "-p", "position", "--frames", "x")
    assert "no kind of output" in refused("render", file, "--out", tmp_path / "a.tiff")
    assert "cannot be written" in refused("render", file, "--out", tmp_path / "none" / "a.png")
    assert "cannot be written" in refused("render", file, "--workers", "2", "--out", tmp_path / "none" / "a.mp4")
    assert not (tmp_path / "none").exists()
    assert "cannot be read" in refused("sample", tmp_path / "none", "-l", "Gull", "-p", "position")
    assert "no project “nobody”" in refused("export", "nobody", tmp_path / "x", "--data", tmp_path)
    half = tmp_path / "half.deftarc"
    half.write_bytes(file.read_bytes()[:4000])
    assert "damaged" in refused("import", half, "--data", tmp_path)


@pytest.mark.parametrize("command", ["serve", "sample", "render", "export", "import", "schema"])
def test_every_command_helps(command):
    done = run.invoke(app, [command, "--help"])
    assert done.exit_code == 0
    assert len(done.stdout) > 100


def test_a_keyed_colour_is_sampled_in_its_parts_and_an_outline_is_not(tmp_path):
    from deftarc.core.document.artwork import Contour, FreePath
    from deftarc.formats.archive import write_project
    from tests.core.spaces.test_colour import colours
    from tests.scenes import layer, project

    wave = FreePath(contours=(Contour(points=((0, 0, 0, 0, 9, 0), (30, 0, -9, 0, 0, 0))),))
    made = project(layer("Sun", fill=colours((0, "#000000"), (10, "#ffffff"))), layer("Wave", artwork=wave))
    (tmp_path / "a.deftarc").write_bytes(write_project(made, lambda name: b"", {}))
    done = run.invoke(app, ["sample", str(tmp_path / "a.deftarc"), "-l", "Sun", "-p", "fill", "--frames", "0-10"])
    rows = done.output.splitlines()
    assert rows[0] == "frame,seconds,red,green,blue,alpha,speed"
    assert rows[11] == "10,0.4,100,100,100,100,250"
    assert float(rows[6].split(",")[2]) == pytest.approx(38.86, abs=0.05)
    refused("sample", tmp_path / "a.deftarc", "-l", "Wave", "-p", "outline")


def looked_at(file):
    """In Lantern Isle, a layer and a property of each kind that tells how something looks, with keys for it."""
    isle = open_file(file).project.scene("lantern")
    asked = {"mask_feather": "0f 0 px · 10f 12 px", "mask_opacity": "0f 100% · 10f 20%", "blur_radius": "0f 0 · 10f 9",
             "shadow_softness": "0f 2 · 9f 20", "stop_at": "0f 0% · 10f 100%", "gradient_x1": "0f 0 · 9f 40",
             "burst_rate": "0f 0 · 10f 60"}  # fmt: skip
    for kind, line in asked.items():
        name, layer = next((n, x) for x in isle.layers for n in x.properties if n.rpartition("/")[2] == kind)
        yield layer.name, name, line


def test_how_things_look_is_keyed_and_sampled_by_the_names_of_their_properties(file, tmp_path):
    target = tmp_path / "made.deftarc"
    for layer, name, line in looked_at(file):
        where = ["--scene", "Lantern Isle", "--layer", layer, "--property", name]
        done = run.invoke(app, ["set", str(file), line, *where, "--out", str(target)])
        assert done.exit_code == 0, (name, done.output)
        kept = run.invoke(app, ["keys", str(target), *where]).stdout.strip()
        again = run.invoke(app, ["set", str(target), kept, *where])
        assert again.exit_code == 0, (name, kept, again.output)
        assert run.invoke(app, ["keys", str(target), *where]).stdout.strip() == kept
        rows = run.invoke(app, ["sample", str(target), *where, "--frames", "0-10"]).stdout.splitlines()
        assert len(rows) == 12
        assert rows[1].split(",")[2] != rows[11].split(",")[2], name
    where = ["--scene", "Lantern Isle", "--layer", "Moon", "--property"]
    for name in ("mask/nobody/mask_feather", "effect/nothing/blur_radius", "mask/shade/blur_radius"):
        assert "no" in refused("set", file, "0f 1 · 9f 2", *where, name, "--out", target)
