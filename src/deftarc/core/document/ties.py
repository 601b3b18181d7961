"""Ties: moments that hold together. Where the one goes, the other follows at its distance."""

from typing import Literal, Self

from pydantic import Field, model_validator

from deftarc.core.base.model import Frozen, Identity, Moment


class Anchor(Frozen):
    """A moment that can be tied: a layer's start or end, one of its keys, or a marker; the scene's where no layer is
    told. Keys and markers are called by their ids.
    """

    layer: Identity | None = None
    of: Literal["start", "end", "key", "marker"]
    id: Identity | None = None
    #: Of a key: the lane it stands in.
    property: str | None = Field(default=None, max_length=80)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        called = self.of in ("key", "marker")
        if called != (self.id is not None) or (self.of == "key") != (self.property is not None):
            raise ValueError("A tied key tells its lane and its id, a tied marker its id.")
        if self.layer is None and self.of != "marker":
            raise ValueError("What is tied belongs to a layer, but for the scene's markers.")
        return self


class Tie(Frozen):
    """``what`` is held at ``to``, later by ``offset``, or earlier where that is below 0."""

    id: Identity
    what: Anchor
    to: Anchor
    offset: Moment = 0

    @model_validator(mode="after")
    def _sound(self) -> Self:
        if self.what.of == "marker":
            raise ValueError("A marker is held by nothing: tie what follows it.")
        return self


def check_ties(ties: tuple[Tie, ...]) -> None:
    """ValueError where ties share an id, or two hold one moment."""
    if len({tie.id for tie in ties}) != len(ties):
        raise ValueError("Two ties share one id.")
    if len({tie.what for tie in ties}) != len(ties):
        raise ValueError("A moment is tied to one other.")
