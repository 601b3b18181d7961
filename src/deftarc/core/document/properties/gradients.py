"""The numbers of gradients, each under the paint it is of, and of their stops."""

from dataclasses import replace

from deftarc.core.document.properties.property import PROPERTIES, Property

_END = Property("", "", "px", (0.0,), owner="gradient", drives="paint", page="look")
_STOP = replace(_END, owner="stop", unit="%", factor=100.0)

for facts in (
    replace(_END, id="gradient_x1", label="Gradient from x", row="From", field="x1"),
    replace(_END, id="gradient_y1", label="Gradient from y", beside="gradient_x1", field="y1"),
    replace(_END, id="gradient_x2", label="Gradient to x", row="To", field="x2"),
    replace(_END, id="gradient_y2", label="Gradient to y", beside="gradient_x2", field="y2"),
    replace(_STOP, id="stop_at", label="Stop", low=0.0, high=1.0, row="At", field="at", step=0.5),
    replace(_STOP, id="stop_colour", label="Stop colour", unit="", default=(0.0, 0.0, 0.0, 1.0), speed="%/s",
            kind="colour", row="Colour", field="colour"),
):  # fmt: skip
    PROPERTIES.add(facts)
