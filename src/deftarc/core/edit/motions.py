"""Edits of saved motions: kept in the project and forgotten, and laid on layers."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Frozen, Identity, Moment, Name, Number
from deftarc.core.changes.landing import Landing, fitted_in, held, like
from deftarc.core.changes.pieces import at_times, fitted
from deftarc.core.changes.retime import span_of
from deftarc.core.changes.saved import about_rest, dialled, from_there
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.clip import CopiedLane
from deftarc.core.document.motion import Rest, SavedMotion
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.staggered import Order
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit.base import EditBase, quoted
from deftarc.core.edit.landings import LandingsEdit
from deftarc.core.edit.stagger import in_order
from deftarc.core.evaluate.clocks import clocks_of, inner_time


class KeepMotion(EditBase):
    """A motion kept in the project under its name; one of that name is replaced, unless it is to be a fresh one."""

    kind: Literal["keep_motion"] = "keep_motion"
    motion: SavedMotion
    #: Instead of the one of this name, which has another now.
    was: Name | None = None
    #: Refused where another one of its name would be lost.
    fresh: bool = False

    def apply(self, project: Project) -> Project:
        if self.was is not None and all(each.name != self.was for each in project.motions):
            raise unknown("saved motion", self.was)
        if self.fresh and any(each.name == self.motion.name != self.was for each in project.motions):
            raise Refusal(f"There is a “{self.motion.name}” already in this project. Change the name of one first.")
        gone = {self.motion.name, self.was}
        kept = [each for each in project.motions if each.name not in gone]
        if len(kept) >= limits.MAX_MOTIONS:
            raise Refusal(f"There are {limits.MAX_MOTIONS} saved motions in this project. Forget one first.")
        return project.changed(motions=(*kept, self.motion))

    def label(self, project: Project) -> str:
        return f"Save the motion {self.motion.name}"


def names_free(wanted: Sequence[SavedMotion], there: Sequence[SavedMotion]) -> list[SavedMotion]:
    """Motions that come to others: the same ones are left out, others of a name that is taken get a number."""
    known = {motion.name: motion for motion in there}
    out = []
    for motion in wanted:
        name, n = motion.name, 2
        while name in known and known[name].changed(name=motion.name) != motion:
            name, n = f"{motion.name[:110]} {n}", n + 1
        if name not in known:
            known[name] = motion.changed(name=name)
            out.append(known[name])
    return out


class BringMotions(EditBase):
    """Motions of a file kept in the project. Those that are here stay; others of their names get a number."""

    kind: Literal["bring_motions"] = "bring_motions"
    motions: Annotated[tuple[SavedMotion, ...], Field(min_length=1, max_length=limits.MAX_MOTIONS)]

    def apply(self, project: Project) -> Project:
        fresh = names_free(self.motions, project.motions)
        if len(project.motions) + len(fresh) > limits.MAX_MOTIONS:
            raise Refusal(f"A project has at most {limits.MAX_MOTIONS} saved motions. Forget some first.")
        return project.changed(motions=(*project.motions, *fresh))

    def label(self, project: Project) -> str:
        count = len(self.motions)
        return f"Import {'a motion' if count == 1 else f'{count} motions'}"


class ForgetMotion(EditBase):
    kind: Literal["forget_motion"] = "forget_motion"
    name: Name

    def apply(self, project: Project) -> Project:
        if all(motion.name != self.name for motion in project.motions):
            raise unknown("saved motion", self.name)
        return project.changed(motions=tuple(motion for motion in project.motions if motion.name != self.name))

    def label(self, project: Project) -> str:
        return f"Forget the motion {self.name}"


class LayHow(Frozen):
    """How a saved motion comes to lie on layers."""

    #: Where it is where the layer is: at its first keys or its last; None as it was saved.
    rest: Rest | None = None
    #: It begins at the playhead, begins where each layer does, or ends where each does.
    at: Literal["time", "start", "end"] = "time"
    #: As large as it was saved, by the size of each layer, or by that of the scene.
    size: Literal["kept", "layer", "scene"] = "kept"
    #: As long as told; or made to fill each layer's span, or the play range.
    fit: Literal["keep", "span", "range"] = "keep"
    #: What repeats begins so much of its cycle in.
    phase: Annotated[float, Field(ge=-1, le=1)] = 0.0
    #: From one layer, or one set of layers, to the next, in flicks, and in which order.
    step: Moment = 0
    order: Order = "listed"
    seed: Annotated[int, Field(ge=0, le=9_999)] = 1
    #: Whether keys there, from the first to the last laid, stay among them or make room.
    onto: Literal["mix", "replace"] = "mix"


class LayMotion(LandingsEdit):
    """A saved motion laid on layers as ordinary keys, from where each is. One of several layers goes onto as many, or
    several times as many, in the order of the list. ``numbers`` are those it asks for, by their ids; ``sizes`` how
    large each layer is across its corners, in px of what carries it.
    """

    looked_at: ClassVar[bool] = True
    not_laid: ClassVar[str] = "Not laid"
    kind: Literal["lay_motion"] = "lay_motion"
    motion: SavedMotion
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    sizes: Annotated[tuple[Annotated[float, Field(ge=0, le=limits.MAX_NUMBER)], ...], Field(max_length=1_000)] = ()
    time: Moment
    numbers: Annotated[dict[Identity, Number], Field(max_length=limits.MAX_DIALS)] = Field(default_factory=dict)
    how: LayHow = LayHow()

    def _sets(self, scene: Scene) -> list[list[Layer]]:
        """The layers that take it together, in the order of the list."""
        chosen = {scene.layer(name).id for name in self.layers}
        layers = [layer for layer in scene.layers if layer.id in chosen]
        parts = len(self.motion.clip.sources)
        if len(layers) % parts:
            raise Refusal(
                f"{self.motion.name} moves {parts} layers. Select {parts} to take it, or {2 * parts}, {3 * parts} …; "
                f"{len(layers)} are selected."
            )
        return [layers[n : n + parts] for n in range(0, len(layers), parts)]

    def landings(self, scene: Scene) -> tuple[list[Landing], list[str]]:
        """What comes to lie where, and in words what does not fit."""
        if self.sizes and len(self.sizes) != len(self.layers):
            raise Refusal("Say for each layer how large it is.")
        tracks, long = dialled(self.motion, self.numbers, scene.rate.flicks)
        lanes = [lane.changed(track=track) for lane, track in zip(self.motion.clip.lanes, tracks, strict=True)]
        sets = self._sets(scene)
        order = in_order(scene, [each[0] for each in sets], self.how.order, self.how.seed, self.time)
        out: list[Landing] = []
        missed: list[str] = []
        sources = self.motion.clip.sources
        for place, n in enumerate(order):
            pairs = [(lane, sets[n][sources.index(lane.of)]) for lane in lanes]
            step = self.how.step * (place - (len(sets) - 1 if self.how.at == "end" else 0))
            for each in fitted_in(scene, [(self._sized(scene, *pair), pair[1]) for pair in pairs], missed):
                low, by = self._begins(scene, each.layer, long)
                out.append(replace(each, track=self._placed(each, (low + step, by), long)))
        return out, list(dict.fromkeys(missed))

    def _begins(self, scene: Scene, layer: Layer, long: int) -> tuple[int, int]:
        """When it begins on a layer, and how long it is there, in the layer's own time: under a clock it begins where
        that is then, and goes by it as all of the layer's keys do.
        """
        clocks = clocks_of(scene, layer)

        def own(time: int) -> int:
            return inner_time(clocks, time)

        frame = scene.rate.flicks
        span = scene.play_range or (0, scene.length) if self.how.fit == "range" else span_of(layer, scene.length)
        last = max(span[1] - frame, span[0] + frame)
        if self.how.fit != "keep":
            return own(span[0]), max(own(last) - own(span[0]), frame)
        if self.how.at == "end":
            return own(last) - long, long
        return own(span[0] if self.how.at == "start" else self.time), long

    def _sized(self, scene: Scene, lane: CopiedLane, layer: Layer) -> CopiedLane:
        """A lane as large as it is to be on a layer."""
        facts = PROPERTIES[lane.property]
        if self.how.size == "kept" or (facts.unit != "px" and facts.kind != "outline"):
            return lane
        if self.how.size == "scene":
            was, now = self.motion.frame, (scene.width**2 + scene.height**2) ** 0.5
        else:
            sizes = self.motion.sizes
            was = sizes[self.motion.clip.sources.index(lane.of)] if sizes else None
            now = self.sizes[self.layers.index(layer.id)] if self.sizes else 0.0
            if was is not None and not now:
                raise Refusal(f"{layer.name} shows nothing here that has a size. Lay it as large as it was saved.")
        if was is None:
            raise Refusal(f"{self.motion.name} was saved without its size. Lay it as large as it is.")
        return lane.changed(track=about_rest(lane.track, facts, self._rest, now / was))

    @property
    def _rest(self) -> Rest:
        return self.how.rest or self.motion.rest

    def _placed(self, landing: Landing, begins: tuple[int, int], long: int) -> AnyTrack:
        """A lane in time and at the value where its layer is."""
        layer, name = landing.layer, landing.property
        facts, there = PROPERTIES[name], layer.track(name)
        low, by = begins
        piece = like(landing.track, there, facts)
        piece = fitted(piece, 0, long, (low, low + by)) if by != long and long > 0 else at_times(piece, low)
        rest = piece.keys[0 if self._rest == "first" else -1].time
        on_top = name in layer.links and not there.keys
        piece = held(from_there(piece, facts, self._rest, None if on_top else _value(there, rest)), facts)
        return self._in_its_cycle(piece)

    def _in_its_cycle(self, piece: AnyTrack) -> AnyTrack:
        if not self.how.phase or not piece.period:
            return piece
        # What plays after its keys alone has to have begun by then.
        share = self.how.phase % 1.0 if piece.before is None else self.how.phase
        return at_times(piece, -round(share * piece.period))

    @property
    def makes_room(self) -> bool:
        return self.how.onto == "replace"

    @property
    def what(self) -> str:
        return self.motion.name

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        return f"{self.motion.name} on {quoted([scene.layer(each).name for each in dict.fromkeys(self.layers)])}"


def _value(track: AnyTrack, time: int) -> tuple[float, ...]:
    """The value a lane has at a time; one that was changed and not keyed there counts."""
    if track.loose is not None and track.loose.time == time:
        value = track.loose.value
        return value if isinstance(value, tuple) else (value,)
    return track.at(time)


__all__ = ["ForgetMotion", "KeepMotion", "LayHow", "LayMotion"]
