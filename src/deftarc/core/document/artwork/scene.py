"""A scene shown as a layer, with its own clock: where in it the layer's start lies, how fast it goes, and what follows
its end.
"""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.model import Identity, Length, Moment
from deftarc.core.document.artwork.base import ARTWORKS, ArtworkBase, Sources
from deftarc.core.document.drawing import Drawing

#: How its moments go on past its ends, and in words.
GOES_ON = {
    "once": "nothing shows past its ends", "hold": "its last picture stays", "repeat": "it repeats",
    "alternate": "it goes there and back",
}  # fmt: skip


#: How many times its own pace, there or back.
MAX_RATE = 100.0


@ARTWORKS.add
class SceneShown(ArtworkBase):
    """Another scene as a layer: its middle is the layer's, and nothing shows outside its frame.

    At the layer's start its moment ``begins`` shows, in flicks, and it goes on at ``rate``: 1 is its own pace, below 0
    it runs backwards. A layer that has a clock shows what that tells instead. ``plays`` counts a repeat's plays; None
    is for ever.
    """

    label: ClassVar[str] = "Scene"
    traits: ClassVar[frozenset[str]] = frozenset(("scene", "boxed"))
    kind: Literal["scene"] = "scene"
    scene: Identity
    #: Of that scene, kept so that whoever has it can be laid out without it.
    width: Length
    height: Length
    begins: Moment = 0
    rate: Annotated[float, Field(ge=-MAX_RATE, le=MAX_RATE)] = 1.0
    goes_on: Literal["once", "hold", "repeat", "alternate"] = "hold"
    plays: Annotated[float, Field(gt=0, le=100_000)] | None = None
    #: Whether that scene's background is in the picture.
    ground: bool = True

    def drawing(self, sources: Sources) -> Drawing:
        return Drawing()
