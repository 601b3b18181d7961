"""What is done to an outline before it is painted: its corners rounded, grown, its line drawn in part, and dashes."""

from dataclasses import replace

from deftarc.core.document.properties.property import PROPERTIES, Property

_LINE = Property("", "", "%", (0.0,), owner="artwork", drives="line", factor=100.0, page="look", section="outline",
                 step=0.5)  # fmt: skip
_PX = replace(_LINE, drives="grown", unit="px", factor=1.0, step=0.25)

for facts in (
    replace(_LINE, id="drawn_from", label="Drawn from", low=0.0, high=1.0, row="Drawn"),
    replace(_LINE, id="drawn_to", label="Drawn to", default=(1.0,), low=0.0, high=1.0, beside="drawn_from"),
    replace(_LINE, id="drawn_shift", label="Drawn part moved on", row="Moved", low=-10_000, high=10_000),
    replace(_PX, id="grow", label="Grown by", row="Grown", low=-10_000, high=10_000),
    replace(_PX, id="rounding", label="Corners rounded", row="Rounding", low=0.0, high=10_000),
    replace(_PX, id="dash_length", label="Dash", owner="dash", drives="paint", default=(12.0,), low=0.01, high=1e7,
            row="Dash"),
):  # fmt: skip
    PROPERTIES.add(facts)
