"""The facts about every property that can be keyed: one table for the core, the figures and the lanes."""

from dataclasses import dataclass
from typing import Literal

from deftarc.core.base.errors import Refusal


@dataclass(frozen=True)
class Property:
    """``factor`` turns a core number into the shown one (opacity 0.5 is shown as 50 %).

    Properties of the artwork are kept in its field of the same name while they have no keys.
    """

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
    kind: Literal["number", "path", "colour", "outline"] = "number"
    artwork: bool = False
    #: Shown and painted as whole numbers.
    whole: bool = False

    def shown(self, value: float) -> float:
        return value * self.factor

    def held(self, value: float) -> float:
        """A core value kept within what the property allows."""
        if self.low is not None:
            value = max(self.low, value)
        return min(self.high, value) if self.high is not None else value


def _size(name: str, label: str, low: float = 0.01) -> Property:
    return Property(name, label, "px", (100.0,), low=low, high=1e7, speed_unit="px/s", artwork=True)


def _share(name: str, label: str) -> Property:
    return Property(name, label, "%", (0.0,), factor=100.0, low=0.0, high=1.0, speed_unit="%/s", artwork=True)


def _colour(name: str, label: str) -> Property:
    return Property(name, label, "", (0.0, 0.0, 0.0, 0.0), factor=100.0, speed_unit="%/s", kind="colour", artwork=True)


def _count(name: str, label: str, low: float) -> Property:
    return Property(
        name, label, "", (5.0,), decimals=0, low=low, high=100, speed_unit="/s", artwork=True, whole=True
    )  # fmt: skip


PROPERTIES: dict[str, Property] = {
    entry.id: entry
    for entry in (
        Property("position", "Position", "px", (0.0, 0.0), components=("x", "y"), speed_unit="px/s", kind="path"),
        Property("position_x", "Position x", "px", (0.0,), speed_unit="px/s"),
        Property("position_y", "Position y", "px", (0.0,), speed_unit="px/s"),
        Property("rotation", "Rotation", "°", (0.0,), speed_unit="°/s"),
        Property("scale", "Scale", "%", (1.0,), factor=100.0, components=("x", "y"), speed_unit="%/s"),
        Property("scale_x", "Scale x", "%", (1.0,), factor=100.0, speed_unit="%/s"),
        Property("scale_y", "Scale y", "%", (1.0,), factor=100.0, speed_unit="%/s"),
        Property("skew_x", "Skew x", "°", (0.0,), low=-89.0, high=89.0, speed_unit="°/s"),
        Property("skew_y", "Skew y", "°", (0.0,), low=-89.0, high=89.0, speed_unit="°/s"),
        Property("pivot_x", "Pivot x", "px", (0.0,), speed_unit="px/s"),
        Property("pivot_y", "Pivot y", "px", (0.0,), speed_unit="px/s"),
        Property("along", "Turn along", "%", (0.0,), factor=100.0, low=0.0, high=1.0, speed_unit="%/s"),
        Property("lean", "Lean", "%", (0.0,), factor=100.0, low=-10.0, high=10.0, speed_unit="%/s"),
        Property("opacity", "Opacity", "%", (1.0,), factor=100.0, low=0.0, high=1.0, speed_unit="%/s"),
        _size("width", "Width"),
        _size("height", "Height"),
        _size("radius", "Corner radius", 0.0),
        _count("sides", "Sides", 3),
        _count("spikes", "Points", 2),
        _size("outer", "Outer radius"),
        _size("inner", "Inner radius", 0.0),
        _share("roundness", "Roundness"),
        Property("size", "Size", "px", (72.0,), low=0.1, high=5_000, speed_unit="px/s", artwork=True),
        Property("line_height", "Line height", "%", (1.2,), factor=100.0, low=0.0, high=10, speed_unit="%/s",
                 artwork=True),
        Property("letter_spacing", "Letter spacing", "%", (0.0,), factor=100.0, low=-1.0, high=10, speed_unit="%/s",
                 artwork=True),
        Property("outline", "Outline", "%", (0.0,), factor=100.0, speed_unit="%/s", kind="outline", artwork=True),
        _colour("fill", "Fill"),
        _colour("stroke", "Stroke"),
        Property("stroke_width", "Stroke width", "px", (4.0,), low=0.0, high=10_000, speed_unit="px/s", artwork=True),
        Property("dash_offset", "Dash offset", "px", (0.0,), speed_unit="px/s", artwork=True),
    )
}  # fmt: skip

#: Properties whose motion makes the outline differ from frame to frame.
SHAPING = frozenset(
    ("width", "height", "radius", "sides", "spikes", "outer", "inner", "roundness", "size", "line_height",
     "letter_spacing", "outline")
)  # fmt: skip


def property_named(name: str) -> Property:
    """The facts of a property; Refusal when there is none of that name."""
    try:
        return PROPERTIES[name]
    except KeyError:
        raise Refusal(f"There is no property “{name[:40]}”. There are: {', '.join(PROPERTIES)}.") from None
