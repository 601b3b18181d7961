"""The first three rows, and the last: curves and scenes, in the core alone."""

import random

import numpy as np
from scipy.interpolate import CubicSpline

from benchmarks.figures import ratio, seconds, told
from deftarc.core.compiled import CompiledCurve, compiled
from deftarc.core.curve import TimeCurve
from deftarc.core.document import Layer, Rectangle, Scene
from deftarc.core.evaluate import Evaluator, evaluate, frame_times
from deftarc.core.time import FLICKS, FrameRate
from deftarc.core.track import NumberKey, NumberTrack, PathKey, PathTrack, Side


def random_curve(count: int, seed: int = 3) -> TimeCurve:
    """Keys at random times and values, handles with reaches up to 0.95."""
    rng = np.random.default_rng(seed)
    n = count - 1
    return TimeCurve(
        np.cumsum(rng.integers(2e7, 2e8, count)).astype(np.int64), rng.normal(size=count) * 100,
        rng.uniform(0, 0.95, n), rng.normal(size=n) * 50, rng.uniform(0, 0.95, n), rng.normal(size=n) * 50,
        np.zeros((n, 3), np.int64),
    )  # fmt: skip


def large_scene(layers: int = 200, keys: int = 5, frames: int = 600, seed: int = 1) -> Scene:
    """Layers with five keyed properties each, their handles random, spread over all frames."""
    rnd = random.Random(seed)
    last = frames - 1
    times = [round(k * last / (keys - 1)) * FrameRate(numerator=30).flicks for k in range(keys)]

    def side(size: float) -> Side:
        return Side(reach=rnd.uniform(0.05, 0.9), rise=rnd.uniform(-size, size))

    def numbers(size: float, middle: float = 0.0) -> NumberTrack:
        row = [
            NumberKey(time=t, value=middle + rnd.uniform(-size, size), leaving=side(size / 4), arriving=side(size / 4))
            for t in times
        ]
        return NumberTrack(value=0, keys=tuple(row))

    def positions() -> PathTrack:
        points = tuple((rnd.uniform(60, 900), rnd.uniform(40, 500)) for _ in times)
        row = tuple(PathKey(time=t, at=n, leaving=side(40), arriving=side(40)) for n, t in enumerate(times))
        return PathTrack(value=(0, 0), points=points, keys=row)

    made = tuple(
        Layer(
            id=f"l{n}", name=f"Layer {n}", scale_link="free",
            artwork=Rectangle(width=50, height=36, radius=6, fill=f"#{rnd.randrange(0x202020, 0xE0E0E0):06x}"),
            tracks={"position": positions(), "rotation": numbers(180), "scale_x": numbers(0.5, 1.0),
                    "scale_y": numbers(0.5, 1.0), "opacity": numbers(0.4, 0.7)},
        )
        for n in range(layers)
    )  # fmt: skip
    return Scene(
        id="large", name="Large", width=960, height=540, rate=FrameRate(numerator=30), frames=frames, layers=made
    )


def curve_row() -> None:
    curve = random_curve(100)
    times = np.sort(np.random.default_rng(5).uniform(curve.times[0], curve.times[-1], 6000))
    ours, theirs = compiled(curve), CubicSpline(curve.times, curve.measures)
    share, mine, other = ratio(lambda: ours(times), lambda: theirs(times), 200)
    error = float(np.abs(ours(times) - curve.at(times)).max() / np.ptp(curve.measures))
    figure = f"{share:.2f} × ({mine * 1e6:.0f} µs, {other * 1e6:.0f} µs), error {error:.1e}"
    told("time curve, 100 keys, 6 000 sorted samples", figure, "≤ 3 × CubicSpline, 1e-9", share <= 3 and error <= 1e-9)
    cost = np.median([seconds(lambda: CompiledCurve(curve)) for _ in range(20)])
    print(f"      compiling that curve once takes {cost * 1e3:.1f} ms")


def scene_rows() -> None:
    scene = large_scene()
    times = frame_times(scene)
    plain = scene.model_dump_json()
    runs = []
    for _ in range(9):
        fresh = Scene.model_validate_json(plain)
        runs.append(seconds(lambda fresh=fresh: evaluate(fresh, times)))
    nothing = float(np.median(runs)) * 1e3
    told("200 layers × 5 keyed properties, 600 frames, from nothing", f"{nothing:.0f} ms", "≤ 250 ms", nothing <= 250)
    evaluator = Evaluator()
    evaluator.table(scene, times)
    runs = []
    for n in range(60):
        layer = scene.layers[n]
        track = layer.number("rotation")
        keys = (*track.keys[:2], track.keys[2].changed(value=float(n)), *track.keys[3:])
        changed = scene.with_layer(layer.with_track("rotation", NumberTrack(value=0, keys=keys)))
        runs.append(seconds(lambda changed=changed: evaluator.table(changed, times)))
    moved = float(np.percentile(runs, 95)) * 1e3
    told("the same after one key moved", f"p95 {moved:.1f} ms", "≤ 8 ms", moved <= 8)


def tenfold_row() -> None:
    few, many = large_scene(60, 5), large_scene(60, 50)
    times = frame_times(few)
    plain = [scene.model_dump_json() for scene in (few, many)]

    def run(text: str) -> float:
        fresh = Scene.model_validate_json(text)
        return seconds(lambda: evaluate(fresh, times))

    pairs = np.array([(run(plain[1]), run(plain[0])) for _ in range(15)])
    share = float(np.median(pairs[:, 0] / pairs[:, 1]))
    told("ten times the keys, same frames", f"{share:.2f} ×", "≤ 1.5 ×", share <= 1.5)


def main() -> None:
    curve_row()
    scene_rows()
    tenfold_row()


if __name__ == "__main__":
    assert FLICKS
    main()
