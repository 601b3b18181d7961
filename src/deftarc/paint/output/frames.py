"""Pictures: one frame, or every frame by its number, in a folder or a ZIP."""

import re
import shutil
import zipfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated, ClassVar, Literal

from PIL import Image
from pydantic import Field, field_validator

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Scene
from deftarc.paint.output.base import OUTPUTS, Job, Options, Output, Progress, RunOptions, Scale, Stretch, whole
from deftarc.paint.output.painted import Size, painted
from deftarc.paint.skia.drawings import Pixels
from deftarc.paint.skia.painter import unpremultiplied

#: Fewest digits of a frame's number in a row of files.
DIGITS = 4


def save(pixels: Pixels, target: Path, kind: Literal["PNG", "WEBP"] = "PNG") -> None:
    """A painted frame as a picture file with straight alpha, lossless."""
    with whole(target) as half:
        Image.fromarray(unpremultiplied(pixels), "RGBA").save(
            half, kind, **({} if kind == "PNG" else {"lossless": True})
        )


class FrameOptions(Options):
    frame: Annotated[int, Field(ge=0, le=limits.MAX_SCENE_FRAMES, title="Frame")] = 0
    scale: Scale = 1.0


class Still(Output[FrameOptions]):
    """One frame, transparent where the scene has no background."""

    id: ClassVar[str] = "png"
    label: ClassVar[str] = "This frame (PNG)"
    suffix: ClassVar[str] = ".png"
    media: ClassVar[str] = "image/png"
    icon: ClassVar[str] = "camera"
    about: ClassVar[str] = "one picture, as sharp as it can be"
    of: ClassVar = "frame"
    kind: ClassVar[Literal["PNG", "WEBP"]] = "PNG"
    options = FrameOptions

    def check(self, scene: Scene, options: FrameOptions) -> None:
        super().check(scene, options)
        if options.frame >= scene.frames:
            raise Refusal(f"{scene.name} has frames 0 to {scene.frames - 1}; there is no frame {options.frame}.")

    def title(self, scene: Scene, options: FrameOptions) -> str:
        return f"{scene.name} frame {options.frame}"

    def make(self, job: Job, options: FrameOptions, run: Stretch, target: Path, progress: Progress) -> None:
        scene = job.scene
        size = Size.of(scene, options.scale)
        with painted(scene, job.painter, options.frame, 1, size, scene.background) as frames:
            save(next(frames), target, self.kind)
        progress(1, 1)


class StillWebP(Still):
    id: ClassVar[str] = "webp"
    label: ClassVar[str] = "This frame (WebP)"
    suffix: ClassVar[str] = ".webp"
    media: ClassVar[str] = "image/webp"
    icon: ClassVar[str] = "image"
    about: ClassVar[str] = "one picture, as sharp, in a smaller file"
    kind: ClassVar[Literal["PNG", "WEBP"]] = "WEBP"


class SequenceOptions(RunOptions):
    #: The name of each file without its ending: # stands for the frame's number, as many of them as digits.
    pattern: Annotated[
        str, Field(min_length=1, max_length=80, title="Names", description="# stands for the frame's number.")
    ] = "#"

    @field_validator("pattern")
    @classmethod
    def _with_a_number(cls, told: str) -> str:
        if len(re.findall("#+", told)) != 1 or re.search(r'[/\\:*?"<>|\x00-\x1f]', told) or told.startswith("."):
            raise ValueError("is a file's name with one # for the frame's number, or several for its digits")
        return told

    def name(self, scene: Scene, frame: int) -> str:
        digits = max(DIGITS, len(str(scene.frames - 1)))
        return re.sub("#+", lambda found: f"{frame:0{max(digits, len(found[0]))}d}", self.pattern) + ".png"


class Sequence_(Output[SequenceOptions]):  # noqa: N801
    """Every frame by its number."""

    part: ClassVar[int] = 24
    previewed: ClassVar[str] = "webm"
    options = SequenceOptions

    def measured(self) -> Output[SequenceOptions]:
        return OUTPUTS["zip"]

    def make(self, job: Job, options: SequenceOptions, run: Stretch, target: Path, progress: Progress) -> None:
        scene = job.scene
        size = Size.of(scene, options.scale)
        # One file a part, stored as it is: a folder of frames would not travel.
        with (
            painted(scene, job.painter, run.first, run.count, size, scene.background) as frames,
            whole(target) as half,
            zipfile.ZipFile(half, "w", zipfile.ZIP_STORED) as archive,
        ):
            for done, pixels in enumerate(frames, start=1):
                add_frame(archive, options.name(scene, run.first + done - 1), pixels)
                progress(done, run.count)


def add_frame(archive: zipfile.ZipFile, name: str, pixels: Pixels, level: int = 6) -> None:
    """Adds a painted frame to an archive, pressed as hard as ``level`` says, 0 to 9."""
    # A fixed date: the same frames are the same bytes.
    with archive.open(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), "w") as file:
        Image.fromarray(unpremultiplied(pixels), "RGBA").save(file, "PNG", compress_level=level)


@contextmanager
def _opened(path: Path) -> Iterator[zipfile.ZipFile]:
    with zipfile.ZipFile(path) as archive:
        yield archive


class Folder(Sequence_):
    id: ClassVar[str] = "frames"
    label: ClassVar[str] = "Every frame (PNG, numbered)"
    suffix: ClassVar[str] = ""
    media: ClassVar[str] = "image/png"

    def join(self, job: Job, options: SequenceOptions, parts: Sequence[tuple[Path, Stretch]], target: Path) -> None:
        target.mkdir(parents=True, exist_ok=True)
        for path, _ in parts:
            with _opened(path) as archive:
                for name in archive.namelist():
                    with whole(target / name) as half, archive.open(name) as source, half.open("wb") as file:
                        shutil.copyfileobj(source, file)


class Zipped(Sequence_):
    id: ClassVar[str] = "zip"
    label: ClassVar[str] = "Every frame (PNG in a ZIP)"
    suffix: ClassVar[str] = ".zip"
    media: ClassVar[str] = "application/zip"
    icon: ClassVar[str] = "images"
    about: ClassVar[str] = "for whoever works on with it"

    def join(self, job: Job, options: SequenceOptions, parts: Sequence[tuple[Path, Stretch]], target: Path) -> None:
        with whole(target) as half, zipfile.ZipFile(half, "w", zipfile.ZIP_STORED) as out:
            for path, _ in parts:
                with _opened(path) as archive:
                    for told in archive.infolist():
                        with (
                            archive.open(told) as source,
                            out.open(zipfile.ZipInfo(told.filename, told.date_time), "w") as file,
                        ):
                            shutil.copyfileobj(source, file)


OUTPUTS.add(Still())
OUTPUTS.add(StillWebP())
OUTPUTS.add(Folder())
OUTPUTS.add(Zipped())
