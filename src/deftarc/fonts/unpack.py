"""Fonts unpacked within the limits: WOFF2 of a kilobyte can stand for gigabytes."""

from collections.abc import Iterator
from contextlib import contextmanager
from io import BytesIO
from threading import Lock

import brotli
from fontTools.ttLib import TTFont, woff2

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal


def unpacked(data: bytes) -> bytes:
    """A font's bytes as plain OpenType: WOFF2 is unpacked."""
    with counted_unpacking():
        font = TTFont(BytesIO(data))
        font.flavor = None
        plain = BytesIO()
        font.save(plain)
    return plain.getvalue()


class _Counted:
    """Brotli as fontTools calls it, counting as it unpacks: a font of a kilobyte can stand for gigabytes."""

    @staticmethod
    def decompress(data: bytes) -> bytes:
        unpacker, out, told = brotli.Decompressor(), bytearray(), bytes(data)
        while True:
            out += unpacker.process(told, output_buffer_limit=1 << 20)
            told = b""
            if len(out) > limits.MAX_FONT_UNPACKED:
                raise Refusal(f"This font unpacks to more than {limits.MAX_FONT_UNPACKED // 2**20} MiB.")
            if unpacker.is_finished():
                return bytes(out)
            if unpacker.can_accept_more_data():
                raise Refusal("This font is damaged, and cannot be used.")

    compress = brotli.compress
    MODE_FONT = brotli.MODE_FONT
    error = brotli.error


@contextmanager
def counted_unpacking() -> Iterator[None]:
    """While this lasts, fontTools unpacks WOFF2 within the limits."""
    with _ONE_AT_A_TIME:
        before, woff2.brotli = woff2.brotli, _Counted
        try:
            yield
        finally:
            woff2.brotli = before


_ONE_AT_A_TIME = Lock()
