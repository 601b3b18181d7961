"""A movie: H.264 in MP4. Evaluated in stretches, painted, and handed to the encoder while painting goes on."""

from fractions import Fraction
from pathlib import Path
from queue import Queue
from threading import Thread
from typing import Annotated, Any, ClassVar

import av
import numpy as np
from av.video.reformatter import ColorRange, Colorspace
from pydantic import Field

from deftarc.core.document import Scene
from deftarc.core.spaces.colour import hex_colour, parse_colour
from deftarc.paint.output.base import OUTPUTS, STRETCH, Job, Output, Progress, RunOptions, no_progress, whole
from deftarc.paint.skia.drawings import Pixels
from deftarc.paint.skia.painter import SkiaPainter, blank

#: Frames painted ahead of the encoder.
AHEAD = 4
#: A movie has no transparency; what its background lets through is this, unless another colour is chosen.
PAPER = "#ffffff"
#: x264: visually lossless to most eyes, and fast.
QUALITY = {"crf": "18", "preset": "veryfast"}


#: All frames of a scene.
RUN = RunOptions()


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
    scene: Scene,
    painter: SkiaPainter,
    target: Path,
    progress: Progress = no_progress,
    ground: str = PAPER,
    run: RunOptions = RUN,
) -> None:
    """Every frame as H.264 in MP4, BT.709, at the scene's own rate; plays while it loads.

    What a background lets through shows ``ground``; a side of odd length is padded by its last pixel.
    """
    start, total = run.frames(scene)
    width, height = even(scene.width), even(scene.height)
    background = laid_on(scene.background, ground)
    buffers: Queue[tuple[Pixels, Any]] = Queue()
    for _ in range(AHEAD):
        buffers.put(blank(width, height))
    ready: Queue[tuple[Pixels, Any] | BaseException | None] = Queue()
    stopped = False

    def paint() -> None:
        try:
            for first in range(start, start + total, STRETCH):
                count = min(STRETCH, start + total - first)
                table = painter.frames(scene, first, count)
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
                progress(done, total)
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


class MovieOptions(RunOptions):
    #: What shows where the background lets through: a movie has no transparency.
    ground: Annotated[str, Field(pattern="^#[0-9a-fA-F]{6}$")] = PAPER


class Movie(Output[MovieOptions]):
    id: ClassVar[str] = "mp4"
    label: ClassVar[str] = "Movie (MP4)"
    suffix: ClassVar[str] = ".mp4"
    media: ClassVar[str] = "video/mp4"
    icon: ClassVar[str] = "film"
    options = MovieOptions

    def write(self, job: Job, options: MovieOptions, target: Path, progress: Progress) -> None:
        render_movie(job.scene, job.painter, target, progress, options.ground, options)


OUTPUTS.add(Movie())
