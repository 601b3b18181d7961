"""What a file's scenes were when they came in, kept beside the document, to be told from what was done to them here.

Kept as scenes and not as the file, so that a later Deft Arc, which may read such files otherwise, finds no changes in
them that nobody made.
"""

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Name
from deftarc.core.document import Project, Scene
from deftarc.core.document.origin import Origin
from deftarc.formats.archive import read_document
from deftarc.formats.asset_kinds import SCENES
from deftarc.formats.read import Asset


def with_origin(scenes: tuple[Scene, ...], told: str) -> tuple[tuple[Scene, ...], Asset | None]:
    """Scenes of a file, the first of which says so; and what is kept of them, None where that is too large."""
    file: Name = told.strip()[: limits.MAX_NAME].strip() or scenes[0].name
    plain = tuple(scene.changed(origin=None) for scene in scenes)
    document = Project(name=file, scenes=plain).model_dump_json(exclude_defaults=True)
    asset = Asset(document.encode(), SCENES)
    if len(asset.data) > limits.MAX_ORIGIN_BYTES:
        return plain, None
    return (plain[0].changed(origin=Origin(file=file, asset=asset.hash)), *plain[1:]), asset


def as_they_came(data: bytes) -> tuple[Scene, ...]:
    """The scenes that were kept; Refusal where they cannot be read."""
    try:
        return read_document(data).scenes
    except Refusal:
        raise Refusal("What this file was when it came in is damaged. Bring it in as a new layer.") from None


def named(scenes: tuple[Scene, ...], first: str) -> tuple[Scene, ...]:
    """Scenes that were kept, the first by another id: that of a copy of the scene they came with."""
    return (scenes[0].changed(id=first), *scenes[1:])


__all__ = ["as_they_came", "named", "with_origin"]
