"""The frame tree: leaves put together from the bottom up, groups painted as one, and what shows through what."""

from collections.abc import Mapping
from dataclasses import replace

from deftarc.core.base.identity import identical
from deftarc.core.base.walks import Walk, walked
from deftarc.core.document import Layer, Scene
from deftarc.core.evaluate.frames import FOR_MATTE, Branch, Group, MatteAt
from deftarc.core.evaluate.layers import PlacedState


class _Open:
    """Stands for a group whose members are still being gathered."""

    def __init__(self, layer: str) -> None:
        self.layer = layer


class Tree:
    """What the leaves of a scene's layers come to, kept as long as nothing it is made of is another."""

    def __init__(self) -> None:
        self._known: dict[str, tuple[tuple[object, ...], Branch]] = {}

    def clear(self) -> None:
        self._known.clear()

    def forget(self, name: str) -> None:
        """Drops what was made of a layer that is gone."""
        self._known.pop(name, None)
        self._known.pop(name + FOR_MATTE, None)

    def roots(
        self,
        scene: Scene,
        leaves: Mapping[str, Branch],
        state: Mapping[str, PlacedState],
        shows: Mapping[str, tuple[int, int]],
        frames: int,
    ) -> tuple[Branch, ...]:
        """Branches from the bottom up; those in groups painted as one in these, where the topmost of them lies.
        ``shows`` says when each layer would show if nothing hid it.
        """
        if not any(layer.as_one or layer.matte is not None for layer in scene.layers):
            return tuple(leaves[layer.id] for layer in reversed(scene.layers) if layer.id in leaves)
        return _Growing(self._known, scene, leaves, state, shows, frames).roots()


class _Growing:
    def __init__(
        self,
        known: dict[str, tuple[tuple[object, ...], Branch]],
        scene: Scene,
        leaves: Mapping[str, Branch],
        state: Mapping[str, PlacedState],
        shows: Mapping[str, tuple[int, int]],
        frames: int,
    ) -> None:
        self.known, self.scene, self.leaves, self.state, self.shows, self.frames = (
            known, scene, leaves, state, shows, frames,
        )  # fmt: skip
        self.by_id = {layer.id: layer for layer in scene.layers}
        #: What was made of layers already: one may be asked for by many that show through it.
        self.closed: dict[str, Branch] = {}
        self.seen: dict[str, Branch | None] = {}
        self.inside: dict[str, list[Branch | _Open]] = {}
        self.top = self._gathered(self.inside, None)

    def roots(self) -> tuple[Branch, ...]:
        return tuple(walked(self._closed(each)) for each in reversed(self.top))

    def _gathered(self, inside: "dict[str, list[Branch | _Open]]", within: str | None) -> "list[Branch | _Open]":
        """What lies in no group painted as one, or in the group ``within`` and no other, from the top down; what lies
        in others is put into ``inside``. A group stands where its topmost member does.
        """
        top: list[Branch | _Open] = []
        for layer in self.scene.layers:
            if layer.id not in self.leaves or not self._lies_in(layer, within):
                continue
            row: Branch | _Open = self.leaves[layer.id]
            group = self._as_one_above(layer, within)
            while True:
                if group is None:
                    top.append(row)
                    break
                first = group not in inside
                inside.setdefault(group, []).append(row)
                if not first:
                    break
                row, group = _Open(group), self._as_one_above(self.by_id[group], within)
        return top

    def _lies_in(self, layer: Layer, group: str | None) -> bool:
        while group is not None and layer.parent is not None and layer.parent != group:
            layer = self.by_id[layer.parent]
        return group is None or layer.parent == group

    def _as_one_above(self, layer: Layer, within: str | None) -> str | None:
        """The innermost group painted as one that has a layer, below ``within``."""
        above = layer.parent
        while above is not None and above != within:
            if self.by_id[above].as_one:
                return above
            above = self.by_id[above].parent
        return None

    def _kept(self, name: str, made_from: tuple[object, ...]) -> Branch | None:
        known = self.known.get(name)
        return known[1] if known is not None and identical(known[0], made_from, (int, str)) else None

    def _closed(self, branch: Branch | _Open) -> Walk[Branch]:
        """A leaf with what it shows through, or a group with its members."""
        known = self.closed.get(branch.layer)
        if known is not None:
            return known
        layer = self.by_id[branch.layer]
        if isinstance(branch, _Open):
            children = []
            for each in reversed(self.inside[branch.layer]):
                children.append((yield self._closed(each)))
            hidden = layer.hidden or self.state[layer.id].hidden
            made = yield self._group(layer, tuple(children), hidden, layer.id)
        elif layer.matte is None:
            made = branch
        else:
            made = yield self._through(branch, layer, branch.layer, branch.shows)
        self.closed[branch.layer] = made
        return made

    def _group(self, layer: Layer, children: tuple[Branch, ...], hidden: bool, name: str) -> Walk[Branch]:
        placed, matte = self.state[layer.id], (yield self._matte(layer))
        told = (layer.matte, matte and matte.branch)
        made_from = (placed, layer.blend, int(hidden), *told, *children)
        known = self._kept(name, made_from)
        if known is None:
            known = Group(
                name, children, placed.world, placed.opacity, (0, 0) if hidden else (0, self.frames),
                placed.own.effects, layer.blend, masks=placed.own.masks, matte=matte,
            )  # fmt: skip
            self.known[name] = (made_from, known)
        return known

    def _through(self, branch: Branch, layer: Layer, name: str, shows: tuple[int, int]) -> Walk[Branch]:
        """A branch under a name, showing when it is to, with its layer's matte."""
        matte = yield self._matte(layer)
        made_from = (branch, layer.matte, matte and matte.branch, *shows)
        known = self._kept(name, made_from)
        if known is None:
            known = replace(branch, layer=name, shows=shows, matte=matte)
            self.known[name] = (made_from, known)
        return known

    def _matte(self, layer: Layer) -> Walk[MatteAt | None]:
        if layer.matte is None:
            return None
        found = yield self._seen(self.by_id[layer.matte.layer])
        return None if found is None else MatteAt(found, layer.matte.by, layer.matte.inverted)

    def _seen(self, layer: Layer) -> Walk[Branch | None]:
        """What there is of a layer, whether it is hidden or not; None where there is nothing at all."""
        if layer.id not in self.seen:
            self.seen[layer.id] = yield self._made_seen(layer)
        return self.seen[layer.id]

    def _made_seen(self, layer: Layer) -> Walk[Branch | None]:
        hidden = layer.hidden or self.state[layer.id].hidden
        name = layer.id + FOR_MATTE if hidden else layer.id
        if not layer.group:
            if layer.id not in self.leaves:
                return None
            if hidden:
                return (yield self._through(self.leaves[layer.id], layer, name, self.shows[layer.id]))
            return (yield self._closed(self.leaves[layer.id]))
        if not hidden and layer.as_one and layer.id in self.inside:
            return (yield self._closed(_Open(layer.id)))
        inside: dict[str, list[Branch | _Open]] = {}
        children = []
        for each in reversed(self._gathered(inside, layer.id)):
            children.append((yield self._unhidden(each, inside, layer.id)))
        return (yield self._group(layer, tuple(children), False, layer.id + FOR_MATTE))

    def _unhidden(self, row: Branch | _Open, inside: "dict[str, list[Branch | _Open]]", under: str) -> Walk[Branch]:
        """A member of a group that may be hidden, hidden only where something below that group hides it."""
        layer = self.by_id[row.layer]
        hidden = self._hidden_below(layer, under)
        name = layer.id + FOR_MATTE
        if isinstance(row, _Open):
            children = []
            for each in reversed(inside[row.layer]):
                children.append((yield self._unhidden(each, inside, under)))
            return (yield self._group(layer, tuple(children), hidden, name))
        return (yield self._through(row, layer, name, (0, 0) if hidden else self.shows[layer.id]))

    def _hidden_below(self, layer: Layer, group: str) -> bool:
        here: Layer | None = layer
        while here is not None and here.id != group:
            if here.hidden and (here is layer or here.group):
                return True
            here = self.by_id[here.parent] if here.parent is not None else None
        return False


__all__ = ["Tree"]
