"""What a page asks of the live loop: where it looks, what is selected there, and perhaps an edit to try."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from deftarc.app.snapping import SnapAsked
from deftarc.core.arrange.axes import Axes
from deftarc.core.base.model import Frozen
from deftarc.core.changes.keys import KeyRef
from deftarc.core.edit import Edit

Unit = Literal["timecode", "drop", "frames", "seconds"]


class AxisAsked(Frozen):
    start: float
    end: float
    width: float = Field(ge=20, le=20_000)


class Focus(Frozen):
    layer: str
    property: str


class Window(Frozen):
    """The stretch of the list of lanes that is in view, in px."""

    top: float = Field(default=0, ge=0, le=1e7)
    height: float = Field(default=700, ge=0, le=20_000)


class Filters(Frozen):
    """Which lanes are listed. ``keyed`` hides layers without keys, ``selected`` all that is not selected."""

    keyed: bool = False
    selected: bool = False
    text: str = Field(default="", max_length=100)


class Tinted(Focus):
    """A curve's colour in the pair, by number."""

    colour: int = Field(ge=0, le=20)


class PairAsked(Frozen):
    """What the pair shows besides the lane in focus, and how high its axes reach.

    ``fit`` is what the axes fit to by themselves; None leaves them at ``value`` and ``speed``, low and high in the
    main curve's shown unit. ``apart`` gives each curve its own scale.
    """

    shown: tuple[Focus, ...] = Field(default=(), max_length=200)
    hidden: tuple[Focus, ...] = Field(default=(), max_length=200)
    pinned: tuple[Focus, ...] = Field(default=(), max_length=40)
    colours: tuple[Tinted, ...] = Field(default=(), max_length=200)
    alone: Focus | None = None
    apart: bool = False
    fit: Literal["all", "selection", "range"] | None = "all"
    value: tuple[float, float] | None = None
    speed: tuple[float, float] | None = None

    @model_validator(mode="after")
    def _sound(self) -> Self:
        for told in (self.value, self.speed):
            if told is not None and not (told[0] < told[1] and all(abs(n) < 1e12 for n in told)):
                raise ValueError("An axis goes from a lower to a higher number.")
        return self


class GhostAsked(Frozen):
    """A take that is laid over what shows, as a ghost."""

    set: str
    take: str


class Look(Frozen):
    """What a page shows. ``n`` numbers the looks; ``fresh`` asks for everything anew.

    On the wire ``keys``, and those of the edit, are null where they are the ones that were told last: see SameKeys.
    """

    n: int = 0
    scene: str
    frame: int = 0
    layers: tuple[str, ...] = Field(default=(), max_length=2_000)
    keys: tuple[KeyRef, ...] = Field(default=(), max_length=20_000)
    focus: Focus | None = None
    #: None leaves it to the server: many layers open folded, so that the list can be taken in.
    folded: tuple[str, ...] | None = Field(default=None, max_length=2_000)
    #: Lanes shown although nothing in them is keyed.
    opened: tuple[Focus, ...] = Field(default=(), max_length=2_000)
    axis: AxisAsked | None = None
    pair_height: float = Field(default=300, ge=60, le=4000)
    pair: PairAsked = PairAsked()
    window: Window = Window()
    lane_height: int = Field(default=27, ge=20, le=90)
    filters: Filters = Filters()
    #: A layer whose row is to be brought into view.
    reveal: str | None = None
    unit: Unit = "timecode"
    axes: Axes = "parent"
    #: Which of a layer's numbers the figures show.
    page: Literal["motion", "look", "relations"] = "motion"
    #: Whether the points of the selected path are being edited.
    points: bool = False
    #: The sections of the figures that are unfolded.
    folds: tuple[Annotated[str, Field(max_length=40)], ...] = Field(default=("effects",), max_length=20)
    #: The mask whose points these are; None are the artwork's.
    mask: str | None = Field(default=None, max_length=40)
    #: Floating points of the first selected layer's path that are selected, by number; and whether the path is edited.
    path_points: tuple[int, ...] = Field(default=(), max_length=20_000)
    path: bool = False
    #: Whether the table of segments is shown.
    segments: bool = False
    ghost: GhostAsked | None = None
    #: The list that is open over the pair, by its name; empty where none is.
    drawer: str = Field(default="", max_length=20)
    #: What is looked for in it.
    drawer_text: str = Field(default="", max_length=100)
    #: The step at which *Keying changes* was switched on.
    keying_since: int | None = None
    fresh: bool = False
    #: Only what depends on the frame: figures, and loose values.
    light: bool = False
    edit: Edit | None = None
    #: The hand that tries the edit moves in the lanes: where much follows, these alone will do until it rests.
    brief: bool = False
    #: The hand that tries the edit is on the picture: it goes ahead of the rest of the answer.
    ahead: bool = False
    snap: SnapAsked | None = None

    @property
    def held(self) -> bool:
        """Whether a hand holds what is tried. A tolerance is tried too, and then the hand is free to point."""
        return self.edit is not None and not self.edit.looked_at
