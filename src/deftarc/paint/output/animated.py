"""Moving pictures that play wherever pictures do: GIF with palettes, APNG with all colours and straight alpha."""

import io
import zipfile
from collections.abc import Iterator, Sequence
from fractions import Fraction
from itertools import pairwise
from pathlib import Path
from typing import Annotated, Any, ClassVar, Literal

import av
import numpy as np
from PIL import Image
from pydantic import Field

from deftarc.core.document import Scene
from deftarc.paint.output.base import OUTPUTS, Job, Output, Progress, RunOptions, Stretch, whole, words
from deftarc.paint.output.frames import add_frame
from deftarc.paint.output.movie import PAPER, Ground, is_clear, laid_on
from deftarc.paint.output.painted import Size, painted
from deftarc.paint.output.told import Carried
from deftarc.paint.skia.drawings import Pixels

#: A GIF tells how long a frame stays in hundredths of a second; what stays a shorter time than this is shown slowly by
#: those who play it.
CENTI, SHORTEST = 100, 2
#: How the palette's colours are mixed, in our words and the filter's.
DITHERS = {"none": "none", "ordered": "bayer:bayer_scale=3", "scattered": "sierra2_4a"}
WAITS = (av.BlockingIOError, av.EOFError, EOFError)


class AnimatedOptions(RunOptions):
    #: How often it plays; 0 is for ever.
    loops: Annotated[int, Field(ge=0, le=65_535, title="Plays", description="How often it plays; 0 is for ever.")] = 0


class Animated(Output[Any]):
    """Frames kept as pictures in parts, of which one file is made."""

    part: ClassVar[int] = 24
    whole_frames: ClassVar = "first"
    options: type[AnimatedOptions]

    def background(self, scene: Scene, options: AnimatedOptions) -> str | None:
        return scene.background

    def make(self, job: Job, options: AnimatedOptions, run: Stretch, target: Path, progress: Progress) -> None:
        scene, size = job.scene, Size.of(job.scene, options.scale)
        with (
            painted(scene, job.painter, run.first, run.count, size, self.background(scene, options)) as frames,
            whole(target) as half,
            zipfile.ZipFile(half, "w", zipfile.ZIP_STORED) as archive,
        ):
            for done, pixels in enumerate(frames, start=1):
                add_frame(archive, f"{run.first + done - 1}.png", pixels, level=1)
                progress(done, run.count)


def kept(parts: Sequence[tuple[Path, Stretch]]) -> Iterator[Pixels]:
    """The frames of parts, straight RGBA, one after the other."""
    for path, _ in parts:
        with zipfile.ZipFile(path) as archive:
            for name in archive.namelist():
                yield np.array(Image.open(io.BytesIO(archive.read(name))).convert("RGBA"))


def centis(rate: Fraction, count: int, every: int = 1) -> list[int]:
    """How long each frame that is shown stays, of so many frames one of ``every``, in hundredths of a second: all
    together as long as the frames last.
    """
    ends = [round(Fraction(CENTI * min(n, count)) / rate) for n in range(0, count + every, every)]
    stays = [b - a for a, b in pairwise(ends)]
    return [*stays[:-1], max(stays[-1], SHORTEST)]


def step(rate: Fraction) -> int:
    """Every how many frames one is shown, so that each stays long enough for those who play it."""
    return max(1, -(-SHORTEST * rate // CENTI))


class GifOptions(AnimatedOptions):
    palette: Annotated[
        Literal["one", "each"],
        Field(title="256 colours", json_schema_extra=words(one="the same for all frames", each="each frame its own")),
    ] = "one"
    dither: Annotated[
        Literal["none", "ordered", "scattered"],
        Field(title="Colours between", json_schema_extra=words(
            none="the nearest one", ordered="mixed in a pattern", scattered="mixed by chance")),
    ] = "scattered"  # fmt: skip
    #: What half clear edges lie on; what is all clear stays so.
    ground: Ground = PAPER
    clear: Annotated[
        bool, Field(title="Clear background", description="Pixels are clear or not: soft edges lie on the ground.")
    ] = False


class _Palettes:
    """Frames of one size to frames of at most 256 colours."""

    def __init__(self, width: int, height: int, told: GifOptions) -> None:
        self.size, self.told = {"width": width, "height": height}, told
        self.base = Fraction(1, CENTI)

    def _source(self, graph: Any, form: str, width: int, height: int) -> Any:
        return graph.add_buffer(width=width, height=height, format=av.VideoFormat(form), time_base=self.base)

    def _frame(self, pixels: Pixels, number: int) -> Any:
        frame = av.VideoFrame.from_ndarray(pixels, format="rgba")
        frame.pts, frame.time_base = number, self.base
        return frame

    def palette(self, frames: Iterator[Pixels]) -> Any:
        """One palette of all frames, as the filter hands it over."""
        graph: Any = av.filter.Graph()
        source = self._source(graph, "rgba", **self.size)
        made = graph.add("palettegen", "reserve_transparent=1:stats_mode=full")
        sink = graph.add("buffersink")
        source.link_to(made)
        made.link_to(sink)
        graph.configure()
        for number, pixels in enumerate(frames):
            source.push(self._frame(pixels, number))
        source.push(None)
        return sink.pull()

    def used(self, frames: Iterator[Pixels], palette: Any) -> Iterator[Any]:
        """Each frame in the palette's colours."""
        graph: Any = av.filter.Graph()
        source = self._source(graph, "rgba", **self.size)
        colours = self._source(graph, palette.format.name, palette.width, palette.height)
        mixed = graph.add("paletteuse", f"dither={DITHERS[self.told.dither]}:alpha_threshold=128")
        sink = graph.add("buffersink")
        source.link_to(mixed, 0, 0)
        colours.link_to(mixed, 0, 1)
        mixed.link_to(sink)
        graph.configure()
        palette.pts, palette.time_base = 0, self.base
        colours.push(palette)
        colours.push(None)
        for number, pixels in enumerate(frames):
            source.push(self._frame(pixels, number))
            yield from _there(sink)
        source.push(None)
        yield from _there(sink)

    def each(self, frames: Iterator[Pixels]) -> Iterator[Any]:
        """Each frame in the colours of a palette of its own."""
        for pixels in frames:
            yield from self.used(iter([pixels]), self.palette(iter([pixels])))


def _there(sink: Any) -> Iterator[Any]:
    while True:
        try:
            yield sink.pull()
        except WAITS:
            return


class Gif(Animated):
    id: ClassVar[str] = "gif"
    label: ClassVar[str] = "Moving picture of few colours (GIF)"
    suffix: ClassVar[str] = ".gif"
    media: ClassVar[str] = "image/gif"
    icon: ClassVar[str] = "filetype-gif"
    about: ClassVar[str] = "plays where only pictures are taken"
    options = GifOptions

    def carried(self, job: Job, options: GifOptions) -> list[Carried]:
        scene = job.scene
        rate = Fraction(scene.rate.numerator, scene.rate.denominator)
        every = step(rate)
        told = [*super().carried(job, options), Carried("changed", "256 colours; those between are mixed of them.")]
        if every > 1:
            shown = -(-self.total(scene, options) // every)
            told.append(Carried(
                "left", f"A frame of a GIF stays {SHORTEST} hundredths of a second at least: one of {every} is in it.",
                self.total(scene, options) - shown,
            ))  # fmt: skip
        stays = sorted(set(centis(rate, 60 * every, every)))
        if len(stays) > 1:
            told.append(Carried("changed", f"It tells time in hundredths of a second: frames stay {stays[0]} or "
                                f"{stays[-1]} of them, all together as long as they last."))  # fmt: skip
        if is_clear(scene.background):
            told.append(Carried("changed", f"Soft edges lie on {options.ground}." if options.clear
                                else f"What is clear lies on {options.ground}."))  # fmt: skip
        return told

    def background(self, scene: Scene, options: AnimatedOptions) -> str | None:
        assert isinstance(options, GifOptions)
        return scene.background if options.clear else laid_on(scene.background, options.ground)

    def join(self, job: Job, options: GifOptions, parts: Sequence[tuple[Path, Stretch]], target: Path) -> None:
        scene = job.scene
        size = Size.of(scene, options.scale)
        rate = Fraction(scene.rate.numerator, scene.rate.denominator)
        every = step(rate)

        def shown() -> Iterator[Pixels]:
            return (self._on_ground(pixels, options) for n, pixels in enumerate(kept(parts)) if n % every == 0)

        stays = centis(rate, sum(run.count for _, run in parts), every)
        mixed = _Palettes(size.width, size.height, options)
        frames = mixed.each(shown()) if options.palette == "each" else mixed.used(shown(), mixed.palette(shown()))
        # GIF counts how often it plays again; 0 is for ever, and what plays once says nothing.
        loop = 0 if options.loops == 0 else options.loops - 1 if options.loops > 1 else -1
        # The last frame has none after it that would end it: how long it stays is an option of the file.
        settings = {"loop": str(loop), "final_delay": str(stays[-1])}
        with whole(target) as half, av.open(str(half), "w", format="gif", options=settings) as out:
            stream: Any = out.add_stream("gif")
            stream.width, stream.height, stream.pix_fmt = size.width, size.height, "pal8"
            stream.time_base = stream.codec_context.time_base = Fraction(1, CENTI)
            at = 0
            for frame, long in zip(frames, stays, strict=True):
                frame.pts, frame.time_base, frame.duration = at, Fraction(1, CENTI), long
                at += long
                for packet in stream.encode(frame):
                    out.mux(packet)
            for packet in stream.encode():
                out.mux(packet)

    @staticmethod
    def _on_ground(pixels: Pixels, options: GifOptions) -> Pixels:
        """What is half clear lies on the ground, as a GIF is clear or not."""
        if not options.clear or (pixels[..., 3] == 255).all():
            return pixels
        ground = np.array([int(options.ground[n : n + 2], 16) for n in (1, 3, 5)])
        alpha = pixels[..., 3:].astype(np.uint16)
        out = pixels.copy()
        out[..., :3] = (pixels[..., :3] * alpha + ground * (255 - alpha) + 127) // 255
        out[..., 3] = np.where(pixels[..., 3] < 128, 0, 255)
        return out


class Apng(Animated):
    id: ClassVar[str] = "apng"
    label: ClassVar[str] = "Moving picture of all colours (APNG)"
    suffix: ClassVar[str] = ".apng"
    media: ClassVar[str] = "image/apng"
    icon: ClassVar[str] = "filetype-png"
    options = AnimatedOptions

    def join(self, job: Job, options: AnimatedOptions, parts: Sequence[tuple[Path, Stretch]], target: Path) -> None:
        scene = job.scene
        size = Size.of(scene, options.scale)
        rate = Fraction(scene.rate.numerator, scene.rate.denominator)
        with (
            whole(target) as half,
            av.open(str(half), "w", format="apng", options={"plays": str(options.loops)}) as out,
        ):
            stream: Any = out.add_stream("apng")
            stream.width, stream.height, stream.pix_fmt = size.width, size.height, "rgba"
            stream.rate, stream.time_base = rate, 1 / rate
            for number, pixels in enumerate(kept(parts)):
                frame = av.VideoFrame.from_ndarray(pixels, format="rgba")
                frame.pts, frame.time_base, frame.duration = number, 1 / rate, 1
                for packet in stream.encode(frame):
                    out.mux(packet)
            for packet in stream.encode():
                out.mux(packet)


OUTPUTS.add(Gif())
OUTPUTS.add(Apng())
