"""Outputs: what a scene can leave as. A class a kind, each in a file of its own, found by its id or its files' ending.

The dialog, the command line, the API and the queue read this register and know no kind by name.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any, ClassVar, Generic, Literal, TypeVar

from pydantic import ValidationError

from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Frozen
from deftarc.core.base.register import Register
from deftarc.core.document import Scene
from deftarc.paint.skia.painter import SkiaPainter

#: Frames evaluated at a time, so that a long scene needs little memory.
STRETCH = 240
Progress = Callable[[int, int], None]


@dataclass(frozen=True)
class Job:
    """A scene, and a painter that knows its drawings."""

    scene: Scene
    painter: SkiaPainter


class Options(Frozen):
    """What can be chosen for an output; plain values, each with one that goes without saying."""


class RunOptions(Options):
    """Which frames of a scene are delivered."""

    #: All of it, or its play range: half-open, so that a loop's last frame is not its first one again.
    part: Literal["all", "range"] = "all"

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


Chosen = TypeVar("Chosen", bound=Options)


class Output(Generic[Chosen]):
    """What every output says of itself; ``write`` is all it does."""

    id: ClassVar[str]
    label: ClassVar[str]
    #: The ending of its file; empty where it writes a folder.
    suffix: ClassVar[str]
    media: ClassVar[str] = "application/octet-stream"
    #: Its icon in the page's dialog; without one it is for the command line.
    icon: ClassVar[str] = ""
    of: ClassVar[Literal["scene", "frame"]] = "scene"
    options: type[Chosen]

    def check(self, scene: Scene, options: Chosen) -> None:
        """Refusal where the options do not go with a scene."""

    def total(self, scene: Scene, options: Chosen) -> int:
        """How many frames it has to paint."""
        if isinstance(options, RunOptions):
            return options.frames(scene)[1]
        return 1 if self.of == "frame" else scene.frames

    def title(self, scene: Scene, options: Chosen) -> str:
        """What a job of it is called."""
        return scene.name

    def write(self, job: Job, options: Chosen, target: Path, progress: Progress) -> None:
        """Writes it to a file, or into a folder; half a file is never left under its name."""
        raise NotImplementedError


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
