"""SVG read into a drawing: as artwork, or as a path a layer goes along."""

from deftarc.core.base import limits
from deftarc.core.document import Logo
from deftarc.formats.enclosed import has_project
from deftarc.formats.read.base import INPUTS, Asset, BroughtIn, Input
from deftarc.formats.read.svg.reader import read_svg

#: Said of a drawing that was delivered from here.
MOVES = "It has a scene in it, here as it stands still. Opened on the start page, as a project file is, it moves."


def knows(head: bytes, name: str) -> bool:
    start = head.lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    return start.startswith((b"<?xml", b"<svg", b"<!")) or name.endswith(".svg")


def read_logo(data: bytes) -> BroughtIn:
    logo = read_svg(data)
    notes = (MOVES, *logo.notes) if has_project(data) else logo.notes
    drawing = Asset(logo.drawing.model_dump_json(exclude_defaults=True).encode(), "application/vnd.deftarc.drawing")
    source = Asset(data, "image/svg+xml")
    artwork = Logo(asset=drawing.hash, source=source.hash, width=logo.width, height=logo.height, notes=notes)
    return BroughtIn(artwork, (drawing, source), notes)


INPUTS.add(Input("logo", "Logo (SVG)", "artwork", (".svg",), limits.MAX_UPLOAD_BYTES, knows, read_logo))
INPUTS.add(Input("path", "Path (SVG)", "path", (".svg",), limits.MAX_SVG_BYTES, knows, read_svg))
