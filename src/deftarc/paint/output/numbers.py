"""What leaves as numbers and not as pictures: a table of samples, and the project itself."""

import csv
from collections.abc import Iterator
from io import StringIO
from pathlib import Path
from typing import ClassVar

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.time import FLICKS
from deftarc.core.document import Layer
from deftarc.core.document.properties import property_named
from deftarc.core.document.shown import shown_values
from deftarc.core.evaluate import delivered, frame_times
from deftarc.core.evaluate.asker import Asker
from deftarc.core.evaluate.evaluator import evaluate
from deftarc.formats.read.samples import COLOUR_PARTS
from deftarc.paint.output.base import OUTPUTS, Job, Options, Output, PartOptions, Progress, Stretch, whole
from deftarc.paint.output.told import Carried, never_delivered

#: A name with its unit, and its number at each frame.
Column = tuple[str, Floats]


class Samples(Output[PartOptions]):
    """A row for each frame, a column for each number that moves."""

    id: ClassVar[str] = "csv"
    label: ClassVar[str] = "Numbers at every frame (CSV)"
    suffix: ClassVar[str] = ".csv"
    media: ClassVar[str] = "text/csv"
    icon: ClassVar[str] = "table"
    previewed: ClassVar[str] = "mp4"
    numbers: ClassVar[bool] = True
    about: ClassVar[str] = "to be computed with, or laid on other layers"
    options = PartOptions

    def columns(self, job: Job, first: int, count: int) -> Iterator[Column]:
        """What moves of each layer, in the units of the workbench, and where its pivot lies where others move it."""
        scene = delivered(job.scene)
        times = frame_times(scene, first, count)
        at = times.astype(np.float64)
        asker = Asker(scene)
        worlds = evaluate(scene, times, job.materials.shape_text, scenes=job.scenes).worlds
        for layer in scene.layers:
            if layer.hidden:
                continue
            for name in layer.properties:
                facts = property_named(name)
                if facts.kind == "outline" or name == "clock":
                    continue
                rows = shown_values(layer, name, asker.values(layer, name, at)) * facts.factor
                if len(rows) == 1 or not np.any(np.abs(rows - rows[0]) > 0):
                    continue
                parts = COLOUR_PARTS if facts.kind == "colour" else facts.components
                for k, part in enumerate(parts):
                    label = " ".join(x for x in (facts.label, part) if x)
                    unit = f" ({facts.unit})" if facts.unit else ""
                    yield f"{layer.name}: {label}{unit}", rows[:, k]
            if layer.parent is not None and layer.id in worlds:
                yield from self._place(layer, worlds[layer.id], asker, at)

    @staticmethod
    def _place(layer: Layer, world: Floats, asker: Asker, at: Floats) -> Iterator[Column]:
        pivots = [asker.values(layer, name, at) for name in ("pivot_x", "pivot_y")]
        pivot = np.concatenate([np.broadcast_to(each, (len(at), 1)) for each in pivots], axis=1)
        world = np.broadcast_to(world, (len(at), 3, 3))
        spots = (world[:, :2, :2] @ pivot[:, :, None])[:, :, 0] + world[:, :2, 2]
        for k, part in enumerate("xy"):
            yield f"{layer.name}: Place in the scene {part} (px)", spots[:, k]

    def make(self, job: Job, options: PartOptions, run: Stretch, target: Path, progress: Progress) -> None:
        columns = list(self.columns(job, run.first, run.count))
        times = frame_times(job.scene, run.first, run.count)
        out = StringIO()
        writer = csv.writer(out, lineterminator="\n")
        writer.writerow(["frame", "seconds", *(name for name, _ in columns)])
        for row in range(run.count):
            numbers = [float(times[row]) / FLICKS, *(values[row] for _, values in columns)]
            writer.writerow([run.first + row, *(f"{number + 0.0:.9g}" for number in numbers)])
        with whole(target) as half:
            half.write_text(out.getvalue(), "utf-8")
        progress(run.count, run.count)

    def carried(self, job: Job, options: PartOptions) -> list[Carried]:
        first, count = options.frames(job.scene)
        columns = sum(1 for _ in self.columns(job, first, count))
        told = [Carried("baked", f"{columns} numbers that move, at each of {count} frames.", columns)]
        outlines = [layer for layer in delivered(job.scene).layers if not layer.hidden and "outline" in layer.tracks]
        if outlines:
            told.append(Carried("left", "Outlines that change, which are many points.", len(outlines)))
        still = Carried("left", "What anything looks like, and what stays as it is.", 0)
        return [*told, still, *never_delivered(job.scene)]


class ProjectOut(Output[Options]):
    """The project as it is, to be opened here again."""

    id: ClassVar[str] = "project"
    label: ClassVar[str] = "Project file (.deftarc)"
    suffix: ClassVar[str] = ".deftarc"
    media: ClassVar[str] = "application/zip"
    icon: ClassVar[str] = "file-zip"
    previewed: ClassVar[str] = "mp4"
    numbers: ClassVar[bool] = True
    about: ClassVar[str] = "all of it, to be gone on with here or elsewhere"
    options = Options

    def make(self, job: Job, options: Options, run: Stretch, target: Path, progress: Progress) -> None:
        data = job.packed()
        with whole(target) as half:
            half.write_bytes(data)
        progress(run.count, run.count)

    def carried(self, job: Job, options: Options) -> list[Carried]:
        scenes = max(1, len(job.scenes))
        what = f"All {scenes} scenes" if scenes > 1 else "The scene"
        return [Carried("kept", f"{what}, with every key, link, take and picture.", scenes)]


OUTPUTS.add(Samples())
OUTPUTS.add(ProjectOut())
