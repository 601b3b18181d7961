"""Keys deleted: the motion kept as near as it can be, and by how much it differs."""

import numpy as np
import pytest

from deftarc.core.changes.deviation import motion_of
from deftarc.core.changes.insert import insert_key
from deftarc.core.edit import EDIT, apply
from tests.scenes import at, layer, numbers, positions, project, side


def delete(made, name, *frames, **fields):
    keys = [{"layer": "swing", "property": name, "time": at(frame)} for frame in frames]
    edit = EDIT.validate_python({"kind": "delete_keys", "scene": "crossing", "keys": keys, **fields})
    after = apply(made, edit)
    return after.scene("crossing").layer("swing").track(name), [note.text for note in edit.notes(made, after)]


EASED = numbers((0, 0, {"leaving": side(0.9, 80)}), (40, 100, {"arriving": side(0.6, 1)}))


def test_an_inserted_key_leaves_the_curve_as_it_was_and_says_nothing():
    track, said = delete(project(layer("Swing", rotation=insert_key(EASED, at(13)))), "rotation", 13)
    times = np.arange(0, at(40), at(1) / 4)
    assert np.abs(motion_of(track)(times) - motion_of(EASED)(times)).max() < 1e-6
    assert not said


BUMP = numbers(
    (0, 0, {"leaving": side(0.5, 0)}),
    (10, 100, {"arriving": side(0.5, 0), "leaving": side(0.5, 0), "joint": "smooth"}),
    (20, 0, {"arriving": side(0.5, 0)}), (30, 10),
)  # fmt: skip


def test_by_how_much_a_motion_differs_is_never_more_than_is_said():
    made = project(layer("Swing", rotation=BUMP, position=positions((0, (0, 0)), (10, (90, 50)), (20, (0, 90)))))
    for name in ("rotation", "position"):
        was = made.scene("crossing").layer("swing").track(name)
        track, (said,) = delete(made, name, 10)
        label = "Rotation" if name == "rotation" else "Position"
        assert said.endswith(f"({label} of Swing).")
        times = np.arange(0, at(20), at(1) / 40)
        off = np.linalg.norm(motion_of(track)(times) - motion_of(was)(times), axis=1).max()
        bound = float(said.removeprefix("The motion there differs by at most ").split("°")[0].split(" ")[0])
        assert off <= bound < 1.15 * off


@pytest.mark.parametrize("frames", [(10,), (0,), (30,), (0, 10, 20, 30)])
def test_freely_deleted_the_others_keep_their_sides(frames):
    track, said = delete(project(layer("Swing", rotation=BUMP)), "rotation", *frames, keep_shape=False)
    kept = [key for key in BUMP.keys if key.time not in {at(frame) for frame in frames}]
    assert [(key.time, key.leaving, key.arriving) for key in track.keys] == [
        (key.time, key.leaving, key.arriving) for key in kept
    ]
    assert not said


def test_of_many_lanes_the_worst_are_named():
    wild = {f"n{k}": numbers((0, 0), (10, 40.0 * k), (20, 0)) for k in range(6)}
    made = project(*(layer(f"S{k}", rotation=track) for k, track in enumerate(wild.values())))
    layers = [each.id for each in made.scene("crossing").layers]
    keys = [{"layer": each, "property": "rotation", "time": at(10)} for each in layers]
    edit = EDIT.validate_python({"kind": "delete_keys", "scene": "crossing", "keys": keys})
    (note,) = edit.notes(made, apply(made, edit))
    assert note.text.count("Rotation of") == 3
