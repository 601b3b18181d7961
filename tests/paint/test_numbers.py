"""What leaves as numbers: a table that says where things are, and the project itself."""

import csv
import io

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.document.effects import EFFECTS
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.formats.archive import read_project, write_project
from deftarc.paint.output import OUTPUTS, Job
from tests.core.plain.test_levels import WAYS
from tests.rendering import job_of, made
from tests.scenes import gull, layer, numbers, project, scene


def table(path):
    rows = list(csv.reader(io.StringIO(path.read_text())))
    return rows[0], np.array(rows[1:], float)


def test_a_row_for_each_frame_and_a_column_for_each_number_that_moves(tmp_path):
    here = scene(gull(), layer("Still"), frames=60)
    names, rows = table(made(here, tmp_path / "a.csv"))
    assert names == [
        "frame", "seconds", "Gull: Position x (px)", "Gull: Position y (px)", "Gull: Rotation (°)", "Gull: Opacity (%)",
    ]  # fmt: skip
    assert rows.shape == (60, 6)
    assert rows[25, 1] == pytest.approx(1.0)
    assert rows[25, 2:4] == pytest.approx((150, 200), abs=1e-6)
    assert rows[40, 4] == 90
    assert rows[[9, 10], 5].tolist() == [0, 100]


def test_numbers_of_effects_are_among_them(tmp_path):
    mist = layer("Mist").changed(effects=(EFFECTS["blur"](id="one"),))
    mist = mist.with_track("effect/one/blur_radius", numbers((0, 2), (10, 9)))
    names, rows = table(made(scene(mist, frames=11), tmp_path / "a.csv"))
    assert len(names) == 3
    assert rows[[0, 10], 2].tolist() == [2, 9]


@pytest.mark.parametrize("name", ["carried", "later", "following", "clocked"])
def test_what_others_move_is_told_by_where_it_is(tmp_path, name):
    here = WAYS[name]
    names, rows = table(made(here, tmp_path / "a.csv"))
    worlds = evaluate(here, frame_times(here)).worlds
    told = {each: rows[:, k] for k, each in enumerate(names)}
    for each in here.layers:
        if each.parent is None or not any(label.startswith(f"{each.name}: Place") for label in told):
            continue
        for axis, part in enumerate("xy"):
            truth = np.broadcast_to(worlds[each.id], (here.frames, 3, 3))[:, axis, 2]
            assert np.allclose(told[f"{each.name}: Place in the scene {part} (px)"], truth, atol=1e-6)
    if name == "following":
        assert np.allclose(told["Gull: Rotation (°)"], told["Ship: Rotation (°)"])


def test_the_play_range_hidden_layers_and_references_count(tmp_path):
    hidden = layer("Fog", rotation=numbers((0, 0), (9, 9))).changed(hidden=True)
    here = scene(gull(), hidden, frames=60, play_range=(0, 10 * 28_224_000))
    names, rows = table(made(here, tmp_path / "a.csv", part="range"))
    assert len(rows) == 10
    assert not any("Fog" in name for name in names)


def test_a_project_file_is_the_project(tmp_path):
    whole = project(gull(), frames=9)
    job = job_of(whole.scenes[0])
    job = Job(job.scene, job.materials, whole.by_id, whole, lambda state: write_project(state, lambda name: b"", {}))
    path = made(job.scene, tmp_path / "a.deftarc", job=job)
    assert read_project(path.read_bytes()).project == whole
    with pytest.raises(Refusal, match="Export the project itself"):
        made(job.scene, tmp_path / "b.deftarc")
    assert not (tmp_path / "b.deftarc").exists()


def test_both_say_what_arrives():
    job = job_of(scene(gull(), frames=20))
    lines = OUTPUTS["csv"].carried(job, OUTPUTS["csv"].options())
    assert lines[0].words == "4 numbers that move, at each of 20 frames."
    assert OUTPUTS["project"].carried(job, OUTPUTS["project"].options())[0].how == "kept"
