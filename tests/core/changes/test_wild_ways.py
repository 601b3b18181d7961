"""Wild ways: what only the last try finds is found, what no try can find is given up, and both can be stopped."""

import random

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.base.working import Stopped, listening
from deftarc.core.changes import trace
from deftarc.core.document.artwork import Carrier
from deftarc.core.edit import EDIT, apply
from deftarc.core.spaces.points import point_at
from tests.core.base.test_working import Watched
from tests.scenes import at, layer, numbers, positions, project, side

COMBINE = EDIT.validate_python({"kind": "split_axes", "scene": "crossing", "layer": "apart", "split": False})


def axes(seed):
    """Two axes whose keys and handles are thrown by dice."""
    dice = random.Random(seed)
    size, count = 10 ** dice.uniform(1, 4), dice.randint(2, 5)

    def axis():
        return numbers(*((frame, dice.uniform(-size, size), {
            "leaving": side(dice.choice([0, 0.05, 0.4, 0.9]), dice.uniform(-size, size)),
            "arriving": side(dice.choice([0, 0.4, 0.9, 1.0]), dice.uniform(-size, size)),
        }) for frame in sorted(dice.sample(range(60), count))))  # fmt: skip

    return project(layer("Apart", position_x=axis(), position_y=axis()))


def unreachable():
    """A way with a spot that no fit reaches, and a parent that is squeezed."""
    dice = random.Random(2)

    def sides():
        return {"leaving": side(dice.choice([0.0, 1e-9, 0.05, 0.9, 1.0]), dice.uniform(-1e5, 1e5)),
                "arriving": side(dice.choice([0.0, 0.05, 0.9, 1.0]), dice.uniform(-1e5, 1e5))}  # fmt: skip

    keys = [(frame, (dice.uniform(-1e4, 1e4), dice.uniform(-1e4, 1e4)), sides()) for frame in (0, 1, 2, 5, 20)]
    way = positions(*keys)
    way = way.changed(points=tuple(point_at(point.spot, 0.7) for point in way.points))
    squeezed = {"scale_x": numbers(value=3), "scale_y": numbers(value=0.2)}
    mast = layer("Mast", Carrier(), **squeezed).changed(scale_link="free")
    return project(layer("Gull", position=way), mast)


# Their tries are off by up to thousands of px, and by more again, before one holds.
@pytest.mark.parametrize("seed", [12, 23])
def test_two_axes_are_combined_where_only_a_late_try_holds(seed):
    made = axes(seed)
    was, now = made.scenes[0].layer("apart"), apply(made, COMBINE).scenes[0].layer("apart").position
    times = np.arange(at(-1), at(61), at(1) // 7, dtype=np.float64)
    ends = [(track.key_times[0], track.key_times[-1]) for track in (was.track("position_x"), was.track("position_y"))]
    times = times[(times >= min(end[0] for end in ends)) & (times <= max(end[1] for end in ends))]
    spots = np.stack([was.track(name).motion(times)[:, 0] for name in ("position_x", "position_y")], axis=1)
    assert np.hypot(*(now.positions(times) - spots).T).max() <= 0.5


def test_a_way_that_no_path_follows_is_given_up_where_tries_change_nothing(monkeypatch):
    tries, fit = [], trace._traced
    monkeypatch.setattr(trace, "_traced", lambda *what: tries.append(1) or fit(*what))
    carry = {"kind": "set_parent", "scene": "crossing", "layers": ["gull"], "parent": "mast", "time": 0}
    with pytest.raises(Refusal, match="so uneven a change"):
        apply(unreachable(), EDIT.validate_python(carry))
    assert len(tries) == 2 * trace.STUCK


def test_what_is_fitted_reports_and_can_be_stopped_in_the_midst():
    work = Watched(60)
    with listening(work), pytest.raises(Stopped):
        apply(axes(12), COMBINE)
    assert 0 < work.share < 0.5
