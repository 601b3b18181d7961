"""What a change touches, and whether two of them stand apart: then either can be made on top of the other."""

from collections.abc import Mapping

from deftarc.core.document import Project, Scene

#: A part of a document: a field of the project; a field of a scene; a layer.
Part = tuple[str, ...]
#: Stands for all of a scene.
ALL = "*"


def touched(before: Project, after: Project) -> frozenset[Part]:
    """The parts in which two documents differ. What they share is told by identity, so it costs what was changed."""
    out: set[Part] = {
        ("project", name)
        for name in Project.model_fields
        if name != "scenes" and _differ(getattr(before, name), getattr(after, name))
    }
    old = {scene.id: scene for scene in before.scenes}
    new = {scene.id: scene for scene in after.scenes}
    out |= {("scene", name, ALL) for name in old.keys() ^ new.keys()}
    if _order(old, new) != _order(new, old):
        out.add(("project", "order"))
    for name in old.keys() & new.keys():
        if old[name] is not new[name]:
            out |= _in_scene(old[name], new[name])
    return frozenset(out)


def _in_scene(before: Scene, after: Scene) -> set[Part]:
    out: set[Part] = {
        ("scene", after.id, name)
        for name in Scene.model_fields
        if name != "layers" and _differ(getattr(before, name), getattr(after, name))
    }
    old = {layer.id: layer for layer in before.layers}
    new = {layer.id: layer for layer in after.layers}
    out |= {("layer", after.id, name) for name in old.keys() | new.keys() if _differ(old.get(name), new.get(name))}
    if _order(old, new) != _order(new, old):
        out.add(("scene", after.id, "order"))
    return out


def _differ(one: object, other: object) -> bool:
    return one is not other and one != other


def _order(of: Mapping[str, object], other: Mapping[str, object]) -> list[str]:
    """What both have, in the order of the one."""
    return [name for name in of if name in other]


def stand_apart(one: frozenset[Part], other: frozenset[Part]) -> bool:
    """Whether nothing that one change touches is touched by the other."""
    whole = {part[1] for part in one | other if part[0] == "scene" and part[2] == ALL}
    of = [{part[1] for part in parts if part[0] != "project"} & whole for parts in (one, other)]
    return not one & other and not of[0] & of[1]
