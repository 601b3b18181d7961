"""The document: a project, its scenes, their layers, and each layer's artwork and tracks."""

from deftarc.core.document.artwork import (
    Artwork,
    Carrier,
    Contour,
    Ellipse,
    FreePath,
    Logo,
    Painted,
    Picture,
    Polygon,
    Rectangle,
    Star,
    Text,
)
from deftarc.core.document.layer import KINDS, TAGS, Layer, Tag, new_id, unkeyed, with_field
from deftarc.core.document.project import Kept, Project, UserFont, assets_of
from deftarc.core.document.scene import PRESETS, Guide, Scene, check_parents
from deftarc.core.document.upgrade import FORMAT

__all__ = [
    "FORMAT", "KINDS", "PRESETS", "TAGS", "Artwork", "Carrier", "Contour", "Ellipse", "FreePath", "Guide", "Kept",
    "Layer", "Logo", "Painted", "Picture", "Polygon", "Project", "Rectangle", "Scene", "Star", "Tag", "Text",
    "UserFont", "assets_of", "check_parents", "new_id", "unkeyed", "with_field",
]  # fmt: skip
