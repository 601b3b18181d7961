"""Edits that give segments a shape: named eases, eases of one's own, settles and bounces."""

import itertools
from collections.abc import Sequence
from functools import cached_property
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.arithmetic import evaluate_number
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Identity, Moment, Name
from deftarc.core.base.working import at_work
from deftarc.core.changes.css import parse_easing
from deftarc.core.changes.ease import On, ease_as_one, ease_segments, taken, with_shape
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.rebuild import one_by_one
from deftarc.core.changes.settle_bounce import again, at_playhead, between_all, craft_at
from deftarc.core.curves.knots import Knot, OwnEase
from deftarc.core.curves.sides import Steps
from deftarc.core.document import Project, Scene
from deftarc.core.document.craft import AnyCraft, Bounce, Craft, Settle, time_of_fall
from deftarc.core.document.eases import EASES
from deftarc.core.document.properties import PROPERTIES, property_named
from deftarc.core.document.track import AnyTrack, NumberTrack
from deftarc.core.edit.base import EditBase, LaneName, Note
from deftarc.core.edit.keys import KeysEdit, by_lane, grouped, lane_names
from deftarc.core.edit.keys_on_frames import offer_frames
from deftarc.core.edit.move_keys import indices_of

ONE_KEY = "An ease shapes the way between two keys, and this lane has only one. Set a second key."


class EaseKeys(KeysEdit):
    """A named ease on segments: those between neighbouring selected keys of a lane.

    Where only one key of a lane is selected, the segment after it, or before it if it is the last. ``on`` one side
    leaves the other side of each segment alone. ``as_one`` lays one ease over each lane's whole run.
    """

    nothing: ClassVar[str] = ONE_KEY
    kind: Literal["ease_keys"] = "ease_keys"
    ease: str
    strength: Annotated[float, Field(ge=0, le=100)] = 50.0
    on: On = "both"
    as_one: bool = False
    steps: Steps | None = None

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack | None:
        starts = segments_of(track.key_times, set(times))
        if self.as_one and len(starts) > 1:
            first, last = _run(track.key_times, starts)
            return ease_as_one(track, first, last, self.ease, self.strength)
        # A name that there is none of is refused even where nothing is eased.
        made = ease_segments(track, starts, self.ease, self.strength, self.on, self.steps)
        return made if starts else None

    def label(self, project: Project) -> str:
        ease = EASES.get(self.ease)
        return f"{ease.label if ease else self.ease} on {self.of_what(project)}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        """As one, the inner keys have other times now: the whole run stays selected."""
        if not self.as_one:
            return None
        scene = project.scene(self.scene)
        return [
            KeyRef(layer=layer, property=name, time=time)
            for (layer, name), times in grouped(self.keys).items()
            for time in scene.layer(layer).track(name).key_times
            if min(times) <= time <= max(times)
        ]


def segments_of(key_times: list[int], selected: set[int]) -> list[int]:
    """The start times of the segments that a selection of keys in one lane means."""
    pairs = [a for a, b in itertools.pairwise(key_times) if a in selected and b in selected]
    if pairs or not selected:
        return pairs
    starts = []
    for time in selected:
        if time in key_times[:-1]:
            starts.append(time)
        elif len(key_times) > 1 and time == key_times[-1]:
            starts.append(key_times[-2])
    return sorted(set(starts))


def _run(key_times: list[int], starts: list[int]) -> tuple[int, int]:
    """First and last key (indices) of segments that follow one another; Refusal where they do not."""
    first = key_times.index(starts[0])
    if key_times[first : first + len(starts)] != starts:
        raise Refusal("As one takes keys that follow one another in their lane, none left out.")
    return first, first + len(starts)


class LayEase(KeysEdit):
    """A shape on the selected segments: told as CSS text, or as the knots of an ease of one's own."""

    nothing: ClassVar[str] = ONE_KEY
    kind: Literal["lay_ease"] = "lay_ease"
    text: Annotated[str, Field(max_length=20_000)] | None = None
    knots: Annotated[tuple[Knot, ...], Field(min_length=2, max_length=limits.MAX_EASE_KNOTS)] | None = None
    title: Annotated[str, Field(max_length=limits.MAX_NAME)] = ""

    @cached_property
    def _shape(self) -> Sequence[Knot]:
        if (self.text is None) == (self.knots is None):
            raise Refusal("Say which ease: as CSS text, or one of your own.")
        return parse_easing(self.text) if self.text is not None else OwnEase(name="x", knots=self.knots or ()).knots

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack | None:
        starts = segments_of(track.key_times, set(times))
        # From the last to the first: what comes in between two keys moves none that is still to come.
        made = one_by_one(track, indices_of(track, starts)[::-1], lambda part, k: with_shape(part, k, self._shape))
        return made if starts else None

    def label(self, project: Project) -> str:
        return f"{self.title or 'A CSS ease'} on {self.of_what(project)}"


class KeepEase(EditBase):
    """The shape of a run of keys, or a CSS text, kept in the project under a name; one of that name is replaced."""

    kind: Literal["keep_ease"] = "keep_ease"
    name: Name
    scene: Identity | None = None
    keys: Annotated[tuple[KeyRef, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)] = ()
    text: Annotated[str, Field(max_length=20_000)] | None = None

    def apply(self, project: Project) -> Project:
        ease = OwnEase(name=self.name, knots=tuple(self._knots(project)))
        kept = [each for each in project.eases if each.name != ease.name]
        return project.changed(eases=(*kept, ease)[-limits.MAX_OWN_EASES :])

    def _knots(self, project: Project) -> list[Knot]:
        if self.text is not None:
            return parse_easing(self.text)
        return shape_of(project, self.scene, self.keys)

    def label(self, project: Project) -> str:
        return f"Keep the ease {self.name}"


def shape_of(project: Project, scene_id: str | None, keys: tuple[KeyRef, ...]) -> list[Knot]:
    """The shape of the run that a selection of keys means: of the lane of the first one."""
    if scene_id is None or not keys:
        raise Refusal("Select the two keys, or the run of keys, whose ease is meant.")
    scene = project.scene(scene_id)
    first = keys[0]
    times = by_lane(scene, keys)[(first.layer, first.property)]
    track = scene.layer(first.layer).track(first.property)
    starts = segments_of(track.key_times, set(times))
    if not starts:
        raise Refusal(ONE_KEY)
    start, end = _run(track.key_times, starts)
    return taken(track, start, end)


class ForgetEase(EditBase):
    kind: Literal["forget_ease"] = "forget_ease"
    name: Name

    def apply(self, project: Project) -> Project:
        if all(ease.name != self.name for ease in project.eases):
            raise unknown("ease", self.name)
        return project.changed(eases=tuple(ease for ease in project.eases if ease.name != self.name))

    def label(self, project: Project) -> str:
        return f"Forget the ease {self.name}"


class MakeCraft(EditBase):
    """A settle or a bounce: between the selected keys, at a time on a lane, or in place of one whose keys are its own.

    ``keys`` name the way between two keys; without keys it begins at ``time`` on ``layer`` and ``property``, and how
    far it swings or drops may be ``told`` as it was typed, in the shown unit.
    """

    kind: Literal["make_craft"] = "make_craft"
    scene: Identity
    craft: Craft
    keys: Annotated[tuple[KeyRef, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)] = ()
    layer: Identity | None = None
    property: str = ""
    time: Moment | None = None
    told: Annotated[str, Field(max_length=200)] | None = None

    def _at_playhead(self) -> AnyCraft:
        craft = _apart(self.craft, False)
        if self.told is None:
            return craft
        factor = PROPERTIES[self.property].factor
        field = "far" if isinstance(craft, Settle) else "height"
        amount = evaluate_number(self.told, getattr(craft, field) * factor) / factor
        if amount == 0:
            raise Refusal("It takes a distance that is not nought.")
        return craft.changed(**{field: amount})

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        if not self.keys:
            if self.layer is None or self.time is None:
                raise Refusal("Say where it begins: a lane and a time.")
            layer = scene.layer(self.layer)
            name = property_named(self.property).id
            made = at_playhead(layer.track(name), self.time, self._at_playhead())
            return project.with_scene(scene.with_layer(layer.with_track(name, made)))
        done = 0
        for (layer_id, name), times in at_work(by_lane(scene, self.keys).items()):
            layer = scene.layer(layer_id)
            track = layer.track(name)
            starts = segments_of(track.key_times, set(times))
            if starts:
                track = between_all(track, indices_of(track, starts), _apart(self.craft, True))
            done += len(starts)
            scene = scene.with_layer(layer.with_track(name, track))
        if not done:
            raise Refusal(ONE_KEY)
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        word = "Settle" if isinstance(self.craft, Settle) else "Bounce"
        if self.keys:
            return f"{word} on {lane_names(project, self.scene, self.keys)}"
        layer = project.scene(self.scene).layer(self.layer or "")
        return f"{word} {PROPERTIES[self.property].label} of {layer.name}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        if not self.keys:
            if self.layer is None or self.time is None:
                return None
            return _ends(project.scene(self.scene), [KeyRef(layer=self.layer, property=self.property, time=self.time)])
        return _ends(project.scene(self.scene), list(self.keys))

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        return offer_frames(before, after, self.scene)


def _ends(scene: Scene, refs: list[KeyRef]) -> list[KeyRef] | None:
    """The first and the last key of the craft that keys are part of, so that its numbers stay at hand."""
    layer, name = refs[0].layer, refs[0].property
    time = min(ref.time for ref in refs if (ref.layer, ref.property) == (layer, name))
    track = scene.layer(layer).track(name)
    found = craft_at(track, max((k for k, t in enumerate(track.key_times) if t <= time), default=0))
    if found is None:
        return None
    return [KeyRef(layer=layer, property=name, time=track.keys[k].time) for k in (found.first, found.last)]


class TypeCraft(KeysEdit):
    """A number that a settle or a bounce was made from typed anew: its keys are made again, if no hand changed them.

    ``field`` is far, often, soon, keeps, height or gravity; ``told`` is in the shown unit, shares in per cent, and
    may be relative. Gravity says how long a bounce takes.
    """

    kind: Literal["type_craft"] = "type_craft"
    field: Literal["far", "often", "soon", "keeps", "height", "gravity"]
    told: Annotated[str, Field(max_length=200)]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        ref = self.keys[0]
        times = by_lane(scene, self.keys)[(ref.layer, ref.property)]
        layer = scene.layer(ref.layer)
        track = layer.track(ref.property)
        found = craft_at(track, track.key_times.index(min(times)))
        if found is None:
            raise Refusal("These keys were changed by hand since, and stay as they are.")
        growing = isinstance(track, NumberTrack) and track.evenly
        factor = 1.0 if growing else PROPERTIES[ref.property].factor
        measures = track.measures()
        change = float(measures[found.last] - measures[found.first])
        craft = _told_craft(found.craft, self.field, self.told, factor, change)
        return project.with_scene(scene.with_layer(layer.with_track(ref.property, again(track, found, craft))))

    def label(self, project: Project) -> str:
        return f"Change the {self.field} of a key of {project.scene(self.scene).layer(self.keys[0].layer).name}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return _ends(project.scene(self.scene), list(self.keys))


def _told_craft(craft: AnyCraft, field: str, told: str, factor: float, change: float) -> AnyCraft:
    """A craft over a change of the measure with one number as it was typed."""
    if field == "gravity" and isinstance(craft, Bounce):
        height = change if craft.between else craft.height
        gravity = abs(evaluate_number(told, abs(2 * height / craft.fall**2) * factor)) / factor
        if gravity == 0:
            raise Refusal("Without gravity nothing falls. Type a number above nought.")
        return craft.changed(soon=time_of_fall(height, gravity, craft.keeps, craft.often))
    if field not in type(craft).model_fields:
        raise Refusal(f"A {craft.kind} has no {field}.")
    share = field == "keeps" or (field == "far" and craft.between)
    shown = 100.0 if share else factor if field in ("far", "height") else 1.0
    number = evaluate_number(told, getattr(craft, field) * shown) / shown
    value = round(number) if field == "often" else number
    return type(craft).model_validate({**craft.model_dump(), field: value})


def _apart(craft: AnyCraft, between: bool) -> AnyCraft:
    return craft if craft.between == between else craft.changed(between=between)
