"""A wash: nothing to see of itself. Its effects treat all that lies beneath it in its group or scene."""

from typing import ClassVar, Literal

from deftarc.core.document.artwork.base import ARTWORKS, ArtworkBase, Sources
from deftarc.core.document.drawing import Drawing


@ARTWORKS.add
class Wash(ArtworkBase):
    """Everywhere, or where its masks and its matte let it, which are in its layer's px as its lengths are."""

    label: ClassVar[str] = "Wash"
    icon: ClassVar[str] = "droplet-half"
    about: ClassVar[str] = "its effects treat all beneath it"
    traits: ClassVar[frozenset[str]] = frozenset(("wash",))
    kind: Literal["wash"] = "wash"

    @classmethod
    def first(cls, side: float) -> "Wash":
        return cls()

    def drawing(self, sources: Sources) -> Drawing:
        return Drawing()
