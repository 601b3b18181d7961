"""Edits of ties: made, their distance changed, cut."""

from typing import Annotated, Literal

from pydantic import Field

from deftarc.core.arrange.tied import in_turn, moment_of, told_anchor
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Frozen, Identity, Moment
from deftarc.core.document import Project, Scene, new_id
from deftarc.core.document.properties import property_named
from deftarc.core.document.ties import Anchor, Tie
from deftarc.core.edit.base import EditBase


class AnchorAsked(Frozen):
    """A moment that is to be tied: as an anchor, but a key is told by its time."""

    layer: Identity | None = None
    of: Literal["start", "end", "key", "marker"]
    #: Of a marker.
    id: Identity | None = None
    #: Of a key.
    property: str | None = Field(default=None, max_length=80)
    time: Moment | None = None


class TieAsked(Frozen):
    """``offset`` is how much later ``what`` is held than ``to``; None is as it stands now."""

    what: AnchorAsked
    to: AnchorAsked
    offset: Moment | None = 0
    id: Identity = Field(default_factory=new_id)
    #: What keys that had no name yet are called by.
    ids: tuple[Identity, Identity] = Field(default_factory=lambda: (new_id(), new_id()))


class TieTimings(EditBase):
    """Moments tied to others, and put where they are to be. One that was tied already is tied anew."""

    kind: Literal["tie_timings"] = "tie_timings"
    scene: Identity
    ties: Annotated[tuple[TieAsked, ...], Field(min_length=1, max_length=limits.MAX_TIES)]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for asked in self.ties:
            scene, what = _called(scene, asked.what, asked.ids[0])
            scene, to = _called(scene, asked.to, asked.ids[1])
            if what.of == "marker":
                raise Refusal("A marker is held by nothing. Tie what is to follow it.")
            at, there = moment_of(scene, what), moment_of(scene, to)
            assert at is not None
            assert there is not None
            offset = at - there if asked.offset is None else asked.offset
            rest = tuple(tie for tie in scene.ties if tie.what != what and tie.id != asked.id)
            ties = (*rest, Tie(id=asked.id, what=what, to=to, offset=offset))
            if len(ties) > limits.MAX_TIES:
                raise Refusal(f"A scene holds at most {limits.MAX_TIES:,} ties.")
            in_turn(scene, ties)
            scene = scene.changed(ties=ties)
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        if len(self.ties) > 1:
            return f"Tie {len(self.ties)} moments"
        one = self.ties[0]
        named = [
            told_anchor(scene, _called(scene, each, "x")[1]) if each.of != "key" else
            f"a key of {property_named(each.property or '').label} of {scene.layer(each.layer or '').name}"
            for each in (one.what, one.to)
        ]  # fmt: skip
        return f"Tie {named[0]} to {named[1]}"


def _called(scene: Scene, asked: AnchorAsked, fresh: str) -> tuple[Scene, Anchor]:
    """The anchor that is meant; a key that has no name yet is given one."""
    if asked.layer is None and asked.of != "marker":
        raise Refusal("Say whose moment is to be tied.")
    if asked.of == "marker":
        anchor = Anchor(layer=asked.layer, of="marker", id=asked.id)
        if moment_of(scene, anchor) is None:
            raise unknown("marker", asked.id)
        return scene, anchor
    layer = scene.layer(asked.layer or "")
    if asked.of != "key":
        return scene, Anchor(layer=layer.id, of=asked.of)
    facts = property_named(asked.property or "")
    track = layer.track(facts.id)
    index = next((k for k, key in enumerate(track.keys) if key.time == asked.time), None)
    if index is None:
        raise unknown("key", f"{layer.name}, {facts.label} at {asked.time}")
    key = track.keys[index]
    if key.id is None:
        key = key.changed(id=fresh)
        keys = tuple(key if k == index else each for k, each in enumerate(track.keys))
        scene = scene.with_layer(layer.with_track(facts.id, track.changed(keys=keys)))
    return scene, Anchor(layer=layer.id, of="key", property=facts.id, id=key.id)


class ChangeTies(EditBase):
    """The distance at which ties hold, or with ``cut`` that they hold no more."""

    kind: Literal["change_ties"] = "change_ties"
    scene: Identity
    ties: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_TIES)]
    offset: Moment | None = None
    cut: bool = False

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        wanted = set(self.ties)
        gone = wanted - {tie.id for tie in scene.ties}
        if gone:
            raise unknown("tie", min(gone))
        if self.cut:
            return project.with_scene(scene.changed(ties=tuple(t for t in scene.ties if t.id not in wanted)))
        if self.offset is None:
            return project
        ties = tuple(t.changed(offset=self.offset) if t.id in wanted else t for t in scene.ties)
        return project.with_scene(scene.changed(ties=ties))

    def label(self, project: Project) -> str:
        what = "a tie" if len(self.ties) == 1 else f"{len(self.ties)} ties"
        return f"Cut {what}" if self.cut else f"Change the distance of {what}"
