"""The one builder of small test scenes, keys in frames at 25 a second unless a rate is told."""

from deftarc.core.base.time import FrameRate
from deftarc.core.curves.sides import Side
from deftarc.core.document import Layer, Project, Rectangle, Scene
from deftarc.core.document.keys import NumberKey, PathKey
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.spaces.points import point_at

RATE = FrameRate(numerator=25)
#: (frame, value) or (frame, value, {field: …}) for a key's sides, hold or joint.
KeyTold = tuple


def at(frame, rate=RATE):
    """A frame's time in flicks."""
    return round(frame * rate.flicks)


def side(reach, rise):
    return Side(reach=reach, rise=rise)


def numbers(*keys, value=0.0):
    """A number's track from (frame, value[, fields])."""
    made = [NumberKey(time=at(k[0]), value=k[1], **(k[2] if len(k) > 2 else {})) for k in keys]
    return NumberTrack(value=value, keys=tuple(made))


def positions(*keys, value=(0.0, 0.0)):
    """A position's track from (frame, (x, y)[, fields])."""
    made = [PathKey(time=at(k[0]), at=float(n), **(k[2] if len(k) > 2 else {})) for n, k in enumerate(keys)]
    return PathTrack(value=value, points=tuple(k[1] for k in keys), keys=tuple(made))


def floated():
    """A position on a bent path of three points, the middle one floating: 0 to 40 frames."""
    rows = [point_at((0, 0), 0.5), point_at((100, 80), 0.5), point_at((240, 0), 0.5)]
    keys = (PathKey(time=0, at=0.0, leaving=side(0.4, 20.0)), PathKey(time=at(40), at=2.0))
    return PathTrack(value=(0, 0), points=tuple(rows), keys=keys)


def layer(name="Gull", artwork=None, **tracks):
    """A layer named in lower case, a 100 × 60 px rectangle unless told otherwise."""
    return Layer(
        id=name.lower().replace(" ", ""),
        name=name,
        artwork=artwork or Rectangle(width=100, height=60, fill="#b23a26"),
        axes_split="position_x" in tracks,
        scale_link="free" if "scale_x" in tracks or "scale_y" in tracks else "linked",
        tracks=tracks,
    )


def scene(*layers, frames=100, rate=RATE, width=640, height=360, **fields):
    return Scene(
        id="crossing", name="Crossing", width=width, height=height, rate=rate, frames=frames, layers=layers, **fields
    )


def project(*layers, **fields):
    return Project(name="Quillhaven", scenes=(scene(*layers, **fields),))


EASED = {"leaving": side(0.42, 0.0)}, {"arriving": side(0.42, 0.0)}


def gull():
    """A layer that crosses on a straight way with slow ends, turns, and fades in with a hold."""
    return layer(
        "Gull",
        position=positions((0, (0, 0), EASED[0]), (50, (300, 400), EASED[1])),
        rotation=numbers((0, 0), (40, 90)),
        opacity=numbers((0, 0, {"hold": True}), (10, 1)),
    )
