"""The JSON API: projects, edits, history, frames, files, renders."""

import time
from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from deftarc.formats.wire import read_table, unpack
from tests.client import document_of
from tests.scenes import at


def test_a_project_is_made_listed_renamed_copied_deleted_and_brought_back(client):
    made = client.post("/api/projects", json={"name": "Buoy", "preset": "square", "rate": "30", "length": "0:02:00"})
    assert made.status_code == 201
    name = made.json()["id"]
    scene = document_of(client, name)["scenes"][0]
    assert (scene["width"], scene["height"], scene["frames"]) == (1080, 1080, 60)
    assert (
        client.put(f"/api/projects/{name}/name", json={"name": "Bell buoy"}).json()["undo"]
        == "Rename the project to Bell buoy"
    )
    copy = client.post(f"/api/projects/{name}/duplicate").json()["id"]
    assert client.delete(f"/api/projects/{name}").status_code == 204
    assert {p["name"] for p in client.get("/api/projects").json()} == {"Bell buoy copy", "Quillhaven"}
    assert client.get(f"/api/projects/{name}").status_code == 404
    assert client.post(f"/api/projects/{name}/restore").status_code == 204
    assert client.get(f"/api/projects/{copy}").json()["undo"] is None


def test_an_edit_is_answered_with_the_new_revision_and_can_be_undone(client, edit):
    told = edit("set_value", layer="ferry", property="rotation", value=12, time=0).json()
    assert (told["revision"], told["undo"]) == (2, "Rotation of Ferry")
    back = client.post("/api/projects/p/undo", json={"revision": 2}).json()
    assert (back["undo"], back["redo"]) == (None, "Rotation of Ferry")
    assert client.post("/api/projects/p/redo", json={"revision": back["revision"]}).json()["steps"] == 1


def test_moved_keys_are_told_under_their_new_times(edit):
    told = edit("move_keys", keys=[{"layer": "gull", "property": "rotation", "time": at(40)}], by=at(5)).json()
    assert told["selects"] == [{"layer": "gull", "property": "rotation", "time": at(45)}]


def test_frames_come_as_a_binary_table(client):
    answer = client.get("/api/projects/p/scenes/crossing/frames?first=10&count=20")
    head, rest = unpack(answer.content)
    rows = read_table(head, rest)
    assert (head["first"], head["count"]) == (10, 20)
    assert rows["gull"].shape == (20, 7)
    assert np.allclose(rows["gull"][15, 4:6], [150, 200])


def test_rings_and_particles_of_a_long_scene_come_a_stretch_at_a_time(client, edit):
    snow = {"kind": "particles", "burst_rate": 300, "burst_life": 4, "ahead": 4, "burst_gravity": 0}
    edit("add_layer", id="snow", name="Snow", artwork=snow)
    edit("change_scene", frames=2000)

    def stretch(frame, back=0):
        answer = client.get(f"/api/projects/p/scenes/crossing/dots?frame={frame}&back={back}")
        head, rest = unpack(answer.content)
        told = head["dots"]["snow"]
        assert len(rest) == 36 * told["rows"]
        return told, np.frombuffer(rest, "<f4").reshape(-1, 9), head["revision"]

    def at_frame(told, rows, frame):
        k = frame - told["first"]
        return rows[told["starts"][k] : told["starts"][k + 1]]

    told, rows, revision = stretch(1500)
    assert told["first"] == 1500
    assert 50 < len(told["starts"]) < 120
    assert revision == 3
    before = stretch(1510, 20)
    assert before[0]["first"] == 1490
    for frame in (1500, 1511):
        assert np.array_equal(at_frame(told, rows, frame), at_frame(*before[:2], frame))
        assert len(at_frame(told, rows, frame)) == pytest.approx(1200, abs=1)
    assert stretch(1999)[0]["starts"] == [0, pytest.approx(1200, abs=1)]
    beyond = client.get("/api/projects/p/scenes/crossing/dots?frame=2000")
    assert "0 to 1999" in beyond.json()["detail"]
    assert client.get("/api/projects/p/scenes/crossing/dots?frame=-1").status_code == 422
    # The whole table has a stretch of them, too, and no more.
    head, _ = unpack(client.get("/api/projects/p/scenes/crossing/frames").content)
    [item] = [each for each in head["items"] if each["layer"] == "snow"]
    assert 50_000 < item["dots"]["rows"] <= 100_000


def test_a_still_is_painted_as_it_lies_on_a_stage(client):
    def still(**asked):
        return client.get(
            "/api/projects/p/scenes/crossing/still", params={"width": 160, "height": 90, "zoom": 0.25, **asked}
        )

    def pixels(**asked):
        return np.asarray(Image.open(BytesIO(still(**asked).content)).convert("RGBA"), int)

    whole, moved = pixels(frame=15), pixels(frame=15, left=40, top=10)
    assert whole.shape == (90, 160, 4)
    # Edges may fall a little otherwise where the picture ends.
    assert np.abs(moved[10:, 40:] - whole[:80, :120]).mean() <= 0.05
    alone = pixels(frame=15, alone=["gull"])
    assert 0 < np.abs(alone - whole).max(axis=-1).astype(bool).sum() < 90 * 160
    for asked, words in (({"frame": 100}, "0 to 99"), ({"width": 8000, "height": 8000}, "36,000,000 pixels")):
        assert still(**asked).status_code == 400
        assert words in still(**asked).json()["detail"]
    for asked in ({"width": 0}, {"zoom": 0}, {"zoom": "inf"}, {"left": "nan"}, {"frame": -1}):
        assert still(**asked).status_code == 422


def test_typed_moments_are_understood_by_the_core(client):
    get = lambda text: client.get("/api/projects/p/scenes/crossing/moment", params={"text": text})  # noqa: E731
    assert get("0:02:10").json() == {"frame": 60, "time": at(60), "timecode": "0:02:10"}
    beyond = client.get("/api/projects/p/scenes/crossing/moment", params={"text": "-5", "anywhere": True})
    assert beyond.json()["time"] == at(-5)
    assert get("100").status_code == 400
    assert "0 to 99" in get("100").json()["detail"]
    assert "is no time" in get("soon").json()["detail"]


def brought(client, data, name, revision=1, **more):
    return client.post(
        "/api/projects/p/scenes/crossing/files", files={"file": (name, data)}, data={"revision": str(revision), **more}
    )


def test_a_logo_and_a_picture_come_in_as_layers_where_they_were_dropped(client):
    logo = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><rect width="10" height="10"/><text>Q</text></svg>'
    told = brought(client, logo, "Line logo.svg", x="30", y="40").json()
    assert told["missing"] == ["Not shown: text (turn it into paths before export)."]
    drawing = client.get(f"/api/projects/p/scenes/crossing/layers/{told['layer']}/drawing").json()
    assert drawing["nodes"][0]["fill"] == {"kind": "solid", "colour": "#000000"}
    out = BytesIO()
    Image.new("RGBA", (4, 4), (9, 9, 9, 90)).save(out, "PNG")
    picture = brought(client, out.getvalue(), "mist.png", revision=told["revision"]).json()
    layers = document_of(client)["scenes"][0]["layers"]
    assert [x["name"] for x in layers[:2]] == ["mist", "Line logo"]
    assert layers[1]["tracks"]["position"]["value"] == [30, 40]
    assert layers[0]["id"] == picture["layer"]
    asset = client.get(f"/api/assets/{layers[0]['artwork']['asset']}")
    assert asset.content == out.getvalue()
    assert "immutable" in asset.headers["cache-control"]


def test_a_project_file_goes_out_and_comes_in(client):
    data = client.get("/api/projects/p/file")
    assert data.headers["content-disposition"] == 'attachment; filename="Quillhaven.deftarc"'
    made = client.post("/api/projects/import", files={"file": ("a.deftarc", data.content)}).json()["id"]
    assert document_of(client, made) == document_of(client)


def test_a_small_picture_stands_for_the_project(client):
    picture = Image.open(BytesIO(client.get("/api/projects/p/picture").content))
    assert picture.size == (360, 202)


def wait(client, job):
    for _ in range(300):
        told = client.get(f"/api/renders/{job}").json()
        if told["state"] not in ("waiting", "running"):
            return told
        time.sleep(0.05)
    pytest.fail("the render did not end")


def test_a_movie_is_rendered_in_the_background_and_fetched(client):
    job = client.post("/api/projects/p/renders", json={"scene": "crossing", "kind": "mp4"}).json()["id"]
    told = wait(client, job)
    assert (told["state"], told["done"], told["total"]) == ("done", 100, 100)
    file = client.get(f"/api/renders/{job}/file")
    assert file.headers["content-type"] == "video/mp4"
    assert file.content[4:8] == b"ftyp"
    assert client.get("/api/projects/p/renders").json()[0]["id"] == job


def test_a_render_can_be_stopped_and_says_so(client, edit):
    scene = {"id": "long", "name": "Long", "frames": 20_000, "width": 1920, "height": 1080}
    assert (
        client.post(
            "/api/projects/p/edits", json={"revision": 1, "edit": {"kind": "add_scene", "scene": scene}}
        ).status_code
        == 200
    )
    job = client.post("/api/projects/p/renders", json={"scene": "long", "kind": "mp4"}).json()["id"]
    assert client.get(f"/api/renders/{job}/file").status_code == 400
    assert client.post(f"/api/renders/{job}/stop").json()["state"] == "stopped"
    assert wait(client, job)["message"].startswith("Stopped")


def test_a_file_sent_again_because_no_answer_came_is_brought_in_once(client):
    def sent():
        fields = {"revision": "1", "edit_id": "a1b2c3d4e5f6"}
        picture = b'<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>'
        return client.post(
            "/api/projects/p/scenes/crossing/files", files={"file": ("a.svg", picture)}, data=fields
        ).json()

    first, again = sent(), sent()
    assert again["layer"] == first["layer"]
    assert (first["repeated"], again["repeated"]) == (False, True)
    layers = document_of(client)["scenes"][0]["layers"]
    assert [each["id"] for each in layers].count(first["layer"]) == 1


def test_what_is_worked_out_first_is_done_once_too(client):
    wanted = {"revision": 1, "edit_id": "a1b2c3d4e5f6", "layers": ["gull"], "how": "left", "to_frame": True, "time": 0}
    first, again = (client.post("/api/projects/p/scenes/crossing/align", json=wanted).json() for _ in range(2))
    assert first["revision"] == again["revision"] == 2
    assert again["repeated"]
