"""Layers or lanes begun one after the other: by a step, over a total, or each where the one before ends."""

from collections.abc import Callable, Iterator, Sequence
from random import Random
from typing import ClassVar, Literal

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import apply as through
from deftarc.core.base.model import Identity, Moment
from deftarc.core.base.working import at_work
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.retime import motion_retimed, shifted_span, span_of, track_retimed
from deftarc.core.curves.curve import TimeCurve
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.eases import ease_named, sides
from deftarc.core.document.staggered import Order, Staggered, StaggerRecord
from deftarc.core.edit.base import EditBase, quoted
from deftarc.core.evaluate import carried_by, pose


class Stagger(EditBase, Staggered):
    """Layers, with all their keys, or lanes, begun one after the other from where the first of them begins. ``step`` is
    from one to the next, ``total`` from the first to the last, ``end`` a gap from the end of the one before (below 0
    they overlap). ``ease`` spaces the steps unevenly.
    """

    looked_at: ClassVar[bool] = True
    kind: Literal["stagger"] = "stagger"
    scene: Identity
    #: Where they are looked at for an order by place.
    time: Moment = 0
    #: When the first of them begins, where that is not when the first does now.
    begins: Moment | None = None

    def _items(self, scene: Scene) -> list[tuple[Layer, tuple[str, ...]]]:
        """What is staggered, in the order of the list: a layer with the lanes that move."""
        names: dict[str, list[str]] = {}
        for lane in self.lanes:
            names.setdefault(lane.layer, []).append(lane.property)
        rows: list[tuple[Layer, tuple[str, ...]]] = []
        for layer in scene.layers:
            if layer.id in names:
                rows += [(layer, (name,)) for name in layer.properties if name in names[layer.id]]
            elif layer.id in self.layers:
                rows.append((layer, layer.keyed))
        for layer_id in (*self.layers, *names):
            scene.layer(layer_id)
        rows = [(layer, tuple(n for n in some if layer.track(n).keys)) for layer, some in rows]
        rows = [(layer, some) for layer, some in rows if some]
        if len(rows) < 2:
            raise Refusal("Select two layers or lanes with keys, or more, to begin one after the other.")
        return rows

    def starts(self, scene: Scene) -> list[tuple[Layer, tuple[str, ...], int]]:
        """Each item with by how many flicks it moves."""
        rows = self._items(scene)
        spans = [self._span(scene, layer, names) for layer, names in rows]
        base = min(start for start, _ in spans) if self.begins is None else self.begins
        order = in_order(scene, [layer for layer, _ in rows], self.order, self.seed, self.time)
        offsets = self._offsets(scene, [spans[n][1] - spans[n][0] for n in order])
        return [(*rows[n], base + offset - spans[n][0]) for n, offset in zip(order, offsets, strict=True)]

    def _span(self, scene: Scene, layer: Layer, names: tuple[str, ...]) -> tuple[int, int]:
        if self.spans and not self.lanes:
            return span_of(layer, scene.length)
        times = [time for name in names for time in (layer.track(name).key_times[0], layer.track(name).key_times[-1])]
        return min(times), max(times)

    def _offsets(self, scene: Scene, lengths: list[int]) -> list[int]:
        """When each begins after the first, in their order; on whole frames."""
        count = len(lengths)
        if self.by == "end":
            ends = np.concatenate(([0], np.cumsum([length + self.far for length in lengths[:-1]])))
        else:
            total = self.far * (count - 1) if self.by == "step" else self.far
            shares = _eased(np.linspace(0, 1, count), self.ease, self.strength)
            ends = shares * total
        return [scene.rate.time_of(scene.rate.nearest(float(each))) for each in ends]

    def apply(self, project: Project) -> Project:
        before = scene = project.scene(self.scene)
        for layer, names, by in at_work(self.starts(before)):
            now = scene.layer(layer.id)
            if self.lanes:
                for name in names:
                    now = now.with_track(name, track_retimed(now.track(name), _later(by)))
            else:
                now = motion_retimed(now, _later(by))
                if self.spans:
                    now = shifted_span(now.changed(end=span_of(now, before.length)[1]), by)
            scene = scene.with_layer(now)
        return project.with_scene(self._remembered(before, scene))

    def _remembered(self, before: Scene, scene: Scene) -> Scene:
        """The scene with what it was made with, in place of what was made of the same before."""
        base = min(self._span(before, *item)[0] for item in self._items(before)) if self.begins is None else self.begins
        told = {name: getattr(self, name) for name in Staggered.model_fields}
        record = StaggerRecord(**told, begins=base, starts=self.stand(scene))
        same = (record.layers, record.lanes)
        rest = [each for each in scene.staggers if (each.layers, each.lanes) != same]
        return scene.changed(staggers=(record, *rest)[: limits.MAX_STAGGERS])

    def stand(self, scene: Scene) -> tuple[int, ...]:
        """When each of its items begins, in the order of the list."""
        return tuple(self._span(scene, layer, names)[0] for layer, names in self._items(scene))

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        layers = list(dict.fromkeys((*self.layers, *(lane.layer for lane in self.lanes))))
        what = f"{len(self.lanes)} lanes" if self.lanes else quoted([scene.layer(x).name for x in layers])
        return f"Stagger {what}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return [
            KeyRef(layer=layer.id, property=name, time=time + by)
            for layer, names, by in self.starts(before.scene(self.scene))
            for name in names
            for time in layer.track(name).key_times
        ][: limits.MAX_KEYS_PER_LANE]


def remembered(scene: Scene) -> Iterator[Stagger]:
    """The staggers that stand as they were made, each as the edit that would make it again."""
    here = {layer.id for layer in scene.layers}
    for record in scene.staggers:
        names = (*record.layers, *(lane.layer for lane in record.lanes))
        if not here.issuperset(names):
            continue
        told = {name: getattr(record, name) for name in Staggered.model_fields}
        edit = Stagger(scene=scene.id, **told, begins=record.begins)
        try:
            stands = edit.stand(scene) == record.starts
        except Refusal:
            continue
        if stands:
            yield edit


def in_order(scene: Scene, layers: Sequence[Layer], order: Order, seed: int, time: int) -> list[int]:
    """The places of layers, told in the order of the list, in the order in which they begin: across and down by where
    they are at a time.
    """
    listed = list(range(len(layers)))
    middle = (len(layers) - 1) / 2
    if order == "reversed":
        return listed[::-1]
    if order == "middle":
        return sorted(listed, key=lambda n: (abs(n - middle), n))
    if order == "ends":
        return sorted(listed, key=lambda n: (-abs(n - middle), n))
    if order == "shuffled":
        # A generator of its own: the same seed is the same order for ever.
        Random(seed).shuffle(listed)
        return listed
    if order in ("across", "down"):
        axis = 0 if order == "across" else 1
        spots = [_spot(scene, layer, time) for layer in layers]
        return sorted(listed, key=lambda n: (spots[n][axis], n))
    return listed


def _later(by: int) -> Callable[[int], int]:
    return lambda time: time + by


def _spot(scene: Scene, layer: Layer, time: int) -> tuple[float, float]:
    """Where a layer is in the scene."""
    x, y = through(carried_by(scene, layer, time), np.array([pose(layer, time, ("position",))["position"]]))[0]
    return float(x), float(y)


def _eased(shares: Floats, name: str, strength: float) -> Floats:
    """Shares from 0 to 1 as a named ease spaces them."""
    ease = ease_named(name)
    if ease.stepped:
        raise Refusal(f"Steps are spaced by an ease; {ease.label} would begin all at once.")
    leaving, arriving = sides(ease, strength, 1.0)
    a, la = (1 / 3, 1 / 3) if leaving is None else (leaving.reach, leaving.rise)
    b, lb = (1 / 3, 1 / 3) if arriving is None else (arriving.reach, arriving.rise)
    ends = np.array([0, 1_000_000])
    row = [np.array([each]) for each in (a, la, b, lb)]
    curve = TimeCurve(ends, np.array([0.0, 1.0]), row[0], row[1], row[2], row[3], np.zeros((1, 3), np.int64))
    return curve.at(shares * 1_000_000)
