"""Stills and movies: pixels where they should be, frames counted, rates kept."""

import itertools
from fractions import Fraction

import av
import numpy as np
import pytest
from PIL import Image

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import RATES
from deftarc.core.document import Contour, Ellipse, FreePath, Rectangle
from deftarc.paint.output.base import RunOptions
from deftarc.paint.output.painted import padded
from tests.rendering import frames_of, job_of, made
from tests.scenes import at, layer, numbers, positions, scene


def block(**fields):
    return layer("Block", Rectangle(width=20, height=20, fill="#c03020"), **fields)


def test_a_frame_shows_the_layer_where_its_motion_says(tmp_path):
    shown = scene(
        block(position=positions((0, (10, 30)), (10, (90, 30)))), width=100, height=60, frames=11, background="#ffffff"
    )
    made(shown, tmp_path / "a.png", frame=5)
    pixels = np.array(Image.open(tmp_path / "a.png"))
    assert pixels.shape == (60, 100, 4)
    assert tuple(pixels[30, 50]) == (0xC0, 0x30, 0x20, 255)
    assert tuple(pixels[30, 35]) == (255, 255, 255, 255)
    assert tuple(pixels[5, 50]) == (255, 255, 255, 255)


def test_no_background_is_transparent_and_opacity_is_straight_alpha(tmp_path):
    shown = scene(
        block(position=positions(value=(50, 30)), opacity=numbers(value=0.5)), width=100, height=60, background=None
    )
    made(shown, tmp_path / "a.png", frame=0)
    pixels = np.array(Image.open(tmp_path / "a.png"))
    assert tuple(pixels[0, 0]) == (0, 0, 0, 0)
    assert np.abs(pixels[30, 50].astype(int) - [0xC0, 0x30, 0x20, 128]).max() <= 2


def test_a_layer_fades_as_one_where_its_fill_and_stroke_overlap(tmp_path):
    ringed = layer("Ring", Ellipse(width=40, height=40, fill="#000000", stroke="#000000", stroke_width=10),
                   position=positions(value=(50, 30)), opacity=numbers(value=0.5))  # fmt: skip
    shown = scene(ringed, width=100, height=60, background="#ffffff")
    made(shown, tmp_path / "a.png", frame=0)
    row = np.array(Image.open(tmp_path / "a.png"))[30, 30:70, 0]
    assert np.ptp(row) <= 2


@pytest.mark.parametrize("rate", ["24", "29.97"])
def test_a_movie_has_every_frame_at_the_scenes_rate_and_its_colours(tmp_path, rate):
    shown = scene(
        block(position=positions((0, (10, 30)), (10, (90, 30)))),
        width=101,
        height=61,
        frames=12,
        rate=RATES[rate],
        background="#207040",
    )
    seen = []
    made(shown, tmp_path / "a.mp4", lambda done, total: seen.append((done, total)))
    with av.open(str(tmp_path / "a.mp4")) as movie:
        stream = movie.streams.video[0]
        frames = [frame.to_ndarray(format="rgb24") for frame in movie.decode(stream)]
        assert stream.average_rate == Fraction(shown.rate.numerator, shown.rate.denominator)
        assert (stream.codec_context.name, stream.codec_context.pix_fmt) == ("h264", "yuv420p")
    assert len(frames) == 12
    assert frames[0].shape == (62, 102, 3)
    assert seen[-1] == (12, 12)
    assert np.abs(frames[6][4, 4].astype(int) - [0x20, 0x70, 0x40]).max() < 14


def test_a_movie_of_the_play_range_has_its_frames_and_no_more(tmp_path):
    shown = scene(block(opacity=numbers((0, 0), (20, 1))), width=32, height=32, play_range=(at(4), at(16)))
    target = tmp_path / "loop.mp4"
    seen = []
    made(shown, target, lambda done, total: seen.append((done, total)), part="range")
    assert seen[-1] == (12, 12)
    with av.open(str(target)) as movie:
        assert sum(1 for _ in movie.decode(video=0)) == 12
    empty = shown.changed(play_range=(at(4) + 1, at(4) + 2))
    with pytest.raises(Refusal, match="holds no frame"):
        RunOptions(part="range").frames(empty)


def test_a_folder_gets_numbered_frames(tmp_path):
    shown = scene(block(), width=20, height=20, frames=3)
    made(shown, tmp_path / "frames", output="frames")
    assert sorted(p.name for p in (tmp_path / "frames").iterdir()) == ["0000.png", "0001.png", "0002.png"]


def test_a_frame_beyond_the_end_is_refused(tmp_path):
    shown = scene(block(), frames=3)
    with pytest.raises(Refusal, match="frames 0 to 2"):
        made(shown, tmp_path / "a.png", frame=3)


def test_a_painter_that_fails_ends_the_movie_with_its_own_error(tmp_path):
    shown = scene(block(), frames=300)
    broken = job_of(shown)
    broken.painter.drawings.prepared = {}
    with pytest.raises(KeyError):
        made(shown, tmp_path / "a.mp4", job=broken)
    assert list(tmp_path.iterdir()) == []


def test_keyed_looks_are_painted_as_they_are_at_the_frame(tmp_path):
    from tests.core.spaces.test_colour import colours

    sign = layer(
        "Sign", Rectangle(width=20, height=20, fill="#000000"), position=positions(value=(50, 30)),
        fill=colours((0, "#ff0000"), (10, "#0000ff")), width=numbers((0, 20), (10, 80)),
        stroke=colours((0, "#00ff0000"), (10, "#00ff00")), stroke_width=numbers((0, 0), (10, 8)),
    )  # fmt: skip
    shown = scene(sign, width=100, height=60, frames=11, background="#ffffff")
    for frame, inside, beside, edge in (
        (0, (255, 0, 0), (255,) * 3, (255,) * 3),
        (10, (0, 0, 255), (0, 0, 255), (0, 255, 0)),
    ):
        made(shown, tmp_path / "a.png", frame=frame)
        pixels = np.array(Image.open(tmp_path / "a.png"))
        assert tuple(pixels[30, 50, :3]) == inside
        assert tuple(pixels[30, 75, :3]) == beside
        assert tuple(pixels[30, 91, :3]) == edge


def test_reference_layers_and_carriers_leave_no_trace_and_carried_layers_go_along(tmp_path):
    from deftarc.core.document.artwork import Carrier

    sketch = layer("Sketch", Rectangle(width=300, height=300, fill="#000000")).changed(reference=True)
    mast = layer("Mast", Carrier(), position=positions((0, (10, 30)), (10, (90, 30))))
    flag = block().changed(parent="mast")
    shown = scene(sketch, flag, mast, width=100, height=60, frames=11, background="#ffffff")
    made(shown, tmp_path / "a.png", frame=10)
    pixels = np.array(Image.open(tmp_path / "a.png"))
    assert tuple(pixels[30, 90, :3]) == (0xC0, 0x30, 0x20)
    assert tuple(pixels[30, 10, :3]) == (255, 255, 255)


def test_a_dashed_stroke_has_gaps_that_move_with_its_offset(tmp_path):
    ends = Contour(points=((-40, 0, 0, 0, 0, 0), (40, 0, 0, 0, 0, 0)))
    line = FreePath(contours=(ends,), fill=None, stroke="#000000", stroke_width=6, cap="butt", dash=(10, 10))
    shown = scene(
        layer("Line", line, position=positions(value=(50, 30)), dash_offset=numbers((0, 0), (10, 10))),
        width=100, height=60, frames=11, background="#ffffff",
    )  # fmt: skip
    dark = []
    for frame in (0, 10):
        made(shown, tmp_path / "a.png", frame=frame)
        dark.append(np.array(Image.open(tmp_path / "a.png"))[28, 12:30, 0] < 128)
    assert dark[0].any()
    assert (~dark[0]).any()
    assert (dark[0] != dark[1]).mean() > 0.8


@pytest.mark.parametrize(("background", "ground", "seen"), [("#22577a80", "#ffffff", (144, 171, 188)), (None, "#b23a26", (178, 58, 38)), ("#00000080", "#000000", (0, 0, 0))])  # fmt: skip
def test_a_movie_lays_what_shows_through_on_the_chosen_colour(tmp_path, background, ground, seen):
    shown = scene(layer("Gull"), frames=2, width=64, height=48, background=background)
    shown = shown.with_layer(shown.layer("gull").changed(hidden=True))
    target = tmp_path / "a.mp4"
    made(shown, target, ground=ground)
    assert frames_of(target)[0][20, 20] == pytest.approx(seen, abs=5)


def test_a_movie_of_odd_sides_is_padded_and_not_stretched(tmp_path):
    shown = scene(layer("Bar"), frames=1, width=63, height=47, background="#ffffff")
    target = tmp_path / "a.mp4"
    shown = shown.changed(layers=())
    job = job_of(shown)
    seen = []
    whole = job.painter.paint
    job.painter.paint = lambda canvas, table, row, background, scale: (seen.append(scale), whole(canvas, table, row, background, scale))  # fmt: skip
    made(shown, target, job=job)
    assert seen == [(1.0, 1.0)]
    assert frames_of(target)[0].shape == (48, 64, 3)
    pixels = np.zeros((4, 4, 4), np.uint8)
    pixels[:3, :3] = np.arange(9).reshape(3, 3, 1)
    padded(pixels, 3, 3)
    assert pixels[:, 3, 0].tolist() == [2, 5, 8, 8]
    assert pixels[3, :, 0].tolist() == [6, 7, 8, 8]


def test_a_movie_shows_an_effect_keyed_from_frame_to_frame(tmp_path):
    from deftarc.core.document.effects import EFFECTS

    blur = EFFECTS["blur"](id="soft", radius=0)
    sign = layer("Sign", Rectangle(width=60, height=60, fill="#000000"), position=positions(value=(50, 50)))
    sign = sign.changed(effects=(blur,)).with_track(blur.properties[0], numbers((0, 0), (10, 12)))
    shown = scene(sign, width=100, height=100, frames=11, background="#ffffff")
    target = tmp_path / "a.mp4"
    made(shown, target)
    # How many pixels lie between black and white: a sharp edge has next to none, a soft one many.
    soft = [((frame[50, :, 0] > 40) & (frame[50, :, 0] < 215)).sum() for frame in frames_of(target)]
    assert soft[0] <= 4
    assert soft[10] > 25
    assert all(later >= earlier - 1 for earlier, later in itertools.pairwise(soft))
