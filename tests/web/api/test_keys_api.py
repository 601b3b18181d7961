"""The keys of layers as a page asks for them: all of them, in view or not, or those that show at a frame."""

from tests.client import document_of
from tests.scenes import at

S = "/api/projects/p/scenes/crossing"


def change(client, **edit):
    revision = client.get("/api/projects/p").json()["revision"]
    body = {"revision": revision, "edit": {"scene": "crossing", **edit}}
    assert client.post("/api/projects/p/edits", json=body).status_code == 200


def found(client, **wanted):
    answer = client.post(f"{S}/keys", json=wanted)
    assert answer.status_code == 200, answer.text
    return {(lane["layer"], lane["property"]): lane["times"] for lane in answer.json()["lanes"]}


def keyed(client, *layers):
    made = document_of(client)["scenes"][0]["layers"]
    return {
        (layer["id"], name): [key["time"] for key in track["keys"]]
        for layer in made for name, track in layer["tracks"].items() if track["keys"] and layer["id"] in layers
    }  # fmt: skip


def test_all_keys_of_layers_of_a_group_s_members_and_of_all(client):
    every = [layer["id"] for layer in document_of(client)["scenes"][0]["layers"]]
    assert found(client, layers=["gull"]) == keyed(client, "gull")
    assert found(client) == keyed(client, *every)
    change(client, kind="group_layers", layers=["gull"], id="crew", name="Crew", time=0)
    assert found(client, layers=["crew"]) == keyed(client, "gull")


def test_those_at_a_frame_are_those_that_show_there(client):
    times = keyed(client, "gull")["gull", "position"]
    frame = times[0] // at(1)
    assert times[0] in found(client, layers=["gull"], frame=frame)["gull", "position"]
    change(client, kind="give_clock", layers=["gull"], rate=0.5)
    assert ("gull", "position") not in found(client, layers=["gull"], frame=frame) or frame == 0
    assert found(client, layers=["gull"], frame=2 * frame)["gull", "position"] == [times[0]]


def test_a_layer_that_is_not_there_is_said_to_be_missing(client):
    assert client.post(f"{S}/keys", json={"layers": ["nobody"]}).status_code == 404
    assert client.post(f"{S}/keys", json={"frame": -1}).status_code == 422
