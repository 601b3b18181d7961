"""Bent paths and reductions, in the core alone."""

import numpy as np

from benchmarks.figures import seconds, told
from deftarc.core.base.time import FrameRate
from deftarc.core.changes.reduce import fitted
from deftarc.core.changes.trace import traced
from deftarc.core.curves.sides import Side
from deftarc.core.document import Layer, Project, Rectangle, Scene
from deftarc.core.document.keys import NumberKey, PathKey
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.edit import apply
from deftarc.core.edit.paths import BendPath
from deftarc.core.evaluate import Evaluator, frame_times
from deftarc.core.spaces.points import point_at

RATE = FrameRate(numerator=25)
SAMPLES = 10_000


def bent_path(keys: int = 50, seed: int = 1, every: int = 5) -> PathTrack:
    """A key on each of many automatic points."""
    rng = np.random.default_rng(seed)
    points = tuple(point_at(spot, 0.5) for spot in rng.uniform((60, 40), (900, 500), (keys, 2)))
    row = tuple(
        PathKey(time=n * every * RATE.flicks, at=float(n), leaving=Side(reach=0.4, rise=20.0)) for n in range(keys)
    )
    return PathTrack(value=(0, 0), points=points, keys=row)


def bend_row() -> None:
    layer = Layer(id="gull", name="Gull", artwork=Rectangle(width=50, height=36), tracks={"position": bent_path()})
    project = Project(name="Bent", scenes=(Scene(id="bent", name="Bent", rate=RATE, frames=250, layers=(layer,)),))
    evaluator, times = Evaluator(), frame_times(project.scenes[0])

    def bend(n: int) -> None:
        edit = BendPath(scene="bent", layer="gull", points=(20,), dx=float(n), dy=3.0, time=0)
        evaluator.table(apply(project, edit).scenes[0], times)

    bend(0)
    runs = [seconds(lambda n=n: bend(n)) for n in range(1, 80)]
    p95 = float(np.percentile(runs, 95)) * 1e3
    told("a point of a bent path of 50 keys moved, 250 frames", f"p95 {p95:.1f} ms", "≤ 16 ms", p95 <= 16)


def number_row(noise: float, tolerance: float, bar: float) -> None:
    rng = np.random.default_rng(7)
    cuts = np.unique(np.concatenate(([0, SAMPLES - 1], rng.choice(np.arange(40, SAMPLES - 40), 58, replace=False))))
    values = rng.uniform(-100, 100, len(cuts))
    arms = [Side(reach=float(rng.uniform(0.1, 0.9)), rise=float(rng.uniform(-20, 60))) for _ in cuts]
    keys = tuple(
        NumberKey(time=int(cut) * RATE.flicks, value=float(value), arriving=arm, leaving=arm)
        for cut, value, arm in zip(cuts, values, arms, strict=True)
    )
    times = np.arange(SAMPLES, dtype=np.int64) * RATE.flicks
    samples = NumberTrack(value=0, keys=keys).curve.at(times) + rng.normal(0, 1, SAMPLES) * noise
    found: list[int] = []
    took = min(seconds(lambda: found.append(len(fitted(times, samples, tolerance)))) for _ in range(3))
    what = f"{SAMPLES:,} samples made {len(keys)} keys{' from noise' if noise else ''}".replace(",", " ")
    told(what, f"{took:.2f} s, {found[0]} keys", f"≤ {bar:g} s", took <= bar)


def path_row() -> None:
    track = bent_path(40, 3, 256)
    times = np.arange(SAMPLES, dtype=np.int64) * RATE.flicks
    spots = track.positions(times.astype(np.float64))
    found: list[int] = []
    took = min(seconds(lambda: found.append(len(traced(times, spots, 1.0)[0].keys))) for _ in range(2))
    told("10 000 positions made a path with keys", f"{took:.2f} s, {found[0]} keys", "≤ 2 s", took <= 2)


def main() -> None:
    bend_row()
    number_row(0.0, 0.2, 2.0)
    number_row(0.5, 2.0, 4.0)
    path_row()


if __name__ == "__main__":
    main()
