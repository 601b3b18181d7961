"""A property: what there is to know about a number, a place, a colour or an outline that can be keyed."""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from deftarc.core.base.errors import Refusal
from deftarc.core.base.register import Register

#: What a property is one of: the layer itself, its artwork, or a thing of a list on it.
Owner = Literal["transform", "artwork", "effect", "mask", "gradient", "stop", "dash"]
Drives = Literal["matrix", "opacity", "outline", "grown", "line", "paint", "effect", "mask", "burst", "time"]
#: Who keeps properties under names of their own.
PLAIN = ("transform", "artwork")


@dataclass(frozen=True)
class Property:
    """``factor`` turns a core number into the shown one (opacity 0.5 is shown as 50 %).

    What belongs to an artwork or an effect is kept in that's own field while it has no keys. A property of a listed
    thing is named ``effect/<id>/<its id>``, and its facts are those of its kind under that name.
    """

    id: str
    label: str
    unit: str
    default: tuple[float, ...]
    owner: Owner = "transform"
    drives: Drives = "matrix"
    factor: float = 1.0
    components: tuple[str, ...] = ("",)
    decimals: int = 1
    low: float | None = None
    high: float | None = None
    #: Shown speed's unit; None is the unit a second.
    speed: str | None = None
    kind: Literal["number", "path", "colour", "outline"] = "number"
    #: The page of the figures that shows it, the section of that, the label of its row there, and the property it
    #: shares that row with.
    page: Literal["motion", "look", "relations"] = "motion"
    section: str = ""
    row: str = ""
    beside: str = ""
    #: By how much of the shown unit a px of dragging moves it.
    step: float = 1.0
    #: What else is so: *whole* numbers only; *growing*, its growth a matter of ratios; *turning*, shown in turns, too;
    #: *rare*, on the figures only where it is used.
    traits: frozenset[str] = frozenset()
    #: The field that keeps it, where that is called otherwise.
    field: str = ""
    #: Of a listed thing: the id of that.
    thing: str = ""

    @property
    def artwork(self) -> bool:
        """Whether it is one of the artwork, or of a thing listed on that."""
        return self.owner in ("artwork", "gradient", "stop", "dash")

    @property
    def whole(self) -> bool:
        return "whole" in self.traits

    @property
    def speed_unit(self) -> str:
        return f"{self.unit}/s" if self.speed is None else self.speed

    @property
    def kept_in(self) -> str:
        """The name of the field of its artwork or effect."""
        return self.field or self.id

    def shown(self, value: float) -> float:
        return value * self.factor

    def held(self, value: float) -> float:
        """A core value kept within what the property allows."""
        if self.low is not None:
            value = max(self.low, value)
        return min(self.high, value) if self.high is not None else value

    @property
    def leaving(self) -> str:
        """In words what a value does that the property does not allow: “leave 0 to 100 %”."""
        # No one means the ends that only keep numbers within reason.
        ends = (None if each is None or abs(each) > 1e6 else f"{self.shown(each):g}" for each in (self.low, self.high))
        low, high = ends
        unit = f" {self.unit}" if self.unit else ""
        if low is None and high is None:
            return "go too far"
        if low is None or high is None:
            return f"go above {high}{unit}" if low is None else f"go below {low}{unit}"
        return f"leave {low} to {high}{unit}"


class Properties(Register[Property]):
    """All properties by name, those of listed things under any id such a thing may have."""

    def __getitem__(self, name: str) -> Property:
        return _listed(self, name) if "/" in name else super().__getitem__(name)

    def __contains__(self, name: object) -> bool:
        try:
            return bool(self[str(name)])
        except KeyError:
            return False

    def plain(self) -> list[Property]:
        """Those that a layer can have under their own names."""
        return [facts for facts in self.values() if facts.owner in PLAIN]


@lru_cache(maxsize=4096)
def _listed(table: Properties, name: str) -> Property:
    owner, _, rest = name.partition("/")
    thing, _, own = rest.partition("/")
    facts = Register.__getitem__(table, own)
    if facts.owner != owner or owner in PLAIN or not thing:
        raise KeyError(name)
    return replace(facts, id=name, thing=thing, field=facts.kept_in)


PROPERTIES = Properties("properties", lambda facts: facts.id)


def property_named(name: str) -> Property:
    """The facts of a property; Refusal when there is none of that name."""
    try:
        return PROPERTIES[name]
    except KeyError:
        told = ", ".join(facts.id for facts in PROPERTIES.plain())
        raise Refusal(f"There is no property “{name[:40]}”. There are: {told}.") from None
