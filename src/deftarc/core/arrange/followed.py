"""What follows made into ordinary keys: a linked lane, a stretch, a carrier followed late; and what becomes of links
whose source is gone.
"""

from collections.abc import Iterator

import numpy as np

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.deviation import Motion, knots_of
from deftarc.core.changes.lay import laid_number, laid_path
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.layer import STRETCH
from deftarc.core.document.links import DERIVED, TURNED, LinkSource, found_on, told_source
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack, PathTrack
from deftarc.core.evaluate import Asker
from deftarc.core.evaluate.clocks import clocks_of, inner_times

#: How far what is made of it may be off, in px, °, or shown units.
NEAR_ENOUGH = 0.05
#: No further back than this is looked at for what comes later: ten seconds.
LONGEST = 10 * FLICKS
#: Turns of a cycle whose ends are looked at.
MOST_TURNS = 400


def span_seen(scene: Scene) -> tuple[int, int]:
    """The stretch in which what is made of links has to be the same: the scene, and as long before it as anything comes
    later.
    """
    lags = [link.lag for layer in scene.layers for link in layer.links.values()]
    lags += [lag for layer in scene.layers if layer.later is not None
             for lag in (layer.later.position, layer.later.rotation, layer.later.scale)]  # fmt: skip
    frame = scene.rate.flicks
    before = min(max((0, *lags)), LONGEST)
    after = min(max((0, *(-lag for lag in lags))), LONGEST)
    return -_whole(before, frame), scene.length + _whole(after, frame)


def _whole(time: int, frame: int) -> int:
    """A length of time in whole frames, as many as it takes."""
    return -(-time // frame) * frame


def knots_over(scene: Scene, low: int, high: int) -> list[int]:
    """Moments between which everything in a scene moves smoothly: keys, at once and as late as anything comes, and the
    ends of turns.
    """
    own: set[int] = set()
    for layer in scene.layers:
        for track in layer.tracks.values():
            if track.keys:
                own.update(_knots(track, low, high))
    lags = {link.lag for layer in scene.layers for link in layer.links.values()}
    lags |= {lag for layer in scene.layers if layer.later is not None
             for lag in (layer.later.position, layer.later.rotation, layer.later.scale)}  # fmt: skip
    found = {low, high, *own, *(knot + lag for lag in lags for knot in own)}
    return sorted(knot for knot in found if low <= knot <= high)


def _knots(track: AnyTrack, low: int, high: int) -> Iterator[int]:
    yield from knots_of(track)
    if track.period:
        first, last = track.key_times[0], track.key_times[-1]
        turn = track.period
        for anchor, way in ((last, 1), (first, -1)):
            for n in range(min(MOST_TURNS, int((high - low) // turn) + 2)):
                at = anchor + way * n * turn
                if low <= at <= high:
                    yield at
                    # A turn that alternates has its middle, too.
                    yield from (knot + way * n * turn for knot in track.key_times)


def lane_laid(scene: Scene, layer: Layer, name: str) -> Layer:
    """A layer with a linked property as keys of its own, and nothing to follow any more."""
    ask = Asker(scene)
    low, high = span_seen(scene)

    def motion(times: Floats) -> Floats:
        return ask.values(layer, name, times)

    made = _laid(scene, layer, PROPERTIES[name].id, motion, low, high)
    links = {other: link for other, link in layer.links.items() if other != name}
    return layer.changed(links=links, tracks={**layer.tracks, name: made})


def _laid(scene: Scene, layer: Layer, name: str, motion: Motion, low: int, high: int) -> AnyTrack:
    """A motion over the scene's time as the keys of a layer's lane, in whose time it is told."""
    knots = knots_over(scene, low, high)
    clocks = clocks_of(scene, layer)
    told = motion
    if clocks:
        # Its keys stand where its clocks first tell of a moment.
        fine = np.arange(low, high + 1, max(scene.rate.flicks // 8, (high - low) // 40_000), dtype=np.float64)
        inner, first = np.unique(inner_times(clocks, fine), return_index=True)
        if len(inner) < 2:
            raise Refusal(f"The clock of {layer.name} stands still: there is nothing to make keys of.")
        knots = sorted({round(float(each)) for each in inner_times(clocks, np.array(knots, np.float64))})
        told = lambda times: motion(np.interp(times, inner, fine[first]))  # noqa: E731
    facts = PROPERTIES[name]
    if facts.kind == "path":
        made: AnyTrack = laid_path(told, knots, scene.rate.flicks, NEAR_ENOUGH)
    else:
        made = laid_number(told, knots, scene.rate.flicks, NEAR_ENOUGH / facts.factor)
    before = layer.tracks.get(name)
    if isinstance(made, PathTrack):
        return made.changed(rounded=before.rounded) if isinstance(before, PathTrack) else made
    # What never moved needs no key.
    return made if len(made.keys) > 1 else made.changed(keys=())


def stretch_laid(scene: Scene, layer: Layer) -> Layer:
    """A layer that stretches with its speed with keys that do the same: of its rotation, skew and both scales."""
    if not layer.stretches:
        raise Refusal(f"{layer.name} does not stretch with its speed: there is nothing to make keys of.")
    ask = Asker(scene)
    bare = without_stretch(layer)
    return _matrices_laid(scene, layer, bare, lambda times: ask.own_matrices(layer, times), moves=False)


def without_stretch(layer: Layer) -> Layer:
    links = {name: link for name, link in layer.links.items() if name not in STRETCH}
    return layer.changed(links=links, tracks={n: t for n, t in layer.tracks.items() if n not in STRETCH})


def later_laid(scene: Scene, layer: Layer) -> Layer:
    """A layer that comes later than its carrier with keys that do the same, carried at once."""
    if layer.later is None or layer.parent is None:
        raise Refusal(f"{layer.name} comes no later than what carries it: there is nothing to make keys of.")
    # A stretch comes of how it goes through the scene, and will be there again.
    plain = scene.with_layer(without_stretch(layer)) if layer.stretches else scene
    ask = Asker(plain)
    parent, later = layer.parent, layer.later

    def motion(times: Floats) -> Floats:
        at_once = ask.carried_over(parent, None, times)
        sound = np.abs(np.linalg.det(at_once[:, :2, :2])) > 1e-12
        safe = np.where(sound[:, None, None], at_once, np.eye(3))
        own = ask.own_matrices(plain.layer(layer.id), times)
        return np.asarray(np.linalg.solve(safe, ask.carried_over(parent, later, times) @ own))

    def turns(times: Floats) -> Floats:
        """How much further its carriers have turned, whole turns counted."""
        out = np.zeros(len(times))
        for each in plain.ancestors(plain.layer(layer.id)):
            late = ask.asked(each, TURNED, times - later.rotation)[:, 0]
            out = out + late - ask.asked(each, TURNED, times)[:, 0]
        return out

    return _matrices_laid(scene, layer, layer.changed(later=None), motion, moves=True, turns=turns)


def _matrices_laid(
    scene: Scene, layer: Layer, bare: Layer, motion: Motion, moves: bool, turns: Motion | None = None
) -> Layer:
    """A layer whose own matrices are to be those of a motion, as keys of what makes them."""
    ask = Asker(scene)
    low, high = span_seen(scene)
    if any(name in layer.links for name in ("rotation", "skew_x", "scale", "scale_x", "scale_y")):
        raise Refusal(f"What turns or scales {layer.name} follows something itself. Make keys of that first.")

    def parts(times: Floats) -> Floats:
        """x, y, rotation, skew x, scale x and scale y, (n, 6)."""
        matrices = motion(times)
        skew_y = np.deg2rad(ask.values(layer, "skew_y", times)[:, 0])
        rotation = ask.values(layer, "rotation", times)[:, 0]
        near = rotation if turns is None else rotation + turns(times)
        pivot = np.concatenate([ask.values(layer, name, times) for name in ("pivot_x", "pivot_y")], axis=1)
        spots = np.einsum("nij,nj->ni", matrices[:, :2, :2], pivot) + matrices[:, :2, 2]
        name = "scale_x" if layer.scale_link == "free" else "scale"
        sign = np.where(ask.values(layer, name, times)[:, 0] < 0, -1.0, 1.0)
        first = matrices[:, :2, 0] * sign[:, None]
        across = np.tan(skew_y)
        size = np.hypot(first[:, 0], first[:, 1]) / np.sqrt(1 + across**2)
        turned = np.arctan2(first[:, 1], first[:, 0]) - skew_y
        cos, sin = np.cos(turned), np.sin(turned)
        second = matrices[:, :2, 1]
        along, down = cos * second[:, 0] + sin * second[:, 1], cos * second[:, 1] - sin * second[:, 0]
        skew = np.rad2deg(np.arctan2(along * np.sign(down), np.abs(down)))
        # The first column leans by skew y: what is left of the second one is told across it.
        degrees = np.rad2deg(turned)
        degrees = degrees - 360 * np.round((degrees - near) / 360)
        return np.stack([spots[:, 0], spots[:, 1], degrees, skew, size * sign, down], axis=1)

    tracks = dict(bare.tracks)
    if moves:
        if bare.axes_split:
            for k, name in enumerate(("position_x", "position_y")):
                tracks[name] = _laid(scene, layer, name, lambda times, k=k: parts(times)[:, k : k + 1], low, high)  # type: ignore[misc]
        else:
            tracks["position"] = _laid(scene, layer, "position", lambda times: parts(times)[:, :2], low, high)
    names = {"rotation": 2, "skew_x": 3, "scale_x": 4, "scale_y": 5}
    looks = parts(_samples(scene, low, high).astype(np.float64))
    even = np.ptp(looks[:, 3]) < 1e-6 and _one_ratio(looks[:, 4], looks[:, 5]) and layer.scale_link != "area"
    link = layer.scale_link
    if even and link == "linked":
        names = {"rotation": 2, "scale": 4}
    else:
        link = "free"
        tracks.pop("scale", None)
    for name, k in names.items():
        tracks[name] = _laid(scene, layer, name, lambda times, k=k: parts(times)[:, k : k + 1], low, high)  # type: ignore[misc]
    return bare.changed(tracks=tracks, scale_link=link)


def _samples(scene: Scene, low: int, high: int) -> Integers:
    return np.arange(low, high + 1, scene.rate.flicks, dtype=np.int64)


def _one_ratio(one: Floats, other: Floats) -> bool:
    return bool(np.ptp(other * one[0] - one * other[0]) < 1e-6 * max(1.0, float(np.abs(one).max()) ** 2))


# -- Links whose source is gone ---------------------------------------------------------------------------------------


def is_lost(scene: Scene, source: LinkSource) -> bool:
    """Whether what is followed or answered is there no more."""
    layer = next((layer for layer in scene.layers if layer.id == source.layer), None)
    what = source.what
    return layer is None or not (what in DERIVED or what == "position" or found_on(layer, what) is not None)


def _own_gone(layer: Layer, name: str) -> bool:
    """Whether a property that follows is itself gone with the artwork or effect that had it."""
    return name not in layer.properties and PROPERTIES[name].owner != "transform"


def links_kept(before: Project, after: Project) -> Project:
    """A project that came of another, with what followed something that is gone moving on as it did, by keys."""
    for scene, was in after.other_than(before):
        if not any(layer.links for layer in scene.layers):
            continue
        made = scene
        for layer in scene.layers:
            for name, link in layer.links.items():
                if _own_gone(layer, name):
                    here = made.layer(layer.id)
                    links = {n: each for n, each in here.links.items() if n != name}
                    made = made.with_layer(here.changed(links=links))
                elif is_lost(scene, link.source) and not (was is not None and is_lost(was, link.source)):
                    # What stands for a layer that could not be read has nothing to follow: that waits for it.
                    made = made.with_layer(_as_it_went(was, made.layer(layer.id), name))
        after = after.with_scene(made) if made is not scene else after
    return after


def _as_it_went(was: Scene | None, layer: Layer, name: str) -> Layer:
    """A layer with a property that followed something moving by keys as it did then."""
    links = {n: each for n, each in layer.links.items() if n != name}
    old = next((each for each in was.layers if each.id == layer.id), None) if was is not None else None
    if old is None or was is None or name not in old.links:
        return layer.changed(links=links)
    track = lane_laid(was, old, name).tracks[name]
    if track.kind == "path" and layer.axes_split:
        return layer.changed(links=links)
    return layer.changed(links=links, tracks={**layer.tracks, name: track})


def turned_to_keys(before: Project, after: Project) -> list[str]:
    """What followed something that is gone, and has keys instead, in words."""
    out = []
    for scene, now in before.other_than(after):
        if now is None:
            continue
        here = {layer.id: layer for layer in now.layers}
        for layer in scene.layers:
            then = here.get(layer.id)
            for name, link in layer.links.items():
                if then is None or name in then.links or not is_lost(now, link.source):
                    continue
                count = len(then.tracks[name].keys) if name in then.tracks else 0
                keys = "no keys: it did not move" if not count else "1 key" if count == 1 else f"{count} keys"
                told = told_source(link.source, scene.layer(link.source.layer).name)
                out.append(
                    f"{PROPERTIES[name].label} of {layer.name} followed {told}, which is gone; it has {keys} now"
                )
    return out


__all__ = [
    "is_lost", "lane_laid", "later_laid", "links_kept", "stretch_laid", "turned_to_keys",
    "without_stretch",
]  # fmt: skip
