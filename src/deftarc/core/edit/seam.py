"""Edits that close a loop: lanes brought back to where they begin, at the same speed; cycles fitted to the stretch that
loops, or that to the cycles.
"""

from collections.abc import Iterator, Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity, Moment
from deftarc.core.changes.keys import change_value, move_keys, set_key
from deftarc.core.changes.path import closed, joined
from deftarc.core.changes.retime import track_retimed
from deftarc.core.changes.sides import speed_of, typed_speed
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack, PathTrack
from deftarc.core.edit.base import EditBase, Note
from deftarc.core.edit.beyond import LanesEdit, called
from deftarc.core.edit.keys import Lane
from deftarc.core.edit.move_keys import unlocked
from deftarc.core.evaluate.seam import SeamCheck, common_length, cycle_gap, lane_gap, stretch_of, turns_to_close

#: Paths whose ends lie so close together, in px, meet.
MEETS = 0.05
#: Where a path turns by more degrees than this, it is meant to.
SHARPEST = 160.0


class CloseSeam(LanesEdit):
    """Lanes closed over the stretch that loops, or with ``own`` each over its own cycle.

    ``value`` copies where the start is to the end; ``speed`` gives the end the speed of the start; ``cycle`` stretches
    what goes on by itself until whole turns fill the stretch; ``auto`` does of these what each lane needs.
    """

    kind: Literal["close_seam"] = "close_seam"
    #: None is all that moves and does not meet, but for what is locked and what never comes back.
    lanes: Annotated[tuple[Lane, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)] = ()
    how: Literal["auto", "value", "speed", "cycle"] = "auto"
    own: bool = False

    def found(self, scene: Scene) -> Iterator[tuple[Layer, str, AnyTrack]]:
        return super(CloseSeam, self.meant(scene)).found(scene)

    def meant(self, scene: Scene) -> "CloseSeam":
        """This with its lanes told."""
        if self.lanes:
            return self
        # Its words and its notes ask again, of the same scene.
        kept = scene.__dict__.get("_to_close")
        if kept is None:
            kept = scene.__dict__["_to_close"] = self._to_close(scene)
        if not kept:
            raise Refusal("No lane is left that could be closed: what moves meets, is locked, or never comes back.")
        return self.changed(lanes=kept)

    @staticmethod
    def _to_close(scene: Scene) -> tuple[Lane, ...]:
        """The lanes that do not meet, but for what is locked and what never comes back."""
        free = unlocked(scene)
        lanes = []
        for gap in SeamCheck().seam(scene).gaps:
            layer = scene.layer(gap.layer)
            if gap.layer not in free or gap.name not in layer.keyed:
                continue
            if not (gap.goes_on and not turns_to_close(gap.name, layer.tracks[gap.name])):
                lanes.append(Lane(layer=gap.layer, property=gap.name))
        return tuple(lanes)

    def on_lane(self, scene: Scene, layer: Layer, name: str, track: AnyTrack) -> AnyTrack:
        start, end = stretch_of(scene)
        if self.own:
            if track.period is None:
                raise Refusal(f"{called(layer, name)} does not go round by itself. Let it repeat first.")
            side = "after" if track.after is not None and track.after.cycles else "before"
            a, b = track.cycle(side)
            start, end = track.keys[a].time, track.keys[b].time
        try:
            return self._closed(scene, layer, name, track, start, end)
        except Refusal:
            # Asked for all that can be closed, what cannot stays; told by name, it says why.
            if self.lanes:
                raise
            return track

    def _closed(self, scene: Scene, layer: Layer, name: str, track: AnyTrack, start: int, end: int) -> AnyTrack:
        frame = scene.rate.flicks
        if self.how == "cycle" or (self.how == "auto" and not self.own and goes_on(track, end)):
            return cycle_fitted(layer, name, track, end - start)
        if self.how == "value":
            return back_to_start(layer, name, track, start, end, frame)
        if self.how == "speed":
            return at_speed_of_start(layer, name, track, start, end, scene.half, self.own)
        if not (self.own and adds_up_or_turns(track)):
            track = back_to_start(layer, name, track, start, end, frame)
        made = layer.with_track(name, track)
        gap = cycle_gap(made, name, frame) if self.own else lane_gap(made, name, start, end, frame)
        if gap is None or not gap.kink:
            return track
        try:
            return at_speed_of_start(layer, name, track, start, end, scene.half, self.own)
        except Refusal:
            # It meets, and that is what can be done for it.
            return track

    def label(self, project: Project) -> str:
        words = {
            "auto": "Close the loop of", "value": "Bring back to its start",
            "speed": "Match the speed at the seam of", "cycle": "Fit the cycle of",
        }  # fmt: skip
        return f"{words[self.how]} {self.meant(project.scene(self.scene)).of_lanes(project)}"

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        lanes = self.meant(before.scene(self.scene)).lanes
        loose, stood = (_between_frames(each.scene(self.scene), lanes) for each in (after, before))
        told = []
        if loose > stood:
            told.append(Note(f"{loose} keys lie between frames now, so that whole turns fill the loop."))
        left = 0 if self.lanes else len(SeamCheck().seam(after.scene(self.scene)).gaps)
        if left:
            told.append(
                Note(
                    f"{left} lane{'s do' if left > 1 else ' does'} not close by itself: the list of the seam says why."
                )
            )
        return told


def _between_frames(scene: Scene, lanes: tuple[Lane, ...]) -> int:
    """How many keys of some lanes stand on no frame."""
    every = (scene.layer(lane.layer).track(lane.property).key_times for lane in lanes)
    return sum(1 for times in every for time in times if time % scene.rate.flicks)


def goes_on(track: AnyTrack, end: int) -> bool:
    """Whether what shows at a moment is no key's doing, but a turn of what goes on past the keys."""
    return track.period is not None and track.key_times[-1] < end


def adds_up_or_turns(track: AnyTrack) -> bool:
    """Whether turns of a lane need not come back to where they began."""
    told = track.after if track.after is not None and track.after.cycles else track.before
    return told is not None and told.how in ("accumulate", "alternate")


def back_to_start(layer: Layer, name: str, track: AnyTrack, start: int, end: int, frame: int) -> AnyTrack:
    """A lane with a key at the end of a stretch that has the value of its start; whole turns are kept."""
    if goes_on(track, end):
        raise Refusal(
            f"{called(layer, name)} goes on by itself there. Fit its cycle to the loop, or the loop to its cycle."
        )
    value = track.at(start)
    near = track.time_near(end - frame, frame // 2)
    between = any(near < time <= end for time in track.key_times)
    if near in track.key_set and near > start and not between and _alike(track.at(near), value):
        # It comes back a frame too early: the last frame would show what the first one does.
        return move_keys(track, {near: end})
    facts = PROPERTIES[name]
    if facts.unit == "°" and not facts.id.startswith("skew"):
        value = (value[0] + 360.0 * round((track.at(end)[0] - value[0]) / 360.0),)
    return change_value(track, end, value, keying=True)


def _alike(one: tuple[float, ...], other: tuple[float, ...]) -> bool:
    return all(abs(a - b) <= 1e-6 * max(1.0, abs(a)) for a, b in zip(one, other, strict=True))


def at_speed_of_start(
    layer: Layer, name: str, track: AnyTrack, start: int, end: int, half: int, own: bool = False
) -> AnyTrack:
    """A lane that arrives at the end of a stretch at the speed with which it leaves its start; on a path that comes
    back to where it began, in the same direction as well. What alternates stands where it turns round.
    """
    where = called(layer, name)
    if not own and goes_on(track, end):
        raise Refusal(f"{where} goes on by itself there: match the speed within its own cycle.")
    if len(track.keys) < 2 or not track.key_times[0] - half <= end <= track.key_times[-1] + half:
        raise Refusal(f"{where} has no motion that arrives at the end. Bring it back to its start first.")
    track = set_key(track, end, half)
    last = track.key_times.index(track.time_near(end, half))
    if own and adds_up_or_turns(track) and (track.after or track.before).how == "alternate":  # type: ignore[union-attr]
        first = track.key_times.index(start)
        return typed_speed(typed_speed(track, first, "leaving", 0.0), last, "arriving", 0.0)
    if track.keys[last - 1].stepped:
        raise Refusal(f"{where} goes in steps beside the seam: there is no speed to match.")
    if start < track.key_times[0] - half:
        # It waits for its first key.
        return typed_speed(track, last, "arriving", float(track.speeds(np.array([float(start)]))[0]))
    track = set_key(track, start, half)
    first, last = (track.key_times.index(track.time_near(time, half)) for time in (start, end))
    if track.keys[first].stepped:
        raise Refusal(f"{where} goes in steps beside the seam: there is no speed to match.")
    if isinstance(track, PathTrack):
        track = _same_way(where, track, first, last)
    speed = speed_of(track, first, "leaving")
    if abs(speed) > limits.MAX_NUMBER * 100:
        raise Refusal(f"{where} leaves its start at no speed that can be told. Shape that side first.")
    return typed_speed(track, last, "arriving", speed)


def _same_way(where: str, track: PathTrack, first: int, last: int) -> PathTrack:
    """A path whose ends meet made smooth through them; one that is passed only in part is left as it lies."""
    whole = first == 0 and last == len(track.keys) - 1
    a, b = track.points[0], track.points[-1]
    if not whole or abs(a.x - b.x) > MEETS or abs(a.y - b.y) > MEETS:
        return track
    ends = np.array([track.key_times[0] + 1, track.key_times[-1] - 1], np.float64)
    away = float(np.diff(track.headings(ends))[0])
    if len(track.points) < 3 or abs((away + 180.0) % 360.0 - 180.0) > SHARPEST:
        raise Refusal(f"The path of {where} turns back at the seam: bend it there, or let it stand still.")
    track = track if track.closed else closed(track, True)
    if track.points[0].joint == "automatic":
        return track
    return joined(track, (0,), "smooth")


def cycle_fitted(layer: Layer, name: str, track: AnyTrack, length: int) -> AnyTrack:
    """A lane that goes on by itself stretched about its first key until whole turns of it fill a length of time."""
    period, turns = track.period, turns_to_close(name, track)
    if period is None or turns is None:
        raise Refusal(f"{called(layer, name)} does not go on for ever: there is no cycle to fit.")
    if not turns:
        raise Refusal(f"{called(layer, name)} adds up and never comes back: no number of turns closes it.")
    often = max(1, round(length / (period * turns))) * turns
    factor, begins = length / (often * period), track.key_times[0]
    return track_retimed(track, lambda time: begins + round((time - begins) * factor))


class LoopLength(EditBase):
    """The stretch that loops made so long: the play range, or the scene where all of it loops; a scene that is too
    short for it gets longer. Without a length it is the least after which all that goes on comes round together.
    """

    kind: Literal["loop_length"] = "loop_length"
    scene: Identity
    length: Annotated[Moment, Field(gt=0)] | None = None

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        length = self.length if self.length is not None else self._common(scene)
        frame = scene.rate.flicks
        start, _ = stretch_of(scene)
        frames = -(-(start + length) // frame)
        if frames > limits.MAX_SCENE_FRAMES:
            raise Refusal(f"A scene has at most {limits.MAX_SCENE_FRAMES:,} frames; this would take {frames:,}.")
        if scene.play_range is None:
            return project.with_scene(scene.changed(frames=frames))
        longer = scene.changed(frames=max(scene.frames, frames), play_range=(start, start + length))
        whole = longer.play_range == (0, longer.length)
        return project.with_scene(longer.changed(play_range=None) if whole else longer)

    def _common(self, scene: Scene) -> int:
        found = common_length(scene)
        if found.length is not None:
            return found.length
        if found.never:
            layer, name = found.never[0]
            raise Refusal(f"{called(scene.layer(layer), name)} adds up and never comes back: no length closes it.")
        if not found.cycles:
            raise Refusal("Nothing in this scene goes on by itself: there is no cycle to fit the loop to.")
        raise Refusal("All cycles come round together only after longer than a scene can be. Fit them to the loop.")

    def label(self, project: Project) -> str:
        return "Fit the loop to its cycles" if self.length is None else "Set the length of the loop"
