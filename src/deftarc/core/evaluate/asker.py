"""Single questions about a scene: what a property shows, or where a layer is, at some moments.

Evaluation keeps all of a scene at its frames; an asker makes the sources of what it is asked for, and of what these
read, and no others. With ``loose_at`` a value that was changed and not keyed counts at just that moment, as at work.
"""

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document import Layer, Scene
from deftarc.core.document.links import FLIGHT, OWN, PLACED, TURNED, Later
from deftarc.core.document.shown import shown_values
from deftarc.core.evaluate.clocks import Clocks, clocks_above, lane_clock
from deftarc.core.evaluate.follow import Linked, carrying_of, source_of
from deftarc.core.evaluate.graph import Elsewhen
from deftarc.core.evaluate.layers import Own, OwnState, Placed, resting_samples
from deftarc.core.evaluate.source import Node, Source, sources_of
from deftarc.core.evaluate.travel import Carrying, stretch


class Asker:
    """Answers about one scene."""

    def __init__(self, scene: Scene, loose_at: int | None = None) -> None:
        self.scene, self.loose_at = scene, loose_at
        self._by_id = {layer.id: layer for layer in scene.layers}
        self._driven: dict[str, tuple[dict[str, Source], Clocks]] = {}
        self._sources: dict[Node, Source] = {}
        self._values = Elsewhen(self._source)

    def _of_layer(self, layer: Layer) -> tuple[dict[str, Source], Clocks]:
        """What drives a layer's properties, and the clocks that tell its time."""
        found = self._driven.get(layer.id)
        if found is None:
            above = clocks_above(self._by_id, layer) if layer.parent is not None else ()
            clocks = (*above, *lane_clock(layer))
            sources = sources_of(layer, (layer.id,), self.loose_at)
            told = {name: source.clocked(above if name == "clock" else clocks) for name, source in sources.items()}
            found = self._driven[layer.id] = (told, clocks)
        return found

    def _source(self, node: Node) -> Source:
        found = self._sources.get(node)
        if found is None:
            found = self._sources[node] = self._made(node)
        return found

    def _made(self, node: Node) -> Source:
        layer = self._by_id[node.path[-1]]
        driven, clocks = self._of_layer(layer)
        if node.what in driven:
            return driven[node.what]
        if node.what == OWN:
            return Own(layer, node.path, tuple(driven), None, clocks)
        if node.what == PLACED:
            hides = layer.group and layer.hidden
            return Placed(node.path, carrying_of(layer, node.path), layer.hands_opacity, layer.as_one, hides)
        return source_of(self._by_id, layer, node.path, node.what, clocks, resting_samples)

    def _read(self, layer_id: str, what: str, times: Floats) -> Floats:
        rows: Floats = self._values.read(Node((layer_id,), what), times)
        return rows

    def values(self, layer: Layer, name: str, times: Floats) -> Floats:
        """A property's numbers as its track keeps them, at times (n,) in flicks: (n, components)."""
        rows = self._read(layer.id, name, times)
        return np.broadcast_to(rows, (len(times), rows.shape[1]))

    def shown(self, layer: Layer, name: str, time: int) -> tuple[float, ...]:
        """What a property shows at a moment."""
        rows = shown_values(layer, name, self._read(layer.id, name, np.array([float(time)])))
        return tuple(map(float, rows[0]))

    def asked(self, layer: Layer, what: str, times: Floats) -> Floats:
        """What is derived of a layer's motion, or its place, by the names of document/links."""
        return self._read(layer.id, what, times)

    def alone(self, layer: Layer, name: str, time: int) -> tuple[float, ...]:
        """What a linked property is at a moment without its own keys."""
        source = self._source(Node((layer.id,), name))
        assert isinstance(source, Linked)
        rows = source.followed_alone(np.array([float(time)]), self._values.read)
        return tuple(map(float, rows[0]))

    def own_matrices(self, layer: Layer, times: Floats) -> Floats:
        """A layer's own matrices (n, 3, 3), its stretch in them."""
        own: OwnState = self._values.read(Node((layer.id,), OWN), times)
        return np.broadcast_to(own.matrix, (len(times), 3, 3))

    def matrix(self, layer: Layer, time: int) -> Floats:
        """A layer's own (3, 3) matrix at a moment, its stretch in it."""
        return self.own_matrices(layer, np.array([float(time)]))[0]

    def stretch(self, layer: Layer, time: int) -> Floats:
        """The (1, 2, 2) matrix by which a layer that stretches does so at a moment, in its carrier's px."""
        at = np.array([float(time)])
        amount, limit = (np.array([self.shown(layer, name, time)[0]]) for name in ("stretch", "stretch_limit"))
        return stretch(self._values.read(Node((layer.id,), FLIGHT), at), amount, limit)

    def heading(self, layer: Layer, time: int) -> float:
        """Degrees that a layer's way adds to its rotation at a moment."""
        at = np.array([float(time)])
        turned, rotation = (self._read(layer.id, what, at)[0, 0] for what in (TURNED, "rotation"))
        return float(turned - rotation)

    def carried(self, carrier: str | None, later: Later | None, time: int) -> Floats:
        """The (3, 3) matrix from the px of what a layer carries, at once or later, to the scene."""
        return self.carried_over(carrier, later, np.array([float(time)]))[0]

    def carried_over(self, carrier: str | None, later: Later | None, times: Floats) -> Floats:
        """The same at times (n,) in flicks: (n, 3, 3)."""
        matrices = Carrying(None if carrier is None else (carrier,), later).matrices(times, self._values.read)
        return np.broadcast_to(np.eye(3) if matrices is None else matrices, (len(times), 3, 3))
