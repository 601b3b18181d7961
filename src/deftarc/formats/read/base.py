"""Inputs: what can be brought in. One a kind of file, each known by its head or its name and read by its own file.

Everything that comes in is read in a process of its own (app/reading_process), which asks this register.
"""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Name
from deftarc.core.base.register import Register
from deftarc.core.document import Artwork, Project, Scene

#: What comes of a file: artwork for a layer, scenes that one shows, a path, a font, samples of a motion.
Gives = Literal["artwork", "scenes", "path", "font", "samples"]


@dataclass(frozen=True)
class Asset:
    data: bytes
    media: str

    @property
    def hash(self) -> str:
        return hashlib.sha256(self.data).hexdigest()


@dataclass(frozen=True)
class BroughtIn:
    """Artwork that came of a file, the assets it names, and what of the file it does not show, in sentences."""

    artwork: Artwork
    assets: tuple[Asset, ...]
    notes: tuple[str, ...] = ()


@dataclass(frozen=True)
class BroughtScenes:
    """Scenes that came of a file, its picture first; the assets they name, and what of it is not carried."""

    name: Name
    scenes: tuple[Scene, ...]
    assets: tuple[Asset, ...]
    notes: tuple[str, ...] = ()

    @property
    def project(self) -> Project:
        """A project of its own."""
        return Project(name=self.name, scenes=self.scenes)


@dataclass(frozen=True)
class Input:
    """``endings`` are those of its files, ``most`` the bytes one may have. ``knows`` tells by a file's first bytes, and
    its name in small letters, whether it is one; ``read`` reads it, given what else is needed.
    """

    id: str
    label: str
    gives: Gives
    endings: tuple[str, ...]
    most: int
    knows: Callable[[bytes, str], bool]
    read: Callable[..., Any]


INPUTS: Register[Input] = Register("inputs", lambda each: each.id)


def bring_in(data: bytes, file_name: str) -> BroughtIn:
    """Artwork from a file's bytes; Refusal when it is of no kind that gives any, broken, hostile or too large."""
    _refuse_size(data)
    kinds = [each for each in INPUTS.values() if each.gives == "artwork"]
    found = next((each for each in kinds if each.knows(data[:400], file_name.lower())), kinds[-1])
    made: BroughtIn = found.read(data)
    return made


def come_of(data: bytes, file_name: str, prefix: str) -> BroughtIn | BroughtScenes:
    """What a layer can show of a file: artwork, or scenes, whose ids begin with ``prefix``."""
    _refuse_size(data)
    kinds = [each for each in INPUTS.values() if each.gives == "scenes"]
    found = next((each for each in kinds if each.knows(data[:400], file_name.lower())), None)
    if found is None:
        return bring_in(data, file_name)
    made: BroughtScenes = found.read(data, title_of(file_name), prefix)
    return made


def _refuse_size(data: bytes) -> None:
    if not data:
        raise Refusal("This file is empty.")
    if len(data) > limits.MAX_UPLOAD_BYTES:
        raise Refusal(f"This file is larger than {limits.MAX_UPLOAD_BYTES // 1024 // 1024} MiB.")


def title_of(file_name: str) -> Name:
    """What a thing of a file is called first: as the file is, without its ending."""
    return (file_name.rpartition(".")[0] or file_name or "Picture").strip()[: limits.MAX_NAME] or "Picture"


def endings() -> dict[Gives, list[str]]:
    """The endings of files, by what comes of them."""
    out: dict[Gives, list[str]] = {}
    for each in INPUTS.values():
        out.setdefault(each.gives, []).extend(each.endings)
    return out
