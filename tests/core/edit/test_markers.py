"""Markers: set, moved, in step with their layer, from a tempo, and keys brought to them."""

import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.base.limits import FLICKS
from deftarc.core.base.time import FrameRate
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document.marker import Marker
from deftarc.core.edit import apply
from deftarc.core.edit.layers import DuplicateLayers
from deftarc.core.edit.locks import Locked
from deftarc.core.edit.markers import ChangeMarkers, DeleteMarkers, KeysToMarkers, Mark, MarkTempo, SetMarkers
from deftarc.core.edit.scenes import ChangeScene
from deftarc.core.edit.spans import MoveSpans
from tests.scenes import at, layer, numbers, project

SWING = layer("Swing", rotation=numbers((0, 0), (10, 40), (30, 90)))


def marked(*frames, whose=None, before=None):
    markers = tuple(Marker(id=f"m{frame}", time=at(frame), name=f"at {frame}") for frame in frames)
    return apply(before or project(SWING), SetMarkers(scene="crossing", layer=whose, markers=markers))


def times(made, whose=None):
    scene = made.scene("crossing")
    return [m.time / at(1) for m in (scene.markers if whose is None else scene.layer(whose).markers)]


def test_markers_are_kept_in_order_and_one_frame_has_one():
    assert times(marked(40, 8)) == [8, 40]
    with pytest.raises(Refusal, match="stands at this frame already"):
        apply(marked(8), SetMarkers(scene="crossing", markers=(Marker(id="two", time=at(8) + 5),)))
    # Those of a layer are its own.
    assert times(marked(8, whose="swing", before=marked(8)), "swing") == [8]


def test_they_are_moved_named_coloured_and_taken_away_together():
    before = marked(8, 20, 40)
    marks = (Mark(id="m8"), Mark(id="m40"))
    made = apply(before, ChangeMarkers(scene="crossing", marks=marks, by=at(15)))
    assert times(made) == [20, 23, 55]
    made = apply(made, ChangeMarkers(scene="crossing", marks=marks, name=" Bell ", tag="pine"))
    assert [(m.name, m.tag) for m in made.scene("crossing").markers][1:] == [("Bell", "pine")] * 2
    assert times(apply(made, DeleteMarkers(scene="crossing", marks=marks))) == [20]
    with pytest.raises(Refusal, match="no marker"):
        apply(before, DeleteMarkers(scene="crossing", marks=(Mark(id="m9"),)))
    with pytest.raises(Refusal, match="24 hours"):
        apply(before, ChangeMarkers(scene="crossing", marks=marks, by=86_399 * FLICKS))


def test_a_layer_takes_its_markers_along_and_a_locked_one_keeps_them():
    before = marked(12, whose="swing")
    assert times(apply(before, MoveSpans(scene="crossing", layers=("swing",), by=at(5))), "swing") == [17]
    assert times(apply(before, MoveSpans(scene="crossing", layers=("swing",), by=at(5), keys=False)), "swing") == [12]
    copied = apply(before, DuplicateLayers(scene="crossing", layers=("swing",), ids=("twin",)))
    assert times(copied, "twin") == [12]
    stretched = apply(marked(50, before=before), ChangeScene(scene="crossing", frames=200, stretch=True))
    assert (times(stretched), times(stretched, "swing")) == ([100], [24])
    shut = before.with_scene(
        before.scene("crossing").changed(layers=(before.scene("crossing").layers[0].changed(locked=True),))
    )
    with pytest.raises(Locked):
        marked(20, whose="swing", before=shut)


def test_a_tempo_marks_beats_and_numbers_bars_at_any_rate():
    for rate in (FrameRate(numerator=25), FrameRate(numerator=30_000, denominator=1_001)):
        before = project(SWING, rate=rate)
        edit = MarkTempo(scene="crossing", start=rate.time_of(10), tempo=93.5, beats=3, id="b")
        markers = apply(before, edit).scene("crossing").markers
        beat = 60 * FLICKS / 93.5
        assert [m.time for m in markers] == [rate.time_of(10) + round(n * beat) for n in range(len(markers))]
        assert markers[-1].time < before.scene("crossing").length <= markers[-1].time + beat + 1
        assert [m.name for m in markers[:4]] == ["1", "", "", "2"]
    bars = MarkTempo(scene="crossing", start=0, end=at(100), tempo=120, every="bar", id="b")
    assert times(apply(project(SWING), bars)) == [0, 50]
    # Again at the same place sets none, and too many are refused before any is made.
    with pytest.raises(Refusal, match="already"):
        apply(apply(project(SWING), bars), bars.changed(id="c"))
    with pytest.raises(Refusal, match="at most"):
        apply(project(SWING), bars.changed(tempo=1_000, end=at(90_000)))
    with pytest.raises(Refusal, match="no beat"):
        apply(project(SWING), bars.changed(start=at(100)))


def refs(*frames):
    return tuple(KeyRef(layer="swing", property="rotation", time=at(frame)) for frame in frames)


def test_keys_go_to_the_nearest_marker_the_nearest_of_them_and_keep_their_shapes():
    before = marked(9, whose="swing", before=marked(34))
    edit = KeysToMarkers(scene="crossing", keys=refs(0, 10, 30))
    made = apply(before, edit)
    track = made.scene("crossing").layer("swing").track("rotation")
    assert [(key.time / at(1), key.value) for key in track.keys] == [(0, 0), (9, 40), (34, 90)]
    assert [note.text for note in edit.notes(before, made)] == ["1 key stayed: another one is nearer to the marker."]
    assert edit.selects(before, made) == list(refs(0, 9, 34))
    with pytest.raises(Refusal, match="no marker"):
        apply(project(SWING), edit)


def test_a_key_that_stands_at_the_marker_is_not_met_by_another():
    before = marked(30)
    made = apply(before, KeysToMarkers(scene="crossing", keys=refs(10)))
    assert made.scene("crossing").layer("swing").track("rotation").key_times == [0, at(10), at(30)]


@pytest.mark.parametrize(("every", "count", "frames"), [("beat", 5, [0, 15, 30, 45, 60]), ("bar", 3, [0, 60, 120])])
def test_as_many_beats_are_marked_as_are_asked_for(every, count, frames):
    edit = MarkTempo(scene="crossing", start=at(2), tempo=100, beats=4, every=every, count=count)
    made = apply(project(), edit).scene("crossing")
    assert [round((mark.time - at(2)) / at(1)) for mark in made.markers] == frames
