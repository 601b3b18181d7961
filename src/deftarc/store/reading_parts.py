"""Parts read back into a document; what of it cannot be read stands as something empty that says so."""

import logging
import re
import sqlite3
from contextlib import suppress
from hashlib import blake2b
from itertools import chain
from typing import Any

import orjson
from pydantic import TypeAdapter
from sqlalchemy.exc import SQLAlchemyError

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import READ
from deftarc.core.document import KINDS, Carrier, Layer, Project, Scene
from deftarc.core.document.artwork import Artwork
from deftarc.core.document.keys import BlendKey, NumberKey, PathKey
from deftarc.core.document.links import Link
from deftarc.core.document.motion import SavedMotion
from deftarc.core.document.reactions import Reacting
from deftarc.core.document.soundness import row_adapter, sound
from deftarc.core.document.takes import Take, TakenLayer, TakeSet
from deftarc.core.document.upgrade import (
    FORMAT,
    What,
    format_of,
    upgrade,
    upgraded_motion,
    upgraded_reactions,
    upgraded_track,
)
from deftarc.core.spaces.points import PathPoint
from deftarc.store.parts import STRETCH, Known, PartIndex, PartReader, named, text_of

log = logging.getLogger(__name__)
#: What a part that is not what it should be can raise; a Refusal is a ValueError, too.
UNREADABLE = (ValueError, LookupError, TypeError, AttributeError, SQLAlchemyError, sqlite3.Error)
_ARTWORK: TypeAdapter[Any] = TypeAdapter(Artwork, config=READ)
_LINKS: TypeAdapter[Any] = TypeAdapter(dict[str, Link], config=READ)
_REACTIONS: TypeAdapter[Any] = TypeAdapter(dict[str, Reacting], config=READ)
_KEYS = {"number": NumberKey, "path": PathKey, "colour": BlendKey, "outline": BlendKey}


class Reading:
    """Reads documents out of their parts; what the index knows is not read again."""

    def __init__(self, index: PartIndex, reader: PartReader) -> None:
        self.index, self.reader = index, reader

    def text(self, name: str) -> bytes:
        return text_of(self.reader(name), name)

    def _remember(self, thing: Any, name: str, size: int, text: bytes = b"", parts: tuple[Known, ...] = ()) -> Known:
        known = Known(thing, name, size, text, parts)
        self.index.remember(known)
        return known

    def project(self, root: str) -> Project:
        found = self.index.named(root)
        if found is not None and isinstance(found.thing, Project):
            return found.thing
        text = self.text(root)
        data = orjson.loads(text)
        since = format_of(data)
        data = upgrade("project", data, since)
        for kept in data.get("shelf", ()) if since != FORMAT else ():
            kept["artwork"] = upgrade("artwork", kept["artwork"], since)
        scenes = [self.scene(name) for name in data["scenes"]]
        motions = self._motions(data.pop("motions", ()))
        head = Project(**{**data, "format": FORMAT, "scenes": tuple(scene.thing for scene in scenes)})
        project = head.changed(motions=tuple(known.thing for known in motions)) if motions else head
        self._remember(project, root, len(text) + sum(known.size for known in (*scenes, *motions)))
        return project

    def _motions(self, names: list[str]) -> list[Known]:
        """The saved motions of a project; what cannot be read is left out: the rest still opens."""
        out = []
        for name in names:
            found = self.index.named(name)
            try:
                if found is None or not isinstance(found.thing, SavedMotion):
                    text = self.text(name)
                    data = orjson.loads(text)
                    data = upgraded_motion(data, format_of(data))
                    data.pop("format", None)
                    found = self._remember(SavedMotion(**data), name, len(text))
                out.append(found)
            except UNREADABLE as error:
                log.error("the part %s of a saved motion cannot be read: %s", name, error)
        return out

    def scene(self, name: str) -> Known:
        found = self.index.named(name)
        if found is not None and isinstance(found.thing, Scene):
            return found
        text = self.text(name)
        data = orjson.loads(text)
        data = upgrade("scene", data, format_of(data))
        data.pop("format", None)
        names, size = layer_names(data, self.text)
        known = self.index.named
        layers = [known(each) or self.layer(each) for each in names]
        # Each layer is sound by itself; what they have to be together is asked for all of them once.
        held = _held_together([layer.thing for layer in layers])
        takes = [self._takes(told) for told in data.pop("takes", ())]
        size += sum(known.size for _, every in takes for known in every)
        head = Scene(**{**data, "layers": ()}).changed(takes=tuple(each for each, _ in takes))
        scene = sound(head.changed(layers=held))
        return self._remember(scene, name, len(text) + size + sum(layer.size for layer in layers))

    def _takes(self, told: dict[str, Any]) -> tuple[TakeSet, list[Known]]:
        """A set of takes, and the parts it names. What of it cannot be read is left out: the rest still opens."""
        every: list[Known] = []
        takes = []
        for take in told["takes"]:
            here = []
            for name in take["layers"]:
                try:
                    here.append(self._taken(name))
                except UNREADABLE as error:
                    log.error("the part %s of a take cannot be read: %s", name, error)
            every += here
            takes.append(Take(**{**take, "layers": ()}).changed(layers=tuple(known.thing for known in here)))
        return TakeSet(**{**told, "takes": tuple(takes)}), every

    def _taken(self, name: str) -> Known:
        found = self.index.named(name)
        if found is not None and isinstance(found.thing, TakenLayer):
            return found
        text = self.text(name)
        data = orjson.loads(text)
        since = format_of(data)
        data = upgrade("taken", data, since)
        data.pop("format", None)
        tracks = {key: self._track(each, since) for key, each in data.get("tracks", {}).items()}
        made = TakenLayer(**{**data, "tracks": {}}).changed(tracks={key: each.thing for key, each in tracks.items()})
        size = sum(track.size - len(track.text) for track in tracks.values())
        return self._remember(made, name, len(text) + size)

    def layer(self, name: str) -> Known:
        """A stored layer; one that cannot be read as an empty carrier that says so, in the place of what it was.

        It keeps its part's name, so what is stored stays as it lies until somebody replaces it.
        """
        found = self.index.named(name)
        if found is not None and isinstance(found.thing, Layer):
            return found
        text = b""
        try:
            text = self.text(name)
            data = orjson.loads(text)
            since = format_of(data)
            data = upgrade("layer", data, since)
            data.pop("format", None)
            artwork = self._artwork(data["artwork"], since)
            tracks = {key: self._track(told, since) for key, told in data.get("tracks", {}).items()}
            # What its properties follow and answer may be ones of its artwork, which the head has not.
            links = _LINKS.validate_python(data.pop("links", {}))
            reactions = _REACTIONS.validate_python(upgraded_reactions(data.pop("reactions", {}), since))
            head = Layer(**{**data, "artwork": Carrier(), "tracks": {}})
            layer = head.changed(
                artwork=artwork.thing, tracks={key: track.thing for key, track in tracks.items()},
                links=links, reactions=reactions,
            )  # fmt: skip
            size = sum(track.size - len(track.text) for track in tracks.values())
            size += 0 if artwork.text else artwork.size
            return self._remember(sound(layer), name, len(text) + size)
        except UNREADABLE as error:
            log.error("layer part %s cannot be read: %s", name, error)
            return self._remember(stand_in(name, text), name, len(text))

    def _inline(self, thing: Any, since: int, size: int, text: bytes, parts: tuple[Known, ...] = ()) -> Known:
        """What lies in the text of what has it. In an older format it is not remembered: it will be written anew."""
        name = named(text)
        return self._remember(thing, name, size, text, parts) if since == FORMAT else Known(thing, name, size, text)

    def _artwork(self, told: dict[str, Any], since: int) -> Known:
        part = told.get("part")
        if part is not None:
            found = self.index.named(str(part))
            if found is None:
                whole = self.text(str(part))
                data = orjson.loads(whole)
                data = upgrade("artwork", data, format_of(data))
                data.pop("format", None)
                found = self._remember(_ARTWORK.validate_python(data), str(part), len(whole))
            return found
        text = orjson.dumps(told)
        found = self.index.named(named(text)) if since == FORMAT else None
        if found is None:
            artwork = _ARTWORK.validate_python(upgrade("artwork", told, since))
            found = self._inline(artwork, since, len(text), text)
        return found

    def _track(self, told: dict[str, Any], since: int) -> Known:
        text = orjson.dumps(told)
        found = self.index.named(named(text)) if since == FORMAT else None
        if found is None:
            told = upgraded_track(told, since)
            kind, all_parts, rows = told["kind"], list[Known](), dict[str, Any]()
            entries: dict[What, Any] = {"keys": _KEYS[kind], **({"points": PathPoint} if kind == "path" else {})}
            for row, entry in entries.items():
                if isinstance(told.get(row), dict):
                    parts = [self._stretch(part, row, entry) for part in told[row]["parts"]]
                    rows[row] = tuple(chain.from_iterable(part.thing for part in parts))
                    all_parts += parts
                elif row in told:
                    rows[row] = row_adapter(entry).validate_python(told[row])
            if any(len(row) > limits.MAX_KEYS_PER_LANE for row in rows.values()):
                raise ValueError("a lane has too many keys")
            # Each entry is sound by itself; what they have to be together is asked for all of them once.
            head = KINDS[kind](**{key: each for key, each in told.items() if key not in (*rows, "closed")})
            if told.get("closed") is True:
                rows["closed"] = True
            size = len(text) + sum(part.size for part in all_parts)
            found = self._inline(sound(head.changed(**rows)), since, size, text, tuple(all_parts))
        return found

    def _stretch(self, name: str, row: What, entry: type) -> Known:
        found = self.index.named(name)
        if found is None:
            text = self.text(name)
            if text.startswith(STRETCH):
                rows = row_adapter(entry).validate_json(text[len(STRETCH) : -1])
            else:
                rows = row_adapter(entry).validate_python(rows_of(row, text))
            found = self._remember(rows, name, len(text))
        return found


def rows_of(what: What, text: bytes) -> Any:
    """The rows of a stretch as they are written now; in the first format a stretch was its rows alone."""
    data = orjson.loads(text)
    return upgrade(what, data["rows"] if isinstance(data, dict) else data, format_of(data))


def layer_names(data: dict[str, Any], text: "Any") -> tuple[list[str], int]:
    """The parts of a scene's layers, and the letters their lists take."""
    told = data["layers"]
    if isinstance(told, list):
        return told, 0
    texts = [text(part) for part in told["parts"]]
    return [name for each in texts for name in rows_of("names", each)], sum(map(len, texts))


def is_stand_in(layer: Layer) -> bool:
    return layer.name.startswith("Damaged: ") and isinstance(layer.artwork, Carrier) and layer.locked


def stand_in(name: str, text: bytes) -> Layer:
    """What stands for a layer's part that cannot be read."""
    told: dict[str, Any] = {}
    with suppress(Exception):
        told = dict(orjson.loads(text))
    own = told.get("id")
    sound = isinstance(own, str) and re.fullmatch("[a-z0-9]{1,24}", own)
    made = own if sound else blake2b(name.encode(), digest_size=5).hexdigest()
    title = str(told.get("name") or "a layer")[:80]
    return Layer(id=made, name=f"Damaged: {title}", artwork=Carrier(), locked=True, reference=True)


def _held_together(layers: list[Layer]) -> tuple[Layer, ...]:
    """Layers whose parents, and what they follow, are all there: where a damaged one took its name with it, what it
    carried stands alone, what followed it rests, and what showed through it shows.
    """
    here = {layer.id for layer in layers}
    seen = {layer.id for layer in layers if layer.group or not layer.artwork.empty}
    out = []
    for layer in layers:
        if layer.parent is not None and layer.parent not in here:
            layer = layer.changed(parent=None, later=None)
        if any(link.source.layer not in here for link in layer.links.values()):
            layer = layer.changed(links={n: x for n, x in layer.links.items() if x.source.layer in here})
        if any(each.reaction.source.layer not in here for each in layer.reactions.values()):
            still = {n: x for n, x in layer.reactions.items() if x.reaction.source.layer in here}
            layer = layer.changed(reactions=still)
        if layer.matte is not None and layer.matte.layer not in seen:
            layer = layer.changed(matte=None)
        out.append(layer)
    return tuple(out)


def children(text: bytes) -> list[str]:
    """The names of the parts that a part names itself."""
    data = orjson.loads(text)
    rows = data.get("rows") if isinstance(data, dict) else data
    if isinstance(rows, list):
        return [each for each in rows if isinstance(each, str)]
    out: list[str] = [*data.get("scenes", ()), *data.get("motions", ())]
    told = data.get("layers", ())
    out += told["parts"] if isinstance(told, dict) else told
    out += [name for each in data.get("takes", ()) for take in each["takes"] for name in take["layers"]]
    artwork = data.get("artwork")
    if isinstance(artwork, dict) and "part" in artwork:
        out.append(artwork["part"])
    for track in data.get("tracks", {}).values():
        for row in ("keys", "points"):
            if isinstance(track.get(row), dict):
                out += track[row]["parts"]
    return out


def as_it_lies(root: str, reader: PartReader) -> tuple[dict[str, Any], list[str]]:
    """A document as its parts have it, unchecked, and what of it could not be found, in words."""
    lost: list[str] = []

    def part(name: str, what: str) -> Any:
        try:
            data = orjson.loads(text_of(reader(name), name))
            # The document says its format once, unless a part of it was kept in another one.
            if isinstance(data, dict) and name != root and data.get("format") == FORMAT:
                del data["format"]
            return data
        except (*UNREADABLE, Refusal):
            lost.append(what)
            return None

    def rows(told: Any, what: str) -> Any:
        if not isinstance(told, dict):
            return told
        read = [part(name, what) or () for name in told["parts"]]
        return [each for one in read for each in (one["rows"] if isinstance(one, dict) else one)]

    document = part(root, "the project itself") or {"format": FORMAT, "name": "Damaged", "scenes": []}
    scenes = []
    for scene_name in document.get("scenes", ()):
        scene = part(scene_name, "a scene")
        if scene is None:
            continue
        layers = []
        for name in rows(scene.get("layers", []), f"layers of {scene.get('name')}"):
            layer = part(name, f"a layer of {scene.get('name')}")
            if layer is None:
                continue
            if "part" in layer.get("artwork", {}):
                layer["artwork"] = part(layer["artwork"]["part"], f"the artwork of {layer.get('name')}")
            for track in layer.get("tracks", {}).values():
                for row in ("keys", "points"):
                    if row in track:
                        track[row] = rows(track[row], f"keys of {layer.get('name')}")
            layers.append(layer)
        for take in (take for each in scene.get("takes", ()) for take in each["takes"]):
            take["layers"] = [
                told for name in take["layers"] if (told := part(name, f"the take {take['name']}")) is not None
            ]
            for track in (track for told in take["layers"] for track in told.get("tracks", {}).values()):
                for row in ("keys", "points"):
                    if row in track:
                        track[row] = rows(track[row], f"keys of the take {take['name']}")
        scenes.append({**scene, "layers": layers})
    if document.get("motions"):
        read = [part(name, "a saved motion") for name in document["motions"]]
        document["motions"] = [each for each in read if each is not None]
    return {**document, "scenes": scenes}, lost


__all__ = ["UNREADABLE", "Reading", "as_it_lies", "children", "is_stand_in", "layer_names", "stand_in"]
