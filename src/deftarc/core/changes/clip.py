"""Keys copied out of a scene."""

from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.pieces import at_times, taken
from deftarc.core.document import Scene
from deftarc.core.document.clip import Clip, CopiedLane


def copied(scene: Scene, keys: tuple[KeyRef, ...], lasting: bool = True) -> Clip:
    """The clip of some keys of a scene, lanes in the order of the list; what is not there is left out. With the first
    and the last key of a lane comes what goes on before and after them, where ``lasting``.
    """
    wanted: dict[tuple[str, str], list[int]] = {}
    for ref in keys:
        wanted.setdefault((ref.layer, ref.property), []).append(ref.time)
    start = min(ref.time for ref in keys)
    rows: list[CopiedLane] = []
    of = 0
    for layer in scene.layers:
        for name in layer.properties:
            times = wanted.get((layer.id, name))
            if times:
                track = layer.track(name)
                piece = taken(track, times)
                if lasting:
                    piece = piece.changed(
                        before=track.before if min(times) == track.key_times[0] else None,
                        after=track.after if max(times) == track.key_times[-1] else None,
                    )
                piece = at_times(piece, -start)
                rows.append(CopiedLane(layer=layer.name, of=of, property=name, track=piece))
        of += any(layer.id == told for told, _ in wanted)
    return Clip(lanes=tuple(rows), rate=scene.rate)
