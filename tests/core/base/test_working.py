"""What takes long says how far it is, and can be stopped."""

import pytest

from deftarc.core.base.working import Stopped, Work, at_work, listening
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
    assert work.done == work.total > 8
    stopped = Work(stopped=True)
    with listening(stopped), pytest.raises(Stopped, match="Nothing was changed"):
        apply(project, EDIT.validate_python({"kind": "close_seam", "scene": "large", "how": "value"}))
    assert list(at_work([1])) == [1]
