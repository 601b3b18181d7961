"""Rings and particles over time: when each is born, where, and what has become of it at a moment. See docs/maths.md.

A thing's numbers are those of its birth, so any moment is worked out without those before it.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.time import FLICKS
from deftarc.core.curves.sides import Steps
from deftarc.core.document import Layer
from deftarc.core.document.artwork import Bursts, Painted, Particles, Rings
from deftarc.core.document.eases import ease_named, sides
from deftarc.core.document.keys import NumberKey
from deftarc.core.document.links import PLACED
from deftarc.core.document.track import AnyTrack, NumberTrack
from deftarc.core.evaluate.clocks import Clocks, inner_times
from deftarc.core.evaluate.dots import Dots, Grown
from deftarc.core.evaluate.layers import resting_samples
from deftarc.core.evaluate.nearby import places_along
from deftarc.core.evaluate.source import Node, Path, Read, Source
from deftarc.core.spaces.chance import chance
from deftarc.core.spaces.colour import blend
from deftarc.core.spaces.flight import thrown

#: What is made of a layer's bursts.
BURST = ".burst"
#: The rate is summed up by trapezoids this long, in seconds.
STEP = 1 / 240
#: Things born in a burst are numbered from here on, so that they are others than those of the stream.
OF_BURST = 2**32
_SPREAD, _SPEED, _ALONG, _TURN = range(4)
Numbers = npt.NDArray[np.uint64]


def burst_times(track: AnyTrack, first: float, last: float) -> tuple[Floats, Floats]:
    """When a lane's bursts are, from one moment to another in flicks, and how strong each is: its keys, and these again
    as the lane goes on before and after them.
    """
    keys = [(float(key.time), float(key.value)) for key in track.keys] if isinstance(track, NumberTrack) else []
    out = list(keys)
    for side in ("before", "after") if keys else ():
        told = getattr(track, side)
        if told is None or not told.cycles or len(keys) < 2:
            continue
        a, b = track.cycle(side)
        turn = keys[b][0] - keys[a][0]
        most = np.inf if told.count is None else max(0.0, told.count - 1)
        there = last - keys[-1][0] if side == "after" else keys[0][0] - first
        for n in range(1, int(min(limits.MAX_REACTED, max(0.0, np.ceil(there / turn)))) + 1):
            back = told.how == "alternate" and n % 2 == 1
            for time, value in keys[a : b + 1]:
                gone = (keys[b][0] - time if back else time - keys[a][0]) / turn
                # Where two turns meet there is one key.
                if (gone == 0 if side == "after" else gone == 1) or (
                    n - 1 + gone if side == "after" else n - gone
                ) > most:
                    continue
                start = keys[-1][0] + (n - 1) * turn if side == "after" else keys[0][0] - n * turn
                out.append((start + gone * turn, value))
    rows = np.array(sorted(each for each in out if first <= each[0] <= last and each[1] > 0)).reshape(-1, 2)
    return rows[:, 0], rows[:, 1]


@dataclass(eq=False)
class _Born:
    """Things in the order of their birth: when, in flicks of the layer's time, how strong, and their numbers."""

    time: Floats
    strength: Floats
    number: Numbers


@dataclass(frozen=True)
class Bursting(Source):
    """What is to be seen of a layer's rings or particles. ``other`` leads to the layer where they are born."""

    layer: Layer
    path: Path
    driven: tuple[str, ...]
    clocks: Clocks = ()
    other: Path | None = None
    outline: Layer | None = None

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, Bursting)
            and other.layer is self.layer
            and other.outline is self.outline
            and (other.path, other.driven, other.other) == (self.path, self.driven, self.other)
            and len(other.clocks) == len(self.clocks)
            and all(a is b for a, b in zip(self.clocks, other.clocks, strict=True))
        )

    def __hash__(self) -> int:
        return hash((id(self.layer), self.path))

    def needs(self) -> tuple[Node, ...]:
        placed = (
            (Node(self.path, PLACED),) if self.other is None else (Node(self.path, PLACED), Node(self.other, PLACED))
        )
        return (*(Node(self.path, name) for name in self.driven), *placed)

    def together(self) -> tuple[Node, ...]:
        return ()

    def sample(self, times: Floats, read: Read) -> Dots:
        art = self.layer.artwork
        assert isinstance(art, Bursts)
        inner = inner_times(self.clocks, times)
        now = _Now(self, times, inner, read)
        if isinstance(art, Rings):
            return _rings(art, now)
        assert isinstance(art, Particles)
        return _particles(art, now)


class _Now:
    """What a burst is sampled with."""

    def __init__(self, bursting: Bursting, times: Floats, inner: Floats, read: Read) -> None:
        self.of, self.times, self.inner, self.read = bursting, times, inner, read
        self.layer = bursting.layer

    def scene_times(self, inner: Floats) -> Floats:
        """When in the scene's time moments of the layer's are; under a clock that goes back, as it first is."""
        if not self.of.clocks or len(self.inner) < 2:
            return inner
        order = np.argsort(self.inner, kind="stable")
        return np.interp(inner, self.inner[order], self.times[order])

    def number(self, name: str, inner: Floats) -> Floats:
        """A property at moments (n,) of the layer's time: (n, components)."""
        if name not in self.of.driven or not len(inner):
            rows = resting_samples(self.layer, name)
        elif self.of.clocks and name in self.layer.tracks and self.layer.tracks[name].keys:
            rows = self.layer.tracks[name].motion(inner)
        else:
            rows = self.read(Node(self.of.path, name), self.scene_times(inner))
        return np.broadcast_to(rows, (len(inner), rows.shape[1]))

    def window(self, life: float) -> tuple[float, float]:
        return float(self.inner.min()) - life * FLICKS, float(self.inner.max())

    def bursts(self, first: float, last: float) -> tuple[Floats, Floats]:
        track = self.layer.tracks.get("burst")
        if track is None or not track.keys:
            return np.empty(0), np.empty(0)
        return burst_times(track, first, last)

    def spots(self, born: Floats, share: Floats) -> Floats:
        """Where things are born (n, 2) in the layer's px, at moments of its time; ``share`` is where along a line."""
        art = self.layer.artwork
        assert isinstance(art, Bursts)
        off = np.concatenate([self.number(name, born) for name in ("burst_off_x", "burst_off_y")], axis=1)
        if art.emits == "line" and isinstance(art, Particles):
            wide = self.number("burst_wide", born)[:, 0]
            return off + np.stack([(share - 0.5) * wide, np.zeros(len(born))], axis=1)
        if self.of.other is None or not len(born) or art.emits not in ("place", "outline"):
            return off
        at = self.scene_times(born)
        there = self.read(Node(self.of.other, PLACED), at)
        if art.emits == "outline" and self.of.outline is not None:
            spot = places_along(self.of.outline, share)
        else:
            spot = np.broadcast_to(there.own.pivot, (len(born), 2))
        world = np.broadcast_to(there.world, (len(born), 3, 3))
        here = np.broadcast_to(self.read(Node(self.of.path, PLACED), at).world, (len(born), 3, 3))
        scene = np.einsum("nij,nj->ni", world[:, :2, :2], spot) + world[:, :2, 2]
        determinant = np.linalg.det(here[:, :2, :2])
        back = np.linalg.inv(np.where(np.abs(determinant)[:, None, None] > 1e-12, here, np.eye(3)))
        return np.asarray(np.einsum("nij,nj->ni", back[:, :2, :2], scene) + back[:, :2, 2] + off)

    def fading(self, born: Floats) -> Callable[[Integers, Floats], Floats]:
        """Colours (m, 4) of things at a share of their lives."""
        one, other = (np.array(self.number(name, born)) for name in ("burst_colour", "burst_colour_end"))
        fade = np.array(self.number("burst_fade", born)[:, 0])
        # Mostly all have the same colours, or one for good: then few have to be taken into another space.
        alike = len(born) > 0 and bool((one == one[0]).all() and (other == other[0]).all())
        steady = alike and bool((one[0] == other[0]).all())

        def faded(which: Integers, share: Floats) -> Floats:
            if steady:
                out = np.repeat(one[:1], len(which), axis=0)
            elif alike:
                out = np.array(blend(one[:1], other[:1], share))
            else:
                out = np.array(blend(one[which], other[which], share))
            with np.errstate(divide="ignore", invalid="ignore"):
                left = np.where(fade[which] > 0, np.clip((1 - share) / fade[which], 0, 1), 1.0)
            out[:, 3] *= left
            return out

        return faded

    def dots(self, born: Floats, life: Floats, grown: Grown) -> Dots:
        art = self.layer.artwork
        dies = born + life * FLICKS
        return Dots(art.kind, self.inner, born, dies, grown, getattr(art, "sides", 0), getattr(art, "shaped", None))


def _rings(art: Rings, now: _Now) -> Dots:
    longest = _longest(now)
    born, strength = now.bursts(*now.window(longest))
    life = now.number("burst_life", born)[:, 0]
    spots, faded = now.spots(born, np.zeros(len(born))), now.fading(born)
    ends = {
        name: [np.array(now.number(each, born)[:, 0]) for each in (name, f"{name}_end")]
        for name in ("ring_radius", "ring_width", "ring_soft")
    }

    def grown(which: Integers, _age: Floats, share: Floats) -> Floats:
        gone = _eased(art.ease, art.strength, share)
        sizes = [
            np.maximum(0.0, one[which] + (other[which] - one[which]) * gone) * strength[which]
            for one, other in ends.values()
        ]
        return np.column_stack([spots[which], *sizes, faded(which, share)])

    return now.dots(born, life, grown)


def _longest(now: _Now) -> float:
    """The longest life there may be, in seconds."""
    track = now.layer.tracks.get("burst_life")
    if "burst_life" not in now.of.driven:
        return float(resting_samples(now.layer, "burst_life")[0, 0])
    if track is not None and track.keys and "burst_life" not in now.layer.links:
        return float(np.max(track.curve.control_measures()))
    return float(np.max(now.number("burst_life", now.inner)))


@lru_cache(maxsize=64)
def _unit(name: str, strength: float) -> NumberTrack:
    """An ease as a lane from 0 to 1 over a second."""
    leaving, arriving = sides(ease_named(name), strength, 1.0)
    steps = Steps(count=4) if name == "steps" else None
    first = NumberKey(time=0, value=0.0, leaving=leaving, hold=name == "hold", steps=steps)
    return NumberTrack(value=0.0, keys=(first, NumberKey(time=FLICKS, value=1.0, arriving=arriving)))


def _eased(ease: str, strength: float, share: Floats) -> Floats:
    return _unit(ease, strength).curve.at(share * FLICKS)


def _particles(art: Particles, now: _Now) -> Dots:
    longest = _longest(now)
    born = _all_born(art, now, longest)
    life = now.number("burst_life", born.time)[:, 0]

    def number(name: str) -> Floats:
        return np.array(now.number(name, born.time)[:, 0])

    way = number("burst_direction") + (chance(art.seed, born.number, _SPREAD) - 0.5) * number("burst_spread")
    speed = number("burst_speed") * (1 + number("burst_varied") * (2 * chance(art.seed, born.number, _SPEED) - 1))
    speed = speed * born.strength
    vx, vy = speed * np.cos(np.radians(way)), speed * np.sin(np.radians(way))
    spots, faded = now.spots(born.time, chance(art.seed, born.number, _ALONG)), now.fading(born.time)
    gravity, drag, spin = number("burst_gravity"), number("burst_drag"), number("burst_spin")
    one, other = number("burst_size"), number("burst_size_end")
    first_turn = 360 * chance(art.seed, born.number, _TURN)

    def grown(which: Integers, age: Floats, share: Floats) -> Floats:
        gone = np.stack(thrown(age, vx[which], vy[which], gravity[which], drag[which]), axis=1)
        spot = np.clip(spots[which] + gone, -1e6, 1e6)
        size = one[which] + (other[which] - one[which]) * share
        turn = first_turn[which] + spin[which] * age
        return np.column_stack([spot, size, turn, np.zeros(len(which)), faded(which, share)])

    return now.dots(born.time, life, grown)


def _all_born(art: Particles, now: _Now, longest: float) -> _Born:
    """Those of the stream and those of the bursts, in the order of their birth."""
    first, last = now.window(longest)
    streams = _stream(art, now, first, last)
    times, strength = now.bursts(first, last)
    counts = np.minimum(np.round(now.number("burst_count", times)[:, 0] * strength).astype(np.int64), 5_000)
    within = np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts)
    # By when it is, so that a burst that comes before it does not make another one of it.
    told = np.repeat(np.abs(times).astype(np.uint64) // np.uint64(1000), counts)
    number = np.uint64(OF_BURST) * (told + np.uint64(1)) + within.astype(np.uint64)
    time = np.concatenate([streams[0], np.repeat(times, counts)])
    strong = np.concatenate([np.ones(len(streams[0])), np.repeat(strength, counts)])
    numbers = np.concatenate([streams[1], number])
    order = np.argsort(time, kind="stable")
    if len(order) > limits.MAX_BORN:
        order = order[-limits.MAX_BORN :]
    return _Born(time[order], strong[order], numbers[order])


def _stream(art: Particles, now: _Now, first: float, last: float) -> tuple[Floats, Numbers]:
    """When those of the rate are born, in flicks, and their numbers: each time it has added up to one more."""
    begins = now.layer.start - art.ahead * FLICKS
    stop = last if now.layer.end is None else min(last, float(now.layer.end))
    nothing = np.empty(0), np.empty(0, np.uint64)
    if stop < begins:
        return nothing
    if "burst_rate" not in now.of.driven:
        rate = float(resting_samples(now.layer, "burst_rate")[0, 0])
        if rate <= 0:
            return nothing
        low = max(0, int(np.floor((first - begins) / FLICKS * rate)))
        high = int(np.floor((stop - begins) / FLICKS * rate))
        count = min(high - low + 1, limits.MAX_BORN)
        number = np.arange(high - count + 1, high + 1) if count > 0 else np.empty(0, np.int64)
        time = begins + number / rate * FLICKS
        if art.repeats > 0:
            # The same ones come again: numbered by where in a turn they are born.
            number = number % max(1, round(rate * art.repeats))
        return time, number.astype(np.uint64)
    steps = min(int(np.ceil((stop - begins) / FLICKS / STEP)) + 1, 500_000)
    grid = np.asarray(begins + np.arange(steps) * STEP * FLICKS, np.float64)
    rates = np.maximum(now.number("burst_rate", grid)[:, 0], 0.0)
    added = np.concatenate(([0.0], np.cumsum((rates[1:] + rates[:-1]) / 2 * STEP)))
    count = int(min(np.floor(added[-1] + 1e-9), 4 * limits.MAX_BORN))
    number = np.arange(1, count + 1)
    time = np.interp(number, added, grid)
    kept = (time >= first) & (time <= stop)
    if art.repeats > 0:
        place = np.round((time - begins) / FLICKS % art.repeats * 1e4)
        return time[kept], place[kept].astype(np.uint64)
    return time[kept], number[kept].astype(np.uint64)


def outline_layer(layers: dict[str, Layer], layer: Layer) -> Layer | None:
    """The layer on whose outline things are born, where it has one."""
    art = layer.artwork
    if not isinstance(art, Bursts) or art.emits != "outline" or art.source is None:
        return None
    found = layers.get(art.source)
    return found if found is not None and isinstance(found.artwork, Painted) else None


__all__ = ["BURST", "Bursting", "burst_times", "outline_layer"]
