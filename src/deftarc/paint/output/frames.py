"""Pictures: one frame as PNG, or every frame into a folder."""

from pathlib import Path
from typing import Annotated, ClassVar

from PIL import Image
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Scene
from deftarc.paint.output.base import OUTPUTS, STRETCH, Job, Options, Output, Progress, RunOptions, no_progress, whole
from deftarc.paint.skia.painter import SkiaPainter, blank, unpremultiplied

#: All frames of a scene.
RUN = RunOptions()


def render_still(scene: Scene, painter: SkiaPainter, frame: int, target: Path) -> None:
    """One frame as PNG, transparent where the scene has no background."""
    if not 0 <= frame < scene.frames:
        raise Refusal(f"{scene.name} has frames 0 to {scene.frames - 1}; there is no frame {frame}.")
    table = painter.frames(scene, frame, 1)
    pixels, surface = blank(scene.width, scene.height)
    painter.paint(surface.getCanvas(), table, 0, scene.background, (1.0, 1.0))
    surface.flushAndSubmit()
    with whole(target) as half:
        Image.fromarray(unpremultiplied(pixels), "RGBA").save(half, "PNG")


def render_sequence(
    scene: Scene, painter: SkiaPainter, folder: Path, progress: Progress = no_progress, run: RunOptions = RUN
) -> None:
    """Every frame as PNG into a folder, by its number with as many digits as it takes, at least four."""
    start, total = run.frames(scene)
    folder.mkdir(parents=True, exist_ok=True)
    digits = max(4, len(str(scene.frames - 1)))
    pixels, surface = blank(scene.width, scene.height)
    for first in range(start, start + total, STRETCH):
        count = min(STRETCH, start + total - first)
        table = painter.frames(scene, first, count)
        for row in range(count):
            painter.paint(surface.getCanvas(), table, row, scene.background, (1.0, 1.0))
            surface.flushAndSubmit()
            with whole(folder / f"{first + row:0{digits}d}.png") as half:
                Image.fromarray(unpremultiplied(pixels), "RGBA").save(half, "PNG")
            progress(first + row + 1 - start, total)


class FrameOptions(Options):
    frame: Annotated[int, Field(ge=0, le=limits.MAX_SCENE_FRAMES)] = 0


class Still(Output[FrameOptions]):
    id: ClassVar[str] = "png"
    label: ClassVar[str] = "This frame (PNG)"
    suffix: ClassVar[str] = ".png"
    media: ClassVar[str] = "image/png"
    icon: ClassVar[str] = "camera"
    of: ClassVar = "frame"
    options = FrameOptions

    def check(self, scene: Scene, options: FrameOptions) -> None:
        if options.frame >= scene.frames:
            raise Refusal(f"{scene.name} has frames 0 to {scene.frames - 1}; there is no frame {options.frame}.")

    def title(self, scene: Scene, options: FrameOptions) -> str:
        return f"{scene.name} frame {options.frame}"

    def write(self, job: Job, options: FrameOptions, target: Path, progress: Progress) -> None:
        render_still(job.scene, job.painter, options.frame, target)
        progress(1, 1)


class Sequence(Output[RunOptions]):
    id: ClassVar[str] = "frames"
    label: ClassVar[str] = "Every frame (PNG, numbered)"
    suffix: ClassVar[str] = ""
    media: ClassVar[str] = "image/png"
    options = RunOptions

    def write(self, job: Job, options: RunOptions, target: Path, progress: Progress) -> None:
        render_sequence(job.scene, job.painter, target, progress, options)


OUTPUTS.add(Still())
OUTPUTS.add(Sequence())
