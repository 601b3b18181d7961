"""Where a layer is, how it is turned, scaled and skewed, and how much of it shows."""

from dataclasses import replace

from deftarc.core.document.properties.property import PROPERTIES, Property

_SHARE = Property("", "", "%", (0.0,), factor=100.0)
_SCALE = replace(_SHARE, default=(1.0,), row="Scale", step=0.5, traits=frozenset(("growing",)))
_SKEW = Property("", "", "°", (0.0,), low=-89.0, high=89.0, row="Skew")
_ALONG = replace(_SHARE, row="Path turn", traits=frozenset(("rare",)))

for facts in (
    # What a layer shows when: its own time over the scene's. One that has no clock has none of it.
    Property("clock", "Clock", "s", (0.0,), drives="time", decimals=2, row="Clock", step=0.02, speed="× speed",
             traits=frozenset(("rare",))),
    Property("position", "Position", "px", (0.0, 0.0), components=("x", "y"), kind="path", row="Position"),
    Property("position_x", "Position x", "px", (0.0,), row="Position"),
    Property("position_y", "Position y", "px", (0.0,), beside="position_x"),
    Property("rotation", "Rotation", "°", (0.0,), row="Rotation", step=0.5, traits=frozenset(("turning",))),
    replace(_SCALE, id="scale", label="Scale", components=("x", "y")),
    replace(_SCALE, id="scale_x", label="Scale x"),
    replace(_SCALE, id="scale_y", label="Scale y", beside="scale_x"),
    replace(_SKEW, id="skew_x", label="Skew x"),
    replace(_SKEW, id="skew_y", label="Skew y", beside="skew_x"),
    # Longer along the way it goes, thinner across. A layer that does not stretch has none of it.
    Property("stretch", "Stretch", "%", (0.3,), factor=100.0, low=-10.0, high=10.0, page="relations", row="Stretch",
             step=0.5),
    Property("stretch_limit", "Stretch at most", "%", (2.0,), factor=100.0, low=1.0, high=20.0, page="relations",
             row="At most"),
    Property("stretch_smooth", "Stretch smoothed over", "s", (0.04,), low=0.0, high=5.0, page="relations",
             row="Smoothed", decimals=2, step=0.01),
    Property("pivot_x", "Pivot x", "px", (0.0,), row="Pivot"),
    Property("pivot_y", "Pivot y", "px", (0.0,), beside="pivot_x"),
    replace(_ALONG, id="along", label="Turn along", low=0.0, high=1.0),
    replace(_ALONG, id="lean", label="Lean", low=-10.0, high=10.0, beside="along"),
    replace(_SHARE, id="opacity", label="Opacity", default=(1.0,), low=0.0, high=1.0, drives="opacity", row="Opacity",
            step=0.5),
):  # fmt: skip
    PROPERTIES.add(facts)
