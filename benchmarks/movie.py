"""A movie at 1920 × 1080, against the same encoder fed with frames that are ready."""

import tempfile
from fractions import Fraction
from pathlib import Path

import numpy as np
from tests.large import large_scene

from benchmarks.figures import seconds, told
from deftarc.core.document import Scene
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.formats.materials import Materials
from deftarc.paint.output import Job, chosen, no_progress, output_named
from deftarc.paint.output.movie import H264, MovieWriter
from deftarc.paint.skia.painter import blank

FRAMES = 90


def against_encoder(title: str, scene: Scene, bar: float | None, runs: int = 5) -> None:
    """A movie of a scene against its encoder alone, in turn; with no bar, the figure is told only."""
    job, output = Job(scene, Materials(lambda name: b""), {}), output_named("mp4")
    options = chosen(output, {})
    table = evaluate(scene, frame_times(scene))
    ready = []
    for row in range(scene.frames):
        pixels, surface = blank(scene.width, scene.height)
        job.painter.paint(surface.getCanvas(), table, row, scene.background, (1.0, 1.0))
        surface.flushAndSubmit()
        ready.append(pixels)
    with tempfile.TemporaryDirectory() as folder:
        target = Path(folder) / "a.mp4"

        def encoder_alone() -> None:
            rate = Fraction(scene.rate.numerator, scene.rate.denominator)
            with MovieWriter(target, H264, "good", rate, scene.width, scene.height) as movie:
                for pixels in ready:
                    movie.add(pixels)

        def ours_whole() -> None:
            output.write(job, options, target, no_progress)

        encoder_alone()
        pairs = np.array([(seconds(ours_whole), seconds(encoder_alone)) for _ in range(runs)])
    share = float(np.median(pairs[:, 1] / pairs[:, 0]))
    ours, theirs = (scene.frames / np.median(pairs[:, k]) for k in (0, 1))
    figure = f"{share:.2f} × ({ours:.0f} of {theirs:.0f} frames a second)"
    told(title, figure, "none" if bar is None else f"≥ {bar:g} × encoder alone", bar is None or share >= bar)


def main() -> None:
    scene = large_scene(50, frames=FRAMES).changed(width=1920, height=1080)
    against_encoder("movie at 1920 × 1080, 50 shapes", scene, 0.85)


if __name__ == "__main__":
    main()
