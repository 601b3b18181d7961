"""The numbers of masks, each under the mask that has it."""

from dataclasses import replace

from deftarc.core.document.properties.property import PROPERTIES, Property

_MASK = Property("", "", "px", (0.0,), owner="mask", drives="mask", page="look", step=0.25)

for facts in (
    replace(_MASK, id="mask_outline", label="Mask outline", unit="%", factor=100.0, kind="outline", row="Outline",
            field="outline"),
    replace(_MASK, id="mask_feather", label="Feather", low=0.0, high=1_000, row="Feather", field="feather"),
    replace(_MASK, id="mask_grow", label="Mask grown by", low=-10_000, high=10_000, row="Grown", field="grow"),
    replace(_MASK, id="mask_opacity", label="Mask opacity", unit="%", default=(1.0,), factor=100.0, low=0.0, high=1.0,
            row="Opacity", field="opacity", step=0.5),
):  # fmt: skip
    PROPERTIES.add(facts)
