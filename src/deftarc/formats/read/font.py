"""A font brought in: checked, and unpacked."""

from io import BytesIO

import uharfbuzz
from fontTools.ttLib import TTFont

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.fonts.shaping import typeface
from deftarc.fonts.unpack import unpacked
from deftarc.formats.read.base import INPUTS, Input


def check_font(data: bytes) -> tuple[bytes, str]:
    """An uploaded TTF, OTF or WOFF2 as plain OpenType, and its full name; Refusal when it is none or broken."""
    if len(data) > limits.MAX_FONT_BYTES:
        raise Refusal(f"This font is larger than {limits.MAX_FONT_BYTES // 1024 // 1024} MiB.")
    if data[:4] not in (b"\x00\x01\x00\x00", b"OTTO", b"true", b"wOF2"):
        raise Refusal("This file is no font Deft Arc can read. It takes TTF, OTF and WOFF2.")
    try:
        if data[:4] == b"wOF2" and int.from_bytes(data[16:20]) > limits.MAX_FONT_UNPACKED:
            raise Refusal(f"This font unpacks to more than {limits.MAX_FONT_UNPACKED // 2**20} MiB.")
        plain = unpacked(data)
        if len(plain) > limits.MAX_FONT_UNPACKED:
            raise Refusal(f"This font unpacks to more than {limits.MAX_FONT_UNPACKED // 2**20} MiB.")
        font = TTFont(BytesIO(plain), lazy=True)
        glyphs = font["maxp"].numGlyphs
        # Asked of the shaper, which keeps ranges: a table of a few bytes can name every letter there could be.
        if not len(uharfbuzz.Face(plain).unicodes) or not 1 < glyphs <= 70_000:
            raise Refusal("This font has no letters that can be written with it.")
        if "glyf" not in font and "CFF " not in font and "CFF2" not in font:
            raise Refusal("This font has no outlines: fonts made of pictures cannot be drawn here.")
        label = str(font["name"].getDebugName(4) or font["name"].getDebugName(1) or "Own font")
        shaped = typeface(plain).font
        buffer = uharfbuzz.Buffer()
        buffer.add_str("Aa")
        buffer.guess_segment_properties()
        uharfbuzz.shape(shaped, buffer)
    except Refusal:
        raise
    except Exception:
        # Font parsers raise all sorts on bad data; whatever it is, this file cannot be used.
        raise Refusal("This font is damaged, and cannot be used.") from None
    return plain, "".join(c for c in label if c.isprintable()).strip()[: limits.MAX_NAME] or "Own font"


def knows(head: bytes, name: str) -> bool:
    return head[:4] in (b"\x00\x01\x00\x00", b"OTTO", b"true", b"wOF2")


INPUTS.add(Input("font", "Font", "font", (".ttf", ".otf", ".woff2"), limits.MAX_FONT_BYTES, knows, check_font))
