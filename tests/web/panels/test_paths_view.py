"""What a page is told of motion paths: points, keys, floating points, the bar, the table, and what a trial comes to."""

import json

import pytest

from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.places import released
from deftarc.core.document import Project
from deftarc.core.document.keys import PathKey
from deftarc.core.edit import apply
from deftarc.core.edit.pace import FloatKeys
from deftarc.core.edit.paths import JoinPath
from deftarc.core.edit.samples import LaySamples, SplitAxes
from deftarc.web.live.page import Looking
from deftarc.web.look import Look
from deftarc.web.panels.axis import TimeAxis
from deftarc.web.panels.path import float_beads, path_bar, path_told, segment_rows, selected_points
from tests.scenes import at, floated, layer, numbers, positions, project, scene


def look_told(app, project_id, edit=None, **asked):
    """The head of the answer to a fresh page's look."""
    page = Looking(app.state.workshop, project_id)
    answer = page.answer(Look(scene="crossing", fresh=True, edit=edit, **asked))
    return json.loads(answer[4 : 4 + int.from_bytes(answer[:4], "little")])


STILL = positions((0, (0, 0), {"hold": True}), (10, (50, 0)), (20, (90, 40)))


def test_a_path_is_told_with_its_points_keys_and_what_floats():
    gull = layer("Gull", position=floated())
    told = path_told(scene(gull), gull, "frames")
    assert told["points"][:2] == [0, 0]
    assert told["points"][6:8] == [100, 80]
    assert told["rests"] == [0, None, at(40)]
    assert told["joints"] == ["automatic"] * 3
    (loose,) = told["floats"]
    assert loose["point"] == 1
    assert 0 < loose["time"] < at(40)
    assert "." in loose["told"]
    assert path_told(scene(gull), layer("Bare"), "frames") is None


def test_what_nothing_travels_is_told_apart():
    gull = layer("Gull", position=STILL)
    assert path_told(scene(gull), gull, "frames")["still"] == [0]


def test_a_pace_key_is_told_as_one():
    gull = layer("Gull", position=released(positions((0, (0, 0)), (10, (50, 0)), (20, (90, 0))), 1))
    assert [key["rests"] for key in path_told(scene(gull), gull, "frames")["keys"]] == [True, False, True]


def test_floating_points_stand_raised_in_their_lane_at_the_time_they_are_passed():
    gull = layer("Gull", position=floated())
    axis = TimeAxis(0, at(40), 400)
    (bead,) = float_beads(scene(gull), gull, gull.position, axis, "frames")
    told = path_told(scene(gull), gull, "frames")["floats"][0]["time"]
    assert bead.x == pytest.approx(told / at(40) * 400, abs=0.01)
    assert float_beads(scene(gull), gull, STILL, axis, "frames") == []
    assert float_beads(scene(gull), gull, numbers((0, 0), (9, 1)), axis, "frames") == []


def test_the_bar_tells_of_what_is_selected():
    gull = layer("Gull", position=floated())
    whole = path_bar(gull, [], [])
    assert (whole.joint, whole.roundness, whole.some, whole.floats) == ("automatic", 50, False, 1)
    key = KeyRef(layer="gull", property="position", time=at(40))
    assert selected_points(gull, [key], [1]) == [1, 2]
    mixed = apply(project(gull), JoinPath(scene="crossing", layer="gull", points=(1,), joint="corner"))
    assert path_bar(mixed.scenes[0].layer("gull"), [], []).joint == ""
    assert path_bar(mixed.scenes[0].layer("gull"), [], [1]).joint == "corner"
    assert path_bar(layer("Bare"), [], []) is None


def test_the_table_has_each_segments_length_way_and_mean_speed():
    gull = layer(
        "Gull", position=positions((0, (0, 0)), (10, (30, 40)), (35, (30, 140))), opacity=numbers((0, 0), (25, 1))
    )
    rows = segment_rows(scene(gull), gull, "position", "frames")
    assert [(row.name, row.length, row.way, row.mean) for row in rows] == [
        ("1 → 2", "10", "50 px", "125 px/s"),
        ("2 → 3", "25", "100 px", "100 px/s"),
    ]
    (fade,) = segment_rows(scene(gull), gull, "opacity", "seconds")
    assert (fade.length, fade.way, fade.mean) == ("1s", "100 %", "100 %/s")
    assert segment_rows(scene(gull), gull, "rotation", "frames") == []


def test_a_trial_is_told_before_it_is_kept(app):
    gull = layer("Gull", position=floated())
    app.state.workshop.projects.create(project(gull), "q")
    edit = SplitAxes(scene="crossing", layer="gull", split=True, tolerance=0.3)
    head = look_told(app, "q", layers=("gull",), edit=edit)
    assert "keys of x and" in head["told"][0]
    assert [path["trail"] for path in head["paths"]] == [True]
    rows = LaySamples(
        scene="crossing",
        layer="gull",
        property="opacity",
        times=(0, at(5), at(10)),
        values=((0,), (50,), (100,)),
        tolerance=1,
    )
    assert look_told(app, "q", layers=("gull",), edit=rows)["told"] == ["2 keys for 3 samples, off by at most 0 %."]


def test_the_bar_and_the_table_come_when_they_are_asked_for(app):
    gull = layer("Gull", position=floated())
    app.state.workshop.projects.create(project(gull), "q")
    plain = look_told(app, "q", layers=("gull",))["fragments"]
    assert "path-bar" not in plain
    asked = look_told(app, "q", layers=("gull",), path=True, segments=True)["fragments"]
    assert "data-path-joint" in asked["path-bar"]
    assert 'data-segment="0"' in asked["segments"]
    split = apply(project(gull), SplitAxes(scene="crossing", layer="gull", split=True))
    app.state.workshop.projects.create(Project(name="R", scenes=split.scenes), "r")
    assert "Combine as a path" in look_told(app, "r", layers=("gull",), path=True)["fragments"]["path-bar"]


def test_other_selected_layers_paths_come_with_columns_of_their_own(app):
    both = project(layer("Gull", position=floated()), layer("Tern", position=STILL))
    app.state.workshop.projects.create(both, "q")
    head = look_told(app, "q", layers=("gull", "tern"))
    assert [path["layer"] for path in head["paths"]] == ["gull", "tern"]
    names = {column["name"] for column in head["columns"]}
    assert {"spot", "spot tern", "carried tern"} <= names


def test_floating_a_key_is_an_edit_like_any_other():
    gull = layer("Gull", position=STILL.changed(keys=tuple(k.changed(hold=False) for k in STILL.keys)))
    ref = KeyRef(layer="gull", property="position", time=at(10))
    made = apply(project(gull), FloatKeys(scene="crossing", keys=(ref,)))
    track = made.scenes[0].layer("gull").position
    assert [key.at for key in track.keys] == [0, 2]
    assert all(isinstance(key, PathKey) for key in track.keys)
