"""What the disk or the database refuses, in sentences."""

import errno
import logging
from pathlib import Path
from typing import Literal

from deftarc.core.base.errors import Refusal

log = logging.getLogger(__name__)
Kind = Literal["full", "readonly", "damaged", "busy", "lost"]
NOTHING_WRITTEN = "Nothing was changed."


class StoreTrouble(Refusal):
    """The machine, not what was asked, stands in the way; ``kind`` says how."""

    def __init__(self, sentence: str, kind: Kind) -> None:
        super().__init__(sentence)
        self.kind = kind


#: Words in the database's own messages, which are all it tells them apart by, and what they mean.
_WORDS: tuple[tuple[str, Kind], ...] = (
    ("is full", "full"), ("readonly", "readonly"), ("read-only", "readonly"), ("malformed", "damaged"),
    ("not a database", "damaged"), ("unsupported file format", "damaged"), ("locked", "busy"),
    ("unable to open", "lost"), ("disk i/o", "lost"),
)  # fmt: skip


def _sentence(kind: Kind, place: Path) -> str:
    return {
        "full": f"The disk that holds {place} is full. {NOTHING_WRITTEN} Make room there, then do it again.",
        "readonly": f"{place} can only be read, not written. {NOTHING_WRITTEN} Allow writing there, then do it again.",
        "damaged": f"The database {place} is damaged. {NOTHING_WRITTEN} Take out what can be read by export, and "
        f"restore a copy.",
        "busy": f"Another program holds {place} fast. {NOTHING_WRITTEN} Do it again in a moment.",
        "lost": f"{place} cannot be reached. {NOTHING_WRITTEN} See whether its disk is there, then do it again.",
    }[kind]


def trouble_of(error: BaseException, place: Path) -> StoreTrouble | None:
    """What a database's or a file's error means; None where it is no trouble of the disk's but a mistake of ours."""
    kind: Kind | None = None
    if isinstance(error, OSError):
        codes: dict[int | None, Kind] = {
            errno.ENOSPC: "full", errno.EDQUOT: "full", errno.EFBIG: "full", errno.EROFS: "readonly",
            errno.EACCES: "readonly", errno.EPERM: "readonly", errno.ENOENT: "lost", errno.EIO: "lost",
        }  # fmt: skip
        kind = codes.get(error.errno)
    else:
        words = str(error).lower()
        kind = next((found for told, found in _WORDS if told in words), None)
    if kind is None:
        return None
    log.error("%s: %s", place, error)
    return StoreTrouble(_sentence(kind, place), kind)
