"""Evaluation: a scene and times in, a FrameTable out.

``Evaluator`` keeps the graph of a scene's sources with their values; documents share what an edit did not touch, so
identity says what is still true, and an edit costs the evaluation of what it touched.
"""

from collections.abc import Mapping

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.identity import identical
from deftarc.core.base.time import FrameRate
from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork import Bursts, TextShaper
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.links import Name
from deftarc.core.document.shown import shown_values
from deftarc.core.evaluate.bursts import BURST, Bursting, outline_layer
from deftarc.core.evaluate.clocks import Clocks, clocks_above, lane_clock, own_clock
from deftarc.core.evaluate.dots import Dots
from deftarc.core.evaluate.follow import Linked, asked_of, carrying_of, source_of
from deftarc.core.evaluate.frames import Branch, FrameTable, Group, Leaf
from deftarc.core.evaluate.graph import Graph
from deftarc.core.evaluate.layers import Own, Placed, PlacedState, resting_samples
from deftarc.core.evaluate.source import OWN, PLACED, Node, Path, Source, sources_of
from deftarc.core.evaluate.tree import Tree
from deftarc.core.evaluate.within import Inlaid, moments_of

#: Scenes by their ids.
Scenes = Mapping[str, Scene]


class Evaluator:
    """Evaluates scenes, one after the other, remembering each layer by identity.

    ``shape_text`` is asked for the form of texts whose numbers are keyed. ``path`` leads to the scene, where it is
    shown within another. ``loose_at`` is a moment at which values count that were changed and not keyed. Not
    thread-safe; whoever shares one holds a lock around it.
    """

    def __init__(
        self,
        shape_text: TextShaper | None = None,
        path: Path = (),
        loose_at: int | None = None,
        scenes: Scenes | None = None,
    ) -> None:
        self.shape_text, self.path, self.loose_at = shape_text, path, loose_at
        #: The scenes that may be shown within the one that is evaluated; whoever evaluates another state changes them.
        self.scenes: Scenes = scenes or {}
        #: By scene layer, what evaluates the scene it shows, and what that came to.
        self._within: dict[str, tuple[Evaluator, Inlaid]] = {}
        self._graph = Graph(np.empty(0, np.int64))
        self._layers: dict[str, Layer] = {}
        #: By layer, what drives each of its properties.
        self._driven: dict[str, dict[str, Source]] = {}
        #: By layer, where it comes to be, its leaf, and what that was made from; by group, what was made from what.
        self._state: dict[str, PlacedState] = {}
        self._leaves: dict[str, Branch] = {}
        self._made_from: dict[str, tuple[object, ...]] = {}
        #: What the leaves come to, and when each layer would show if nothing hid it.
        self._tree = Tree()
        self._shows: dict[str, tuple[int, int]] = {}
        #: By layer, its rings or particles.
        self._bursts: dict[str, Dots] = {}
        #: By layer, the clocks of the groups it is in.
        self._above: dict[str, Clocks] = {}
        #: What is asked of layers besides what drives them.
        self._asked: dict[Name, None] = {}
        self._end = -1
        self._groups: dict[str, tuple[tuple[object, ...], Group]] = {}
        #: Values as they are shown, by layer and property, each with what it was made from.
        self._shown: dict[tuple[str, str], tuple[object, Floats]] = {}
        #: What links came to, each with the whole value it was told of.
        self._alone: dict[tuple[str, str], tuple[object, Floats]] = {}
        self._last: tuple[Scene, FrameTable] | None = None
        #: All scenes that are shown within the one that was evaluated last, at any depth.
        self._inner: tuple[Scene, ...] = ()

    def table(self, scene: Scene, times: npt.ArrayLike, shown: Integers | None = None) -> FrameTable:
        """The FrameTable of a scene at rising times (F,) in flicks. Moments within frames belong to ``shown`` (F,), the
        frames' own: what jumps between the two, or comes or goes, is as it is then.
        """
        at = np.asarray(times, np.int64)
        if not (np.array_equal(at, self._graph.times) and _alike(shown, self._graph.shown)):
            self._graph = Graph(at, shown)
            self._layers.clear()
            self._driven.clear()
            self._state.clear()
            self._tree.clear()
            self._shows.clear()
            self._bursts.clear()
            self._above.clear()
            self._asked = {}
            self._leaves.clear()
            self._made_from.clear()
            self._groups.clear()
            self._shown.clear()
            self._alone.clear()
        elif self._last is not None and self._last[0] is scene and identical(self._inner, self.shown_in(scene)):
            return self._last[1]
        self._inner = self.shown_in(scene)
        touched = self._take(scene)
        for node in self._graph.settle():
            if node.what == PLACED:
                touched.add(node.path[-1])
                self._state[node.path[-1]] = self._graph[node]
            elif node.what == BURST:
                touched.add(node.path[-1])
                self._bursts[node.path[-1]] = self._graph[node]
        if self._end != scene.length:
            self._end = scene.length
            touched.update(self._layers)
        for name in touched:
            self._bring(self._layers[name], at)
        self._bring_scenes(scene, at)
        state = self._state
        made = FrameTable(
            at,
            self._tree.roots(scene, self._leaves, state, self._shows, len(at)),
            {layer.id: state[layer.id].world for layer in scene.layers},
        )
        self._last = (scene, made)
        return made

    def values(self, scene: Scene, layer_id: str, times: npt.ArrayLike) -> dict[str, Floats]:
        """A layer's property values at the times: property to (F or 1, components), loose values left out.

        Arrays stay the same objects while what they were made from does.
        """
        self.table(scene, times)
        layer = scene.layer(layer_id)
        out: dict[str, Floats] = {}
        for name in layer.properties:
            node = Node((*self.path, layer_id), name)
            samples = self._graph.get(node)
            made_from: object = samples
            if samples is None:
                # At rest: told by what keeps it. (A link of scale axes is the layer's own business.)
                made_from = layer.tracks.get(name, layer.artwork)
                samples = resting_samples(layer, name)
            known = self._shown.get((layer_id, name))
            if known is None or known[0] is not made_from or name == "scale" or "/" in name:
                rows = shown_values(layer, name, samples)
                if known is not None and np.array_equal(known[1], rows):
                    rows = known[1]
                known = self._shown[layer_id, name] = (made_from, rows)
            out[name] = known[1]
        return out

    def carried(self, scene: Scene, layer: Layer, times: npt.ArrayLike) -> Floats | None:
        """What brings a layer's px into the scene at the times, at once or later, (F or 1, 3, 3); None where nothing
        carries it.
        """
        table = self.table(scene, times)
        if layer.parent is None:
            return None
        world = table.worlds[layer.parent]
        if layer.later is None:
            return world
        known = self._alone.get((layer.id, PLACED))
        state = self._state[layer.id]
        if known is None or known[0] is not state:
            made = carrying_of(layer, (*self.path, layer.id)).matrices(self._graph.at, self._graph.read)
            known = self._alone[layer.id, PLACED] = (state, world if made is None else made)
        return known[1]

    def followed(self, scene: Scene, layer_id: str, name: str, times: npt.ArrayLike) -> Floats | None:
        """What a property that follows something is at the times without its own keys, (F or 1, components); None where
        it follows nothing.
        """
        self.table(scene, times)
        node = Node((*self.path, layer_id), name)
        source, whole = self._graph.source(node), self._graph.get(node)
        if not isinstance(source, Linked):
            return None
        if source.own is None:
            return np.asarray(whole)
        known = self._alone.get((layer_id, name))
        if known is None or known[0] is not whole:
            known = self._alone[layer_id, name] = (whole, source.followed_alone(self._graph.at, self._graph.read))
        return known[1]

    def _take(self, scene: Scene) -> set[str]:
        """Puts the sources of layers that are new or changed into the graph, and takes out those of layers gone."""
        known_as = self._layers.get
        fresh = [layer for layer in scene.layers if known_as(layer.id) is not layer]
        above = self._clocks_above(scene, fresh)
        if len(self._layers) + len(fresh) > len(scene.layers):
            here = {layer.id for layer in scene.layers}
            for gone in [name for name in self._layers if name not in here]:
                self._forget(gone)
        for layer in fresh:
            path = (*self.path, layer.id)
            told = above.get(layer.id, ())
            clocks = (*told, *lane_clock(layer))
            driven = sources_of(layer, path, self.loose_at)
            if clocks:
                # Its own clock's lane lies in the time of the groups it is in.
                driven = {name: each.clocked(told if name == "clock" else clocks) for name, each in driven.items()}
            for name, source in driven.items():
                self._graph.put(Node(path, name), source)
            self._graph.put(Node(path, OWN), Own(layer, path, tuple(driven), self.shape_text, clocks))
            self._graph.put(
                Node(path, PLACED),
                Placed(path, carrying_of(layer, path), layer.hands_opacity, layer.as_one, layer.group and layer.hidden),
            )
            if not isinstance(layer.artwork, Bursts):
                self._graph.drop([Node(path, BURST)])
                self._bursts.pop(layer.id, None)
            if layer.id in self._driven:
                self._graph.drop(Node(path, name) for name in self._driven[layer.id] if name not in driven)
            self._driven[layer.id] = driven
            self._layers[layer.id] = layer
        if fresh or len(self._bursts):
            self._burst(scene, above)
        if self._asked or any(layer.links or layer.stretches for layer in fresh):
            self._ask(scene)
        return {layer.id for layer in fresh}

    def _burst(self, scene: Scene, above: Mapping[str, Clocks]) -> None:
        """Puts what is made of layers' bursts into the graph: they hang on the layers where they are born."""
        for layer in scene.layers:
            art = layer.artwork
            if not isinstance(art, Bursts):
                continue
            path = (*self.path, layer.id)
            there = art.source if art.source in self._layers and art.source != layer.id else None
            made = Bursting(
                layer, path, tuple(self._driven[layer.id]), (*above.get(layer.id, ()), *lane_clock(layer)),
                None if there is None else (*self.path, there), outline_layer(self._layers, layer),
            )  # fmt: skip
            self._graph.put(Node(path, BURST), made)

    def _ask(self, scene: Scene) -> None:
        """Puts what links and stretches ask of layers into the graph, and takes out what nobody asks any more."""
        by_id = self._layers
        asked = asked_of(by_id, scene.layers)
        for layer_id, what in asked:
            layer = by_id[layer_id]
            if what not in self._driven[layer_id]:
                path = (*self.path, layer_id)
                clocks = (*self._above.get(layer_id, ()), *lane_clock(layer))
                self._graph.put(Node(path, what), source_of(by_id, layer, path, what, clocks, resting_samples))
        self._graph.drop(
            Node((*self.path, layer_id), what)
            for layer_id, what in self._asked
            if (layer_id, what) not in asked and what not in self._driven.get(layer_id, ())
        )
        self._asked = asked

    def _clocks_above(self, scene: Scene, fresh: list[Layer]) -> dict[str, Clocks]:
        """By layer, the clocks of the groups it is in, where there are any; layers to which these are others than they
        were are added to those that are new.
        """
        if not self._above and not any(layer.group and "clock" in layer.tracks for layer in scene.layers):
            return {}
        by_id = {layer.id: layer for layer in scene.layers}
        above = {layer.id: told for layer in scene.layers if (told := clocks_above(by_id, layer))}
        here = {layer.id for layer in fresh}
        for layer in scene.layers:
            now, was = above.get(layer.id, ()), self._above.get(layer.id, ())
            if layer.id not in here and not identical(now, was):
                fresh.append(layer)
        self._above = above
        return above

    def _forget(self, name: str) -> None:
        del self._layers[name]
        path = (*self.path, name)
        self._graph.drop(Node(path, what) for what in (*self._driven.pop(name), OWN, PLACED, BURST))
        mine = [each for each in self._asked if each[0] == name]
        self._graph.drop(Node(path, what) for _, what in mine)
        for each in mine:
            del self._asked[each]
        self._state.pop(name, None)
        self._tree.forget(name)
        self._bursts.pop(name, None)
        self._leaves.pop(name, None)
        self._made_from.pop(name, None)
        self._groups.pop(name, None)

    def _bring(self, layer: Layer, times: Integers) -> None:
        """A layer's leaf brought up to date: it stays the same one while nothing of it is another."""
        if layer.artwork.empty:
            self._leaves.pop(layer.id, None)
            return
        if isinstance(layer.artwork, SceneShown):
            # Shown as a group; see _bring_scenes.
            return
        placed = self._state[layer.id]
        hidden = layer.hidden or placed.hidden
        dots = self._bursts.get(layer.id)
        made_from = (placed, hidden, layer.start, layer.end, self._end, layer.blend, dots)
        known = self._made_from.get(layer.id)
        if layer.id in self._leaves and known is not None and identical(known, made_from, (int, str, bool)):
            return
        stop = self._end if layer.end is None else layer.end
        self._shows[layer.id] = shows = self._rows_of(layer, stop, times)
        shows = (0, 0) if hidden else shows
        own, look = placed.own, placed.own.look
        self._made_from[layer.id] = made_from
        self._leaves[layer.id] = Leaf(
            layer.id,
            placed.world,
            placed.opacity,
            shows,
            look,
            own.outline,
            own.effects,
            layer.blend,
            own.masks,
            wash="wash" in layer.artwork.traits,
            dots=dots,
        )

    def _rows_of(self, layer: Layer, stop: int, times: Integers) -> tuple[int, int]:
        """The rows of some times at which a layer's span has it."""
        shown = self._graph.shown
        if shown is None:
            begin, end = (int(np.searchsorted(times, t, side="left")) for t in (layer.start, stop))
            # An open end shows as far as anyone looks; a scene's own end is its painters' business.
            return begin, len(times) if layer.end is None else end
        seen = np.flatnonzero((shown >= layer.start) & ((layer.end is None) | (shown < stop)))
        return (int(seen[0]), int(seen[-1]) + 1) if len(seen) else (0, 0)

    def shown_in(self, scene: Scene) -> tuple[Scene, ...]:
        """All scenes shown within one, at any depth, each as often as it is shown."""
        out: list[Scene] = []
        for layer in scene.layers:
            if isinstance(layer.artwork, SceneShown):
                inner = self.scenes.get(layer.artwork.scene)
                if inner is not None:
                    out += [inner, *self.shown_in(inner)]
        return tuple(out)

    def _bring_scenes(self, scene: Scene, times: Integers) -> None:
        """Scene layers brought up to date: each a group of what its scene shows then."""
        shown = [layer for layer in scene.layers if isinstance(layer.artwork, SceneShown)]
        here = {layer.id for layer in shown}
        for gone in [name for name in self._within if name not in here]:
            del self._within[gone]
            self._leaves.pop(gone, None)
        for layer in shown:
            assert isinstance(layer.artwork, SceneShown)
            inner = self.scenes.get(layer.artwork.scene)
            if inner is None:
                self._leaves.pop(layer.id, None)
                continue
            self._bring_scene(layer, inner, times)

    def _bring_scene(self, layer: Layer, inner: Scene, times: Integers) -> None:
        if layer.id not in self._within:
            self._within[layer.id] = (Evaluator(self.shape_text, (*self.path, layer.id)), Inlaid())
        evaluator, inlaid = self._within[layer.id]
        evaluator.scenes = self.scenes
        above = self._above.get(layer.id, ())
        graph = self._graph
        asked = (
            layer.artwork,
            layer.start,
            inner.length,
            inner.rate,
            *above,
            *own_clock(layer),
            graph.times,
            graph.shown,
        )
        if inlaid.moments is None or not identical(inlaid.moments[0], asked, (int, FrameRate)):
            inlaid.moments = (asked, moments_of(layer, inner, graph.at, above, graph.shown))
        moments = inlaid.moments[1]
        table = evaluator.table(inner, moments.times, moments.shown)
        placed = self._state[layer.id]
        children = inlaid.branches(layer, inner, table.roots, moments, placed.world)
        hidden = layer.hidden or placed.hidden
        stop = self._end if layer.end is None else layer.end
        self._shows[layer.id] = shows = self._rows_of(layer, stop, times)
        shows = (0, 0) if hidden else shows
        made_from = (placed, layer.blend, inner.width, inner.height, *shows, *children)
        known = self._groups.get(layer.id)
        if known is None or not identical(known[0], made_from, (int, str)):
            w, h = inner.width / 2, inner.height / 2
            group = Group(
                layer.id, children, placed.world, placed.opacity, shows, placed.own.effects, layer.blend,
                (-w, -h, w, h), placed.own.masks,
            )  # fmt: skip
            known = self._groups[layer.id] = (made_from, group)
        self._leaves[layer.id] = known[1]


def _alike(one: Integers | None, other: Integers | None) -> bool:
    return one is other or (one is not None and other is not None and np.array_equal(one, other))


def any_group_hidden(layer: Layer, by_id: dict[str, Layer]) -> bool:
    """Whether a group that a layer is a member of, however deep, is hidden."""
    while layer.parent is not None:
        layer = by_id[layer.parent]
        if layer.group and layer.hidden:
            return True
    return False


def evaluate(
    scene: Scene,
    times: npt.ArrayLike,
    shape_text: TextShaper | None = None,
    loose_at: int | None = None,
    scenes: Scenes | None = None,
) -> FrameTable:
    """The FrameTable of a scene at rising times in flicks, from nothing; at ``loose_at`` as it shows at work.
    ``scenes`` are those that it may show within itself, by id.
    """
    return Evaluator(shape_text, loose_at=loose_at, scenes=scenes).table(scene, times)
