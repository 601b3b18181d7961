"""Scenes to stills and movies: evaluate in stretches, paint, and hand to the encoder while painting goes on."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from fractions import Fraction
from pathlib import Path
from queue import Queue
from threading import Thread
from typing import Any

import av
import numpy as np
from av.video.reformatter import ColorRange, Colorspace
from PIL import Image

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Scene
from deftarc.core.evaluate import delivered, evaluate, frame_times
from deftarc.core.spaces.colour import hex_colour, parse_colour
from deftarc.paint.skia.painter import Pixels, SkiaPainter, blank, unpremultiplied

#: Frames evaluated at a time, so that a long scene needs little memory.
STRETCH = 240
#: Frames painted ahead of the encoder.
AHEAD = 4
#: A movie has no transparency; what its background lets through is this, unless another colour is chosen.
PAPER = "#ffffff"
#: x264: visually lossless to most eyes, and fast.
QUALITY = {"crf": "18", "preset": "veryfast"}

Progress = Callable[[int, int], None]


@contextmanager
def whole(target: Path) -> Iterator[Path]:
    """Where a file is written until it is whole: beside its place, to which it then moves. Half a file is removed."""
    half = target.with_name(f"{target.name}.part")
    try:
        yield half
        half.replace(target)
    except BaseException:
        half.unlink(missing_ok=True)
        raise


def no_progress(_done: int, _all: int) -> None:
    """For whoever does not listen."""


def render_still(scene: Scene, painter: SkiaPainter, frame: int, target: Path) -> None:
    """One frame as PNG, transparent where the scene has no background."""
    if not 0 <= frame < scene.frames:
        raise Refusal(f"{scene.name} has frames 0 to {scene.frames - 1}; there is no frame {frame}.")
    table = evaluate(delivered(scene), frame_times(scene, frame, 1), painter.shape_text)
    pixels, surface = blank(scene.width, scene.height)
    painter.paint(surface.getCanvas(), table, 0, scene.background, (1.0, 1.0))
    surface.flushAndSubmit()
    with whole(target) as half:
        Image.fromarray(unpremultiplied(pixels), "RGBA").save(half, "PNG")


def render_sequence(scene: Scene, painter: SkiaPainter, folder: Path, progress: Progress = no_progress) -> None:
    """Every frame as PNG into a folder, numbered from 0 with as many digits as it takes, at least four."""
    folder.mkdir(parents=True, exist_ok=True)
    digits = max(4, len(str(scene.frames - 1)))
    pixels, surface = blank(scene.width, scene.height)
    for first in range(0, scene.frames, STRETCH):
        count = min(STRETCH, scene.frames - first)
        table = evaluate(delivered(scene), frame_times(scene, first, count), painter.shape_text)
        for row in range(count):
            painter.paint(surface.getCanvas(), table, row, scene.background, (1.0, 1.0))
            surface.flushAndSubmit()
            with whole(folder / f"{first + row:0{digits}d}.png") as half:
                Image.fromarray(unpremultiplied(pixels), "RGBA").save(half, "PNG")
            progress(first + row + 1, scene.frames)


def even(size: int) -> int:
    """The even number of pixels that H.264's 4:2:0 needs, one more where it was odd."""
    return size + size % 2


def laid_on(background: str | None, ground: str) -> str:
    """The opaque colour that a background shows when it lies on a ground."""
    if background is None:
        return ground[:7]
    over, under = np.array(parse_colour(background)), np.array(parse_colour(ground))
    mixed = over[:3] * over[3] + under[:3] * (1 - over[3])
    return hex_colour((*(float(part) for part in mixed), 1.0))


def padded(pixels: Pixels, width: int, height: int) -> None:
    """Fills what lies beyond a picture of width × height px in a larger array with its last column and row."""
    pixels[:height, width:] = pixels[:height, width - 1 : width]
    pixels[height:] = pixels[height - 1 : height]


def render_movie(
    scene: Scene, painter: SkiaPainter, target: Path, progress: Progress = no_progress, ground: str = PAPER
) -> None:
    """Every frame as H.264 in MP4, BT.709, at the scene's own rate; plays while it loads.

    What a background lets through shows ``ground``; a side of odd length is padded by its last pixel.
    """
    width, height = even(scene.width), even(scene.height)
    background = laid_on(scene.background, ground)
    buffers: Queue[tuple[Pixels, Any]] = Queue()
    for _ in range(AHEAD):
        buffers.put(blank(width, height))
    ready: Queue[tuple[Pixels, Any] | BaseException | None] = Queue()
    stopped = False

    def paint() -> None:
        try:
            for first in range(0, scene.frames, STRETCH):
                count = min(STRETCH, scene.frames - first)
                table = evaluate(delivered(scene), frame_times(scene, first, count), painter.shape_text)
                for row in range(count):
                    pixels, surface = buffers.get()
                    if stopped:
                        return
                    painter.paint(surface.getCanvas(), table, row, background, (1.0, 1.0))
                    surface.flushAndSubmit()
                    if (width, height) != (scene.width, scene.height):
                        padded(pixels, scene.width, scene.height)
                    ready.put((pixels, surface))
            ready.put(None)
        except BaseException as error:
            ready.put(error)

    worker = Thread(target=paint, name="painter", daemon=True)
    worker.start()
    try:
        with whole(target) as half, MovieWriter(half, scene, width, height) as movie:
            done = 0
            while (got := ready.get()) is not None:
                if isinstance(got, BaseException):
                    raise got
                movie.add(got[0])
                buffers.put(got)
                done += 1
                progress(done, scene.frames)
    finally:
        stopped = True
        buffers.put(blank(2, 2))
        worker.join()


class MovieWriter:
    """H.264 frames of (height, width, 4) opaque RGBA into an MP4 file."""

    def __init__(self, target: Path, scene: Scene, width: int, height: int) -> None:
        self.container = av.open(str(target), "w", format="mp4", options={"movflags": "+faststart"})
        rate = scene.rate
        stream: Any = self.container.add_stream("libx264", options=QUALITY)
        stream.rate = Fraction(rate.numerator, rate.denominator)
        stream.time_base = Fraction(rate.denominator, rate.numerator)
        stream.width, stream.height, stream.pix_fmt = width, height, "yuv420p"
        context = stream.codec_context
        context.color_primaries = context.color_trc = context.colorspace = 1
        context.color_range = 1
        context.thread_type = "AUTO"
        self.stream = stream
        self.time_base = stream.time_base
        self.count = 0

    def __enter__(self) -> "MovieWriter":
        return self

    def add(self, pixels: Pixels) -> None:
        frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), format="rgba")
        frame = frame.reformat(format="yuv420p", dst_colorspace=Colorspace.ITU709, dst_color_range=ColorRange.MPEG)
        frame.pts = self.count
        frame.time_base = self.time_base
        self.count += 1
        for packet in self.stream.encode(frame):
            self.container.mux(packet)

    def __exit__(self, kind: Any, *_rest: object) -> None:
        if kind is None:
            for packet in self.stream.encode():
                self.container.mux(packet)
        self.container.close()
