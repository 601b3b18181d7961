"""What is said of an output before it is made: what of a scene it keeps, changes or leaves out, how large it will be
about, and a small picture of it that moves.
"""

import math
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TYPE_CHECKING, Any, Literal

import av

from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork.bursts import Particles

if TYPE_CHECKING:
    from deftarc.paint.output.base import Job, Output

#: What becomes of something: it arrives as it is, slightly changed, as plain keys, as pictures, in some players only,
#: or not at all.
How = Literal["kept", "changed", "baked", "picture", "disputed", "left"]
#: Frames of each stretch that is made to see how large all will be, and how many such stretches.
SAMPLED, STRETCHES = 4, 6
#: The longer side of what is measured of moving pictures, px, and with which power of it they grow (empirical: the
#: demo's scenes as GIF and APNG).
MEASURED_SIDE, GROWS = 640, 1.2
#: The longer side of a small picture, px, and the frames it has at most.
PREVIEW_SIDE, PREVIEW_FRAMES = 400, 150


@dataclass(frozen=True)
class Carried:
    """One line of what arrives: in words, and of how many layers, keys or frames it is true; 0 where that is no number
    of anything.
    """

    how: How
    words: str
    count: int = 0


@dataclass(frozen=True)
class Small:
    """A small moving picture: its bytes, and what kind they are."""

    data: bytes
    media: str


def named(layers: list[Layer], most: int = 3) -> str:
    """Layers by their names, as many as are read with ease."""
    names = [f"“{layer.name}”" for layer in layers[:most]]
    more = len(layers) - len(names)
    if more:
        return f"{', '.join(names)} and {more} more"
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def never_delivered(scene: Scene) -> Iterator[Carried]:
    """What leaves with no output, whatever it can carry."""
    references = [layer for layer in scene.layers if layer.reference and not layer.hidden]
    shown = _of_others(scene)
    hidden = [layer for layer in scene.layers if layer.hidden and layer.id not in shown]
    if references:
        yield Carried("left", f"References are for work only: {named(references)}.", len(references))
    if hidden:
        yield Carried("left", f"Hidden: {named(hidden)}.", len(hidden))
    loose = [layer for layer in scene.layers if layer.loose_times]
    if loose:
        yield Carried("left", f"Values that were changed and not keyed, of {named(loose)}.", len(loose))


def _of_others(scene: Scene) -> set[str]:
    """The layers that are seen in others, hidden or not: those that show through them, and what particles are."""
    out: set[str] = set()
    for layer in scene.layers:
        if layer.hidden:
            continue
        if layer.matte is not None:
            out.add(layer.matte.layer)
        if isinstance(layer.artwork, Particles) and layer.artwork.shaped is not None:
            out.add(layer.artwork.shaped)
    return out


def about_size(output: "Output[Any]", job: "Job", options: Any) -> int:
    """How many bytes it will have, about: from short stretches made for it, or from all of it where that is little."""
    runs = output.parts(job.scene, options)
    with TemporaryDirectory(prefix="deftarc-") as folder:
        known = output.sized(job, options)
        if known is not None:
            return known
        if not output.part:
            output.write(job, options, Path(folder) / "all", lambda _done, _all: None)
            return (Path(folder) / "all").stat().st_size
        total = sum(run.count for run in runs)
        grown = 1.0
        if output.whole_frames == "first":
            # Large ones take long to mix colours for; how they grow with their sides is known well enough.
            scale = min(options.scale, MEASURED_SIDE / max(job.scene.width, job.scene.height))
            grown = float((options.scale / scale) ** GROWS)
            options = options.changed(scale=scale)
        firsts: list[int] = []
        others: list[int] = []
        for run in _stretches(runs[0].first, total):
            target = Path(folder) / f"a{output.suffix or '.zip'}"
            part = Path(folder) / "part"
            output.make(job, options, run, part, lambda _done, _all: None)
            output.measured().join(job, options, [(part, run)], target)
            sizes = packet_sizes(target)
            firsts += sizes[:1]
            others += sizes[1:]
        begun = len(runs) if output.whole_frames == "part" else 1 if output.whole_frames == "first" else total
        one = sum(firsts) / len(firsts)
        rest = sum(others) / len(others) if others else one
        if begun == total:
            one = rest = (sum(firsts) + sum(others)) / (len(firsts) + len(others))
        return round(grown * (one * begun + rest * (total - begun)))


def _stretches(first: int, total: int) -> Iterator[Any]:
    from deftarc.paint.output.base import Stretch

    if total <= SAMPLED * STRETCHES:
        yield Stretch(first, total)
        return
    for n in range(STRETCHES):
        # Never the very beginning, where often nothing shows yet.
        at = first + round((total - SAMPLED) * (2 * n + 1) / (2 * STRETCHES))
        yield Stretch(at, SAMPLED)


def packet_sizes(path: Path) -> list[int]:
    """How many bytes each frame of a file takes."""
    if zipfile.is_zipfile(path):
        with zipfile.ZipFile(path) as archive:
            return [told.file_size for told in archive.infolist()]
    with av.open(str(path)) as file:
        return [packet.size for packet in file.demux(video=0) if packet.size]


def small_picture(output: "Output[Any]", job: "Job", options: Any) -> Small:
    """What a person sees of an output before it is made."""
    from deftarc.paint.output.base import OUTPUTS, PartOptions, Stretch

    scene = job.scene
    as_is = output.previewed in ("", output.id)
    kind = output if as_is else OUTPUTS[output.previewed]
    alike = kind.options is output.options
    told = options if alike else kind.options(part=getattr(options, "part", "all"))
    scale = min(getattr(options, "scale", 1.0), PREVIEW_SIDE / max(scene.width, scene.height))
    if hasattr(told, "scale"):
        told = told.changed(scale=max(scale, 2 / min(scene.width, scene.height)))
    with TemporaryDirectory(prefix="deftarc-") as folder:
        target = Path(folder) / f"small{kind.suffix}"
        if isinstance(told, PartOptions):
            first, total = told.frames(scene)
            run = Stretch(first, min(total, kind.shown_frames(job, told)))
            kind.make(job, told, run, Path(folder) / "part", lambda _done, _all: None)
            kind.join(job, told, [(Path(folder) / "part", run)], target)
        else:
            kind.write(job, told, target, lambda _done, _all: None)
        return Small(target.read_bytes(), kind.media)


def in_bytes(size: int) -> str:
    """Bytes as people say them, as exactly as a guess is."""
    if size < 1_000:
        return f"{size} bytes"
    power, word = next((p, w) for p, w in ((9, "GB"), (6, "MB"), (3, "kB")) if size >= 10**p)
    value = size / 10**power
    digits = max(0, 1 - math.floor(math.log10(value)))
    return f"{value:.{digits}f} {word}"
