"""Edits of what goes on before the first key and after the last, and of where in its cycle a lane is."""

from collections.abc import Iterator, Sequence
from typing import Annotated, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity, Moment, Number
from deftarc.core.base.working import at_work
from deftarc.core.changes.bake import baked
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.rebuild import rebuilt
from deftarc.core.changes.retime import track_retimed
from deftarc.core.curves.beyond import MOST_PLAYS, Beyond, How
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import PROPERTIES, property_named
from deftarc.core.document.track import AnyTrack, BlendTrack
from deftarc.core.edit.base import EditBase, Note, quoted
from deftarc.core.edit.keys import Lane

Lanes = Annotated[tuple[Lane, ...], Field(min_length=1, max_length=limits.MAX_KEYS_PER_LANE)]
WORDS = {
    "hold": "Hold", "rest": "Rest", "repeat": "Repeat", "alternate": "Alternate", "accumulate": "Accumulate",
    "continue": "Continue",
}  # fmt: skip


def called(layer: Layer, name: str) -> str:
    """“Rotation of Gull”."""
    return f"{PROPERTIES[name].label} of {layer.name}"


def _with_tracks(layer: Layer, tracks: dict[str, AnyTrack]) -> Layer:
    for name, track in tracks.items():
        layer = layer.with_track(name, track)
    return layer


class LanesEdit(EditBase):
    """An edit of some lanes, one after the other."""

    scene: Identity
    lanes: Lanes

    def found(self, scene: Scene) -> Iterator[tuple[Layer, str, AnyTrack]]:
        """The lanes, each once; Refusal where one has no keys."""
        for layer_id, name in dict.fromkeys((lane.layer, lane.property) for lane in self.lanes):
            layer = scene.layer(layer_id)
            track = layer.track(property_named(name).id)
            if not track.keys:
                raise Refusal(f"{called(layer, name)} has no keys to go on from. Set two keys first.")
            yield layer, name, track

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        tracks: dict[str, dict[str, AnyTrack]] = {}
        found = list(self.found(scene))
        for layer, name, track in at_work(found):
            tracks.setdefault(layer.id, {})[name] = self.on_lane(scene, layer, name, track)
        return project.with_scene(
            scene.changed(layers=tuple(_with_tracks(each, tracks.get(each.id, {})) for each in scene.layers))
        )

    def on_lane(self, scene: Scene, layer: Layer, name: str, track: AnyTrack) -> AnyTrack:
        raise NotImplementedError

    def of_lanes(self, project: Project) -> str:
        scene = project.scene(self.scene)
        layers = quoted([scene.layer(x).name for x in dict.fromkeys(lane.layer for lane in self.lanes)])
        names = list(dict.fromkeys(lane.property for lane in self.lanes))
        return f"{PROPERTIES[names[0]].label if len(names) == 1 else f'{len(names)} lanes'} of {layers}"


class SetBeyond(LanesEdit):
    """What lanes do before their first key or after their last: hold, rest at a value, repeat, alternate, accumulate
    or continue at the end's speed; so many plays in all, or for ever.
    """

    kind: Literal["set_beyond"] = "set_beyond"
    side: Literal["before", "after", "both"] = "after"
    how: Literal["hold"] | How
    count: Annotated[float, Field(ge=1, le=MOST_PLAYS)] | None = None
    #: A key of the lane: after, only what follows it is played again; before, only what leads to it.
    part: Moment | None = None
    #: Where all these lanes do so already, they hold instead.
    again: bool = False
    #: Of rest, in shown units.
    rest: Annotated[tuple[Number, ...], Field(max_length=4)] = ()

    def _meant(self, scene: Scene) -> "SetBeyond":
        """What it comes to."""
        sides = ("before", "after") if self.side == "both" else (self.side,)
        every = [getattr(track, side) for _, _, track in self.found(scene) for side in sides]
        if self.again and all(told is not None and told.how == self.how for told in every):
            return self.changed(how="hold", again=False)
        return self.changed(again=False)

    def apply(self, project: Project) -> Project:
        return super(SetBeyond, self._meant(project.scene(self.scene))).apply(project)

    def on_lane(self, scene: Scene, layer: Layer, name: str, track: AnyTrack) -> AnyTrack:
        facts = PROPERTIES[name]
        if self.how in ("accumulate", "continue") and isinstance(track, BlendTrack):
            what = "add up" if self.how == "accumulate" else "go on at a speed"
            raise Refusal(f"{facts.label} cannot {what}: it has no amounts. Let it repeat or alternate.")
        if self.how in ("repeat", "alternate", "accumulate", "continue") and len(track.keys) < 2:
            raise Refusal(f"{called(layer, name)} has one key: a cycle is from one key to another. Set a second.")
        told = None
        if self.how != "hold":
            value = tuple(facts.held(each / facts.factor) for each in self.rest) if self.how == "rest" else ()
            told = Beyond(how=self.how, count=self.count, part=self.part, value=value)
        if self.side != "after":
            track = track.changed(before=told)
        if self.side != "before":
            track = track.changed(after=told)
        return rebuilt(track, track.keys)

    def label(self, project: Project) -> str:
        where = {"both": "before and after", "before": "before", "after": "after"}[self.side]
        often = f" {self.count:g} times" if self.count is not None else ""
        return (
            f"{WORDS[self._meant(project.scene(self.scene)).how]}{often} {where} the keys of {self.of_lanes(project)}"
        )


class BakeBeyond(LanesEdit):
    """What goes on before and after lanes' keys made into ordinary keys, over the scene or between two moments."""

    kind: Literal["bake_beyond"] = "bake_beyond"
    start: Moment | None = None
    end: Moment | None = None

    def on_lane(self, scene: Scene, layer: Layer, name: str, track: AnyTrack) -> AnyTrack:
        low = 0 if self.start is None else self.start
        high = scene.length if self.end is None else self.end
        if not track.lasts:
            raise Refusal(f"{called(layer, name)} holds before and after its keys: there is nothing to make.")
        return baked(track, low, high)

    def label(self, project: Project) -> str:
        return f"Make keys of what goes on in {self.of_lanes(project)}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return []

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = after.scene(self.scene)
        counts = sum(len(scene.layer(lane.layer).track(lane.property).keys) for lane in self.lanes)
        return (Note(f"{counts} keys now, with the same motion."),)


class SetPhase(LanesEdit):
    """Where in its cycle a lane is when the play range begins, as a share of the cycle: its keys are moved in time, by
    as little as does it; ``step`` gives each further layer so much more, so that they do not move in step.
    """

    kind: Literal["set_phase"] = "set_phase"
    phase: Annotated[float, Field(ge=-1000, le=1000)] = 0.0
    step: Annotated[float, Field(ge=-1000, le=1000)] = 0.0
    #: Added to the phase each lane has, instead of taking its place.
    by: bool = False

    def apply(self, project: Project) -> Project:
        scene = before = project.scene(self.scene)
        begins = (before.play_range or (0, before.length))[0]
        order: dict[str, int] = {}
        for layer, name, track in self.found(before):
            length = track.period
            if length is None:
                raise Refusal(f"{called(layer, name)} does not repeat, so it has no phase. Let it repeat first.")
            n = order.setdefault(layer.id, len(order))
            now = phase_of(track, begins) or 0.0
            wanted = self.phase + self.step * n + (now if self.by else 0.0)
            off = (wanted - now) % 1.0
            off = off - 1.0 if off > 0.5 else off
            by = -round(off * length)
            # An open beginning must be covered by the keys that play: they come earlier rather than later.
            if track.before is None and track.key_times[0] + by > begins:
                by -= length
            made = track_retimed(track, lambda time, by=by: time + by)  # type: ignore[misc]
            scene = scene.with_layer(scene.layer(layer.id).with_track(name, made))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Phase of {self.of_lanes(project)}"


def phase_of(track: AnyTrack, begins: int) -> float | None:
    """Where in its cycle a lane is at a moment, from 0 to 1; None where it does not cycle."""
    length = track.period
    return None if not length else ((begins - track.key_times[0]) % length) / length
