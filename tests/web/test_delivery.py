"""What the sheet of delivering is told by the server: forms, what arrives, sizes, pictures, refusals."""

import io
import json
import time

import pytest
from PIL import Image

from deftarc.paint.output import OUTPUTS
from deftarc.paint.output.told import in_bytes
from deftarc.web.delivery import offered
from tests.rendering import made
from tests.scenes import gull, layer, project

SHEET = "/projects/d/deliver"


@pytest.fixture
def shop(app):
    shop = app.state.workshop
    fog = layer("Fog").changed(hidden=True)
    shop.projects.create(project(gull(), fog, frames=30, width=160, height=91, background=None), "d")
    return shop


def asked(output, **fields):
    return {"scene": "crossing", "frame": "3", "output": output, "scale": "50", **fields}


@pytest.mark.parametrize("output", [each.id for each in offered()])
def test_every_output_has_a_form_a_report_a_size_and_a_picture(shop, client, output):
    form = client.get(SHEET, params={"scene": "crossing", "output": output}).text
    assert f'data-output="{output}"' in form
    for name, facts in OUTPUTS[output].options.model_json_schema()["properties"].items():
        assert facts["title"]
        assert (f'name="{name}"' in form) == (
            name != "part" or shop.projects.open("d").project.scenes[0].play_range is not None
        )
    told = client.get(f"{SHEET}/told", params=asked(output)).text
    assert ("80 × 46 px" in told) == (not OUTPUTS[output].numbers)
    assert ("Hidden: “Fog”" in told) == (output != "project")
    assert client.get(f"{SHEET}/size", params=asked(output)).text.startswith("about ")
    shown = client.get(f"{SHEET}/picture", params=asked(output))
    assert shown.status_code == 200
    assert len(shown.content) > 20
    assert "frame-ancestors 'self'" in shown.headers["content-security-policy"]


def test_where_it_goes_and_what_was_used_last_choose(shop, client):
    assert 'data-output="mp4"' in client.get(SHEET, params={"scene": "crossing"}).text
    page = client.get(SHEET, params={"scene": "crossing", "to": "page"}).text
    # What lets through is clear in a page.
    assert 'data-output="webm"' in page
    assert client.post(SHEET, data=asked("gif", dither="none", palette="each", loops="2")).status_code == 200
    again = client.get(SHEET, params={"scene": "crossing"}).text
    assert 'data-output="gif"' in again
    assert 'value="50"' in again
    assert '<option value="none" selected>' in again
    assert shop.choices.of("d")["gif"]["loops"] == 2
    shop.renders.close()


@pytest.mark.parametrize(
    ("fields", "sentence"),
    [({"output": "nothing"}, "Choose as what"), ({"scale": "much"}, "“much” is no number"), ({"scale": "nan"}, "no number that can be used"),
     ({"scale": "900"}, "less than or equal to 4"), ({"loops": "-1"}, "greater than or equal to 0"), ({"ground": "blue"}, "pattern"),
     ({"output": "zip", "pattern": "a/b#"}, "is a file&#39;s name with one #"), ({"output": "png", "frame": "99"}, "there is no frame 99"),
     ({"part": "some"}, "all"), ({"scene": "none"}, "There is no scene")],
)  # fmt: skip
def test_what_cannot_be_is_a_sentence_in_the_sheet_and_nothing_is_queued(shop, client, fields, sentence):
    told = {**asked("gif"), **fields}
    assert sentence in client.get(f"{SHEET}/told", params=told).text
    assert sentence in client.post(SHEET, data=told).text
    assert client.get(f"{SHEET}/size", params=told).status_code in (400, 404)
    assert shop.jobs.of_project("d") == []


def test_a_deleted_project_is_delivered_no_more(shop, client):
    client.post("/projects/d/delete")
    for path in (SHEET, f"{SHEET}/told", f"{SHEET}/size", f"{SHEET}/picture"):
        assert (
            client.get(path, params=asked("mp4")).status_code == 404
            or "There is no project" in client.get(path, params=asked("mp4")).text
        )
    assert "There is no project" in client.post(SHEET, data=asked("mp4")).text


def test_a_small_picture_is_small_and_moves(shop, client):
    shown = Image.open(io.BytesIO(client.get(f"{SHEET}/picture", params=asked("apng", scale="400")).content))
    assert max(shown.size) <= 401
    assert shown.n_frames == 30


def test_the_guess_is_near_what_it_comes_to(shop, client):
    for kind in ("mp4", "gif", "zip", "svg"):
        shop.renders.begin()
        job = shop.render("d", "crossing", kind, {})
        end = time.monotonic() + 60
        while shop.jobs.get(job).state in ("waiting", "running") and time.monotonic() < end:
            time.sleep(0.05)
        size = shop.renders.finished(shop.jobs.get(job)).stat().st_size
        told = client.get(f"{SHEET}/size", params=asked(kind, scale="100")).text.split()
        guess = float(told[1]) * {"bytes": 1, "kB": 1e3, "MB": 1e6}[told[2]]
        assert 0.4 < guess / size < 2.5, kind
    shop.renders.close()


@pytest.mark.parametrize(("size", "told"), [(12, "12 bytes"), (1_234, "1.2 kB"), (56_000, "56 kB"), (7_800_000, "7.8 MB"), (2_000_000_000, "2.0 GB")])  # fmt: skip
def test_sizes_are_told_as_exactly_as_a_guess_is(size, told):
    assert in_bytes(size) == told


def test_a_drawing_that_was_delivered_is_opened_as_the_project_it_was(shop, client, tmp_path):
    job = shop.deliverable("d", "crossing")
    path = made(job.scene, tmp_path / "ferry.svg", job=job)
    answer = client.post("/api/projects/import", files={"file": ("ferry.svg", path.read_bytes(), "image/svg+xml")})
    assert answer.status_code == 201, answer.text
    back = shop.projects.open(answer.json()["id"]).project
    assert back.scenes == (job.scene,)
    plain = b'<svg xmlns="http://www.w3.org/2000/svg"/>'
    refused = client.post("/api/projects/import", files={"file": ("a.svg", plain, "image/svg+xml")})
    assert refused.status_code == 400
    assert "no scene in it" in refused.json()["detail"]


def test_an_animation_is_opened_as_a_project_and_says_what_it_leaves_out(shop, client, tmp_path):
    job = shop.deliverable("d", "crossing")
    path = made(job.scene, tmp_path / "ferry.lottie", job=job)
    answer = client.post("/api/projects/import", files={"file": ("ferry.lottie", path.read_bytes())}).json()
    assert answer["notes"] == []
    back = shop.projects.open(answer["id"]).project
    assert [each.name for each in back.scenes[0].layers] == ["Gull"]
    told = json.loads(made(job.scene, tmp_path / "ferry.json", job=job).read_text())
    told["layers"][0]["ef"] = [{"ty": 29}]
    answer = client.post("/api/projects/import", files={"file": ("ferry.json", json.dumps(told).encode())}).json()
    assert answer["notes"] == ["Effects are left out."]
    refused = client.post("/api/projects/import", files={"file": ("a.json", b'{"layers": 5}')})
    assert refused.status_code == 400
    assert "no Lottie animation" in refused.json()["detail"]
