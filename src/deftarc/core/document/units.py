"""What the measures of a track's curve are shown in."""

from dataclasses import dataclass

import numpy as np

from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack, BlendTrack, NumberTrack, PathTrack


@dataclass(frozen=True)
class Units:
    """How a property's measure is shown: ``factor`` times it; with ``growth``, its exponential times that."""

    value: str
    speed: str
    factor: float
    growth: float = 0.0

    def told(self, measure: float) -> str:
        """A measure in shown units, with the unit."""
        shown = float(np.exp(min(measure, 30.0))) * self.growth if self.growth else measure
        return with_unit(shown, self.value)


def units_of(name: str, track: AnyTrack) -> Units:
    facts = PROPERTIES[name]
    if isinstance(track, PathTrack):
        return Units("px", "px/s", 1.0)
    if isinstance(track, BlendTrack):
        return Units("key", "%/s", 1.0)
    if isinstance(track, NumberTrack) and track.evenly:
        return Units(facts.unit, "% growth/s", 1.0, facts.factor)
    return Units(facts.unit, facts.speed_unit, facts.factor)


def with_unit(value: float, unit: str) -> str:
    text = f"{value + 0.0:.{0 if abs(value) >= 100 else 1}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    gap = "" if unit.startswith(("°", "%")) or not unit else " "
    return f"{'0' if text == '-0' else text}{gap}{unit}"
