"""Animations brought into an open project over HTTP, and again after their file changed."""

import pytest
from PIL import Image

from deftarc.core.document import Project
from tests.animations import box, buoy, told

FILES = "/api/projects/p/scenes/crossing/files"


@pytest.fixture
def came(client):
    """Brings a buoy in; answers its scene's address."""
    bring(client, told(buoy()))
    return f"/api/projects/p/scenes/{document(client).scenes[1].id}"


def bring(client, data, name="buoy.json", revision=1, **more):
    return client.post(FILES, files={"file": (name, data)}, data={"revision": str(revision), **more})


def again(client, came, animation, name="buoy.json", **more):
    revision = client.get("/api/projects/p").json()["revision"]
    data = animation if isinstance(animation, bytes) else told(animation)
    return client.post(f"{came}/again", files={"file": (name, data)}, data={"revision": str(revision), **more})


def document(client, project="p"):
    return Project.model_validate(client.get(f"/api/projects/{project}/document").json())


def layers(client, place=1):
    return {each.name: each for each in document(client).scenes[place].layers}


def change(client, **fields):
    scene = document(client).scenes[1].id
    revision = client.get("/api/projects/p").json()["revision"]
    made = client.post("/api/projects/p/edits", json={"revision": revision, "edit": {"scene": scene, **fields}})
    assert made.status_code == 200


def test_an_animation_comes_in_as_a_scene_that_a_new_layer_shows(client):
    made = bring(client, told(buoy()), x="300", y="200", size="fit", edit_id="come-in-1")
    assert made.json()["missing"] == []
    project = document(client)
    shown = project.scenes[0].layers[0]
    assert (shown.id, shown.name, shown.artwork.scene) == (made.json()["layer"], "buoy", project.scenes[1].id)
    assert shown.tracks["position"].value == (300, 200)
    assert shown.tracks["scale"].value == pytest.approx(
        min(project.scenes[0].width / 400, project.scenes[0].height / 320)
    )
    # It closes, so it goes on for ever.
    assert shown.artwork.goes_on == "repeat"
    assert project.scenes[1].origin.file == "buoy.json"
    assert [each.name for each in project.scenes[1].layers] == ["Lamp", "Buoy"]
    # Sent again, it is the same one.
    assert bring(client, told(buoy()), edit_id="come-in-1").json()["layer"] == shown.id
    assert len(document(client).scenes) == 2
    # And another file of the same name is another scene.
    more = bring(client, told(buoy(op=80)), revision=made.json()["revision"])
    assert more.status_code == 201
    assert document(client).scenes[0].layers[0].artwork.goes_on == "hold"
    assert len({each.id for each in document(client).scenes}) == 3


def test_pictures_come_along_and_what_is_not_carried_is_said(client):
    picture = "data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="
    seen = {"ty": 2, "nm": "Photo", "ip": 0, "op": 50, "ks": {}, "refId": "one"}
    assets = [{"id": "one", "w": 1, "h": 1, "e": 1, "p": picture}]
    made = bring(client, told(buoy(above=(seen, box("Mist", [9, 9], [1, 1, 1], 9, [0, 0], ef=[{}])), assets=assets)))
    assert made.json()["missing"] == ["Effects are left out."]
    shown = layers(client)["Photo"].artwork
    assert client.get(f"/api/assets/{shown.asset}").status_code == 200


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"{" + b" " * 50_000_000 + b"}", "40 MiB"),
        (b'{"layers":[],"x":"' + b"x" * 30_000_000 + b'"}', "larger than 24 MiB"),
        (b'{"layers":' + b"[" * 4_000 + b"]" * 4_000 + b"}", "nested"),
        (b'{"a": 1}', "no layers"),
        (b"{half", "no JSON"),
        (b"PK\3\4 nothing", "damaged or cut short"),
        (told(buoy(fr=0)), "no frame rate"),
    ],
    ids=["50 MB", "30 MB", "deep", "another", "half", "zip", "still"],
)
def test_what_is_no_animation_is_a_sentence_and_changes_nothing(client, came, data, said):
    before = document(client)
    for answer in (bring(client, data, revision=2), again(client, came, data)):
        assert answer.status_code in (400, 413)
        assert said in answer.json()["detail"]
    opened = client.post("/api/projects/import", files={"file": ("a.json", data)})
    assert opened.status_code == 400
    assert document(client) == before


def test_a_circle_in_a_file_shows_nothing_where_it_closes(client):
    seen = {"ty": 0, "nm": "Again", "refId": "c", "w": 40, "h": 40, "ip": 0, "op": 50, "ks": {}}
    made = bring(
        client,
        told(buoy(above=(seen,), assets=[{"id": "c", "layers": [{**seen}, box("Dot", [9, 9], [1, 0, 0], 1, [0, 0])]}])),
    )
    assert made.json()["missing"] == [
        "A composition that shows itself shows nothing there.", "“Again” shows a composition that is not in the file.",
    ]  # fmt: skip


def test_it_is_no_artwork_of_a_layer(client):
    answer = bring(client, told(buoy()), replace="gull")
    assert answer.status_code == 400
    assert "as a new layer" in answer.json()["detail"]


def test_a_file_that_changed_comes_again_and_what_was_done_here_is_kept(client, came):
    lamp, body = (layers(client)[name] for name in ("Lamp", "Buoy"))
    change(client, kind="change_artwork", layer=body.id, change={"fill": "#14324a"})
    change(client, kind="set_value", layer=body.id, property="position", component=0, value=10, time=0)
    change(client, kind="add_layer", id="rope", name="Rope", artwork={"kind": "ellipse", "width": 9, "height": 9})
    flag = box("Flag", [50, 30], [0.1, 0.5, 0.4], 3, [60, -60], parent=2)
    made = again(client, came, buoy(turns=40, width=90, above=(flag,), op=60))
    assert made.status_code == 200
    assert made.json()["kept"] == []
    assert [note["text"] for note in made.json()["notes"]] == [
        "buoy.json came in again. Of its layers: 2 changed and 1 new.",
    ]  # fmt: skip
    now = layers(client)
    assert list(now) == ["Rope", "Flag", "Lamp", "Buoy"]
    assert (now["Lamp"].id, now["Buoy"].id, now["Flag"].parent) == (lamp.id, body.id, body.id)
    assert now["Buoy"].artwork.fill == "#14324a"
    assert max(row[0] for row in now["Buoy"].artwork.contours[0].points) == 45
    assert now["Buoy"].tracks["position"].value == (10, 220)
    assert max(key.value for key in now["Buoy"].tracks["rotation"].keys) == 40
    assert document(client).scenes[1].frames == 60
    # One step, taken back as one; and the next time it is told from what it was then.
    assert client.get("/api/projects/p").json()["undo"] == "Bring Buoy in again"
    same = again(client, came, buoy(turns=40, width=90, above=(flag,), op=60))
    assert "nothing to change" in same.json()["detail"]
    revision = client.get("/api/projects/p").json()["revision"]
    client.post("/api/projects/p/undo", json={"revision": revision})
    assert list(layers(client)) == ["Rope", "Lamp", "Buoy"]
    assert again(client, came, buoy(turns=41)).status_code == 200


def test_what_both_changed_is_told_and_stays_or_is_the_files(client, came):
    body = layers(client)["Buoy"]
    change(client, kind="delete_keys", keys=[{"layer": body.id, "property": "rotation", "time": key.time}
                                             for key in body.tracks["rotation"].keys[1:]])  # fmt: skip
    made = again(client, came, buoy(turns=40), edit_id="again-one")
    assert made.status_code == 200, made.text
    assert made.json()["kept"] == ["rotation of Buoy"]
    assert len(layers(client)["Buoy"].tracks["rotation"].keys) == 1
    # Sent twice, it is done once.
    assert again(client, came, buoy(turns=40), edit_id="again-one").json()["repeated"]
    client.post("/api/projects/p/undo", json={"revision": made.json()["revision"]})
    assert again(client, came, buoy(turns=40), prefer="file").json()["kept"] == []
    assert len(layers(client)["Buoy"].tracks["rotation"].keys) == 3


def test_it_comes_again_in_a_copy_and_in_a_project_that_was_saved_and_opened(client, came):
    scene = came.rpartition("/")[2]
    client.post(
        "/api/projects/p/edits", json={"revision": 2, "edit": {"kind": "duplicate_scene", "scene": scene, "id": "twin"}}
    )
    assert again(client, "/api/projects/p/scenes/twin", buoy(turns=33)).status_code == 200
    turns = [max(key.value for key in layers(client, n)["Buoy"].tracks["rotation"].keys) for n in (1, 2)]
    assert turns == [20, 33]
    saved = client.get("/api/projects/p/file").content
    other = client.post("/api/projects/import", files={"file": ("a.deftarc", saved)}).json()["id"]
    made = client.post(
        f"/api/projects/{other}/scenes/{scene}/again", files={"file": ("buoy-2.json", told(buoy(turns=7)))},
        data={"revision": "1"},
    )  # fmt: skip
    assert made.status_code == 200
    assert document(client, other).scene(scene).origin.file == "buoy-2.json"


def test_what_was_opened_as_a_project_comes_again_too(client):
    name = client.post("/api/projects/import", files={"file": ("buoy.json", told(buoy()))}).json()["id"]
    scene = document(client, name).scenes[0]
    assert (scene.name, scene.origin.file) == ("Buoy", "buoy.json")
    address = f"/api/projects/{name}/scenes/{scene.id}/again"
    made = client.post(address, files={"file": ("buoy.json", told(buoy(turns=5)))}, data={"revision": "1"})
    assert made.status_code == 200


def test_what_has_nothing_to_do_with_it_is_refused_and_so_is_an_old_revision(client, came, tmp_path):
    Image.new("RGB", (4, 4)).save(tmp_path / "a.png")
    png = (tmp_path / "a.png").read_bytes()
    assert "came of a motion" in again(client, came, png, "a.png").json()["detail"]
    assert "came of no file" in again(client, "/api/projects/p/scenes/crossing", buoy(9)).json()["detail"]
    stale = client.post(f"{came}/again", files={"file": ("a.json", told(buoy(9)))}, data={"revision": "1"})
    assert stale.status_code == 409


def test_what_was_kept_of_a_file_has_to_be_here(client):
    scene = {"id": "s", "name": "S", "origin": {"file": "a.json", "asset": "0" * 64}}
    made = client.post("/api/projects/p/edits", json={"revision": 1, "edit": {"kind": "add_scene", "scene": scene}})
    assert made.status_code == 400
    assert "Bring its file in again" in made.json()["detail"]


def test_what_was_kept_stays_as_long_as_it_is_named(client, app, came):
    shop = app.state.workshop
    asset = document(client).scenes[1].origin.asset
    shop.sweep()
    assert shop.assets.media([asset]) == {asset: "application/vnd.deftarc.scenes"}
