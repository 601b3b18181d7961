"""Ties held: after whatever was done to a scene, what is tied goes where it is to be.

Leaders are put in place before those that follow them. A moment that was moved itself, while what it is tied to was
not, keeps its new distance: the hand says so.
"""

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.keys import move_keys
from deftarc.core.changes.retime import motion_retimed, shifted_span, span_of
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.ties import Anchor, Tie


def moment_of(scene: Scene, anchor: Anchor) -> int | None:
    """When an anchor is, in flicks; None where what it names is not there."""
    layer = None
    if anchor.layer is not None:
        layer = next((each for each in scene.layers if each.id == anchor.layer), None)
        if layer is None:
            return None
    if anchor.of == "marker":
        markers = scene.markers if layer is None else layer.markers
        return next((marker.time for marker in markers if marker.id == anchor.id), None)
    assert layer is not None
    if anchor.of == "key":
        track = layer.tracks.get(anchor.property or "")
        return None if track is None else next((key.time for key in track.keys if key.id == anchor.id), None)
    return span_of(layer, scene.length)[0 if anchor.of == "start" else 1]


def told_anchor(scene: Scene, anchor: Anchor) -> str:
    """An anchor in words: “the start of Gull”."""
    if anchor.of == "marker":
        markers = scene.markers if anchor.layer is None else scene.layer(anchor.layer).markers
        name = next((marker.name for marker in markers if marker.id == anchor.id), "")
        return f"the marker {name}" if name else "a marker"
    name = scene.layer(anchor.layer or "").name
    if anchor.of == "key":
        facts = PROPERTIES[anchor.property or ""]
        return f"a key of {facts.label} of {name}"
    return f"the {anchor.of} of {name}"


def moves_with(tie: Tie, anchor: Anchor) -> bool:
    """Whether holding a tie moves an anchor: a layer that is held takes all that is its own along."""
    if anchor.layer != tie.what.layer:
        return False
    return tie.what.of in ("start", "end") or tie.what == anchor


def in_turn(scene: Scene, ties: tuple[Tie, ...]) -> list[Tie]:
    """Ties in the order in which they are held. Refusal, naming its members, where they follow each other in a ring."""
    after = {
        tie.id: [
            other for other in ties
            if other.id != tie.id and (
                moves_with(other, tie.to)
                or (tie.what.layer == other.what.layer and _rank(other.what) < _rank(tie.what))
            )
        ]
        for tie in ties
    }  # fmt: skip
    out: list[Tie] = []
    done: set[str] = set()

    def put(tie: Tie, chain: list[Tie]) -> None:
        if tie.id in done:
            return
        if tie in chain:
            raise _ring(scene, chain[chain.index(tie) :])
        for other in after[tie.id]:
            put(other, [*chain, tie])
        if tie.id not in done:
            done.add(tie.id)
            out.append(tie)

    for tie in ties:
        if moves_with(tie, tie.to):
            raise _ring(scene, [tie])
        put(tie, [])
    return out


def _rank(anchor: Anchor) -> int:
    """A layer's start is held before its end, and this before its keys."""
    return ("start", "end", "key").index(anchor.of)


def _ring(scene: Scene, ring: list[Tie]) -> Refusal:
    named = {layer.id: layer.name for layer in scene.layers}
    names = [named.get(tie.what.layer or "", "?") for tie in ring]
    return Refusal(
        f"These would wait for each other in a ring: {' → '.join([*names, names[0]])}. Cut one of their ties, or tie "
        f"the other way round."
    )


def held(before: Scene, scene: Scene, cut: bool = True) -> Scene:
    """A scene that came of another with its ties held. Those of which something is gone are cut, unless ``cut`` says to
    keep them for when it comes back. Refusal where something cannot be where it is to be.
    """
    if not scene.ties:
        return scene
    ties = tuple(tie for tie in scene.ties if not (cut and is_broken(before, scene, tie)))
    if len(ties) < len(scene.ties):
        scene = scene.changed(ties=ties)
    known, raw = {tie.id: tie for tie in before.ties}, scene
    for tie in in_turn(scene, ties):
        at, to = moment_of(scene, tie.what), moment_of(scene, tie.to)
        if at is None or to is None or at == to + tie.offset:
            continue
        by_hand = known.get(tie.id) == tie and moment_of(raw, tie.what) != moment_of(before, tie.what)
        if by_hand and moment_of(before, tie.to) == to:
            # It was moved itself: it keeps that distance from now on.
            fresh = tie.changed(offset=at - to)
            scene = scene.changed(ties=tuple(fresh if each.id == tie.id else each for each in scene.ties))
        else:
            scene = _put(scene, tie, at, to + tie.offset)
    return scene


def is_broken(before: Scene, scene: Scene, tie: Tie) -> bool:
    """Whether something a tie names was there, and is not any more."""
    return any(
        moment_of(scene, anchor) is None and moment_of(before, anchor) is not None for anchor in (tie.what, tie.to)
    )


def _put(scene: Scene, tie: Tie, at: int, to: int) -> Scene:
    """What is tied put at its moment: a layer with all that is its own, a key by itself. The end of a layer whose
    start is tied as well is trimmed.
    """
    what = tie.what
    layer = scene.layer(what.layer or "")
    if what.of == "key":
        name = what.property or ""
        track = layer.tracks[name]
        if to in track.key_set:
            raise Refusal(
                f"{told_anchor(scene, what).capitalize()} is tied, and another key stands where it would go. Move that "
                f"one first, or cut the tie."
            )
        return scene.with_layer(layer.with_track(name, move_keys(track, {at: to})))
    both = any(each.what == Anchor(layer=layer.id, of="start") for each in scene.ties)
    if what.of == "end" and both:
        if to <= layer.start:
            raise Refusal(f"{layer.name} would end before it starts: both are tied. Cut one of the ties.")
        return scene.with_layer(layer.changed(end=to))
    return scene.with_layer(_moved(layer, to - at, scene, what.of == "end"))


def _moved(layer: Layer, by: int, scene: Scene, by_end: bool) -> Layer:
    if by_end and layer.end is None:
        layer = layer.changed(end=span_of(layer, scene.length)[1])
    return motion_retimed(shifted_span(layer, by), lambda time: time + by)


def ties_held(before: Project, after: Project, cut: bool = True) -> Project:
    """A project that came of another, with the ties of all its scenes held."""
    for scene, was in after.other_than(before):
        if scene.ties and was is not None:
            made = held(was, scene, cut)
            after = after.with_scene(made) if made is not scene else after
    return after


def cut_by(before: Project, after: Project) -> list[str]:
    """The ties that were cut because something they named is gone, in words."""
    out = []
    for scene, now in before.other_than(after):
        if now is None or not scene.ties:
            continue
        kept = {tie.id for tie in now.ties}
        out += [
            f"The tie of {told_anchor(scene, tie.what)} to {told_anchor(scene, tie.to)} is cut"
            for tie in scene.ties
            if tie.id not in kept and is_broken(scene, now, tie)
        ]
    return out
