"""Random curves and paths for property tests: keys at whole frames, sides of any shape, steps, all joints."""

import numpy as np
from hypothesis import assume
from hypothesis import strategies as st

from deftarc.core.changes.keys import mended
from deftarc.core.curves.sides import Automatic, Steps
from deftarc.core.document.keys import NumberKey, PathKey
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.spaces.points import PathPoint, point_at
from tests.scenes import at, side

SIDES = st.none() | st.builds(side, st.floats(0.05, 1.0), st.floats(-300, 300))
STEPS = st.none() | st.builds(Steps, count=st.integers(2, 5), jump=st.sampled_from(["start", "end", "none", "both"]))
AUTO = st.builds(Automatic, tension=st.floats(-1, 1), continuity=st.floats(-1, 1), bias=st.floats(-1, 1))


@st.composite
def shapes(draw, joints=("corner", "smooth", "automatic")):
    joint = draw(st.sampled_from(joints))
    return {
        "arriving": draw(SIDES), "leaving": draw(SIDES), "steps": draw(STEPS), "joint": joint,
        "automatic": draw(AUTO) if joint == "automatic" else None,
    }  # fmt: skip


def sound(kind, **fields):
    """A model of these fields, where they make one; else no example."""
    try:
        return kind(**fields)
    except ValueError:
        assume(False)


@st.composite
def curves(draw, least=2, most=6, joints=("corner", "smooth", "automatic")):
    """A number's track of some keys within 60 frames."""
    frames = sorted(draw(st.sets(st.integers(0, 60), min_size=least, max_size=most)))
    keys = [NumberKey(time=at(f), value=draw(st.floats(-200, 200)), **draw(shapes(joints))) for f in frames]
    # A smooth joint has one speed: no hand makes another.
    return sound(NumberTrack, value=0.0, keys=tuple(mended(keys, range(len(keys)))))


def _point(x, y, way):
    if way is None or isinstance(way, float):
        return point_at((x, y), way)
    return PathPoint(x=x, y=y, joint="corner", arriving=way[0], leaving=way[1])


ARMS = st.tuples(st.floats(5, 90), st.floats(-90, 90))
POINTS = st.builds(
    _point,
    st.floats(-300, 300),
    st.floats(-300, 300),
    st.none() | st.floats(0.1, 1.0) | st.tuples(ARMS, ARMS),
)


@st.composite
def paths(draw):
    """A position on a path of three to six points, some of which float."""
    # None lies on the one before: from there to there is no way, and past it no direction.
    told = draw(st.lists(POINTS, min_size=3, max_size=6))
    points = tuple(point.changed(x=90.0 * n + point.x / 10) for n, point in enumerate(told))
    rests = sorted(draw(st.sets(st.integers(1, len(points) - 2))) | {0, len(points) - 1})
    frames = sorted(draw(st.sets(st.integers(0, 60), min_size=len(rests), max_size=len(rests))))
    keys = [
        PathKey(time=at(f), at=float(n), **draw(shapes(("corner", "smooth"))))
        for f, n in zip(frames, rests, strict=True)
    ]
    return sound(PathTrack, value=(0.0, 0.0), points=points, keys=tuple(mended(keys, range(len(keys)))))


def stays_on_its_way(track):
    """No example unless a position stays between its keys: past the end of a piece its path goes on otherwise."""
    if track.kind != "path":
        return
    measures = track.measures()
    times = np.array(track.key_times)
    for time, measure in track.curve.extremes():
        k = int(np.searchsorted(times, time)) - 1
        low, high = sorted(measures[k : k + 2])
        assume(low - 1e-6 <= measure <= high + 1e-6)
