"""A toy output: the number of frames, in words."""

from pathlib import Path
from typing import ClassVar

from deftarc.paint.output.base import OUTPUTS, Job, Options, Output, Progress, Stretch, whole


class CountOptions(Options):
    word: str = "frames"


class Count(Output[CountOptions]):
    id: ClassVar[str] = "count"
    label: ClassVar[str] = "Frame count (TXT)"
    suffix: ClassVar[str] = ".txt"
    media: ClassVar[str] = "text/plain"
    icon: ClassVar[str] = "camera"
    of: ClassVar = "frame"
    options = CountOptions

    def make(self, job: Job, options: CountOptions, run: Stretch, target: Path, progress: Progress) -> None:
        with whole(target) as half:
            half.write_text(f"{job.scene.frames} {options.word}")
        progress(1, 1)


OUTPUTS.add(Count())
