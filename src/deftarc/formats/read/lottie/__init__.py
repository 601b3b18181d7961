"""Lottie animations (Lottie Animation Community, specification 1.0) read into scenes."""

from deftarc.core.base import limits
from deftarc.formats.read.base import INPUTS, Input
from deftarc.formats.read.lottie.reader import read_lottie


def knows(head: bytes, name: str) -> bool:
    return name.endswith((".json", ".lottie")) or head.lstrip(b"\xef\xbb\xbf \t\r\n").startswith((b"{", b"PK"))


INPUTS.add(
    Input("lottie", "Motion (Lottie)", "scenes", (".json", ".lottie"), limits.MAX_UPLOAD_BYTES, knows, read_lottie)
)
