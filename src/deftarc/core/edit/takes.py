"""Edits of takes: another version of the timing of some layers begun, shown, named, copied from, deleted."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Identity, Name
from deftarc.core.document import Layer, Project, Scene, new_id
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.takes import Take, TakenLayer, TakeSet, as_taken, retaken, taken
from deftarc.core.edit.base import EditBase, Note, quoted
from deftarc.core.edit.keys import Lane

#: A lane that is no lane: a layer's span.
SPAN = "span"
Layers = Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]


def set_named(scene: Scene, set_id: str) -> TakeSet:
    found = next((each for each in scene.takes if each.id == set_id), None)
    if found is None:
        raise unknown("set of takes", set_id)
    return found


def take_named(told: TakeSet, take_id: str) -> Take:
    found = told.take(take_id)
    if found is None:
        raise unknown("take", take_id)
    return found


def with_set(scene: Scene, told: TakeSet) -> Scene:
    """The scene with a set of takes in place of the one that has its id, or besides those there are."""
    if any(each.id == told.id for each in scene.takes):
        return scene.changed(takes=tuple(told if each.id == told.id else each for each in scene.takes))
    if len(scene.takes) >= limits.MAX_TAKE_SETS:
        raise Refusal(f"A scene has takes of at most {limits.MAX_TAKE_SETS} selections.")
    return scene.changed(takes=(*scene.takes, told))


def here(scene: Scene, told: TakeSet) -> list[Layer]:
    """The layers of a set that are still there."""
    wanted = set(told.layers)
    return [layer for layer in scene.layers if layer.id in wanted]


def as_it_is(scene: Scene, told: TakeSet) -> TakeSet:
    """A set whose shown take has what the layers are now, so that another one can be shown. What layers that are gone
    were in it is not known any more.
    """
    layers = tuple(taken(layer) for layer in here(scene, told))
    takes = tuple(take.changed(layers=layers) if take.id == told.shown else take for take in told.takes)
    return told.changed(takes=takes)


def timing_in(scene: Scene, told: TakeSet, take: Take) -> dict[str, TakenLayer]:
    """By layer, its timing in a take."""
    if take.id == told.shown:
        return {layer.id: taken(layer) for layer in here(scene, told)}
    return {each.layer: each for each in take.layers}


def in_take(scene: Scene, set_id: str, take_id: str) -> Scene:
    """The scene as it would be with another take shown."""
    told = set_named(scene, set_id)
    take = take_named(told, take_id)
    if take.id == told.shown:
        return scene
    return led_by_what_is_here(scene.changed(layers=tuple(as_taken(layer, take) for layer in scene.layers)))


def led_by_what_is_here(scene: Scene) -> Scene:
    """A scene whose layers follow nothing that was deleted since a take was kept."""
    here = {layer.id for layer in scene.layers}
    return scene.with_layers({
        layer.id: layer.changed(links={n: x for n, x in layer.links.items() if x.source.layer in here})
        for layer in scene.layers
        if any(link.source.layer not in here for link in layer.links.values())
    })  # fmt: skip


class NewTake(EditBase):
    """Another take of the timing of some layers: it begins as what shows, and shows. Layers that had no takes come to
    have what shows now as their first.
    """

    kind: Literal["new_take"] = "new_take"
    scene: Identity
    layers: Layers
    name: Name | None = None
    id: Identity = Field(default_factory=new_id)
    #: Of what has no takes yet: the ids of the set and of its first.
    set: Identity = Field(default_factory=new_id)
    first: Identity = Field(default_factory=new_id)

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        told = self._set(scene)
        if len(told.takes) >= limits.MAX_TAKES:
            raise Refusal(f"There are {limits.MAX_TAKES} takes of this already. Delete one first.")
        if told.take(self.id) is not None:
            raise Refusal("A take with this id is there already.")
        told = as_it_is(scene, told)
        fresh = Take(id=self.id, name=self.name or next_name(told))
        return project.with_scene(with_set(scene, told.changed(takes=(*told.takes, fresh), shown=fresh.id)))

    def _set(self, scene: Scene) -> TakeSet:
        """The set that is added to: what the layers have, with those that have none; or a new one."""
        wanted = [scene.layer(name).id for name in dict.fromkeys(self.layers)]
        met = [each for each in scene.takes if set(each.layers) & set(wanted)]
        if len(met) > 1:
            raise Refusal("These layers have takes of their own, apart from each other. Select those of one set.")
        if not met:
            return TakeSet(id=self.set, layers=tuple(wanted), shown=self.first,
                           takes=(Take(id=self.first, name="Take 1"),))  # fmt: skip
        told = met[0]
        more = [scene.layer(name) for name in wanted if name not in told.layers]
        if not more:
            return told
        beside = tuple(taken(layer) for layer in more)
        takes = tuple(t if t.id == told.shown else t.changed(layers=(*t.layers, *beside)) for t in told.takes)
        return told.changed(layers=(*told.layers, *(layer.id for layer in more)), takes=takes)

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        names = quoted([scene.layer(name).name for name in dict.fromkeys(self.layers)])
        return f"Begin the take {self.name} of {names}" if self.name else f"Begin a take of {names}"


def next_name(told: TakeSet) -> str:
    names = {take.name for take in told.takes}
    return next(name for n in range(len(names) + 1, 10_000) if (name := f"Take {n}") not in names)


class TakeEdit(EditBase):
    """An edit of one take of a set."""

    scene: Identity
    set: Identity
    take: Identity

    def found(self, project: Project) -> tuple[Scene, TakeSet, Take]:
        scene = project.scene(self.scene)
        told = set_named(scene, self.set)
        return scene, told, take_named(told, self.take)


class ShowTake(TakeEdit):
    """Another take shows; what showed is kept as it was."""

    brings_paths: ClassVar[bool] = True
    keeps_ties: ClassVar[bool] = True
    kind: Literal["show_take"] = "show_take"

    def apply(self, project: Project) -> Project:
        scene, told, take = self.found(project)
        if take.id == told.shown:
            return project
        return project.with_scene(shown(scene, told, take))

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene, told, take = self.found(before)
        lost = {
            name: layer.name
            for layer in here(scene, told)
            for each in take.layers
            if each.layer == layer.id
            for name in retaken(layer, each)[1]
        }
        if not lost:
            return ()
        names = ", ".join(f"{PROPERTIES[name].label} of {whose}" for name, whose in list(lost.items())[:3])
        return (Note(f"The artwork is another now: there is no place for {names} of this take."),)

    def label(self, project: Project) -> str:
        return f"Show the take {self.found(project)[2].name}"


def shown(scene: Scene, told: TakeSet, take: Take) -> Scene:
    """A scene with another take shown: the one before keeps what it was, this one is the layers themselves."""
    kept = as_it_is(scene, told)
    takes = tuple(t.changed(layers=()) if t.id == take.id else t for t in kept.takes)
    made = with_set(scene, kept.changed(takes=takes, shown=take.id))
    return led_by_what_is_here(made.changed(layers=tuple(as_taken(layer, take) for layer in made.layers)))


class RenameTake(TakeEdit):
    kind: Literal["rename_take"] = "rename_take"
    name: Name

    def apply(self, project: Project) -> Project:
        scene, told, take = self.found(project)
        takes = tuple(t.changed(name=self.name) if t.id == take.id else t for t in told.takes)
        return project.with_scene(with_set(scene, told.changed(takes=takes)))

    def label(self, project: Project) -> str:
        return f"Name the take {self.name}"


class DeleteTake(TakeEdit):
    """A take deleted. Where it shows, the one before it does; with the last but one the set is no more."""

    brings_paths: ClassVar[bool] = True
    keeps_ties: ClassVar[bool] = True
    kind: Literal["delete_take"] = "delete_take"

    def apply(self, project: Project) -> Project:
        scene, told, take = self.found(project)
        rest = [each for each in told.takes if each.id != take.id]
        if not rest:
            return project.with_scene(scene.changed(takes=tuple(x for x in scene.takes if x.id != told.id)))
        if take.id == told.shown:
            at = told.takes.index(take)
            scene = shown(scene, told, rest[max(0, at - 1)])
            told = set_named(scene, told.id)
        takes = tuple(each for each in told.takes if each.id != take.id)
        if len(takes) == 1:
            return project.with_scene(scene.changed(takes=tuple(x for x in scene.takes if x.id != told.id)))
        return project.with_scene(with_set(scene, told.changed(takes=takes)))

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene, told, take = self.found(before)
        kept = take.changed(layers=tuple(timing_in(scene, told, take).values()))
        back = RestoreTake(scene=self.scene, set=told.changed(takes=tuple(
            kept if each.id == take.id else each for each in told.takes)), take=take.id)  # fmt: skip
        return (Note(f"{take.name} is deleted.", "Bring it back", back),)

    def label(self, project: Project) -> str:
        return f"Delete the take {self.found(project)[2].name}"


class RestoreTake(EditBase):
    """A take brought back beside those there are; it does not show."""

    kind: Literal["restore_take"] = "restore_take"
    scene: Identity
    #: The set as it was, with the take as it was kept.
    set: TakeSet
    take: Identity

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        take = take_named(self.set, self.take)
        told = next((each for each in scene.takes if each.id == self.set.id), None)
        if told is None:
            # It was one of two: the other is what shows now, whichever that was.
            other = next((each for each in self.set.takes if each.id != take.id), None)
            if other is None:
                raise Refusal("There is nothing beside this take that could show.")
            told = self.set.changed(takes=(other.changed(layers=()),), shown=other.id)
        if told.take(take.id) is not None:
            raise Refusal(f"{take.name} is there.")
        return project.with_scene(with_set(scene, told.changed(takes=(*told.takes, take))))

    def label(self, project: Project) -> str:
        return f"Bring the take {take_named(self.set, self.take).name} back"


class CopyTake(EditBase):
    """Lanes as they are in one take given to another of its set; ``span`` among the properties is the layer's span."""

    brings_paths: ClassVar[bool] = True
    keeps_ties: ClassVar[bool] = True
    kind: Literal["copy_take"] = "copy_take"
    scene: Identity
    set: Identity
    source: Identity
    target: Identity
    lanes: Annotated[tuple[Lane, ...], Field(min_length=1, max_length=limits.MAX_KEYS_PER_LANE)]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        told = set_named(scene, self.set)
        source, target = (take_named(told, name) for name in (self.source, self.target))
        if source.id == target.id:
            raise Refusal("These are one take. Choose another to copy from.")
        given, has = timing_in(scene, told, source), timing_in(scene, told, target)
        by: dict[str, list[str]] = {}
        for lane in self.lanes:
            by.setdefault(lane.layer, []).append(lane.property)
        made = dict(has)
        for layer_id, names in by.items():
            if layer_id not in given or layer_id not in has:
                raise Refusal(f"{scene.layer(layer_id).name} is not in both takes.")
            made[layer_id] = _with_lanes(has[layer_id], given[layer_id], names)
        if target.id == told.shown:
            layers = tuple(retaken(layer, made[layer.id])[0] if layer.id in by else layer for layer in scene.layers)
            return project.with_scene(scene.changed(layers=layers))
        kept = target.changed(layers=tuple(made.values()))
        takes = tuple(kept if each.id == target.id else each for each in told.takes)
        return project.with_scene(with_set(scene, told.changed(takes=takes)))

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        told = set_named(scene, self.set)
        what = "a lane" if len(self.lanes) == 1 else f"{len(self.lanes)} lanes"
        return f"Copy {what} from {take_named(told, self.source).name} to {take_named(told, self.target).name}"


def _with_lanes(has: TakenLayer, given: TakenLayer, names: Sequence[str]) -> TakenLayer:
    """A layer's timing with some lanes of another; how its axes are kept goes with what that concerns."""
    tracks = dict(has.tracks)
    head: dict[str, object] = {}
    wanted = set(names)
    if SPAN in wanted:
        head |= {"start": given.start, "end": given.end}
    if any(name.startswith("position") for name in wanted) and has.axes_split != given.axes_split:
        wanted |= {"position", "position_x", "position_y", "along", "lean"}
        head["axes_split"] = given.axes_split
    if any(name.startswith("scale") for name in wanted) and has.scale_link != given.scale_link:
        wanted |= {"scale", "scale_x", "scale_y"}
        head |= {"scale_link": given.scale_link, "scale_ratio": given.scale_ratio}
    for name in wanted - {SPAN}:
        tracks.pop(name, None)
        if name in given.tracks:
            tracks[name] = given.tracks[name]
    return has.changed(**head, tracks=tracks)


@dataclass(frozen=True)
class Difference:
    """A lane that two takes have otherwise; ``span`` is a layer's span."""

    layer: str
    property: str
    words: str


def differences(scene: Scene, told: TakeSet, one: Take, other: Take) -> Iterator[Difference]:
    """What two takes of a set have otherwise, lane by lane."""
    first, second = timing_in(scene, told, one), timing_in(scene, told, other)
    for layer in here(scene, told):
        a, b = first.get(layer.id), second.get(layer.id)
        if a is None or b is None:
            continue
        if (a.start, a.end) != (b.start, b.end):
            yield Difference(layer.id, SPAN, "shows at other times")
        for name in (*PROPERTIES, *(n for n in {**a.tracks, **b.tracks} if "/" in n)):
            p, q = a.tracks.get(name), b.tracks.get(name)
            if p is q or p == q:
                continue
            yield Difference(layer.id, name, _apart(p, q))


def _apart(one: object, other: object) -> str:
    """In what two tracks differ, the most telling first."""
    p, q = (getattr(each, "keys", ()) for each in (one, other))
    if len(p) != len(q):
        return f"{len(p)} and {len(q)} keys"
    if [key.time for key in p] != [key.time for key in q]:
        return "other times"
    if [getattr(key, "value", None) for key in p] != [getattr(key, "value", None) for key in q] or getattr(
        one, "points", ()
    ) != getattr(other, "points", ()):
        return "other values"
    if p != q:
        return "other easing"
    return "other before and after"
