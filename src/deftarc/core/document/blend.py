"""How a layer or a group mixes with what is beneath it: the modes of W3C Compositing and Blending Level 1."""

from typing import Literal

Blend = Literal[
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light",
    "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity",
]  # fmt: skip
#: What each is called, in the order they are offered.
BLENDS: dict[Blend, str] = {
    "normal": "as it is",
    "multiply": "multiply",
    "screen": "screen",
    "overlay": "overlay",
    "darken": "darken",
    "lighten": "lighten",
    "color-dodge": "colour dodge",
    "color-burn": "colour burn",
    "hard-light": "hard light",
    "soft-light": "soft light",
    "difference": "difference",
    "exclusion": "exclusion",
    "hue": "hue",
    "saturation": "saturation",
    "color": "colour",
    "luminosity": "luminosity",
}
