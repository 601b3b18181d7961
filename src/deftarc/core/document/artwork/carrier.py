"""A carrier: nothing to see, it carries others. A group is one, too."""

from typing import ClassVar, Literal

from deftarc.core.document.artwork.base import ARTWORKS, ArtworkBase, Sources
from deftarc.core.document.drawing import Drawing


@ARTWORKS.add
class Carrier(ArtworkBase):
    """Nothing to see: it carries others. A ``group`` also folds its members in the list, hides and locks them.

    A group painted ``as_one`` has its members put together by themselves and then laid on what is beneath: its
    opacity, blending and effects go for all of them at once.
    """

    label: ClassVar[str] = "Carrier"
    icon: ClassVar[str] = "diagram-2"
    about: ClassVar[str] = "unseen, carries others"
    traits: ClassVar[frozenset[str]] = frozenset(("empty",))
    kind: Literal["carrier"] = "carrier"
    group: bool = False
    as_one: bool = False

    @classmethod
    def first(cls, side: float) -> "Carrier":
        return cls()

    def drawing(self, sources: Sources) -> Drawing:
        return Drawing()
