"""Pictures and movies, opened by decoders nobody here wrote, and compared with what is painted at every frame."""

import io
import zipfile
from itertools import pairwise

import av
import numpy as np
import pytest
from PIL import Image, ImageSequence

from deftarc.core.base.time import FrameRate
from deftarc.core.document.track import PathTrack
from tests.chance_scenes import chance_scene
from tests.e2e.playing import apart, painted
from tests.rendering import job_of, made
from tests.scenes import layer, numbers, scene

#: With clear grounds and without.
SEEDS = (0, 4)


@pytest.fixture(scope="module", params=SEEDS)
def thrown(request):
    """A scene thrown by dice, and all its frames as they are painted, premultiplied."""
    scene, scenes = chance_scene(request.param)
    job = job_of(scene, scenes=scenes)
    return job, [painted(job, frame) for frame in range(scene.frames)]


@pytest.fixture(scope="module", params=SEEDS)
def clear(request):
    """The same on nothing."""
    scene, scenes = chance_scene(request.param)
    job = job_of(scene.changed(background=None), scenes=scenes)
    return job, [painted(job, frame) for frame in range(scene.frames)]


def premultiplied(straight):
    told = straight.astype(np.int64)
    told[..., :3] = (told[..., :3] * told[..., 3:] + 127) // 255
    return told


def rgba(picture):
    return premultiplied(np.array(picture.convert("RGBA")))


def test_frames_in_a_zip_are_the_frames(thrown, tmp_path):
    job, frames = thrown
    with zipfile.ZipFile(made(job.scene, tmp_path / "a.zip", job=job)) as file:
        names = sorted(file.namelist())
        seen = [rgba(Image.open(io.BytesIO(file.read(name)))) for name in names]
    assert len(seen) == len(frames)
    assert max(apart(one, two)[0] for one, two in zip(frames, seen, strict=True)) < 0.01


def test_one_frame_is_that_frame_also_as_webp(thrown, tmp_path):
    job, frames = thrown
    for ending in (".png", ".webp"):
        seen = rgba(Image.open(made(job.scene, tmp_path / f"a{ending}", job=job, frame=17)))
        assert apart(frames[17], seen)[0] < 0.01


def test_an_apng_has_the_frames(clear, tmp_path):
    job, frames = clear
    with av.open(str(made(job.scene, tmp_path / "a.apng", job=job))) as movie:
        seen = [premultiplied(frame.to_ndarray(format="rgba")) for frame in movie.decode(video=0)]
    assert len(seen) == len(frames)
    assert max(apart(one, two)[0] for one, two in zip(frames, seen, strict=True)) < 0.01


def test_a_gif_is_clear_where_it_is_less_than_half_there_and_has_its_colours_elsewhere(clear, tmp_path):
    job, frames = clear
    file = Image.open(made(job.scene, tmp_path / "a.gif", job=job, clear=True))
    shown, at = [], [0]
    for each in ImageSequence.Iterator(file):
        shown.append(np.array(each.convert("RGBA")).astype(np.int64))
        at.append(at[-1] + each.info["duration"])
    # Alike ones that follow each other may be one, shown for longer.
    moments = [1000 * frame * job.scene.rate.denominator / job.scene.rate.numerator for frame in range(len(frames))]
    for moment, frame in zip(moments, frames, strict=True):
        k = next(k for k, (a, b) in enumerate(pairwise(at)) if a - 6 <= moment < b - 6 or k == len(shown) - 1)
        alpha, there = frame[..., 3], shown[k][..., 3] > 127
        sure = np.abs(alpha - 127.5) > 8
        assert np.array_equal(there[sure], (alpha > 127)[sure])
        whole = alpha == 255
        if whole.any():
            assert np.abs(shown[k][..., :3] - frame[..., :3])[whole].mean() < 4


@pytest.mark.parametrize("stands", [False, True])
@pytest.mark.parametrize(("rate", "frames"), [(30, 60), (30, 61), (24, 7), (25, 50), (60, 61), (50, 99)])
def test_a_gif_lasts_as_long_as_its_frames_to_a_hundredth(rate, frames, stands, tmp_path):
    keys = (0, 0.0), (2 if stands else frames, 90.0)
    turning = layer(rotation=numbers(*keys), position=PathTrack(value=(32, 18)))
    small = scene(turning, frames=frames, rate=FrameRate(numerator=rate), width=64, height=36)
    file = Image.open(made(small, tmp_path / "a.gif"))
    lasts = sum(each.info.get("duration", 0) for each in ImageSequence.Iterator(file))
    assert lasts == pytest.approx(1000 * frames / rate, abs=10)


def test_a_webm_keeps_what_is_clear(clear, tmp_path):
    job, frames = clear
    seen = []
    with av.open(str(made(job.scene, tmp_path / "a.webm", job=job, quality="good"))) as movie:
        stream = movie.streams.video[0]
        # The codec's own library reads what lies beside the colours, too.
        reader = av.codec.CodecContext.create("libvpx-vp9", "r")
        reader.extradata = stream.codec_context.extradata
        for packet in movie.demux(stream):
            seen += [premultiplied(frame.to_ndarray(format="rgba")) for frame in reader.decode(packet)]
    assert len(seen) == len(frames)
    for one, two in zip(frames, seen, strict=True):
        assert apart(one, two)[0] < 5
        assert np.abs(one[..., 3] - two[..., 3]).mean() < 2
