"""A file brought in: what it is by its contents, checked, and the artwork and assets that come of it."""

import hashlib
from dataclasses import dataclass

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Artwork, Logo, Picture
from deftarc.formats.read.picture import check_picture
from deftarc.formats.read.svg.reader import read_svg


@dataclass(frozen=True)
class Asset:
    data: bytes
    media: str

    @property
    def hash(self) -> str:
        return hashlib.sha256(self.data).hexdigest()


@dataclass(frozen=True)
class BroughtIn:
    artwork: Artwork
    assets: tuple[Asset, ...]
    notes: tuple[str, ...] = ()


def bring_in(data: bytes, file_name: str) -> BroughtIn:
    """Artwork from a picture's or a logo's bytes; Refusal when it is neither, broken, hostile or too large."""
    if not data:
        raise Refusal("This file is empty.")
    if len(data) > limits.MAX_UPLOAD_BYTES:
        raise Refusal(f"This file is larger than {limits.MAX_UPLOAD_BYTES // 1024 // 1024} MiB.")
    head = data[:400].lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    if head.startswith((b"<?xml", b"<svg", b"<!")) or file_name.lower().endswith(".svg"):
        logo = read_svg(data)
        drawing = Asset(logo.drawing.model_dump_json(exclude_defaults=True).encode(), "application/vnd.deftarc.drawing")
        source = Asset(data, "image/svg+xml")
        artwork = Logo(asset=drawing.hash, source=source.hash, width=logo.width, height=logo.height, notes=logo.notes)
        return BroughtIn(artwork, (drawing, source), logo.notes)
    picture = check_picture(data)
    asset = Asset(picture.data, picture.media)
    return BroughtIn(Picture(asset=asset.hash, width=picture.width, height=picture.height), (asset,))
