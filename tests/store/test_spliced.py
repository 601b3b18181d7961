"""A document written out of its parts is the one that is read of them, for every kind of thing."""

import zipfile
from io import BytesIO

import pytest

from deftarc.app.workshop import Workshop, export_file
from deftarc.core.document import Project, Scene
from deftarc.core.edit import EDIT
from deftarc.demo import install
from deftarc.formats.archive import read_document, read_project
from deftarc.store.projects import DamagedProject
from tests.everything import everything
from tests.large import large_scene
from tests.web.live.test_page_shows_what_is import quay


@pytest.fixture(scope="module")
def shop(tmp_path_factory):
    shop = Workshop.at(tmp_path_factory.mktemp("data"))
    install(shop.projects, shop.assets)
    demo = shop.projects.open("quillhaven").project
    shop.projects.create(everything(quay(), demo).changed(fonts=demo.fonts), "everything")
    shop.projects.create(Project(name="Large", scenes=(large_scene(4, 300),)), "large")
    shop.projects.create(Project(name="Empty", scenes=(Scene(name="Bare"),)), "empty")
    return shop


@pytest.mark.parametrize("name", ["quillhaven", "everything", "large", "empty"])
def test_what_is_written_is_what_is_opened(shop, name):
    project = shop.projects.open(name).project
    pieces = shop.projects.written(name)
    assert read_document(b"".join(pieces)) == project
    file = shop.export(name)
    assert read_project(file).project == project
    one, other = (zipfile.ZipFile(BytesIO(data)) for data in (file, export_file(project, shop.assets)))
    assert sorted(one.namelist()) == sorted(other.namelist())
    assert all(one.read(each) == other.read(each) for each in one.namelist() if each != "project.json")
    assert shop.export(name) == file


def test_an_earlier_state_is_written_as_it_was(shop):
    before = shop.projects.open("large")
    scene = before.project.scenes[0]
    edit = {"kind": "delete_layers", "scene": scene.id, "layers": [scene.layers[0].id]}
    shop.projects.commit("large", before.revision, EDIT.validate_python(edit))
    assert read_document(b"".join(shop.projects.written("large", before.root))) == before.project
    assert read_document(b"".join(shop.projects.written("large"))) == shop.projects.open("large").project


def test_what_is_damaged_has_to_be_opened(shop):
    shop.projects.create(Project(name="Torn", scenes=(large_scene(1, 80),)), "torn")
    with shop.sessions.begin() as session:
        root = shop.projects.root_of("torn")[1]
        session.connection().exec_driver_sql("UPDATE parts SET body = x'00' WHERE hash = ?", (root,))
    assert shop.projects.written("torn") is None


def test_a_list_says_what_is_damaged_once_it_was_opened(shop):
    shop.projects.create(Project(name="Frayed", scenes=(large_scene(1, 80),)), "frayed")
    [row] = [each for each in shop.projects.summaries() if each.id == "frayed"]
    assert shop.projects.glimpse(row).scenes == 1
    with shop.sessions.begin() as session:
        session.connection().exec_driver_sql(
            "UPDATE parts SET body = x'00' WHERE hash = ?", (shop.projects.root_of("frayed")[1],)
        )
    with pytest.raises(DamagedProject):
        shop.projects.open("frayed")
    with pytest.raises(DamagedProject):
        shop.projects.glimpse(row)
