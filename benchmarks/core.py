"""The first three rows, and the last: curves and scenes, in the core alone."""

import gc

import numpy as np
from scipy.interpolate import CubicSpline
from tests.large import large_scene

from benchmarks.figures import ratio, seconds, told
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.keys import KeyRef
from deftarc.core.curves.beyond import Beyond
from deftarc.core.curves.curve import TimeCurve
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.links import Link, LinkSource
from deftarc.core.document.track import NumberTrack
from deftarc.core.edit import apply
from deftarc.core.edit.stretch_keys import StretchKeys
from deftarc.core.evaluate import Evaluator, evaluate, frame_times
from deftarc.web.tidying import HELD


def random_curve(count: int, seed: int = 3) -> TimeCurve:
    """Keys at random times and values, handles with reaches up to 0.95."""
    rng = np.random.default_rng(seed)
    n = count - 1
    return TimeCurve(
        np.cumsum(rng.integers(2e7, 2e8, count)).astype(np.int64), rng.normal(size=count) * 100,
        rng.uniform(0, 0.95, n), rng.normal(size=n) * 50, rng.uniform(0, 0.95, n), rng.normal(size=n) * 50,
        np.zeros((n, 3), np.int64),
    )  # fmt: skip


def curve_row() -> None:
    curve = random_curve(100)
    times = np.sort(np.random.default_rng(5).uniform(curve.times[0], curve.times[-1], 6000))
    rows = (curve.times, curve.measures, curve.a, curve.la, curve.b, curve.lb, curve.steps)
    # Both are laid out and sampled: each edit makes a new curve, which is sampled once.
    share, mine, other = ratio(
        lambda: TimeCurve(*rows).at(times), lambda: CubicSpline(curve.times, curve.measures)(times), 200
    )
    # Exact: what the parameter solved for gives as time is the time asked for.
    segment, fraction = curve.locate(times)
    u = curve.parameter(segment, fraction)
    a, b = curve.a[segment], 1 - curve.b[segment]
    back = 3 * a * u * (1 - u) ** 2 + 3 * b * u**2 * (1 - u) + u**3
    error = float(np.abs(back - fraction).max())
    figure = f"{share:.2f} × ({mine * 1e6:.0f} µs, {other * 1e6:.0f} µs), error {error:.1e}"
    told("time curve, 100 keys, laid out and sampled 6 000 times", figure, "≤ 3 × CubicSpline, 1e-9",
         share <= 3 and error <= 1e-9)  # fmt: skip


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


def again_rows() -> None:
    """What goes on for ever costs what goes on twice; many keys at once, as they are worked out."""
    short = NumberTrack(value=0, keys=large_scene(1, 5).layers[0].number("rotation").keys)
    times = np.arange(0, 600 * FLICKS, FLICKS // 30).astype(float)
    goes = [short.changed(after=Beyond(how="repeat", count=count)) for count in (1e6, 2.0)]
    pairs = np.array([[seconds(lambda track=track: track.motion(times)) for track in goes] for _ in range(30)])
    share = float(np.median(pairs[:, 0] / pairs[:, 1]))
    told("a lane repeating a million times, against twice", f"{share:.2f} ×", "≤ 1.2 ×", share <= 1.2)
    project = Project(name="Large", scenes=(large_scene(),))
    keys = [
        KeyRef(layer=layer.id, property=name, time=time)
        for layer in project.scenes[0].layers
        for name in layer.keyed
        for time in layer.track(name).key_times
    ]
    for count in (500, 5_000):
        edit = StretchKeys(scene="large", keys=tuple(keys[:count]), about=0, longer=0.9)
        # Another one each time: what was tried last is not worked out again.
        tries = [edit.changed(longer=0.9 + n / 100) for n in range(15)]
        runs = [seconds(lambda tried=tried: apply(project, tried)) for tried in tries]
        took = float(np.median(runs)) * 1e3
        bar = 33 if count == 500 else 30
        told(f"stretching {count:,} keys of 200 layers, worked out", f"{took:.0f} ms", f"≤ {bar} ms", took <= bar)


def related_row() -> None:
    """The same layers as they are, and with half of them following others, stretched, and three scenes deep."""
    plain = large_scene()
    layers = [
        layer.changed(links={"rotation": Link(source=LinkSource(layer=plain.layers[n - n % 2 - 2 * (n > 1)].id,
                                                                what="rotation"), factor=0.5, lag=FLICKS // 8)},
                      tracks={name: track for name, track in layer.tracks.items() if name != "rotation"})
        if n % 2 else layer
        for n, layer in enumerate(plain.layers)
    ]  # fmt: skip
    layers = [
        layer.changed(tracks={**layer.tracks, "stretch": NumberTrack(value=0.4)}) if n % 10 == 0 else layer
        for n, layer in enumerate(layers)
    ]
    parts = [layers[:80], layers[80:160], layers[160:]]
    here = [{layer.id for layer in part} for part in parts]
    for part, ids in zip(parts, here, strict=True):
        # Nothing follows what is in another scene.
        lead = part[0].id
        part[:] = [
            layer if all(link.source.layer in ids for link in layer.links.values())
            else layer.changed(links={n: x.changed(source=x.source.changed(layer=lead)) for n, x in layer.links.items()})
            for layer in part
        ]  # fmt: skip
    size = {"width": plain.width, "height": plain.height}
    deep = plain.changed(id="deep", layers=tuple(parts[2]))
    middle = plain.changed(id="middle", layers=(shown("one", "deep", size), *parts[1]))
    outer = plain.changed(layers=(shown("two", "middle", size), *parts[0]))
    times = frame_times(plain)
    texts = [scene.model_dump_json() for scene in (plain, outer, middle, deep)]

    def run(related: bool) -> float:
        fresh = [Scene.model_validate_json(text) for text in (texts[1:] if related else texts[:1])]
        return seconds(lambda: evaluate(fresh[0], times, scenes={scene.id: scene for scene in fresh}))

    pairs = np.array([(run(True), run(False)) for _ in range(9)])
    share = float(np.median(pairs[:, 0] / pairs[:, 1]))
    told("200 layers, 100 links, 20 stretches, 3 scenes deep", f"{share:.2f} ×", "≤ 1.5 × without", share <= 1.5)


def shown(name: str, scene: str, size: dict[str, int]) -> Layer:
    return Layer(id=name, name=name, artwork=SceneShown(scene=scene, **size))


def main() -> None:
    # As the server has it.
    gc.set_threshold(*HELD)
    again_rows()
    curve_row()
    scene_rows()
    tenfold_row()
    related_row()


if __name__ == "__main__":
    assert FLICKS
    main()
