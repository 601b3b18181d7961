"""Edits of markers: set, by hand or as a row from a tempo; moved, named, coloured, taken away; keys brought to them."""

from collections.abc import Iterator, Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field, StringConstraints

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Frozen, Identity, Moment
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.keys import KeyRef, move_keys
from deftarc.core.document import Layer, Project, Scene, new_id
from deftarc.core.document.marker import Marker, in_order
from deftarc.core.document.tags import Tag
from deftarc.core.edit.base import EditBase, Note
from deftarc.core.edit.keys import KeysEdit, by_lane
from deftarc.core.edit.move_keys import checked_time
from deftarc.core.evaluate.clocks import inner_time, lane_clocks

MarkerName = Annotated[str, StringConstraints(strip_whitespace=True, max_length=limits.MAX_NAME)]


class Mark(Frozen):
    """A marker, by whose it is: a layer's, or where none is told the scene's."""

    layer: Identity | None = None
    id: Identity


Marks = Annotated[tuple[Mark, ...], Field(min_length=1, max_length=limits.MAX_MARKERS)]


def markers_of(scene: Scene, layer_id: str | None) -> tuple[Marker, ...]:
    return scene.markers if layer_id is None else scene.layer(layer_id).markers


def with_markers(scene: Scene, layer_id: str | None, markers: tuple[Marker, ...]) -> Scene:
    """The scene with other markers of its own, or of a layer; they are put in order."""
    if len(markers) > limits.MAX_MARKERS:
        raise Refusal(f"There would be more than {limits.MAX_MARKERS:,} markers. Set fewer.")
    ordered = in_order(markers)
    if layer_id is None:
        return scene.changed(markers=ordered)
    return scene.with_layer(scene.layer(layer_id).changed(markers=ordered))


def found(scene: Scene, marks: Sequence[Mark]) -> Iterator[tuple[str | None, set[str]]]:
    """The ids of markers by whose they are; refuses one that is not there."""
    by: dict[str | None, set[str]] = {}
    for mark in marks:
        by.setdefault(mark.layer, set()).add(mark.id)
    for owner, ids in by.items():
        here = {marker.id for marker in markers_of(scene, owner)}
        if ids - here:
            raise unknown("marker", min(ids - here))
        yield owner, ids


class SetMarkers(EditBase):
    """Markers set, on a layer or on the scene. Where one stands already, within half a frame, none is set."""

    kind: Literal["set_markers"] = "set_markers"
    scene: Identity
    layer: Identity | None = None
    markers: Annotated[tuple[Marker, ...], Field(min_length=1, max_length=limits.MAX_MARKERS)]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        there = markers_of(scene, self.layer)
        made = list(there)
        for marker in self.markers:
            if all(abs(marker.time - each.time) > scene.half for each in made):
                if any(marker.id == each.id for each in made):
                    raise Refusal("A marker with this id is there already.")
                made.append(marker)
        if len(made) == len(there):
            raise Refusal("A marker stands at this frame already. Move it, or give it another name.")
        return project.with_scene(with_markers(scene, self.layer, tuple(made)))

    def label(self, project: Project) -> str:
        whose = f" on {project.scene(self.scene).layer(self.layer).name}" if self.layer is not None else ""
        if len(self.markers) > 1:
            return f"Set {len(self.markers)} markers{whose}"
        name = self.markers[0].name
        return f"Set the marker {name}{whose}" if name else f"Set a marker{whose}"


class MarkTempo(EditBase):
    """A row of markers from a tempo, in beats a minute, from one moment to another. The first of each bar has its
    number and a colour of its own; ``every`` leaves out all others.
    """

    kind: Literal["mark_tempo"] = "mark_tempo"
    scene: Identity
    layer: Identity | None = None
    start: Moment
    #: None is the end of what loops.
    end: Moment | None = None
    tempo: Annotated[float, Field(ge=1, le=1_000)]
    beats: Annotated[int, Field(ge=1, le=64)] = 4
    every: Literal["beat", "bar"] = "beat"
    #: How many are set; None are as many as come before the end.
    count: Annotated[int, Field(ge=1, le=limits.MAX_MARKERS)] | None = None
    #: What the ids of its markers begin with.
    id: Annotated[str, StringConstraints(pattern=r"^[a-z0-9]{1,16}$")] = Field(default_factory=new_id)

    def row(self, scene: Scene) -> list[Marker]:
        end = (scene.play_range or (0, scene.length))[1] if self.end is None else self.end
        beat = 60 * FLICKS / self.tempo
        if self.count is not None:
            count = (self.count - 1) * (self.beats if self.every == "bar" else 1) + 1
        else:
            count = int((end - self.start - 1) // beat) + 1 if end > self.start else 0
        if count < 1:
            raise Refusal("There is no beat between these moments. Begin earlier, or choose a faster tempo.")
        set_ = -(-count // self.beats) if self.every == "bar" else count
        if set_ > limits.MAX_MARKERS:
            raise Refusal(f"That would be {set_:,} markers; there are at most {limits.MAX_MARKERS:,}.")
        out = []
        for n in range(count):
            first = n % self.beats == 0
            if first or self.every == "beat":
                name = str(n // self.beats + 1) if first else ""
                time = checked_time(self.start + round(n * beat))
                out.append(Marker(id=f"{self.id}{n:x}", time=time, name=name, tag="sea" if first else "slate"))
        return out

    def apply(self, project: Project) -> Project:
        row = tuple(self.row(project.scene(self.scene)))
        return SetMarkers(scene=self.scene, layer=self.layer, markers=row).apply(project)

    def label(self, project: Project) -> str:
        return f"Mark the beats of {self.tempo:g} a minute"


class ChangeMarkers(EditBase):
    """Markers moved by so many flicks, or one put at a time; named, coloured. What is left out stays."""

    snaps: ClassVar = "keys"
    kind: Literal["change_markers"] = "change_markers"
    scene: Identity
    marks: Marks
    by: Moment = 0
    time: Moment | None = None
    name: MarkerName | None = None
    tag: Tag | None = None

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for owner, ids in found(scene, self.marks):
            markers = tuple(self._one(m) if m.id in ids else m for m in markers_of(scene, owner))
            scene = with_markers(scene, owner, markers)
        return project.with_scene(scene)

    def _one(self, marker: Marker) -> Marker:
        time = marker.time + self.by if self.time is None else self.time
        return marker.changed(
            time=checked_time(time),
            name=marker.name if self.name is None else self.name,
            tag=self.tag or marker.tag,
        )

    def times(self, scene: Scene) -> list[int]:
        """When its markers are, those told first first."""
        at = {(owner, m.id): m.time for owner in {mark.layer for mark in self.marks} for m in markers_of(scene, owner)}
        return [at[mark.layer, mark.id] for mark in self.marks if (mark.layer, mark.id) in at]

    def label(self, project: Project) -> str:
        what = "a marker" if len(self.marks) == 1 else f"{len(self.marks)} markers"
        if self.name is not None:
            return f"Name {what} {self.name}".rstrip()
        return f"Colour {what}" if self.tag is not None else f"Move {what}"


class DeleteMarkers(EditBase):
    kind: Literal["delete_markers"] = "delete_markers"
    scene: Identity
    marks: Marks

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for owner, ids in found(scene, self.marks):
            scene = with_markers(scene, owner, tuple(m for m in markers_of(scene, owner) if m.id not in ids))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return "Delete a marker" if len(self.marks) == 1 else f"Delete {len(self.marks)} markers"


def marker_times(scene: Scene, layer: Layer) -> list[int]:
    """The moments marked for a layer: the scene's, its own and those of who carries it, in order."""
    every = {m.time for each in (layer, *scene.ancestors(layer)) for m in each.markers}
    return sorted(every | {m.time for m in scene.markers})


class KeysToMarkers(KeysEdit):
    """Keys brought to markers: of those of a lane that are nearest to one marker, the nearest goes there and the others
    stay. Shapes between keys are kept.
    """

    kind: Literal["keys_to_markers"] = "keys_to_markers"
    nothing: ClassVar[str] = "There is no marker to bring these keys to. Set one first."

    def moves(self, scene: Scene, layer: Layer, name: str, times: Sequence[int]) -> dict[int, int]:
        """Where keys of a lane go, {old time: new time}."""
        # Where a clock tells the lane's time, a key stands at what that tells at the marker: it shows there.
        clocks = lane_clocks(scene, layer, name)
        marked = [inner_time(clocks, time) for time in marker_times(scene, layer)]
        if not marked:
            return {}
        staying = set(layer.track(name).key_times) - set(times)
        nearest: dict[int, int] = {}
        for time in times:
            at = min(marked, key=lambda mark: abs(mark - time))
            best = nearest.get(at)
            if at not in staying and (best is None or abs(time - at) < abs(best - at)):
                nearest[at] = time
        moves = {time: at for at, time in nearest.items()}
        # One that stays because another is nearer keeps its time; none may be where it is.
        kept = set(times) - set(moves)
        return {time: at for time, at in moves.items() if at not in kept}

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        lanes = by_lane(scene, self.keys)
        if not any(marker_times(scene, scene.layer(layer_id)) for layer_id, _ in lanes):
            raise Refusal(self.nothing)
        for (layer_id, name), times in lanes.items():
            layer = scene.layer(layer_id)
            moves = self.moves(project.scene(self.scene), layer, name, times)
            if moves:
                scene = scene.with_layer(layer.with_track(name, move_keys(layer.track(name), moves)))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Bring {self.of_what(project)} to the markers"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return [ref.changed(time=to) for ref, to in self._ways(before)]

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = before.scene(self.scene)
        stayed = sum(to == ref.time and not self._marked(scene, ref) for ref, to in self._ways(before))
        if not stayed:
            return ()
        return (Note(f"{stayed} key{'s' if stayed > 1 else ''} stayed: another one is nearer to the marker."),)

    @staticmethod
    def _marked(scene: Scene, ref: KeyRef) -> bool:
        layer = scene.layer(ref.layer)
        clocks = lane_clocks(scene, layer, ref.property)
        return any(inner_time(clocks, time) == ref.time for time in marker_times(scene, layer))

    def _ways(self, project: Project) -> Iterator[tuple[KeyRef, int]]:
        scene = project.scene(self.scene)
        for (layer_id, name), times in by_lane(scene, self.keys).items():
            moves = self.moves(scene, scene.layer(layer_id), name, times)
            for time in times:
                yield KeyRef(layer=layer_id, property=name, time=time), moves.get(time, time)
