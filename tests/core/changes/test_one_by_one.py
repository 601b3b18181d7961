"""What is done to thousands of keys in turn is shown a part of the track for each, and comes to the same."""

import random

import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.changes import rebuild
from deftarc.core.changes.ease import with_shape
from deftarc.core.changes.keys import mended
from deftarc.core.changes.places import released
from deftarc.core.changes.rebuild import concrete, one_by_one
from deftarc.core.changes.sides import curved, speed_of, straightened, typed_reach, typed_speed, with_joint
from deftarc.core.curves.beyond import Beyond
from deftarc.core.curves.knots import Knot
from deftarc.core.curves.sides import Automatic, Side, Steps
from deftarc.core.document.keys import BlendKey, NumberKey, PathKey
from deftarc.core.document.track import ColourTrack, NumberTrack, PathTrack
from deftarc.core.spaces.points import point_at
from tests.scenes import at

COUNT = 40


def shape(rnd):
    def side():
        return None if rnd.random() < 0.3 else Side(reach=rnd.uniform(0, 1), rise=rnd.uniform(-90, 90))

    joint = rnd.choice(["corner", "smooth", "automatic", "automatic"])
    return {
        "arriving": side(), "leaving": side(), "joint": joint,
        "steps": Steps(count=3) if rnd.random() < 0.1 else None,
        "automatic": Automatic(tension=rnd.uniform(-1, 1), bias=0.3) if joint == "automatic" else None,
    }  # fmt: skip


def frames(rnd):
    return sorted(rnd.sample(range(200), COUNT))


def numbers(rnd, low=-200.0, **more):
    keys = [NumberKey(time=at(f), value=rnd.uniform(low, 200), **shape(rnd)) for f in frames(rnd)]
    if "after" in more and more["after"].how == "repeat":
        keys[-1] = keys[-1].changed(value=keys[0].value)
    return NumberTrack(value=0, keys=tuple(mended(keys, range(COUNT))), **more)


def positions(rnd, closed=False):
    points = [point_at((rnd.uniform(0, 900), rnd.uniform(0, 500)), rnd.choice([None, 0.5])) for _ in range(COUNT + 12)]
    if closed:
        points[-1] = points[0]
    places = [0, *sorted(rnd.sample(range(1, COUNT + 11), COUNT - 2)), COUNT + 11]
    keys = [
        PathKey(time=at(f), at=float(n), pace=rnd.random() < 0.2, **shape(rnd))
        for f, n in zip(frames(rnd), places, strict=True)
    ]
    return PathTrack(value=(0, 0), points=tuple(points), closed=closed, keys=tuple(mended(keys, range(COUNT))))


def colours(rnd):
    keys = [BlendKey(time=at(f), value=tuple(rnd.uniform(0, 1) for _ in range(4)), **shape(rnd)) for f in frames(rnd)]
    return ColourTrack(value=(0, 0, 0, 1), keys=tuple(mended(keys, range(COUNT))))


TRACKS = {
    "numbers": numbers,
    "kept within": lambda rnd: numbers(rnd, within=True),
    "growing evenly": lambda rnd: numbers(rnd, low=1.0, evenly=True),
    "repeating": lambda rnd: numbers(rnd, after=Beyond(how="repeat")),
    "to and fro": lambda rnd: numbers(rnd, before=Beyond(how="alternate")),
    "adding up": lambda rnd: numbers(rnd, after=Beyond(how="accumulate")),
    "positions": positions,
    "closed": lambda rnd: positions(rnd, closed=True),
    "colours": colours,
}
SHAPE = [Knot(x=0, y=0, leaving=Side(reach=0.4, rise=0.1)), Knot(x=0.4, y=0.7), Knot(x=1, y=1)]


def at_speed(part, k, which):
    try:
        return typed_speed(part, k, which, speed_of(part, k, which) * 0.5 + 20)
    except Refusal:
        return part


def at_reach(part, k, which):
    try:
        return typed_reach(part, k, which, 0.45)
    except Refusal:
        return part


CHANGES = {
    "corner": lambda part, k: with_joint(part, k, "corner"),
    "smooth": lambda part, k: with_joint(part, k, "smooth"),
    "automatic": lambda part, k: with_joint(part, k, "automatic", Automatic(tension=0.4)),
    "straight": lambda part, k: straightened(part, k),
    "straight on one side": lambda part, k: straightened(part, k, ("leaving",)),
    "curved": lambda part, k: curved(part, k),
    "speed": lambda part, k: at_speed(part, k, "leaving"),
    "speed on the way in": lambda part, k: at_speed(part, k, "arriving"),
    "reach": lambda part, k: at_reach(part, k, "leaving"),
    "released": lambda part, k: released(concrete(part, (k,)), k) if isinstance(part, PathTrack) else part,
    "with keys between": lambda part, k: with_shape(part, k, SHAPE) if k < len(part.keys) - 1 else part,
}


def as_numbers(track):
    """All of a track's keys as numbers and words, in one row."""
    rows = []
    for key in track.keys:
        sides = [n for side in (key.arriving, key.leaving) for n in ((side.reach, side.rise) if side else (-1, -1))]
        place = (key.at, key.past, key.pace) if isinstance(key, PathKey) else key.value
        rows += [key.time, *sides, *(place if isinstance(place, tuple) else (place,))]
    return rows


@pytest.mark.parametrize("kind", TRACKS)
@pytest.mark.parametrize("what", CHANGES)
def test_it_comes_to_what_the_whole_track_comes_to(what, kind):
    for seed in range(4):
        rnd = random.Random(seed)
        track, change = TRACKS[kind](rnd), CHANGES[what]
        chosen = sorted(rnd.sample(range(COUNT), 30 if seed % 2 else COUNT))[::-1]
        whole = track
        for k in chosen:
            whole = change(whole, k)
        made = one_by_one(track, chosen, change)
        assert as_numbers(made) == pytest.approx(as_numbers(whole), rel=1e-9, abs=1e-9)
        assert [key.joint for key in made.keys] == [key.joint for key in whole.keys]
        assert (made.before, made.after, made.within) == (track.before, track.after, track.within)


def test_the_parts_are_no_longer_for_longer_tracks(monkeypatch):
    seen = []
    keys = tuple(NumberKey(time=at(n), value=n % 7, joint="automatic") for n in range(2_000))

    def change(part, k):
        seen.append(len(part.keys))
        return with_joint(part, k, "smooth")

    one_by_one(NumberTrack(value=0, keys=keys), range(2_000), change)
    assert len(seen) == 2_000
    assert max(seen) == 2 * rebuild.BESIDE + 1


def test_what_cannot_be_is_refused_as_before():
    keys = tuple(NumberKey(time=at(n), value=n) for n in range(30))
    with pytest.raises(Refusal, match="between 0 and 100"):
        one_by_one(NumberTrack(value=0, keys=keys), range(29), lambda part, k: typed_reach(part, k, "leaving", 1.5))


def test_nothing_done_is_the_same_track():
    track = numbers(random.Random(1))
    assert one_by_one(track, range(COUNT), lambda part, k: part) is track
