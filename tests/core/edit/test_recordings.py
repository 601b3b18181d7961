"""A recorded hand becomes motion at the frames of its scene, as the same places brought in as samples would."""

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.edit import apply
from deftarc.core.edit.samples import LayRecording, LaySamples
from tests.scenes import at, layer, project

HAND = [(0.0, 10.0, 20.0), (0.013, 11.0, 22.0), (0.2, 60.0, 44.0), (0.3, 61.0, 44.0), (0.531, 90.0, 10.0)]


def recording(spots=HAND, **fields):
    return LayRecording(
        scene="crossing", layer="gull", property="position", spots=spots, start=at(7), tolerance=0.5, **fields
    )


def test_it_is_read_at_every_frame_between_the_moments_the_hand_was_seen():
    made = project(layer("Gull"))
    scene = made.scene("crossing")
    rows = recording().on_frames(scene)
    seconds = np.arange(len(rows.times)) / scene.rate.per_second
    assert rows.times == tuple(at(7 + n) for n in range(len(rows.times)))
    assert seconds[-1] <= 0.531 < seconds[-1] + 1 / scene.rate.per_second
    for place, column in zip(np.array(rows.values).T, (1, 2), strict=True):
        apart = place - np.interp(seconds, [spot[0] for spot in HAND], [spot[column] for spot in HAND])
        assert np.abs(apart).max() <= 0.005 + 1e-9


def test_it_lays_what_the_same_samples_would():
    made = project(layer("Gull"))
    rows = recording().on_frames(made.scene("crossing"))
    one = apply(made, recording()).scene("crossing").layer("gull").position
    other = apply(made, LaySamples(**rows.model_dump())).scene("crossing").layer("gull").position
    assert one == other
    assert len(one.keys) >= 2


@pytest.mark.parametrize(
    ("spots", "words"),
    [
        ([(0, 1, 1)], "too short"),
        ([(0, 1, 1), (0.01, 2, 2)], "too short"),
        ([(0, 1, 1), (0.5, 2, 2), (0.4, 2, 2)], "rise from one to the next"),
        ([(-1, 1, 1), (0.5, 2, 2)], "rise from one to the next"),
        ([(0, 1, 1), (1e6, 2, 2)], "at most 20000 frames"),
    ],
)
def test_what_is_no_motion_is_refused_and_changes_nothing(spots, words):
    with pytest.raises(Refusal, match=words):
        apply(project(layer("Gull")), recording(spots))
