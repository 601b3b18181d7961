"""What takes long says how far it is, and can be stopped."""

import pytest

from deftarc.core.base.working import Stopped, Work, at_work, listening, reached, stage
from deftarc.core.document import Project
from deftarc.core.edit import EDIT, apply
from tests.large import large_scene


def test_nobody_listens_and_all_is_gone_through():
    assert list(at_work([1, 2, 3])) == [1, 2, 3]


def test_an_edit_of_many_lanes_says_how_far_it_is_and_stops_where_it_is_told_to():
    project = Project(name="Large", scenes=(large_scene(8, 5),))
    edit = EDIT.validate_python({"kind": "close_seam", "scene": "large"})
    work = Work()
    with listening(work):
        made = apply(project, edit)
    assert made != project
    assert work.share == pytest.approx(1.0)
    stopped = Work(stopped=True)
    with listening(stopped), pytest.raises(Stopped, match="Nothing was changed"):
        apply(project, EDIT.validate_python({"kind": "close_seam", "scene": "large", "how": "value"}))
    assert list(at_work([1])) == [1]


def test_stages_share_the_whole():
    work, seen = Work(), []
    with listening(work):
        for _ in at_work([1, 2]):
            with stage(0, 2):
                reached(0.5)
                seen.append(work.share)
            with stage(1, 2):
                for _ in at_work([1, 2]):
                    seen.append(work.share)
    assert seen == [0.125, 0.25, 0.375, 0.625, 0.75, 0.875]
    assert work.share == 1.0


class Watched(Work):
    """Counts how often it is asked whether it is to stop, and is to after so many times."""

    def __init__(self, most):
        super().__init__()
        self.most, self.looks = most, 0

    @property
    def stopped(self):
        self.looks += 1
        return self.looks > self.most

    @stopped.setter
    def stopped(self, given):
        assert not given


LAYERS = [f"l{n}" for n in range(12)]
HEAVY = [
    {"kind": "close_seam"},
    {"kind": "stagger", "layers": LAYERS, "far": 23_520_000, "by": "step"},
    {"kind": "reverse_keys"},
    {"kind": "ease_keys", "ease": "slow-ends"},
    {"kind": "choose_joint", "joint": "automatic"},
    {"kind": "type_side", "side": "leaving", "reach": "2f"},
    {"kind": "bend_keys", "to": "straight"},
    {"kind": "reduce_keys", "tolerance": 100},
    {"kind": "set_parent", "layers": LAYERS[1:], "parent": "l0", "time": 0},
    {"kind": "group_layers", "layers": LAYERS, "time": 0},
    {"kind": "chain_layers", "layers": LAYERS, "lag": 0, "time": 0},
    {"kind": "copies_of", "layers": ["l0"], "often": 12, "phase": 0.1},
    {"kind": "clear_motion", "layers": LAYERS, "time": 0},
    {"kind": "copy_numbers", "source": "l0", "layers": LAYERS, "time": 0},
    {"kind": "move_layers", "layers": LAYERS, "dx": 4, "dy": 2, "time": 0},
]


@pytest.mark.parametrize("fields", HEAVY, ids=lambda fields: fields["kind"])
def test_what_takes_long_with_much_reports_and_can_be_stopped_in_the_midst(fields):
    made = Project(name="Large", scenes=(large_scene(12, 6),))
    if "keys" not in fields and "layers" not in fields and fields["kind"] != "close_seam":
        here = made.scenes[0]
        keys = [{"layer": each.id, "property": "rotation", "time": time} for each in here.layers
                for time in each.track("rotation").key_times]  # fmt: skip
        fields = {**fields, "keys": keys}
    edit = EDIT.validate_python({"scene": "large", **fields})
    whole = Watched(10**9)
    with listening(whole):
        apply(made.changed(), edit)
    assert whole.looks > 20
    assert whole.share == pytest.approx(1.0)
    with listening(Watched(whole.looks // 3)), pytest.raises(Stopped):
        apply(made.changed(), edit)
