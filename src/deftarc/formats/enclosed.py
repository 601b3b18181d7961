"""A project that goes along in a drawing delivered from it, so that the drawing comes back as what it was."""

import base64
import binascii
import re

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Project, Scene

_MARK = "deftarc-project"
_FOUND = re.compile(rb'<metadata id="' + _MARK.encode() + rb'">([A-Za-z0-9+/=\s]*)</metadata>')
#: Where a drawing begins: a byte order mark or space, and then a tag.
_DRAWN = re.compile(rb"(?:\xef\xbb\xbf)?\s*<")


def enclosing(packed: bytes) -> str:
    """What stands in an SVG for a project file to go along."""
    return f'<metadata id="{_MARK}">{base64.b64encode(packed).decode()}</metadata>'


def is_drawing(head: bytes) -> bool:
    """Whether a file begins as a drawing does, and not as a project file."""
    return _DRAWN.match(head) is not None


def has_project(data: bytes) -> bool:
    return _MARK.encode() in data and _FOUND.search(data) is not None


def enclosed(data: bytes) -> bytes:
    """The project file in a drawing; Refusal where there is none, or it is too large or damaged."""
    found = _FOUND.search(data)
    if found is None:
        raise Refusal(
            "This drawing has no scene in it that could be opened. Add it to a scene as a picture, or deliver it again "
            "so that it can be opened."
        )
    if len(found[1]) > limits.MAX_ARCHIVE_BYTES * 4 // 3 + 4:
        raise Refusal("The project in this drawing is larger than Deft Arc opens.")
    try:
        return base64.b64decode(b"".join(found[1].split()), validate=True)
    except (binascii.Error, ValueError):
        raise Refusal(
            "The project in this drawing is damaged. Take the drawing from where it came from again."
        ) from None


def with_scene_alone(project: Project, scene: Scene) -> Project:
    """A project of one scene and of those that show in it."""
    kept, todo = {scene.id}, [scene]
    while todo:
        for layer in todo.pop().layers:
            name = getattr(layer.artwork, "scene", None) if layer.artwork.kind == "scene" else None
            if name is not None and name not in kept and name in project.by_id:
                kept.add(name)
                todo.append(project.by_id[name])
    used = {getattr(layer.artwork, "font", "") for name in kept for layer in project.by_id[name].layers}
    fonts = tuple(font for font in project.fonts if font.id in used)
    first = [each for each in project.scenes if each.id == scene.id]
    rest = [each for each in project.scenes if each.id in kept and each.id != scene.id]
    return project.changed(name=scene.name, scenes=(*first, *rest), motions=(), shelf=(), fonts=fonts)


__all__ = ["enclosed", "enclosing", "has_project", "is_drawing", "with_scene_alone"]
