"""The numbers of effects, each under the effect that has it."""

from dataclasses import replace

from deftarc.core.document.properties.property import PROPERTIES, Property

_EFFECT = Property("", "", "px", (0.0,), owner="effect", drives="effect", page="look")
_LENGTH = replace(_EFFECT, low=0.0, high=1_000, step=0.25)

for facts in (
    replace(_LENGTH, id="blur_radius", label="Blur", default=(8.0,), row="Radius", field="radius"),
    replace(_EFFECT, id="blur_angle", label="Blur angle", unit="°", row="Angle", field="angle", step=0.5,
            traits=frozenset(("turning",))),
    replace(_EFFECT, id="shadow_distance", label="Shadow distance", default=(18.0,), low=-10_000, high=10_000,
            row="Distance", field="distance"),
    replace(_EFFECT, id="shadow_direction", label="Shadow direction", unit="°", default=(60.0,), row="Direction",
            field="direction", step=0.5, traits=frozenset(("turning",))),
    replace(_LENGTH, id="shadow_softness", label="Shadow softness", default=(9.0,), row="Softness", field="softness"),
    replace(_EFFECT, id="shadow_spread", label="Shadow spread", low=-500.0, high=500.0, row="Spread", field="spread",
            step=0.25),
    replace(_EFFECT, id="shadow_colour", label="Shadow colour", unit="", default=(0.0, 0.0, 0.0, 1.0), factor=100.0,
            speed="%/s", kind="colour", row="Colour", field="colour"),
    replace(_EFFECT, id="shadow_opacity", label="Shadow opacity", unit="%", default=(0.4,), factor=100.0, low=0.0,
            high=1.0, row="Opacity", field="opacity", step=0.5),
    *(replace(_EFFECT, id=f"colour_{name}", label=label, unit="%", default=(1.0,), factor=100.0, low=0.0, high=20.0,
              row=label, field=name, step=0.5)
      for name, label in (("brightness", "Brightness"), ("contrast", "Contrast"), ("saturation", "Saturation"))),
    replace(_EFFECT, id="colour_hue", label="Hue turned", unit="°", row="Hue", field="hue", step=0.5,
            traits=frozenset(("turning",))),
    replace(_EFFECT, id="colour_invert", label="Inverted", unit="%", factor=100.0, low=0.0, high=1.0, row="Inverted",
            field="invert", step=0.5),
    replace(_EFFECT, id="colour_tinted", label="Tinted", unit="%", factor=100.0, low=0.0, high=1.0, row="Tinted",
            field="tinted", step=0.5),
    replace(_EFFECT, id="colour_tint", label="Tint", unit="", default=(1.0, 1.0, 1.0, 1.0), factor=100.0, speed="%/s",
            kind="colour", row="Tint", field="tint"),
    *(replace(_EFFECT, id=f"crop_{name}", label=f"Crop {name}", unit="%", factor=100.0, low=0.0, high=1.0,
              row=name.capitalize(), field=name, step=0.25)
      for name in ("left", "right", "top", "bottom")),
    replace(_LENGTH, id="crop_softness", label="Crop softness", row="Softness", field="softness"),
):  # fmt: skip
    PROPERTIES.add(facts)
