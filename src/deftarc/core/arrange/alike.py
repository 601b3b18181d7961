"""Which scenes and layers of a file that changed are which of those it had before.

A file numbers its layers anew whenever it is written, so they are known by what they are called and lie in, by what
they are, and by what is in them: the surest first.
"""

from collections import defaultdict
from collections.abc import Callable, Hashable, Iterator, Mapping, Sequence, Set

from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork.scene import SceneShown

#: Layers of one call that are compared with each other to find the very same.
MOST_COMPARED = 60


def same_things(was: Scene, now: Scene) -> dict[str, str]:
    """For ids of layers of ``now`` the ids of those of ``was`` that they are; each once."""
    found: dict[str, str] = {}
    old, new = list(was.layers), list(now.layers)
    of_old, of_new = _paths(was), _paths(now)

    def pair(key: Callable[[Layer, Mapping[str, tuple[str, ...]]], Hashable], same: bool) -> None:
        taken = set(found.values())
        rows: dict[Hashable, list[Layer]] = defaultdict(list)
        for each in old:
            if each.id not in taken:
                rows[key(each, of_old)].append(each)
        for each in new:
            if each.id in found:
                continue
            there = rows.get(key(each, of_new), [])
            match = next((x for x in there[:MOST_COMPARED] if not same or _inside(x) == _inside(each)), None)
            if match is not None:
                found[each.id] = match.id
                there.remove(match)

    pair(lambda each, paths: (paths[each.id], each.artwork.kind), True)
    pair(lambda each, paths: (paths[each.id], each.artwork.kind), False)
    pair(lambda each, paths: paths[each.id], False)
    pair(lambda each, paths: (each.name, each.artwork.kind), False)
    pair(lambda each, paths: each.artwork.kind, True)
    return found


def _inside(layer: Layer) -> object:
    return layer.artwork, layer.tracks, layer.masks


def _paths(scene: Scene) -> dict[str, tuple[str, ...]]:
    """By layer, the names of what carries it, from the outermost, and its own."""
    return {layer.id: (*(each.name for each in reversed(scene.ancestors(layer))), layer.name) for layer in scene.layers}


def as_before(was: Sequence[Scene], now: Sequence[Scene], taken: Mapping[str, Set[str]]) -> tuple[Scene, ...]:
    """The scenes of a file that changed, with the ids that the same things had in it before.

    The first of each is the picture. ``taken`` has the ids of scenes here, with those of their layers: what is new
    gets others.
    """
    scenes = {now[0].id: was[0].id}
    layers: dict[str, dict[str, str]] = {}
    old, new = {each.id: each for each in was}, {each.id: each for each in now}
    to_look = [now[0].id]
    while True:
        while to_look:
            name = to_look.pop()
            there, here = old[scenes[name]], new[name]
            layers[name] = same_things(there, here)
            for one, other in layers[name].items():
                shows, showed = here.layer(one).artwork, there.layer(other).artwork
                if isinstance(shows, SceneShown) and isinstance(showed, SceneShown):
                    to_look += _paired(scenes, shows.scene, showed.scene, old, new)
        # Those that nothing leads to are known by their names.
        rest = [x for x in was if x.id not in scenes.values()]
        for each in now:
            match = next((x for x in rest if x.name == each.name), None) if each.id not in scenes else None
            if match is not None:
                to_look += _paired(scenes, each.id, match.id, old, new)
                break
        if not to_look:
            break
    fresh = _free({*old, *taken}, "x")
    scenes |= {each.id: next(fresh) for each in now if each.id not in scenes}
    return tuple(_renamed(each, scenes, layers.get(each.id, {}), old, taken) for each in now)


def _paired(
    scenes: dict[str, str], one: str, other: str, old: Mapping[str, Scene], new: Mapping[str, Scene]
) -> list[str]:
    if one in scenes or other in scenes.values() or one not in new or other not in old:
        return []
    scenes[one] = other
    return [one]


def _free(taken: Set[str], stem: str) -> Iterator[str]:
    n = 0
    while True:
        n += 1
        if f"{stem}{n}" not in taken:
            yield f"{stem}{n}"


def _renamed(
    scene: Scene, scenes: Mapping[str, str], same: Mapping[str, str], old: Mapping[str, Scene],
    taken: Mapping[str, Set[str]],
) -> Scene:  # fmt: skip
    name = scenes[scene.id]
    known = {each.id for each in old[name].layers} if name in old else set()
    used = known | set(taken.get(name, ()))
    fresh = _free(used | {each.id for each in scene.layers}, "n")
    ids = {each.id: same.get(each.id) or (each.id if each.id not in used else next(fresh)) for each in scene.layers}
    rows = []
    for layer in scene.layers:
        art = layer.artwork
        if isinstance(art, SceneShown):
            art = art.changed(scene=scenes.get(art.scene, art.scene))
        rows.append(
            layer.changed(
                id=ids[layer.id],
                artwork=art,
                parent=ids.get(layer.parent or ""),
                matte=layer.matte and layer.matte.changed(layer=ids[layer.matte.layer]),
            )
        )
    return scene.changed(id=name, layers=tuple(rows))


__all__ = ["as_before", "same_things"]
