"""A Lottie file as it lies: JSON, or that in its zipped form; looked through for what would take too long."""

import io
import zipfile
import zlib
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import orjson

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal

#: Bytes of JSON that are read, lists and objects within one another, and things in it.
MOST, DEEPEST, MOST_ITEMS = 24 * 1024 * 1024, 60, 1_500_000

Told = dict[str, Any]


@dataclass
class Notes:
    """What of a file is not carried, in sentences, each with how often."""

    counts: dict[str, int] = field(default_factory=dict)

    def add(self, what: str) -> None:
        self.counts[what] = self.counts.get(what, 0) + 1

    @property
    def sentences(self) -> tuple[str, ...]:
        told = (f"{what}{f' ({count} times)' if count > 1 else ''}." for what, count in self.counts.items())
        return tuple(told)[:40]


#: So much of a file tells what it is: a project names its scenes before anything long.
HEAD = 4_096


def is_lottie(head: bytes, path: Path) -> bool:
    """Whether a file is an animation and no project, by its first bytes, or by what is in it where it is zipped."""
    if head[:2] == b"PK":
        try:
            with zipfile.ZipFile(path) as archive:
                names = set(archive.namelist()[: limits.MAX_ARCHIVE_FILES])
        except (zipfile.BadZipFile, OSError, ValueError):
            return False
        return "manifest.json" in names and "project.json" not in names
    start = head.lstrip(b"\xef\xbb\xbf \t\r\n")
    return start.startswith(b"{") and b'"scenes"' not in head


def is_animation(path: Path) -> bool:
    """Whether a file on disk is an animation; whatever else it is, or no file at all, it is none."""
    try:
        with path.open("rb") as file:
            head = file.read(HEAD)
    except OSError:
        return False
    return is_lottie(head, path)


def read_json(data: bytes) -> tuple[Told, dict[str, bytes]]:
    """The animation, and the files that lie beside it in the zipped form, by name; Refusal in a sentence otherwise."""
    beside: dict[str, bytes] = {}
    if data[:2] == b"PK":
        data, beside = _unzipped(data)
    if len(data) > MOST:
        raise Refusal(f"This animation is larger than {MOST // 1024 // 1024} MiB. Take pictures out of it, or cut it.")
    try:
        told = orjson.loads(data)
    except orjson.JSONDecodeError:
        raise Refusal(
            "This file is no JSON that can be read: it is damaged, cut short, or nested too deeply."
        ) from None
    _look_through(told)
    if not isinstance(told, dict) or not isinstance(told.get("layers"), list):
        raise Refusal("This file is no Lottie animation: it has no layers.")
    return told, beside


def _unzipped(data: bytes) -> tuple[bytes, dict[str, bytes]]:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = {each.filename: each for each in archive.infolist() if not each.is_dir()}
            if len(entries) > limits.MAX_ARCHIVE_FILES:
                raise Refusal(f"This animation holds more than {limits.MAX_ARCHIVE_FILES:,} files.")
            if sum(each.file_size for each in entries.values()) > limits.MAX_ARCHIVE_BYTES:
                raise Refusal("This animation unpacks to more than a project can hold.")
            wanted = _first_of(archive, entries)
            if wanted is None:
                raise Refusal("This file is no Lottie animation: there is none in it.")
            files = {name: _unpacked(archive, each) for name, each in entries.items() if name != "manifest.json"}
            return files.pop(wanted), files
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, ValueError):
        raise Refusal("This animation is damaged or cut short. Copy it again from where it came from.") from None


def _first_of(archive: zipfile.ZipFile, entries: dict[str, zipfile.ZipInfo]) -> str | None:
    """The first animation that the manifest names, or else the first there is."""
    names = [name for name in entries if name.startswith(("a/", "animations/")) and name.endswith(".json")]
    try:
        manifest = orjson.loads(_unpacked(archive, entries["manifest.json"]))
        first = str(manifest["animations"][0]["id"])
    except (KeyError, IndexError, TypeError, orjson.JSONDecodeError):
        first = ""
    told = [name for name in names if name.rpartition("/")[2] == f"{first}.json"]
    return next(iter(told or names), None)


def _unpacked(archive: zipfile.ZipFile, entry: zipfile.ZipInfo) -> bytes:
    with archive.open(entry) as packed:
        data = packed.read(limits.MAX_ARCHIVE_BYTES + 1)
    if len(data) > limits.MAX_ARCHIVE_BYTES:
        raise Refusal("This animation unpacks to more than a project can hold.")
    return data


def _look_through(told: Any) -> None:
    """Refusal where it is nested deeper, or has more in it, than is read."""
    count = 0
    level: list[Any] = [told]
    for _depth in range(DEEPEST):
        below: list[Any] = []
        for each in level:
            inside = each.values() if isinstance(each, dict) else each if isinstance(each, list) else ()
            below += [one for one in inside if isinstance(one, dict | list)]
            count += len(inside)
        if count > MOST_ITEMS:
            raise Refusal("This animation has more in it than Deft Arc reads. Simplify it, or take a part of it.")
        if not below:
            return
        level = below
    raise Refusal("This file is nested deeper than Deft Arc reads. Flatten it, and save it again.")


__all__ = ["HEAD", "Notes", "Told", "is_animation", "is_lottie", "read_json"]
