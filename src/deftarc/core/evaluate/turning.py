"""Turning along the path, and leaning into its curves: degrees that a layer's way adds to its rotation."""

from collections.abc import Callable

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.time import FLICKS
from deftarc.core.document.track import PathTrack

#: A curve is felt this long before and after, in seconds: so that a corner leans in and out instead of twitching.
FEEL = 0.1
#: The sideways pull, in px/s², at which a lean of 100 % is 45°.
PULL = 1000.0


def turned(track: PathTrack, times: Floats, along: Floats, lean: Floats) -> Floats:
    """Degrees (n,) at times (n,) in flicks, for shares (n or 1,) of turning along the path and of leaning.

    The lean is the angle of a body that balances the sideways pull, speed times turning speed, against PULL.
    """
    if len(track.points) < 2 or len(track.keys) < 2:
        return np.zeros(len(times))
    out = np.zeros(len(times))
    if along.any():
        out = out + along * track.headings(times)
    if lean.any():
        away = FEEL * FLICKS
        before, after = times - away, times + away
        turning = np.deg2rad(track.headings(after) - track.headings(before)) / (2 * FEEL)
        # Over a jump from turn to turn there is no speed to lean by.
        speed = track.speeds(times) if track.lasts else (track.curve.at(after) - track.curve.at(before)) / (2 * FEEL)
        out = out + lean * np.rad2deg(np.arctan2(speed * turning, PULL))
    return np.asarray(out)


def turned_by(
    heading: Callable[[Floats], Floats], speed: Callable[[Floats], Floats], times: Floats, along: Floats, lean: Floats
) -> Floats:
    """The same for what has no path of its own: by the direction in which it goes, in degrees, and by its speed."""
    out = np.zeros(len(times))
    if along.any():
        out = out + along * heading(times)
    if lean.any():
        away = FEEL * FLICKS
        # The nearer way round: directions are told within a turn.
        apart = (heading(times + away) - heading(times - away) + 180.0) % 360.0 - 180.0
        out = out + lean * np.rad2deg(np.arctan2(speed(times) * np.deg2rad(apart) / (2 * FEEL), PULL))
    return np.asarray(out)
