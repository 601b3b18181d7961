"""What an artwork is painted with."""

from dataclasses import replace

from deftarc.core.document.properties.property import PROPERTIES, Property

_PAINT = Property("", "", "px", (0.0,), owner="artwork", drives="paint", page="look")
_COLOUR = replace(_PAINT, unit="", default=(0.0, 0.0, 0.0, 0.0), factor=100.0, speed="%/s", kind="colour")

for facts in (
    replace(_COLOUR, id="fill", label="Fill", row="Fill"),
    replace(
        _PAINT,
        id="filled",
        label="Filled",
        unit="%",
        default=(1.0,),
        factor=100.0,
        low=0.0,
        high=1.0,
        row="Filled",
        step=0.5,
    ),
    replace(_COLOUR, id="stroke", label="Stroke", row="Stroke"),
    replace(
        _PAINT, id="stroke_width", label="Stroke width", default=(4.0,), low=0.0, high=10_000, row="Width", step=0.25
    ),
    replace(_PAINT, id="dash_offset", label="Dash offset", row="Dashes at"),
):
    PROPERTIES.add(facts)
