"""A document's JSON put together of its parts as they are stored, without making anything of them: a project of many
keys is written out in a fraction of the time that it takes to open it.
"""

from collections.abc import Iterator
from typing import Any

import orjson

from deftarc.core.document.upgrade import FORMAT
from deftarc.store.parts import PartReader, text_of

_ROWS = b'{"format":%d,"rows":[' % FORMAT
_OWN = b'{"format":%d,' % FORMAT


class NotSo(Exception):
    """Something of it is of another format, is not there, or is not what it should be: it has to be opened."""


def spliced(root: str, reader: PartReader) -> Iterator[bytes]:
    """The document of a root, a layer at a time, as ``Project.model_dump_json(exclude_defaults=True)`` has it but for
    the order of fields. NotSo, at any time, where that cannot be told without reading it.
    """
    parts = _Parts(reader)
    document = parts.data(root)
    scenes = document.pop("scenes", [])
    if document.get("motions"):
        document["motions"] = [orjson.Fragment(parts.plain(name)) for name in document["motions"]]
    yield orjson.dumps(document)[:-1] + b',"scenes":['
    for n, name in enumerate(scenes):
        scene = parts.data(name)
        layers = parts.names(scene.pop("layers", []))
        for take in (take for each in scene.get("takes", ()) for take in each["takes"]):
            take["layers"] = [orjson.Fragment(parts.layer(each)) for each in take["layers"]]
        scene.pop("format", None)
        yield (b"," if n else b"") + orjson.dumps(scene)[:-1] + b',"layers":['
        for k, each in enumerate(layers):
            yield (b"," if k else b"") + parts.layer(each)
        yield b"]}"
    yield b"]}"


def first_scene(root: str, reader: PartReader) -> tuple[dict[str, Any], int]:
    """A document's first scene without its layers, and how many scenes it has. NotSo where these cannot be read."""
    parts = _Parts(reader)
    names = parts.data(root)["scenes"]
    scene = parts.data(names[0])
    shown = ("id", "name", "width", "height", "rate", "frames")
    head: dict[str, Any] = {name: scene[name] for name in shown if name in scene}
    return head, len(names)


def look_through(root: str, reader: PartReader) -> None:
    """Looks at every part of a document. NotSo where one is not as it should be."""
    for _ in spliced(root, reader):
        pass


class _Parts:
    def __init__(self, reader: PartReader) -> None:
        self.reader = reader

    def text(self, name: str) -> bytes:
        try:
            return text_of(self.reader(name), name)
        except (LookupError, ValueError, TypeError) as error:
            raise NotSo(name) from error

    def data(self, name: str) -> dict[str, Any]:
        """A part that says its format, which has to be the present one."""
        data = orjson.loads(self.text(name))
        if not isinstance(data, dict) or data.get("format") != FORMAT:
            raise NotSo(name)
        return data

    def plain(self, name: str) -> bytes:
        """A part's text without its format."""
        text = self.text(name)
        if text.startswith(_OWN):
            return b"{" + text[len(_OWN) :]
        data = self.data(name)
        del data["format"]
        return orjson.dumps(data)

    def rows(self, name: str) -> bytes:
        """The entries of a stretch of keys or points, parted by commas."""
        text = self.text(name)
        if not text.startswith(_ROWS) or not text.endswith(b"]}"):
            raise NotSo(name)
        return text[len(_ROWS) : -2]

    def names(self, stored: Any) -> list[str]:
        if not isinstance(stored, dict):
            return list(stored)
        return [each for part in stored["parts"] for each in self.data(part)["rows"]]

    def layer(self, name: str) -> bytes:
        """A layer, or its timing in a take, with its keys in it."""
        data = self.data(name)
        del data["format"]
        artwork = data.get("artwork")
        if isinstance(artwork, dict) and "part" in artwork:
            data["artwork"] = orjson.Fragment(self.plain(artwork["part"]))
        for track in data.get("tracks", {}).values():
            for row in ("keys", "points"):
                if isinstance(track.get(row), dict):
                    track[row] = orjson.Fragment(b"[" + b",".join(map(self.rows, track[row]["parts"])) + b"]")
        return orjson.dumps(data)
