"""How layers are moved, as plain lanes: what each does in its carrier, and which of them stand over one another.

A layer whose numbers are its own keys leaves with these. What follows something, answers, stretches, goes by a clock or
is carried later leaves as samples of what comes of that: of each number, or of its whole matrix taken apart.
"""

from dataclasses import dataclass, replace
from functools import cached_property
from typing import TypeVar

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import compose
from deftarc.core.changes.bake import baked
from deftarc.core.document import Layer, Scene
from deftarc.core.document.links import PLACED
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.shown import shown_values
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.evaluate.asker import Asker
from deftarc.core.evaluate.clocks import clocks_of
from deftarc.core.evaluate.layers import PlacedState
from deftarc.core.plain.lanes import EVEN, Lane, eased, sampled
from deftarc.core.spaces.arc import ArcTable, arc_table
from deftarc.core.spaces.path import Path

#: How far what is kept of samples may lie from them: px of the picture, for lengths of the layer's own size.
NEAR = 0.05
#: The same of shares, of opacity say.
NEAR_SHARE = 0.2 / 255
#: A matrix with less area than this has no inverse to speak of.
FLAT = 1e-9


T = TypeVar("T", NumberTrack, PathTrack)


@dataclass(frozen=True, eq=False)
class Travel:
    """A position on a path: the spans (S, 4, 2) of one stretch of it, and the distance along them, one number."""

    spans: Floats
    distance: Lane

    @cached_property
    def table(self) -> ArcTable:
        return arc_table(self.spans, np.ones(len(self.spans), bool))

    def spots(self, distances: Floats) -> Floats:
        """Where distances (n,) along it lead, (n, 2)."""
        lengths = self.table.lengths
        span = np.clip(np.searchsorted(lengths, distances, side="right") - 1, 0, len(lengths) - 2)
        u = self.table.parameter(span, distances)[:, None]
        p, v = self.spans[span], 1 - u
        return np.asarray(v**3 * p[:, 0] + 3 * v * v * u * p[:, 1] + 3 * v * u * u * p[:, 2] + u**3 * p[:, 3])


@dataclass(frozen=True, eq=False)
class Level:
    """What one layer does in its carrier: T(position) · R(rotation) · K(skew) · S(scale) · T(−pivot).

    Lanes of two numbers, and of one for the rotation, in degrees. ``split`` has x and y of the position, or of the
    scale, where each goes its own way; the lane of both is then samples of them. ``travel`` is the position where that
    is a way along a path.
    """

    id: str
    name: str
    position: Lane
    rotation: Lane
    skew: Lane
    scale: Lane
    pivot: Lane
    travel: Travel | None = None
    split: dict[str, tuple[Lane, Lane]] | None = None

    @property
    def lanes(self) -> tuple[Lane, ...]:
        return self.position, self.rotation, self.skew, self.scale, self.pivot

    @cached_property
    def baked(self) -> int:
        """Keys that are samples of something the receiver does not know."""
        told = self.split or {}
        kept = {id(self.position)} if self.travel or "position" in told else set()
        kept |= {id(self.scale)} if "scale" in told else set()
        return sum(len(lane.times) for lane in self.lanes if lane.moves and not lane.exact and id(lane) not in kept)


class Levels:
    """The levels of a scene's layers, over rising ``times`` (F,) in flicks, one of which is each frame."""

    def __init__(self, scene: Scene, times: npt.NDArray[np.int64], reach: float) -> None:
        self.scene, self.times, self.at = scene, times, times.astype(np.float64)
        self.asker = Asker(scene)
        #: How large things are, px: by so much what is turned moves.
        self.reach = reach
        self._known: dict[str, Level] = {}
        self._over: dict[str, tuple[Level, ...]] = {}

    def over(self, layer: Layer) -> tuple[Level, ...]:
        """From the outermost carrier to the layer itself; together they are where it is."""
        found = self._over.get(layer.id)
        if found is not None:
            return found
        # Carriers may be many deep.
        chain = [layer, *self.scene.ancestors(layer)]
        for each in reversed(chain):
            if each.id in self._over:
                continue
            above = self._over[each.parent] if each.parent is not None else ()
            told = self.of(each)
            self._over[each.id] = (*above, told) if told is not None else (self._placed(each),)
        return self._over[layer.id]

    def of(self, layer: Layer) -> Level | None:
        """What a layer does in its carrier; None where that cannot be told apart from where it is, since it is carried
        later.
        """
        if layer.later is not None:
            return None
        found = self._known.get(layer.id)
        if found is None:
            turned = not layer.axes_split and any(name in layer.tracks for name in ("along", "lean"))
            if layer.stretches or turned:
                found = self.taken_apart(layer.id, layer.name, self.asker.own_matrices(layer, self.at))
            else:
                found = self._own(layer)
            self._known[layer.id] = found
        return found

    def _placed(self, layer: Layer) -> Level:
        placed: PlacedState = self.asker.asked(layer, PLACED, self.at)  # type: ignore[assignment]
        return self.taken_apart(layer.id, layer.name, np.broadcast_to(placed.world, (len(self.at), 3, 3)))

    def taken_apart(self, name: str, label: str, matrices: Floats) -> Level:
        """A level of matrices (F or 1, 3, 3): a turn, a slant of x and two sizes."""
        return level_of(name, label, self.at, matrices, self.reach)

    # --- a layer's own numbers ---

    def _own(self, layer: Layer) -> Level:
        split: dict[str, tuple[Lane, Lane]] = {}
        travel = None
        if layer.axes_split:
            x, y = (self.number(layer, name, NEAR / 2) for name in ("position_x", "position_y"))
            position = self._beside(layer, ("position_x", "position_y"), x, y, NEAR / 2, split, "position")
        else:
            track = layer.track("position")
            assert isinstance(track, PathTrack)
            if self._plain(layer, "position"):
                lasts, track = track.lasts, self.plainly(track)
                travel = travel_of(track)
                if travel is not None and lasts:
                    off = np.abs(travel.spots(travel.distance.at(self.at)[:, 0]) - self.values(layer, "position"))
                    travel = travel if off.max() <= NEAR else None
            position = self._position(layer, track, travel)
        far = NEAR / max(self.reach, 1.0)
        if layer.scale_link == "free":
            x, y = (self.number(layer, name, far) for name in ("scale_x", "scale_y"))
            scale = self._beside(layer, ("scale_x", "scale_y"), x, y, far, split, "scale")
        else:
            scale = self._scale(layer, far)
        x, y = (self.number(layer, name, float(np.rad2deg(far))) for name in ("skew_x", "skew_y"))
        skew = self._beside(layer, ("skew_x", "skew_y"), x, y, float(np.rad2deg(far)), None, "skew")
        x, y = (self.number(layer, name, NEAR) for name in ("pivot_x", "pivot_y"))
        pivot = self._beside(layer, ("pivot_x", "pivot_y"), x, y, NEAR, None, "pivot")
        rotation = self.number(layer, "rotation", float(np.rad2deg(far)))
        return Level(layer.id, layer.name, position, rotation, skew, scale, pivot, travel, split or None)

    def _plain(self, layer: Layer, name: str) -> bool:
        """Whether a property is its own keys and nothing else."""
        return name not in layer.links and not clocks_of(self.scene, layer)

    def plainly(self, track: T) -> T:
        """A track with what goes on before and after its keys as keys, where that is not too many."""
        # Up to the end of the last frame: it may begin where a turn ends and the next one does, too.
        end = int(self.times[-1] + self.scene.rate.flicks)
        try:
            return baked(track, int(self.times[0]), end) if track.lasts else track
        except Refusal:
            return track

    def _shows(self, layer: Layer, name: str, lane: Lane, near: float) -> bool:
        """Whether keys made of what goes on before and after others show the same at each frame: where it turns back
        in the middle of a hold they do not, at just that moment.
        """
        if not layer.track(name).lasts:
            return True
        return bool(np.all(np.abs(lane.at(self.at) - self.values(layer, name)) <= 2 * near))

    def values(self, layer: Layer, name: str) -> Floats:
        """What a property shows at the times, (F, components)."""
        return shown_values(layer, name, self.asker.values(layer, name, self.at))

    def number(self, layer: Layer, name: str, near: float) -> Lane:
        """A number as a lane of one, with its own eases where they are its own."""
        track, facts = layer.track(name), PROPERTIES[name]
        assert isinstance(track, NumberTrack)
        if self._plain(layer, name):
            if not track.keys:
                return Lane.still(float(shown_values(layer, name, np.array([[track.value]]))[0, 0]))
            track = self.plainly(track)
            if not track.evenly and not track.lasts and not facts.whole:
                times, measures, eases = eased(track.curve)
                lane = trimmed(Lane(times, measures[:, None], eases))
                if lane.within(facts.low, facts.high) and self._shows(layer, name, lane, near):
                    return lane
        return sampled(self.at, self.values(layer, name), near)

    def _beside(
        self, layer: Layer, names: tuple[str, str], x: Lane, y: Lane, near: float,
        split: "dict[str, tuple[Lane, Lane]] | None", what: str,
    ) -> Lane:  # fmt: skip
        """Two lanes as one of two numbers; where each has keys of its own, samples of both."""
        if not (x.moves and y.moves):
            moving, still = (x, y) if x.moves else (y, x)
            fixed = np.full((len(moving.rows), 1), still.value[0])
            pair = (moving.rows, fixed) if x.moves else (fixed, moving.rows)
            return replace(moving, rows=np.concatenate(pair, axis=1))
        if np.array_equal(x.times, y.times) and np.array_equal(x.eases, y.eases, equal_nan=True):
            return replace(x, rows=np.concatenate([x.rows, y.rows], axis=1), exact=x.exact and y.exact)
        if split is not None and x.exact and y.exact:
            split[what] = (x, y)
        both = np.concatenate([np.broadcast_to(self.values(layer, n), (len(self.at), 1)) for n in names], axis=1)
        return sampled(self.at, both, near)

    def _scale(self, layer: Layer, near: float) -> Lane:
        if layer.scale_link == "linked":
            lane = self.number(layer, "scale", near)
            if lane.exact and lane.rows.shape[1] == 1:
                return lane.through(np.array([[1.0, layer.scale_ratio]]))
        elif not layer.track("scale").keys and self._plain(layer, "scale"):
            return Lane.still(*(float(x) for x in self.values(layer, "scale")[0]))
        return sampled(self.at, np.broadcast_to(self.values(layer, "scale"), (len(self.at), 2)), near)

    def _position(self, layer: Layer, track: PathTrack, travel: Travel | None) -> Lane:
        if self._plain(layer, "position"):
            if not track.keys:
                return Lane.still(*track.value)
            straight = straight_of(track)
            if straight is not None and self._shows(layer, "position", straight, NEAR):
                return straight
        lane = sampled(self.at, np.broadcast_to(self.values(layer, "position"), (len(self.at), 2)), NEAR / 2)
        return replace(lane, exact=travel is not None)


def level_of(name: str, label: str, times: Floats, matrices: Floats, reach: float) -> Level:
    """A level of matrices (F or 1, 3, 3) at rising times (F,), of things up to ``reach`` px large: a turn, a slant of x
    and two sizes.
    """
    rows = apart(matrices)
    far = max(reach, 1.0)
    near = np.array([NEAR, NEAR, np.rad2deg(NEAR / far), np.rad2deg(NEAR / far), NEAR / far, NEAR / far])
    lane = Lane.still(*rows[0]) if len(rows) == 1 else sampled(times, rows, near / 2)

    def part(*which: int) -> Lane:
        return lane.through(np.eye(6)[:, which])

    skew = part(3).through(np.array([[1.0, 0.0]]))
    return Level(name, label, part(0, 1), part(2), skew, part(4, 5), Lane.still(0.0, 0.0))


def matrices_of(level: Level, times: Floats) -> Floats:
    """What a level does at times (F,), (F, 3, 3)."""

    def both(name: str, lane: Lane) -> Floats:
        told = (level.split or {}).get(name)
        return lane.at(times) if told is None else np.concatenate([each.at(times) for each in told], axis=1)

    return compose(
        both("position", level.position), level.rotation.at(times)[:, 0], both("scale", level.scale),
        level.skew.at(times), level.pivot.at(times),
    )  # fmt: skip


def apart(matrices: Floats) -> Floats:
    """Matrices (F, 3, 3) as position, a turn and a slant of x in degrees, and two sizes, (F, 6): see :class:`Level`."""
    a, b, c, d = (matrices[:, i, j] for i, j in ((0, 0), (1, 0), (0, 1), (1, 1)))
    size = np.hypot(a, b)
    area = a * d - b * c
    flat = size < FLAT
    angle = np.where(flat, np.arctan2(-c, d), np.arctan2(b, a))
    cos, sin = np.cos(angle), np.sin(angle)
    # Of R·K·S the second column, turned back: slant · sy and sy.
    slanted, tall = cos * c + sin * d, cos * d - sin * c
    tall = np.where(flat, np.hypot(c, d), np.where(size > 0, area / np.where(flat, 1.0, size), tall))
    slant = np.where(np.abs(tall) < FLAT, 0.0, slanted / np.where(np.abs(tall) < FLAT, 1.0, tall))
    turn = np.rad2deg(np.unwrap(angle))
    skew = np.rad2deg(np.arctan(slant))
    return np.stack([matrices[:, 0, 2], matrices[:, 1, 2], turn, skew, size, tall], axis=1)


def trimmed(lane: Lane) -> Lane:
    """A lane whose keys all say the same does not move."""
    if lane.moves and np.all(lane.rows == lane.rows[0]):
        flat = np.all(lane.holds | np.all(np.abs(np.nan_to_num(lane.eases)) <= 1e3, axis=1))
        if flat:
            return replace(lane, times=lane.times[:1], rows=lane.rows[:1], eases=lane.eases[:0])
    return lane


def straight_of(track: PathTrack) -> Lane | None:
    """A position that goes straight from key to key, as one lane of x and y; None where it does not."""
    path = track.path
    if track.lasts or not all(key.rests for key in track.keys):
        return None
    if len(track.keys) == 1:
        return Lane.still(*track.points[int(track.keys[0].at)].spot)
    places = np.array([key.at for key in track.keys])
    if np.any(np.diff(places) != 1) or np.any(path.bent[int(places[0]) : int(places[-1])]):
        return None
    if np.any(track.curve.measures != track.curve.measures[0]) and _passes(track):
        return None
    times, measures, eases = eased(track.curve)
    if len(times) != len(track.keys) and _swings(track):
        # A key between two others may lie past one of them, where no straight line leads.
        return None
    spots = np.array([track.points[int(at)].spot for at in places])
    lengths = path.lengths[places.astype(int)]
    if np.any(np.diff(lengths) <= 0):
        # Two points at one place: which of them a distance means is not told by it.
        if np.all(lengths == lengths[0]):
            return Lane.still(*(float(x) for x in spots[0]))
        return None
    rows = np.stack([np.interp(measures, lengths, spots[:, k]) for k in (0, 1)], axis=1)
    return Lane(times, rows, eases)


def _passes(track: PathTrack) -> bool:
    """Whether a motion goes past the ends of its segments over smooth points: then it goes on along the path, and not
    straight on.
    """
    return bool(track.path.through.any() and _swings(track))


def _swings(track: PathTrack) -> bool:
    curve = track.curve
    low, high = np.minimum(curve.measures[:-1], curve.measures[1:]), np.maximum(curve.measures[:-1], curve.measures[1:])
    one, two = curve.measures[:-1] + curve.la, curve.measures[1:] - curve.lb
    curved = ~curve.stepped
    out = (np.minimum(one, two) < low - 1e-9) | (np.maximum(one, two) > high + 1e-9)
    return bool(np.any(out & curved))


def travel_of(track: PathTrack) -> Travel | None:
    """A position that goes along its path and nowhere else; None where it is past it, or on and on."""
    if track.lasts or not track.keys or len(track.points) < 2 or not track.path.bent.any():
        return None
    path: Path = track.path
    times, measures, eases = eased(track.curve)
    lane = Lane(times, measures[:, None], eases)
    if not lane.within(0.0, float(path.lengths[-1])):
        return None
    if _swings(track) and not _all_through(track):
        return None
    return Travel(path.controls, lane)


def _all_through(track: PathTrack) -> bool:
    """Whether a motion past the end of a segment goes on along the path, wherever that is."""
    return bool(np.all(track.path.through[1:-1]))


__all__ = [
    "EVEN",
    "NEAR",
    "NEAR_SHARE",
    "Level",
    "Levels",
    "Travel",
    "apart",
    "level_of",
    "matrices_of",
    "straight_of",
    "travel_of",
    "trimmed",
]
