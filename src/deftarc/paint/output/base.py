"""Outputs: what a scene can leave as. A class a kind, each in a file of its own, found by its id or its files' ending.

The dialog, the command line, the API and the queue read this register and know no kind by name.
"""

import shutil
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Annotated, Any, ClassVar, Generic, Literal, TypeVar

from pydantic import Field, ValidationError

from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Frozen
from deftarc.core.base.register import Register
from deftarc.core.document import Project, Scene
from deftarc.core.evaluate import Scenes
from deftarc.formats.materials import Materials
from deftarc.paint.output.told import PREVIEW_FRAMES, Carried, never_delivered
from deftarc.paint.skia.painter import SkiaPainter
from deftarc.paint.skia.scene import painter_for

Progress = Callable[[int, int], None]
#: No side of a picture is larger, px: what encoders and browsers take.
MOST_SIDE = 16_384


@dataclass(frozen=True, eq=False)
class Job:
    """A scene, what its artwork is made of, and the scenes it may show."""

    scene: Scene
    materials: Materials
    scenes: Scenes
    #: The project it is from, and what makes a file of a state of it.
    project: Project | None = None
    pack: Callable[[Project], bytes] | None = None

    def packed(self, state: Callable[[Project], Project] = lambda project: project) -> bytes:
        """A project file of a state of its project; Refusal where that is not known."""
        if self.project is None or self.pack is None:
            raise Refusal("What this scene is part of is not known here. Export the project itself.")
        return self.pack(state(self.project))

    def picture(self, asset: str) -> tuple[bytes, str]:
        """A picture as it lies, and what kind of file it is."""
        data = self.materials.read_asset(asset)
        kinds = {b"\x89PNG": "image/png", b"RIFF": "image/webp", b"\xff\xd8\xff": "image/jpeg"}
        return data, next((kind for head, kind in kinds.items() if data.startswith(head)), "image/png")

    @cached_property
    def painter(self) -> SkiaPainter:
        """A painter that knows its drawings."""
        return painter_for(self.scene, self.materials, self.scenes)


@dataclass(frozen=True)
class Stretch:
    """Frames in a row: the first of them, and how many."""

    first: int
    count: int


class Options(Frozen):
    """What can be chosen for an output; plain values, each with one that goes without saying. A field's title is what
    people read, its ``words`` say what each of its values is called.
    """


def words(**told: str) -> dict[str, Any]:
    """What each of a field's values is called."""
    return {"words": told}


Scale = Annotated[
    float, Field(ge=0.05, le=4, title="Size", description="By how much the picture is larger than the scene.")
]


class PartOptions(Options):
    """Which frames of a scene are delivered."""

    #: All of it, or its play range: half-open, so that a loop's last frame is not its first one again.
    part: Annotated[
        Literal["all", "range"],
        Field(title="Frames", json_schema_extra=words(all="all of the scene", range="the play range")),
    ] = "all"

    def frames(self, scene: Scene) -> tuple[int, int]:
        """The first frame and how many there are."""
        if self.part == "all" or scene.play_range is None:
            return 0, scene.frames
        start, end = scene.play_range
        first = max(0, -(-start // scene.rate.flicks))
        last = min(scene.frames, -(-end // scene.rate.flicks))
        if last <= first:
            raise Refusal(f"The play range of {scene.name} holds no frame. Set it anew, or deliver all of the scene.")
        return first, last - first


class RunOptions(PartOptions):
    """Which frames, and how large."""

    scale: Scale = 1.0


Chosen = TypeVar("Chosen", bound=Options)


class Output(Generic[Chosen]):
    """What every output says of itself, and how it is made: in parts of some frames, which others may make meanwhile
    elsewhere, and which are then joined.
    """

    id: ClassVar[str]
    label: ClassVar[str]
    #: The ending of its file; empty where it writes a folder.
    suffix: ClassVar[str]
    media: ClassVar[str] = "application/octet-stream"
    #: Its icon in the page's dialog; without one it is for the command line.
    icon: ClassVar[str] = ""
    of: ClassVar[Literal["scene", "frame"]] = "scene"
    #: How many frames a part has; 0 where it is made in one go. The same for all who make it, so that what comes of it
    #: is the same, too.
    part: ClassVar[int] = 0
    #: Which of its frames are kept as whole pictures, the others as what changes: each part's first, only the very
    #: first, or all.
    whole_frames: ClassVar[Literal["part", "first", "all"]] = "all"
    #: The id of the output that shows it small where it cannot show itself.
    previewed: ClassVar[str] = ""
    #: Whether it is numbers, and has no size in px.
    numbers: ClassVar[bool] = False
    #: What it is, in a few words.
    about: ClassVar[str] = ""
    options: type[Chosen]

    def check(self, scene: Scene, options: Chosen) -> None:
        """Refusal where the options do not go with a scene."""
        scale = getattr(options, "scale", 1.0)
        if max(scene.width, scene.height) * scale > MOST_SIDE:
            raise Refusal(
                f"{self.label}: a side of more than {MOST_SIDE:,} px can be painted by few. Choose a smaller size."
            )

    def carried(self, job: Job, options: Chosen) -> list[Carried]:
        """What of a scene arrives, and as what: said before it is made."""
        total = self.total(job.scene, options)
        what = "One frame" if total == 1 else f"{total} frames"
        return [Carried("kept", f"{what}, painted as you see them, with all there is on them.", total),
                *never_delivered(job.scene)]  # fmt: skip

    def sized(self, job: Job, options: Chosen) -> int | None:
        """How many bytes it will have, about, where it knows by itself; None where that has to be tried."""
        return None

    def shown_frames(self, job: Job, options: Chosen) -> int:
        """How many frames a small picture of it has at most."""
        return PREVIEW_FRAMES

    def measured(self) -> "Output[Any]":
        """The output whose file of some frames tells how much each of them takes."""
        return self

    def total(self, scene: Scene, options: Chosen) -> int:
        """How many frames it has to paint."""
        if isinstance(options, PartOptions):
            return options.frames(scene)[1]
        return 1 if self.of == "frame" else scene.frames

    def title(self, scene: Scene, options: Chosen) -> str:
        """What a job of it is called."""
        return scene.name

    def parts(self, scene: Scene, options: Chosen) -> list[Stretch]:
        """The frames of each part."""
        first, total = options.frames(scene) if isinstance(options, PartOptions) else (0, self.total(scene, options))
        size = self.part or total
        return [Stretch(n, min(size, first + total - n)) for n in range(first, first + total, size)]

    def make(self, job: Job, options: Chosen, run: Stretch, target: Path, progress: Progress) -> None:
        """Makes a part, as a file that is whole once it has its name."""
        raise NotImplementedError

    def join(self, job: Job, options: Chosen, parts: Sequence[tuple[Path, Stretch]], target: Path) -> None:
        """Puts parts together as what was asked for: a file, or a folder; half a file is never left under its name.
        What is made in one go is moved there.
        """
        ((path, _),) = parts
        shutil.move(path, target)

    def write(self, job: Job, options: Chosen, target: Path, progress: Progress) -> None:
        """Makes all parts, one after the other, and joins them."""
        total = self.total(job.scene, options)
        if not self.suffix:
            target.parent.mkdir(parents=True, exist_ok=True)
        with TemporaryDirectory(prefix=f".{target.name}.", dir=target.parent) as aside:
            made: list[tuple[Path, Stretch]] = []
            before = 0

            def told(done: int, _all: int) -> None:
                progress(before + done, total)

            for number, run in enumerate(self.parts(job.scene, options)):
                path = Path(aside) / part_name(number)
                self.make(job, options, run, path, told)
                made.append((path, run))
                before += run.count
            self.join(job, options, made, target)


def part_name(number: int) -> str:
    """The file of a part."""
    return f"{number:05d}.made"


OUTPUTS: Register[Output[Any]] = Register("outputs", lambda output: output.id)


def output_named(name: str) -> Output[Any]:
    """Refusal where there is none of that id."""
    if name not in OUTPUTS:
        raise unknown("output", name)
    return OUTPUTS[name]


def output_for(target: Path) -> Output[Any]:
    """The output whose files end as a path does; Refusal, with what there is, where none do."""
    for output in OUTPUTS.values():
        if output.suffix == target.suffix.lower():
            return output
    files = ", ".join(f"X{each.suffix}" for each in OUTPUTS.values() if each.suffix)
    raise Refusal(f"“{target.name}” is no kind of output. Use {files}, or a folder.")


def chosen(output: Output[Any], told: dict[str, Any]) -> Any:
    """Options from what was told, by name; what the output does not know is left alone. Refusal where one is wrong."""
    known = {name: value for name, value in told.items() if name in output.options.model_fields}
    try:
        return output.options.model_validate(known)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise Refusal(f"{output.label}: {first['loc'][0]} {str(first['msg']).removeprefix('Value error, ')}.") from None


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
