"""The facts about every property that can be keyed: one table for the core, the figures and the lanes."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Property:
    """``factor`` turns a core number into the shown one (opacity 0.5 is shown as 50 %)."""

    id: str
    label: str
    unit: str
    default: tuple[float, ...]
    factor: float = 1.0
    components: tuple[str, ...] = ("",)
    decimals: int = 1
    low: float | None = None
    high: float | None = None
    #: Shown speed's unit.
    speed_unit: str = ""

    def shown(self, value: float) -> float:
        return value * self.factor

    def held(self, value: float) -> float:
        """A core value kept within what the property allows."""
        if self.low is not None:
            value = max(self.low, value)
        return min(self.high, value) if self.high is not None else value


PROPERTIES: dict[str, Property] = {
    entry.id: entry
    for entry in (
        Property("position", "Position", "px", (0.0, 0.0), components=("x", "y"), speed_unit="px/s"),
        Property("rotation", "Rotation", "°", (0.0,), speed_unit="°/s"),
        Property("scale", "Scale", "%", (1.0,), factor=100.0, components=("x", "y"), speed_unit="%/s"),
        Property("scale_x", "Scale x", "%", (1.0,), factor=100.0, speed_unit="%/s"),
        Property("scale_y", "Scale y", "%", (1.0,), factor=100.0, speed_unit="%/s"),
        Property("skew_x", "Skew x", "°", (0.0,), low=-89.0, high=89.0, speed_unit="°/s"),
        Property("skew_y", "Skew y", "°", (0.0,), low=-89.0, high=89.0, speed_unit="°/s"),
        Property("pivot_x", "Pivot x", "px", (0.0,), speed_unit="px/s"),
        Property("pivot_y", "Pivot y", "px", (0.0,), speed_unit="px/s"),
        Property("opacity", "Opacity", "%", (1.0,), factor=100.0, low=0.0, high=1.0, speed_unit="%/s"),
    )
}

#: The properties a person keys in one go with “Key all”.
TRANSFORM = ("position", "rotation", "scale", "skew_x", "skew_y", "pivot_x", "pivot_y", "opacity")


def property_named(name: str) -> Property:
    """The facts of a property; Refusal when there is none of that name."""
    from deftarc.core.errors import Refusal

    try:
        return PROPERTIES[name]
    except KeyError:
        raise Refusal(f"There is no property “{name[:40]}”. There are: {', '.join(PROPERTIES)}.") from None
