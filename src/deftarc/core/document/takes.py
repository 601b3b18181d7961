"""Takes: versions of the timing of some layers, of which one shows and the others are kept beside it."""

from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.model import Frozen, Identity, Moment, Name
from deftarc.core.document.layer import Layer
from deftarc.core.document.links import Later, Link
from deftarc.core.document.reactions import Reacting
from deftarc.core.document.track import Track


class TakenLayer(Frozen):
    """A layer's timing: its span, its tracks, what they follow, and how its axes are kept; what it is made of is not in
    it.
    """

    layer: Identity
    start: Moment = 0
    end: Moment | None = None
    axes_split: bool = False
    scale_link: Literal["linked", "free", "area"] = "linked"
    scale_ratio: Annotated[float, Field(ge=-1e6, le=1e6)] = 1.0
    tracks: dict[str, Track] = Field(default_factory=dict)
    #: What its properties follow, and how much later it goes where its carrier takes it.
    links: dict[str, Link] = Field(default_factory=dict)
    later: Later | None = None
    reactions: dict[str, Reacting] = Field(default_factory=dict)


#: The fields of a layer that a take keeps.
TIMING = tuple(name for name in TakenLayer.model_fields if name != "layer")


class Take(Frozen):
    id: Identity
    name: Name
    #: Empty while it is the one that shows: then the layers themselves are it.
    layers: tuple[TakenLayer, ...] = Field(default=(), max_length=limits.MAX_LAYERS)


class TakeSet(Frozen):
    """Takes of some layers, together."""

    id: Identity
    layers: tuple[Identity, ...] = Field(min_length=1, max_length=limits.MAX_LAYERS)
    shown: Identity
    takes: tuple[Take, ...] = Field(min_length=1, max_length=limits.MAX_TAKES)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        names = [take.id for take in self.takes]
        if len(set(names)) != len(names) or self.shown not in names:
            raise ValueError("Takes have an id each, and one of them shows.")
        return self

    def take(self, take_id: str) -> Take | None:
        return next((take for take in self.takes if take.id == take_id), None)


def taken(layer: Layer) -> TakenLayer:
    """A layer's timing as it is now."""
    return TakenLayer.model_construct(layer=layer.id, **{name: getattr(layer, name) for name in TIMING})


def retaken(layer: Layer, told: TakenLayer) -> tuple[Layer, list[str]]:
    """A layer with another timing, as far as what it is made of still has a place for it; and the properties whose
    tracks had none, which stay as they are.
    """
    head = {name: getattr(told, name) for name in TIMING if name not in ("tracks", "links", "reactions")}
    bare = layer.changed(**head, tracks={}, links={}, reactions={})
    tracks: dict[str, Track] = {}
    left = []
    for name, track in told.tracks.items():
        made = bare.changed(tracks={name: track})
        rules: Any = made
        try:
            rules._sound()
        except ValueError:
            left.append(name)
            continue
        if name in made.properties:
            tracks[name] = track
        else:
            left.append(name)
    made = bare.changed(tracks=tracks)
    links = {name: link for name, link in told.links.items() if name in made.properties}
    reactions = {name: each for name, each in told.reactions.items() if name in tracks}
    return made.changed(links=links, reactions=reactions), left


def as_taken(layer: Layer, take: Take) -> Layer:
    """A layer as it is in a take that has it."""
    told = next((each for each in take.layers if each.layer == layer.id), None)
    return retaken(layer, told)[0] if told is not None else layer


def check_takes(sets: tuple[TakeSet, ...]) -> None:
    """ValueError where a layer is in two sets of takes, or sets share an id."""
    every = [layer for each in sets for layer in each.layers]
    if len(set(every)) != len(every) or len({each.id for each in sets}) != len(sets):
        raise ValueError("A layer has one set of takes.")
