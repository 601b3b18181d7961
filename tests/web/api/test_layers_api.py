"""What the server measures before it edits: align, size, take apart, take back, fonts, scene settings, the shelf."""

from importlib.resources import files
from io import BytesIO

import pytest
from PIL import Image

from tests.client import document_of
from tests.scenes import at

P = "/api/projects/p"
S = f"{P}/scenes/crossing"
LOGO = (
    b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 60"><g><rect x="10" y="10" width="20" height="20" fill="#b23a26"/>'
    b'<path d="M50 10C60 0 70 0 80 10L80 30Z" fill="none" stroke="#1f5c6b" stroke-width="3"/>'
    b'<linearGradient id="g"><stop stop-color="#fff"/><stop offset="1" stop-color="#1f5c6b"/></linearGradient><circle cx="50" cy="45" r="10" fill="url(#g)"/></g></svg>'
)


def revision(client):
    return client.get(P).json()["revision"]


def document(client):
    return document_of(client)


def layer(client, name):
    return next(x for x in document(client)["scenes"][0]["layers"] if x["id"] == name)


def post(client, path, **body):
    return client.post(path, json={"revision": revision(client), **body})


def test_layers_are_aligned_by_their_bounds(client):
    assert post(client, f"{S}/align", layers=["ferry", "gull"], how="left", time=at(50)).status_code == 200
    # At frame 50 the gull, turned by 90°, stands from 270 to 330: it comes to the ferry's left, at -50.
    assert document(client)["scenes"][0]["layers"][0]["tracks"]["position"]["loose"] is None
    assert layer(client, "gull")["tracks"]["position"]["points"][1] == pytest.approx([-20, 400])
    told = post(client, f"{S}/align", layers=["ferry"], how="bottom", to_frame=True)
    assert told.json()["undo"] == "Align bottom Ferry"
    assert layer(client, "ferry")["tracks"]["position"]["value"][1] == pytest.approx(330)


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"layers": ["ferry"], "how": "left"}, "two layers or more"),
        ({"layers": ["ferry", "gull"], "how": "across"}, "three layers"),
        ({"layers": ["ferry", "gull"], "how": "sideways"}, "no way to align"),
    ],
)
def test_what_cannot_be_aligned_is_refused(client, body, words):
    answer = post(client, f"{S}/align", **body)
    assert answer.status_code == 400
    assert words in answer.json()["detail"]
    assert revision(client) == 1


def brought(client, data, name, **more):
    fields = {"revision": str(revision(client)), **more}
    return client.post(f"{S}/files", files={"file": (name, data)}, data=fields).json()


def picture(width, height):
    out = BytesIO()
    Image.new("RGB", (width, height), "#1f5c6b").save(out, "PNG")
    return out.getvalue()


def test_pictures_come_in_at_fit_fill_or_full_and_change_later(client):
    made = brought(client, picture(1280, 360), "sea.png", size="fit")
    assert layer(client, made["layer"])["tracks"]["scale"]["value"] == 0.5
    for how, factor in (("fill", 1.0), ("fit", 0.5), ("full", 1.0)):
        post(client, f"{S}/size", layers=[made["layer"]], how=how)
        assert layer(client, made["layer"])["tracks"]["scale"]["value"] == factor
    assert post(client, f"{S}/size", layers=[made["layer"]], how="huge").status_code == 400


def test_a_file_replaces_artwork_and_comes_in_at_a_time(client):
    brought(client, picture(10, 10), "dot.png", replace="gull")
    gull = layer(client, "gull")
    assert gull["artwork"]["kind"] == "picture"
    assert len(gull["tracks"]["position"]["keys"]) == 2
    made = brought(client, picture(10, 10), "late.png", place="on_top", time=str(at(20)), length=str(at(10)))
    assert (layer(client, made["layer"])["start"], layer(client, made["layer"])["end"]) == (at(20), at(30))


def test_a_logo_is_taken_apart_into_paths_and_what_is_no_plain_path(client):
    made = brought(client, LOGO, "Line.svg", x="300", y="200")
    assert post(client, f"{S}/layers/{made['layer']}/apart").status_code == 200
    group = layer(client, made["layer"])
    parts = [x for x in document(client)["scenes"][0]["layers"] if x["parent"] == made["layer"]]
    assert group["artwork"] == {"kind": "carrier", "group": True, "as_one": False}
    assert [x["artwork"]["kind"] for x in parts] == ["logo", "free", "free"]
    square = parts[2]
    assert square["artwork"]["fill"] == "#b23a26"
    assert square["tracks"]["position"]["value"] == pytest.approx([-30, -10])
    assert len(square["artwork"]["contours"][0]["points"]) == 4
    assert parts[1]["artwork"]["stroke_width"] == pytest.approx(3)
    assert post(client, f"{S}/layers/ferry/apart").status_code == 400
    file = client.get(f"{P}/file").content
    assert client.post("/api/projects/import", files={"file": ("p.deftarc", file)}).status_code == 201


def test_what_was_keyed_since_is_taken_back_in_one_step(client, edit):
    edit("set_value", layer="ferry", property="rotation", value=5, time=0)
    since = client.get(P).json()["steps"]
    edit("set_value", layer="ferry", property="rotation", value=40, time=at(10), keying=True)
    edit("move_layers", layers=["gull"], dx=4, dy=4, time=at(20), keying=True)
    edit("set_value", layer="gull", property="opacity", value=0.3, time=0)
    told = post(client, f"{S}/take-back", since=since).json()
    assert told["undo"] == "Take back what Keying changes keyed"
    rotation = layer(client, "ferry")["tracks"]["rotation"]
    assert (rotation["keys"], rotation["value"], rotation["loose"]) == ([], 5.0, None)
    assert len(layer(client, "gull")["tracks"]["position"]["keys"]) == 2
    assert post(client, f"{S}/take-back", since=client.get(P).json()["steps"]).status_code == 400


def test_fonts_are_checked_on_the_way_in_and_travel_with_the_project(client, edit):
    face = files("deftarc") / "fonts" / "files" / "young-serif-latin-400-normal.woff2"

    def upload(data):
        return client.post(f"{P}/fonts", files={"file": ("a.woff2", data)}, data={"revision": str(revision(client))})

    made = upload(face.read_bytes()).json()
    assert made["label"] == "Young Serif Regular"
    text = {"kind": "text", "text": "Quay", "font": made["font"]}
    assert edit("add_layer", name="Quay", id="quay", artwork=text).status_code == 200
    assert client.get(f"{S}/layers/quay/drawing").json()["nodes"][0]["outline"].startswith("M")
    assert edit("add_layer", name="Quay", artwork={**text, "font": "own-" + "0" * 64}).status_code in (400, 404)
    file = client.get(f"{P}/file").content
    again = client.post("/api/projects/import", files={"file": ("p.deftarc", file)}).json()["id"]
    assert client.get(f"/api/projects/{again}/scenes/crossing/layers/quay/drawing").status_code == 200
    for bad in (b"", b"wOF2 nothing", b"\0\1\0\0" + b"\0" * 500, b"OTTO" + bytes(range(256)) * 4, picture(2, 2)):
        answer = upload(bad)
        assert answer.status_code == 400
        assert len(answer.json()["detail"]) > 20


def test_scene_settings_are_taken_as_typed(client):
    body = {"name": "Crossing", "preset": "wide", "rate": "50", "length": "0:04:00", "background": "none"}
    told = client.put(S, json={"revision": revision(client), **body})
    assert told.json()["undo"] == "Change the size, frame rate, background of Crossing"
    scene = document(client)["scenes"][0]
    assert (scene["width"], scene["frames"], scene["background"]) == (1920, 200, None)
    for change in ({"length": "never"}, {"rate": "26"}, {"preset": "free", "width": 1, "height": 9}, {"grid": 0}):
        answer = client.put(S, json={"revision": revision(client), **body, **change})
        assert answer.status_code in (400, 422)
    made = client.post(f"{P}/scenes", json={"name": "Buoy", "preset": "square"})
    assert made.status_code == 201
    assert [s["name"] for s in document(client)["scenes"]] == ["Crossing", "Buoy"]


def test_the_shelf_shows_a_picture_of_each(client, edit):
    edit("delete_layers", layers=["ferry"])
    answer = client.get(f"{P}/shelf/0/picture")
    assert Image.open(BytesIO(answer.content)).size == (96, 96)
    assert client.get(f"{P}/shelf/7/picture").status_code == 400
    for part in ("scene", "new-scene", "shelf", "fonts", "scenes"):
        assert client.get(f"/projects/p/parts/{part}").status_code == 200
    assert client.get("/projects/p/parts/secrets").status_code == 400


def test_the_list_of_scenes_is_told_to_a_page_whose_scene_is_gone(client):
    """It asks when it hears of a change; its settings are another matter, they would be those of another scene."""
    assert client.get("/projects/p/parts/scenes?scene=sunken").status_code == 200
    assert client.get("/projects/p/parts/scene?scene=sunken").status_code == 400


def test_an_insert_tells_what_it_pushed_out_and_offers_the_way_back(client, edit):
    edit("trim_span", layers=["ferry"], start=at(50), end=at(90))
    dot = {"kind": "ellipse", "width": 9, "height": 9}
    told = edit("add_layer", name="Dot", artwork=dot, place="insert", time=at(10), length=at(25)).json()
    [note] = told["notes"]
    assert "Ferry" in note["text"]
    answer = client.post(f"{P}/edits", json={"revision": told["revision"], "edit": note["edit"]})
    assert answer.status_code == 200
    assert document(client)["scenes"][0]["frames"] == 115


def test_the_settings_open_on_the_preset_a_scene_has(client):
    page = client.get("/projects/p/parts/scene").text
    assert '<option value="free" selected>' in page
    client.put(
        S, json={"revision": 1, "name": "C", "preset": "square", "rate": "25", "length": "100", "background": "none"}
    )
    page = client.get("/projects/p/parts/scene").text
    assert 'data-height="1080" selected>Square' in page
    assert '<option value="free" >' in page
