"""How layers go: where they are in some axes over time, how fast and which way, how far by then, and the stretch of it.

All of it is asked of places at other moments, so it holds for whatever moves a layer: keys, links, carriers, clocks.
"""

from dataclasses import dataclass

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.time import FLICKS
from deftarc.core.document.links import Later
from deftarc.core.evaluate.source import PLACED, Node, Path, Read, Source

#: Speeds are read from three moments, this far from each other, in flicks: a thousandth of a second.
NEAR = FLICKS // 1000
#: Distances gone are added up in steps of so many flicks, 240 a second; beyond an hour nothing is added.
STEP, HOUR = FLICKS // 240, 3600 * FLICKS
#: Slower than this, in px a second, is at rest: then the way it came by counts, or else the one it will take.
REST = 1e-3
#: How far back, then on, a way is looked for, in flicks.
LOOKS = tuple(FLICKS // 100 * 2**n for n in range(14))


@dataclass(frozen=True)
class Carrying:
    """What brings a layer's own px into the scene: its carrier, followed at once or later."""

    carrier: Path | None
    later: Later | None = None

    @property
    def node(self) -> Node | None:
        return None if self.carrier is None else Node(self.carrier, PLACED)

    def needs(self) -> tuple[Node, ...]:
        return () if self.node is None else (self.node,)

    def together(self) -> tuple[Node, ...]:
        return () if self.later is not None else self.needs()

    def matrices(self, times: Floats, read: Read) -> Floats | None:
        """The matrices (n or 1, 3, 3) that carry it; None where nothing does.

        Where place, turn and size come at different times they are taken apart: the place of the carrier's pivot,
        its turn, and what is left, its sizes and skew.
        """
        node = self.node
        if node is None:
            return None
        if self.later is None or self.later.as_one:
            lag = 0 if self.later is None else self.later.position
            world: Floats = read(node, times - lag if lag else times).world
            return world
        placed = [read(node, times - lag) for lag in (self.later.position, self.later.rotation, self.later.scale)]
        at, turning, sizing = (each.world for each in placed)
        pivot = placed[0].own.pivot
        spot = np.einsum("nij,nj->ni", *_alike(at[:, :2, :2], pivot)) + at[:, :2, 2]
        angle = np.arctan2(turning[:, 1, 0], turning[:, 0, 0])
        size = np.arctan2(sizing[:, 1, 0], sizing[:, 0, 0])
        count = max(len(spot), len(angle), len(sizing))
        turn = np.broadcast_to(angle, (count,)) - np.broadcast_to(size, (count,))
        out = np.zeros((count, 3, 3))
        cos, sin = np.cos(turn), np.sin(turn)
        rotation = np.stack([np.stack([cos, -sin], 1), np.stack([sin, cos], 1)], 1)
        out[:, :2, :2] = rotation @ np.broadcast_to(sizing[:, :2, :2], (count, 2, 2))
        out[:, :2, 2] = spot - np.einsum("nij,nj->ni", *_alike(out[:, :2, :2], pivot))
        out[:, 2, 2] = 1.0
        return out


def _alike(one: Floats, other: Floats) -> tuple[Floats, Floats]:
    """Two rows of things with as many of each."""
    count = max(len(one), len(other))
    return np.broadcast_to(one, (count, *one.shape[1:])), np.broadcast_to(other, (count, *other.shape[1:]))


@dataclass(frozen=True)
class Spot(Source):
    """A layer's position in its carrier's px, (n or 1, 2), whichever way its axes are kept."""

    nodes: tuple[Node, ...]

    def needs(self) -> tuple[Node, ...]:
        return self.nodes

    def sample(self, times: Floats, read: Read) -> Floats:
        rows = [read(node, times) for node in self.nodes]
        return rows[0] if len(rows) == 1 else np.concatenate(np.broadcast_arrays(*rows), axis=1)


@dataclass(frozen=True)
class Seen(Source):
    """A layer's position in the scene's px, (n or 1, 2)."""

    spot: Node
    carrying: Carrying

    def needs(self) -> tuple[Node, ...]:
        return (self.spot, *self.carrying.needs())

    def together(self) -> tuple[Node, ...]:
        return (self.spot, *self.carrying.together())

    def sample(self, times: Floats, read: Read) -> Floats:
        spots: Floats = read(self.spot, times)
        matrices = self.carrying.matrices(times, read)
        return spots if matrices is None else through(matrices, spots)


def through(matrices: Floats, spots: Floats) -> Floats:
    """Places (n or 1, 2) through matrices (n or 1, 3, 3)."""
    linear, at = _alike(matrices[:, :2, :2], spots)
    return np.asarray(np.einsum("nij,nj->ni", linear, at) + matrices[:, :2, 2])


def back_through(matrices: Floats, spots: Floats) -> Floats:
    """Places taken back through matrices; 0, 0 where one has no way back."""
    linear, at = _alike(matrices[:, :2, :2], spots - matrices[:, :2, 2])
    a, b, c, d = linear[:, 0, 0], linear[:, 0, 1], linear[:, 1, 0], linear[:, 1, 1]
    det = a * d - b * c
    sound = np.abs(det) > 1e-12
    over = np.where(sound, 1.0 / np.where(sound, det, 1.0), 0.0)
    return np.stack([(d * at[:, 0] - b * at[:, 1]) * over, (a * at[:, 1] - c * at[:, 0]) * over], axis=1)


@dataclass(frozen=True)
class Along(Source):
    """A layer's position along its own turned axes, (n or 1, 2)."""

    spot: Node
    turned: Node

    def needs(self) -> tuple[Node, ...]:
        return self.spot, self.turned

    def sample(self, times: Floats, read: Read) -> Floats:
        spots, turned = _alike(read(self.spot, times), read(self.turned, times))
        angle = -np.deg2rad(turned[:, 0])
        cos, sin = np.cos(angle), np.sin(angle)
        return np.stack([cos * spots[:, 0] - sin * spots[:, 1], sin * spots[:, 0] + cos * spots[:, 1]], axis=1)


def change(node: Node, times: Floats, read: Read) -> Floats:
    """How fast a node's numbers change just after some moments, in its unit a second: (n or 1, components).

    One-sided and of second order, so that a jump at a moment is no speed:
    f' ≈ (4(f(t+h) − f(t)) − (f(t+2h) − f(t))) / 2h.
    """
    now, soon, then = (read(node, times + n * NEAR if n else times) for n in range(3))
    return np.asarray((4 * (soon - now) - (then - now)) * (FLICKS / (2 * NEAR)))


@dataclass(frozen=True)
class Travel(Source):
    """What comes of where a layer goes, (n or 1, 1): its speed in px a second, the direction of its travel in degrees,
    or how far it has gone by then, in px, since the scene's start.
    """

    place: Node
    what: str

    def needs(self) -> tuple[Node, ...]:
        return (self.place,)

    def sample(self, times: Floats, read: Read) -> Floats:
        if self.what == "gone":
            return _gone(self.place, times, read)[:, None]
        velocity = change(self.place, times, read)
        if self.what == "speed":
            return np.hypot(velocity[:, 0], velocity[:, 1])[:, None]
        return _direction(self.place, times, read, velocity)[:, None]


def _direction(place: Node, times: Floats, read: Read, velocity: Floats) -> Floats:
    """Degrees (n,) clockwise from the x axis; at rest those of the way it came by, or else will take."""
    velocity = np.array(np.broadcast_to(velocity, (len(times), 2)))
    still = np.flatnonzero(np.hypot(velocity[:, 0], velocity[:, 1]) < REST)
    for sign in (1, -1):
        for look in LOOKS:
            if not len(still):
                break
            at = times[still]
            way = (read(place, at) - read(place, at - sign * look)) * sign
            way = np.broadcast_to(way, (len(still), 2))
            went = np.hypot(way[:, 0], way[:, 1]) > REST * look / FLICKS
            velocity[still[went]] = way[went]
            still = still[~went]
    velocity[still] = 0.0
    return np.asarray(np.rad2deg(np.arctan2(velocity[:, 1], velocity[:, 0])))


def _gone(place: Node, times: Floats, read: Read) -> Floats:
    """Px (n,) gone since the scene's start; before it, below 0."""
    at = np.clip(times, -HOUR, HOUR)
    steps = np.floor(at / STEP).astype(np.int64)
    low, high = min(int(steps.min(initial=0)), 0), max(int(steps.max(initial=0)), 0)
    grid = np.arange(low, high + 1, dtype=np.float64) * STEP
    spots = np.broadcast_to(read(place, grid), (len(grid), 2))
    summed = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(spots, axis=0).T))))
    summed = summed - summed[-low]
    rest = np.broadcast_to(read(place, at), (len(at), 2)) - spots[steps - low]
    return np.asarray(summed[steps - low] + np.hypot(rest[:, 0], rest[:, 1]))


@dataclass(frozen=True)
class Turning(Source):
    """How fast a layer turns, in degrees a second, (n or 1, 1)."""

    turned: Node

    def needs(self) -> tuple[Node, ...]:
        return (self.turned,)

    def sample(self, times: Floats, read: Read) -> Floats:
        return change(self.turned, times, read)


@dataclass(frozen=True, eq=False)
class Flying:
    """How a layer goes through the scene: its velocity (n or 1, 2) in px a second, and what carries it, linearly,
    (n or 1, 2, 2), None where nothing does.
    """

    velocity: Floats
    linear: Floats | None


@dataclass(frozen=True)
class Flight(Source):
    """A layer's velocity through the scene, evened out over a while: the mean velocity over it."""

    seen: Node
    smooth: Node
    carrying: Carrying

    def needs(self) -> tuple[Node, ...]:
        return self.seen, self.smooth, *self.carrying.needs()

    def sample(self, times: Floats, read: Read) -> Flying:
        half = np.round(read(self.smooth, times)[:, 0] * (FLICKS / 2))
        matrices = self.carrying.matrices(times, read)
        linear = None if matrices is None else matrices[:, :2, :2]
        if not half.any():
            return Flying(change(self.seen, times, read), linear)
        half = np.maximum(half, NEAR)
        way = read(self.seen, times + half) - read(self.seen, times - half)
        return Flying(way * (FLICKS / (2 * half))[:, None], linear)


def stretch(flying: Flying, amount: Floats, limit: Floats) -> Floats:
    """Matrices (n or 1, 2, 2) of determinant 1, in the px of what carries the layer: longer along its way, thinner
    across.

    ``amount`` (n or 1,) is how much longer at 1 000 px a second, as a share; ``limit`` (n or 1,) how many times as
    long it grows at most, and softly: the logarithm of the length is L·tanh(amount·speed / L), L that of the limit.
    """
    vx, vy = flying.velocity.T
    speed = np.hypot(vx, vy)
    most = np.log(np.maximum(limit, 1.0))
    asked = amount * speed / 1000.0
    longer = np.where(most > 1e-9, most * np.tanh(asked / np.maximum(most, 1e-9)), 0.0)
    count = max(len(longer), len(speed))
    along, across = np.exp(longer), np.exp(-longer)
    still = speed < 1e-9
    ux, uy = (
        np.where(still, 1.0, vx / np.where(still, 1.0, speed)),
        np.where(still, 0.0, vy / np.where(still, 1, speed)),
    )
    out = np.empty((count, 2, 2))
    out[:, 0, 0] = across + (along - across) * ux * ux
    out[:, 1, 1] = across + (along - across) * uy * uy
    out[:, 0, 1] = out[:, 1, 0] = (along - across) * ux * uy
    if flying.linear is None:
        return out
    # Told in the scene; what carries the layer turns and scales it afterwards.
    linear, scene = _alike(flying.linear, out)
    det = np.linalg.det(linear)
    sound = np.abs(det) > 1e-12
    safe = np.where(sound[:, None, None], linear, np.eye(2))
    return np.asarray(np.where(sound[:, None, None], np.linalg.solve(safe, scene @ safe), np.eye(2)))


def stretched(matrices: Floats, spots: Floats, by: Floats) -> Floats:
    """A layer's matrices (n or 1, 3, 3), standing at spots (n or 1, 2), stretched about these."""
    matrices, spots = _alike(matrices, spots)
    matrices, by = _alike(matrices, by)
    spots = np.broadcast_to(spots, (len(matrices), 2))
    out = np.array(matrices)
    out[:, :2, :2] = by @ matrices[:, :2, :2]
    out[:, :2, 2] = spots + np.einsum("nij,nj->ni", by, matrices[:, :2, 2] - spots)
    return out


__all__ = [
    "Along", "Carrying", "Flight", "Flying", "Seen", "Spot", "Travel", "Turning", "back_through", "change", "stretch",
    "stretched", "through",
]  # fmt: skip
