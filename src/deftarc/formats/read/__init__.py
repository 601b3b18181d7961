"""What comes in: one file a kind, checked against the limits before anything is kept."""

from deftarc.core.base.register import collect
from deftarc.formats.read.base import (
    INPUTS,
    Asset,
    BroughtIn,
    BroughtScenes,
    Input,
    bring_in,
    come_of,
    endings,
    title_of,
)

# Where nothing is known by its head, a picture is tried, and says what is wrong.
collect(__name__, __path__, ("base", "svg", "font", "samples", "lottie", "picture"), called="inputs")

__all__ = [
    "INPUTS", "Asset", "BroughtIn", "BroughtScenes", "Input", "bring_in", "come_of", "endings", "title_of",
]  # fmt: skip
