"""Lottie read into scenes: what was written here comes back as it was painted, what others wrote as others play it, and
what cannot be read is a sentence.
"""

import io
import json
import zipfile
from itertools import pairwise

import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.formats.materials import Materials
from deftarc.formats.read.lottie.reader import read_lottie
from deftarc.paint.output import OUTPUTS, Job, no_progress
from tests.chance_scenes import chance_scene
from tests.core.plain.test_levels import WAYS
from tests.e2e.playing import apart, painted
from tests.lottie_players import alone
from tests.rendering import job_of
from tests.scenes import gull, scene

STILL = {"a": {"k": [0, 0]}, "p": {"k": [50, 50]}, "s": {"k": [100, 100]}, "r": {"k": 0}, "o": {"k": 100}}


def animation(*layers, **fields):
    return {"fr": 25, "ip": 0, "op": 50, "w": 100, "h": 100, "layers": list(layers), **fields}


def box(**fields):
    shape = {"ty": "rc", "p": {"k": [0, 0]}, "s": {"k": [40, 20]}, "r": {"k": 0}}
    fill = {"ty": "fl", "c": {"k": [1, 0, 0]}, "o": {"k": 100}}
    return {"ty": 4, "nm": "Box", "ip": 0, "op": 50, "ks": STILL, "shapes": [shape, fill], **fields}


def read(told):
    return read_lottie(json.dumps(told).encode())


def job_of_read(found):
    kept = {each.hash: each.data for each in found.assets}
    return Job(found.project.scenes[0], Materials(kept.__getitem__), found.project.by_id)


def written(job, tmp_path, kind="lottie"):
    path = tmp_path / "a"
    OUTPUTS[kind].write(job, OUTPUTS[kind].options(), path, no_progress)
    return path.read_bytes()


def same(job, back, frames):
    for frame in frames:
        mean, edges = apart(painted(job, frame), painted(back, frame))
        assert mean < 0.3, frame
        assert edges < 0.2, frame


@pytest.mark.parametrize("number", range(12))
def test_scenes_thrown_by_dice_come_back_as_they_were_painted(tmp_path, number):
    here, scenes = chance_scene(number)
    job = job_of(here, scenes=scenes)
    same(job, job_of_read(read_lottie(written(job, tmp_path))), (0, 11, 22, 30))


@pytest.mark.parametrize("name", sorted(WAYS))
def test_what_is_moved_in_each_way_comes_back_as_it_was_painted(tmp_path, name):
    job = job_of(WAYS[name])
    same(job, job_of_read(read_lottie(written(job, tmp_path, "lottie-zip"))), range(0, 31, 6))


def test_keys_come_back_with_their_eases(tmp_path):
    back = read_lottie(written(job_of(scene(gull(), frames=60)), tmp_path)).project.scenes[0].layers[0]
    there = gull()
    assert back.name == "Gull"
    for name in ("position", "rotation", "opacity"):
        one, other = there.tracks[name], back.tracks[name]
        assert [key.time for key in one.keys] == [key.time for key in other.keys]
        assert [key.hold for key in one.keys] == [key.hold for key in other.keys]
    assert back.tracks["position"].keys[0].leaving.reach == pytest.approx(0.42)
    assert back.tracks["position"].keys[1].arriving.reach == pytest.approx(0.42)


def test_what_is_not_carried_is_named():
    found = read(animation(box(ef=[{"ty": 29}]), {"ty": 6, "nm": "Hum", "ip": 0, "op": 50},
                           box(shapes=[*box()["shapes"], {"ty": "rp"}])))  # fmt: skip
    assert "Effects are left out." in found.notes
    assert "“Hum” is left out: sounds are not read." in found.notes
    assert "Repeated shapes show once." in found.notes


def test_compositions_are_scenes_shown_in_time():
    inner = {"id": "in", "nm": "Within", "layers": [box()]}
    shown = {"ty": 0, "nm": "Shown", "refId": "in", "w": 80, "h": 60, "ip": 5, "op": 45, "st": 10, "sr": 2, "ks": STILL}
    found = read(animation(shown, assets=[inner]))
    main, within = found.project.scenes
    art = main.layers[0].artwork
    assert isinstance(art, SceneShown)
    assert (art.scene, art.rate, art.begins) == (within.id, 0.5, 0)
    assert main.layers[0].start == 10 * main.rate.flicks
    assert (within.width, within.height, within.name) == (80, 60, "Within")


@pytest.mark.parametrize(
    ("told", "sentence"),
    [
        (b"{", "no JSON"),
        (b"[1]", "no layers"),
        (json.dumps(animation(fr=0)).encode(), "frame rate"),
        (json.dumps(animation(op=0)).encode(), "ends before it begins"),
        (b'{"layers":' + b"[" * 5_000 + b"]" * 5_000 + b"}", "nested"),
        (b'{"layers":[' + b"1," * 3_000_000 + b"1]}", "more in it"),
        (b'{"layers":["' + b"x" * 50_000_000 + b'"]}', "larger than"),
        (b"PK\x03\x04 cut short", "damaged or cut short"),
    ],
)
def test_what_cannot_be_read_is_a_sentence(told, sentence):
    with pytest.raises(Refusal, match=sentence):
        read_lottie(told)


FORMED = {
    "round": {"ty": "rc", "p": {"k": [50, 50]}, "s": {"k": [60, 40]}, "r": {"k": 12}},
    "turned": {"ty": "rc", "d": 3, "p": {"k": [50, 50]}, "s": {"k": [60, 40]}, "r": {"k": 0}},
    "oval": {"ty": "el", "p": {"k": [40, 50]}, "s": {"k": [60, 30]}},
    "star": {"ty": "sr", "sy": 1, "p": {"k": [50, 50]}, "pt": {"k": 5}, "or": {"k": 40}, "ir": {"k": 18},
             "os": {"k": 20}, "is": {"k": 0}, "r": {"k": 10}},
}  # fmt: skip
EASE = {"o": {"x": [0.6], "y": [0]}, "i": {"x": [0.3], "y": [1]}}
GROWING = {"a": 1, "k": [{"t": 0, "s": [20, 20], **EASE}, {"t": 40, "s": [80, 40]}]}
MOVING = {
    "oval grows": {**FORMED["oval"], "s": GROWING}, "box grows": {**FORMED["turned"], "s": GROWING},
    "round grows": {**FORMED["round"], "s": GROWING},
    "star turns": {**FORMED["star"], "r": {"a": 1, "k": [{"t": 0, "s": [0], **EASE}, {"t": 40, "s": [90]}]}},
}  # fmt: skip


@pytest.mark.parametrize("name", [*FORMED, *MOVING])
def test_forms_are_those_that_another_player_shows(name):
    pen = {"ty": "st", "c": {"k": [0.1, 0.2, 0.3]}, "o": {"k": 100}, "w": {"k": 3}, "lc": 1, "lj": 1, "ml": 4}
    trim = {"ty": "tm", "s": {"k": 10}, "e": {"k": 65}, "o": {"k": 0}, "m": 1}
    shape = {**FORMED, **MOVING}[name]
    ks = {**STILL, "p": {"k": [0, 0]}}
    told = animation(box(ks=ks, shapes=[shape, *([trim] if name in FORMED else []), pen]))
    found = job_of_read(read(told))
    for frame, seen in alone(told, (300, 300), (0, 13, 30)):
        mean, _ = apart(painted(found, frame, 3), seen)
        assert mean < 1.5, frame


def test_a_polygon_is_regular_and_begins_at_its_top():
    shape = {"ty": "sr", "sy": 2, "p": {"k": [50, 50]}, "pt": {"k": 6}, "or": {"k": 40}, "os": {"k": 0}, "r": {"k": 0}}
    fill = {"ty": "fl", "c": {"k": [0, 0, 0]}, "o": {"k": 100}}
    (contour,) = read(animation(box(shapes=[shape, fill]))).project.scenes[0].layers[0].artwork.contours
    spots = [complex(x - 50, y - 50) for x, y, *_ in contour.points]
    assert [abs(spot) for spot in spots] == pytest.approx([40] * 6)
    assert spots[0] == pytest.approx(-40j)
    assert all(b / a == pytest.approx(0.5 + 0.75**0.5 * 1j) for a, b in pairwise(spots))


def test_rings_end_where_they_begin():
    one, other = box(ind=1, parent=2), box(ind=2, parent=1)
    found = read(animation(one, other))
    assert any("circle" in note for note in found.notes)
    itself = {"id": "in", "layers": [{"ty": 0, "refId": "in", "ip": 0, "op": 9, "w": 9, "h": 9, "ks": STILL}]}
    shown = {"ty": 0, "refId": "in", "ip": 0, "op": 9, "w": 9, "h": 9, "ks": STILL}
    found = read(animation(shown, assets=[itself]))
    assert any("shows itself" in note for note in found.notes)
    assert len(found.project.scenes) == 2


def test_odd_values_are_read_as_what_they_can_be():
    odd = box(ks={"p": {"k": ["x", None]}, "o": {"k": 1e99}, "s": 5, "r": {"k": []}}, nm=7, ind="a", parent="b")
    found = read(animation(odd, "no layer", {"ty": "?"}, None, rate=1, fr=33.3, w="wide"))
    assert found.project.scenes[0].width == 512
    assert painted(job_of_read(found), 0) is not None


def test_the_first_animation_of_a_zip_is_read_and_pictures_beside_it():
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("manifest.json", json.dumps({"animations": [{"id": "b"}]}))
        archive.writestr("animations/a.json", json.dumps(animation(nm="A")))
        archive.writestr("animations/b.json", json.dumps(animation(nm="B")))
    assert read_lottie(out.getvalue()).project.name == "B"


def test_files_of_older_years_are_read_as_they_were_meant():
    corner = {"v": [[0, 0], [60, 0], [60, 60]], "i": [[0, 0]] * 3, "o": [[0, 0]] * 3}
    open_, closed = ({"ty": "sh", "ks": {"k": dict(corner)}, "closed": each} for each in (False, True))
    moving = {"ty": "sh", "closed": True, "ks": {"k": [{"t": 0, "s": [dict(corner)], "e": [dict(corner)]}, {"t": 9}]}}
    fill = {"ty": "fl", "c": {"k": [255, 51, 0, 255]}, "o": {"k": 100}}
    keyed = {"ty": "st", "c": {"k": [{"t": 0, "s": [0, 0, 0, 255], "e": [255, 0, 0, 255]}, {"t": 9}]}, "w": {"k": 3}}
    group = {"ty": "gr", "nm": "Both", "it": [open_, closed, fill]}
    masks = [{"mode": "a", "cl": True, "pt": {"k": dict(corner)}}]
    (layer,) = read(animation(box(shapes=[group], masksProperties=masks), v="3.1.6")).project.scenes[0].layers
    assert [each.closed for each in layer.artwork.contours] == [False, True]
    assert layer.artwork.fill == "#ff3300"
    assert layer.masks[0].contours[0].closed
    (layer,) = read(animation(box(shapes=[moving, keyed]), v="3.1.6")).project.scenes[0].layers
    assert layer.artwork.contours[0].closed
    assert [key.value for key in layer.tracks["stroke"].keys][-1][:3] == pytest.approx((1, 0, 0))
    # Of that year on, and where none is told, numbers are what they are.
    for version in ("4.1.9", "5.7.0", "none", None):
        now = animation(
            box(shapes=[{"ty": "el", "p": {"k": [0, 0]}, "s": {"k": [9, 9]}}, {**fill, "c": {"k": [1, 0.2, 0]}}]),
            v=version,
        )
        assert read(now).project.scenes[0].layers[0].artwork.fill == "#ff3300"
