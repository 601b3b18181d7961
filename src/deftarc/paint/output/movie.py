"""Movies: H.264 in MP4, VP9 in WebM with what is clear kept clear. Made in parts of some frames, which are joined."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path
from typing import Annotated, Any, ClassVar, Literal

import av
import numpy as np
from av.video.reformatter import ColorRange, Colorspace
from pydantic import Field

from deftarc.core.document import Scene
from deftarc.core.spaces.colour import hex_colour, parse_colour
from deftarc.paint.output.base import OUTPUTS, Job, Output, Progress, RunOptions, Stretch, whole, words
from deftarc.paint.output.joined import joined
from deftarc.paint.output.painted import Size, bled, painted
from deftarc.paint.output.told import Carried
from deftarc.paint.skia.drawings import Pixels
from deftarc.paint.skia.painter import unpremultiplied

#: A movie without transparency; what its background lets through is this, unless another colour is chosen.
PAPER = "#ffffff"
#: What an encoder is given to do at once: fixed, so that a part is the same bytes on every machine.
THREADS = 2


@dataclass(frozen=True)
class Codec:
    """An encoder, the container it goes into, and what it is told by quality."""

    name: str
    container: str
    #: By how many frames it decodes ahead of what it shows.
    late: int
    qualities: dict[str, dict[str, str]]
    muxing: dict[str, str] = field(default_factory=dict)


#: Its tree of macroblocks looks at what lies beyond a frame's edges, which is not the same each time: without it the
#: same frames are the same bytes at every size, in files half as large again.
STEADY = {"x264-params": "mbtree=0"}
H264 = Codec("libx264", "mp4", 2, {
    "high": {"crf": "12", "preset": "medium", **STEADY}, "good": {"crf": "18", "preset": "veryfast", **STEADY},
    "small": {"crf": "26", "preset": "medium", **STEADY},
}, {"movflags": "+faststart"})  # fmt: skip
VP9_TOLD = {"b": "0", "deadline": "good", "cpu-used": "4", "row-mt": "1", "auto-alt-ref": "0"}
VP9 = Codec("libvpx-vp9", "webm", 0, {
    quality: {**VP9_TOLD, "crf": crf} for quality, crf in (("high", "16"), ("good", "26"), ("small", "38"))
})  # fmt: skip


def laid_on(background: str | None, ground: str) -> str:
    """The opaque colour that a background shows when it lies on a ground."""
    if background is None:
        return ground[:7]
    over, under = np.array(parse_colour(background)), np.array(parse_colour(ground))
    mixed = over[:3] * over[3] + under[:3] * (1 - over[3])
    return hex_colour((*(float(part) for part in mixed), 1.0))


def is_clear(background: str | None) -> bool:
    """Whether something shows through a background."""
    return background is None or parse_colour(background)[3] < 1


class MovieWriter:
    """Frames of (height, width, 4) RGBA into a movie file, BT.709 and tagged so; ``alpha`` keeps what is clear."""

    def __init__(
        self, target: Path, codec: Codec, quality: str, rate: Fraction, width: int, height: int, alpha: bool = False
    ) -> None:
        self.container = av.open(str(target), "w", format=codec.container)
        self.form = "yuva420p" if alpha else "yuv420p"
        stream: Any = self.container.add_stream(codec.name, options=dict(codec.qualities[quality]))
        stream.rate, stream.time_base = rate, 1 / rate
        stream.width, stream.height, stream.pix_fmt = width, height, self.form
        if alpha:
            stream.metadata["alpha_mode"] = "1"
        context = stream.codec_context
        context.color_primaries = context.color_trc = context.colorspace = 1
        context.color_range = 1
        context.thread_type = "AUTO"
        context.thread_count = THREADS
        self.stream = stream
        self.time_base = stream.time_base
        self.count = 0

    def __enter__(self) -> "MovieWriter":
        return self

    def add(self, pixels: Pixels) -> None:
        frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), format="rgba")
        frame = frame.reformat(format=self.form, dst_colorspace=Colorspace.ITU709, dst_color_range=ColorRange.MPEG)
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
    quality: Annotated[
        Literal["high", "good", "small"],
        Field(title="Quality", description="How closely the movie keeps each frame.",
              json_schema_extra=words(high="as close as can be", good="good", small="small files")),
    ] = "good"  # fmt: skip


class Movie(Output[MovieOptions]):
    """A movie in parts; which codec, and whether what is clear stays so, its kinds say."""

    codec: ClassVar[Codec]
    part: ClassVar[int] = 60
    whole_frames: ClassVar = "part"

    def alpha(self, scene: Scene, options: MovieOptions) -> bool:
        raise NotImplementedError

    def background(self, scene: Scene, options: MovieOptions) -> str | None:
        raise NotImplementedError

    def carried(self, job: Job, options: MovieOptions) -> list[Carried]:
        size = Size.of(job.scene, options.scale, even=True)
        told = super().carried(job, options)
        if size.padded:
            odd = [
                word for word, a, b in (("column", size.width, size.across), ("row", size.height, size.down)) if b > a
            ]
            how = f"it is {size.across} × {size.down} px, its last {' and '.join(odd)} twice"
            told.append(Carried("changed", f"Sides are even in a movie: {how}."))
        told.append(Carried("changed", "Colours are kept at half the size of the picture, as in all such movies."))
        return told

    def make(self, job: Job, options: MovieOptions, run: Stretch, target: Path, progress: Progress) -> None:
        scene = job.scene
        size = Size.of(scene, options.scale, even=True)
        rate = Fraction(scene.rate.numerator, scene.rate.denominator)
        alpha = self.alpha(scene, options)
        with (
            painted(scene, job.painter, run.first, run.count, size, self.background(scene, options)) as frames,
            whole(target) as half,
            MovieWriter(half, self.codec, options.quality, rate, size.across, size.down, alpha) as movie,
        ):
            for done, pixels in enumerate(frames, start=1):
                movie.add(bled(unpremultiplied(pixels)) if alpha else pixels)
                progress(done, run.count)

    def join(self, job: Job, options: MovieOptions, parts: Sequence[tuple[Path, Stretch]], target: Path) -> None:
        rate = Fraction(job.scene.rate.numerator, job.scene.rate.denominator)
        told = [(path, run.count) for path, run in parts]
        with whole(target) as half:
            joined(told, half, self.codec.container, rate, self.codec.late, self.codec.muxing)


Ground = Annotated[
    str, Field(pattern="^#[0-9a-fA-F]{6}$", title="Ground", description="Shows where the background lets through.",
               json_schema_extra={"colour": True})
]  # fmt: skip


class OnGround(MovieOptions):
    #: What shows where the background lets through: this movie has no transparency.
    ground: Ground = PAPER


class Mp4(Movie):
    id: ClassVar[str] = "mp4"
    label: ClassVar[str] = "Movie (MP4)"
    about: ClassVar[str] = "plays nearly everywhere"
    suffix: ClassVar[str] = ".mp4"
    media: ClassVar[str] = "video/mp4"
    icon: ClassVar[str] = "film"
    codec: ClassVar[Codec] = H264
    options = OnGround

    def alpha(self, scene: Scene, options: MovieOptions) -> bool:
        return False

    def carried(self, job: Job, options: MovieOptions) -> list[Carried]:
        assert isinstance(options, OnGround)
        clear = is_clear(job.scene.background)
        lies = [Carried("changed", f"It has no transparency: what is clear lies on {options.ground}.")] if clear else []
        return [*super().carried(job, options), *lies]

    def background(self, scene: Scene, options: MovieOptions) -> str | None:
        assert isinstance(options, OnGround)
        return laid_on(scene.background, options.ground)


class WebM(Movie):
    id: ClassVar[str] = "webm"
    label: ClassVar[str] = "Movie that lies over others (WebM)"
    about: ClassVar[str] = "what is clear stays clear"
    suffix: ClassVar[str] = ".webm"
    media: ClassVar[str] = "video/webm"
    icon: ClassVar[str] = "layers-half"
    codec: ClassVar[Codec] = VP9
    options = MovieOptions

    def alpha(self, scene: Scene, options: MovieOptions) -> bool:
        return is_clear(scene.background)

    def background(self, scene: Scene, options: MovieOptions) -> str | None:
        return scene.background


OUTPUTS.add(Mp4())
OUTPUTS.add(WebM())
