"""The project file: a ZIP with ``project.json`` and the assets it names, documented in docs/format.md."""

import hashlib
import re
import zipfile
from collections.abc import Callable
from dataclasses import dataclass
from io import BytesIO
from pathlib import PurePosixPath

import orjson
from pydantic import ValidationError

from deftarc.core import limits
from deftarc.core.document import Logo, Project, assets_of
from deftarc.core.drawing import Bitmap, Group, Node
from deftarc.core.edit import sentence
from deftarc.core.errors import Refusal
from deftarc.formats.bring_in import Asset
from deftarc.formats.fonts import AssetReader, check_font
from deftarc.formats.image import check_picture
from deftarc.formats.materials import parse_drawing

DOCUMENT = "project.json"
_ASSET = re.compile(r'"(?:asset|source)":"([0-9a-f]{64})"')
#: Media types of assets and the endings they have in the file.
ENDINGS = {
    "image/png": ".png",
    "image/jpeg": ".jpg",
    "image/webp": ".webp",
    "image/svg+xml": ".svg",
    "application/vnd.deftarc.drawing": ".json",
    "font/otf": ".otf",
}


@dataclass(frozen=True)
class ProjectFile:
    project: Project
    assets: dict[str, Asset]

    def read_asset(self, name: str) -> bytes:
        return self.assets[name].data


def write_project(project: Project, read_asset: AssetReader, media_of: "dict[str, str]") -> bytes:
    """A project file's bytes. The same project gives the same bytes."""
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:

        def add(name: str, data: bytes) -> None:
            archive.writestr(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), data, zipfile.ZIP_DEFLATED)

        add(DOCUMENT, project.model_dump_json(exclude_defaults=True, indent=1).encode())
        for name in sorted(assets_of(project)):
            add(f"assets/{name}{ENDINGS[media_of[name]]}", read_asset(name))
    return out.getvalue()


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


def read_project(data: bytes) -> ProjectFile:
    """A project and its assets from a file's bytes, everything checked; Refusal with what is wrong."""
    if data[:1] == b"{":
        return _checked(data, {})
    try:
        with zipfile.ZipFile(BytesIO(data)) as archive:
            entries = archive.infolist()
            _check_entries(entries, len(data))
            names = {entry.filename for entry in entries}
            if DOCUMENT not in names:
                raise Refusal("This file is no Deft Arc project: it has no project.json in it.")
            document = archive.read(DOCUMENT)
            assets = {
                PurePosixPath(entry.filename).stem: _asset(PurePosixPath(entry.filename).suffix, archive.read(entry))
                for entry in entries
                if entry.filename.startswith("assets/") and not entry.is_dir()
            }
    except (zipfile.BadZipFile, EOFError, OSError, NotImplementedError, RuntimeError, ValueError) as error:
        if isinstance(error, Refusal):
            raise
        raise Refusal("This project file is damaged or cut short. Copy it again from where it came from.") from None
    except Exception as error:  # zlib.error is no subclass of the above
        if type(error).__name__ == "error":
            raise Refusal("This project file is damaged. Copy it again from where it came from.") from None
        raise
    return _checked(document, assets)


def _check_entries(entries: list[zipfile.ZipInfo], packed: int) -> None:
    if len(entries) > limits.MAX_ARCHIVE_FILES:
        raise Refusal(f"This project file holds more than {limits.MAX_ARCHIVE_FILES:,} files.")
    total = sum(entry.file_size for entry in entries)
    if total > limits.MAX_ARCHIVE_BYTES or total > limits.MAX_ARCHIVE_RATIO * max(packed, 1):
        raise Refusal("This project file unpacks to more than a project can hold.")
    for entry in entries:
        path = PurePosixPath(entry.filename)
        if path.is_absolute() or ".." in path.parts or "\\" in entry.filename:
            raise Refusal("This project file has a file in it that points outside.")


def _asset(ending: str, data: bytes) -> Asset:
    media = next((media for media, known in ENDINGS.items() if known == ending), None)
    if media is None:
        raise Refusal(f"This project file holds an asset of an unknown kind, “{ending[:12]}”.")
    return Asset(data, media)


def _checked(document: bytes, assets: dict[str, Asset]) -> ProjectFile:
    if len(document) > limits.MAX_DOCUMENT_BYTES:
        raise Refusal("This project's document is larger than Deft Arc opens.")
    try:
        project = Project.model_validate_json(document)
    except ValidationError as error:
        raise Refusal(f"This project file does not keep the format: {sentence(error)}.") from None
    for name, asset in assets.items():
        if hashlib.sha256(asset.data).hexdigest() != name:
            raise Refusal("An asset in this project file is damaged: it does not match its name.")
        if asset.media.startswith("image/") and asset.media != "image/svg+xml":
            check_picture(asset.data)
        if asset.media == "font/otf":
            check_font(asset.data)
    needed = assets_of(project)
    artworks = [layer.artwork for scene in project.scenes for layer in scene.layers]
    artworks += [kept.artwork for kept in project.shelf]
    logos = {artwork.asset for artwork in artworks if isinstance(artwork, Logo)}
    missing = needed - assets.keys()
    if missing:
        raise Refusal(f"This project file lacks {len(missing)} of the files its layers are made of.")
    for name in logos:
        for node in parse_drawing(assets[name].data).nodes:
            _refuse_strangers(node, assets)
    return ProjectFile(project, assets)


def _refuse_strangers(node: Node, assets: dict[str, Asset]) -> None:
    if isinstance(node, Group):
        for inner in node.nodes:
            _refuse_strangers(inner, assets)
    elif isinstance(node, Bitmap) and node.asset not in assets:
        raise Refusal("A logo in this project file shows a picture that is not in it.")
