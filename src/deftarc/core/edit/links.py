"""Edits of links: a property let follow another, how it does changed, and links cut or made into keys."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.arrange.clocked import View
from deftarc.core.arrange.followed import lane_laid
from deftarc.core.base import limits
from deftarc.core.base.arithmetic import evaluate_number
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import apply as through
from deftarc.core.base.model import Frozen, Identity, Moment, Number
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.links import (
    DERIVED,
    PLACES,
    Axes,
    Lag,
    Link,
    LinkSource,
    check_links,
    found_on,
    in_the_scene,
    told_by,
    wide,
)
from deftarc.core.document.properties import PROPERTIES, Property, property_named
from deftarc.core.edit.base import EditBase, Note
from deftarc.core.evaluate import Asker, carried_by


class LaneAsked(Frozen):
    """A property of a layer."""

    layer: Identity
    property: str = Field(max_length=80)


Lanes = Annotated[tuple[LaneAsked, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]


class SourceAsked(Frozen):
    """What is to be followed: a property of a layer, or how it moves. ``position_x`` and ``position_y`` are the two of
    its position; ``axes`` left out are the scene's where either of the two is carried.
    """

    layer: Identity
    what: str = Field(min_length=1, max_length=80)
    axes: Axes | None = None


class LinkLanes(EditBase):
    """Properties let follow another: ``factor · source(t − lag) + offset``, each ``step`` later than the one before;
    None is as much again as the first.

    ``keep`` chooses the offset so that what shows at ``time`` stays; else it is 0. Left out, a position keeps its
    distance and anything else takes its source's value. ``over`` and ``onto`` tell factor and offset by two ranges, in
    core units: when the source goes from one to the other, the property does. Keys that a property has lie on top.
    """

    looked_at: ClassVar[bool] = True
    kind: Literal["link_lanes"] = "link_lanes"
    scene: Identity
    lanes: Lanes
    to: SourceAsked
    factor: Number = 1.0
    lag: Lag = 0
    step: Lag | None = 0
    keep: bool | None = None
    over: tuple[Number, Number] | None = None
    onto: tuple[Number, Number] | None = None
    held: bool = False
    time: Moment = 0

    def apply(self, project: Project) -> Project:
        scene = before = project.scene(self.scene)
        source = scene.layer(self.to.layer)
        later = self.lag
        for asked in self.lanes:
            layer = scene.layer(asked.layer)
            facts = property_named(asked.property)
            _refuse_lane(layer, facts)
            link = self.link(scene, layer, facts, source, later)
            scene = scene.with_layer(layer.changed(links={**layer.links, facts.id: link}))
            later += self.lag if self.step is None else self.step
        check_links(scene.layers)
        keep = self.keep if self.keep is not None else property_named(self.lanes[0].property).id in PLACES
        if keep and self.onto is None:
            scene = _kept(before, scene, self.lanes, self.time)
        return project.with_scene(scene)

    def link(self, scene: Scene, layer: Layer, facts: Property, source: Layer, lag: int) -> Link:
        what, part = self.to.what, None
        if what in PLACES and facts.kind != "path":
            # Of a place a number takes the like of itself, where it does not say which.
            part = 1 if what == "position_y" or (what == "position" and facts.id == "position_y") else 0
        if what in PLACES:
            what = "position"
        elif what not in DERIVED and found_on(source, what) is None:
            raise Refusal(f"{source.name} has no {property_named(what).label} to follow.")
        axes = self.to.axes
        if axes is None:
            carried = layer.parent is not None or source.parent is not None
            axes = "scene" if what in DERIVED or (what == "position" and carried) else "parent"
        count = wide(facts)
        link = Link(
            source=LinkSource(layer=source.id, what=what, part=part, axes=axes), factor=self.factor,
            offset=(0.0,) * count, lag=lag,
        )  # fmt: skip
        return ranged(link, self.over, self.onto, self.held)

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        told = told_asked(self.to, scene)
        if len(self.lanes) > 1:
            return f"Let {len(self.lanes)} lanes follow {told}"
        return f"Let {told_lane(self.lanes[0], scene)} follow {told}"

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = before.scene(self.scene)
        keyed = [x for x in self.lanes if x.property in scene.layer(x.layer).keyed
                 and x.property not in scene.layer(x.layer).links]  # fmt: skip
        if not keyed:
            return ()
        return (Note(f"The keys of {told_lane(keyed[0], scene)} lie on top of what it follows."),)


def _refuse_lane(layer: Layer, facts: Property) -> None:
    if facts.kind not in ("number", "path") or facts.id == "clock":
        raise Refusal(f"{facts.label} follows nothing: numbers and positions do.")
    if facts.id not in layer.properties:
        layer.track(facts.id)
        raise Refusal(f"{layer.name} has no {facts.label}.")


def told_lane(lane: LaneAsked, scene: Scene) -> str:
    return f"{property_named(lane.property).label} of {scene.layer(lane.layer).name}"


def told_asked(asked: SourceAsked, scene: Scene) -> str:
    name = scene.layer(asked.layer).name
    return f"{DERIVED[asked.what].label if asked.what in DERIVED else property_named(asked.what).label} of {name}"


def ranged(link: Link, over: tuple[float, float] | None, onto: tuple[float, float] | None, held: bool | None) -> Link:
    """A link told by ranges: as its source goes from one number to another, the property does; ``held`` at the ends."""
    if over is not None and over[0] == over[1]:
        raise Refusal("A range goes from one number to another. Give two that differ.")
    over = over if over is not None else link.over
    if onto is not None:
        if over is None:
            raise Refusal("Say over which range of what it follows.")
        if len(link.offset) == 2:
            raise Refusal("A position follows a position by a factor and an offset, not by ranges.")
        factor = (onto[1] - onto[0]) / (over[1] - over[0])
        offset = onto[0] - factor * over[0]
        if max(abs(factor), abs(offset)) > limits.MAX_NUMBER:
            raise Refusal("These ranges are too far apart to follow. Choose wider ones for what is followed.")
        link = link.changed(factor=factor, offset=(offset,))
    return link.changed(over=over, held=link.held if held is None else held and over is not None)


def _kept(before: Scene, scene: Scene, lanes: Sequence[LaneAsked], time: int) -> Scene:
    """A scene whose new links have offsets by which their properties show at a moment what they did."""
    was = Asker(before, time)
    for asked in lanes:
        now = Asker(scene, time)
        layer = scene.layer(asked.layer)
        link = layer.links[asked.property]
        at = np.array([float(time)])
        shown, follows = was.values(before.layer(layer.id), asked.property, at)[0], now.values(
            layer, asked.property, at
        )[0]  # fmt: skip
        if in_the_scene(link):
            carried = carried_by(scene, layer, time)
            shown, follows = through(carried, np.array([shown, follows]))
        offset = tuple(float(a + b - c) for a, b, c in zip(link.offset, shown, follows, strict=True))
        links = {**layer.links, asked.property: link.changed(offset=offset)}
        scene = scene.with_layer(layer.changed(links=links))
    return scene


class ChangeLinks(EditBase):
    """How properties follow: what is given changes on each, the rest stays. What was typed is ``told`` for a field, in
    shown units: *factor*, *offset* (0 or 1 of ``component``), *over* and *onto* (their first or second number).
    """

    kind: Literal["change_links"] = "change_links"
    scene: Identity
    lanes: Lanes
    to: SourceAsked | None = None
    factor: Number | None = None
    offset: tuple[Number, ...] | None = Field(default=None, min_length=1, max_length=2)
    lag: Lag | None = None
    by_lag: Lag | None = None
    over: tuple[Number, Number] | None = None
    onto: tuple[Number, Number] | None = None
    held: bool | None = None
    ranged: bool | None = None
    field: Literal["factor", "offset", "over", "onto"] | None = None
    component: Literal[0, 1] = 0
    told: Annotated[str, Field(max_length=200)] | None = None
    by: Number | None = None
    time: Moment = 0

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for asked in self.lanes:
            layer = scene.layer(asked.layer)
            link = linked_lane(layer, asked.property)
            facts = property_named(asked.property)
            if self.to is not None:
                anew = LinkLanes(
                    scene=self.scene, lanes=(asked,), to=self.to, factor=link.factor, lag=link.lag, keep=False
                )
                made = anew.link(scene, layer, facts, scene.layer(self.to.layer), link.lag)
                link = made.changed(offset=link.offset, over=link.over, held=link.held)
            link = self._changed(scene, layer, facts, link)
            scene = scene.with_layer(layer.changed(links={**layer.links, facts.id: link}))
        check_links(scene.layers)
        return project.with_scene(scene)

    def _changed(self, scene: Scene, layer: Layer, facts: Property, link: Link) -> Link:
        if self.factor is not None:
            link = link.changed(factor=self.factor)
        if self.offset is not None:
            if len(self.offset) != len(link.offset):
                raise Refusal(f"The offset of {facts.label} has the wrong number of numbers.")
            link = link.changed(offset=self.offset)
        if self.lag is not None:
            link = link.changed(lag=self.lag)
        if self.by_lag is not None:
            link = link.changed(lag=int(np.clip(link.lag + self.by_lag, -limits.MAX_LAG, limits.MAX_LAG)))
        if self.ranged is not None:
            link = self._by_range(scene, link) if self.ranged else link.changed(over=None, held=False)
        if self.over is not None and self.onto is None and link.over is not None:
            # The property goes on from and to where it did, over another range of its source.
            link = ranged(link, self.over, onto_of(link), None)
        elif self.over is not None or self.onto is not None:
            link = ranged(link, self.over, self.onto, None)
        if self.held is not None:
            if self.held and link.over is None:
                raise Refusal("A link is held at the ends of a range. Tell it by a range first.")
            link = link.changed(held=self.held)
        return self._typed(scene, facts, link) if self.field is not None else link

    def _by_range(self, scene: Scene, link: Link) -> Link:
        """The range over which what it follows goes in the scene, for a start; as it followed."""
        if link.over is not None:
            return link
        if len(link.offset) == 2:
            raise Refusal("A position follows a position by a factor and an offset, not by ranges.")
        source = scene.layer(link.source.layer)
        rows = followed_over(scene, source, link)
        low, high = float(rows.min()), float(rows.max())
        return link.changed(over=(low, high) if high - low > 1e-9 else (low, low + 1.0))

    def _typed(self, scene: Scene, facts: Property, link: Link) -> Link:
        ours, theirs = facts.factor, shown_factor(scene, link.source)

        def number(now: float, factor: float) -> float:
            if self.by is not None:
                value = now + self.by
            elif self.told is not None:
                value = evaluate_number(self.told, now * factor) / factor
            else:
                raise Refusal("Say what was typed.")
            if abs(value) > limits.MAX_NUMBER:
                raise Refusal(f"A {self.field} cannot be that large.")
            return value

        k = self.component
        if self.field == "factor":
            # Shown as what a unit of the source comes to in a unit of the property.
            return link.changed(factor=number(link.factor, ours / theirs))
        if self.field == "offset":
            if k >= len(link.offset):
                raise Refusal("This offset has one number only.")
            offset = [*link.offset]
            offset[k] = number(offset[k], ours)
            return link.changed(offset=tuple(offset))
        if link.over is None:
            raise Refusal("This link is told by a factor and an offset, not by ranges.")
        over, onto = [*link.over], [*onto_of(link)]
        (over if self.field == "over" else onto)[k] = number(
            (over if self.field == "over" else onto)[k], theirs if self.field == "over" else ours
        )
        return ranged(link, (over[0], over[1]), (onto[0], onto[1]), None)

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        what = told_lane(self.lanes[0], scene) if len(self.lanes) == 1 else f"{len(self.lanes)} lanes"
        return f"Change what {what} follows" if self.to is not None else f"Change how {what} follows"


def onto_of(link: Link) -> tuple[float, float]:
    """Where a property goes as its source goes over its range."""
    assert link.over is not None
    a, b = (link.factor * number + link.offset[0] for number in link.over)
    return a, b


def shown_factor(scene: Scene, source: LinkSource) -> float:
    """What turns a core number of what is followed into the shown one."""
    return 1.0 if source.what in DERIVED else PROPERTIES[source.what].factor


def followed_over(scene: Scene, source: Layer, link: Link) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    """The numbers that a link to a number follows, frame by frame."""
    times = np.arange(scene.frames, dtype=np.float64) * scene.rate.flicks
    rows = Asker(scene).asked(source, told_by(link.source), times)
    column = link.source.part or 0
    return np.asarray(rows[:, min(column, rows.shape[1] - 1)])


def linked_lane(layer: Layer, name: str) -> Link:
    link = layer.links.get(property_named(name).id)
    if link is None:
        raise Refusal(f"{property_named(name).label} of {layer.name} follows nothing.")
    return link


class CutLinks(EditBase):
    """Properties that follow nothing any more: they stay at what they show at ``time``, with their own keys about that;
    or with ``keys`` they move on as they did, by keys.
    """

    kind: Literal["cut_links"] = "cut_links"
    scene: Identity
    lanes: Lanes
    keys: bool = False
    time: Moment = 0

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for asked in self.lanes:
            linked_lane(scene.layer(asked.layer), asked.property)
        if self.keys:
            for asked in self.lanes:
                scene = scene.with_layer(lane_laid(scene, scene.layer(asked.layer), asked.property))
            return project.with_scene(scene)
        view = View(scene, self.time)
        made = view.scene
        for asked in self.lanes:
            layer = made.layer(asked.layer)
            links = {name: link for name, link in layer.links.items() if name != asked.property}
            made = made.with_layer(layer.changed(links=links))
        return project.with_scene(view.back(made))

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        what = told_lane(self.lanes[0], scene) if len(self.lanes) == 1 else f"{len(self.lanes)} lanes"
        return f"Make keys of what {what} follows" if self.keys else f"Let {what} follow nothing"

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        if not self.keys:
            return ()
        scene = after.scene(self.scene)
        count = sum(
            len(track.keys)
            for asked in self.lanes
            if (track := scene.layer(asked.layer).tracks.get(asked.property)) is not None
        )
        return (Note(f"{count} keys now, with the same motion."),)


__all__ = ["ChangeLinks", "CutLinks", "LaneAsked", "LinkLanes", "SourceAsked", "onto_of"]
