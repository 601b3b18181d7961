"""What changes touch, and which of them can be made one on top of the other."""

import pytest

from deftarc.core.arrange.apart import stand_apart, touched
from deftarc.core.edit import EDIT, apply
from tests.scenes import gull, layer, project


def made(before, kind, **fields):
    return apply(before, EDIT.validate_python({"kind": kind, "scene": "crossing", **fields}))


NAME = {"kind": "describe_layers", "layers": ["gull"], "name": "Bird"}


@pytest.mark.parametrize(
    ("one", "other", "apart"),
    [
        (NAME, {"kind": "describe_layers", "layers": ["ferry"], "name": "Boat"}, True),
        (NAME, {"kind": "describe_layers", "layers": ["gull"], "hidden": True}, False),
        (NAME, {"kind": "delete_layers", "layers": ["gull"]}, False),
        (NAME, {"kind": "set_guides", "guides": [{"axis": "x", "at": 4}]}, True),
        (NAME, {"kind": "delete_scene"}, False),
        ({"kind": "set_guides", "locked": True}, {"kind": "set_play_range", "start": 28_224_000}, True),
        ({"kind": "order_layers", "layers": ["gull"], "place": 1}, NAME, True),
        ({"kind": "rename_scene", "name": "Morning"}, {"kind": "rename_scene", "name": "Evening"}, False),
    ],
)
def test_two_changes_of_one_document(one, other, apart):
    before = made(project(gull(), layer("Ferry")), "duplicate_scene", id="second")

    def parts(fields):
        fields = dict(fields)
        if fields["kind"] == "order_layers":
            scene = before.scenes[0]
            after = before.with_scene(scene.changed(layers=tuple(reversed(scene.layers))))
        else:
            after = made(before, fields.pop("kind"), **fields)
        return touched(before, after)

    assert touched(before, before) == frozenset()
    assert stand_apart(parts(one), parts(other)) is apart
    assert stand_apart(parts(other), parts(one)) is apart
