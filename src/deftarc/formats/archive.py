"""The project file: a ZIP with ``project.json`` and the assets it names, documented in docs/format.md.

Files are counted as they unpack, not by what they say of themselves, and assets are checked one after the other, so
that reading takes the memory of the largest.
"""

import hashlib
import re
import zipfile
import zlib
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from io import BytesIO
from pathlib import Path, PurePosixPath
from typing import Any, BinaryIO

import orjson
from pydantic import ValidationError
from pydantic_core import from_json

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer, Project, assets_of
from deftarc.core.document.upgrade import format_of, upgraded_layer, upgraded_project
from deftarc.core.edit import sentence
from deftarc.fonts.shaping import AssetReader
from deftarc.formats.asset_kinds import FONT, PICTURES, SCENES, Wanted, pictures_in, refuse_wrong, wanted_by_project
from deftarc.formats.enclosed import enclosed, is_drawing
from deftarc.formats.materials import parse_drawing
from deftarc.formats.read import Asset
from deftarc.formats.read.font import check_font
from deftarc.formats.read.picture import checked_header

DOCUMENT = "project.json"
#: Bytes beyond which a document is packed quickly.
LONG_DOCUMENT = 4 << 20
_ASSET = re.compile(r'"(?:asset|source)":"([0-9a-f]{64})"')
#: Media types of assets and the endings they have in the file.
ENDINGS = {
    "image/png": ".png",
    "image/jpeg": ".jpg",
    "image/webp": ".webp",
    "image/svg+xml": ".svg",
    "application/vnd.deftarc.drawing": ".json",
    "font/otf": ".otf",
    SCENES: ".scenes",
}
MEDIA = {ending: media for media, ending in ENDINGS.items()}
#: Bytes unpacked between one count and the next.
PIECE = 1 << 18


@dataclass(frozen=True)
class ProjectFile:
    project: Project
    assets: dict[str, Asset]

    def read_asset(self, name: str) -> bytes:
        return self.assets[name].data

    def written(self, project: Project) -> bytes:
        """The bytes of a project file with another state of this project in it."""
        return write_project(project, self.read_asset, {name: asset.media for name, asset in self.assets.items()})


def write_project(project: Project, read_asset: AssetReader, media_of: "dict[str, str]") -> bytes:
    """A project file's bytes. The same project gives the same bytes."""
    document = project.model_dump_json(exclude_defaults=True).encode()
    return write_document([document], {name: (media_of[name], read_asset(name)) for name in assets_of(project)})


def write_document(pieces: Sequence[bytes], assets: "dict[str, tuple[str, bytes]]") -> bytes:
    """A project file's bytes, of its document as JSON in pieces and of its assets: each one's media type and bytes by
    its hash.
    """
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:

        def add(name: str, data: Sequence[bytes], level: int | None = None) -> None:
            entry = zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0))
            archive.writestr(entry, b"".join(data), zipfile.ZIP_DEFLATED, level)

        # A document of millions of numbers packs little better for three times as long.
        add(DOCUMENT, pieces, 1 if sum(map(len, pieces)) > LONG_DOCUMENT else None)
        for name in sorted(assets):
            media, data = assets[name]
            add(f"assets/{name}{ENDINGS[media]}", [data])
    return out.getvalue()


def assets_named(pieces: Sequence[bytes]) -> set[str]:
    """What in a document looks like the name of an asset."""
    return {name for piece in pieces for name in _ASSET.findall(piece.decode())}


def write_as_it_lies(document: dict[str, object], lost: list[str], get: Callable[[str], Asset]) -> bytes:
    """A project file of a document that may not keep the format: nothing is left out that could be read, and
    ``lost.txt`` names what could not.
    """
    text = orjson.dumps(document)
    out, named, gone = BytesIO(), set(_ASSET.findall(text.decode())), list(lost)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(DOCUMENT, text)
        while named:
            name = named.pop()
            try:
                asset = get(name)
            except Refusal:
                gone.append(f"the file {name}")
                continue
            archive.writestr(f"assets/{name}{ENDINGS.get(asset.media, '.bin')}", asset.data)
        if gone:
            archive.writestr("lost.txt", "\n".join(gone))
    return out.getvalue()


@dataclass
class Checked:
    """What is known of the assets read so far: their media types, and what drawings among them name."""

    media: dict[str, str] = field(default_factory=dict)
    wanted: list[Wanted] = field(default_factory=list)

    def add(self, name: str, asset: Asset) -> None:
        """Refusal where an asset is not what its name and ending say."""
        if hashlib.sha256(asset.data).hexdigest() != name:
            raise Refusal("An asset in this project file is damaged: it does not match its name.")
        if asset.media in PICTURES:
            checked_header(asset.data, asset.media)
        elif asset.media == FONT:
            check_font(asset.data)
        elif asset.media == "application/vnd.deftarc.drawing":
            self.wanted += pictures_in(parse_drawing(asset.data).nodes)
        elif asset.media == SCENES:
            read_document(asset.data)
        self.media[name] = asset.media

    def holds(self, project: Project) -> None:
        """Refusal where a project names what is not here, or not of the kind it has to be."""
        missing = assets_of(project) - self.media.keys()
        if missing:
            raise Refusal(f"This project file lacks {len(missing)} of the files its layers are made of.")
        if any(name not in self.media for name, _ in self.wanted):
            raise Refusal("A logo in this project file shows a picture that is not in it.")
        refuse_wrong([*wanted_by_project(project), *self.wanted], self.media)


def read_project(data: bytes) -> ProjectFile:
    """A project and its assets from a file's bytes, everything checked; Refusal with what is wrong."""
    found, assets = Checked(), dict[str, Asset]()
    if is_drawing(data[:400]):
        data = enclosed(data)
    if data[:1] == b"{":
        project = read_document(data)
    else:
        with opened(BytesIO(data)) as archive:
            project = read_document(archive.document)
            for name, asset in archive.assets():
                found.add(name, asset)
                assets[name] = asset
    found.holds(project)
    return ProjectFile(project, assets)


def read_document(data: bytes) -> Project:
    try:
        return Project.model_validate(upgraded_project(from_json(data, allow_inf_nan=False)))
    except ValidationError as error:
        raise Refusal(f"This project file does not keep the format: {sentence(error)}.") from None
    except ValueError as error:
        raise _no_json(error) from None


def _no_json(error: ValueError) -> Refusal:
    if isinstance(error, Refusal):
        return error
    return Refusal("This project file does not keep the format: its project.json is no JSON.")


def document_by_layers(data: bytes, keep: Callable[[Layer], None]) -> Project:
    """As ``read_document``, but each layer is handed on as soon as it is read, and comes back without its tracks: a
    project of a million keys is then never in memory as a whole.
    """
    try:
        told: Any = from_json(data, allow_inf_nan=False)
        if not isinstance(told, dict):
            raise Refusal("This project file does not keep the format: it is no project.")
        since = format_of(told)
        scenes = told.get("scenes")
        if not isinstance(scenes, list) or len(scenes) > limits.MAX_SCENES:
            return read_document(data)
        for scene in scenes:
            rows = scene.get("layers") if isinstance(scene, dict) else None
            if not isinstance(rows, list) or len(rows) > limits.MAX_LAYERS:
                continue
            for k in range(len(rows)):
                layer = Layer.model_validate(upgraded_layer(rows[k], since))
                keep(layer)
                rows[k] = layer.changed(tracks={})
        return Project.model_validate(upgraded_project(told))
    except ValidationError as error:
        raise Refusal(f"This project file does not keep the format: {sentence(error)}.") from None
    except ValueError as error:
        raise _no_json(error) from None


@dataclass
class Archive:
    """An opened project file. Its assets are unpacked as they are asked for, and counted together."""

    zip: zipfile.ZipFile
    entries: list[zipfile.ZipInfo]
    document: bytes
    unpacked: int = 0

    def assets(self) -> Iterator[tuple[str, Asset]]:
        for entry in self.entries:
            if not entry.filename.startswith("assets/") or entry.is_dir():
                continue
            path = PurePosixPath(entry.filename)
            media = MEDIA.get(path.suffix)
            if media is None:
                raise Refusal(f"This project file holds an asset of an unknown kind, “{path.suffix[:12]}”.")
            data = _unpacked(self.zip, entry, limits.MAX_UPLOAD_BYTES + limits.MAX_FONT_UNPACKED)
            self.unpacked += len(data)
            if self.unpacked > limits.MAX_ARCHIVE_BYTES:
                raise Refusal("This project file unpacks to more than a project can hold.")
            yield path.stem, Asset(data, media)


@contextmanager
def opened(source: BinaryIO | Path) -> Iterator[Archive]:
    """A project file whose entries keep the limits; Refusal, then or while it is read, where it is damaged."""
    try:
        with zipfile.ZipFile(source) as archive:
            entries = archive.infolist()
            _check_entries(entries)
            document = next((entry for entry in entries if entry.filename == DOCUMENT), None)
            if document is None:
                raise Refusal("This file is no Deft Arc project: it has no project.json in it.")
            yield Archive(archive, entries, _unpacked(archive, document, limits.MAX_DOCUMENT_BYTES))
    except Refusal:
        raise
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError, NotImplementedError, RuntimeError, ValueError):
        raise Refusal("This project file is damaged or cut short. Copy it again from where it came from.") from None


def _unpacked(archive: zipfile.ZipFile, entry: zipfile.ZipInfo, most: int) -> bytes:
    """An entry's bytes, counted as they unpack."""
    out = bytearray()
    with archive.open(entry) as packed:
        while piece := packed.read(PIECE):
            out += piece
            if len(out) > most:
                raise Refusal("This project file unpacks to more than a project can hold.")
    return bytes(out)


def _check_entries(entries: list[zipfile.ZipInfo]) -> None:
    if len(entries) > limits.MAX_ARCHIVE_FILES:
        raise Refusal(f"This project file holds more than {limits.MAX_ARCHIVE_FILES:,} files.")
    if sum(entry.file_size for entry in entries) > limits.MAX_ARCHIVE_BYTES:
        raise Refusal("This project file unpacks to more than a project can hold.")
    for entry in entries:
        if entry.compress_type not in (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED):
            # Others unpack a piece at a time that can be of any size.
            raise Refusal("This project file is packed in a way that is not taken. Pack it as plain ZIP.")
        path = PurePosixPath(entry.filename)
        if path.is_absolute() or ".." in path.parts or "\\" in entry.filename:
            raise Refusal("This project file has a file in it that points outside.")


__all__ = [
    "Archive", "Checked", "ProjectFile", "assets_named", "document_by_layers", "opened", "read_document",
    "read_project", "write_as_it_lies", "write_document", "write_project",
]  # fmt: skip
