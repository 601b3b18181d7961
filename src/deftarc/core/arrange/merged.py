"""What was changed here and what was changed in a file, both kept: a merge of three documents by what belongs together.

What only one of them changed is as that one has it. What both changed stays as it is here, unless the file is to be
preferred, and is told of by name.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from deftarc.core.document import Layer, Project, Scene, check_parents
from deftarc.core.document.artwork import Painted
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.project import shown_in
from deftarc.core.document.properties import PROPERTIES

Prefer = Literal["here", "file"]
Unit = dict[tuple[str, str], Any]
#: Fields and properties of a layer that are one thing.
TOGETHER = {
    "axes_split": "position", "position_x": "position", "position_y": "position",
    "scale_link": "scale", "scale_ratio": "scale", "scale_x": "scale", "scale_y": "scale",
    "start": "span", "end": "span", "width": "size", "height": "size", "rate": "length", "frames": "length",
}  # fmt: skip
#: The same of its artwork.
OF_ARTWORK = {"fill_gradient": "fill", "stroke_gradient": "stroke", "contours": "outline"}
#: And of artwork that shows a scene.
OF_SHOWN = {"width": "scene", "height": "scene"}
#: What is looked at by itself.
_APART = ("id", "artwork", "tracks", "links", "reactions", "layers", "origin")


@dataclass
class Told:
    """What came of a merge, by the names of layers: ``kept`` are what both sides changed, in words."""

    changed: list[str] = field(default_factory=list)
    added: list[str] = field(default_factory=list)
    gone: list[str] = field(default_factory=list)
    kept: list[str] = field(default_factory=list)
    #: Whatever else a person should know, in sentences.
    more: list[str] = field(default_factory=list)


def merged(
    project: Project, was: Sequence[Scene], now: Sequence[Scene], prefer: Prefer = "here"
) -> tuple[Project, Told]:
    """A project with what has become of a file's scenes, whose ids say what is the same (see ``alike.as_before``).

    Raises a Refusal, as any change does, where what comes of it cannot be: two things that would carry each other.
    """
    told = Told()
    before = {each.id: each for each in was}
    after = {each.id: each for each in now}
    out: list[Scene] = []
    for scene in project.scenes:
        old, new = before.get(scene.id), after.get(scene.id)
        if old is not None and new is not None:
            out.append(_scene(old, scene, new, prefer, told))
        else:
            out.append(scene)
    here = {each.id for each in out}
    # What is new, or was deleted here, comes as far as it is shown.
    wanted = {name for scene in out for name in shown_in(scene)} - here
    rows = list(now)
    while missing := [each for each in rows if each.id in wanted]:
        rows = [each for each in rows if each.id not in wanted]
        out += missing
        wanted = {name for each in missing for name in shown_in(each)} - {each.id for each in out}
    shown = {name for scene in out for name in shown_in(scene)}
    left = {each.id for each in was} - after.keys()
    out = [each for each in out if each.id not in left or each.id in shown or before[each.id] != each]
    return project.changed(scenes=tuple(out)), told


# --- scenes ---


def _scene(was: Scene, here: Scene, now: Scene, prefer: Prefer, told: Told) -> Scene:
    if was == now:
        return here
    chosen, kept = _merged(_fields(was), _fields(here), _fields(now), prefer)
    told.kept += [f"{each} of {here.name}" for each in kept]
    fields = {name: value for unit in chosen.values() for (_, name), value in unit.items()}
    layers = _layers(was, here, now, prefer, told)
    return here.changed(**fields, layers=layers)


def _fields(thing: Scene | Layer) -> dict[str, Unit]:
    out: dict[str, Unit] = defaultdict(dict)
    for name in type(thing).model_fields:
        if name not in _APART:
            out[TOGETHER.get(name, name)]["field", name] = getattr(thing, name)
    return out


def _layers(was: Scene, here: Scene, now: Scene, prefer: Prefer, told: Told) -> tuple[Layer, ...]:
    old, own, new = ({each.id: each for each in scene.layers} for scene in (was, here, now))
    rows: dict[str, Layer] = {}
    leaving: set[str] = set()
    for name, layer in own.items():
        rows[name] = layer
        if name in old and name in new:
            rows[name] = _layer(old[name], layer, new[name], prefer, told)
        elif name in old and (layer == old[name] or prefer == "file"):
            leaving.add(name)
        elif name in old:
            told.more.append(f"{layer.name} is in the file no more; it was changed here, and stays")
    for layer in [each for each in rows.values() if each.id not in leaving]:
        # What carries something that stays does so, too.
        chain, at = {layer.id}, layer.parent
        while at is not None and at not in chain:
            chain.add(at)
            leaving.discard(at)
            at = rows[at].parent if at in rows else None
    told.gone += [rows.pop(name).name for name in sorted(leaving)]
    fresh = {name: layer for name, layer in new.items() if name not in old and name not in own}
    told.added += [each.name for each in fresh.values()]
    told.more += [
        f"{new[name].name} was deleted here, and stays away, though the file has it otherwise now"
        for name in old if name in new and name not in own and old[name] != new[name]
    ]  # fmt: skip
    rows |= fresh
    out = [rows[name] for name in _order(list(old), list(own), list(new)) if name in rows]
    return _carried([_with_parent(layer, rows, old, new) for layer in out], own)


def _with_parent(layer: Layer, rows: Mapping[str, Layer], *others: Mapping[str, Layer]) -> Layer:
    """A layer, carried by the nearest that is still there of those that would carry it."""
    name = layer.parent
    seen: set[str] = set()
    while name is not None and name not in rows and name not in seen:
        seen.add(name)
        name = next((each[name].parent for each in others if name in each), None)
    return layer if name == layer.parent else layer.changed(parent=name if name in rows else None)


def _carried(layers: list[Layer], own: Mapping[str, Layer]) -> tuple[Layer, ...]:
    """The layers, carried as they are here where both sides together would make them carry each other."""
    try:
        check_parents(tuple(layers))
    except ValueError:
        here = {each.id for each in layers}
        layers = [
            each.changed(parent=parent if (parent := own[each.id].parent) in here else None) if each.id in own else each
            for each in layers
        ]
    return tuple(layers)


def _order(old: Sequence[str], own: Sequence[str], new: Sequence[str]) -> list[str]:
    """In which order things lie: as the file has them, unless they were put into another here."""
    both = set(old) & set(own)
    moved = [name for name in old if name in both] != [name for name in own if name in both]
    first, then = (own, new) if moved else (new, own)
    return _with_others(first, then)


def _with_others(first: Iterable[str], then: Sequence[str]) -> list[str]:
    """A row, and what else another has, each after what it comes after there."""
    out = list(first)
    there = set(out)
    above: str | None = None
    for name in then:
        if name not in there:
            out.insert(0 if above is None else out.index(above) + 1, name)
            there.add(name)
        above = name
    return out


# --- layers ---


def _layer(was: Layer, here: Layer, now: Layer, prefer: Prefer, told: Told) -> Layer:
    if was == now:
        return here
    if here.locked:
        told.more.append(f"{here.name} is locked, and was left as it is")
        return here
    kinds = {type(each.artwork) for each in (was, here, now)}
    apart = len(kinds) == 1 and isinstance(here.artwork, Painted | SceneShown)
    chosen, kept = _merged(_units(was, apart), _units(here, apart), _units(now, apart), prefer)
    told.kept += [f"{each} of {here.name}" for each in kept]
    parts: dict[str, dict[str, Any]] = defaultdict(dict)
    for unit in chosen.values():
        for (kind, name), value in unit.items():
            parts[kind][name] = value
    art = here.artwork.changed(**parts["art"]) if apart else parts["whole"][""]
    made = here.changed(
        **parts["field"], artwork=art, tracks=parts["track"], links=parts["link"], reactions=parts["reaction"]
    )
    if made == here:
        return here
    told.changed.append(made.name)
    return made


def _units(layer: Layer, apart: bool) -> dict[str, Unit]:
    """All of a layer, by what belongs together; its artwork whole, or field by field."""
    out = _fields(layer)
    art = layer.artwork
    if apart:
        groups = OF_SHOWN if isinstance(art, SceneShown) else OF_ARTWORK
        for name in type(art).model_fields:
            out[f"its {groups.get(name, name)}"]["art", name] = getattr(art, name)
    else:
        out["its artwork"]["whole", ""] = art
    kinds: tuple[tuple[str, Mapping[str, Any]], ...] = (
        ("track", layer.tracks), ("link", layer.links), ("reaction", layer.reactions)
    )  # fmt: skip
    for kind, things in kinds:
        for name, value in things.items():
            out[_unit_of(layer, name, apart)][kind, name] = value
    return out


def _unit_of(layer: Layer, name: str, apart: bool) -> str:
    facts = PROPERTIES[name]
    if facts.owner in ("effect", "mask"):
        return f"{facts.owner}s"
    if not facts.artwork:
        return TOGETHER.get(name, name)
    if not apart:
        return "its artwork"
    art = layer.artwork
    if facts.owner == "stop":
        assert isinstance(art, Painted)
        return f"its {art.stop(facts.thing)[0]}"
    if facts.owner in ("gradient", "dash"):
        return "its dash" if facts.owner == "dash" else f"its {facts.thing}"
    kept = "contours" if facts.kind == "outline" else facts.kept_in
    return f"its {OF_ARTWORK.get(kept, kept)}"


def _merged(
    was: Mapping[str, Unit], here: Mapping[str, Unit], now: Mapping[str, Unit], prefer: Prefer
) -> tuple[dict[str, Unit], list[str]]:
    """Each unit as it comes to be, and in words those that both sides changed."""
    chosen: dict[str, Unit] = {}
    kept = []
    for name in dict.fromkeys((*here, *now)):
        old, own, new = (each.get(name, {}) for each in (was, here, now))
        chosen[name] = own
        if own in (new, old):
            # What is the same stays the very same thing.
            chosen[name] = own if own == new else new
        elif new != old:
            if prefer == "file":
                chosen[name] = new
            else:
                kept.append(name.removeprefix("its ").replace("_", " "))
    return chosen, kept


__all__ = ["Prefer", "Told", "merged"]
