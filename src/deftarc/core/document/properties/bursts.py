"""The numbers of rings and particles. What a thing is born with it keeps: its numbers are those of its birth."""

from dataclasses import replace

from deftarc.core.document.properties.property import PROPERTIES, Property

_BURST = Property("", "", "px", (0.0,), owner="artwork", drives="burst", page="look")
_PX = replace(_BURST, low=0.0, high=20_000, step=0.5)
_SHARE = replace(_BURST, unit="%", factor=100.0, low=0.0, high=1.0, step=0.5)
_COLOUR = replace(_BURST, unit="", default=(1.0, 1.0, 1.0, 1.0), factor=100.0, speed="%/s", kind="colour")

for facts in (
    # Each key is a burst, and its value how strong.
    replace(_SHARE, id="burst", label="Burst", default=(1.0,), high=100.0, row="Burst"),
    replace(_PX, id="ring_radius", label="Radius at first", row="Radius"),
    replace(_PX, id="ring_radius_end", label="Radius in the end", beside="ring_radius"),
    replace(_PX, id="ring_width", label="Width at first", row="Width"),
    replace(_PX, id="ring_width_end", label="Width in the end", beside="ring_width"),
    replace(_PX, id="ring_soft", label="Softness at first", row="Softness", step=0.25),
    replace(_PX, id="ring_soft_end", label="Softness in the end", beside="ring_soft", step=0.25),
    replace(_BURST, id="burst_count", label="How many", unit="", low=0.0, high=5_000, row="How many", decimals=0,
            step=0.25, speed="/s"),
    replace(_BURST, id="burst_rate", label="Rate", unit="/s", low=0.0, high=5_000, row="Rate", step=0.25, speed="/s²"),
    replace(_BURST, id="burst_direction", label="Direction", unit="°", row="Direction", step=0.5,
            traits=frozenset(("turning",))),
    replace(_BURST, id="burst_spread", label="Spread", unit="°", low=0.0, high=360, row="Spread", step=0.5),
    replace(_BURST, id="burst_speed", label="Speed", unit="px/s", row="Speed", low=-20_000, high=20_000, speed="px/s²"),
    replace(_SHARE, id="burst_varied", label="Speed varied by", row="Varied"),
    replace(_BURST, id="burst_gravity", label="Gravity", unit="px/s²", row="Gravity", low=-20_000, high=20_000,
            speed="px/s³"),
    replace(_BURST, id="burst_drag", label="Drag", unit="/s", low=0.0, high=100, row="Drag", decimals=2, step=0.01,
            speed="/s²"),
    replace(_PX, id="burst_size", label="Size at first", row="Size"),
    replace(_PX, id="burst_size_end", label="Size in the end", beside="burst_size"),
    replace(_BURST, id="burst_spin", label="Turning", unit="°/s", row="Turning", low=-100_000, high=100_000,
            speed="°/s²"),
    replace(_PX, id="burst_wide", label="Length of the line", row="Line"),
    replace(_BURST, id="burst_life", label="Life", unit="s", default=(1.0,), low=0.01, high=600, row="Life", decimals=2,
            step=0.01),
    replace(_COLOUR, id="burst_colour", label="Colour at first", row="Colour"),
    replace(_COLOUR, id="burst_colour_end", label="Colour in the end", row="In the end"),
    replace(_SHARE, id="burst_fade", label="Fades over the last", row="Fades"),
    replace(_BURST, id="burst_off_x", label="Off by x", row="Off by"),
    replace(_BURST, id="burst_off_y", label="Off by y", beside="burst_off_x"),
):  # fmt: skip
    PROPERTIES.add(facts)
