"""A scene as large as a daily one gets, for tests of what is seen and for benchmarks."""

import random

from deftarc.core.base.time import FrameRate
from deftarc.core.curves.sides import Side
from deftarc.core.document import Layer, Rectangle, Scene
from deftarc.core.document.artwork import Particles
from deftarc.core.document.effects import EFFECTS
from deftarc.core.document.keys import NumberKey, PathKey
from deftarc.core.document.matte import Matte
from deftarc.core.document.track import NumberTrack, PathTrack
from tests.looks import round_mask


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


def heavy_scene(frames: int = 300) -> Scene:
    """The large scene as it looks at its heaviest: of 100 layers 20 masked, every second one softly, 10 blurred, 5 that
    show through others, and two streams of 500 particles each, all alive from the first frame on.
    """
    made = large_scene(98, frames=frames)
    layers = list(made.layers)
    for n in range(20):
        layers[n] = layers[n].changed(masks=(round_mask(radius=18, feather=3.0 * (n % 2)),))
    for n in range(20, 30):
        layers[n] = layers[n].changed(effects=(EFFECTS["blur"](id="soft", radius=4.0),))
    for n in range(30, 35):
        layers[n] = layers[n].changed(matte=Matte(layer=f"l{n + 10}"))
    sparks = Particles(burst_rate=50, burst_life=10, ahead=10, burst_speed=40, burst_gravity=0, burst_spread=360,
                       burst_size=5)  # fmt: skip
    for n in range(2):
        at = PathTrack(value=(320.0 * (n + 1), 270.0))
        layers.append(Layer(id=f"sparks{n}", name=f"Sparks {n}", artwork=sparks, tracks={"position": at}))
    return made.changed(layers=tuple(layers))
