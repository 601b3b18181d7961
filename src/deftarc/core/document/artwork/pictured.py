"""Pictures and logos: artwork that stands for a file."""

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.model import AssetHash, Length
from deftarc.core.document.artwork.base import ARTWORKS, ArtworkBase, Role, Sources
from deftarc.core.document.drawing import Bitmap, Drawing


@ARTWORKS.add
class Picture(ArtworkBase):
    label: ClassVar[str] = "Picture"
    traits: ClassVar[frozenset[str]] = frozenset(("pictured",))
    kind: Literal["picture"] = "picture"
    asset: AssetHash
    width: Length
    height: Length

    def files(self) -> Iterator[tuple[str, Role]]:
        yield self.asset, "picture"

    def drawing(self, sources: Sources) -> Drawing:
        x, y = -self.width / 2, -self.height / 2
        return Drawing(nodes=(Bitmap(asset=self.asset, x=x, y=y, width=self.width, height=self.height),))


@ARTWORKS.add
class Logo(ArtworkBase):
    """A vector logo kept whole: ``asset`` is its drawing, ``source`` the SVG it was read from."""

    label: ClassVar[str] = "Logo"
    traits: ClassVar[frozenset[str]] = frozenset(("pictured", "parts"))
    kind: Literal["logo"] = "logo"
    asset: AssetHash
    source: AssetHash
    width: Length
    height: Length
    #: What of the file is not supported, in sentences.
    notes: tuple[Annotated[str, Field(max_length=300)], ...] = Field(default=(), max_length=40)

    def files(self) -> Iterator[tuple[str, Role]]:
        yield self.asset, "drawing"
        yield self.source, "svg"

    def drawing(self, sources: Sources) -> Drawing:
        return sources.stored(self.asset)
