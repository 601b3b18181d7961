"""A drawing that was delivered comes back as what it was: the scene, those shown in it, and nothing else."""

import base64

import pytest

from deftarc.app.reading_process import answered
from deftarc.core.base.errors import Refusal
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.demo.quillhaven import build
from deftarc.formats.archive import ProjectFile, read_project
from deftarc.formats.enclosed import enclosed, enclosing, has_project, is_drawing
from deftarc.formats.materials import Materials
from deftarc.formats.read import bring_in
from deftarc.paint.output import Job
from tests.rendering import made
from tests.scenes import gull, layer, project, scene


def job_in(whole, name, assets=()):
    file = ProjectFile(whole, {each.hash: each for each in assets})
    return Job(whole.scene(name), Materials(file.read_asset), whole.by_id, whole, file.written)


@pytest.mark.parametrize("motion", ["css", "smil"])
@pytest.mark.parametrize("name", ["crossing", "card", "bell"])
def test_a_scene_of_the_demo_comes_back_whole(tmp_path, name, motion):
    whole, assets = build()
    job = job_in(whole, name, assets)
    path = made(job.scene, tmp_path / "a.svg", job=job, motion=motion)
    back = read_project(path.read_bytes())
    assert back.project.scenes[0] == job.scene
    shown = {each.artwork.scene for each in job.scene.layers if each.artwork.kind == "scene"}
    assert shown <= {each.id for each in back.project.scenes}
    assert len(back.project.scenes) < len(whole.scenes)
    assert not back.project.motions
    assert back.project.name == job.scene.name


def test_what_is_shown_in_what_is_shown_comes_along(tmp_path):
    inner = scene(gull(), frames=9).changed(id="inner", name="Inner")
    between = scene(
        layer("Within", SceneShown(scene="inner", width=640, height=360)), frames=9
    ).changed(id="between", name="Between")  # fmt: skip
    outer = scene(layer("Window", SceneShown(scene="between", width=640, height=360)), frames=9)
    other = scene(gull(), frames=9).changed(id="other", name="Other")
    whole = project(gull()).changed(scenes=(outer, other, between, inner))
    path = made(outer, tmp_path / "a.svg", job=job_in(whole, outer.id))
    assert {each.id for each in read_project(path.read_bytes()).project.scenes} == {"crossing", "between", "inner"}


def test_it_goes_along_only_where_that_is_wanted(tmp_path):
    whole = project(gull(), frames=9)
    path = made(whole.scenes[0], tmp_path / "a.svg", job=job_in(whole, "crossing"), again=False)
    data = path.read_bytes()
    assert not has_project(data)
    with pytest.raises(Refusal, match="no scene in it that could be opened"):
        read_project(data)


def test_as_a_picture_it_stands_still_and_says_how_it_moves(tmp_path):
    whole = project(gull(), frames=9)
    path = made(whole.scenes[0], tmp_path / "a.svg", job=job_in(whole, "crossing"))
    told = bring_in(path.read_bytes(), "a.svg")
    assert "Opened on the start page" in told.notes[0]


def test_damaged_ones_are_a_sentence(tmp_path):
    bad = b'<svg xmlns="http://www.w3.org/2000/svg"><metadata id="deftarc-project">AAA</metadata></svg>'
    assert is_drawing(bad)
    with pytest.raises(Refusal, match="damaged"):
        enclosed(bad)
    for inside in (base64.b64encode(b"PK nothing").decode(), ""):
        path = tmp_path / "b.svg"
        path.write_text(f'<svg><metadata id="deftarc-project">{inside}</metadata></svg>')
        ok, sentence = answered("project", (path, tmp_path))
        assert not ok
        assert sentence.endswith(".")
        assert "damaged or cut short" in sentence
    assert enclosed(enclosing(b"PK").encode()) == b"PK"
