"""Edits of values: a number typed, dragged or stepped, a colour picked, on one layer or on all that are selected."""

from collections.abc import Iterable
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.arrange.axes import Axes, position_from, position_in
from deftarc.core.arrange.placed import AXES, with_spot
from deftarc.core.base import limits
from deftarc.core.base.arithmetic import evaluate_number
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Colour, Identity, Moment, Number
from deftarc.core.base.working import at_work
from deftarc.core.changes.insert import insert_key
from deftarc.core.changes.keys import KeyRef, change_value, held, in_proportion, set_key
from deftarc.core.changes.places import at_distance
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import PROPERTIES, Property, property_named
from deftarc.core.document.track import AnyTrack, PathTrack
from deftarc.core.edit.base import POSITION, EditBase, LaneEdit, LaneName, quoted
from deftarc.core.edit.transform import MovePivot, pivot_shift
from deftarc.core.evaluate import pose
from deftarc.core.spaces.colour import parse_colour

Identities = Annotated[tuple[Identity, ...], Field(max_length=limits.MAX_LAYERS)]


class SetValue(EditBase):
    """One number of one property changed; with *Keying changes* (``keying``) it is keyed.

    ``component`` is 0 or 1 for position and scale: the other axis stays, or follows if linked. One of: ``value`` in
    core units, the same for all; ``by``, a step in core units from each one's own; ``told``, what was typed, in
    shown units, where `+=40` goes from each one's own; ``colour``. ``others`` are the layers selected besides; those
    without the property are left alone.
    """

    at_playhead: ClassVar[bool] = True
    kind: Literal["set_value"] = "set_value"
    scene: Identity
    layer: Identity
    others: Identities = ()
    property: str
    component: Literal[0, 1] = 0
    value: Number | None = None
    by: Number | None = None
    told: Annotated[str, Field(max_length=200)] | None = None
    colour: Colour | None = None
    time: Moment
    keying: bool = False
    axes: Axes = "parent"

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        facts = property_named(self.property)
        if self.component >= len(facts.components):
            raise Refusal(f"{facts.label} has one number only.")
        if facts.kind == "outline":
            raise Refusal("An outline is changed by its points, not by a number.")
        if [self.value, self.by, self.told, self.colour].count(None) != 3 or (facts.kind == "colour") != (
            self.colour is not None
        ):
            raise Refusal(f"Say what {facts.label} becomes: a {'colour' if facts.kind == 'colour' else 'number'}.")
        first = scene.layer(self.layer)
        first.track(facts.id)
        for layer in (first, *(scene.layer(x) for x in dict.fromkeys(self.others) if x != self.layer)):
            if facts.id in layer.properties:
                scene = scene.with_layer(self._on(scene, scene.layer(layer.id)))
        return project.with_scene(scene)

    def _on(self, scene: Scene, layer: Layer) -> Layer:
        name = self.property
        if self.colour is not None:
            track = change_value(layer.track(name), self.time, parse_colour(self.colour), self.keying, scene.half)
            return layer.with_track(name, track)
        now = pose(layer, self.time, (name,))[name]
        part = AXES.index(name) if name in AXES else self.component
        if name == "position" or name in AXES:
            spot = pose(layer, self.time, ("position",))["position"]
            now = position_in(scene, layer, spot, self.axes, self.time)
        value = self._number(now[part])
        if name in ("pivot_x", "pivot_y"):
            return with_pivot(scene, layer, name, value, self.time, self.keying)
        if name == "position" or name in AXES:
            at_told = (value, now[1]) if part == 0 else (now[0], value)
            at = position_from(scene, layer, at_told, self.axes, self.time)
            return with_spot(layer, self.time, at, self.keying, scene.half)
        return with_number(layer, name, self.component, value, self.time, self.keying, scene.half)

    def _number(self, now: float) -> float:
        facts = PROPERTIES[self.property]
        if self.told is not None:
            return evaluate_number(self.told, facts.shown(now)) / facts.factor
        return now + self.by if self.by is not None else float(self.value or 0.0)

    def keyed(self) -> Iterable[LaneName]:
        # A pivot that is keyed keys the position with it.
        names = (self.property, *POSITION) if self.property.startswith("pivot") else (self.property,)
        return [(layer, name) for layer in (self.layer, *self.others) for name in names] if self.keying else ()

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        names = [scene.layer(x).name for x in dict.fromkeys((self.layer, *self.others))]
        return f"{PROPERTIES[self.property].label} of {quoted(names)}"


def with_number(layer: Layer, name: str, component: int, value: float, time: int, keying: bool, half: int = 0) -> Layer:
    """A layer with a number of a property changed at a time."""
    if name == "scale" and component == 1:
        if layer.scale_link == "area":
            value = layer.scale_ratio / value if value else 1e6
        elif layer.scale_ratio == 0:
            raise Refusal("The vertical scale is linked at nought times the horizontal one. Unlink the axes first.")
        else:
            value = value / layer.scale_ratio
    if abs(value) > limits.MAX_NUMBER:
        raise Refusal(f"{PROPERTIES[name].label} cannot be that large.")
    return layer.with_track(name, change_value(layer.track(name), time, held(name, (value,)), keying, half))


def with_pivot(scene: Scene, layer: Layer, name: str, value: float, time: int, keying: bool) -> Layer:
    """The pivot at a number, the picture at this time unmoved: the whole motion goes along.

    Only where the pivot is keyed and changes are being keyed is a key made, and one of the position with it.
    """
    now = pose(layer, time, ("pivot_x", "pivot_y"))
    own = (value, now["pivot_y"][0]) if name == "pivot_x" else (now["pivot_x"][0], value)
    if not (keying and layer.track(name).keys):
        return MovePivot(scene=scene.id, layers=(layer.id,), time=time, own=own).on_layer(scene, layer)
    by = (own[0] - now["pivot_x"][0], own[1] - now["pivot_y"][0])
    dx, dy = pivot_shift(scene, layer, by, time)
    x, y = pose(layer, time, ("position",))["position"]
    layer = layer.with_track(name, change_value(layer.track(name), time, (value,), True, scene.half))
    return with_spot(layer, time, (x + dx, y + dy), True, scene.half)


class TypeKey(EditBase):
    """A key's value typed, and that of the keys ``others``; what has no such number is left alone.

    ``told`` may be relative, as any number: then each goes from its own. Component 2 of a position is its distance
    along the path, which a pace key has.
    """

    kind: Literal["type_key"] = "type_key"
    scene: Identity
    layer: Identity
    property: str
    time: Moment
    component: Literal[0, 1, 2] = 0
    told: Annotated[str, Field(max_length=200)]
    others: Annotated[tuple[KeyRef, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)] = ()

    def apply(self, project: Project) -> Project:
        project = self._one(project)
        mine = property_named(self.property)
        for ref in self.others:
            if (ref.layer, ref.property, ref.time) == (self.layer, self.property, self.time):
                continue
            facts = property_named(ref.property)
            if self.component != 2 and (facts.kind, facts.unit) == (mine.kind, mine.unit):
                edit = self.changed(layer=ref.layer, property=ref.property, time=ref.time, others=())
                project = edit._one(project) if self.component < len(facts.components) else project
        return project

    def _one(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        track = layer.track(property_named(self.property).id)
        if self.time not in track.key_times:
            raise Refusal("There is no key at this time any more.")
        if self.component == 2:
            if not isinstance(track, PathTrack):
                raise Refusal("Only a position has a distance along its path.")
            index = track.key_times.index(self.time)
            if track.keys[index].rests:
                raise Refusal("This key rests on a point of the path. Release it first, or move the point.")
            before = track.measures()
            told = evaluate_number(self.told, float(before[index]))
            made = in_proportion(at_distance(track, index, told), before)
            return project.with_scene(scene.with_layer(layer.with_track(self.property, made)))
        edit = SetValue(
            scene=self.scene, layer=self.layer, property=self.property, component=self.component, told=self.told,
            time=self.time, keying=True,
        )  # fmt: skip
        return edit.apply(project)

    def label(self, project: Project) -> str:
        if self.others:
            return f"Values of {len(self.others) + 1} keys"
        return f"A key of {project.scene(self.scene).layer(self.layer).name}"


class PutKey(LaneEdit):
    """A key at a time and a value, as the pointer says: on the curve it changes nothing, off it it bends the motion.

    On a position it is a pace key, and its value the distance along the path.
    """

    kind: Literal["put_key"] = "put_key"
    time: Moment
    #: In core units; None is on the curve.
    value: Number | None = None

    def on_track(self, scene: Scene, layer: Layer, facts: Property, track: AnyTrack) -> AnyTrack:
        time = track.time_near(self.time, scene.half)
        track = insert_key(track, time, pace=True) if track.keys else set_key(track, time)
        if self.value is not None and facts.kind == "number":
            track = change_value(track, time, held(facts.id, (self.value,)), keying=True)
        elif self.value is not None and isinstance(track, PathTrack):
            before = track.measures()
            track = in_proportion(at_distance(track, track.key_times.index(time), self.value), before)
        return track

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        scene = project.scene(self.scene)
        time = scene.layer(self.layer).track(self.property).time_near(self.time, scene.half)
        return [KeyRef(layer=self.layer, property=self.property, time=time)]

    def label(self, project: Project) -> str:
        return f"Key {self.of_what(project)}"


class CopyNumbers(EditBase):
    """One layer's numbers at a time given to others: some properties, or all of its transform."""

    at_playhead: ClassVar[bool] = True
    kind: Literal["copy_numbers"] = "copy_numbers"
    scene: Identity
    source: Identity
    layers: Annotated[Identities, Field(min_length=1)]
    properties: tuple[str, ...] = ()
    time: Moment
    keying: bool = False

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        source = scene.layer(self.source)
        wanted = self.properties or source.transform
        values = pose(source, self.time, wanted)
        for layer_id in at_work(dict.fromkeys(self.layers)):
            layer = scene.layer(layer_id)
            for name in wanted:
                if layer.id != source.id and name in layer.properties:
                    value = values[name][:1] if name == "scale" else values[name]
                    track = change_value(layer.track(name), self.time, value, self.keying, scene.half)
                    layer = layer.with_track(name, track)
            scene = scene.with_layer(layer)
        return project.with_scene(scene)

    def keyed(self) -> Iterable[LaneName]:
        return [(layer, name) for layer in self.layers for name in self.properties] if self.keying else ()

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        return f"Numbers of {scene.layer(self.source).name} to {quoted([scene.layer(x).name for x in self.layers])}"
