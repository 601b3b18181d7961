"""A document as content-addressed parts: a root that names scenes, each scene naming its layers.

An edit writes only the parts it changed: what the new document shares with the old one by identity keeps its
hash without being looked at. Hashes are BLAKE2b of 15 bytes in base64, 20 letters: short, because a scene's
part lists one for each layer and is written anew at every edit.
"""

import json
import logging
import re
import zlib
from base64 import urlsafe_b64encode
from collections.abc import Callable
from contextlib import suppress
from hashlib import blake2b
from typing import Any

from sqlalchemy.exc import SQLAlchemyError

from deftarc.core.document import Carrier, Layer, Project, Scene

log = logging.getLogger(__name__)
#: Hands over a part's body by its hash.
PartReader = Callable[[str], bytes]


def _named(text: bytes) -> str:
    return urlsafe_b64encode(blake2b(text, digest_size=15).digest()).decode()


class PartIndex:
    """Remembers which object has which hash, for the documents that went through it."""

    def __init__(self) -> None:
        self._by_object: dict[int, tuple[object, str]] = {}
        self._by_hash: dict[str, Any] = {}

    def known(self, thing: object) -> str | None:
        found = self._by_object.get(id(thing))
        return found[1] if found is not None and found[0] is thing else None

    def remember(self, thing: object, name: str) -> None:
        self._by_object[id(thing)] = (thing, name)
        self._by_hash[name] = thing

    def thing(self, name: str) -> Any:
        return self._by_hash.get(name)

    def keep_only(self, project: Project) -> None:
        """Forgets what is not part of a document, when much has gathered."""
        things: list[object] = [project, *project.scenes, *(x for scene in project.scenes for x in scene.layers)]
        if len(self._by_object) < 4 * len(things) + 400:
            return
        kept = [(thing, self.known(thing)) for thing in things]
        self._by_object.clear()
        self._by_hash.clear()
        for thing, name in kept:
            if name is not None:
                self.remember(thing, name)

    def write(self, project: Project) -> tuple[str, dict[str, bytes]]:
        """The root's hash, and the bodies of the parts that are new."""
        bodies: dict[str, bytes] = {}
        return self._store(project, self._root(project, bodies), bodies), bodies

    def _store(self, thing: object, data: "dict[str, Any] | None", bodies: dict[str, bytes]) -> str:
        name = self.known(thing)
        if name is not None or data is None:
            return name or ""
        text = json.dumps(data, separators=(",", ":"), ensure_ascii=False).encode()
        name = _named(text)
        bodies[name] = zlib.compress(text, 6)
        self.remember(thing, name)
        return name

    def _root(self, project: Project, bodies: dict[str, bytes]) -> dict[str, Any] | None:
        if self.known(project):
            return None
        scenes = [self._store(scene, self._scene(scene, bodies), bodies) for scene in project.scenes]
        return {**project.model_dump(mode="json", exclude_defaults=True, exclude={"scenes"}), "scenes": scenes}

    def _scene(self, scene: Scene, bodies: dict[str, bytes]) -> dict[str, Any] | None:
        if self.known(scene):
            return None
        layers = []
        for layer in scene.layers:
            name = self.known(layer)
            if name is None:
                name = self._store(layer, layer.model_dump(mode="json", exclude_defaults=True), bodies)
            layers.append(name)
        head = {**scene.model_dump(mode="json", exclude_defaults=True, exclude={"layers"}), "id": scene.id}
        return {**head, "layers": layers}

    def read(self, root: str, reader: PartReader) -> Project:
        """The document of a root, sharing what is known already."""
        found = self.thing(root)
        if isinstance(found, Project):
            return found
        data = _body(reader(root))
        scenes = tuple(self._read_scene(name, reader) for name in data["scenes"])
        project = Project(**{**data, "scenes": scenes})
        self.remember(project, root)
        return project

    def _read_scene(self, name: str, reader: PartReader) -> Scene:
        found = self.thing(name)
        if isinstance(found, Scene):
            return found
        data = _body(reader(name))
        layers = []
        for layer_name in data["layers"]:
            layer = self.thing(layer_name)
            if not isinstance(layer, Layer):
                layer = _read_layer(reader, layer_name)
                self.remember(layer, layer_name)
            layers.append(layer)
        scene = Scene(**{**data, "layers": _held_together(layers)})
        self.remember(scene, name)
        return scene


def _read_layer(reader: PartReader, name: str) -> Layer:
    """A stored layer; one that cannot be read as an empty carrier that says so, in the place of what it was.

    It keeps its part's name, so what is stored stays as it lies until somebody replaces it.
    """
    try:
        return Layer.model_validate_json(zlib.decompress(reader(name)))
    except (ValueError, zlib.error, SQLAlchemyError) as error:
        log.error("layer part %s cannot be read: %s", name, error)
        told: dict[str, Any] = {}
        with suppress(Exception):
            told = dict(json.loads(zlib.decompress(reader(name))))
        own = told.get("id")
        made = (
            own
            if isinstance(own, str) and re.fullmatch("[a-z0-9]{1,24}", own)
            else blake2b(name.encode(), digest_size=5).hexdigest()
        )
        title = str(told.get("name") or "a layer")[:80]
        return Layer(id=made, name=f"Damaged: {title}", artwork=Carrier(), locked=True, reference=True)


def _held_together(layers: list[Layer]) -> tuple[Layer, ...]:
    """Layers whose parents are all there: where a damaged one took its name with it, what it carried stands alone."""
    here = {layer.id for layer in layers}
    return tuple(
        layer.changed(parent=None) if layer.parent is not None and layer.parent not in here else layer
        for layer in layers
    )


def _body(body: bytes) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(zlib.decompress(body))
    return data
