"""Renders in parts: two processes against one, the queue against a plain loop, and memory over ten thousand frames."""

import os
import subprocess
import sys
import tempfile
from pathlib import Path

import numpy as np
from tests.large import large_scene

from benchmarks.figures import seconds, told
from deftarc.app.queue.crews import Crew, Processes
from deftarc.app.queue.making import Making, made_with
from deftarc.app.queue.work import Order
from deftarc.core.document import Project, Scene
from deftarc.formats.archive import write_project
from deftarc.formats.materials import Materials
from deftarc.paint.output import Job, chosen, no_progress, output_named

#: Says how much memory a render took at most, in MB.
WEIGHED = """
import resource, sys
from deftarc.cli import app
try:
    app(sys.argv[1:])
finally:
    print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024)
"""


def scene_of(frames: int, width: int = 1920, height: int = 1080) -> Scene:
    return large_scene(50, frames=frames).changed(width=width, height=height)


def made(scene: Scene, kind: str, crew: Crew, folder: Path, number: int) -> None:
    """A job of a scene, made by a crew."""
    output = output_named(kind)
    work = write_project(Project(name="Quillhaven", scenes=(scene,)), lambda name: b"", {})
    runs = output.parts(scene, chosen(output, {}))
    making = Making.laid(folder / f"job{number}", Order(kind, scene.id), work, runs)
    made_with(crew, making, folder / f"a{output.suffix}", no_progress)


def side_by_side(kind: str, frames: int, runs: int = 3) -> None:
    """Two processes on two cores against one on one, and one against a plain loop: each in turn, processes warm.

    A process paints ahead while it encodes: where it has both cores to itself it uses them, alone.
    """
    scene = scene_of(frames)
    output = output_named(kind)
    job = Job(scene, Materials(lambda name: b""), {})
    with tempfile.TemporaryDirectory() as told_folder:
        folder = Path(told_folder)
        number = iter(range(10_000))
        cores = sorted(os.sched_getaffinity(0))
        single, one, two = Processes(1), Processes(1), Processes(2)
        # Processes keep the cores of who began them.
        for crew, on in ((single, cores[:1]), (one, cores), (two, cores[:2])):
            os.sched_setaffinity(0, on)
            made(scene_of(240, 64, 36), kind, crew, folder, next(number))
        os.sched_setaffinity(0, cores)
        rows = np.array([
            (
                seconds(lambda: output.write(job, chosen(output, {}), folder / f"b{output.suffix}", no_progress)),
                seconds(lambda: made(scene, kind, one, folder, next(number))),
                seconds(lambda: made(scene, kind, two, folder, next(number))),
                seconds(lambda: made(scene, kind, single, folder, next(number))),
            )
            for _ in range(runs)
        ])  # fmt: skip
        for crew in (single, one, two):
            crew.close()
    faster = float(np.median(rows[:, 3] / rows[:, 2]))
    alone = float(np.median(rows[:, 1] / rows[:, 2]))
    costs = float(np.median(rows[:, 1] / rows[:, 0]))
    told(
        f"two processes against one ({kind})",
        f"{faster:.2f} × ({alone:.2f} × one on both cores)",
        "≥ 1.7 ×",
        faster >= 1.7,
    )
    told(f"the queue against a plain loop ({kind})", f"{costs:.3f} ×", "≤ 1.05 ×", costs <= 1.05)


def weighed(frames: int, folder: Path) -> int:
    """The most memory a render of so many frames takes, MB."""
    file = folder / "a.deftarc"
    scene = scene_of(frames, 320, 180)
    file.write_bytes(write_project(Project(name="Quillhaven", scenes=(scene,)), lambda name: b"", {}))
    run = subprocess.run(
        [sys.executable, "-c", WEIGHED, "render", str(file), "--out", str(folder / "a.mp4")],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    return int(run.stdout.split()[-1])


def main() -> None:
    side_by_side("mp4", 240)
    side_by_side("zip", 96)
    with tempfile.TemporaryDirectory() as folder:
        few, many = (weighed(frames, Path(folder)) for frames in (1_000, 10_000))
    told("memory over 10 000 frames, against 1 000", f"{many / few:.2f} × ({many} MB)", "≤ 1.1 ×", many / few <= 1.1)


if __name__ == "__main__":
    main()
