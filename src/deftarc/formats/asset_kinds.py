"""Which kind of file each thing of a document may name: a picture is no font, and a logo's drawing no picture."""

from collections.abc import Iterable, Iterator

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Artwork, Project
from deftarc.core.document.artwork import Role
from deftarc.core.document.drawing import Bitmap, Group, Node

DRAWING, SVG, FONT = "application/vnd.deftarc.drawing", "image/svg+xml", "font/otf"
#: Scenes as they came of a file; see core/document/origin.
SCENES = "application/vnd.deftarc.scenes"
PICTURES = frozenset(("image/png", "image/jpeg", "image/webp"))
#: The media types an asset may have, by what it has to be.
MEDIA_OF: dict[Role, frozenset[str]] = {
    "picture": PICTURES, "drawing": frozenset((DRAWING,)), "svg": frozenset((SVG,)), "font": frozenset((FONT,)),
    "scenes": frozenset((SCENES,)),
}  # fmt: skip
#: What an asset has to be, by what names it.
Wanted = tuple[str, frozenset[str]]


def wanted_by(artwork: Artwork) -> Iterator[Wanted]:
    for name, role in artwork.files():
        yield name, MEDIA_OF[role]


def wanted_by_project(project: Project) -> Iterator[Wanted]:
    for font in project.fonts:
        yield font.asset, MEDIA_OF["font"]
    for kept in project.shelf:
        yield from wanted_by(kept.artwork)
    for scene in project.scenes:
        if scene.origin is not None:
            yield scene.origin.asset, MEDIA_OF["scenes"]
        for layer in scene.layers:
            yield from wanted_by(layer.artwork)


def pictures_in(nodes: Iterable[Node]) -> Iterator[Wanted]:
    """What a drawing names itself."""
    for node in nodes:
        if isinstance(node, Group):
            yield from pictures_in(node.nodes)
        elif isinstance(node, Bitmap):
            yield node.asset, PICTURES


def refuse_wrong(wanted: Iterable[Wanted], media: dict[str, str]) -> None:
    """Refusal where something names a file of another kind than it can be made of; all are there."""
    for name, kinds in wanted:
        if media.get(name) not in kinds:
            raise Refusal("Something here names a file of the wrong kind: a picture has to be one, and a font a font.")
