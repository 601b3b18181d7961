"""Where a layer is, whether its position is a path or two numbers: one way to change, shift and carry it through."""

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import apply
from deftarc.core.changes.deviation import greatest, knots_of, sampled_times, steep
from deftarc.core.changes.keys import change_value, multiplied, shifted
from deftarc.core.changes.rebuild import from_key_to_key
from deftarc.core.changes.split import retraced
from deftarc.core.curves.sides import Side
from deftarc.core.document import Layer
from deftarc.core.document.track import PathTrack
from deftarc.core.spaces.bends import through_matrix, with_own_handles

AXES = ("position_x", "position_y")
#: Px that a way may be off before it is keyed anew, and afterwards.
EXACT, KEYED_ANEW = 1e-3, 0.05


def with_spot(layer: Layer, time: int, spot: tuple[float, float], keying: bool, half: int = 0) -> Layer:
    """A layer put at a spot at a time, as any value is changed; of split axes only what differs."""
    if not layer.axes_split:
        return layer.with_track("position", change_value(layer.position, time, spot, keying, half))
    for name, number in zip(AXES, spot, strict=True):
        track = layer.number(name)
        if abs(track.value_at(time) - number) > 1e-9 or (track.loose is not None and track.loose.time == time):
            layer = layer.with_track(name, change_value(track, time, (number,), keying, half))
    return layer


def shifted_spots(layer: Layer, by: tuple[float, float]) -> Layer:
    """The whole motion moved; no key is added."""
    if not layer.axes_split:
        return layer.with_track("position", shifted(layer.position, by))
    for name, step in zip(AXES, by, strict=True):
        layer = layer.with_track(name, shifted(layer.number(name), (step,)))
    return layer


def spots_through(layer: Layer, matrix: Floats, frame: int) -> Layer:
    """The whole motion through an affine matrix. Split axes go through one that does not mix them.

    Where a bent way is squeezed or skewed, its lengths change from place to place, and with them when it is where:
    then it is keyed anew, off by ``KEYED_ANEW`` px at most. ``frame`` in flicks.
    """
    if not layer.axes_split:
        way = path_through(layer.position, matrix)
        if len(way.keys) > 1 and not _even(matrix):
            way = _kept(layer.position, way, matrix, frame)
        return layer.with_track("position", way)
    size = float(np.abs(matrix[:2, :2]).max())
    if max(abs(matrix[0, 1]), abs(matrix[1, 0])) > 1e-9 * size and any(layer.number(name).keys for name in AXES):
        raise Refusal(
            f"{layer.name} moves by x and y on their own, and would be turned here, which mixes them. "
            "Combine its axes as a path first."
        )
    here = apply(matrix, np.array([[layer.number(name).value for name in AXES]]))[0]
    for k, name in enumerate(AXES):
        track = layer.number(name)
        if track.keys or track.loose is not None:
            track = shifted(multiplied(track, float(matrix[k, k])), (float(matrix[k, 2]),))
        layer = layer.with_track(name, track if track.keys else track.changed(value=float(here[k])))
    return layer


def _even(matrix: Floats) -> bool:
    """Whether a matrix turns and scales alike in all directions."""
    a, b, c, d = (float(matrix[k]) for k in ((0, 0), (0, 1), (1, 0), (1, 1)))
    size = a * a + c * c
    return abs(a * b + c * d) < 1e-9 * size and abs(size - b * b - d * d) < 1e-9 * size


def _kept(track: PathTrack, made: PathTrack, matrix: Floats, frame: int) -> PathTrack:
    """A way taken through a matrix, keyed anew where it would be elsewhere at some time."""
    # What goes on beyond the keys goes through with them; what is compared is the motion from key to key.
    bare, over = from_key_to_key(track), from_key_to_key(made)
    motion = lambda times: apply(matrix, bare.positions(times))  # noqa: E731
    knots = knots_of(bare)
    looks = [steep(bare)]
    off, _ = greatest(motion, over.positions, {*knots, *knots_of(over)}, [*looks, steep(over)])
    if off <= EXACT:
        return made
    anew = retraced(motion, sampled_times(knots, frame), knots, frame, KEYED_ANEW, looks)
    if anew is None:
        raise Refusal("This way cannot be carried through so uneven a change. Take the scale or skew out first.")
    return anew.changed(value=made.value, loose=made.loose, rounded=track.rounded, before=made.before, after=made.after)


def path_through(track: PathTrack, matrix: Floats) -> PathTrack:
    """A position's whole motion through an affine matrix: its path, its resting value; rises scale with lengths."""

    def moved(spot: tuple[float, float]) -> tuple[float, float]:
        x, y = apply(matrix, np.array([spot]))[0]
        return float(x), float(y)

    loose = track.loose.changed(value=moved(track.loose.value)) if track.loose else None
    # What an automatic point works out is turned and scaled with the rest, but not squeezed or skewed.
    row = track.points if _even(matrix) else with_own_handles(track.points, range(len(track.points)), track.closed)
    points = tuple(through_matrix(point, matrix) for point in row)
    goes_on = track.going_on(lambda spot: moved((spot[0], spot[1])))
    made = track.changed(value=moved(track.value), points=points, loose=loose, **goes_on)
    if not track.keys:
        return made
    before, after = np.diff(track.measures()), np.diff(made.measures())
    even = float(np.sqrt(abs(np.linalg.det(matrix[:2, :2]))))

    def side(told: Side | None, segment: int) -> Side | None:
        if told is None or not 0 <= segment < len(before):
            return told
        factor = after[segment] / before[segment] if abs(before[segment]) > 1e-9 else even
        return Side(reach=told.reach, rise=told.rise * float(factor))

    keys = tuple(
        key.changed(leaving=side(key.leaving, k), arriving=side(key.arriving, k - 1), past=key.past * even)
        for k, key in enumerate(made.keys)
    )
    return made.changed(keys=keys)
