"""The numbers of shapes, texts and free paths: what makes their outlines."""

from dataclasses import replace

from deftarc.core.base import limits
from deftarc.core.document.properties.property import PROPERTIES, Property

_SHAPE = Property("", "", "px", (100.0,), owner="artwork", drives="outline", page="look", high=limits.MAX_NUMBER)
_SIZE = replace(_SHAPE, low=0.01, traits=frozenset(("growing",)))
_COUNT = replace(
    _SHAPE, unit="", default=(5.0,), decimals=0, high=100, step=0.05, speed="/s", traits=frozenset(("whole",))
)
_SHARE = replace(_SHAPE, unit="%", default=(0.0,), factor=100.0)

for facts in (
    replace(_SIZE, id="width", label="Width", row="Size"),
    replace(_SIZE, id="height", label="Height", beside="width"),
    replace(_SHAPE, id="radius", label="Corner radius", low=0.0, row="Corners"),
    replace(_COUNT, id="sides", label="Sides", low=3, row="Sides"),
    replace(_COUNT, id="spikes", label="Points", low=2, row="Points"),
    replace(_SIZE, id="outer", label="Outer radius", row="Radius"),
    replace(_SIZE, id="inner", label="Inner radius", low=0.0, row="Inner"),
    replace(_SHARE, id="roundness", label="Roundness", low=0.0, high=1.0, row="Rounded", step=0.5),
    replace(_SHARE, id="bar_left", label="Left bar", low=0.0, high=1.0, row="Sides", step=0.25),
    replace(_SHARE, id="bar_right", label="Right bar", low=0.0, high=1.0, beside="bar_left", step=0.25),
    replace(_SHARE, id="bar_top", label="Top bar", low=0.0, high=1.0, row="Top, foot", step=0.25),
    replace(_SHARE, id="bar_bottom", label="Bottom bar", low=0.0, high=1.0, beside="bar_top", step=0.25),
    replace(_SHARE, id="outline", label="Outline", kind="outline", high=None, row="Outline"),
    replace(_SIZE, id="size", label="Size", default=(72.0,), low=0.1, high=5_000, row="Size"),
    replace(_SHARE, id="line_height", label="Line height", default=(1.2,), low=0.0, high=10, row="Lines", step=0.5),
    replace(_SHARE, id="letter_spacing", label="Letter spacing", low=-1.0, high=10, row="Letters", step=0.25),
):
    PROPERTIES.add(facts)
