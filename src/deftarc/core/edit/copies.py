"""Copies in a row, or round a point: each turned, moved and later than the one before."""

from collections.abc import Iterable, Mapping
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.arrange.clocked import View
from deftarc.core.arrange.family import carried_along, members, through_change
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import apply as through
from deftarc.core.base.model import Moment, Number
from deftarc.core.base.working import at_work
from deftarc.core.changes.retime import motion_retimed
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.edit.beyond import SetPhase
from deftarc.core.edit.keys import Lane
from deftarc.core.edit.layers import DuplicateLayers, LayersEdit, room_for
from deftarc.core.evaluate import carried_by, pose, stands_alone


class CopiesOf(LayersEdit):
    """Layers, with what they carry that is selected or in them, so many times in all. Each copy is turned by ``turn``
    degrees from the one before about a point, the pivot of the first of them at ``time`` or ``centre`` in scene px, and
    moved by ``dx``, ``dy``. Its motion is ``later`` by so much; what repeats is ``phase`` of a cycle on from the one
    before. ``linked`` copies share their artwork.
    """

    looked_at: ClassVar[bool] = True
    kind: Literal["copies_of"] = "copies_of"
    #: In all, what is copied among them.
    often: Annotated[int, Field(ge=2, le=500)] = 12
    #: Evenly all the way round, however many there are, and ``turn`` is not looked at; None is so where it neither
    #: turns nor moves otherwise.
    round: bool | None = None
    turn: Number = 0.0
    dx: Number = 0.0
    dy: Number = 0.0
    centre: tuple[Number, Number] | None = None
    later: Moment = 0
    phase: Annotated[float, Field(ge=-1, le=1)] = 0.0
    linked: bool = True
    time: Moment = 0

    def _roots(self, scene: Scene) -> list[str]:
        """Those that none of the others carries, in the order of the list."""
        chosen = {scene.layer(name).id for name in self.layers}
        inner = carried_along(scene, chosen)
        return [layer.id for layer in scene.layers if layer.id in chosen - inner]

    def _about(self, scene: Scene, layer: Layer) -> tuple[float, float]:
        if self.centre is not None:
            return self.centre
        names = tuple(name for name in layer.properties if name.startswith("position"))
        told = pose(layer, self.time, names)
        own = told["position"] if "position" in told else (told["position_x"][0], told["position_y"][0])
        x, y = through(carried_by(scene, layer, self.time), np.array([own]))[0]
        return float(x), float(y)

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        roots = self._roots(scene)
        about = self._about(scene, scene.layer(roots[0]))
        # What a layer carries comes along with it.
        carried = [each.id for name in roots for each in members(scene, name)]
        chosen = tuple(dict.fromkeys((*self.layers, *carried)))
        #: Each that is copied, and its copies in their order.
        rows: dict[str, list[str]] = {}
        whole = DuplicateLayers(scene=self.scene, layers=chosen).with_members(project)
        room_for(scene, (self.often - 1) * len(whole))
        for k in at_work(range(1, self.often)):
            # Each from the one before.
            copy = DuplicateLayers(scene=self.scene, layers=chosen, linked=self.linked)
            project, fresh = copy.copied(project)
            rows = {fresh[name]: [*rows.get(name, [name]), fresh[name]] for name in fresh}
            chosen, roots = tuple(fresh[each] for each in chosen), [fresh[each] for each in roots]
            step = self._place(about, k) @ np.linalg.inv(self._place(about, k - 1))
            project = self._out_of_step(project.with_scene(self._stepped(project, roots, step, fresh)), fresh)
        return project.with_scene(_in_order(project.scene(self.scene), rows.values()))

    @property
    def goes_round(self) -> bool:
        return self.round if self.round is not None else not (self.turn or self.dx or self.dy)

    def _place(self, about: tuple[float, float], k: int) -> Floats:
        """Where a copy is, from where what it is copied of is, in scene px."""
        turn = 360.0 / self.often if self.goes_round else self.turn
        return placed(about, k * turn, k * self.dx, k * self.dy)

    def _stepped(self, project: Project, roots: list[str], step: Floats, fresh: Mapping[str, str]) -> Scene:
        """The scene with fresh copies a step on from those before, in place and in time."""
        whole, by = project.scene(self.scene), self.later
        # What follows others, or has a clock, is placed as it is seen then: it goes on following from there.
        view = None if stands_alone(whole) else View(whole, self.time)
        here = whole if view is None else view.scene
        for name in roots:
            layer = here.layer(name)
            carried = carried_by(here, layer, self.time)
            if abs(np.linalg.det(carried)) < 1e-12:
                raise Refusal(f"What carries {layer.name} is scaled to nothing here. Go to where it has a size.")
            change = np.linalg.inv(carried) @ step @ carried
            here = here.with_layer(through_change(here, layer, layer, change, self.time))
        here = here if view is None else view.back(here)
        for name in fresh.values() if by else ():
            here = here.with_layer(_begun_later(motion_retimed(here.layer(name), lambda time: time + by), by))
        return here

    def _out_of_step(self, project: Project, fresh: Mapping[str, str]) -> Project:
        """What repeats of fresh copies so much of its cycle further on."""
        if not self.phase:
            return project
        scene = project.scene(self.scene)
        for name in fresh.values():
            scene = scene.with_layer(_further(scene.layer(name), project, self.phase))
        project = project.with_scene(scene)
        lanes = tuple(
            Lane(layer=name, property=prop)
            for name in fresh.values()
            for prop, track in scene.layer(name).tracks.items()
            if track.keys and track.period
        )
        return SetPhase(scene=self.scene, lanes=lanes, phase=self.phase, by=True).apply(project) if lanes else project

    def label(self, project: Project) -> str:
        return f"{self.often} of {self.names(project)}"


def _in_order(scene: Scene, rows: Iterable[list[str]]) -> Scene:
    """A scene with layers and their copies, which lie above them, in the list as one reads: the first on top."""
    places = {layer.id: n for n, layer in enumerate(scene.layers)}
    layers = list(scene.layers)
    for row in rows:
        for name, place in zip(row, sorted(places[each] for each in row), strict=True):
            layers[place] = scene.layer(name)
    return scene.changed(layers=tuple(layers))


def _begun_later(layer: Layer, by: int) -> Layer:
    """A layer that shows a scene, with that so much later."""
    art = layer.artwork
    if not isinstance(art, SceneShown) or "clock" in layer.tracks:
        return layer
    return layer.changed(artwork=art.changed(begins=art.begins - round(by * art.rate)))


def _further(layer: Layer, project: Project, phase: float) -> Layer:
    """A layer that shows a scene over and over, so much of that further on."""
    art = layer.artwork
    if not isinstance(art, SceneShown) or art.goes_on not in ("repeat", "alternate") or "clock" in layer.tracks:
        return layer
    long = project.scene(art.scene).length * (2 if art.goes_on == "alternate" else 1)
    return layer.changed(artwork=art.changed(begins=(art.begins + round(phase * long)) % long))


def placed(about: tuple[float, float], degrees: float, dx: float, dy: float) -> Floats:
    """Turned about a point, then moved, as a (3, 3) matrix."""
    c, s = np.cos(np.deg2rad(degrees)), np.sin(np.deg2rad(degrees))
    x, y = about
    return np.array([[c, -s, x - c * x + s * y + dx], [s, c, y - s * x - c * y + dy], [0.0, 0.0, 1.0]])


__all__ = ["CopiesOf", "placed"]
