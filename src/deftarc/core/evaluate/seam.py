"""The seam of a loop: the half-open end of a stretch against its start, in what shows and in speed, lane by lane.

What the end comes to is its limit from before; what the start begins with its limit from after. A stretch that plays
over and over shows no seam where both are alike: 360° meets 0°, and what nobody sees need not meet.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.shown import shown_values
from deftarc.core.document.track import AnyTrack, BlendTrack, NumberTrack, PathTrack
from deftarc.core.evaluate.clocks import Clocks, any_clock, clocks_of, inner_times
from deftarc.core.evaluate.evaluator import Evaluator
from deftarc.core.evaluate.frames import Branch, Leaf, drawn_as
from deftarc.core.evaluate.gaps import (
    MOST_TURNS,
    NEAR,
    REACH,
    SHOWS,
    UNSEEN,
    Gap,
    differences,
    kinked,
    off_by,
    seen_apart,
)
from deftarc.core.evaluate.layers import resting_samples
from deftarc.core.evaluate.seam_related import is_related, related_gaps
from deftarc.core.evaluate.turning import turned


@dataclass(frozen=True)
class Seam:
    """The seam of a stretch: what is off, the worst first, and how many lanes move in it."""

    start: int
    end: int
    gaps: tuple[Gap, ...]
    moving: int

    @property
    def state(self) -> Literal["still", "perfect", "meets", "open"]:
        """Whether nothing moves, all meets in value and speed, in value alone, or does not."""
        if not self.moving:
            return "still"
        if not self.gaps:
            return "perfect"
        return "meets" if all(gap.meets and not gap.doubled for gap in self.gaps) else "open"


@dataclass(frozen=True)
class Common:
    """After what time all lanes that go on come round together, in flicks: the least common length of their cycles.
    None where ``never`` names lanes that do not, or where it is longer than a scene can be.
    """

    length: int | None
    never: tuple[tuple[str, str], ...] = ()
    cycles: int = 0


def stretch_of(scene: Scene) -> tuple[int, int]:
    """The stretch that loops: the play range, else the whole scene, in flicks, half-open."""
    return scene.play_range or (0, scene.length)


class SeamCheck:
    """Checks scenes one after the other; what an edit did not touch is not worked out again."""

    def __init__(self, evaluator: Evaluator | None = None) -> None:
        self.evaluator = evaluator or Evaluator()
        self._kept: dict[str, tuple[tuple[object, ...], list[Gap], int]] = {}
        #: By lane, what was found of it and of what; by layer, which of its leaves is seen at either end.
        self._lanes: dict[tuple[str, str], tuple[tuple[object, ...], Gap | None, bool]] = {}
        self._leaves: dict[str, tuple[Branch, tuple[bool, bool]]] = {}
        #: What was told last, and of which scene, and of those that it shows.
        self._last: tuple[tuple[Scene, ...], Seam] | None = None
        #: By scene shown within, what looks at that one's own seam.
        self._inner: dict[str, SeamCheck] = {}

    def seam(self, scene: Scene, start: int | None = None, end: int | None = None, at_most: int | None = None) -> Seam:
        """The seam of a stretch of a scene, in flicks; of what loops where none is told. Where more layers than
        ``at_most`` would have to be looked at anew, it is what was told last.
        """
        if at_most is not None and self._last is not None:
            kept = self._kept
            if sum(1 for each in scene.layers if each.id in kept and kept[each.id][0][0] is not each) > at_most:
                return self._last[1]
        low, high = stretch_of(scene)
        start, end = low if start is None else start, high if end is None else end
        # With another one of the scenes that it shows, its loop may be another.
        of = (scene, *self.evaluator.shown_in(scene))
        if self._last is not None and (self._last[1].start, self._last[1].end) == (start, end):
            known_of = self._last[0]
            if len(known_of) == len(of) and all(one is other for one, other in zip(known_of, of, strict=True)):
                return self._last[1]
        seen = self._seen(scene, start, end)
        gaps: list[Gap] = []
        moving = 0
        clocked = any_clock(scene)
        for layer in scene.layers:
            if layer.id not in seen:
                continue
            at_end, at_start = seen[layer.id]
            if at_end != at_start and not layer.artwork.empty and layer_pops(layer, scene, start, end):
                sign = 1.0 if at_end else -1.0
                gaps.append(Gap(layer.id, SHOWS, (sign,), (), 100.0, 0.0))
            known = self._kept.get(layer.id)
            clocks = clocks_of(scene, layer) if clocked else ()
            told: tuple[object, ...] = (layer, start, end, scene.rate, clocks)
            if is_related(layer):
                # It hangs on others: another state of the scene may show it otherwise.
                known = self._kept[layer.id] = (told, *self._with_related(scene, layer, start, end, clocks))
            elif known is None or known[0][0] is not layer or known[0][1:] != told[1:]:
                known = self._kept[layer.id] = (told, *self._gaps(layer, start, end, scene.rate.flicks, clocks))
            moving += known[2]
            if at_end or at_start:
                gaps.extend(known[1])
        if len(self._kept) > 2 * len(scene.layers) + 20:
            here = {layer.id for layer in scene.layers}
            self._kept = {name: kept for name, kept in self._kept.items() if name in here}
            self._lanes = {lane: kept for lane, kept in self._lanes.items() if lane[0] in here}
            self._leaves = {name: kept for name, kept in self._leaves.items() if name in here}
        # The worst first; of what is alike, as listed.
        made = Seam(start, end, tuple(sorted(gaps, key=lambda gap: -gap.weight)), moving)
        self._last = (of, made)
        return made

    def _seen(self, scene: Scene, start: int, end: int) -> dict[str, tuple[bool, bool]]:
        """By layer, whether it is seen just before the end and at the start, a carrier where what it carries is;
        without those that are never seen.
        """
        table = self.evaluator.table(scene, [start, end - 1])
        seen = {layer.id: [False, False] for layer in scene.layers}
        # What another shows through is seen by that, hidden or not.
        through = {layer.matte.layer for layer in scene.layers if layer.matte is not None}
        shown = {
            layer.id: layer for layer in scene.layers
            if (not layer.hidden or layer.id in through) and not layer.reference
        }  # fmt: skip
        # What shows a scene is seen as long as that scene's frame may be.
        branches = [each for each in table.every if isinstance(each, Leaf) or each.clip is not None]
        for leaf in branches:
            name = drawn_as(leaf.layer)
            if name not in shown or (name != leaf.layer and not shown[name].hidden):
                continue
            known = self._leaves.get(name)
            if known is None or known[0] is not leaf:
                known = self._leaves[name] = (leaf, (_leaf_seen(leaf, 1), _leaf_seen(leaf, 0)))
            seen[name][:] = known[1]
        for layer in scene.layers:
            if any(seen[layer.id]):
                for each in scene.ancestors(layer):
                    for place in (0, 1):
                        seen[each.id][place] = seen[each.id][place] or seen[layer.id][place]
        carrying = {each.id for layer in shown.values() if not layer.artwork.empty for each in scene.ancestors(layer)}
        return {
            name: (told[0], told[1])
            for name, told in seen.items()
            if name in shown and (not shown[name].artwork.empty or name in carrying)
        }

    def _with_related(self, scene: Scene, layer: Layer, start: int, end: int, clocks: Clocks) -> tuple[list[Gap], int]:
        gaps, moving = self._gaps(layer, start, end, scene.rate.flicks, clocks)
        art = layer.artwork
        inner = self.evaluator.scenes.get(art.scene) if isinstance(art, SceneShown) else None
        for gap, moves in related_gaps(scene, layer, start, end, inner, self._within):
            moving += moves
            if gap is not None:
                gaps.append(gap)
        return gaps, moving

    def _within(self, inner: Scene) -> Seam:
        """The seam of the whole of a scene that is shown within."""
        known = self._inner.get(inner.id)
        if known is None:
            known = self._inner[inner.id] = SeamCheck(Evaluator(self.evaluator.shape_text))
        known.evaluator.scenes = self.evaluator.scenes
        return known.seam(inner, 0, inner.length)

    def _gaps(self, layer: Layer, start: int, end: int, frame: int, clocks: Clocks) -> tuple[list[Gap], int]:
        """What of a layer's lanes does not meet, and how many move in the stretch."""
        out = []
        moving = 0
        for name in layer.keyed:
            if name == "clock" or name in layer.links:
                # What a clock tells is seen in all else; what follows something is looked at as a whole.
                continue
            told = (layer.tracks[name], start, end, frame, clocks, layer.scale_link, layer.scale_ratio)
            known = self._lanes.get((layer.id, name))
            if known is None or known[0][0] is not told[0] or known[0][1:] != told[1:]:
                moves = bool(clocks) or _moves(layer.tracks[name], start, end)
                gap = lane_gap(layer, name, start, end, frame, clocks) if moves else None
                known = self._lanes[layer.id, name] = (told, gap, moves)
            moving += known[2]
            if known[1] is not None:
                out.append(known[1])
        if "along" not in layer.keyed and ("along" in layer.tracks or "lean" in layer.tracks):
            turned = heading_gap(layer, start, end, clocks)
            far = REACH * math.radians(abs(turned))
            if far > UNSEEN:
                out.append(Gap(layer.id, "along", (turned,), (), far, 0.0))
        return out, moving


def layer_pops(layer: Layer, scene: Scene, start: int, end: int) -> bool:
    """Whether its span, not its opacity, is why a layer shows at one end of a stretch alone."""
    stop = scene.length if layer.end is None else layer.end
    return (layer.start <= start < stop) != (layer.start < end <= stop)


def _leaf_seen(leaf: Branch, row: int) -> bool:
    """Whether anything of a leaf can be seen in a row of its table."""
    (a, b), (c, d) = leaf.matrix[min(row, len(leaf.matrix) - 1)][:2, :2].tolist()
    opacity = float(leaf.opacity[min(row, len(leaf.opacity) - 1)])
    return leaf.shows[0] <= row < leaf.shows[1] and opacity > 1e-6 and abs(a * d - b * c) >= 1e-12


def _moves(track: AnyTrack, start: int, end: int) -> bool:
    times = track.key_times
    if len(times) < 2 or (not track.lasts and (times[0] >= end or times[-1] <= start)):
        return False
    values = track.rows if isinstance(track, BlendTrack) else track.measures()
    return bool(np.ptp(values, axis=0).max() > 0) or _bulges(track)


def _bulges(track: AnyTrack) -> bool:
    """Whether it moves although its keys are alike: by handles that rise from them."""
    return any(side is not None and side.rise for key in track.keys for side in (key.leaving, key.arriving)) or any(
        told is not None and told.how == "rest" for told in (track.before, track.after)
    )


def lane_gap(layer: Layer, name: str, start: int, end: int, frame: int, clocks: Clocks = ()) -> Gap | None:
    """How a lane's end is off its start; None where it meets it, or leaves it by a step, as it is meant to."""
    track, facts = layer.tracks[name], PROPERTIES[name]
    step = max(round(frame * NEAR), 1)
    last = end - frame
    times = np.array([end - 1, end - 1 - step, end - 1 - 2 * step, end, start, start + step, start + 2 * step, last],
                     np.float64)  # fmt: skip
    rows = shown_values(layer, name, track.motion(inner_times(clocks, times)))
    # The limit from before: what is there at the end itself, unless it jumps there.
    jumps = seen_apart(facts, rows[3] - rows[0]) > 20 * UNSEEN
    value = off_by(facts, (rows[0] if jumps else rows[3]) - rows[4])
    if not clocks and _stepped_into(track, end - 1) and seen_apart(facts, value) > UNSEEN:
        return None
    comes, goes = differences(rows, step) if clocks else _speeds(layer, name, rows, step, (end - 1, start))
    far = seen_apart(facts, value)
    off = comes - goes
    kink = kinked(facts, off, comes, goes, frame)
    near = track.time_near(last, frame // 2)
    doubled = (
        not clocks
        and near in track.key_set
        and not any(near < time <= end for time in track.key_times)
        and not (track.after is not None and track.after.cycles)
        and near > start
        and seen_apart(facts, off_by(facts, rows[7] - rows[4])) <= UNSEEN
    )
    if far <= UNSEEN and not kink and not doubled:
        return None
    goes_on = track.period is not None and not (track.key_times[0] <= start and end <= track.key_times[-1])
    return Gap(layer.id, name, tuple(map(float, value)), tuple(map(float, off)), far, kink, doubled, goes_on)


def cycle_gap(layer: Layer, name: str, frame: int) -> Gap | None:
    """How a lane's own cycle, played again, is off where one turn meets the next; None where it meets or has none."""
    track, facts = layer.tracks[name], PROPERTIES[name]
    if track.period is None:
        return None
    side = "after" if track.after is not None and track.after.cycles else "before"
    how = getattr(track, side).how
    a, b = track.cycle(side)
    bare = layer.changed(tracks={**layer.tracks, name: track.changed(before=None, after=None)})
    start, end = track.keys[a].time, track.keys[b].time
    step = max(round(min(frame, (end - start) / 4) * NEAR), 1)
    times = np.array([end - 1, end - 1 - step, end - 1 - 2 * step, end, start, start + step, start + 2 * step],
                     np.float64)  # fmt: skip
    rows = shown_values(bare, name, bare.tracks[name].motion(times))
    comes, goes = _speeds(bare, name, rows, step, (end - 1, start))
    if how == "alternate":
        # It turns round at both ends: there it meets itself in value, and in speed where it stands.
        value, off = np.zeros(rows.shape[1]), comes if seen_apart(facts, comes) >= seen_apart(facts, goes) else goes
        off = 2 * off
    else:
        value = np.zeros(rows.shape[1]) if how == "accumulate" else off_by(facts, rows[3] - rows[4])
        off = comes - goes
    if track.keys[max(b - 1, 0)].stepped:
        return None
    far, kink = seen_apart(facts, value), kinked(facts, off, comes, goes, frame)
    if far <= UNSEEN and not kink:
        return None
    return Gap(layer.id, name, tuple(map(float, value)), tuple(map(float, off)), far, kink, goes_on=True)


def _speeds(layer: Layer, name: str, rows: Floats, step: int, ends: tuple[int, int]) -> tuple[Floats, Floats]:
    """Speeds a second just before the end and just after the start. What has no closed form is told from three moments
    each, by one-sided differences that are exact for parabolas.
    """
    track, facts = layer.tracks[name], PROPERTIES[name]
    linked = name == "scale" and layer.scale_link == "linked"
    if isinstance(track, NumberTrack) and not track.evenly and (rows.shape[1] == 1 or linked):
        told, held = np.array(ends, np.float64), np.zeros(2, bool)
        if facts.low is not None or facts.high is not None:
            values = track.motion(told)[:, 0]
            held = values != np.clip(values, facts.low, facts.high)
        speeds = np.where(held, 0.0, track.speeds(told))
        both = speeds[:, None] * ([[1.0, layer.scale_ratio]] if linked else [[1.0]])
        return both[0], both[1]
    return differences(rows, step)


def _stepped_into(track: AnyTrack, time: int) -> bool:
    """Whether a lane is held or goes by steps just before a moment, between two of its keys."""
    at = float(track.folded(np.array([float(time)])).at[0]) if track.lasts else float(time)
    k = int(np.searchsorted(np.array(track.key_times), at, side="right")) - 1
    return 0 <= k < len(track.keys) - 1 and bool(track.keys[k].stepped)


def common_length(scene: Scene, layers: Iterable[Layer] | None = None) -> Common:
    """The least time after which all lanes that go on for ever come round together, as whole frames, in flicks."""
    periods = [scene.rate.flicks]
    never: list[tuple[str, str]] = []
    cycles = 0
    for layer in scene.layers if layers is None else layers:
        if layer.hidden or layer.reference:
            continue
        for name in layer.keyed:
            turns = turns_to_close(name, layer.tracks[name])
            if turns is None:
                continue
            cycles += 1
            if not turns:
                never.append((layer.id, name))
            else:
                period = layer.tracks[name].period
                assert period is not None
                periods.append(turns * period)
    length = math.lcm(*periods)
    if never or not cycles or length > limits.MAX_SCENE_FRAMES * scene.rate.flicks:
        return Common(None, tuple(never), cycles)
    return Common(length, (), cycles)


def turns_to_close(name: str, track: AnyTrack) -> int | None:
    """After how many turns a lane that goes on for ever is where it was: 1 but for what adds up; 0 is never, None is a
    lane that does not go on.
    """
    told = track.after if track.after is not None and track.after.cycles else track.before
    if track.period is None or told is None or told.count is not None:
        return None
    if told.how != "accumulate":
        return 1
    a, b = track.cycle("after" if told is track.after else "before")
    first, last = track.sampled(
        np.array([track.keys[a].time, track.keys[b].time], np.float64), track.measures()[[a, b]]
    )
    facts = PROPERTIES[name]
    gain = last - first
    if seen_apart(facts, gain) < 1e-9:
        return 1
    if facts.unit != "°" or facts.id.startswith("skew"):
        return 0
    share = Fraction(float(gain[0]) / 360.0).limit_denominator(MOST_TURNS)
    return share.denominator if abs(float(share) * 360.0 - float(gain[0])) < 1e-6 else 0


def heading_gap(layer: Layer, start: int, end: int, clocks: Clocks = ()) -> float:
    """By how many degrees what the path turns a layer by is off between the ends of a stretch."""
    times = inner_times(clocks, np.array([start, end - 1], np.float64))
    samples = {
        name: layer.tracks[name].motion(times) if name in layer.keyed else resting_samples(layer, name)
        for name in ("along", "lean")
    }
    track = layer.tracks.get("position")
    if not isinstance(track, PathTrack):
        return 0.0
    along, lean = (shown_values(layer, name, rows)[:, 0] for name, rows in samples.items())
    way = turned(track, times, along, lean)
    return float((way[-1] - way[0] + 180.0) % 360.0 - 180.0)
