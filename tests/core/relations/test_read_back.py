"""What properties follow and answer comes back from where it was kept, of the artwork's numbers as of all others."""

import pytest

from deftarc.core.document.effects import EFFECTS
from deftarc.core.edit import apply
from deftarc.core.edit.later import StretchLayers
from deftarc.core.edit.links import LinkLanes, SourceAsked
from deftarc.core.edit.react import React
from deftarc.formats.archive import read_document
from deftarc.store.parts import PartIndex
from deftarc.store.reading_parts import Reading
from tests.core.relations.test_reactions import ball, lanes
from tests.scenes import at, layer, project

SCENE = {"scene": "crossing"}


@pytest.mark.parametrize("name", ["width", "opacity", "effect/mist/blur_radius", "stretch"])
@pytest.mark.parametrize("kind", ["link", "reaction"])
def test_of_any_number_it_is_read_back(name, kind):
    line = layer("Line").changed(effects=(EFFECTS["blur"](id="mist"),))
    before = apply(project(ball(), line), StretchLayers(**SCENE, layers=("line",)))
    if kind == "link":
        edit = LinkLanes(**SCENE, lanes=lanes(("line", name)), to=SourceAsked(layer="ball", what="rotation"))
    else:
        pulse = {"attack": at(1), "release": at(5), "amount": 0.1}
        to = SourceAsked(layer="ball", what="position")
        edit = React(**SCENE, lanes=lanes(("line", name)), to=to, pulse=pulse)
    after = apply(before, edit)
    assert name in (*after.scenes[0].layer("line").links, *after.scenes[0].layer("line").reactions)
    written = PartIndex().write(after)
    assert Reading(PartIndex(), written.bodies.__getitem__).project(written.root) == after
    assert read_document(after.model_dump_json(exclude_defaults=True).encode()) == after
