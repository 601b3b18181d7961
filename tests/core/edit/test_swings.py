"""A property that goes there and back: on frames, whatever the rate and the length."""

import pytest

from deftarc.core.base.time import FLICKS, FrameRate
from deftarc.core.edit import apply
from deftarc.core.edit.swings import ThereAndBack
from tests.scenes import layer, project, scene

RATES = (FrameRate(numerator=25), FrameRate(numerator=30_000, denominator=1001), FrameRate(numerator=24))


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("length", [FLICKS // 4, FLICKS // 7, FLICKS // 1000])
def test_each_turning_point_lies_on_a_frame_of_its_own(rate, length):
    made = project(layer("Swing")).with_scene(scene(layer("Swing"), rate=rate).changed(id="crossing"))
    time = rate.time_of(13)
    edit = ThereAndBack(scene="crossing", layers=("swing",), property="rotation", time=time, length=length, often=5)
    times = apply(made, edit).scene("crossing").layer("swing").track("rotation").key_times
    frames = [rate.nearest(each) for each in times]
    assert [rate.time_of(frame) for frame in frames] == list(times)
    assert len(set(frames)) == 11
    assert frames[0] == 13
    # Whatever is rounded, it lasts as long as was asked for.
    assert abs(frames[-1] - 13 - max(10, 10 * length / rate.flicks)) <= 0.5 + 1e-9
