"""A document as content-addressed parts: a root that names scenes, a scene its layers, a layer what of it is long.

An edit writes only the parts it changed: what the new document shares with the old one by identity keeps its
hash without being looked at. Long rows (keys, points, a scene's layers) are kept in *stretches* of some dozen, cut
where the hash of an entry says so: a key put in or taken away moves no other cut, so a lane of thousands costs an
edit one stretch. Hashes are BLAKE2b of 15 bytes in base64, 20 letters.

What is written is known to the index only once it is on disk: see ``Written``.
"""

import zlib
from base64 import urlsafe_b64encode
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from hashlib import blake2b
from operator import is_
from typing import Any

import orjson

from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.keys import KeyBase
from deftarc.core.document.motion import SavedMotion
from deftarc.core.document.soundness import row_adapter
from deftarc.core.document.takes import TakenLayer, TakeSet
from deftarc.core.document.upgrade import FORMAT
from deftarc.core.spaces.points import PathPoint

#: Hands over a part's body by its hash; LookupError where there is none.
PartReader = Callable[[str], bytes]
#: Rows of so many entries stay where they are; a stretch has at least LEAST and at most MOST.
SHORT, LEAST, MOST = 64, 16, 256
#: How hard parts are compressed: harder takes twice as long, and makes them a tenth smaller.
QUICK = 1
#: Artwork of more letters than this is a part of its own.
LONG_ARTWORK = 1_500
#: A document of no more than this is known without ever being tidied.
FEW = 400


def named(text: bytes) -> str:
    return urlsafe_b64encode(blake2b(text, digest_size=15).digest()).decode()


def text_of(body: bytes, name: str) -> bytes:
    """A part's text; ValueError where it is not what its name says."""
    try:
        text = zlib.decompress(body)
    except zlib.error as error:
        raise ValueError(str(error)) from None
    if named(text) != name:
        raise ValueError("a part is not what its name says")
    return text


@dataclass(frozen=True, eq=False)
class Known:
    """A thing that is stored: its part's name, how many letters it takes with all that it names, where it is no part
    of its own its text, and the stretches it names.
    """

    thing: Any
    name: str
    size: int
    text: bytes = b""
    parts: "tuple[Known, ...]" = ()


@dataclass
class Written:
    """What is to be stored for a document. ``keep`` it in the index when it is."""

    root: str
    size: int
    bodies: dict[str, bytes]
    known: list[Known]


class PartIndex:
    """Remembers which object has which hash, for the documents that went through it."""

    def __init__(self) -> None:
        self._by_object: dict[int, Known] = {}
        self._by_hash: dict[str, Known] = {}
        #: How much it knew when it was last tidied.
        self._tidied: int | None = None

    def known(self, thing: object) -> Known | None:
        """What is known of an object; of a row of entries, by the entries."""
        if isinstance(thing, tuple):
            found = self._by_object.get(id(thing[0]) ^ 1)
            same = found is not None and len(found.thing) == len(thing) and all(map(is_, found.thing, thing))
            return found if same else None
        found = self._by_object.get(id(thing))
        return found if found is not None and found.thing is thing else None

    def remember(self, known: Known) -> None:
        self._by_object[_key(known.thing)] = known
        self._by_hash[known.name] = known

    def named(self, name: str) -> Known | None:
        return self._by_hash.get(name)

    def keep(self, written: Written) -> None:
        """Takes over what is on disk now."""
        for known in written.known:
            self.remember(known)

    def forget(self, known: Known) -> None:
        if self._by_hash.get(known.name) is known:
            del self._by_hash[known.name]
        if self._by_object.get(_key(known.thing)) is known:
            del self._by_object[_key(known.thing)]

    def replace(self, before: Project, after: Project) -> None:
        """Forgets what only ``before`` had, so that a long day's work takes no more memory than a short one's."""
        if before is after:
            return
        scenes = {scene.id: scene for scene in after.scenes}
        gone: list[tuple[object, object]] = [(before, None)]
        still = {id(motion) for motion in after.motions}
        gone += [(motion, None) for motion in before.motions if id(motion) not in still]
        for old in before.scenes:
            new = scenes.get(old.id)
            if new is not old:
                gone.append((old, None))
                layers = {layer.id: layer for layer in new.layers} if new is not None else {}
                for layer in old.layers:
                    if layers.get(layer.id) is not layer:
                        gone += _replaced(layer, layers.get(layer.id))
        for thing, heir in gone:
            found, now = self.known(thing), self.known(heir)
            if found is not None:
                self.forget(found)
                kept = {id(part) for part in now.parts} if now is not None else set()
                for part in found.parts:
                    if id(part) not in kept:
                        self.forget(part)

    def keep_only(self, project: Project) -> None:
        """Forgets what is not part of a document, when as much again has gathered."""
        if self._tidied is None:
            self._tidied = len(self._by_hash)
        if len(self._by_hash) < 2 * self._tidied + FEW:
            return
        here = [found for thing in _things(project) if (found := self.known(thing)) is not None]
        self._by_object.clear()
        self._by_hash.clear()
        for known in here:
            self.remember(known)
        self._tidied = len(here)

    def write(self, project: Project) -> Written:
        writer = Writer(self)
        root = writer.project(project)
        return Written(root.name, root.size, writer.bodies, writer.made)


def _replaced(old: Layer, new: Layer | None) -> Iterator[tuple[object, object]]:
    """What of a layer another one has not, each with what took its place."""
    yield old, None
    if new is None or new.artwork is not old.artwork:
        yield old.artwork, None
    for name, track in old.tracks.items():
        heir = new.tracks.get(name) if new is not None else None
        if heir is not track:
            yield track, heir


def _key(thing: object) -> int:
    # A row is found by its first entry, whose own number another thing may have.
    return id(thing[0]) ^ 1 if isinstance(thing, tuple) else id(thing)


def _things(project: Project) -> Iterator[object]:
    yield project
    yield from project.motions
    for scene in project.scenes:
        yield scene
        yield from scene.layers
        yield from (told for each in scene.takes for take in each.takes for told in take.layers)
        for layer in scene.layers:
            yield layer.artwork
            for track in layer.tracks.values():
                yield track
                for rows in (track.keys, getattr(track, "points", ())):
                    if len(rows) > SHORT:
                        yield from stretches(rows)


def _weight(entry: object) -> int:
    value = getattr(entry, "value", 0)
    return 1 + len(value) // 4 if isinstance(value, tuple) else 1


def _mark(entry: object) -> int:
    if isinstance(entry, KeyBase):
        return entry.time
    return hash((entry.x, entry.y)) if isinstance(entry, PathPoint) else int.from_bytes(str(entry).encode()[:8])


def stretches(rows: Sequence[Any]) -> Iterator[tuple[Any, ...]]:
    """A row in stretches, cut after entries whose own hash says so, so that cuts stay where they are."""
    start = weight = 0
    heavy = _heavy(rows[0])
    for k, entry in enumerate(rows):
        weight += _weight(entry) if heavy else 1
        if weight >= MOST or (weight >= LEAST and (_mark(entry) // 64 * 0x9E3779B1 & 0xFFFFFFFF) >> 27 == 0):
            yield tuple(rows[start : k + 1])
            start, weight = k + 1, 0
    if start < len(rows):
        yield tuple(rows[start:])


def _heavy(entry: object) -> bool:
    return isinstance(entry, KeyBase) and isinstance(entry.__dict__.get("value"), tuple)


def _long(rows: Sequence[Any]) -> bool:
    if len(rows) > SHORT or not rows:
        return bool(rows)
    return _heavy(rows[0]) and sum(map(_weight, rows)) > SHORT * 4


@dataclass
class Writer:
    """Gathers the bodies of a document's parts that the index does not know."""

    index: PartIndex
    bodies: dict[str, bytes] = field(default_factory=dict)
    made: list[Known] = field(default_factory=list)
    _own: dict[int, Known] = field(default_factory=dict)

    def forget(self) -> None:
        """Lets go of the things written so far; their bodies stay."""
        self._own.clear()
        self.made.clear()

    def _known(self, thing: object) -> Known | None:
        found = self.index.known(thing)
        if found is None:
            found = self._own.get(_key(thing))
            if isinstance(thing, tuple) and found is not None and found.thing != thing:
                found = None
        return found

    def _make(
        self, thing: Any, text: bytes, size: int = 0, inline: bool = False, parts: tuple[Known, ...] = ()
    ) -> Known:
        known = Known(thing, named(text), len(text) + size, text if inline else b"", parts)
        if not inline:
            self.bodies[known.name] = zlib.compress(text, QUICK)
        self.made.append(known)
        self._own[_key(thing)] = known
        return known

    def _rows(self, rows: tuple[Any, ...]) -> tuple[Any, list[Known]]:
        """What stands for a row in the text of what has it, and the parts it names."""
        if not _long(rows):
            return orjson.Fragment(_row_text(rows)), []
        parts = [self._known(each) or self._make(each, _stretch_text(_row_text(each))) for each in stretches(rows)]
        return {"parts": [part.name for part in parts]}, parts

    def _track(self, track: Any) -> Known:
        found = self._known(track)
        if found is None:
            told = track.model_dump(mode="json", exclude_defaults=True, exclude={"keys", "points"})
            parts: list[Known] = []
            for name in ("keys", "points"):
                if rows := track.__dict__.get(name, ()):
                    told[name], more = self._rows(rows)
                    parts += more
            size = sum(part.size for part in parts)
            found = self._make(track, orjson.dumps(told), size, inline=True, parts=tuple(parts))
        return found

    def _artwork(self, artwork: Any) -> Known:
        found = self._known(artwork)
        if found is None:
            text = artwork.model_dump_json(exclude_defaults=True).encode()
            inline = len(text) <= LONG_ARTWORK
            found = self._make(artwork, text if inline else b'{"format":%d,' % FORMAT + text[1:], inline=inline)
        return found

    def layer(self, layer: Layer) -> Known:
        found = self._known(layer)
        if found is None:
            told = layer.model_dump(mode="json", exclude_defaults=True, exclude={"tracks", "artwork"})
            artwork = self._artwork(layer.artwork)
            told |= {"format": FORMAT, "id": layer.id}
            told["artwork"] = orjson.Fragment(artwork.text) if artwork.text else {"part": artwork.name}
            tracks = {name: self._track(track) for name, track in layer.tracks.items()}
            if tracks:
                told["tracks"] = {name: orjson.Fragment(track.text) for name, track in tracks.items()}
            size = sum(track.size - len(track.text) for track in tracks.values())
            found = self._make(layer, orjson.dumps(told), size + (0 if artwork.text else artwork.size))
        return found

    def taken(self, told: TakenLayer) -> Known:
        """A layer's timing in a take: a part of its own."""
        found = self._known(told)
        if found is None:
            head = told.model_dump(mode="json", exclude_defaults=True, exclude={"tracks"})
            tracks = {name: self._track(track) for name, track in told.tracks.items()}
            rows = {name: orjson.Fragment(track.text) for name, track in tracks.items()}
            text = orjson.dumps({"format": FORMAT, **head, "tracks": rows})
            found = self._make(told, text, sum(track.size - len(track.text) for track in tracks.values()))
        return found

    def _takes(self, told: TakeSet) -> dict[str, Any]:
        """What stands for a set of takes in its scene's part: each layer in each by its part's name."""
        head = told.model_dump(mode="json", exclude={"takes"})
        takes = [
            {"id": take.id, "name": take.name, "layers": [self.taken(each).name for each in take.layers]}
            for take in told.takes
        ]
        return {**head, "takes": takes}

    def scene(self, scene: Scene, layers: Iterable[Known]) -> Known:
        """A scene's part, from its head and the parts of its layers."""
        told = scene.model_dump(mode="json", exclude_defaults=True, exclude={"layers", "takes"})
        layers = list(layers)
        names: Any = [layer.name for layer in layers]
        size = sum(layer.size for layer in layers)
        if scene.takes:
            told["takes"] = [self._takes(each) for each in scene.takes]
            size += sum(self.taken(x).size for each in scene.takes for take in each.takes for x in take.layers)
        if len(names) > SHORT:
            parts = []
            for each in stretches(names):
                text = _stretch_text(orjson.dumps(each))
                parts.append(named(text))
                size += len(text)
                if self.index.named(parts[-1]) is None:
                    self.bodies[parts[-1]] = zlib.compress(text, QUICK)
                    self.made.append(Known(_Names(each), parts[-1], len(text)))
            names = {"parts": parts}
        return self._make(scene, orjson.dumps({"format": FORMAT, **told, "id": scene.id, "layers": names}), size)

    def motion(self, motion: SavedMotion) -> Known:
        """A saved motion: a part of its own, for no edit of a scene changes one."""
        found = self._known(motion)
        if found is None:
            told = motion.model_dump(mode="json", exclude_defaults=True)
            found = self._make(motion, orjson.dumps({"format": FORMAT, **told}))
        return found

    def root(self, project: Project, scenes: Iterable[Known]) -> Known:
        """A document's root, from its head and the parts of its scenes."""
        scenes = list(scenes)
        motions = [self.motion(each) for each in project.motions]
        told = project.model_dump(mode="json", exclude_defaults=True, exclude={"scenes", "motions"})
        if motions:
            told["motions"] = [motion.name for motion in motions]
        text = orjson.dumps({**told, "scenes": [scene.name for scene in scenes]})
        return self._make(project, text, sum(each.size for each in (*scenes, *motions)))

    def project(self, project: Project) -> Known:
        found = self._known(project)
        if found is None:
            scenes = [
                self._known(scene) or self.scene(scene, [self.layer(layer) for layer in scene.layers])
                for scene in project.scenes
            ]
            found = self.root(project, scenes)
        return found


@dataclass(frozen=True, eq=False)
class _Names:
    """A stretch of a scene's layers, by their parts' names."""

    names: tuple[str, ...]


#: How the text of a stretch begins; ``}`` ends it.
STRETCH = b'{"format":%d,"rows":' % FORMAT


def _stretch_text(rows: bytes) -> bytes:
    return STRETCH + rows + b"}"


def _row_text(rows: tuple[Any, ...]) -> bytes:
    return row_adapter(type(rows[0])).dump_json(rows, exclude_defaults=True) if rows else b"[]"
