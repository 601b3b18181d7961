"""Animated SVG, pages of CSS keyframes and Lottie, played in Chromium beside the frames that are painted."""

import json

import pytest

from deftarc.demo.quillhaven import build
from deftarc.formats.materials import Materials
from deftarc.paint.output import OUTPUTS, Job, no_progress
from tests.chance_scenes import chance_scene
from tests.core.plain.test_levels import WAYS
from tests.e2e.playing import apart, painted, pictured, played
from tests.e2e.test_looks_agree import SCENES
from tests.lottie_players import faults, in_page
from tests.rendering import job_of

pytestmark = pytest.mark.e2e
#: Of 255 on the mean, and of a hundred pixels by much more: two rasterisers never agree at edges.
MEAN, EDGES = 1.6, 1.2
KINDS = (("svg", {"motion": "css"}), ("svg", {"motion": "smil"}), ("css", {}), ("lottie", {}))
ROWS = sorted(SCENES)


@pytest.fixture(scope="module")
def demo():
    project, assets = build()
    kept = {each.hash: each.data for each in assets}
    return project, Materials(kept.__getitem__)


def worst(tab, job, folder, kind, options, frames, factor=1.0):
    """The frame that differs most: by how much on the mean, and in how many of a hundred pixels."""
    output = OUTPUTS[kind]
    path = folder / f"made{output.suffix}"
    output.write(job, output.options(scale=factor, **options), path, no_progress)
    troubles = []
    tab.on("console", lambda told: troubles.append(told.text) if told.type == "error" else None)
    if kind == "lottie":
        told = json.loads(path.read_text())
        assert faults(told) == []
        seen = in_page(tab, told, (told["w"], told["h"]), frames)
    else:
        seen = played(tab, path, job.scene, frames, factor)
    off = [(*apart(painted(job, frame, factor), picture), frame) for frame, picture in seen]
    assert troubles == []
    return max(off)


@pytest.mark.parametrize("name", ROWS)
def test_scenes_of_every_look_play_as_they_are_painted(tab, tmp_path, name):
    kind, options = KINDS[ROWS.index(name) % len(KINDS)]
    mean, edges, frame = worst(tab, job_of(SCENES[name]), tmp_path, kind, options, (0, 7, 13, 20))
    assert mean < MEAN, (kind, options, frame)
    assert edges < EDGES, (kind, options, frame)


@pytest.mark.parametrize(("kind", "options"), [KINDS[0], KINDS[1], KINDS[3]])
@pytest.mark.parametrize("name", sorted(WAYS))
def test_what_is_moved_in_each_way_there_is_plays_as_it_is_painted(tab, tmp_path, name, kind, options):
    mean, edges, frame = worst(tab, job_of(WAYS[name]), tmp_path, kind, options, range(0, 31, 3))
    assert mean < MEAN, frame
    assert edges < EDGES, frame


@pytest.mark.parametrize(("kind", "options"), KINDS)
@pytest.mark.parametrize("number", range(6))
def test_scenes_thrown_by_dice_play_as_they_are_painted(tab, tmp_path, number, kind, options):
    scene, scenes = chance_scene(number)
    mean, edges, frame = worst(tab, job_of(scene, scenes=scenes), tmp_path, kind, options, (0, 11, 22, 30))
    assert mean < MEAN, frame
    assert edges < EDGES, frame


def test_who_wants_less_motion_sees_the_end_of_it(tab, tmp_path):
    job = job_of(WAYS["keys"])
    output = OUTPUTS["svg"]
    output.write(job, output.options(), tmp_path / "a.svg", no_progress)
    tab.emulate_media(reduced_motion="reduce")
    tab.set_viewport_size({"width": job.scene.width, "height": job.scene.height})
    tab.goto(f"file://{tmp_path / 'a.svg'}")
    tab.wait_for_timeout(200)
    assert tab.evaluate("document.getAnimations().every((each) => each.playState === 'finished')")
    mean, edges = apart(painted(job, job.scene.frames - 1), pictured(tab))
    assert mean < MEAN
    assert edges < EDGES
    tab.emulate_media(reduced_motion="no-preference")


@pytest.mark.parametrize("scene", ["crossing", "card", "pennant", "buoy", "bell"])
@pytest.mark.parametrize(("kind", "options"), KINDS)
def test_the_demos_scenes_play_as_they_are_painted(tab, tmp_path, demo, scene, kind, options):
    project, materials = demo
    job = Job(project.scene(scene), materials, project.by_id)
    frames = range(0, job.scene.frames, 9)
    mean, edges, frame = worst(tab, job, tmp_path, kind, options, frames, 0.25)
    assert mean < MEAN, frame
    assert edges < EDGES, frame
